"""A round asks what should have moved, and its answers are one edit: as planned changes nothing that is to come."""

from __future__ import annotations

import random
import unittest

from msgspec.structs import replace

from hexapod.control.progress_checks import out_of_order
from hexapod.control.round import AS_PLANNED, Answer, Group, What, questions, round_edit
from hexapod.control.soundness import soundness
from hexapod.control.status import ProjectState, late_leaves, status_of
from hexapod.control.winning_back import Means, ways_to_win_back
from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, Link, Resource, Task, TaskKind
from hexapod.preparing import prepare
from hexapod.schedule.engine import schedule
from hexapod.schedule.schedule import Schedule, computed_dates
from tests.support import DAY, MONDAY, at, project, random_plan, tasks, told

FRIDAY = at("2026-09-11T17:00")


def taken(plan: Plan, when: int, answers: dict[str, Answer]) -> Schedule:
    now = schedule(plan)
    asked = questions(now, plan.projects_in_order()[0].id, when)
    edit = round_edit(plan, plan.projects_in_order()[0].id, when, asked, answers, "Mo", when)
    found = computed_dates(prepare(edit, plan, now, "Mo", now=when).schedule)
    assert found is not None
    return found


class Asking(unittest.TestCase):
    def plan(self) -> Plan:
        a, b, c, d = tasks(("a", 3 * DAY), ("b", 4 * DAY), ("c", 9 * DAY), ("d", DAY))
        c = replace(c, actual_start=MONDAY, percent=10.0)
        return Plan.of([project(status_date=MONDAY), a, b, c, d, Link("a", "b"), Link("b", "d")])

    def test_only_what_should_have_moved_is_asked_in_three_groups(self) -> None:
        found = questions(schedule(self.plan()), "p", FRIDAY)
        self.assertEqual(
            [(q.task, q.group) for q in found], [("a", Group.FINISH), ("b", Group.BEGIN), ("c", Group.GO_ON)]
        )
        rests = {q.task: q.rest for q in found}
        self.assertEqual(rests, {"a": 0, "b": 2 * DAY, "c": round(9 * DAY * 0.9) - 5 * DAY})
        self.assertEqual([q.task for q in questions(schedule(self.plan()), "p", MONDAY)], [])

    def test_each_answer_means_what_it_says(self) -> None:
        wednesday = at("2026-09-09T17:00")
        for task, answer, begun, ended, rest in (
            ("a", AS_PLANNED, MONDAY, wednesday, 0),
            ("a", Answer(What.DONE), MONDAY, wednesday, 0),
            ("a", Answer(What.DONE, at=FRIDAY), MONDAY, FRIDAY, 0),
            ("a", Answer(What.LEFT, amount=DAY), MONDAY, None, DAY),
            ("b", AS_PLANNED, at("2026-09-10T08:00"), None, 2 * DAY),
            ("b", Answer(What.BEGAN, at=FRIDAY - 540), FRIDAY - 540, None, 4 * DAY),
            ("b", Answer(What.PERCENT, amount=25.0), at("2026-09-10T08:00"), None, 3 * DAY),
            ("b", Answer(What.PERCENT, amount=0.0), None, None, 4 * DAY),
            ("b", Answer(What.DONE), at("2026-09-10T08:00"), FRIDAY, 0),
            ("b", Answer(What.NOT_BEGUN, because="the glass is late"), None, None, 4 * DAY),
            ("c", Answer(What.DONE), MONDAY, FRIDAY, 0),
            ("c", Answer(What.PERCENT, amount=0.0), MONDAY, None, 9 * DAY),
        ):
            found = taken(self.plan(), FRIDAY, {task: answer}).plan.tasks[task]
            self.assertEqual((found.actual_start, found.actual_finish, found.rest), (begun, ended, rest), answer)
        after = taken(self.plan(), FRIDAY, {"b": Answer(What.NOT_BEGUN, because="the glass is late")})
        (comment,) = after.plan.comments_about("b")
        self.assertIn("the glass is late", comment.text)
        self.assertEqual(after.plan.projects["p"].status_date, FRIDAY)
        self.assertEqual(after.dates("b").start, at("2026-09-17T08:00"), "what it waits for was not answered")

    def test_what_is_not_answered_stays_as_it_was_told_last(self) -> None:
        after = taken(self.plan(), FRIDAY, {})
        self.assertIsNone(after.plan.tasks["a"].actual_start)
        self.assertEqual(after.plan.tasks["c"].percent, 10)
        self.assertEqual(after.dates("a").start, at("2026-09-14T08:00"))

    def test_a_round_in_which_all_goes_as_planned_moves_nothing(self) -> None:
        """Of random plans, told round after round up to their end."""
        rng = random.Random(152)
        for k in range(25):
            plan = random_plan(rng, 25, summaries=True, resources=0, projects=1)
            before = schedule(plan)
            name = plan.projects_in_order()[0].id
            when = before.project_start[name]
            for _ in range(4):
                when += rng.randrange(1, 12) * 1440
                asked = questions(schedule(plan), name, when)
                after = taken(plan, when, {q.task: AS_PLANNED for q in asked})
                plan = after.plan
                for task in plan.tasks.values():
                    if task.kind is not TaskKind.SPAN and not plan.is_summary(task.id):
                        one, two = before.dates(task.id), after.dates(task.id)
                        self.assertEqual((one.start, one.finish), (two.start, two.finish), (k, task.id))


