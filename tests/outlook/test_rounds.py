"""Rounds against the passes of the plan, and against what probability theory and other libraries say."""

from __future__ import annotations

import unittest

import numpy as np
from hypothesis import HealthCheck, Phase, assume, given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from hexapod.errors import CannotSchedule
from hexapod.outlook.simulation import as_planned, ranges_of, simulate
from hexapod.plan.estimates import Shape
from hexapod.plan.plan import Plan
from hexapod.plan.records import Direction, Link, TaskKind
from hexapod.plan.risks import Risk, RiskDelay
from hexapod.schedule.codes import NEVER, NOT_BEGUN
from hexapod.schedule.engine import schedule
from hexapod.schedule.passes import project_finishes
from hexapod.schedule.passing import backward_over_all, forward_whole
from hexapod.schedule.schedule import Schedule
from tests.budgets import IS_DEEP, deep_or
from tests.schedule.plans import crowded, plans, summaries, under_way
from tests.support import DAY, MONDAY, project, tasks

ROUNDS = 24
MANY = settings(
    max_examples=deep_or(60, 3000),
    derandomize=not IS_DEEP,
    deadline=None,
    database=None,
    phases=list(Phase) if IS_DEEP else [Phase.generate],
    suppress_health_check=list(HealthCheck),
)


def dates_of(plan: Plan) -> Schedule:
    """Their dates, of plans that have some."""
    try:
        return schedule(plan)
    except CannotSchedule:
        assume(False)
        raise


def with_ranges(plan: Plan, seed: int, width: float = 1.0) -> Plan:
    """Estimates on most rows that may have one, and two risks."""
    rng = np.random.default_rng(seed)
    draft = plan.draft()
    leaves = [t for t in plan.tasks.values() if not plan.is_summary(t.id)]
    for task in leaves:
        if task.kind is not TaskKind.MILESTONE and task.minutes and rng.random() < 0.8:
            best = max(1, int(task.minutes * (1 - 0.6 * width * rng.random())))
            worst = max(best, int(task.minutes * (1 + 2 * width * rng.random())))
            likely = min(max(task.minutes, best), worst)
            shape = list(Shape)[rng.integers(3)]
            hold = int(rng.integers(1, 900)) if width and rng.random() < 0.3 else task.hold
            draft.put(replace(task, estimate=(best, likely, worst), shape=shape, hold=hold))
    for i in range(2 if width else 0):
        hit = [leaves[k].id for k in sorted(set(rng.integers(0, len(leaves), 2).tolist()))]
        delays = tuple(RiskDelay(t, (60, 300, 1500)) for t in hit)
        draft.put(Risk(f"q{i}", leaves[0].project, f"Risk {i}", chance=0.4, delays=delays))
    return draft.finish()[0]


class AgainstThePasses(unittest.TestCase):
    @MANY
    @given(plans(), st.integers(0, 1000))
    def test_each_round_is_placed_as_the_passes_place_its_lengths(self, plan: Plan, seed: int) -> None:
        self.check(dates_of(with_ranges(plan, seed)), seed)

    @MANY
    @given(summaries(), st.integers(0, 1000))
    def test_the_same_around_a_summary(self, plan: Plan, seed: int) -> None:
        self.check(dates_of(with_ranges(plan, seed)), seed)

    @MANY
    @given(under_way(12), st.integers(0, 1000))
    def test_the_same_of_work_under_way(self, plan: Plan, seed: int) -> None:
        self.check(dates_of(with_ranges(plan, seed)), seed)

    @MANY
    @given(crowded(), st.integers(0, 1000))
    def test_the_same_where_all_that_is_rare_comes_together(self, plan: Plan, seed: int) -> None:
        self.check(dates_of(with_ranges(plan, seed)), seed)

    def check(self, dates: Schedule, seed: int) -> None:
        found = simulate(dates, ROUNDS, seed)
        network = found.network
        planned = as_planned(dates, network)
        slots = network.slots.of_tasks(found.varied)
        critical = np.zeros(network.size, dtype=np.int64)
        leaves = np.flatnonzero(network.structure.leaf)
        for r in range(ROUNDS):
            tasks = planned._replace(duration=planned.duration.copy(), rest=planned.rest.copy())
            length, begun = found.lengths[:, r], planned.progress[slots] != NOT_BEGUN
            tasks.duration[slots[~begun]] = length[~begun]
            done = np.maximum(0, planned.duration - planned.rest)[slots[begun]]
            tasks.rest[slots[begun]], tasks.duration[slots[begun]] = length[begun], done + length[begun]
            early = forward_whole(network, tasks)
            np.testing.assert_array_equal(found.finish[leaves, r] + found.begin, early.finish[leaves])
            ends = project_finishes(tasks, network.arcs.leaf, early.finish, len(network.projects))
            np.testing.assert_array_equal(found.projects[:, r], ends)
            late = backward_over_all(network, tasks, network.arcs, early, ends)
            critical[leaves] += (late.total_float[leaves] <= 0) & (tasks.span[leaves] == 0)
        np.testing.assert_array_equal(found.critical[leaves], critical[leaves])

    @MANY
    @given(plans(only_forward=True), st.integers(0, 1000))
    def test_rounds_without_width_give_the_dates_of_the_plan(self, plan: Plan, seed: int) -> None:
        dates = dates_of(with_ranges(plan, seed, width=0.0))
        # The plan counts a kept gap, and a lag that is a share of a length, from where what is as late as possible
        # would lie early; a round counts them from where it begins.
        arcs = dates.network.arcs
        assume(not dates.network.tasks.late.any() or not (arcs.percent.any() or arcs.kept.any()))
        self.is_the_plan(dates, seed)

    def test_the_same_of_a_plan_that_is_scheduled_back_from_its_finish(self) -> None:
        back = project(direction=Direction.BACKWARD, finish=MONDAY + 20 * 1440)
        chain = [*tasks(("a", 3 * DAY), ("b", 2 * DAY), ("c", 5 * DAY), ("d", DAY)), Link("a", "b"), Link("b", "c")]
        dates = schedule(with_ranges(Plan.of([back, *chain]), 3, width=0.0))
        self.assertGreater(dates.start[dates.slots["a"]], MONDAY)
        self.is_the_plan(dates, 3)

    def is_the_plan(self, dates: Schedule, seed: int) -> None:
        found = simulate(dates, ROUNDS, seed)
        here = [dates.slots[t] for t in dates.plan.tasks if dates.has(t)]
        for r in range(ROUNDS):
            np.testing.assert_array_equal(found.finish[here, r] + found.begin, dates.finish[here])
        for i, name in enumerate(found.network.projects):
            finish = dates.project_finish[name]
            self.assertEqual({NEVER if finish is None else finish}, set(found.projects[i].tolist()))

    @MANY
    @given(plans(), st.integers(0, 1000))
    def test_the_same_seed_gives_the_same_figures_on_any_number_of_threads(self, plan: Plan, seed: int) -> None:
        dates = dates_of(with_ranges(plan, seed))
        one, many = simulate(dates, 200, seed, threads=1), simulate(dates, 200, seed, threads=5)
        for name in ("finish", "lengths", "critical", "projects", "happened"):
            np.testing.assert_array_equal(getattr(one, name), getattr(many, name))
        if ranges_of(dates):
            fewer = simulate(dates, 100, seed)
            np.testing.assert_array_equal(one.lengths[:, :100], fewer.lengths)


if __name__ == "__main__":
    unittest.main()
