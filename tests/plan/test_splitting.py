"""A task in two parts: together they are the work, the links and the dates that the whole was."""

from __future__ import annotations

import random
import unittest

from msgspec.structs import replace

from hexapod.errors import EditRefused
from hexapod.plan import edits
from hexapod.plan.changes import diff
from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, Limit, LimitKind, Link, LinkType, Resource
from hexapod.plan.validity import check
from hexapod.schedule.engine import schedule
from hexapod.staffing.holding import effort_of_task
from tests.support import DAY, MONDAY, project, random_plan, tasks, told


class Splitting(unittest.TestCase):
    def test_the_parts_are_as_long_and_as_much_work_and_nobody_else_moves(self) -> None:
        rng = random.Random(41)
        tried = 0
        for _ in range(60):
            plan = random_plan(rng, 16, resources=3, lags=0, types="FS", milestones=0.0)
            task = rng.choice(sorted(t for t in plan.tasks if plan.tasks[t].minutes > 2))
            minutes = rng.randrange(1, plan.tasks[task].minutes)
            after = edits.split_task(plan, task, minutes, "rest").applied_to(plan)
            check(after, diff(plan, after))
            before_dates, dates = schedule(plan), schedule(after)
            for other in plan.tasks:
                if other != task:
                    self.assertEqual(before_dates.dates(other).start, dates.dates(other).start)
            self.assertEqual(before_dates.dates(task).start, dates.dates(task).start)
            self.assertEqual(before_dates.dates(task).finish, dates.dates("rest").finish)
            shared = effort_of_task(after, task) + effort_of_task(after, "rest")
            self.assertAlmostEqual(shared, effort_of_task(plan, task), delta=2)
            tried += 1
        self.assertEqual(tried, 60)

    def test_what_is_of_the_finish_goes_with_the_second_part_and_what_is_done_with_the_first(self) -> None:
        a, b, c = tasks(("a", 10 * DAY), ("b", DAY), ("c", DAY))
        limits = (Limit(LimitKind.START_NO_EARLIER, MONDAY), Limit(LimitKind.MUST_FINISH, MONDAY + 40 * 1440))
        a = replace(a, percent=60.0, limits=limits, target=MONDAY, effort=20 * DAY)
        work = [Assignment("a", "ada"), Assignment("a", "bo", total=5 * DAY)]
        links = [Link("a", "b"), Link("a", "c", LinkType.SS), Link("b", "a", LinkType.FF)]
        people = [Resource("ada", "Ada", "a1"), Resource("bo", "Bo", "a2")]
        plan = Plan.of([project(), a, b, c, *links[:2], *people, *work])
        after = edits.split_task(plan, "a", 4 * DAY, "rest").applied_to(plan)
        with self.assertRaises(EditRefused):
            edits.split_task(told(plan), "a", 4 * DAY)
        first, rest = after.tasks["a"], after.tasks["rest"]
        self.assertEqual((first.percent, rest.percent), (100.0, 0.0))
        self.assertEqual([x.kind for x in first.limits], [LimitKind.START_NO_EARLIER])
        self.assertEqual([x.kind for x in rest.limits], [LimitKind.MUST_FINISH])
        self.assertEqual((first.target, rest.target, first.effort, rest.effort), (None, MONDAY, 8 * DAY, 12 * DAY))
        self.assertEqual(set(after.links), {("a", "rest", "FS"), ("rest", "b", "FS"), ("a", "c", "SS")})
        totals = [after.assignments[(t, "bo")].total for t in ("a", "rest")]
        self.assertEqual(totals, [2 * DAY, 3 * DAY])
        for minutes in (0, 10 * DAY):
            with self.assertRaises(EditRefused):
                edits.split_task(plan, "a", minutes)


if __name__ == "__main__":
    unittest.main()