class WinningBack(unittest.TestCase):
    def plan(self, other: int = 0) -> Plan:
        a, b = tasks(("a", 8 * DAY), ("b", 2 * DAY))
        a = replace(a, actual_start=MONDAY, remaining=6 * DAY)
        records = [
            project(status_date=FRIDAY, target_finish=at("2026-09-18T17:00")), a, b, Link("a", "b"),
            Resource("r", "Glazier", "a0", kind=Resource("", "", "").kind.ROLE),
            Resource("ada", "Ada", "a1", role="r"), Resource("bo", "Bo", "a2", role="r"), Assignment("a", "ada"),
        ]  # fmt: skip
        if other:
            busy = Task("busy", "p", "Busy", "b0", duration=other)
            records += [busy, Assignment("busy", "bo")]
        return Plan.of(records)

    def test_somebody_free_shortens_the_rest_and_the_target_can_move(self) -> None:
        now = schedule(self.plan())
        help_, target = ways_to_win_back(now, "a")
        self.assertEqual((help_.means, help_.resource, help_.wins), (Means.HELP, "bo", 3 * DAY))
        after = schedule(help_.edit.applied_to(now.plan))
        self.assertEqual(after.plan.tasks["a"].remaining, 3 * DAY)
        self.assertEqual(after.project_finish["p"], help_.finish)
        self.assertEqual((target.means, target.finish), (Means.TARGET, now.project_finish["p"]))
        moved = target.edit.applied_to(now.plan)
        self.assertEqual(moved.projects["p"].target_finish, now.project_finish["p"])

    def test_nobody_helps_who_is_not_free_and_nothing_is_said_of_what_is_done(self) -> None:
        self.assertNotIn(Means.HELP, [w.means for w in ways_to_win_back(schedule(self.plan(30 * DAY)), "a")])
        plan = self.plan()
        done = replace(plan.tasks["a"], actual_finish=FRIDAY, remaining=None, percent=100.0)
        finished = Plan.of([*(r for r in plan.projects.values()), done, plan.tasks["b"], *plan.links.values()])
        self.assertNotIn(Means.HELP, [w.means for w in ways_to_win_back(schedule(finished), "a")])


class HowProjectsStand(unittest.TestCase):
    def test_the_state_follows_from_finish_target_and_milestones(self) -> None:
        (a,) = tasks(("a", 4 * DAY))
        m = Task("m", "p", "M", "b0", kind=TaskKind.MILESTONE, duration=0)
        late = replace(m, target=MONDAY + 60)
        for records, target, state in (
            ([a], None, ProjectState.ON_COURSE),
            ([a], at("2026-09-30T17:00"), ProjectState.ON_COURSE),
            ([a], at("2026-09-17T17:00"), ProjectState.IN_DOUBT),  # five days of room
            ([a], at("2026-09-18T17:00"), ProjectState.ON_COURSE),
            ([a], at("2026-09-09T17:00"), ProjectState.LATE),
            ([a, late, Link("a", "m")], None, ProjectState.IN_DOUBT),
            ([replace(a, actual_start=MONDAY, actual_finish=FRIDAY, percent=100.0)], None, ProjectState.DONE),
        ):
            (found,) = status_of(schedule(Plan.of([project(target_finish=target), *records])))
            self.assertIs(found.state, state, target)

    def test_per_cent_is_weighed_by_effort_where_all_have_one(self) -> None:
        a, b = tasks(("a", DAY), ("b", 3 * DAY))
        a = replace(a, actual_start=MONDAY, percent=100.0, actual_finish=MONDAY + 540)
        for one, two, percent in ((None, None, 25.0), (3 * DAY, None, 25.0), (3 * DAY, DAY, 75.0)):
            plan = Plan.of([project(), replace(a, effort=one), replace(b, effort=two)])
            self.assertAlmostEqual(status_of(schedule(plan))[0].percent, percent, places=6)
            s = Task("s", "p", "S", "a0")
            below = Plan.of([project(), s, replace(a, effort=one, parent="s"), replace(b, effort=two, parent="s")])
            dates = schedule(below)
            self.assertAlmostEqual(dates.network.percents[dates.slots["s"]], percent, places=4)

    def test_odd_dates_are_taken_and_named(self) -> None:
        a, b, c = tasks(("a", DAY), ("b", DAY), ("c", DAY))
        a = replace(a, actual_start=FRIDAY + 900, actual_finish=FRIDAY + 1000, percent=100.0)  # a Saturday night
        b = replace(b, actual_start=MONDAY, remaining=3 * DAY)
        dates = schedule(Plan.of([project(status_date=FRIDAY), a, b, c, Link("a", "b"), Link("c", "b")]))
        found = {f.check: f.tasks for f in soundness(dates) if not f.passed}
        self.assertEqual(found["invalid_dates"], ("a",))
        self.assertEqual(found["outside_working_time"], ("a",))
        self.assertEqual(found["long_rest"], ("b",))
        self.assertEqual(set(out_of_order(dates)), {("a", "b", "FS"), ("c", "b", "FS")})
        self.assertEqual(late_leaves(dates, "p"), ["b", "c"])

    def test_what_is_told_in_per_cent_alone_is_told_in_full(self) -> None:
        (a,) = tasks(("a", DAY))
        self.assertEqual(told(Plan.of([project(), replace(a, percent=30.0)])).tasks["a"].actual_start, MONDAY)


if __name__ == "__main__":
    unittest.main()
