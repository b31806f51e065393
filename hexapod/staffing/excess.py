"""How much work is beyond what there is of resources, period by period."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from hexapod.schedule.schedule import Schedule
from hexapod.staffing.demand import Demand
from hexapod.staffing.overload import Overloads
from hexapod.staffing.overloads import Asked, sweep
from hexapod.system.compiler import njit
from hexapod.worktime.calendars import CalendarPool, Ints


def excess_by_period(schedule: Schedule, demand: Demand, found: Overloads, chosen: Sequence[int], edges: Ints) -> Ints:
    """Millionths of minutes beyond what there is of some resources, a row each, in each period between the edges.

    ``found`` are all overloads. The excess of one that lies in a single period is known; only those that reach over an
    edge are gone through again, and with them the tasks at work in them.
    """
    periods = len(edges) - 1
    excess = np.zeros((len(chosen), periods), dtype=np.int64)
    row_of = np.full(len(demand.resources), -1, dtype=np.int64)
    row_of[list(chosen)] = np.arange(len(chosen))
    who, begin, end, _, beyond = found.columns
    row = row_of[who]
    first, last = np.searchsorted(edges, begin, side="right") - 1, np.searchsorted(edges, end, side="left") - 1
    is_shown = (row >= 0) & (last >= 0) & (first < periods)
    within = is_shown & (first == last)
    np.add.at(excess, (row[within], first[within]), beyond[within])
    across = np.flatnonzero(is_shown & (first < last))
    if len(across):
        asked = Asked.of(schedule, demand, chosen, found.tasks_in(across))
        _add_across(schedule.network.timing.pool, asked, row[across], begin[across], end[across], edges, excess)
    return excess


@njit(cache=True, nogil=True)
def _add_across(pool: CalendarPool, asked: Asked, row: Ints, begin: Ints, end: Ints, edges: Ints, excess: Ints) -> None:
    """Add to each period what of some overloads lies in it. The capacity is the same all through one of them."""
    found, none = np.empty((5, 64), dtype=np.int64), int(np.int64(0))
    active = np.empty(len(asked.start), dtype=np.int64)
    for i in range(len(row)):
        r = row[i]
        step = asked.steps_from[r]
        while step + 1 < asked.steps_to[r] and asked.times[step + 1] <= begin[i]:
            step += 1
        from_here, until = max(begin[i], edges[0]), min(end[i], edges[-1])
        found, _ = sweep(pool, asked, r, from_here, until, asked.levels[step], active, found, none, edges, excess[r])
