"""Where a resource is asked for more than there is of it, to the minute."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from numba import njit

from hexapod.schedule.codes import FOREVER
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.capacity import PARTS, Capacity
from hexapod.staffing.demand import Demand, Runs
from hexapod.worktime.arithmetic import begin_of, end_of, interval_at, worked
from hexapod.worktime.calendars import CalendarPool, Ints


@dataclass(frozen=True)
class Overload:
    """A run of working time in which demand exceeds capacity.

    ``peak`` is the highest demand in units, ``excess`` the work in minutes beyond what there is.
    """

    resource: str
    begin: int
    end: int
    peak: float
    excess: float
    tasks: tuple[str, ...]


def overloads(schedule: Schedule, demand: Demand, only: Collection[str] | None = None) -> list[Overload]:
    """Every overload, or those of some resources, by resource and time. Pauses in which nobody works do not part one
    into two."""
    network = schedule.network
    assert network is not None
    leaf = network.structure.leaf
    found: list[Overload] = []
    for r, resource in enumerate(demand.resources):
        if only is not None and resource not in only:
            continue
        rows = demand.of_resource(r)
        task = demand.task[rows]
        rows = rows[(leaf[task] == 1) & (schedule.duration[task] > 0)]
        if not len(rows):
            continue
        runs = demand.runs(schedule, rows)
        if runs.units.sum() <= demand.capacity.steps(r)[1].min():
            continue
        task, start, finish = demand.task[rows][runs.row], runs.start, runs.finish
        for begin, end, level, over in _beyond(schedule, demand.capacity, r, runs):
            within = np.flatnonzero((start < end) & (finish > begin))
            found.append(
                Overload(
                    resource,
                    int(begin),
                    int(end),
                    int(level) / PARTS,
                    int(over) / PARTS,
                    tuple(network.interning.ids[i] for i in _by_start(schedule, task[within])),
                )
            )
    return found


def overloads_again(now: Schedule, demand: Demand, before: Schedule, known: Sequence[Overload]) -> list[Overload]:
    """The same after a change that left the demand as it was; those of resources whose work did not move are known."""
    network, old = now.network, before.network
    assert network is not None and old is not None
    if network.timing is not old.timing or len(now.start) != len(before.start):
        return overloads(now, demand)
    size = len(now.start)
    new_tasks, old_tasks = network.tasks, old.tasks
    columns = (
        (now.start, before.start),
        (now.finish, before.finish),
        (now.duration, before.duration),
        (new_tasks.calendar, old_tasks.calendar),
        (new_tasks.crew, old_tasks.crew),
        (network.structure.leaf, old.structure.leaf),
    )
    moved = np.any([a[:size] != b[:size] for a, b in columns], axis=0)
    entries = np.flatnonzero(moved[demand.task])
    rows = np.searchsorted(demand.first, entries, side="right") - 1
    touched = {demand.resources[r] for r in np.unique(rows).tolist()}
    again = overloads(now, demand, touched)
    order = {r: i for i, r in enumerate(demand.resources)}
    kept = [o for o in known if o.resource not in touched]
    return sorted([*kept, *again], key=lambda o: (order[o.resource], o.begin))


def _by_start(schedule: Schedule, slots: Ints) -> list[int]:
    """Each of them once, the first start first."""
    return sorted(dict.fromkeys(slots.tolist()), key=lambda slot: int(schedule.start[slot]))


def _beyond(schedule: Schedule, capacity: Capacity, resource: int, runs: Runs) -> Iterator[tuple[int, int, int, int]]:
    """Begin, end, highest level and excess of each run beyond capacity, while that is the same."""
    assert schedule.network is not None
    times, levels = capacity.steps(resource)
    for begin, end, most in zip(times, np.append(times[1:], FOREVER), levels, strict=True):
        here = runs.within(int(begin), int(end))
        if here.units.sum() > most:
            found = excess_runs(
                schedule.network.timing.pool, here.calendar, here.start, here.finish, here.units, int(most)
            )
            yield from zip(*(column.tolist() for column in found), strict=True)


def peak_within(schedule: Schedule, demand: Demand, resource: str, begin: int, end: int) -> float:
    """The most units asked for at one moment of a period, where that is more than there are; else 0."""
    return max((level / PARTS for level, _ in _within(schedule, demand, resource, begin, end)), default=0.0)


def excess_in(schedule: Schedule, demand: Demand, resource: int, edges: Ints, periods: Ints) -> Ints:
    """Millionths of minutes beyond what there is of a resource, in some of the periods between the edges."""
    network = schedule.network
    assert network is not None
    rows = demand.of_resource(resource)
    runs = demand.runs(schedule, rows[network.structure.leaf[demand.task[rows]] == 1])
    times, levels = demand.capacity.steps(resource)
    found: Ints = excess_by_period(
        network.timing.pool, runs.calendar, runs.start, runs.finish, runs.units, times, levels, edges, periods
    )
    return found


@njit(cache=True, nogil=True)
def excess_by_period(
    pool: CalendarPool,
    calendar: Ints,
    start: Ints,
    finish: Ints,
    units: Ints,
    times: Ints,
    levels: Ints,
    edges: Ints,
    periods: Ints,
) -> Ints:
    found = np.zeros(len(periods), dtype=np.int64)
    for i in range(len(periods)):
        low, high = edges[periods[i]], edges[periods[i] + 1]
        for k in range(len(times)):
            begin = max(low, times[k])
            end = min(high, times[k + 1]) if k + 1 < len(times) else high
            here = np.flatnonzero(np.maximum(start, begin) < np.minimum(finish, end))
            if units[here].sum() <= levels[k]:
                continue
            first, last = np.maximum(start[here], begin), np.minimum(finish[here], end)
            found[i] += excess_runs(pool, calendar[here], first, last, units[here], levels[k])[3].sum()
    return found


def _within(schedule: Schedule, demand: Demand, resource: str, begin: int, end: int) -> Iterator[tuple[int, int]]:
    """The highest level and the excess of each run beyond capacity within a period."""
    network = schedule.network
    assert network is not None
    if resource not in demand.resources:
        return
    r = demand.resources.index(resource)
    rows = demand.of_resource(r)
    rows = rows[network.structure.leaf[demand.task[rows]] == 1]
    for _, _, level, over in _beyond(schedule, demand.capacity, r, demand.runs(schedule, rows).within(begin, end)):
        yield level, over


@njit(cache=True, nogil=True)
def excess_runs(
    pool: CalendarPool, calendar: Ints, start: Ints, finish: Ints, units: Ints, capacity: int
) -> tuple[Ints, Ints, Ints, Ints]:
    """Runs (begin, end, highest level, millionths of minutes beyond capacity) of one resource.

    Between two starts or finishes the tasks at work are the same; only where these spans exceed the
    capacity are their working intervals looked at one by one.
    """
    edges = np.unique(np.concatenate((start, finish)))
    by_start = np.argsort(start)
    found = 0
    runs = np.empty((4, 16), dtype=np.int64)
    active = np.empty(len(start), dtype=np.int64)
    count = following = 0
    for e in range(len(edges) - 1):
        begin, end = edges[e], edges[e + 1]
        kept = 0
        for a in range(count):
            if finish[active[a]] > begin:
                active[kept] = active[a]
                kept += 1
        count = kept
        while following < len(by_start) and start[by_start[following]] <= begin:
            active[count] = by_start[following]
            count += 1
            following += 1
        level = 0
        for a in range(count):
            level += units[active[a]]
        if level <= capacity:
            continue
        t = begin
        while t < end:
            now, then = _level_at(pool, calendar, units, active, count, t)
            then = min(then, end)
            if now > capacity:
                over = (now - capacity) * (then - t)
                if found and _continues(pool, calendar, active, count, runs[1, found - 1], t):
                    runs[1, found - 1] = then
                    runs[2, found - 1] = max(runs[2, found - 1], now)
                    runs[3, found - 1] += over
                else:
                    if found == runs.shape[1]:
                        wider = np.empty((4, 2 * found), dtype=np.int64)
                        wider[:, :found] = runs
                        runs = wider
                    runs[0, found], runs[1, found], runs[2, found], runs[3, found] = t, then, now, over
                    found += 1
            t = then
    return runs[0, :found], runs[1, :found], runs[2, :found], runs[3, :found]


@njit(cache=True, nogil=True)
def _level_at(pool: CalendarPool, calendar: Ints, units: Ints, active: Ints, count: int, t: int) -> tuple[int, int]:
    """Units at work at ``t``, and the next moment at which that can change."""
    level, then = 0, 1 << 60
    for a in range(count):
        c = calendar[active[a]]
        k = interval_at(pool, c, t)
        begin = begin_of(pool, c, k)
        if begin <= t:
            level += units[active[a]]
            then = min(then, end_of(pool, c, k))
        else:
            then = min(then, begin)
    return level, then


@njit(cache=True, nogil=True)
def _continues(pool: CalendarPool, calendar: Ints, active: Ints, count: int, end: int, t: int) -> bool:
    """Whether none of the tasks at work could have worked between ``end`` and ``t``."""
    for a in range(count):
        c = calendar[active[a]]
        if worked(pool, c, end) != worked(pool, c, t):
            return False
    return True
