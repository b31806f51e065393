"""Both passes carried out: over a whole network, or over the part of it that an edit touched and what that moves.

A node is placed again where its own row, an arc into it, or a date that it waits for is another; it is bound again
where an arc out of it, its own dates, or what comes after it asks something else. All else is as it was.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hexapod.plan.records import Direction
from hexapod.schedule.arrays import TaskArrays
from hexapod.schedule.backward import backward_pass
from hexapod.schedule.codes import FOREVER, NEVER, NOT_BEGUN
from hexapod.schedule.forward import forward_pass
from hexapod.schedule.network import Network, Patch
from hexapod.schedule.order import carried
from hexapod.schedule.passes import Arcs, Backward, Before, Crews, Flags, Forward, project_finishes
from hexapod.schedule.schedule import Schedule
from hexapod.worktime.calendars import Ints

_NONE = np.zeros(0, dtype=np.int64)
NOTHING_BEFORE = Before(_NONE, _NONE, _NONE, _NONE)


@dataclass(frozen=True)
class Passed:
    """Both passes of a network. ``finishes`` bound them, by project: the computed or the required finish; ``starts``
    are what the required ones demand."""

    network: Network
    early: Forward
    late: Backward
    finishes: Ints
    starts: dict[str, int]


def crews_of(network: Network) -> Crews:
    return Crews(network.timing.crew_into, network.timing.crew_calendars)


def passed_whole(network: Network, before: Before) -> Passed:
    """Forward and back; where a project is scheduled back from its finish, forward again from the start it demands."""
    backward = backward_projects(network)
    first = _both(network, network.tasks, backward, {}, before)
    if not backward:
        return first
    starts = {}
    base = network.tasks.base.copy()
    for project in backward:
        mine = np.flatnonzero((network.tasks.project == project) & (network.structure.leaf == 1))
        if len(mine):
            starts[network.projects[project]] = int(first.late.start[mine].min())
        mine = mine[network.tasks.progress[mine] == NOT_BEGUN]
        if len(mine):
            status = network.plan.projects[network.projects[project]].status_date
            demanded = int(first.late.start[mine].min())
            base[mine] = demanded if status is None else max(demanded, status)
    return _both(network, network.tasks._replace(base=base), backward, starts, before)


def _both(
    network: Network, tasks: TaskArrays, backward: dict[int, int], starts: dict[str, int], before: Before
) -> Passed:
    arcs, early = network.arcs, forward_whole(network, tasks, before)
    finishes = project_finishes(tasks, arcs.leaf, early.finish, len(network.projects))
    for project, finish in backward.items():
        finishes[project] = finish
    return Passed(network, early, backward_over_all(network, tasks, arcs, early, finishes), finishes, starts)


def forward_whole(network: Network, tasks: TaskArrays, before: Before = NOTHING_BEFORE) -> Forward:
    """The whole forward pass."""
    early = _forward_from_nothing(network.arcs, tasks, before)
    forward_pass(network.timing.pool, network.arcs, tasks, crews_of(network), before, early, _flags(network), True)
    return early


def backward_over_all(network: Network, tasks: TaskArrays, arcs: Arcs, early: Forward, finishes: Ints) -> Backward:
    """The whole backward pass."""
    n = len(tasks.duration)
    late = Backward(
        np.full(n, NEVER, dtype=np.int64),
        np.full(n, NEVER, dtype=np.int64),
        np.zeros(n, dtype=np.int64),
        np.zeros(n, dtype=np.int64),
        np.full((2 * n, 4), FOREVER, dtype=np.int64),
    )
    flags = _flags(network)
    backward_pass(network.timing.pool, arcs, tasks, crews_of(network), early, finishes, late, flags, True)
    return late


def _forward_from_nothing(arcs: Arcs, tasks: TaskArrays, before: Before) -> Forward:
    n, count = len(tasks.duration), len(arcs.source)
    kept, start_from = _what_an_edit_leaves(arcs, tasks, before)
    return Forward(
        np.full(2 * n, NEVER, dtype=np.int64),
        np.full(2 * n, NEVER, dtype=np.int64),
        np.full(n, NEVER, dtype=np.int64),
        np.zeros(n, dtype=np.int64),
        np.zeros(count, dtype=np.int64),
        np.zeros(n, dtype=np.int64),
        kept,
        start_from,
        arcs.lag.copy(),
    )


def _what_an_edit_leaves(arcs: Arcs, tasks: TaskArrays, before: Before) -> tuple[Ints, Ints]:
    """Kept gaps and limits on the start, to be written into where there was something before."""
    if not len(before.start):
        return arcs.kept, tasks.start_from
    return arcs.kept.copy(), tasks.start_from.copy()


def passed_again(known: Schedule, patch: Patch, before: Before) -> Passed | None:
    """The passes of a network that was patched from that of a schedule; None where all must be placed anew."""
    network, old = patch.network, known.passed
    if patch.is_whole or not _may_go_on(known.network, network) or len(patch.tasks) * 8 > network.size:
        return None
    arcs, tasks, pool = network.arcs, network.tasks, network.timing.pool
    early = _forward_from(old.early, arcs, tasks, patch, before)
    touched = _touched_forward(patch)
    moved = forward_pass(pool, arcs, tasks, crews_of(network), before, early, touched, False)
    finishes = project_finishes(tasks, arcs.leaf, early.finish, len(network.projects))
    if (finishes != old.finishes).any():
        late = backward_over_all(network, tasks, arcs, early, finishes)
    else:
        late = Backward(*(column.copy() for column in old.late))
        bound = _touched_backward(patch, moved, early, _lags_before(old.early, patch))
        backward_pass(pool, arcs, tasks, crews_of(network), early, finishes, late, bound, False)
    passed = Passed(network, early, late, finishes, {})
    return None if any(ran_out(passed)) else passed


def _may_go_on(old: Network, new: Network) -> bool:
    """What is to be as late as possible, and projects back from their finish, need the dates of all others first."""
    is_same = old.timing.window == new.timing.window and old.size == new.size and old.projects == new.projects
    return is_same and not new.tasks.late.any() and not old.tasks.late.any() and not backward_projects(new)


def _forward_from(old: Forward, arcs: Arcs, tasks: TaskArrays, patch: Patch, before: Before) -> Forward:
    kept, start_from = _what_an_edit_leaves(arcs, tasks, before)
    driving = old.driving.copy() if patch.arc_was is None else carried(old.driving, patch.arc_was)
    lag = arcs.lag.copy()
    by_percent = np.flatnonzero(arcs.percent)
    lag[by_percent] = _lags_before(old, patch)[by_percent]
    return Forward(
        old.start.copy(), old.finish.copy(), old.free_start.copy(), old.work.copy(), driving, old.cause.copy(), kept,
        start_from, lag,
    )  # fmt: skip


def _lags_before(old: Forward, patch: Patch) -> Ints:
    """By arc of the patched network the lag that it had."""
    return old.lag if patch.arc_was is None else carried(old.lag, patch.arc_was)


def _touched_forward(patch: Patch) -> Flags:
    """Tasks whose row is another, what follows them (lags may be counted by them), and where the touched links lead."""
    network, found = patch.network, _flags(patch.network)
    shape = network.structure
    found[patch.tasks] = 1
    for node in _nodes(network, patch.tasks):
        found[shape.head[shape.out[shape.out_into[node] : shape.out_into[node + 1]]]] = 1
    found[_arcs_of_links(patch, shape.head)] = 1
    found[network.links.successor[patch.links]] = 1
    return found


def _touched_backward(patch: Patch, moved: Flags, early: Forward, lags_before: Ints) -> Flags:
    network, found = patch.network, moved.copy()
    shape, n = network.structure, network.size
    found[patch.tasks] = 1
    for node in _nodes(network, patch.tasks):
        found[shape.source[shape.into[node] : shape.into[node + 1]]] = 1
    for node in (np.flatnonzero(moved[n:]) + n).tolist():  # which leaf of a summary starts first may be another
        found[shape.source[shape.into[node] : shape.into[node + 1]]] = 1
    found[_arcs_of_links(patch, shape.source)] = 1
    for ends in (network.links.predecessor[patch.links], network.links.successor[patch.links]):
        found[ends], found[ends + n] = 1, 1
    found[shape.source[early.lag != lags_before]] = 1
    return found


def _arcs_of_links(patch: Patch, ends: Ints) -> Ints:
    """One end of the arcs of touched links; of a link with a summary there may be several."""
    if not len(patch.links):
        return patch.links
    links, leaf = patch.network.links, patch.network.structure.leaf
    both = np.concatenate((links.predecessor[patch.links], links.successor[patch.links]))
    if leaf[both].all():
        return patch.links[:0]
    return ends[np.isin(patch.network.structure.link, patch.links)]


def _nodes(network: Network, slots: Ints) -> list[int]:
    return [*slots.tolist(), *(slots + network.size).tolist()]


def _flags(network: Network) -> Flags:
    return np.zeros(2 * network.size, dtype=np.uint8)


def backward_projects(network: Network) -> dict[int, int]:
    """The required finish of each project that is scheduled back from it, by its index."""
    projects = (network.plan.projects[p] for p in network.projects)
    return {i: p.finish for i, p in enumerate(projects) if p.direction is Direction.BACKWARD and p.finish is not None}


def placed(network: Network, early: Forward, late: Backward) -> tuple[Ints, Ints]:
    """Where each task is put: at its early dates, or at its late ones in a project scheduled back from its finish."""
    n = network.size
    start, finish = early.start[:n].copy(), early.finish[:n].copy()
    for project in backward_projects(network):
        mine = (network.tasks.project == project) & (network.structure.leaf == 1)
        if network.plan.projects[network.projects[project]].status_date is not None:
            mine &= late.start >= start  # what should have begun before the status date begins as soon as it can
        start[mine], finish[mine] = late.start[mine], late.finish[mine]
    return start, finish


def ran_out(passed: Passed) -> tuple[bool, bool]:
    """Whether the window of the calendars is too short at its beginning, or at its end."""
    leaves = np.flatnonzero(passed.network.structure.leaf)
    if not len(leaves):
        return False, False
    window, early, late = passed.network.timing.window, passed.early, passed.late
    ran_late = bool(early.finish[leaves].max() >= window.end)
    ran_early = bool(min(early.start[leaves].min(), late.start[leaves].min()) <= window.begin)
    return ran_early and not ran_late, ran_late
