"""Load and levelling count only what is left of begun work, and nothing of what is done."""

from __future__ import annotations

import random
import unittest

import numpy as np
from msgspec.structs import replace

from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, Curve, Limit, LimitKind, Link, LinkType, OutOfOrder, Resource, Task
from hexapod.schedule.engine import schedule
from hexapod.staffing.board import lanes
from hexapod.staffing.demand import Demand
from hexapod.staffing.levelling.proposal import level
from hexapod.staffing.load import load_by_period
from hexapod.staffing.overloads import overloads, overloads_again
from tests.support import DAY, MONDAY, at, project, random_plan, tasks, told

FAR = np.array([MONDAY - 400 * 1440, MONDAY + 900 * 1440])
FRIDAY = at("2026-09-11T17:00")


def minutes_of(plan: Plan, resource: str, edges: np.ndarray = FAR) -> list[int]:
    """Minutes of work that are asked of a resource, by period."""
    return [round(x / 1_000_000) for x in load_by_period(schedule(plan), plan, resource, edges)]


class OnlyTheRest(unittest.TestCase):
    def plan(self, task: Task, **assignment: object) -> Plan:
        ada = Resource("ada", "Ada", "a1")
        return Plan.of([project(status_date=FRIDAY), task, ada, Assignment(task.id, "ada", **assignment)])  # type: ignore[arg-type]

    def test_the_load_is_what_is_left_behind_the_status_date(self) -> None:
        (a,) = tasks(("a", 10 * DAY))
        begun = replace(a, actual_start=MONDAY, percent=40.0)
        done = replace(a, actual_start=MONDAY, actual_finish=FRIDAY, percent=100.0)
        for task, how, minutes in (
            (begun, {}, 6 * DAY),
            (begun, {"units": 0.5}, 3 * DAY),
            (begun, {"total": 5 * DAY}, 3 * DAY),
            (replace(begun, remaining=DAY), {}, DAY),
            (replace(begun, remaining=20 * DAY), {}, 20 * DAY),
            (done, {}, 0),
        ):
            plan = self.plan(task, **how)
            self.assertEqual(minutes_of(plan, "ada"), [minutes], how)
            self.assertEqual(minutes_of(plan, "ada", np.array([MONDAY - 1440, FRIDAY])), [0], "nothing lies behind")

    def test_the_rest_of_a_curve_is_its_tail(self) -> None:
        (a,) = tasks(("a", 10 * DAY))
        for curve in (Curve.FRONT, Curve.BACK, Curve.CENTRE):
            whole = minutes_of(self.plan(a, curve=curve), "ada")[0]
            self.assertAlmostEqual(whole, 10 * DAY, delta=3)
            left = minutes_of(self.plan(replace(a, actual_start=MONDAY, percent=50.0), curve=curve), "ada")[0]
            part = {Curve.FRONT: 0.5 - 0.25 * 0.9, Curve.BACK: 0.5 + 0.25 * 0.9, Curve.CENTRE: 0.5}[curve]
            self.assertAlmostEqual(left, 10 * DAY * part, delta=10 * DAY * 0.03, msg=str(curve))

    def test_the_board_shows_all_of_what_is_begun_and_done(self) -> None:
        (a,) = tasks(("a", 10 * DAY))
        for task in (
            replace(a, actual_start=MONDAY, percent=40.0),
            replace(a, actual_start=MONDAY, actual_finish=FRIDAY, percent=100.0),
        ):
            plan = self.plan(task)
            dates = schedule(plan)
            ((piece,),) = [lane.pieces for lane in lanes(dates, plan, Demand.of(dates, plan), ["ada"])]
            self.assertEqual((piece.begin, piece.end), dates.dates("a")[:2])

    def test_what_is_told_without_moving_anything_is_counted_anew(self) -> None:
        a, b = tasks(("a", 4 * DAY), ("b", 4 * DAY))
        ada = Resource("ada", "Ada", "a1")
        plan = Plan.of([project(), a, b, ada, Assignment("a", "ada"), Assignment("b", "ada")])
        before = schedule(plan)
        demand = Demand.of(before, plan)
        known = overloads(before, demand)
        self.assertTrue(known)
        from hexapod.plan.changes import diff
        from hexapod.schedule.engine import reschedule

        draft = plan.draft()
        draft.put(replace(a, actual_start=MONDAY, percent=50.0))  # without a status date no date moves
        after_plan = draft.finish()[0]
        after = reschedule(before, after_plan, diff(plan, after_plan))
        self.assertEqual(after.dates("a")[:2], before.dates("a")[:2])
        again = overloads_again(after, demand, before, known)
        self.assertEqual(again.total_excess, overloads(after, Demand.of(after, after_plan)).total_excess)
        self.assertLess(again.total_excess, known.total_excess)


