"""Rounds with capacities: against placing the plan itself, and against what must be so."""

from __future__ import annotations

import random
import unittest

import numpy as np
from msgspec.structs import replace

from hexapod.errors import HexapodError
from hexapod.outlook.levelled import simulate_levelled
from hexapod.outlook.simulation import simulate
from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, Resource
from hexapod.schedule.engine import schedule
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.demand import Demand
from hexapod.staffing.levelling.placing import Scope, movable_tasks, place_all
from hexapod.staffing.levelling.proposal import unheld, wishes_of
from tests.outlook.test_outside import network
from tests.outlook.test_rounds import with_ranges
from tests.support import MONDAY, random_plan


def without_holds(plan: Plan) -> Plan:
    """Levelling sets those of what may move anew."""
    draft = plan.draft()
    for task in plan.tasks.values():
        draft.put(replace(task, hold=0))
    return draft.finish()[0]


class Levelled(unittest.TestCase):
    def shared(self, three: dict[str, tuple[float, float, float]], before: dict[str, list[str]]) -> Schedule:
        """All of it is done by one person."""
        base = network(three, before, unit=1440)
        draft = base.draft()
        draft.put(Resource("mo", "Mo", "a", calendar="always"))
        for task in three:
            draft.put(Assignment(task, "mo"))
        return schedule(draft.finish()[0])

    def test_who_does_all_of_it_does_one_after_the_other(self) -> None:
        dates = self.shared({"A": (1, 2, 6), "B": (2, 3, 4), "C": (1, 1, 9)}, {})
        found = simulate_levelled(dates, 300, 5)
        np.testing.assert_array_equal(found.projects[0] - MONDAY, found.lengths.sum(axis=0))
        free = simulate(dates, 300, 5)
        np.testing.assert_array_equal(free.lengths, found.lengths)
        np.testing.assert_array_equal(free.projects[0] - MONDAY, found.lengths.max(axis=0))

    def test_where_nobody_is_short_it_is_as_without_capacities(self) -> None:
        for seed in range(12):
            plan = random_plan(random.Random(seed), 25, calendars=2, summaries=True)
            dates = schedule(without_holds(with_ranges(plan, seed)))
            one, other = simulate_levelled(dates, 40, seed), simulate(dates, 40, seed)
            np.testing.assert_array_equal(one.projects, other.projects)
            here = [dates.slots[t] for t in plan.tasks if dates.has(t)]
            np.testing.assert_array_equal(
                one.finish[here].astype(np.int64) + one.begin, other.finish[here].astype(np.int64) + other.begin
            )

    def test_rounds_without_width_are_the_levelled_plan(self) -> None:
        for seed in range(12):
            plan = random_plan(random.Random(seed), 25, calendars=2, summaries=True, resources=3)
            dates = schedule(plan)
            demand = Demand.of(dates, plan, None)
            free, ground = unheld(dates, demand, movable_tasks(dates, Scope()), False, Scope())
            wishes = wishes_of(free, ground)
            placed = place_all(ground, wishes[0])
            found = simulate_levelled(dates, 8, seed)
            leaves = np.flatnonzero(dates.network.structure.leaf)
            for r in range(8):
                np.testing.assert_array_equal(found.finish[leaves, r] + found.begin, placed.finish[leaves])

    def test_capacities_never_make_anything_sooner(self) -> None:
        for seed in range(8):
            dates = schedule(without_holds(with_ranges(random_plan(random.Random(seed), 20, resources=2), seed)))
            self.assertTrue((simulate_levelled(dates, 60, seed).projects >= simulate(dates, 60, seed).projects).all())

    def test_the_same_seed_gives_the_same_on_any_number_of_threads(self) -> None:
        dates = self.shared({"A": (1, 2, 6), "B": (2, 3, 4), "C": (1, 1, 9)}, {"C": ["A"]})
        one, many = simulate_levelled(dates, 150, 2, threads=1), simulate_levelled(dates, 150, 2, threads=4)
        for name in ("finish", "lengths", "projects", "happened"):
            np.testing.assert_array_equal(getattr(one, name), getattr(many, name))

    def test_too_many_are_refused_and_somebody_may_stop_it(self) -> None:
        dates = self.shared({"A": (1, 2, 6)}, {})
        with self.assertRaisesRegex(HexapodError, "must be from 1 to"):
            simulate_levelled(dates, 10**9)
        with self.assertRaisesRegex(HexapodError, "stopped"):
            simulate_levelled(dates, 1000, is_stopped=lambda: True)


if __name__ == "__main__":
    unittest.main()
