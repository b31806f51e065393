"""How far each link is from holding its successor: the slack of a link, and what follows from it.

Slack is working minutes on the successor's calendar between the start that the link demands and the start
that there is. A driving link has none; one that only warns has less than none where it is broken.
Independent float: Thomas, "Floats and critical path", in Harris, *Precedence and Arrow Networking Techniques
for Construction* (1978), from memory: what a task can move even if all before it end as late as they may.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from hexapod.schedule.codes import DONE, FF, FOREVER, FS, GATE, NEVER, NOT_BEGUN, REST_GOES_ON, SF, SS, WARN
from hexapod.schedule.crews import crew_earliest_start, crew_start_for_finish
from hexapod.schedule.network import Network
from hexapod.schedule.passes import Arcs, Crews, earliest_start, is_stretched, reach
from hexapod.schedule.passing import crews_of
from hexapod.schedule.schedule import Schedule
from hexapod.system.compiler import njit
from hexapod.worktime.arithmetic import next_working, shifted, start_side, worked
from hexapod.worktime.calendars import CalendarPool, Ints


class _Dates(NamedTuple):
    """By task slot, a summary's among them: where it starts before a hold, starts and finishes."""

    before_hold: Ints
    start: Ints
    finish: Ints


def arc_slacks(schedule: Schedule) -> Ints:
    """The slack of every arc with the dates where tasks are put; FOREVER for ties and what holds nothing."""
    network = schedule.network
    moved = schedule.start != schedule.early_start  # placed back from a finish: the hold is of no account
    leaf = network.structure.leaf == 1
    before = np.where(leaf & ~moved, schedule.free_start, schedule.start)
    kinds = np.where(network.structure.link >= 0, network.links.type[network.structure.link], -1)
    return _arc_slacks(
        network.timing.pool,
        network.arcs._replace(lag=schedule.lag),
        crews_of(network),
        kinds,
        network.tasks.calendar,
        network.tasks.crew,
        _lengths_left(schedule),
        network.tasks.span,
        network.tasks.progress * leaf,
        _Dates(before, schedule.start, schedule.finish),
    )


def _lengths_left(schedule: Schedule) -> Ints:
    """By slot how long a task lasts; of what is begun its rest, and a span has none."""
    tasks = schedule.network.tasks
    is_begun = (tasks.progress != NOT_BEGUN) & (schedule.network.structure.leaf == 1)
    found: Ints = np.where(is_begun, tasks.rest * (1 - tasks.span), schedule.duration)
    return found


def link_slacks(schedule: Schedule) -> Ints:
    """The least slack of each link by its slot; FOREVER for a slot that is not in use."""
    network = schedule.network
    found = np.full(len(network.links.alive), FOREVER, dtype=np.int64)
    shape, slacks = network.structure, arc_slacks(schedule)
    held = shape.link >= 0
    np.minimum.at(found, shape.link[held], slacks[held])
    return found


@njit(cache=True, nogil=True)
def _arc_slacks(
    pool: CalendarPool,
    arcs: Arcs,
    crews: Crews,
    kinds: Ints,
    calendars: Ints,
    crew_of: Ints,
    durations: Ints,
    spans: Ints,
    progress: Ints,
    dates: _Dates,
) -> Ints:
    into, source, lags, lag_calendars, leaf = arcs.into, arcs.source, arcs.lag, arcs.lag_calendar, arcs.leaf
    before_hold, start, finish = dates.before_hold, dates.start, dates.finish
    crew_into, crew_calendars = crews.into, crews.calendars
    n = len(calendars)
    found = np.full(len(source), FOREVER, dtype=np.int64)
    for j in range(n):
        calendar, duration = calendars[j], durations[j]
        c1, c2 = crew_into[crew_of[j]], crew_into[crew_of[j] + 1]
        stretched = spans[j] == 1 and is_stretched(arcs.kind, into[j], into[j + 1])
        if stretched:
            c2 = c1
        for a in range(into[j], into[j + 1]):
            if kinds[a] < 0 or progress[j] == DONE:
                continue
            if progress[j] == REST_GOES_ON and (kinds[a] == FS or kinds[a] == SS):
                continue
            s = source[a] if source[a] < n else source[a] - n
            t = finish[s] if kinds[a] == FS or kinds[a] == FF else start[s]
            t = shifted(pool, calendar if lag_calendars[a] < 0 else lag_calendars[a], t, lags[a])
            ends = kinds[a] == FF or kinds[a] == SF
            if stretched and ends:  # it holds the finish of a span, wherever the span starts
                found[a] = worked(pool, calendar, finish[j]) - worked(pool, calendar, t)
                continue
            if c2 > c1 and duration > 0:
                if ends:
                    needed = crew_start_for_finish(pool, crew_calendars, c1, c2, duration, t)
                else:
                    needed = crew_earliest_start(pool, crew_calendars, c1, c2, duration, t, NEVER)
            elif duration == 0 or not leaf[j]:
                needed = t
            elif ends:
                needed = start_side(pool, calendar, worked(pool, calendar, t) - duration)
            else:
                needed = next_working(pool, calendar, t)
            found[a] = worked(pool, calendar, before_hold[j]) - worked(pool, calendar, needed)
    return found


