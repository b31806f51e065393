"""Copies of branches and projects, what comes back from the past, series and what is said about tasks."""

from __future__ import annotations

import random
import unittest

from msgspec.structs import replace

from hexapod.errors import BadText, EditRefused
from hexapod.formats.plan_json import read_plan, write_plan
from hexapod.plan import edits
from hexapod.plan.edits import Edit, Scope
from hexapod.plan.edits.repeating import extend, is_open_ended
from hexapod.plan.outline import levels_of_text, rows
from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, Calendar, Field, Link, Resource, Task
from hexapod.plan.recurrence import moments_of
from hexapod.plan.validity import check, check_whole
from hexapod.worktime.clock import iso
from tests.support import DAY, MONDAY, at, project, random_plan, tasks, told


def made(plan: Plan, edit: Edit) -> Plan:
    """The edit carried out and checked."""
    draft = plan.draft()
    edit.change(draft)
    after, changes = draft.finish()
    check(after, changes)
    return after


def shape(plan: Plan, project_id: str) -> list[tuple[int, str]]:
    return [(row.level, plan.tasks[row.task].name) for row in rows(plan, project_id)]


class Copies(unittest.TestCase):
    def test_a_branch_put_in_again_has_its_shape_its_links_and_its_people(self) -> None:
        rng = random.Random(81)
        for _ in range(30):
            plan = random_plan(rng, 20, calendars=2, summaries=True, resources=3, projects=2)
            chosen = rng.sample(sorted(plan.tasks), 2)
            fragment = edits.fragment_of(plan, chosen)
            check_whole(fragment)
            self.assertEqual(set(read_plan(write_plan(fragment)).tasks), set(fragment.tasks))
            target = rng.choice(sorted(plan.projects))
            after = made(plan, edits.graft(plan, fragment, target, None))
            (home,) = fragment.projects
            copied = shape(fragment, home)
            self.assertEqual(shape(after, target)[-len(copied) :], copied)
            self.assertEqual(len(after.links), len(plan.links) + len(fragment.links))
            self.assertEqual(len(after.assignments), len(plan.assignments) + len(fragment.assignments))
            self.assertEqual((len(after.calendars), len(after.resources)), (len(plan.calendars), len(plan.resources)))

    def test_into_a_strange_workspace_calendars_and_people_come_along(self) -> None:
        rng = random.Random(82)
        plan = random_plan(rng, 12, calendars=2, resources=3)
        fragment = edits.fragment_of_project(plan, "p0")
        after = made(Plan(), edits.duplicate_project(Plan(), fragment, "Copy", MONDAY)[1])
        self.assertEqual({r.name for r in after.resources.values()}, {r.name for r in fragment.resources.values()})
        self.assertEqual({c.name for c in after.calendars.values()}, {c.name for c in fragment.calendars.values()})
        check_whole(after)
        again = made(after, edits.duplicate_project(after, fragment, "Again", MONDAY)[1])
        self.assertEqual(len(again.resources), len(after.resources), "who is there already is not doubled")
        self.assertEqual(len(again.calendars), len(after.calendars))

    def test_people_who_are_known_by_name_are_the_same_and_initials_stay_unique(self) -> None:
        a, b = tasks(("a", DAY), ("b", DAY))
        here = Plan.of([project(), a, Resource("1", "Mo Okon", "a0", initials="MO")])
        there = Plan.of(
            [
                project("q"),
                replace(b, project="q"),
                Resource("9", "mo okon", "a0"),
                Resource("8", "May", "a1", initials="mo"),
            ]
        )
        there = made(there, edits.assign(there, ["b"], "9"))
        there = made(there, edits.assign(there, ["b"], "8"))
        after = made(here, edits.graft(here, edits.fragment_of(there, ["b"]), "p", "a"))
        copied = next(t for t in after.tasks.values() if t.name == "b")
        self.assertEqual(sorted(after.assigned[copied.id]), ["1", "8"])
        self.assertEqual(after.resources["8"].initials, "")

    def test_swapping_and_leaving_out_people(self) -> None:
        a, b = tasks(("a", DAY), ("b", DAY))
        people = [Resource(r, r.upper(), f"a{i}") for i, r in enumerate("xyz")]
        plan = Plan.of([project(), a, b, *people])
        plan = made(plan, edits.assign(plan, ["a", "b"], "x"))
        plan = made(plan, edits.assign(plan, ["b"], "y", 0.5))
        fragment = edits.fragment_of_project(plan, "p")
        bare = edits.without_resources(fragment, ["y"])
        self.assertEqual(set(bare.resources), {"x"})
        merged = made(plan, edits.graft(plan, fragment, "p", None, swaps={"x": "z", "y": "z"}))
        copies = {t.name: t.id for t in merged.tasks.values() if t.id not in plan.tasks}
        self.assertEqual(merged.assignments[(copies["b"], "z")].units, 1.5, "two who became one do the work of both")

    def test_dates_that_were_typed_move_with_the_start(self) -> None:
        (a,) = tasks(("a", DAY))
        plan = Plan.of([project(target_finish=at("2026-10-01T17:00")), replace(a, target=at("2026-09-20T17:00"))])
        made_id, edit = edits.duplicate_project(plan, edits.fragment_of_project(plan, "p"), "N", MONDAY + 14 * 1440)
        after = made(plan, edit)
        self.assertEqual(iso(after.projects[made_id].target_finish or 0), "2026-10-15T17:00")
        copied = next(t for t in after.tasks.values() if t.project == made_id)
        self.assertEqual(iso(copied.target or 0), "2026-10-04T17:00")

    def test_what_was_deleted_comes_back_as_it_was(self) -> None:
        rng = random.Random(83)
        for _ in range(30):
            plan = random_plan(rng, 15, summaries=True, resources=2, projects=2)
            chosen = rng.choice(sorted(plan.tasks))
            after = made(plan, edits.remove_tasks(plan, [chosen]))
            self.assertEqual(made(after, edits.bring_back(after, plan, chosen)), plan)

    def test_a_branch_whose_project_is_gone_cannot_come_back_alone(self) -> None:
        rng = random.Random(84)
        plan = random_plan(rng, 5)
        empty = made(plan, edits.remove_project(plan, "p0"))
        with self.assertRaisesRegex(EditRefused, "project is gone"):
            edits.bring_back(empty, plan, sorted(plan.tasks)[0])

    def test_projects_change_places(self) -> None:
        plan = Plan.of([replace(project(p), rank=f"a{i}") for i, p in enumerate("pqr")])
        plan = made(plan, edits.move_project(plan, "p", 1))
        self.assertEqual([p.id for p in plan.projects_in_order()], ["q", "p", "r"])
        plan = made(plan, edits.move_project(plan, "r", -1))
        self.assertEqual([p.id for p in plan.projects_in_order()], ["q", "r", "p"])
        with self.assertRaises(EditRefused):
            edits.move_project(plan, "q", -1)


