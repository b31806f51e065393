"""All projects at a glance: states that say because of what, and counts that add up."""

from __future__ import annotations

import random
import unittest
from collections import Counter

from msgspec.structs import replace

from hexapod.control.attention import needs
from hexapod.control.efforts import Efforts
from hexapod.control.hours import By, hours_rows
from hexapod.control.leaf_counts import THIRDS
from hexapod.control.ledger import Ledger
from hexapod.control.mine import Reach, milestones_of
from hexapod.control.money import over_now
from hexapod.control.status import ProjectState, status_of
from hexapod.control.summary import sentence, summary_of
from hexapod.errors import HexapodError
from hexapod.formats.plan_json import read_plan, write_plan
from hexapod.plan import edits
from hexapod.plan.accounts import Baseline, BaselineTask, Budget
from hexapod.plan.changes import diff
from hexapod.plan.outline import stream_of
from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, Link, Resource, Task, TaskKind
from hexapod.plan.validity import check
from hexapod.schedule.engine import schedule
from tests.reports.test_parts import rich_plan
from tests.support import DAY, MONDAY, at, project, random_plan, tasks, told

NOW = at("2026-09-07T09:00")


class States(unittest.TestCase):
    def state(self, *records: object, **fields: object) -> tuple[ProjectState, str]:
        dates = schedule(Plan.of([project(**fields), *records]))  # type: ignore[list-item]
        (found,) = status_of(dates, over_now(dates, NOW // 1440))
        return found.state, found.because

    def test_each_state_says_because_of_what(self) -> None:
        """Four days end on Thursday 10 September."""
        (a,) = tasks(("a", 4 * DAY))
        late = Task("m", "p", "Signed off", "b0", kind=TaskKind.MILESTONE, duration=0, target=MONDAY + 60,
                    parent=None)  # fmt: skip
        after = Link("a", "m")
        rows = (BaselineTask("a", MONDAY, at("2026-09-08T17:00"), 2 * DAY, 0, 0),)
        kept = Baseline("b", "First plan", MONDAY, "p", rows)
        paid = Resource("r", "R", "a0", rate=10_000)
        money = (paid, Assignment("a", "r"), Budget("x", "p", amount=100))
        done = replace(a, actual_start=MONDAY, actual_finish=MONDAY + 540, percent=100.0)
        for records, fields, state, words in (
            ((a,), {}, ProjectState.ON_COURSE, "no target"),
            ((a,), {"target_finish": at("2026-09-30T17:00")}, ProjectState.ON_COURSE, "14 d before its target"),
            ((a,), {"target_finish": at("2026-09-15T17:00")}, ProjectState.IN_DOUBT, "Only 3 d"),
            ((a,), {"target_finish": at("2026-09-09T17:00")}, ProjectState.LATE, "1 d after its target"),
            ((a, kept), {"baseline": "b"}, ProjectState.LATE, "2 d after its baseline “First plan”"),
            ((a, late, after), {}, ProjectState.IN_DOUBT, "“Signed off” comes after its target"),
            (
                (a, late, after, replace(late, id="n", rank="c0"), Link("a", "n")),
                {},
                ProjectState.IN_DOUBT,
                "“Signed off” and 1 other milestone are late",
            ),
            ((a, *money), {}, ProjectState.IN_DOUBT, "its budget will not do"),
            ((a, late, after), {"on_hold": True}, ProjectState.ON_HOLD, "on hold"),
            ((done,), {"target_finish": at("2026-09-01T17:00")}, ProjectState.DONE, "done"),
            ((done,), {"on_hold": True}, ProjectState.DONE, "done"),
        ):
            found, because = self.state(*records, **fields)
            self.assertIs(found, state, because)
            self.assertIn(words, because)
            self.assertTrue(because.endswith("."), because)

    def test_how_much_room_is_left_is_said_in_working_minutes(self) -> None:
        """Four days end on Thursday 10 September at 17:00."""
        (a,) = tasks(("a", 4 * DAY))
        for target, room in (
            ("2026-09-14T17:00", 2 * DAY),
            ("2026-09-10T17:00", 0),
            ("2026-09-08T12:00", -2 * DAY - 240),
        ):
            (found,) = status_of(schedule(Plan.of([project(target_finish=at(target)), a])))
            self.assertEqual((found.wanted, found.room), (at(target), room), target)
        (found,) = status_of(schedule(Plan.of([project(), a])))
        self.assertEqual((found.wanted, found.room), (None, None))

    def test_what_is_on_hold_is_never_late_and_needs_nobody(self) -> None:
        plan = random_plan(random.Random(3), 25, resources=2, projects=2)
        told = [replace(p, status_date=p.start + 30 * 1440, target_finish=p.start + 60) for p in plan.projects.values()]
        others = [r for m in (plan.calendars, plan.tasks, plan.links, plan.resources, plan.assignments)
                  for r in m.values()]  # fmt: skip
        open_one = schedule(Plan.of([*told, *others]))
        self.assertTrue((open_one.standing.late >= 0).any())
        held = schedule(Plan.of([*(replace(p, on_hold=True) for p in told), *others]))
        self.assertTrue((held.standing.late < 0).all())
        now = MONDAY + 90 * 1440
        self.assertTrue(needs(open_one, now, 7))
        self.assertEqual([], needs(held, now, 7))
        for task in plan.tasks:
            self.assertEqual(open_one.dates(task), held.dates(task), "its dates stay")


class FromWhenOn(unittest.TestCase):
    def test_thresholds_say_when_a_project_is_in_doubt_and_late(self) -> None:
        """Ten days of work from Monday; the target is moved day by day past its finish."""
        (task,) = tasks(("a", 10 * DAY))
        for doubt, late in ((5, 0), (0, 0), (2, 3), (9, 1)):
            for days in range(-8, 9):
                target = MONDAY + 11 * 1440 + 540  # the finish: the second Friday at five
                week, off = divmod(4 + days, 5)
                target += (week * 7 + off - 4) * 1440
                plan = Plan.of([replace(project(), target_finish=target), task])
                plan = edits.set_thresholds(plan, doubt, late).applied_to(plan)
                (row,) = summary_of(schedule(plan), NOW).rows
                room = days  # working days from the finish to the target
                wanted = (
                    ProjectState.ON_COURSE if room > doubt
                    else ProjectState.IN_DOUBT if room >= -late
                    else ProjectState.LATE
                )  # fmt: skip
                self.assertEqual(row.status.room, room * DAY, days)
                self.assertIs(row.status.state, wanted, (doubt, late, days))

    def test_what_cannot_be_a_threshold_is_refused_and_they_go_through_plan_json(self) -> None:
        plan = Plan.of([project()])
        for doubt, late in ((-1, 0), (0, 400), (float("nan"), 0)):
            with self.assertRaisesRegex(HexapodError, "threshold"):
                made = edits.set_thresholds(plan, doubt, late).applied_to(plan)
                check(made, diff(plan, made))
        made = edits.set_thresholds(plan, 2.5, 1).applied_to(plan)
        self.assertEqual(read_plan(write_plan(made)).thresholds, made.thresholds)


class Counts(unittest.TestCase):
    def test_counts_add_up_to_the_leaves_of_the_projects_that_are_shown(self) -> None:
        linked = 0
        for seed in range(20):
            plan = random_plan(random.Random(seed), 25, summaries=True, resources=2, projects=3, rich=True)
            gone = next(iter(plan.projects.values()))
            plan = Plan.of([r for m in (plan.calendars, plan.tasks, plan.links, plan.resources, plan.assignments)
                            for r in m.values()] + [replace(gone, archived=True),
                           *(p for p in plan.projects.values() if p is not gone)])  # fmt: skip
            dates = schedule(plan)
            found = summary_of(dates, NOW)
            leaves = [t for t in plan.tasks.values() if not plan.is_summary(t.id) and t.project != gone.id]
            for counts in (found.task_states, found.priorities, found.done, found.streams):
                self.assertEqual(sum(counts.values()), len(leaves), seed)
            self.assertEqual(tuple(found.done), THIRDS)
            self.assertEqual(sum(found.states.values()), len(found.rows))
            self.assertEqual({row.project for row in found.rows}, set(plan.projects) - {gone.id})
            for row in found.rows:
                self.assertEqual(row.finish, dates.project_finish[row.project])
                mine = [t for t in leaves if t.project == row.project]
                self.assertEqual(row.start, min((dates.dates(t.id).start for t in mine), default=None))
                ends = [(plan.tasks[a].project, plan.tasks[b].project) for a, b, _ in plan.links]
                self.assertEqual(set(row.leads_to), {b for a, b in ends if a == row.project != b} - {gone.id}, seed)
                linked += len(row.leads_to)
        self.assertGreater(linked, 10)

    def test_what_critical_work_of_another_project_waits_for_is_held_up(self) -> None:
        """b of project q waits for a of p and is critical; c of q waits too, but has float."""
        a, b, c, d = (
            replace(t, project=p)
            for t, p in zip(
                tasks(("a", 2 * DAY), ("b", 4 * DAY), ("c", DAY), ("d", DAY)), ("p", "q", "q", "r"), strict=True
            )
        )
        projects = [replace(project(), id=key, name=key.upper(), rank=f"{key}0") for key in "pqr"]
        held = summary_of(schedule(Plan.of([*projects, a, b, c, d, Link("a", "b")])), NOW)
        self.assertEqual([row.holds_up for row in held.rows], [("q",), (), ()])
        floats = summary_of(schedule(Plan.of([*projects, a, b, c, d, Link("a", "c")])), NOW)
        self.assertEqual([row.holds_up for row in floats.rows], [(), (), ()], "nothing critical waits")
        longer = replace(d, project="q", duration=9 * DAY)
        idle = summary_of(schedule(Plan.of([*projects, a, b, c, longer, Link("a", "b"), Link("d", "b")])), NOW)
        self.assertEqual([row.holds_up for row in idle.rows], [(), (), ()], "what holds it is longer work of its own")

    def test_milestones_stand_as_in_own_work_and_none_on_hold_is_overdue(self) -> None:
        overdue = 0
        for seed in range(12):
            plan = told(random_plan(random.Random(seed), 25, milestones=0.4, projects=3, summaries=True))
            first, *_ = plan.projects.values()
            draft = plan.draft()
            draft.put(replace(first, on_hold=True))
            dates = schedule(draft.finish()[0])
            now = MONDAY + 20 * 1440
            rows = summary_of(dates, now).rows
            mine = {m.task: m for m in milestones_of(dates, plan.tasks, now)}
            seen = {m.task: m for row in rows if row.project != first.id for m in row.marks}
            self.assertEqual(seen, mine, seed)
            held = next(row for row in rows if row.project == first.id)
            self.assertNotIn(Reach.OVERDUE, {m.reach for m in held.marks})
            overdue += sum(m.reach is Reach.OVERDUE for m in seen.values())
        self.assertGreater(overdue, 5)

    def test_leaves_are_counted_in_the_stream_that_each_is_in(self) -> None:
        own = 0
        for seed in range(10):
            rng = random.Random(seed)
            plan = random_plan(rng, 25, summaries=True, projects=2)
            draft = plan.draft()
            for task in sorted(plan.tasks):
                if rng.random() < 0.3:
                    draft.put(replace(plan.tasks[task], stream=rng.choice(("Glass", "Cases"))))
            plan = draft.finish()[0]
            found = summary_of(schedule(plan), NOW).streams
            leaves = [t for t in plan.tasks if not plan.is_summary(t)]
            expected = Counter(stream_of(plan, t) for t in leaves)
            self.assertEqual(dict(found), dict(expected), seed)
            own += sum(bool(plan.tasks[t].stream and plan.tasks[t].parent) for t in leaves)
        self.assertGreater(own, 10)

    def test_hours_are_those_of_its_phases_and_the_stream_that_of_most_leaves(self) -> None:
        allowed = 0
        for seed in range(20):
            plan = rich_plan(seed)
            draft = plan.draft()
            for i, p in enumerate(sorted(plan.projects)):
                draft.put(Budget(f"m{i}", p, None, None, None, None, 600 * i + 60))
                draft.put(Budget(f"n{i}", p, None, 20_000, 20_010, None, 5))
            plan = draft.finish()[0]
            dates = schedule(plan)
            found = summary_of(dates, NOW)
            for i, row in enumerate(sorted(found.rows, key=lambda r: r.project)):
                phases = hours_rows(Efforts.of(dates), Ledger.of(plan), By.PHASE, row.project)
                self.assertEqual(row.hours, sum(each.hours.forecast for each in phases), (seed, row.project))
                self.assertEqual(row.hours_budget, 600 * i + 60)
                allowed += bool(row.hours)
                leaves = [t for t in plan.tasks if plan.tasks[t].project == row.project and not plan.is_summary(t)]
                counts = Counter(stream_of(plan, t) for t in leaves)
                self.assertEqual(counts[row.stream], max(counts.values(), default=0))
        self.assertGreater(allowed, 20)

    def test_the_next_of_several_milestones_is_due(self) -> None:
        rows = tasks(("a", DAY), ("b", 3 * DAY))
        marks = [Task(f"m{i}", "p", "M", f"b{i}", kind=TaskKind.MILESTONE, duration=0) for i in (1, 2)]
        dates = schedule(Plan.of([project(), *rows, *marks, Link("a", "m1"), Link("b", "m2")]))
        (row,) = summary_of(dates, MONDAY + 60).rows
        self.assertEqual(row.next_due, dates.dates("m1").finish)
        (row,) = summary_of(dates, dates.dates("m1").finish + 1).rows
        self.assertEqual(row.next_due, dates.dates("m2").finish)

    def test_a_leaf_is_in_the_third_that_its_per_cent_says(self) -> None:
        started = [replace(t, actual_start=MONDAY, percent=p, as_of=MONDAY) for t, p in zip(
            tasks(("a", DAY), ("b", DAY), ("c", DAY), ("d", DAY), ("e", DAY)), (0.0, 33.0, 34.0, 67.0, 99.0),
            strict=True)]  # fmt: skip
        found = summary_of(schedule(Plan.of([project(), *started, *tasks(("f", DAY))])), NOW)
        self.assertEqual(found.done, {"not_begun": 1, "first": 2, "second": 1, "last": 2, "done": 0})

    def test_milestones_come_are_overdue_or_reached_and_the_next_one_is_due(self) -> None:
        marks = [
            Task("m1", "p", "Past", "b0", kind=TaskKind.MILESTONE, duration=0),
            replace(Task("m2", "p", "Reached", "b1", kind=TaskKind.MILESTONE, duration=0), actual_start=MONDAY,
                    actual_finish=MONDAY, percent=100.0),
        ]  # fmt: skip
        dates = schedule(Plan.of([project(), *tasks(("a", 4 * DAY)), *marks]))
        found = summary_of(dates, at("2026-09-08T09:00"))
        self.assertEqual((found.coming, found.overdue, found.reached), (0, 1, 1))
        self.assertEqual(found.rows[0].next_due, dates.project_finish["p"])
        self.assertEqual({m.task: m.reach for m in found.rows[0].marks}, {"m1": Reach.OVERDUE, "m2": Reach.REACHED})
        self.assertEqual(summary_of(dates, MONDAY - 60).coming, 1)
        self.assertEqual(sentence(found.states), "1 project: 1 on course.")


if __name__ == "__main__":
    unittest.main()