def powerless_arcs(network: Network) -> Ints:
    """Arcs that hold nothing: those into what is done, and those to the start of a rest that goes on all the same."""
    tasks, shape, n = network.tasks, network.structure, network.size
    progress = np.concatenate((tasks.progress * (shape.leaf[:n] == 1), np.zeros(n, dtype=np.int64)))[shape.head]
    by_start = (shape.kind == FS) | (shape.kind == SS) | (shape.kind == GATE)
    return np.flatnonzero((progress == DONE) | ((progress == REST_GOES_ON) & by_start))


def independent_floats(schedule: Schedule) -> Ints:
    """By task slot, working minutes; a summary's is 0, and so is that of what is done.

    Of what is begun it is how much its rest can move.
    """
    network = schedule.network
    tasks = network.tasks
    is_begun = (tasks.progress != NOT_BEGUN) & (network.structure.leaf == 1)
    earliest = np.maximum(np.maximum(tasks.base, tasks.start_from), schedule.early_start * (tasks.crew > 0))
    kinds = network.arcs.kind.copy()
    kinds[powerless_arcs(network)] = WARN
    return _independent(
        network.timing.pool,
        network.arcs._replace(lag=schedule.lag, kind=kinds),
        tasks.calendar,
        np.where(is_begun, _lengths_left(schedule), tasks.duration),
        np.where(is_begun, schedule.free_start, earliest),
        tasks.finish_from,
        np.where(is_begun, schedule.free_start, schedule.early_start),
        np.where(tasks.progress == DONE, 0, schedule.free_float),
        _Dates(schedule.late_start, schedule.late_start, schedule.late_finish),
    )


@njit(cache=True, nogil=True)
def _independent(
    pool: CalendarPool,
    arcs: Arcs,
    calendars: Ints,
    durations: Ints,
    start_from: Ints,
    finish_from: Ints,
    early_start: Ints,
    free: Ints,
    late: _Dates,
) -> Ints:
    n = len(calendars)
    start = np.concatenate((late.start, late.start))  # a summary's close has the summary's dates
    finish = np.concatenate((late.finish, late.finish))
    reached = np.empty(len(arcs.source), dtype=np.int64)
    gate = np.full(n, NEVER, dtype=np.int64)
    found = np.zeros(n, dtype=np.int64)
    for j in arcs.order:
        if j >= n:
            continue
        calendar = calendars[j]
        from_start, from_finish = NEVER, NEVER
        for a in range(arcs.into[j], arcs.into[j + 1]):
            if arcs.kind[a] == GATE:  # a tie to the gate of the summary above
                from_start = max(from_start, gate[arcs.source[a]])
                continue
            s, f = reach(
                pool, calendar, a, a + 1, arcs.source, arcs.kind, arcs.lag, arcs.lag_calendar, start, finish, reached
            )
            from_start, from_finish = max(from_start, s), max(from_finish, f)
        if not arcs.leaf[j]:
            gate[j] = from_start
            continue
        from_start, from_finish = max(from_start, start_from[j]), max(from_finish, finish_from[j])
        latest = earliest_start(pool, calendar, durations[j], from_start, from_finish)
        lost = worked(pool, calendar, latest) - worked(pool, calendar, early_start[j])
        found[j] = max(0, free[j] - max(0, lost))
    return found