class Series(unittest.TestCase):
    RULE = "DTSTART:20260909T080000\nRRULE:FREQ=WEEKLY;INTERVAL=2;BYDAY=WE"

    def setUp(self) -> None:
        a, b = tasks(("a", 120), ("b", DAY))
        plan = Plan.of([project(), a, b, Resource("r", "R", "a0"), Link("b", "a")])
        self.plan = made(plan, edits.assign(plan, ["a"], "r"))

    def days(self, plan: Plan, task_id: str = "a") -> list[str]:
        found = (plan.tasks[c] for c in plan.children_of("p", task_id))
        return [iso(t.occurrence or 0)[5:10] for t in found]

    def test_every_second_wednesday_until_a_date(self) -> None:
        plan = made(self.plan, edits.repeat(self.plan, "a", f"{self.RULE};UNTIL=20261021T235900", 0))
        self.assertEqual(self.days(plan), ["09-09", "09-23", "10-07", "10-21"])
        for child in plan.children_of("p", "a"):
            task = plan.tasks[child]
            self.assertEqual((task.duration, plan.assigned[child]), (120, ("r",)))
            self.assertEqual(task.limits[0].at, task.occurrence)
        self.assertEqual(len(plan.links_into("a")), 1, "links stay with the series")
        self.assertIn("a", plan.series)

    def test_a_count_and_an_end_that_is_the_projects(self) -> None:
        self.assertEqual(len(self.days(made(self.plan, edits.repeat(self.plan, "a", f"{self.RULE};COUNT=7", 0)))), 7)
        self.assertTrue(is_open_ended(self.RULE))
        plan = made(self.plan, edits.repeat(self.plan, "a", self.RULE, at("2026-10-01T17:00")))
        self.assertEqual(self.days(plan), ["09-09", "09-23"])
        longer = extend(plan, {"p": at("2026-11-06T17:00")})
        assert longer is not None
        plan = made(plan, longer)
        self.assertEqual(self.days(plan), ["09-09", "09-23", "10-07", "10-21", "11-04"])
        self.assertIsNone(extend(plan, {"p": at("2026-11-06T17:00")}))
        linked = made(plan, edits.link(plan, "b", plan.children_of("p", "a")[-1]))
        shorter = extend(linked, {"p": at("2026-09-30T17:00")})
        assert shorter is not None
        self.assertEqual(self.days(made(linked, shorter)), ["09-09", "09-23", "11-04"], "what is linked stays")

    def test_changing_all_keeps_the_rows_and_what_is_on_them(self) -> None:
        plan = made(self.plan, edits.repeat(self.plan, "a", f"{self.RULE};COUNT=4", 0))
        children = plan.children_of("p", "a")
        plan = made(plan, edits.add_comment(plan, children[1], "Mo", MONDAY, "Bring the lamp"))
        friday = "DTSTART:20260911T080000\nRRULE:FREQ=WEEKLY;COUNT=5"
        after = made(plan, edits.set_rule(plan, children[2], Scope.ALL, friday, 0))
        self.assertEqual(self.days(after), ["09-11", "09-18", "09-25", "10-02", "10-09"])
        self.assertEqual(after.children_of("p", "a")[:4], children)
        self.assertEqual(len(after.comments_about(children[1])), 1)

    def test_this_and_later_part_off_with_all_that_is_on_them(self) -> None:
        plan = made(self.plan, edits.repeat(self.plan, "a", f"{self.RULE};COUNT=6", 0))
        children = plan.children_of("p", "a")
        after = made(
            plan, edits.set_rule(plan, children[3], Scope.LATER, "DTSTART:20261023T090000\nRRULE:FREQ=DAILY;COUNT=3", 0)
        )
        self.assertEqual(self.days(after), ["09-09", "09-23", "10-07"])
        part = after.tasks[children[3]].parent
        assert part is not None
        self.assertEqual(self.days(after, part), ["10-23", "10-24", "10-25"])
        self.assertEqual(after.children_of("p", part), children[3:])
        self.assertIn("UNTIL=20261021T075900", after.tasks["a"].repeats)
        check_whole(after)

    def test_occurrences_that_have_begun_stay_whatever_the_rule_says_now(self) -> None:
        (a,) = tasks(("a", DAY))
        plan = Plan.of([project(), a])
        plan = edits.repeat(plan, "a", "DTSTART:20260907T080000\nRRULE:FREQ=WEEKLY;COUNT=4", MONDAY).applied_to(plan)
        first, second, *_ = plan.children_of("p", "a")
        plan = told(edits.finish(plan, [second], MONDAY + 8 * 1440).applied_to(plan))
        done = plan.tasks[second]
        for change in (
            edits.set_rule(plan, first, edits.Scope.ALL, "DTSTART:20260909T080000\nRRULE:FREQ=DAILY;COUNT=2", MONDAY),
            edits.set_rule(
                plan, first, edits.Scope.ALL, "DTSTART:20260910T080000\nRRULE:FREQ=MONTHLY", MONDAY + 90_000
            ),
            extend(plan, {"p": MONDAY + 60}) or edits.rename(plan, first, "Kept"),
        ):
            self.assertEqual(change.applied_to(plan).tasks[second], done)
        weekly = edits.set_rule(plan, first, Scope.ALL, "DTSTART:20260910T080000\nRRULE:FREQ=WEEKLY", MONDAY + 90_000)
        open_ended = weekly.applied_to(plan)
        shorter = extend(open_ended, {"p": MONDAY + 5 * 1440})
        assert shorter is not None
        self.assertEqual(shorter.applied_to(open_ended).tasks[second], done)
        with self.assertRaisesRegex(EditRefused, "has begun"):
            begun = edits.begin(Plan.of([project(), a]), ["a"], MONDAY).applied_to(Plan.of([project(), a]))
            edits.repeat(begun, "a", "DTSTART:20260907T080000\nRRULE:FREQ=WEEKLY;COUNT=4", MONDAY)

    def test_what_cannot_be_a_series_is_refused(self) -> None:
        for rule in ("RRULE:FREQ=WEEKLY", "DTSTART:20260909T080000\nRRULE:FREQ=HOURLY"):
            with self.assertRaises(BadText):
                edits.repeat(self.plan, "a", rule, 0)
        with self.assertRaisesRegex(EditRefused, "does not repeat"):
            edits.set_occurrences(self.plan, "b", Scope.ALL, "x", duration=1)
        with self.assertRaisesRegex(EditRefused, "no occurrence"):
            made(self.plan, edits.repeat(self.plan, "a", self.RULE, MONDAY - 1440))
        plan = made(self.plan, edits.repeat(self.plan, "a", f"{self.RULE};COUNT=2", 0))
        with self.assertRaisesRegex(EditRefused, "has parts"):
            edits.repeat(plan, "a", f"{self.RULE};COUNT=2", 0)


