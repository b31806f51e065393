"""Scenarios beside the plan: their own history, brought up to date, taken over, and never touching the plan."""

from __future__ import annotations

import random
import tempfile
import unittest
from pathlib import Path

from msgspec.structs import replace

from hexapod.errors import BadFile, EditRefused, HexapodError
from hexapod.outlook.merge import Side
from hexapod.plan import edits
from hexapod.plan.changes import Changes, diff
from hexapod.plan.plan import Plan
from hexapod.plan.records import Link
from hexapod.plan.scenarios import Scenario
from hexapod.plan.validity import broken_records
from hexapod.scenarios import ScenarioSession, make_scenario
from hexapod.schedule.engine import schedule
from hexapod.session import Session
from hexapod.store.history import EDIT, REDO, UNDO
from hexapod.store.rescue import kept_as
from hexapod.store.watch import FileLost
from hexapod.store.workspace import Workspace
from tests.budgets import deep_or
from tests.storm import random_edit
from tests.support import project, random_plan, tasks


def without_scenarios(plan: Plan) -> Plan:
    return edits.remove_scenarios(plan, plan.scenarios).applied_to(plan) if plan.scenarios else plan


class Scenarios(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "w.hexapod"

    def home_of(self, plan: Plan) -> Session:
        workspace = Workspace.create(self.path)
        workspace.write(diff(Plan(), plan), "Begin", "me")
        workspace.close()
        return self.opened()

    def opened(self) -> Session:
        session = Session.open(self.path)
        self.addCleanup(session.close)
        session.compute()
        return session

    def small(self) -> Session:
        return self.home_of(Plan.of([project(), *tasks(("a", 480), ("b", 480), ("c", 480)), Link("a", "b")]))

    def scenario(self, home: Session, name: str = "Two registrars") -> ScenarioSession:
        found = ScenarioSession(home, make_scenario(home, name).id)
        found.compute()
        return found

    def test_a_storm_in_plan_and_scenarios_is_as_it_was_after_closing_and_undo(self) -> None:
        for seed in range(deep_or(3, 60)):
            with self.subTest(seed=seed):
                self.path = self.path.with_name(f"{seed}.hexapod")
                self.storm(random.Random(seed))

    def storm(self, rng: random.Random) -> None:
        home = self.home_of(random_plan(rng, 16, calendars=1, summaries=True, resources=3, projects=2))
        opened = [self.scenario(home, "First")]
        for turn in range(60):
            door = rng.choice([home, *opened])
            plans = [x.plan for x in (home, *opened)]
            try:
                what = rng.random()
                if what < 0.7:
                    door.apply(random_edit(rng, door.plan))
                elif what < 0.8:
                    door.undo()
                elif what < 0.85:
                    door.redo()
                elif what < 0.93 and isinstance(door, ScenarioSession):
                    self.bring_up(rng, door)
                elif len(opened) < 4:
                    source = door if isinstance(door, ScenarioSession) else None
                    made = ScenarioSession(home, make_scenario(home, f"Made {turn}", source=source).id)
                    made.compute()
                    self.assertEqual(without_scenarios(door.plan), without_scenarios(made.plan))
                    opened.append(made)
                    continue
            except HexapodError:
                pass
            for session, plan in zip((home, *opened), plans, strict=False):
                if session is not door:
                    self.assertIs(plan, session.plan, "nothing else is touched")
        for session in opened:
            self.assertEqual([], broken_records(session.plan))
            found, fresh = session.compute(), schedule(session.plan)
            for task_id in session.plan.tasks:
                self.assertEqual(fresh.dates(task_id), found.dates(task_id))
        kept = [(s.scenario, s.plan, s.undo_words, s.redo_words) for s in opened if s.record is not None]
        plan = home.plan
        home.close()
        home = self.opened()
        self.assertEqual(plan, home.plan)
        for scenario, before, undo, redo in kept:
            again = ScenarioSession(home, scenario)
            self.assertEqual((before, undo, redo), (again.plan, again.undo_words, again.redo_words))
            self.back_to_the_beginning(again)

    def back_to_the_beginning(self, scenario: ScenarioSession) -> None:
        """Undo leads back to what it was made of, and redo to what it is."""
        plan, count = scenario.plan, 0
        while scenario.undo_words is not None:
            scenario.undo()
            count += 1
        first = scenario.workspace.read_changes(scenario.steps()[0].row.number)
        self.assertEqual(first.applied_to(scenario.base_plan), scenario.plan)
        for _ in range(count):
            scenario.redo()
        self.assertEqual(plan, scenario.plan)

    def bring_up(self, rng: random.Random, scenario: ScenarioSession) -> None:
        answers = {q.place: rng.choice(list(Side)) for q in scenario.merged().questions}
        before = scenario.plan
        if scenario.bring_up(answers) is None:
            return
        self.assertEqual([], scenario.moved_on())
        self.assertEqual(without_scenarios(scenario.home.plan), without_scenarios(scenario.base_plan))
        after = scenario.plan
        scenario.undo()
        self.assertEqual(before, scenario.plan)
        scenario.redo()
        self.assertEqual(after, scenario.plan)

    def test_taking_all_of_it_over_equals_having_edited_the_plan(self) -> None:
        for seed in range(deep_or(4, 60)):
            self.path = self.path.with_name(f"{seed}.hexapod")
            rng = random.Random(seed)
            home = self.home_of(random_plan(rng, 16, summaries=True, resources=3, projects=2))
            scenario = self.scenario(home)
            for _ in range(25):
                try:
                    scenario.apply(random_edit(rng, scenario.plan))
                except HexapodError:
                    continue
            before = home.plan
            home.apply(scenario.take_over().edit)
            self.assertEqual(without_scenarios(scenario.plan), without_scenarios(home.plan), seed)
            self.assertIsNotNone(home.plan.scenarios[scenario.scenario].taken_over)
            dates = schedule(home.plan)
            for task_id in home.plan.tasks:
                self.assertEqual(dates.dates(task_id), home.schedule.dates(task_id))
            home.undo()
            self.assertEqual(before, home.plan)

    def test_some_edits_are_taken_over_with_what_they_need(self) -> None:
        home = self.small()
        scenario = self.scenario(home)
        scenario.apply(edits.rename(scenario.plan, "c", "Racks"))
        scenario.apply(edits.add_task("p", "Crates", task_id="d"))
        scenario.apply(edits.set_durations(scenario.plan, ["a"], 960))
        scenario.apply(edits.link(scenario.plan, "b", "d"))
        made, renamed, _, longer, linked = (step.row.number for step in scenario.steps())
        taking = scenario.take_over([linked])
        self.assertEqual(["Crates"], [needed.name for needed in taking.needed])
        home.apply(taking.edit)
        self.assertIn("d", home.plan.tasks)
        self.assertEqual(("c", 480), (home.plan.tasks["c"].name, home.plan.tasks["a"].duration))
        home.undo()
        home.apply(scenario.take_over([made, renamed, longer]).edit)
        self.assertEqual(("Racks", 960), (home.plan.tasks["c"].name, home.plan.tasks["a"].duration))
        self.assertNotIn("d", home.plan.tasks)
        self.assertEqual("Take over some of “Two registrars”", home.undo_words)

    def test_what_moved_on_is_told_and_a_conflict_is_asked_before_anything_is_done(self) -> None:
        home = self.small()
        scenario = self.scenario(home)
        scenario.apply(edits.set_durations(scenario.plan, ["a"], 10 * 480))
        self.assertEqual([], scenario.moved_on(), "making a scenario is no edit of what it stands on")
        home.apply(edits.set_durations(home.plan, ["a"], 12 * 480))
        home.apply(edits.rename(home.plan, "b", "Store inventoried"))
        self.assertEqual(2, len(scenario.moved_on()))
        (question,) = scenario.merged().questions
        before = scenario.plan
        with self.assertRaisesRegex(EditRefused, "changed in the plan and here"):
            scenario.bring_up({})
        with self.assertRaisesRegex(EditRefused, "moved on"):
            scenario.take_over()
        self.assertIs(before, scenario.plan)
        scenario.bring_up({question.place: Side.SCENARIO})
        task = scenario.plan.tasks
        self.assertEqual((4800, "Store inventoried"), (task["a"].duration, task["b"].name))
        self.assertEqual(12 * 480, home.plan.tasks["a"].duration, "the plan is as it was")
        self.assertIsNone(scenario.bring_up({}), "it is there already")

    def test_what_was_answered_for_the_plan_is_the_plan_s_for_good(self) -> None:
        home = self.small()
        scenario = self.scenario(home)
        scenario.apply(edits.set_durations(scenario.plan, ["a"], 10 * 480))
        scenario.apply(edits.rename(scenario.plan, "c", "Racks"))
        home.apply(edits.set_durations(home.plan, ["a"], 12 * 480))
        (question,) = scenario.merged().questions
        scenario.bring_up({question.place: Side.PLAN})
        again = ScenarioSession(home, scenario.scenario)
        for found in (scenario, again):
            self.assertEqual((12 * 480, "Racks"), (found.plan.tasks["a"].duration, found.plan.tasks["c"].name))

    def test_deleting_a_scenario_is_undone_with_all_that_it_was(self) -> None:
        home = self.small()
        scenario = self.scenario(home)
        scenario.apply(edits.rename(scenario.plan, "a", "Racks"))
        kept = scenario.plan
        home.apply(edits.remove_scenarios(home.plan, [scenario.scenario]))
        with self.assertRaisesRegex(EditRefused, "gone"):
            ScenarioSession(home, scenario.scenario)
        child = make_scenario(home, "From what is gone", source=scenario)
        self.assertEqual("Racks", ScenarioSession(home, child.id).plan.tasks["a"].name)
        home.undo()
        home.undo()
        self.assertEqual(kept, ScenarioSession(home, scenario.scenario).plan)

    def test_what_happened_is_told_in_the_plan_only(self) -> None:
        home = self.small()
        scenario = self.scenario(home)
        begun = edits.begin(scenario.plan, ["a"], home.plan.projects["p"].start)
        for edit in (
            begun,
            edits.set_percent(scenario.plan, ["a"], 50),
            edits.add_comment(scenario.plan, "a", "Mo", 0, "Said"),
            edits.together("Both", [edits.rename(scenario.plan, "b", "Racks"), begun]),
        ):
            with self.assertRaisesRegex(EditRefused, "told in the plan"):
                scenario.apply(edit)
        self.assertEqual(1, len(scenario.steps()))

    def test_names_are_refused_that_are_none_or_there_already(self) -> None:
        home = self.small()
        made = make_scenario(home, "Two registrars")
        count = len(home.history)
        for name in ("", " ", "two Registrars", "x" * 2000):
            with self.assertRaises(EditRefused):
                make_scenario(home, name)
        self.assertEqual(count, len(home.history))
        other = make_scenario(home, "Hold the roof")
        self.assertNotEqual(made.colour, other.colour)

    def test_a_kill_between_edits_loses_none_and_the_next_start_says_so(self) -> None:
        home = self.small()
        scenario = self.scenario(home)
        scenario.apply(edits.rename(scenario.plan, "a", "Racks"))
        copy = self.path.with_name("killed.hexapod")
        for suffix in ("", "-wal"):
            Path(f"{copy}{suffix}").write_bytes(Path(f"{self.path}{suffix}").read_bytes())
        found = Session.open(copy)
        self.addCleanup(found.close)
        self.assertIn("All 3 edits", found.workspace.recovered or "")
        self.assertEqual("Racks", ScenarioSession(found, scenario.scenario).plan.tasks["a"].name)

    def test_when_the_file_is_taken_away_scenarios_go_on_in_the_new_one(self) -> None:
        for is_replaced in (False, True):
            with self.subTest(is_replaced=is_replaced):
                self.path = self.path.with_name(f"{is_replaced}.hexapod")
                home = self.small()
                scenario = self.scenario(home)
                scenario.apply(edits.rename(scenario.plan, "a", "Racks"))
                other = self.path.with_name("other.hexapod")
                self.path.unlink()
                if is_replaced:
                    Workspace.create(other).close()
                    other.rename(self.path)
                scenario.apply(edits.rename(scenario.plan, "b", "Crates"))
                where = home.workspace.path
                self.assertNotEqual(self.path, where)
                home.close()
                again = Session.open(where)
                self.addCleanup(again.close)
                names = [t.name for t in ScenarioSession(again, scenario.scenario).plan.tasks.values()]
                self.assertEqual(["Crates", "Racks", "c"], sorted(names))
                self.assertEqual("a", again.plan.tasks["a"].name)

    def test_a_file_of_somebody_else_in_its_place_is_left_and_scenarios_are_kept_elsewhere(self) -> None:
        home = self.small()
        scenario = self.scenario(home)
        scenario.apply(edits.rename(scenario.plan, "a", "Racks"))
        home.apply(edits.rename(home.plan, "b", "Crates"))
        target = self.path.with_name("elsewhere.hexapod")
        kept = kept_as(home.workspace, FileLost(self.path, "was overwritten", is_ours=False), home.plan, "me", target)
        kept.close()
        again = Session.open(target)
        self.addCleanup(again.close)
        found = ScenarioSession(again, scenario.scenario).plan
        self.assertEqual(["Racks", "b", "c"], [found.tasks[t].name for t in ("a", "b", "c")])
        self.assertEqual(["a", "Crates", "c"], [again.plan.tasks[t].name for t in ("a", "b", "c")])

    def test_an_edit_that_the_disk_damaged_is_named_and_costs_only_its_scenario(self) -> None:
        home = self.small()
        scenario = self.scenario(home)
        scenario.apply(edits.rename(scenario.plan, "a", "Racks"))
        other = self.scenario(home, "Hold the roof")
        home.workspace._connection.execute(  # type: ignore[attr-defined]
            "UPDATE scenario_edits SET changes = replace(changes, 'Racks', 'Rocks') WHERE scenario = ?",
            (scenario.scenario,),
        )
        self.assertIn("1 edit of its history", home.look_over())
        with self.assertRaisesRegex(BadFile, "edit 2 of a scenario"):
            _ = ScenarioSession(home, scenario.scenario).plan
        self.assertEqual(home.plan.tasks, ScenarioSession(home, other.scenario).plan.tasks)

    def test_what_somebody_wrote_into_the_file_is_refused_in_a_sentence(self) -> None:
        """With true checksums: a task that is nowhere, an undo of nothing, a base of another time."""
        home = self.small()
        place = home.workspace
        broken = Changes(links=((None, Link("a", "nowhere")),))
        for name, rows in (
            ("Broken", [(0, Changes(), EDIT), (None, broken, EDIT)]),
            ("Undone", [(None, Changes(), UNDO), (home.last_number, Changes(), EDIT), (None, Changes(), UNDO),
                        (None, Changes(), REDO), (None, Changes(), "nonsense")]),
            ("Ahead", [(10**12, Changes(), EDIT), (-5, Changes(), EDIT)]),
        ):  # fmt: skip
            made = Scenario(name, name, f"a{len(home.plan.scenarios)}")
            home.apply(edits.save_scenario(home.plan, made))
            for base, changes, kind in rows:
                place.write_scenario(made.id, base, changes, "Written", "me", kind, None)
            if name == "Broken":
                with self.assertRaisesRegex(BadFile, "does not exist"):
                    _ = ScenarioSession(home, made.id).plan
            else:
                self.assertEqual([], broken_records(ScenarioSession(home, made.id).plan))
        nothing = Scenario("none", "Nothing of it", "b0")
        home.apply(edits.save_scenario(home.plan, nothing))
        with self.assertRaisesRegex(EditRefused, "Nothing of this scenario"):
            ScenarioSession(home, "none")

    def test_a_project_on_hold_asks_for_nobody(self) -> None:
        from hexapod.staffing.demand import Demand
        from hexapod.staffing.overloads import overloads

        plan = random_plan(random.Random(5), 20, resources=1, projects=1)
        dates = schedule(plan)
        self.assertTrue(overloads(dates, Demand.of(dates, plan)))
        name, found = next(iter(plan.projects.items()))
        held = edits.save_project(plan, replace(found, on_hold=True)).applied_to(plan)
        demand = Demand.of(schedule(held), held, Demand.of(dates, plan))
        self.assertFalse(overloads(schedule(held), demand), name)


if __name__ == "__main__":
    unittest.main()
