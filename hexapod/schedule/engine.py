"""``schedule(plan)``: the dates of a plan, from scratch or from what an edit changed."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hexapod.errors import CannotSchedule
from hexapod.plan.changes import Changes
from hexapod.plan.plan import Plan
from hexapod.plan.records import Direction, Gap
from hexapod.schedule.arrays import GAPS, TaskArrays
from hexapod.schedule.before import NOTHING_BEFORE, where_they_were
from hexapod.schedule.codes import NEVER
from hexapod.schedule.network import Network
from hexapod.schedule.passes import (
    Arcs,
    Backward,
    Before,
    Crews,
    Forward,
    backward_pass,
    forward_pass,
    gather_summaries,
    longest_path,
    project_finishes,
    working_minutes_between,
)
from hexapod.schedule.schedule import Schedule
from hexapod.worktime.calendars import Ints


def schedule(plan: Plan) -> Schedule:
    """The dates of a plan. ``EditRefused`` for a loop, ``CannotSchedule`` where time runs out."""
    return schedule_network(Network.of(plan))


def reschedule(before: Schedule, plan: Plan, changes: Changes, *, keeping_gaps: bool = False) -> Schedule:
    """The dates of a plan that differs by ``changes`` from the one that ``before`` was computed of.

    ``keeping_gaps``: the changes are an edit, and links that keep the gap before their successor move it by as much as
    their predecessor moves. What that makes of the links is not in the plan yet: ``gaps.kept_by`` puts it there.
    """
    network = before.network.patched(plan, changes)
    earlier = where_they_were(before, network, changes) if keeping_gaps else NOTHING_BEFORE
    return schedule_network(network, earlier)


def arcs_of(network: Network) -> Arcs:
    shape, links = network.structure, network.links
    keeps = (links.gap == GAPS[Gap.KEEP]) & (shape.leaf[links.successor] == 1)  # no gap before a summary is kept
    return Arcs(
        shape.into,
        shape.source,
        shape.kind,
        _by_arc(shape.link, links.lag),
        network.lag_calendars(shape.link),
        _by_arc(shape.link, links.percent),
        shape.order,
        shape.leaf,
        _by_arc(shape.link, keeps),
        _by_arc(shape.link, links.kept * keeps),
    )


def _by_arc(link: Ints, column: Ints) -> Ints:
    """A column of the links by arc; 0 for ties."""
    return np.where(link >= 0, column[link], 0) if len(column) else np.zeros_like(link)


def crews_of(network: Network) -> Crews:
    return Crews(network.timing.crew_into, network.timing.crew_calendars)


@dataclass(frozen=True)
class _Passed:
    """Both passes of a network. ``finishes`` bound them, by project: the computed or the required finish."""

    network: Network
    arcs: Arcs
    early: Forward
    late: Backward
    finishes: Ints
    starts: dict[str, int]  # of backward projects: what their finish demands


def schedule_network(network: Network, before: Before = NOTHING_BEFORE) -> Schedule:
    """Both passes, over a window that is widened until all work fits in."""
    while True:
        passed = _passed(network, before)
        ran_early, ran_late = _ran_out(passed)
        if not ran_early and not ran_late:
            return _gathered(passed)
        wider = network.widened(ran_early, ran_late)
        if wider is None:
            raise _beyond_horizon(network, passed.arcs, passed.early, ran_late)
        network = wider


def _passed(network: Network, before: Before) -> _Passed:
    """Forward and back; where a project is scheduled back from its finish, forward again from the start it demands."""
    arcs, backward = arcs_of(network), _backward_projects(network)
    first = _both(network, arcs, network.tasks, backward, {}, before)
    if not backward:
        return first
    starts = {}
    base = network.tasks.base.copy()
    for project in backward:
        mine = np.flatnonzero((network.tasks.project == project) & (arcs.leaf == 1))
        if len(mine):
            demanded = int(first.late.start[mine].min())
            base[mine] = demanded
            starts[network.projects[project]] = demanded
    return _both(network, arcs, network.tasks._replace(base=base), backward, starts, before)


def _both(
    network: Network,
    arcs: Arcs,
    tasks: TaskArrays,
    backward: dict[int, int],
    starts: dict[str, int],
    before: Before,
) -> _Passed:
    pool, crews = network.timing.pool, crews_of(network)
    early = forward_pass(pool, arcs, tasks, crews, before)
    finishes = project_finishes(tasks, arcs.leaf, early.finish, len(network.projects))
    for project, finish in backward.items():
        finishes[project] = finish
    late = backward_pass(pool, arcs, tasks, crews, early, finishes)
    return _Passed(network, arcs, early, late, finishes, starts)


def _backward_projects(network: Network) -> dict[int, int]:
    """The required finish of each project that is scheduled back from it, by its index."""
    projects = (network.plan.projects[p] for p in network.projects)
    return {i: p.finish for i, p in enumerate(projects) if p.direction is Direction.BACKWARD and p.finish is not None}


def _ran_out(passed: _Passed) -> tuple[bool, bool]:
    leaves = np.flatnonzero(passed.arcs.leaf)
    if not len(leaves):
        return False, False
    window, early, late = passed.network.timing.window, passed.early, passed.late
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
    name = network.plan.tasks[network.slots.tasks[int(slot)]].name
    return CannotSchedule(f"“{name}” {where}: its length, a lag or its calendar must be wrong.")


def _gathered(passed: _Passed) -> Schedule:
    network, arcs, early, late = passed.network, passed.arcs, passed.early, passed.late
    tasks, plan, n = network.tasks, network.plan, network.size
    critical = arcs.leaf * (1 - tasks.span) * (late.total_float <= _by_project(network, "critical_float"))
    longest = longest_path(arcs, tasks, early, passed.finishes)
    start, finish = _placed(network, arcs, early, late)
    gather_summaries(network.structure.bottom_up, tasks, arcs.leaf, early, late, critical, longest, start, finish)
    duration = tasks.duration.copy()
    stretched = np.flatnonzero((tasks.alive == 1) & ((arcs.leaf == 0) | (tasks.span == 1)))
    duration[stretched] = working_minutes_between(
        network.timing.pool, tasks.calendar[stretched], start[stretched], finish[stretched]
    )
    latest = project_finishes(tasks, arcs.leaf, finish, len(network.projects))
    return Schedule(
        slots=network.slots.of_task,
        start=start,
        finish=finish,
        early_start=early.start[:n],
        early_finish=early.finish[:n],
        late_start=late.start,
        late_finish=late.finish,
        total_float=late.total_float,
        free_float=late.free_float,
        critical=critical,
        longest_path=longest,
        duration=duration,
        project_start={p: passed.starts.get(p, plan.projects[p].start) for p in network.projects},
        project_finish={p: None if f == NEVER else int(f) for p, f in zip(network.projects, latest, strict=True)},
        network=network,
        free_start=early.free_start,
        driving=early.driving,
        cause=early.cause,
        lag=arcs.lag,
        kept=early.kept,
        start_from=early.start_from,
    )


def _by_project(network: Network, name: str) -> Ints:
    """A project's field by task slot."""
    values = np.array([getattr(network.plan.projects[p], name) for p in network.projects], dtype=np.int64)
    return values[network.tasks.project] if len(values) else np.zeros(network.size, dtype=np.int64)


def _placed(network: Network, arcs: Arcs, early: Forward, late: Backward) -> tuple[Ints, Ints]:
    """Where each task is put: at its early dates, or at its late ones in a project scheduled back from its finish."""
    n = network.size
    start, finish = early.start[:n].copy(), early.finish[:n].copy()
    for project in _backward_projects(network):
        mine = np.flatnonzero((network.tasks.project == project) & (arcs.leaf == 1))
        start[mine], finish[mine] = late.start[mine], late.finish[mine]
    return start, finish