class Duplicates(unittest.TestCase):
    """Recurring work of a project that is made again at another time; seen once: 64 meetings of 12."""

    def test_there_are_as_many_and_they_are_where_their_moved_rule_puts_them(self) -> None:
        last = MONDAY // 1440 + 77
        for rule, days in (
            ("FREQ=WEEKLY;BYDAY=MO", 364), ("FREQ=WEEKLY;COUNT=12", 364), ("FREQ=MONTHLY;BYMONTHDAY=15", 365),
            ("FREQ=MONTHLY;BYDAY=1MO;COUNT=3", 400), ("FREQ=DAILY;INTERVAL=7", 370), ("FREQ=WEEKLY", -35),
        ):  # fmt: skip
            (a, b) = tasks(("a", 60), ("b", 60 * DAY))
            people = [Resource("r", "R", "a0"), Assignment("a", "r", first_day=last - 70, last_day=last)]
            plan = Plan.of([project(), a, b, *people])
            plan = made(plan, edits.repeat(plan, "a", f"DTSTART:20260907T080000\nRRULE:{rule}", MONDAY + 78 * 1440))
            before = plan.children_of("p", "a")
            there = edits.fragment_of_project(plan, "p")
            copy, edit = edits.duplicate_project(plan, there, "Again", MONDAY + days * 1440)
            plan = made(plan, edit)
            more = extend(plan, {copy: MONDAY + (days + 78) * 1440})
            plan = plan if more is None else made(plan, more)
            series = next(t for t in plan.children_of(copy, None) if plan.tasks[t].repeats)
            after = plan.children_of(copy, series)
            self.assertLessEqual(abs(len(after) - len(before)), 1, rule)
            moments = [plan.tasks[t].occurrence for t in after]
            self.assertEqual(moments, moments_of(plan.tasks[series].repeats, moments[-1] or 0, len(moments)), rule)
            (assigned,) = plan.assignments_of(after[0])
            self.assertEqual((assigned.first_day, assigned.last_day), (last - 70 + days, last + days))


