"""What a resource is booked for over time, and the first place where one more booking fits.

A profile is a step function: ``levels[i]`` thousandths of a unit from ``times[i]`` up to ``times[i + 1]``, where
``holders[i]`` was booked last, -1 where nobody was.
"""

from __future__ import annotations

import numpy as np

from hexapod.staffing.widening import copied
from hexapod.system.compiler import njit
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
def clash(pool: CalendarPool, calendar: int, start: int, finish: int, times: Ints, levels: Ints, room: int) -> int:
    """The first step in which more than ``room`` is booked while a task would work; -1 if none."""
    k = interval_at(pool, calendar, start)
    p = int(np.searchsorted(times, start, side="right")) - 1
    while True:
        begin, end = max(begin_of(pool, calendar, k), start), min(end_of(pool, calendar, k), finish)
        if begin >= end:
            return -1
        while times[p + 1] <= begin:
            p += 1
        while times[p] < end:
            if levels[p] > room:
                return p
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
    the step with which it clashed last before that, -1 if with none. ``works`` is the calendar on which the resource
    works."""
    clashed = -1
    while True:
        p = clash(pool, works, at, advance(pool, works, at, duration), times, levels, room)
        if p < 0:
            return at, clashed
        clashed = p
        at = next_working(pool, calendar, times[p + 1])
        if at > latest or at >= window_end:
            return END, clashed


@njit(cache=True, nogil=True)
def book(
    pool: CalendarPool,
    calendar: int,
    start: int,
    finish: int,
    times: Ints,
    levels: Ints,
    holders: Ints,
    size: int,
    units: int,
    holder: int,
    is_parted: bool,
) -> int:
    """Put one more task into a profile of so many steps, from its start to its finish; ``is_parted`` in the working
    intervals between them only, as others may work in its pauses. It has room for two steps more for each interval;
    how many there are then."""
    edges = np.array([start, finish], dtype=np.int64)
    if is_parted:
        first, last = interval_at(pool, calendar, start), interval_at(pool, calendar, finish - 1)
        span = last - first + 1
        edges = np.empty(2 * span, dtype=np.int64)
        for i in range(span):
            edges[2 * i] = max(begin_of(pool, calendar, first + i), start)
            edges[2 * i + 1] = min(end_of(pool, calendar, first + i), finish)
    begin = int(np.searchsorted(times[:size], start))  # what is before the task and behind it stays as it is
    behind = int(np.searchsorted(times[:size], edges[-1], side="right"))
    new = np.empty((3, behind - begin + len(edges)), dtype=np.int64)
    i, e, filled, is_at_work = begin, 0, 0, False
    below, level = levels[begin - 1], levels[begin - 1]
    had, has = holders[begin - 1], holders[begin - 1]
    while e < len(edges):
        t = min(edges[e], times[i])
        while times[i] == t:
            below, had = levels[i], holders[i]
            i += 1
        while e < len(edges) and edges[e] == t:
            is_at_work = e % 2 == 0
            e += 1
        now, by = (below + units, holder) if is_at_work else (below, had)
        if now != level or by != has:
            level, has = now, by
            new[0, filled], new[1, filled], new[2, filled] = t, level, has
            filled += 1
    _replace(times, begin, behind, size, new[0, :filled])
    _replace(levels, begin, behind, size, new[1, :filled])
    return _replace(holders, begin, behind, size, new[2, :filled])


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
    copied(by, values, begin)
    return size + shift
