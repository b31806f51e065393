"""The grid says what the minutes say, the search finds what there is to find, and bounds are never too high."""

from __future__ import annotations

import itertools
import math
import os
import random
import subprocess
import sys
import unittest

import numpy as np
from msgspec.structs import replace

from hexapod.errors import CannotSchedule
from hexapod.formats.plan_json import write_plan
from hexapod.plan.kinds import KINDS
from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, Limit, LimitKind, Resource, Task
from hexapod.schedule.engine import schedule
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.demand import Demand
from hexapod.staffing.levelling.bound import argument
from hexapod.staffing.levelling.exact import Solver, is_fit
from hexapod.staffing.levelling.grid import Gridded, Wanted, gridded
from hexapod.staffing.levelling.placing import Ground, Scope, ground_of, movable_tasks, place_all, urgency_of
from hexapod.staffing.levelling.proposal import level
from hexapod.staffing.levelling.scheme import FAR, backward, forward, listed, room_for
from hexapod.staffing.levelling.shop import is_shop, open_shop, rearrange
from hexapod.worktime.calendars import Window
from tests.staffing.checker import overloaded_minutes
from tests.staffing.published import J301_1, OPTIMA, job_shop, project_instance, random_instance
from tests.support import DAY, MONDAY, project, random_plan, tasks, told

