"""Load and capacity of a resource by period, exactly the integral of rate over working time."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import njit

from hexapod.plan.plan import Plan
from hexapod.schedule.schedule import Schedule
from hexapod.schedule.timing import resource_calendar
from hexapod.staffing.demand import MILLI, milli
from hexapod.worktime.arithmetic import worked
from hexapod.worktime.calendars import CalendarPool, Ints


@dataclass(frozen=True)
class Share:
    """What one task asks of a resource in a period, in minutes of work."""

    task: str
    minutes: float


@njit(cache=True, nogil=True)
def _add_load(pool: CalendarPool, calendar: int, start: int, finish: int, units: int, edges: Ints, total: Ints) -> None:
    """Add thousandths of minutes to each period that the task runs in."""
    first = max(int(np.searchsorted(edges, start, side="right")) - 1, 0)
    for p in range(first, len(edges) - 1):
        if edges[p] >= finish:
            break
        begin, end = max(edges[p], start), min(edges[p + 1], finish)
        if begin < end:
            total[p] += units * (worked(pool, calendar, end) - worked(pool, calendar, begin))


def load_by_period(schedule: Schedule, plan: Plan, resource: str, edges: Ints) -> Ints:
    """Thousandths of minutes in each period [edges[i], edges[i + 1])."""
    network = schedule.network
    assert network is not None
    total = np.zeros(len(edges) - 1, dtype=np.int64)
    for task_id in plan.used_by.get(resource, ()):
        slot = schedule.slots[task_id]
        if network.structure.leaf[slot]:
            _add_load(
                network.timing.pool,
                network.tasks.calendar[slot],
                schedule.early_start[slot],
                schedule.early_finish[slot],
                milli(plan.assignments[(task_id, resource)].units),
                edges,
                total,
            )
    return total


def capacity_by_period(schedule: Schedule, plan: Plan, resource: str, edges: Ints) -> Ints:
    """Thousandths of minutes that a resource can give in each period."""
    network = schedule.network
    assert network is not None
    record = plan.resources[resource]
    calendar = network.timing.index[(resource_calendar(record),)]
    done = np.array([worked(network.timing.pool, calendar, edge) for edge in edges])
    return np.diff(done) * milli(record.capacity)


def shares_in(schedule: Schedule, plan: Plan, resource: str, begin: int, end: int) -> list[Share]:
    """The tasks behind a resource's load in a period, the largest share first."""
    network = schedule.network
    assert network is not None
    edges = np.array([begin, end])
    found = []
    for task_id in plan.used_by.get(resource, ()):
        slot = schedule.slots[task_id]
        total = np.zeros(1, dtype=np.int64)
        if network.structure.leaf[slot]:
            units = milli(plan.assignments[(task_id, resource)].units)
            start, finish = schedule.early_start[slot], schedule.early_finish[slot]
            _add_load(network.timing.pool, network.tasks.calendar[slot], start, finish, units, edges, total)
        if total[0]:
            found.append(Share(task_id, int(total[0]) / MILLI))
    return sorted(found, key=lambda share: (-share.minutes, share.task))
