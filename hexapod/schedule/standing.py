"""How far each leaf is and whether it is late: derived from its dates, never typed.

Done is never late. Late to finish is beyond its target; late to begin should have begun before the status date; behind
is begun, and less of it is done than there was working time for.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

import numpy as np
from numpy.typing import NDArray

from hexapod.schedule.arrays import TaskArrays
from hexapod.schedule.codes import CLOSE, DONE, FF, FS, GATE, NEVER, NOT_BEGUN, WARN
from hexapod.schedule.network import Network
from hexapod.schedule.passes import Arcs, is_stretched
from hexapod.system.compiler import njit
from hexapod.worktime.arithmetic import worked
from hexapod.worktime.calendars import CalendarPool, Ints

if TYPE_CHECKING:
    from hexapod.schedule.schedule import Schedule


_IS_DONE, _IS_BEGUN, _IS_READY, _IS_WAITING = range(4)
_TO_FINISH, _TO_BEGIN, _BEHIND = range(3)


class Standing(NamedTuple):
    """By task slot: ``state`` is a place in ``STATES``, ``late`` one in ``LATES`` or -1, ``late_by`` working minutes.

    A summary is as late as the latest below it.
    """

    state: Ints
    late: Ints
    late_by: Ints


def standing_of(schedule: Schedule) -> Standing:
    """How all tasks stand; ``Schedule.standing`` keeps it."""
    network = schedule.network
    tasks, shape = network.tasks, network.structure
    state = _states(network.arcs, shape.bottom_up, tasks.parent, tasks.progress, tasks.duration)
    late, by = _lateness(
        network.timing.pool, network.arcs, shape.bottom_up, tasks, _status_dates(network), schedule.planned.start,
        schedule.finish,
    )  # fmt: skip
    on_hold = _on_hold(network)
    if on_hold.any():  # what is on hold is never late
        late, by = np.where(on_hold, -1, late), np.where(on_hold, 0, by)
    return Standing(state, late, by)


def _on_hold(network: Network) -> NDArray[np.bool_]:
    """By slot whether the project is on hold."""
    held = np.array([network.plan.projects[p].on_hold for p in network.projects], dtype=bool)
    return held[network.tasks.project] if len(held) else np.zeros(network.size, dtype=bool)


def _status_dates(network: Network) -> Ints:
    """By slot the status date of the project; NEVER where it has none."""
    dates = [network.plan.projects[p].status_date for p in network.projects]
    known = np.array([NEVER if at is None else at for at in dates], dtype=np.int64)
    return known[network.tasks.project] if len(known) else np.zeros(network.size, dtype=np.int64)


@njit(cache=True, nogil=True)
def _states(arcs: Arcs, bottom_up: Ints, parent: Ints, progress: Ints, duration: Ints) -> Ints:
    """What a task waits for is an event: the finish, or the start, of another. What holds only the finish of a task
    keeps nobody from beginning it; but a milestone is its finish."""
    leaf, n = arcs.leaf, len(parent)
    done, some = np.ones(n, dtype=np.uint8), np.zeros(n, dtype=np.uint8)
    for j in bottom_up:
        if leaf[j]:
            done[j], some[j] = progress[j] == DONE, progress[j] != NOT_BEGUN
        if parent[j] >= 0:
            done[parent[j]] &= done[j]
            some[parent[j]] |= some[j]
    waits = np.zeros(2 * n, dtype=np.uint8)
    for j in arcs.order:
        for a in range(arcs.into[j], arcs.into[j + 1]):
            kind, s = arcs.kind[a], arcs.source[a]
            if kind == GATE:
                waits[j] |= waits[s]
            elif kind == CLOSE or kind == WARN or (kind >= FF and not (j < n and leaf[j] and duration[j] == 0)):
                continue
            elif not (done if kind == FS or kind == FF else some)[s if s < n else s - n]:
                waits[j] = 1
    found = np.full(n, _IS_WAITING, dtype=np.int64)
    for j in bottom_up:
        if done[j]:
            found[j] = _IS_DONE
        elif some[j]:
            found[j] = _IS_BEGUN
        elif leaf[j] and not waits[j]:
            found[j] = _IS_READY
        if found[j] == _IS_READY and parent[j] >= 0:
            found[parent[j]] = _IS_READY
    return found


@njit(cache=True, nogil=True)
def _lateness(
    pool: CalendarPool, arcs: Arcs, bottom_up: Ints, tasks: TaskArrays, status: Ints, planned: Ints, finish: Ints
) -> tuple[Ints, Ints]:
    parent, calendar, progress, target = tasks.parent, tasks.calendar, tasks.progress, tasks.target
    late, by = np.full(len(parent), -1, dtype=np.int64), np.zeros(len(parent), dtype=np.int64)
    for j in bottom_up:
        if arcs.leaf[j] and progress[j] != DONE:
            c = calendar[j]
            if finish[j] > target[j]:
                late[j], by[j] = _TO_FINISH, worked(pool, c, finish[j]) - worked(pool, c, target[j])
            elif status[j] > NEVER and progress[j] == NOT_BEGUN:
                if planned[j] < status[j]:
                    late[j], by[j] = _TO_BEGIN, worked(pool, c, status[j]) - worked(pool, c, planned[j])
            elif status[j] > NEVER and not (tasks.span[j] and is_stretched(arcs.kind, arcs.into[j], arcs.into[j + 1])):
                gone = worked(pool, c, status[j]) - worked(pool, c, tasks.actual_start[j])
                lacking = gone - (tasks.duration[j] - tasks.rest[j])
                if lacking > 0:
                    late[j], by[j] = _BEHIND, lacking
        above = parent[j]
        if above >= 0 and late[j] >= 0 and (late[above] < 0 or by[j] > by[above]):
            late[above], by[above] = late[j], by[j]
    return late, by
