"""What a resource is booked for over time, and the first place where one more booking fits.

A profile is a step function: ``levels[i]`` thousandths of a unit from ``times[i]`` up to ``times[i + 1]``.
"""

from __future__ import annotations

import numpy as np
from numba import njit

from hexapod.worktime.arithmetic import advance, begin_of, end_of, interval_at, next_working
from hexapod.worktime.calendars import CalendarPool, Ints

BEGINNING = -(1 << 60)
END = 1 << 60
ROOM = 64  # steps of a profile to begin with


@njit(cache=True, nogil=True)
def free_profiles(into: Ints, times: Ints, levels: Ints, most: Ints) -> tuple[Ints, Ints, Ints]:
    """Profiles, a row a resource, in which nothing is booked but where there is less than the most there ever is:
    ``levels[i]`` from ``times[i]`` on, i from ``into[r]`` up to ``into[r + 1]``. Times, levels, how many of each."""
    size = into[1:] - into[:-1] + 1
    width = max(ROOM, size.max() if len(size) else 0)
    begins, booked = np.empty((len(size), width), dtype=np.int64), np.zeros((len(size), width), dtype=np.int64)
    for r in range(len(size)):
        for i in range(into[r], into[r + 1]):
            begins[r, i - into[r]], booked[r, i - into[r]] = times[i], most[r] - levels[i]
        begins[r, 0], begins[r, size[r] - 1] = BEGINNING, END
    return begins, booked, size


@njit(cache=True, nogil=True)
def clash(
    pool: CalendarPool, calendar: int, start: int, finish: int, times: Ints, levels: Ints, room: int
) -> tuple[int, int]:
    """The first stretch in which more than ``room`` is booked while a task would work; (END, END) if none."""
    k = interval_at(pool, calendar, start)
    p = np.searchsorted(times, start, side="right") - 1
    while True:
        begin, end = max(begin_of(pool, calendar, k), start), min(end_of(pool, calendar, k), finish)
        if begin >= end:
            return END, END
        while times[p + 1] <= begin:
            p += 1
        while times[p] < end:
            if levels[p] > room:
                return max(times[p], begin), times[p + 1]
            p += 1
        p -= 1
        k += 1


@njit(cache=True, nogil=True)
def fitted(
    pool: CalendarPool,
    calendar: int,
    works: int,
    duration: int,
    at: int,
    latest: int,
    window_end: int,
    times: Ints,
    levels: Ints,
    room: int,
) -> tuple[int, int]:
    """The first start from ``at`` up to ``latest`` at which a task clashes with nothing, END if there is none; and
    where it clashed last before that, END if nowhere. ``works`` is the calendar on which the resource works."""
    moment = END
    while True:
        begin, until = clash(pool, works, at, advance(pool, works, at, duration), times, levels, room)
        if begin == END:
            return at, moment
        moment = begin
        at = next_working(pool, calendar, until)
        if at > latest or at >= window_end:
            return END, moment


@njit(cache=True, nogil=True)
def book(
    pool: CalendarPool, calendar: int, start: int, finish: int, times: Ints, levels: Ints, size: int, units: int
) -> int:
    """Put one more task, in the working intervals between its start and finish, into a profile of so many steps. It has
    room for two more for each interval; how many there are then."""
    first, last = interval_at(pool, calendar, start), interval_at(pool, calendar, finish - 1)
    span = last - first + 1
    edges = np.empty(2 * span, dtype=np.int64)
    for i in range(span):
        edges[2 * i] = max(begin_of(pool, calendar, first + i), start)
        edges[2 * i + 1] = min(end_of(pool, calendar, first + i), finish)
    begin = int(np.searchsorted(times[:size], start))  # what is before the task and behind it stays as it is
    behind = int(np.searchsorted(times[:size], edges[-1], side="right"))
    new_times = np.empty(behind - begin + len(edges), dtype=np.int64)
    new_levels = np.empty(len(new_times), dtype=np.int64)
    i, e, filled, extra = begin, 0, 0, 0
    below = level = levels[begin - 1]
    while e < len(edges):
        t = min(edges[e], times[i])
        while times[i] == t:
            below = levels[i]
            i += 1
        while e < len(edges) and edges[e] == t:
            extra = units if e % 2 == 0 else 0
            e += 1
        if level != below + extra:
            level = below + extra
            new_times[filled], new_levels[filled] = t, level
            filled += 1
    _replace(times, begin, behind, size, new_times[:filled])
    return _replace(levels, begin, behind, size, new_levels[:filled])


@njit(cache=True, nogil=True)
def _replace(values: Ints, begin: int, end: int, size: int, by: Ints) -> int:
    """Put others in the place of those from ``begin`` up to ``end``; how many there are then."""
    shift = begin + len(by) - end
    if shift > 0:
        for i in range(size - 1, end - 1, -1):
            values[i + shift] = values[i]
    elif shift < 0:
        for i in range(end, size):
            values[i + shift] = values[i]
    values[begin : begin + len(by)] = by
    return size + shift