class Descriptions(unittest.TestCase):
    def setUp(self) -> None:
        a, b = tasks(("a", DAY), ("b", DAY))
        self.plan = Plan.of([project(), a, b, Field("f", "Cost", "a0"), Calendar("c", "C", base="standard")])

    def test_a_field_that_is_renamed_or_deleted_takes_its_values_along(self) -> None:
        plan = made(self.plan, edits.set_fields(self.plan, ["a", "b"], {"Cost": 5}))
        plan = made(plan, edits.set_fields(plan, ["b"], {"Cost": None, "Room": "East"}))
        self.assertEqual((plan.tasks["a"].fields, plan.tasks["b"].fields), ((("Cost", 5),), (("Room", "East"),)))
        plan = made(plan, edits.save_field(plan, replace(plan.fields["f"], name="Price")))
        self.assertEqual(plan.tasks["a"].fields, (("Price", 5),))
        plan = made(plan, edits.remove_field(plan, "f"))
        self.assertEqual(plan.tasks["a"].fields, ())

    def test_replacing_says_how_much_and_leaves_no_row_without_a_name(self) -> None:
        plan = made(self.plan, edits.set_tags(self.plan, ["a"], ["loan", "loan ", " glass"]))
        self.assertEqual(plan.tasks["a"].tags, ("loan", "glass"))
        plan = made(plan, edits.replace_text(plan, ["a"], "tags", "LOAN", "gift", exact=False))
        self.assertEqual(plan.tasks["a"].tags, ("gift", "glass"))
        with self.assertRaisesRegex(EditRefused, "Nothing would be left"):
            made(plan, edits.replace_text(plan, ["b"], "name", "b", "", exact=True))

    def test_comments_go_with_their_task_and_come_back_with_it(self) -> None:
        plan = made(self.plan, edits.add_comment(self.plan, "a", "Mo", MONDAY, " Ask @TB "))
        self.assertEqual([c.text for c in plan.comments_about("a")], ["Ask @TB"])
        without = made(plan, edits.remove_tasks(plan, ["a"]))
        self.assertEqual(len(without.comments), 0)
        self.assertEqual(made(without, edits.bring_back(without, plan, "a")), plan)
        with self.assertRaises(EditRefused):
            made(plan, edits.add_comment(plan, "a", "Mo", MONDAY, "   "))

    def test_text_of_any_shape_becomes_levels(self) -> None:
        for text, levels in {
            "1 Roof\n1.1 Glass\n1.1.1 Panes\n2 Yard": [(0, "Roof"), (1, "Glass"), (2, "Panes"), (0, "Yard")],
            "- a\n  - b\n    * c": [(0, "a"), (1, "b"), (2, "c")],
            "1. a\n2. b": [(0, "a"), (0, "b")],
            "3 cases built\n2026 budget": [(0, "3 cases built"), (0, "2026 budget")],
            "a) first\nb) second": [(0, "first"), (0, "second")], "• x\n\t• y": [(0, "x"), (1, "y")],
        }.items():  # fmt: skip
            self.assertEqual(levels_of_text(text), levels)

    def test_changes_one_after_the_other_are_one_change(self) -> None:
        rng = random.Random(85)
        from tests.storm import random_step

        plan = random_plan(rng, 12, summaries=True, resources=2)
        for _ in range(60):
            steps = [s for s in (random_step(rng, plan),) if s]
            if not steps:
                continue
            _, middle, first = steps[0]
            second = random_step(rng, middle)
            if second is None:
                continue
            _, last, then = second
            both = first.then(then)
            self.assertEqual(both.applied_to(plan), last)
            self.assertEqual(both.inverse().applied_to(last), plan)
            plan = last

    def test_a_milestone_without_a_duration_takes_none(self) -> None:
        from hexapod.plan.records import TaskKind

        self.assertEqual(Task("x", "p", "x", "a0", kind=TaskKind.MILESTONE).minutes, 0)
        self.assertEqual(Task("x", "p", "x", "a0").minutes, DAY)


if __name__ == "__main__":
    unittest.main()
