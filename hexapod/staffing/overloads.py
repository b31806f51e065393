"""Where a resource is asked for more than there is of it, to the minute."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from typing import NamedTuple

import numpy as np
from numba import njit

from hexapod.schedule.codes import FOREVER
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.capacity import PARTS
from hexapod.staffing.demand import Demand, Runs
from hexapod.worktime.arithmetic import begin_of, end_of, interval_at, worked
from hexapod.worktime.calendars import CalendarPool, Ints


class Overload(NamedTuple):
    """A run of working time in which demand exceeds capacity.

    ``peak`` is the highest demand in units, ``excess`` the work in minutes beyond what there is.
    """

    resource: str
    begin: int
    end: int
    peak: float
    excess: float
    tasks: tuple[str, ...]


class Asked(NamedTuple):
    """When how much is asked of some resources, and how much there is. Those of ``resources[i]``: ``runs`` from
    ``first[i]`` up to ``first[i + 1]``, steps of its capacity from ``steps_from[i]`` up to ``steps_to[i]``."""

    resources: Ints
    first: Ints
    task: Ints  # slot, by run
    runs: Runs
    steps_from: Ints
    steps_to: Ints
    times: Ints
    levels: Ints

    @staticmethod
    def of(schedule: Schedule, demand: Demand, resources: Sequence[int]) -> Asked:
        assert schedule.network is not None
        chosen = np.array(resources, dtype=np.int64)
        of_row = np.repeat(np.arange(len(demand.resources)), np.diff(demand.first))
        rows = np.flatnonzero(np.isin(of_row, chosen) & (schedule.network.structure.leaf[demand.task] == 1))
        runs = demand.runs(schedule, rows)
        first = np.append(np.searchsorted(of_row[rows][runs.row], chosen), len(runs.row))
        capacity = demand.capacity
        return Asked(chosen, first, demand.task[rows][runs.row], runs, capacity.first[chosen],
                     capacity.first[chosen + 1], capacity.times, capacity.levels)  # fmt: skip


def overloads(schedule: Schedule, demand: Demand, only: Collection[str] | None = None) -> list[Overload]:
    """Every overload, or those of some resources, by resource and time. Pauses in which nobody works do not part one
    into two."""
    network = schedule.network
    assert network is not None
    chosen = [r for r, resource in enumerate(demand.resources) if only is None or resource in only]
    asked = Asked.of(schedule, demand, chosen)
    runs, pool, ids = asked.runs, network.timing.pool, network.interning.ids
    found = _beyond(
        pool, asked.first, runs.calendar, runs.start, runs.finish, runs.units, asked.steps_from, asked.steps_to,
        asked.times, asked.levels,
    )  # fmt: skip
    of_run = np.repeat(np.arange(len(chosen)), np.diff(asked.first))
    order = np.lexsort((schedule.start[asked.task], of_run))
    into, which = _at_work(asked.first, runs.start, runs.finish, order, found[0], found[1], found[2])
    names = [ids[slot] for slot in asked.task.tolist()]
    who, edges, at_work = [demand.resources[r] for r in chosen], into.tolist(), which.tolist()
    return [
        Overload(who[r], begin, end, level / PARTS, over / PARTS,
                 tuple(dict.fromkeys(names[k] for k in at_work[edges[i] : edges[i + 1]])))
        for i, (r, begin, end, level, over) in enumerate(zip(*found.tolist(), strict=True))
    ]  # fmt: skip


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


@njit(cache=True, nogil=True)
def _beyond(
    pool: CalendarPool,
    first: Ints,
    calendar: Ints,
    start: Ints,
    finish: Ints,
    units: Ints,
    steps_from: Ints,
    steps_to: Ints,
    times: Ints,
    levels: Ints,
) -> Ints:
    """A column each run beyond capacity while that is the same: resource, begin, end, highest level, excess."""
    found = np.empty((5, 64), dtype=np.int64)
    count = 0
    for r in range(len(first) - 1):
        mine = slice(first[r], first[r + 1])
        for k in range(steps_from[r], steps_to[r]):
            begin = times[k]
            end = times[k + 1] if k + 1 < steps_to[r] else FOREVER
            s, f = np.maximum(start[mine], begin), np.minimum(finish[mine], end)
            here = np.flatnonzero(s < f)
            asked = units[mine][here]
            if asked.sum() <= levels[k]:
                continue
            runs = excess_runs(pool, calendar[mine][here], s[here], f[here], asked, levels[k])
            while count + len(runs[0]) > found.shape[1]:
                wider = np.empty((5, 2 * found.shape[1]), dtype=np.int64)
                wider[:, :count] = found[:, :count]
                found = wider
            for i in range(len(runs[0])):
                found[0, count], found[1, count], found[2, count] = r, runs[0][i], runs[1][i]
                found[3, count], found[4, count] = runs[2][i], runs[3][i]
                count += 1
    return found[:, :count].copy()


@njit(cache=True, nogil=True)
def _at_work(
    first: Ints, start: Ints, finish: Ints, order: Ints, resource: Ints, begin: Ints, end: Ints
) -> tuple[Ints, Ints]:
    """For each run beyond capacity, those that are at work in it: ``which[into[i] : into[i + 1]]``, in an order."""
    into = np.zeros(len(resource) + 1, dtype=np.int64)
    which = np.empty(64, dtype=np.int64)
    count = 0
    for i in range(len(resource)):
        for k in order[first[resource[i]] : first[resource[i] + 1]]:
            if start[k] < end[i] and finish[k] > begin[i]:
                if count == len(which):
                    which = np.concatenate((which, np.empty(count, dtype=np.int64)))
                which[count] = k
                count += 1
        into[i + 1] = count
    return into, which[:count].copy()


def peak_within(schedule: Schedule, demand: Demand, resource: str, begin: int, end: int) -> float:
    """The most units asked for at one moment of a period, where that is more than there are; else 0."""
    assert schedule.network is not None
    if resource not in demand.resources:
        return 0.0
    asked = Asked.of(schedule, demand, [demand.resources.index(resource)])
    runs = asked.runs.within(begin, end)
    levels = _beyond(
        schedule.network.timing.pool, np.array([0, len(runs.row)]), runs.calendar, runs.start, runs.finish, runs.units,
        asked.steps_from, asked.steps_to, asked.times, asked.levels,
    )[3]  # fmt: skip
    return float(levels.max()) / PARTS if len(levels) else 0.0


def excess_in(schedule: Schedule, demand: Demand, touched: Mapping[int, Ints], edges: Ints) -> dict[int, Ints]:
    """Millionths of minutes beyond what there is of some resources, in some periods between the edges for each."""
    assert schedule.network is not None
    chosen = sorted(touched)
    asked = Asked.of(schedule, demand, chosen)
    runs = asked.runs
    parts = np.cumsum([0, *(len(touched[r]) for r in chosen)])
    periods = np.concatenate([touched[r] for r in chosen]) if chosen else np.zeros(0, dtype=np.int64)
    found = _excess_by_period(
        schedule.network.timing.pool, asked.first, runs.calendar, runs.start, runs.finish, runs.units,
        asked.steps_from, asked.steps_to, asked.times, asked.levels, edges, parts, periods,
    )  # fmt: skip
    return {r: found[parts[i] : parts[i + 1]] for i, r in enumerate(chosen)}


@njit(cache=True, nogil=True)
def _excess_by_period(
    pool: CalendarPool,
    first: Ints,
    calendar: Ints,
    start: Ints,
    finish: Ints,
    units: Ints,
    steps_from: Ints,
    steps_to: Ints,
    times: Ints,
    levels: Ints,
    edges: Ints,
    parts: Ints,
    periods: Ints,
) -> Ints:
    found = np.zeros(len(periods), dtype=np.int64)
    for r in range(len(first) - 1):
        mine = slice(first[r], first[r + 1])
        for i in range(parts[r], parts[r + 1]):
            low, high = edges[periods[i]], edges[periods[i] + 1]
            for k in range(steps_from[r], steps_to[r]):
                begin = max(low, times[k])
                end = min(high, times[k + 1]) if k + 1 < steps_to[r] else high
                s, f = np.maximum(start[mine], begin), np.minimum(finish[mine], end)
                here = np.flatnonzero(s < f)
                asked = units[mine][here]
                if asked.sum() > levels[k]:
                    found[i] += excess_runs(pool, calendar[mine][here], s[here], f[here], asked, levels[k])[3].sum()
    return found


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