class Levelling(unittest.TestCase):
    def test_a_limit_on_a_start_that_was_does_not_hold_the_rest(self) -> None:
        a, b = tasks(("a", 3 * DAY), ("b", DAY))
        later = Limit(LimitKind.START_NO_EARLIER, MONDAY + 14 * 1440)
        a = replace(a, actual_start=MONDAY, remaining=2 * DAY, limits=(later,))
        mo = [Resource("mo", "Mo", "a0"), Assignment("a", "mo"), Assignment("b", "mo")]
        plan = Plan.of([project(status_date=FRIDAY), a, b, *mo])
        after = level(schedule(plan), within_float=False)
        self.assertEqual(len(after.overloads_after), 0)
        self.assertEqual(after.schedule.dates("a").finish, at("2026-09-15T17:00"))
        self.assertEqual(after.schedule.dates("b").start, at("2026-09-16T08:00"))

    def test_others_wait_for_the_rest_only(self) -> None:
        a, b = tasks(("a", 10 * DAY), ("b", 2 * DAY))
        a = replace(a, actual_start=MONDAY, percent=70.0)
        ada = Resource("ada", "Ada", "a1")
        plan = Plan.of([project(status_date=FRIDAY), a, b, ada, Assignment("a", "ada"), Assignment("b", "ada")])
        found = level(schedule(plan), within_float=False)
        self.assertFalse(found.overloads_after)
        self.assertEqual([m.task for m in found.moves], ["b"])
        self.assertEqual(found.schedule.dates("b").start, at("2026-09-17T08:00"), "three days are left")
        self.assertEqual(found.schedule.dates("a")[:2], schedule(plan).dates("a")[:2])

    def test_random_plans_under_way_keep_what_was_told_and_are_never_worse_off(self) -> None:
        rng = random.Random(61)
        gained = 0
        for k in range(25):
            plan = self._under_way(rng, random_plan(rng, 24, summaries=True, resources=2, projects=2))
            now = schedule(plan)
            demand = Demand.of(now, plan)
            found = level(now, within_float=k % 2 == 0)
            after = found.schedule
            for task in plan.tasks.values():
                if task.actual_start is not None and not plan.is_summary(task.id):
                    self.assertEqual(after.dates(task.id).start, task.actual_start, k)
                    self.assertEqual(found.holds.get(task.id, task.hold), task.hold, k)
                if task.is_done and not plan.is_summary(task.id):
                    self.assertEqual(after.dates(task.id).finish, task.actual_finish, k)
            self.assertLessEqual(found.overloads_after.total_excess, overloads(now, demand).total_excess, k)
            gained += found.overloads_after.total_excess < overloads(now, demand).total_excess
        self.assertGreater(gained, 5)

    def _under_way(self, rng: random.Random, plan: Plan) -> Plan:
        dates = schedule(plan)
        draft = plan.draft()
        for p in plan.projects.values():
            policy = rng.choice(list(OutOfOrder))
            draft.put(replace(p, status_date=MONDAY + rng.randrange(20) * 1440, out_of_order=policy))
        for task in plan.tasks.values():
            if not plan.is_summary(task.id) and rng.random() < 0.4:
                start = dates.dates(task.id).start + rng.randrange(-3, 3) * 480
                draft.put(replace(task, actual_start=start, percent=rng.choice((10.0, 50.0, 90.0))))
                if rng.random() < 0.5:
                    draft.put(replace(task, actual_start=start, actual_finish=start + task.minutes * 2, percent=100.0))
        return draft.finish()[0]

    def test_a_start_that_was_is_what_others_count_from(self) -> None:
        a, b = tasks(("a", 10 * DAY), ("b", DAY))
        a = replace(a, actual_start=MONDAY, percent=50.0)
        ada = Resource("ada", "Ada", "a1")
        link = Link("a", "b", LinkType.SS, lag=6 * DAY)
        plan = told(
            Plan.of([project(status_date=FRIDAY), a, b, link, ada, Assignment("b", "ada"), Assignment("a", "ada")])
        )
        now = schedule(plan)
        self.assertEqual(now.dates("b").start, at("2026-09-15T08:00"))
        found = level(now, within_float=False)
        self.assertFalse(found.overloads_after)
        self.assertEqual(found.schedule.dates("b").start, at("2026-09-21T08:00"))


if __name__ == "__main__":
    unittest.main()
