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


def empty_profile(times: Ints, levels: Ints) -> tuple[Ints, Ints]:
    """Nothing is booked, but where there is less than the most there ever is: ``levels`` from ``times`` on."""
    begins = np.append(times, END)
    begins[0] = BEGINNING
    return begins, np.append(levels.max() - levels, 0)


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
def booked(
    pool: CalendarPool, calendar: int, start: int, finish: int, times: Ints, levels: Ints, units: int
) -> tuple[Ints, Ints]:
    """The profile with one more task in it, in the working intervals between its start and finish."""
    first, last = interval_at(pool, calendar, start), interval_at(pool, calendar, finish - 1)
    span = last - first + 1
    edges = np.empty(2 * span, dtype=np.int64)
    for i in range(span):
        edges[2 * i] = max(begin_of(pool, calendar, first + i), start)
        edges[2 * i + 1] = min(end_of(pool, calendar, first + i), finish)
    new_times = np.empty(len(times) + len(edges), dtype=np.int64)
    new_levels = np.empty(len(new_times), dtype=np.int64)
    i = int(np.searchsorted(times, start))  # what is before the task and behind it stays as it is
    new_times[:i], new_levels[:i] = times[:i], levels[:i]
    filled, below, extra, e = i, levels[i - 1], 0, 0
    while e < len(edges):
        t = min(edges[e], times[i])
        while times[i] == t:
            below = levels[i]
            i += 1
        while e < len(edges) and edges[e] == t:
            extra = units if e % 2 == 0 else 0
            e += 1
        if new_levels[filled - 1] != below + extra:
            new_times[filled] = t
            new_levels[filled] = below + extra
            filled += 1
    whole = filled + len(times) - i
    new_times[filled:whole], new_levels[filled:whole] = times[i:], levels[i:]
    return new_times[:whole], new_levels[:whole]
