"""The capacity guard against counting every overload before and after; what it offers instead never overloads."""

from __future__ import annotations

import random
import unittest

from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, LimitKind, Resource
from hexapod.schedule.engine import schedule
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.board import is_scheduled, lanes, nobody_on
from hexapod.staffing.demand import Demand
from hexapod.staffing.guard import breaches, free_dates, people_instead
from hexapod.staffing.overloads import overloads, overloads_again
from tests.support import DAY, MONDAY, after, project, random_plan, tasks


def excess(found: Schedule) -> dict[str, float]:
    total: dict[str, float] = {}
    for over in overloads(found, Demand.of(found, found.network.plan)):
        total[over.resource] = total.get(over.resource, 0.0) + over.excess
    return total


class Guard(unittest.TestCase):
    def setUp(self) -> None:
        self.rng = random.Random(17)

    def random_edit(self, plan: Plan) -> Edit:
        leaves = sorted(t for t in plan.tasks if not plan.is_summary(t))
        task, who = self.rng.choice(leaves), self.rng.choice(sorted(plan.resources))
        choices = (
            lambda: edits.assign(plan, [task], who, self.rng.choice((0.5, 1.0))),
            lambda: edits.set_durations(plan, [task], self.rng.randrange(1, 3000)),
            lambda: edits.set_limit(plan, task, LimitKind.START_NO_EARLIER, MONDAY + self.rng.randrange(20) * 1440),
        )
        return self.rng.choice(choices)()

    def test_it_stops_exactly_the_edits_that_give_somebody_more_too_much(self) -> None:
        stopped = 0
        for _ in range(60):
            plan = random_plan(self.rng, 14, resources=4, lags=0, projects=2)
            now = schedule(plan)
            edit = self.random_edit(plan)
            then = after(now, edit)
            before, later = excess(now), excess(then)
            worse = {r: m - before.get(r, 0.0) for r, m in later.items() if m - before.get(r, 0.0) > 0.5}
            found = {b.resource: b.more for b in breaches(now, then)}
            self.assertEqual(found.keys(), worse.keys())
            for resource, more in worse.items():
                self.assertAlmostEqual(found[resource], more)
            stopped += bool(worse)
            if not worse:
                continue
            offers = free_dates(now, then, edit) + people_instead(now, then, edit, breaches(now, then))
            for offer in offers:
                self.assertEqual(breaches(now, after(now, offer.edit)), ())
        self.assertGreater(stopped, 10)

    def test_the_nearest_free_dates_are_right_before_and_right_behind_what_is_in_the_way(self) -> None:
        people = [Resource("ada", "Ada", "a1", role=None), Resource("lift", "Lift", "a2")]
        a, b, c = tasks(("a", 5 * DAY), ("b", 5 * DAY), ("c", 4 * DAY))
        plan = Plan.of([project(), a, b, c, *people, Assignment("b", "ada"), Assignment("c", "ada")])
        second = MONDAY + 7 * 1440
        plan = edits.set_limit(plan, "b", LimitKind.START_NO_EARLIER, second).applied_to(plan)
        now = schedule(plan)
        edit = edits.set_limit(plan, "c", LimitKind.START_NO_EARLIER, second + 1440)
        then = after(now, edit)
        self.assertEqual([b.resource for b in breaches(now, then)], ["ada"])
        starts = [(o.begin - MONDAY) // 1440 for o in free_dates(now, then, edit)]
        self.assertEqual(starts, [0, 14])
        self.assertEqual(people_instead(now, then, edit, breaches(now, then)), [])


class Again(unittest.TestCase):
    def test_overloads_after_an_edit_are_those_counted_from_nothing(self) -> None:
        rng, same = random.Random(31), 0
        for _ in range(25):
            plan = random_plan(rng, 16, calendars=2, resources=5, projects=2, own_hours=True)
            now = schedule(plan)
            demand = Demand.of(now, plan)
            known = overloads(now, demand)
            for _ in range(4):
                task = rng.choice(sorted(plan.tasks))
                edit = rng.choice((
                    edits.set_durations(plan, [task], rng.randrange(1, 3000)),
                    edits.set_limit(plan, task, LimitKind.START_NO_EARLIER, MONDAY + rng.randrange(20) * 1440),
                    edits.set_task(plan, task, "", calendar=rng.choice((None, "c0", "always"))),
                ))  # fmt: skip
                then = after(now, edit)
                counted = overloads(then, demand)
                self.assertEqual(overloads_again(then, demand, now, known), counted)
                same += counted == known
                plan, now, known = edit.applied_to(plan), then, counted
        self.assertLess(same, 90, "many edits change some overload")


class Board(unittest.TestCase):
    def test_pieces_are_where_the_work_is_and_none_covers_another(self) -> None:
        rng = random.Random(23)
        for _ in range(10):
            plan = random_plan(rng, 30, resources=3, projects=2, summaries=True)
            found = schedule(plan)
            laid = lanes(found, plan, Demand.of(found, plan), [r.id for r in plan.resources_in_order()])
            for lane in laid:
                worked = {t for t in plan.used_by.get(lane.resource, ()) if not plan.is_summary(t)}
                shown = {p.task for p in lane.pieces}
                self.assertEqual(shown, worked)
                for piece in lane.pieces:
                    dates = found.dates(piece.task)
                    self.assertTrue(dates.start <= piece.begin <= piece.end <= dates.finish)
                    for other in lane.pieces:
                        apart = piece.end <= other.begin or other.end <= piece.begin
                        self.assertTrue(other is piece or piece.line != other.line or apart)
                at_once = [sum(p.begin <= q.begin < max(p.end, p.begin + 1) for p in lane.pieces) for q in lane.pieces]
                self.assertLessEqual(lane.lines, max([1, *at_once]), "no more lines than tasks run at once")

    def test_the_trays_hold_what_nobody_does_and_what_nobody_put_anywhere(self) -> None:
        people = [Resource("ada", "Ada", "a1")]
        a, b, c = tasks(("a", DAY), ("b", DAY), ("c", DAY))
        plan = Plan.of([project(), a, b, c, *people, Assignment("a", "ada")])
        self.assertEqual(sorted(nobody_on(plan)), ["b", "c"])
        plan = edits.set_durations(plan, ["c"], None).applied_to(plan)
        self.assertEqual([is_scheduled(plan, t) for t in ("b", "c")], [True, False])
        plan = edits.hand_over(plan, "b", None, "ada").applied_to(plan)
        self.assertEqual(nobody_on(plan), ["c"])


if __name__ == "__main__":
    unittest.main()
