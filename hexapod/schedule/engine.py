"""``schedule(plan)``: the dates of a plan, from scratch or from what an edit changed."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from hexapod.errors import CannotSchedule
from hexapod.plan.changes import Changes
from hexapod.plan.plan import Plan
from hexapod.schedule.before import where_they_were
from hexapod.schedule.codes import NEVER
from hexapod.schedule.network import Network
from hexapod.schedule.passes import (
    Before,
    Forward,
    gather_summaries,
    longest_path,
    project_finishes,
    working_minutes_between,
)
from hexapod.schedule.passing import NOTHING_BEFORE, Passed, passed_again, passed_whole, placed, ran_out
from hexapod.schedule.schedule import Schedule
from hexapod.worktime.calendars import Ints


def schedule(plan: Plan) -> Schedule:
    """The dates of a plan. ``EditRefused`` for a loop, ``CannotSchedule`` where time runs out."""
    return schedule_network(Network.of(plan))


def reschedule(before: Schedule, plan: Plan, changes: Changes, *, keeping_gaps: bool = False) -> Schedule:
    """The dates of a plan that differs by ``changes`` from the one that ``before`` was computed of.

    Only what the changes touch, and what that moves, is placed anew, where that is possible.

    ``keeping_gaps``: the changes are an edit, and links that keep the gap before their successor move it by as much as
    their predecessor moves. What that makes of the links is not in the plan yet: ``gaps.kept_by`` puts it there.
    """
    patch = before.network.patched(plan, changes)
    if patch.changes_no_date:
        return replace(before, network=patch.network)
    earlier = where_they_were(before, patch.network, changes) if keeping_gaps else NOTHING_BEFORE
    passed = passed_again(before, patch, earlier)
    return schedule_network(patch.network, earlier) if passed is None else _gathered(passed)


def schedule_network(network: Network, before: Before = NOTHING_BEFORE) -> Schedule:
    """Both passes, over a window that is widened until all work fits in."""
    while True:
        passed = passed_whole(network, before)
        ran_early, ran_late = ran_out(passed)
        if not ran_early and not ran_late:
            return _gathered(passed)
        wider = network.widened(ran_early, ran_late)
        if wider is None:
            raise _beyond_horizon(network, passed.early, ran_late)
        network = wider


def _beyond_horizon(network: Network, early: Forward, ran_late: bool) -> CannotSchedule:
    leaves = np.flatnonzero(network.structure.leaf)
    if ran_late:
        late_ones = leaves[early.finish[leaves] >= network.timing.window.end]
        slot = late_ones[np.argmin(early.start[late_ones])]
        where = "would end after the year 2250"
    else:
        slot = leaves[np.argmin(early.start[leaves])]
        where = "would have to start before the year 1800"
    name = network.plan.tasks[network.slots.tasks[int(slot)]].name
    return CannotSchedule(f"“{name}” {where}: its length, a lag or its calendar must be wrong.")


def _gathered(passed: Passed) -> Schedule:
    """The passes as a schedule: with the spans of summaries, what is critical, and the longest path."""
    network, arcs, early, late = passed.network, passed.network.arcs, passed.early, passed.late
    tasks, plan, n = network.tasks, network.plan, network.size
    critical = arcs.leaf * (1 - tasks.span) * (late.total_float <= _by_project(network, "critical_float"))
    longest = longest_path(arcs, tasks, early, passed.finishes)
    early_start, early_finish = early.start[:n].copy(), early.finish[:n].copy()
    late_start, late_finish = late.start.copy(), late.finish.copy()
    total, free = late.total_float.copy(), late.free_float.copy()
    start, finish = placed(network, early, late)
    gather_summaries(
        network.structure.bottom_up, tasks, arcs.leaf, early_start, early_finish, late_start, late_finish, total, free,
        critical, longest, start, finish,
    )  # fmt: skip
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
        early_start=early_start,
        early_finish=early_finish,
        late_start=late_start,
        late_finish=late_finish,
        total_float=total,
        free_float=free,
        critical=critical,
        longest_path=longest,
        duration=duration,
        project_start={p: passed.starts.get(p, plan.projects[p].start) for p in network.projects},
        project_finish={p: None if f == NEVER else int(f) for p, f in zip(network.projects, latest, strict=True)},
        network=network,
        passed=passed,
    )


def _by_project(network: Network, name: str) -> Ints:
    """A project's field by task slot."""
    values = np.array([getattr(network.plan.projects[p], name) for p in network.projects], dtype=np.int64)
    return values[network.tasks.project] if len(values) else np.zeros(network.size, dtype=np.int64)
