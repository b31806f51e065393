"""Load and capacity by period, exactly the integral of rate over working time."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass, fields

import numpy as np

from hexapod.plan.plan import Plan
from hexapod.schedule.schedule import Schedule
from hexapod.schedule.timing import resource_calendar
from hexapod.staffing.capacity import PARTS, Capacity
from hexapod.staffing.demand import Demand, Runs
from hexapod.system.compiler import njit
from hexapod.worktime.arithmetic import worked, worked_at
from hexapod.worktime.calendars import CalendarPool, Ints


@dataclass(frozen=True)
class Share:
    """What one task asks of a resource in a period, in minutes of work."""

    task: str
    minutes: float


@njit(cache=True, nogil=True)
def add_load(pool: CalendarPool, calendar: int, start: int, finish: int, units: int, edges: Ints, total: Ints) -> None:
    """Add millionths of minutes to each period that the task runs in."""
    first = max(int(np.searchsorted(edges, start, side="right")) - 1, 0)
    done = worked(pool, calendar, max(edges[first], start))
    for p in range(first, len(edges) - 1):
        if edges[p] >= finish:
            break
        then = worked(pool, calendar, min(edges[p + 1], finish))
        total[p] += units * max(0, then - done)
        done = max(done, then)


def load_by_period(schedule: Schedule, plan: Plan, resource: str, edges: Ints) -> Ints:
    """Millionths of minutes in each period [edges[i], edges[i + 1])."""
    found: Ints = loads_by_period(schedule, plan, (resource,), edges)[0]
    return found


def loads_by_period(
    schedule: Schedule, plan: Plan, resources: Sequence[str], edges: Ints, known: Demand | None = None
) -> Ints:
    """The same of several resources, a row each. ``known`` is the demand of a plan, to be used if it is of this one."""
    demand = Demand.of_resources(schedule, plan, resources, known)
    index = {r: i for i, r in enumerate(resources)}
    row = np.array([index.get(r, -1) for r in demand.resources], dtype=np.int64)
    total, _ = load_by_row(schedule, demand, edges, np.repeat(row, np.diff(demand.first)), len(resources))
    return total


def capacity_by_period(schedule: Schedule, plan: Plan, resource: str, edges: Ints) -> Ints:
    """Millionths of minutes that a resource can give in each period."""
    found: Ints = capacities_by_period(schedule, plan, (resource,), edges)[0]
    return found


def capacities_by_period(schedule: Schedule, plan: Plan, resources: Sequence[str], edges: Ints) -> Ints:
    """The same of several resources, a row each."""
    network = schedule.network
    capacity = Capacity.of(plan, tuple(resources))
    fine = np.unique(np.concatenate((edges, capacity.steps_within(int(edges[0]), int(edges[-1])))))
    calendars = [network.timing.index[(resource_calendar(plan.resources[r]),)] for r in resources]
    time = {c: np.diff(worked_at(network.timing.pool, c, fine)) for c in set(calendars)}
    first = np.searchsorted(fine, edges[:-1])
    found = np.zeros((len(resources), len(edges) - 1), dtype=np.int64)
    for row, calendar in enumerate(calendars):
        found[row] = np.add.reduceat(time[calendar] * capacity.at(row, fine[:-1]), first)
    return found


def shares_in(schedule: Schedule, plan: Plan, resource: str, begin: int, end: int) -> list[Share]:
    """The tasks behind a resource's load in a period, the largest share first."""
    return shares_of(schedule, plan, (resource,), begin, end)


def shares_of(
    schedule: Schedule, plan: Plan, resources: Collection[str], begin: int, end: int, known: Demand | None = None
) -> list[Share]:
    """The same of several resources together; ``known`` as for ``loads_by_period``."""
    demand = Demand.of_resources(schedule, plan, resources, known)
    is_asked = np.array([r in resources for r in demand.resources], dtype=bool)
    keep = np.repeat(is_asked, np.diff(demand.first)) & (demand.own == 1)
    entries = np.flatnonzero(keep & (schedule.network.structure.leaf[demand.task] == 1))
    runs = demand.runs(schedule, entries)
    runs = runs.kept((runs.start < end) & (runs.finish > begin))
    slots, row = np.unique(demand.task[entries][runs.row], return_inverse=True)
    total, counts = (np.zeros((len(slots), 1), dtype=np.int64) for _ in range(2))
    add_all(
        schedule.network.timing.pool, runs.calendar, runs.start, runs.finish, runs.units, runs.row, row,
        np.array([begin, end]), total, counts,
    )  # fmt: skip
    ids = schedule.network.slots.tasks
    shares = [
        Share(ids[slot], minutes / PARTS)
        for slot, minutes in zip(slots.tolist(), total[:, 0].tolist(), strict=True)
        if minutes
    ]
    return sorted(shares, key=lambda share: (-share.minutes, share.task))


def load_by_row(schedule: Schedule, demand: Demand, edges: Ints, rows: Ints, count: int) -> tuple[Ints, Ints]:
    """Millionths of minutes, and how many tasks, by row and period. ``rows`` says of each entry of the demand to which
    of ``count`` rows it is added; -1 is to none."""
    network = schedule.network
    keep = (network.structure.leaf[demand.task] == 1) & (demand.own == 1) & (rows >= 0)
    runs = demand.runs(schedule, np.flatnonzero(keep))
    row = rows[keep][runs.row]
    total, counts = (np.zeros((count, len(edges) - 1), dtype=np.int64) for _ in range(2))
    add_all(
        network.timing.pool, runs.calendar, runs.start, runs.finish, runs.units, runs.row, row, edges, total, counts
    )
    return total, counts


def cells_of(schedule: Schedule, demand: Demand, task_id: str, edges: Ints) -> dict[str, frozenset[int]]:
    """By resource the periods in which it works on a task."""
    entries = np.flatnonzero((demand.task == schedule.slots[task_id]) & (demand.own == 1))
    runs = demand.runs(schedule, entries)
    found: dict[str, frozenset[int]] = {}
    for i, entry in enumerate(entries.tolist()):
        only = Runs(*(getattr(runs, f.name)[runs.row == i] for f in fields(runs)))
        worked_in = np.zeros(len(edges) - 1, dtype=np.int64)
        for c, start, finish, units in zip(only.calendar, only.start, only.finish, only.units, strict=True):
            add_load(schedule.network.timing.pool, c, start, finish, units, edges, worked_in)
        if worked_in.any():
            found[demand.resources[demand.who[entry]]] = frozenset(np.flatnonzero(worked_in).tolist())
    return found


@njit(cache=True, nogil=True)
def add_all(
    pool: CalendarPool,
    calendar: Ints,
    start: Ints,
    finish: Ints,
    units: Ints,
    entry: Ints,
    row: Ints,
    edges: Ints,
    total: Ints,
    counts: Ints,
) -> None:
    counted = np.full(total.shape, -1, dtype=np.int64)
    for i in range(len(start)):
        first = max(int(np.searchsorted(edges, start[i], side="right")) - 1, 0)
        done = worked(pool, calendar[i], max(edges[first], start[i]))
        for p in range(first, len(edges) - 1):
            if edges[p] >= finish[i]:
                break
            then = worked(pool, calendar[i], min(edges[p + 1], finish[i]))
            if then <= done:
                continue
            total[row[i], p] += units[i] * (then - done)
            done = then
            if counted[row[i], p] != entry[i]:
                counts[row[i], p] += 1
                counted[row[i], p] = entry[i]