WINDOW = Window(MONDAY // 1440 - 10, MONDAY // 1440 + 120)


def ground_and_grid(plan: Plan, days: int = 60) -> tuple[Schedule, Ground, Gridded]:
    now = schedule(plan)
    demand, movable = Demand.of(now, plan), movable_tasks(now, Scope())
    ground = ground_of(now, demand, movable, False, Scope())
    wanted = Wanted(
        movable=movable,
        asks=ground.asks,
        urgency=urgency_of(ground),
        rank=ground.rank,
        lags=ground.lags,
        lag_calendars=ground.lag_calendars,
        late_start=None,
        capacity=ground.capacity,
    )
    first = min(p.start for p in plan.projects.values())
    return now, ground, gridded(now.network, wanted, first + days * 1440)


def by_hours(rng: random.Random, plan: Plan) -> Plan:
    """The same with lengths and lags of whole hours, so that a slot is not a minute."""
    records = [r for kind in KINDS for r in getattr(plan, kind).values()]
    rounded = [
        replace(r, duration=(r.duration or 0) // 60 * 60) if isinstance(r, Task)
        else replace(r, lag=r.lag // 60 * 60, lag_percent=0.0) if hasattr(r, "lag")
        else replace(r, capacity_from=((MONDAY // 1440 + rng.randrange(2, 9), rng.choice((1.0, 2.0, 3.0))),))
        if isinstance(r, Resource) and rng.random() < 0.4
        else r
        for r in records
    ]  # fmt: skip
    return Plan.of(rounded)


class Grids(unittest.TestCase):
    def setUp(self) -> None:
        self.rng = random.Random(71)

    def plans(self, count: int) -> list[Plan]:
        made = (
            random_plan(self.rng, 12, resources=3, lags=self.rng.choice((0, 300)), projects=2, summaries=True,
                        calendars=self.rng.choice((0, 0, 1)))
            for _ in range(count)
        )  # fmt: skip
        return [by_hours(self.rng, plan) for plan in made]

    def test_a_list_is_placed_as_it_is_to_the_minute(self) -> None:
        compared = 0
        for plan in self.plans(60):
            try:
                _, ground, found = ground_and_grid(plan)
            except CannotSchedule:
                continue
            grid, n = found.grid, ground.network.size
            self.assertTrue(found.is_exact)
            order = np.empty(len(grid.kind), dtype=np.int64)
            listed(grid, np.array([self.rng.randrange(1000) for _ in grid.kind]), order)
            start, finish = np.empty_like(order), np.empty_like(order)
            excess, _ = forward(grid, order, room_for(grid), start, finish, False)
            if excess >= FAR:
                continue
            self.assertEqual(excess, 0)
            place = np.full(2 * n, 1e9)
            place[found.nodes[order]] = np.arange(len(order))
            exact = place_all(ground, [(p,) for p in place[:n]])
            for k, node in enumerate(found.nodes.tolist()):
                if node < n and grid.is_end[k] and grid.duration[k]:
                    compared += 1
                    self.assertEqual(found.slot(int(exact.start[node])), start[k])
        self.assertGreater(compared, 300)

    def test_justified_to_the_right_nothing_ends_later_and_no_capacity_is_exceeded(self) -> None:
        justified = 0
        for seed in range(20):
            _, _, found = ground_and_grid(random_instance(30, seed).plan("standard", 60), 400)
            grid = found.grid
            order, start, finish = (np.empty(len(grid.kind), dtype=np.int64) for _ in range(3))
            listed(grid, np.arange(len(grid.kind)), order)
            level_ = room_for(grid)
            forward(grid, order, level_, start, finish, False)
            until = int(finish.max())
            listed(grid, finish, order)
            late, late_finish = start.copy(), finish.copy()
            if not backward(grid, order, level_, late, late_finish, until):
                continue
            justified += 1
            self.assertLessEqual(int(late_finish.max()), until)
            asked = np.zeros(grid.capacity.shape, dtype=np.int64)
            for k in range(len(grid.kind)):
                for q in range(grid.ask_into[k], grid.ask_into[k + 1]):
                    asked[grid.ask_resource[q], late[k] : late_finish[k]] += grid.ask_units[q]
                for a in range(grid.into[k], grid.into[k + 1]):
                    self.assertLessEqual(late_finish[grid.source[a]], late[k])
            self.assertTrue((asked <= grid.capacity).all())
        self.assertGreater(justified, 10)


class Searching(unittest.TestCase):
    def test_of_few_tasks_the_best_of_all_lists_is_found_and_no_bound_is_above_it(self) -> None:
        for seed in range(12):
            plan = random_instance(6, seed, strength=0.1, resources=2).plan()
            now, ground, _ = ground_and_grid(plan)
            n, spare = len(plan.tasks), range(len(plan.tasks), ground.network.size)
            best = None
            for order in itertools.permutations(range(n)):
                placed = place_all(ground, [(float(p),) for p in (*order, *spare)])
                leaves = placed.start[:n] + ground.network.tasks.duration[:n]
                best = int(leaves.max()) if best is None else min(best, int(leaves.max()))
            found = level(now, within_float=False)
            self.assertEqual(found.finish_after, best)
            assert found.lower_bound is not None and best is not None
            self.assertLessEqual(found.lower_bound, best)

    def test_published_job_shops_are_solved_and_bounded(self) -> None:
        for name, optimum in OPTIMA.items():
            plan = job_shop(name).plan()
            found = level(schedule(plan), within_float=False, steps=400)
            self.assertEqual(found.finish_after, optimum, name)
            self.assertFalse(found.overloads_after)
            assert found.lower_bound is not None
            self.assertLessEqual(found.lower_bound, optimum)

    def test_a_published_project_is_solved(self) -> None:
        instance = project_instance()
        if instance is None:
            self.skipTest("the archive was not fetched; scripts/setup --dev does that")
        found = level(schedule(instance.plan("standard", DAY)), within_float=False, steps=200)
        self.assertEqual(found.schedule.dates("t31").finish, schedule(done_after(J301_1)).dates("only").finish)

    def test_the_same_seed_and_steps_give_the_same_answer_and_more_are_never_worse(self) -> None:
        for seed in (1, 2):
            now = schedule(random_instance(40, seed).plan())
            few, again, many = (level(now, within_float=False, steps=s, seed=5) for s in (60, 60, 900))
            self.assertEqual(few.moves, again.moves)
            assert few.finish_after is not None and many.finish_after is not None
            self.assertLessEqual(many.finish_after, few.finish_after)

    def test_the_answer_is_the_same_however_and_wherever_the_plan_is_read(self) -> None:
        script = (
            "import sys; from hexapod.formats.plan_json import read_plan; from hexapod.schedule.engine import schedule;"
            "from hexapod.staffing.levelling.proposal import level;"
            "p = level(schedule(read_plan(sys.stdin.buffer.read())), within_float=False, steps=150);"
            "print([(m.task, m.after) for m in p.moves])"
        )
        for plan in (random_instance(40, 3).plan(), job_shop("la03").plan()):
            said = set()
            for order in ("1", "2", "3"):
                environment = {**os.environ, "PYTHONHASHSEED": order}
                done = subprocess.run([sys.executable, "-c", script], input=write_plan(plan), env=environment,
                                      capture_output=True, check=True)  # fmt: skip
                said.add(done.stdout)
            self.assertEqual(len(said), 1)

    def test_answers_on_the_way_only_get_better_and_stopping_keeps_the_last(self) -> None:
        now = schedule(random_instance(60, 1).plan())
        told: list[int] = []
        found = level(
            now, within_float=False, steps=20_000,
            better=lambda p: told.append(p.finish_after or 0), is_stopped=lambda: len(told) >= 3,
        )  # fmt: skip
        self.assertEqual(told, sorted(set(told), reverse=True))
        assert found.finish_after is not None
        self.assertLessEqual(found.finish_after, told[-1])

    def test_the_solver_proves_the_optimum_of_a_small_shop(self) -> None:
        _, _, found = ground_and_grid(job_shop("ft06").plan())
        self.assertTrue(is_fit(found.grid))
        order, start, finish = (np.empty(len(found.grid.kind), dtype=np.int64) for _ in range(3))
        listed(found.grid, np.arange(len(found.grid.kind)), order)
        forward(found.grid, order, room_for(found.grid), start, finish, False)
        solver = Solver(found.grid, start, math.inf)
        while not solver.answer.is_over:
            solver.wait(0.05)
        self.assertEqual((solver.answer.bound, solver.answer.finish), (55, 55))
        solver.stop()


class Shops(unittest.TestCase):
    def test_orders_stay_free_of_contradiction_and_their_best_is_feasible(self) -> None:
        for name in ("ft06", "la02"):
            _, _, found = ground_and_grid(job_shop(name).plan())
            grid = found.grid
            self.assertTrue(is_shop(grid))
            order, start, finish = (np.empty(len(grid.kind), dtype=np.int64) for _ in range(3))
            listed(grid, np.arange(len(grid.kind)), order)
            forward(grid, order, room_for(grid), start, finish, False)
            shop = open_shop(grid, start, 3)
            before = int(shop.best[0])
            rearrange(grid, shop, 3000, 0)
            self.assertLess(int(shop.best[0]), before)
            best = shop.best_start
            self.assertEqual(int((best + grid.duration).max()), int(shop.best[0]))
            for k in range(len(grid.kind)):
                for a in range(grid.into[k], grid.into[k + 1]):
                    self.assertLessEqual(best[grid.source[a]] + grid.duration[grid.source[a]], best[k])
            for r in range(grid.capacity.shape[0]):
                mine = sorted(k for k in range(len(grid.kind)) if shop.machine[k] == r)
                spans = sorted((int(best[k]), int(best[k] + grid.duration[k])) for k in mine)
                self.assertTrue(all(a[1] <= b[0] for a, b in itertools.pairwise(spans)))

    def test_what_can_run_side_by_side_is_no_shop(self) -> None:
        _, _, found = ground_and_grid(random_instance(10, 1).plan())
        self.assertFalse(is_shop(found.grid))


class WhatStays(unittest.TestCase):
    def plan(self, **fields: object) -> Plan:
        a, b, c = tasks(("a", 2 * DAY), ("b", 2 * DAY), ("c", 2 * DAY))
        people = [Resource("r", "R", "a0"), *(Assignment(t, "r") for t in "abc")]
        return Plan.of([project(), a, replace(b, **fields), c, *people])

    def test_what_is_begun_or_done_is_not_moved(self) -> None:
        for percent in (30.0, 100.0):
            found = level(schedule(told(self.plan(percent=percent))), within_float=False)
            self.assertNotIn("b", {m.task for m in found.moves})
            self.assertFalse(found.overloads_after)

    def test_only_what_is_in_the_scope_moves_against_what_the_others_hold(self) -> None:
        plan = self.plan()
        other = replace(plan.tasks["b"], project="q")
        kept = [r for kind in KINDS for r in getattr(plan, kind).values() if r is not plan.tasks["b"]]
        plan = Plan.of([*kept, other, project("q")])
        found = level(schedule(plan), within_float=False, scope=Scope(projects={"q"}))
        self.assertEqual({m.task for m in found.moves}, {"b"})
        self.assertEqual(level(schedule(plan), within_float=False, scope=Scope(resources=())).moves, ())
        later = Scope(begin=MONDAY + 30 * 1440)
        self.assertEqual(level(schedule(plan), within_float=False, scope=later).moves, ())

    def test_where_something_is_left_over_no_bound_is_above_the_finish(self) -> None:
        at = MONDAY + 1440
        fixed = self.plan(limits=(Limit(LimitKind.MUST_START, at),))
        fixed = Plan.of([
            replace(r, limits=(Limit(LimitKind.MUST_START, at),)) if isinstance(r, Task) else r
            for kind in KINDS for r in getattr(fixed, kind).values()
        ])  # fmt: skip
        found = level(schedule(fixed), within_float=False, steps=20)
        self.assertEqual((len(found.overloads_after), found.moves), (1, ()))
        assert found.lower_bound is not None and found.finish_after is not None
        self.assertLessEqual(found.lower_bound, found.finish_after)

    def test_a_bound_names_the_most_there_ever_is(self) -> None:
        plan = self.plan()
        later = replace(plan.resources["r"], capacity=0.0, capacity_from=((MONDAY // 1440 + 7, 2.0),))
        plan = Plan.of([*(r for kind in KINDS for r in getattr(plan, kind).values() if r.key != "r"), later])
        found = level(schedule(plan), within_float=False)
        self.assertFalse(found.overloads_after)
        assert found.bound is not None and found.finish_after is not None
        self.assertIn("2 × R", argument(plan, found.bound, str))
        self.assertLessEqual(found.bound.at, found.finish_after)

    def test_capacity_that_changes_is_kept(self) -> None:
        rng = random.Random(72)
        for _ in range(15):
            plan = by_hours(rng, random_plan(rng, 12, resources=3, lags=0))
            found = level(schedule(plan), within_float=False)
            dates = {t: found.schedule.dates(t)[:2] for t in plan.tasks}
            most = {r.id: max([r.capacity, *(c for _, c in r.capacity_from)]) for r in plan.resources.values()}
            too_much = {a.resource for a in plan.assignments.values() if a.units > most[a.resource]}
            for resource, minutes in overloaded_minutes(plan, dates, WINDOW).items():
                if resource not in too_much:
                    self.assertFalse(minutes)


def done_after(days: int) -> Plan:
    (only,) = tasks(("only", days * DAY))
    return Plan.of([replace(project(), start=0), only])


if __name__ == "__main__":
    unittest.main()
