"""``schedule(plan)``: the dates of a plan, from scratch or from what an edit changed."""

from __future__ import annotations

import numpy as np

from hexapod.errors import CannotSchedule
from hexapod.plan.changes import Changes
from hexapod.plan.plan import Plan
from hexapod.schedule.codes import NEVER
from hexapod.schedule.network import Network
from hexapod.schedule.passes import (
    Arcs,
    Backward,
    Forward,
    backward_pass,
    forward_pass,
    gather_summaries,
    longest_path,
    project_finishes,
    working_spans,
)
from hexapod.schedule.schedule import Schedule
from hexapod.worktime.calendars import Ints


def schedule(plan: Plan) -> Schedule:
    """The dates of a plan. ``EditRefused`` for a loop, ``CannotSchedule`` where time runs out."""
    return schedule_network(Network.of(plan))


def reschedule(before: Schedule, plan: Plan, changes: Changes) -> Schedule:
    """The dates of a plan that differs by ``changes`` from the one that ``before`` was computed of."""
    if before.network is None:
        return schedule(plan)
    return schedule_network(before.network.patched(plan, changes))


def arcs_of(network: Network) -> Arcs:
    shape = network.structure
    return Arcs(shape.into, shape.source, shape.kind, shape.lag, shape.order, shape.leaf)


def schedule_network(network: Network) -> Schedule:
    """Both passes, over a window that is widened until all work fits in."""
    while True:
        arcs = arcs_of(network)
        pool, tasks = network.timing.pool, network.tasks
        early = forward_pass(pool, arcs, tasks)
        finishes = project_finishes(tasks, arcs.leaf, early.finish, len(network.projects))
        late = backward_pass(pool, arcs, tasks, early, finishes)
        ran_early, ran_late = _ran_out(network, arcs, early, late)
        if not ran_early and not ran_late:
            return _gathered(network, arcs, early, late, finishes)
        wider = network.widened(ran_early, ran_late)
        if wider is None:
            raise _beyond_horizon(network, arcs, early, ran_late)
        network = wider


def _ran_out(network: Network, arcs: Arcs, early: Forward, late: Backward) -> tuple[bool, bool]:
    leaves = np.flatnonzero(arcs.leaf)
    if not len(leaves):
        return False, False
    window = network.timing.window
    ran_late = bool(early.finish[leaves].max() >= window.end)
    ran_early = bool(min(early.start[leaves].min(), late.start[leaves].min()) <= window.begin)
    return ran_early and not ran_late, ran_late


def _beyond_horizon(network: Network, arcs: Arcs, early: Forward, ran_late: bool) -> CannotSchedule:
    leaves = np.flatnonzero(arcs.leaf)
    if ran_late:
        late_ones = leaves[early.finish[leaves] >= network.timing.window.end]
        slot = late_ones[np.argmin(early.start[late_ones])]
        where = "would end after the year 2250"
    else:
        slot = leaves[np.argmin(early.start[leaves])]
        where = "would have to start before the year 1800"
    name = network.plan.tasks[network.interning.ids[int(slot)]].name
    return CannotSchedule(f"“{name}” {where}: its length, a lag or its calendar must be wrong.")


def _gathered(network: Network, arcs: Arcs, early: Forward, late: Backward, finishes: Ints) -> Schedule:
    tasks, plan, n = network.tasks, network.plan, network.size
    thresholds = np.array([plan.projects[p].critical_float for p in network.projects], dtype=np.int64)
    critical = np.zeros(n, dtype=np.int64)
    if len(thresholds):
        critical = arcs.leaf * (late.total_float <= thresholds[tasks.project])
    longest = longest_path(arcs, tasks, early, finishes)
    gather_summaries(network.structure.bottom_up, tasks, arcs.leaf, early, late, critical, longest)
    duration = tasks.duration.copy()
    summaries = np.flatnonzero((tasks.alive == 1) & (arcs.leaf == 0))
    duration[summaries] = working_spans(network.timing.pool, tasks.calendar, summaries, early.start, early.finish)
    return Schedule(
        slots=network.interning.slots,
        early_start=early.start[:n],
        early_finish=early.finish[:n],
        late_start=late.start,
        late_finish=late.finish,
        total_float=late.total_float,
        free_float=late.free_float,
        critical=critical,
        longest_path=longest,
        duration=duration,
        project_finish={p: None if f == NEVER else int(f) for p, f in zip(network.projects, finishes, strict=True)},
        network=network,
        free_start=early.free_start,
        driving=early.driving,
        cause=early.cause,
    )
