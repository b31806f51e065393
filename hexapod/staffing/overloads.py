"""Where a resource is asked for more than there is of it, to the minute."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from hexapod.schedule.codes import FOREVER, NEVER
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.capacity import PARTS
from hexapod.staffing.demand import Demand
from hexapod.staffing.moved import moved
from hexapod.staffing.overload import Overload, Overloads
from hexapod.staffing.widening import widened
from hexapod.system.compiler import njit
from hexapod.worktime.arithmetic import begin_of, end_of, interval_at, next_working, pause_before, worked
from hexapod.worktime.calendars import CalendarPool, Ints

__all__ = ["Overload", "Overloads", "overloads", "overloads_again", "peak_within"]


class Asked(NamedTuple):
    """When how much is asked of some resources, and how much there is. Those of the i-th of them: entries, one a run,
    from ``first[i]`` up to ``first[i + 1]``, steps of its capacity from ``steps_from[i]`` up to ``steps_to[i]``."""

    first: Ints
    task: Ints  # slot
    calendar: Ints
    start: Ints
    finish: Ints
    units: Ints
    by_start: Ints  # the entries of each resource, by start
    steps_from: Ints
    steps_to: Ints
    times: Ints
    levels: Ints

    @staticmethod
    def of(schedule: Schedule, demand: Demand, resources: Sequence[int], tasks: Ints | None = None) -> Asked:
        """What is asked of some resources, or what some ``tasks`` ask of them, by their slots."""
        chosen = np.array(resources, dtype=np.int64)
        counts = schedule.network.structure.leaf == 1
        if tasks is not None:
            counts &= marked(tasks, len(counts))
        of_row = np.repeat(np.arange(len(demand.resources)), np.diff(demand.first))
        rows = np.flatnonzero(marked(chosen, len(demand.resources))[of_row] & counts[demand.task])
        runs, capacity = demand.runs(schedule, rows), demand.capacity
        of_run = of_row[rows][runs.row]
        first = np.append(np.searchsorted(of_run, chosen), len(of_run))
        return Asked(first, demand.task[rows][runs.row], runs.calendar, runs.start, runs.finish, runs.units,
                     _by_start(of_run, runs.start), capacity.first[chosen], capacity.first[chosen + 1],
                     capacity.times, capacity.levels)  # fmt: skip


def marked(chosen: Ints, size: int) -> NDArray[np.bool_]:
    """By number, below ``size``, whether it is one of some."""
    found = np.zeros(size, dtype=bool)
    found[chosen] = True
    return found


def _by_start(of: Ints, start: Ints) -> Ints:
    """The order by resource, then by start: one key for both sorts several times as fast as two."""
    if not len(start):
        return np.zeros(0, dtype=np.int64)
    low = int(start.min())
    order: Ints = np.argsort(of * (int(start.max()) - low + 1) + (start - low), kind="stable")
    return order


def overloads(schedule: Schedule, demand: Demand, only: Collection[str] | None = None) -> Overloads:
    """Every overload, or those of some resources, by resource and time. Pauses in which nobody works do not part one
    into two."""
    chosen = [r for r, resource in enumerate(demand.resources) if only is None or resource in only]
    return _overloads_of(schedule, demand, chosen)


def _overloads_of(schedule: Schedule, demand: Demand, chosen: Sequence[int]) -> Overloads:
    network = schedule.network
    asked = Asked.of(schedule, demand, chosen)
    found = _beyond(network.timing.pool, asked, NEVER, FOREVER)
    into, which = _at_work(asked, found[0], found[1], found[2])
    found[0] = np.array(chosen, dtype=np.int64)[found[0]]
    return Overloads(demand.resources, found, into, asked.task[which], network.slots.tasks)


def overloads_again(now: Schedule, demand: Demand, before: Schedule, known: Overloads) -> Overloads:
    """The same after a change that left the demand as it was; those of resources whose work did not move are known."""
    changed = moved(now, before)
    if changed is None:
        return overloads(now, demand)
    entries = np.flatnonzero(changed[demand.task])
    rows = np.searchsorted(demand.first, entries, side="right") - 1
    touched = np.unique(rows)
    return known.replaced(touched, _overloads_of(now, demand, touched.tolist()))


@njit(cache=True, nogil=True)
def _beyond(pool: CalendarPool, asked: Asked, low: int, high: int) -> Ints:
    """A column each run beyond capacity while that is the same: resource, begin, end, highest level, excess."""
    found, count = np.empty((5, 64), dtype=np.int64), int(np.int64(0))
    active = np.empty(len(asked.start), dtype=np.int64)
    none = np.zeros(0, dtype=np.int64)  # no periods
    for r in range(len(asked.first) - 1):
        for k in range(asked.steps_from[r], asked.steps_to[r]):
            begin, end = _step(asked, r, k, low, high)
            found, count = sweep(pool, asked, r, begin, end, asked.levels[k], active, found, count, none, none)
    return found[:, :count].copy()


@njit(cache=True, nogil=True)
def _step(asked: Asked, r: int, k: int, low: int, high: int) -> tuple[int, int]:
    """What of a step of capacity lies between two moments."""
    begin = max(low, asked.times[k])
    return begin, min(high, asked.times[k + 1]) if k + 1 < asked.steps_to[r] else high


@njit(cache=True, nogil=True)
def _at_work(asked: Asked, resource: Ints, begin: Ints, end: Ints) -> tuple[Ints, Ints]:
    """Of each run beyond capacity one entry a task at work in it: ``which[into[i] : into[i + 1]]``, by start."""
    into = np.zeros(len(resource) + 1, dtype=np.int64)
    which = np.empty(64, dtype=np.int64)
    count = low = 0
    for i in range(len(resource)):
        if i == 0 or resource[i] != resource[i - 1]:
            low = asked.first[resource[i]]
        last = asked.first[resource[i] + 1]
        while low < last and asked.finish[asked.by_start[low]] <= begin[i]:
            low += 1  # it is over in all runs that follow, too
        for k in asked.by_start[low:last]:
            if asked.start[k] >= end[i]:
                break
            if asked.finish[k] <= begin[i]:
                continue
            is_known = False
            for other in which[into[i] : count]:
                is_known = is_known or asked.task[other] == asked.task[k]
            if not is_known:
                if count == len(which):
                    which = np.concatenate((which, np.empty(count, dtype=np.int64)))
                which[count] = k
                count += 1
        into[i + 1] = count
    return into, which[:count].copy()


def peak_within(schedule: Schedule, demand: Demand, resource: str, begin: int, end: int) -> float:
    """The most units asked for at one moment of a period, where that is more than there are; else 0."""
    if resource not in demand.resources:
        return 0.0
    asked = Asked.of(schedule, demand, [demand.resources.index(resource)])
    levels = _beyond(schedule.network.timing.pool, asked, begin, end)[3]
    return float(levels.max()) / PARTS if len(levels) else 0.0


@njit(cache=True, nogil=True)
def sweep(
    pool: CalendarPool,
    asked: Asked,
    r: int,
    begin: int,
    end: int,
    capacity: int,
    active: Ints,
    found: Ints,
    known: int,
    edges: Ints,
    excess: Ints,
) -> tuple[Ints, int]:
    """Behind the first ``known`` columns of ``found``, the runs of one resource beyond a capacity in some time.

    From each start or finish to the next the same are at work (``active``). Where they exceed the capacity and all
    work in one calendar, they do so in all of its working time; else their working intervals are looked at one by one.
    Returns the columns, as many as need be, and how many are used. Where there are edges of periods, the excess is
    added to that of each period too.
    """
    following, last = asked.first[r], asked.first[r + 1]
    none = int(np.int64(0))  # a literal would have all that is called compiled once more
    count, working, t = known, none, begin
    period = int(np.searchsorted(edges, begin, side="right"))  # and the index of the edge where it ends
    while t < end:
        while period < len(edges) and edges[period] <= t:
            period += 1
        while following < last and asked.start[asked.by_start[following]] <= t:
            active[working] = asked.by_start[following]
            working += 1
            following += 1
        then = min(end, asked.start[asked.by_start[following]]) if following < last else end
        if period < len(edges):
            then = min(then, edges[period])
        kept = level = calendars = none
        for a in range(working):
            k = active[a]
            if asked.finish[k] > t:
                if kept == 0 or asked.calendar[k] != asked.calendar[active[kept - 1]]:
                    calendars += 1
                active[kept] = k
                kept += 1
                level += asked.units[k]
                then = min(then, asked.finish[k])
        working = kept
        if level <= capacity:
            t = then
        while t < then:
            if calendars == 1:
                now, change = level, then
                calendar = asked.calendar[active[0]]
                begin = next_working(pool, calendar, t)
                finish = min(pause_before(pool, calendar, then), then)
                time = worked(pool, calendar, then) - worked(pool, calendar, t)
            else:
                now, change = _level_at(pool, asked, active, working, t)
                change = min(change, then)
                begin, finish, time = t, change, change - t
            if now > capacity and time > 0:
                if count == known or not _continues(pool, asked, active, working, found[2, count - 1], begin):
                    if count == found.shape[1]:
                        found = widened(found)
                    found[0, count], found[1, count], found[3, count], found[4, count] = r, begin, 0, 0
                    count += 1
                found[2, count - 1] = finish
                found[3, count - 1] = max(found[3, count - 1], now)
                found[4, count - 1] += (now - capacity) * time
                if len(edges):
                    excess[period - 1] += (now - capacity) * time
            t = change
    return found, count


@njit(cache=True, nogil=True)
def _level_at(pool: CalendarPool, asked: Asked, active: Ints, working: int, t: int) -> tuple[int, int]:
    """Units at work at ``t``, and the next moment at which that can change."""
    level, then = 0, 1 << 60
    for k in active[:working]:
        calendar = asked.calendar[k]
        interval = interval_at(pool, calendar, t)
        begin = begin_of(pool, calendar, interval)
        if begin <= t:
            level += asked.units[k]
            then = min(then, end_of(pool, calendar, interval))
        else:
            then = min(then, begin)
    return level, then


@njit(cache=True, nogil=True)
def _continues(pool: CalendarPool, asked: Asked, active: Ints, working: int, end: int, t: int) -> bool:
    """Whether none of those at work could have worked between ``end`` and ``t``."""
    for k in active[:working]:  # noqa: SIM110 - numba knows no generators
        if worked(pool, asked.calendar[k], end) != worked(pool, asked.calendar[k], t):
            return False
    return True
