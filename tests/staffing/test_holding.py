"""Effort-driven changes: effort = duration x rate, whatever is said and by whichever edit."""

from __future__ import annotations

import random
import unittest

from msgspec.structs import replace

from hexapod.errors import EditRefused
from hexapod.plan import edits
from hexapod.plan.changes import diff
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, Held, Resource
from hexapod.staffing.holding import effort_of_task, held_words, keep, kept_words, set_effort, what_is_held
from tests.support import DAY, project, tasks


def carried_out(plan: Plan, edit: Edit) -> Plan:
    """As the session does it."""
    after = edit.applied_to(plan)
    more = what_is_held(plan, after, diff(plan, after))
    return after if more is None else more.applied_to(after)


def made(*work: Assignment, keeps: Held, days: int = 10) -> Plan:
    people = [Resource(f"r{i}", f"R{i}", f"a{i}") for i in range(3)]
    (task,) = tasks(("a", days * DAY))
    plan = Plan.of([project(), replace(task, keeps=keeps), *people, *work])
    return keep(plan, "a", keeps).applied_to(plan)


class Holding(unittest.TestCase):
    def test_with_more_people_a_kept_effort_takes_less_time_and_with_fewer_more(self) -> None:
        plan = made(Assignment("a", "r0"), keeps=Held.EFFORT)
        two = carried_out(plan, edits.assign(plan, ["a"], "r1"))
        self.assertEqual((two.tasks["a"].duration, two.tasks["a"].effort), (5 * DAY, 10 * DAY))
        half = carried_out(two, edits.assign(two, ["a"], "r2", 0.5))
        self.assertEqual(half.tasks["a"].duration, 4 * DAY)
        one = carried_out(half, edits.set_assignments(half, "a", [Assignment("a", "r2", 0.5)]))
        self.assertEqual(one.tasks["a"].duration, 20 * DAY)
        self.assertEqual(effort_of_task(one, "a"), 10 * DAY)
        nobody = carried_out(one, edits.unassign(one, "a", "r2"))
        self.assertEqual((nobody.tasks["a"].duration, nobody.tasks["a"].effort), (20 * DAY, 10 * DAY))

    def test_another_duration_makes_those_who_keep_the_effort_faster(self) -> None:
        plan = made(Assignment("a", "r0", 0.5), Assignment("a", "r1", hours_a_day=4.0), keeps=Held.EFFORT)
        after = carried_out(plan, edits.set_durations(plan, ["a"], 5 * DAY))
        self.assertEqual(after.assignments[("a", "r0")].units, 1.0)
        self.assertEqual(after.assignments[("a", "r1")].hours_a_day, 8.0)
        self.assertEqual(effort_of_task(after, "a"), effort_of_task(plan, "a"))

    def test_who_keeps_duration_or_rate_sees_the_effort_change_and_said_effort_moves_the_other_one(self) -> None:
        for keeps in (Held.DURATION, Held.RATE):
            plan = made(Assignment("a", "r0"), keeps=keeps)
            joined = carried_out(plan, edits.assign(plan, ["a"], "r1"))
            self.assertEqual((joined.tasks["a"].duration, effort_of_task(joined, "a")), (10 * DAY, 20 * DAY))
            longer = carried_out(plan, edits.set_durations(plan, ["a"], 20 * DAY))
            self.assertEqual((longer.assignments, effort_of_task(longer, "a")), (plan.assignments, 20 * DAY))
        slower = set_effort(made(Assignment("a", "r0"), keeps=Held.DURATION), "a", 5 * DAY)
        plan = slower.applied_to(made(Assignment("a", "r0"), keeps=Held.DURATION))
        self.assertEqual((plan.assignments[("a", "r0")].units, plan.tasks["a"].duration), (0.5, 10 * DAY))
        plan = made(Assignment("a", "r0"), keeps=Held.RATE)
        plan = set_effort(plan, "a", 5 * DAY).applied_to(plan)
        self.assertEqual((plan.assignments[("a", "r0")].units, plan.tasks["a"].duration), (1.0, 5 * DAY))

    def test_hours_in_all_are_kept_and_more_of_them_than_the_effort_is_refused(self) -> None:
        plan = made(Assignment("a", "r0"), Assignment("a", "r1", total=2 * DAY), keeps=Held.EFFORT)
        self.assertEqual(plan.tasks["a"].effort, 12 * DAY)
        after = carried_out(plan, edits.assign(plan, ["a"], "r2"))
        self.assertEqual((after.tasks["a"].duration, effort_of_task(after, "a")), (5 * DAY, 12 * DAY))
        with self.assertRaisesRegex(EditRefused, "said for those who work on it"):
            set_effort(plan, "a", DAY).applied_to(plan)

    def test_random_joins_leaves_and_durations_never_lose_effort(self) -> None:
        rng = random.Random(5)
        plan = made(Assignment("a", "r0"), keeps=Held.EFFORT, days=40)
        for _ in range(200):
            present = [a.resource for a in plan.assignments_of("a")]
            wanted = rng.sample(["r0", "r1", "r2"], rng.randint(1, 3))
            if set(wanted) != set(present):
                work = [Assignment("a", r, rng.choice((0.25, 0.5, 1.0))) for r in wanted]
                plan = carried_out(plan, edits.set_assignments(plan, "a", work))
            else:
                plan = carried_out(plan, edits.set_durations(plan, ["a"], rng.randrange(2, 60) * DAY))
            self.assertEqual(plan.tasks["a"].effort, 40 * DAY)
            rounding = plan.tasks["a"].minutes * 0.0001 * 3 + 4  # shares have four places
            self.assertAlmostEqual(effort_of_task(plan, "a"), 40 * DAY, delta=rounding)

    def test_what_becomes_a_moment_is_no_work_any_more(self) -> None:
        plan = made(Assignment("a", "r0"), keeps=Held.EFFORT)
        after = carried_out(plan, edits.set_durations(plan, ["a"], 0))
        self.assertEqual((after.tasks["a"].duration, after.tasks["a"].effort), (0, None))

    def test_what_gave_way_is_said_in_a_sentence_and_nothing_where_nothing_did(self) -> None:
        plan = made(Assignment("a", "r0"), keeps=Held.EFFORT)
        for edit, says in (
            (edits.assign(plan, ["a"], "r1"), "“a” keeps its effort of 80 h: it takes 5 d, not 10 d."),
            (edits.set_durations(plan, ["a"], 5 * DAY), "“a” keeps its effort: everybody works at 200 % of before."),
            (edits.rename(plan, "a", "b"), ""),
            (set_effort(plan, "a", 20 * DAY), ""),
            (edits.set_percent(plan, ["a"], 10), ""),
        ):
            self.assertEqual(held_words(diff(plan, carried_out(plan, edit))), says, edit.words)
        free = made(Assignment("a", "r0"), keeps=Held.RATE)
        self.assertEqual(held_words(diff(free, carried_out(free, edits.assign(free, ["a"], "r1")))), "")
        for held in Held:
            self.assertTrue(kept_words(held).endswith("."))

    def test_a_task_that_nobody_is_on_keeps_what_was_said_for_those_who_come(self) -> None:
        (task,) = tasks(("a", 2 * DAY))
        plan = Plan.of([project(), replace(task, keeps=Held.EFFORT, effort=12 * DAY),
                        *(Resource(f"r{i}", f"R{i}", f"a{i}") for i in range(3))])  # fmt: skip
        one = carried_out(plan, edits.assign(plan, ["a"], "r0"))
        self.assertEqual((one.tasks["a"].duration, one.tasks["a"].effort), (12 * DAY, 12 * DAY))
        three = carried_out(one, edits.together("", [edits.assign(one, ["a"], r) for r in ("r1", "r2")]))
        self.assertEqual((three.tasks["a"].duration, three.tasks["a"].effort), (4 * DAY, 12 * DAY))
        later = carried_out(three, edits.set_durations(three, ["a"], 6 * DAY))
        self.assertEqual({a.units for a in later.assignments.values()}, {0.6667})


if __name__ == "__main__":
    unittest.main()
