"""Arithmetic on working time: the kernels that every date goes through.

W(t) is the working minutes up to t. For each W there is an earliest moment (the *finish side*: Friday
17:00) and a latest one (the *start side*: Monday 08:00). Moments outside the compiled window are taken
to its edge; whoever calls must check for that and compile a wider window.
"""

from __future__ import annotations

import numpy as np

from hexapod.system.compiler import njit
from hexapod.worktime.calendars import (
    BEGINS,
    BUCKET,
    BY_DAY,
    BY_WORK,
    DAYS,
    DONE,
    ENDS,
    HEADER,
    LAST,
    WINDOW,
    WINDOW_END,
    CalendarPool,
    Ints,
)


@njit(cache=True, nogil=True)
def interval_at(pool: CalendarPool, calendar: int, t: int) -> int:
    """The calendar's first interval that ends after ``t``; at the window's end the empty one."""
    h = calendar * HEADER
    day = (t - pool[h + WINDOW]) // 1440
    if day < 0:
        return 0
    last = pool[h + LAST]
    if day >= pool[h + DAYS]:
        return last
    k = pool[pool[h + BY_DAY] + day]
    ends = pool[h + ENDS]
    while k < last and pool[ends + k] <= t:
        k += 1
    return k


@njit(cache=True, nogil=True)
def begin_of(pool: CalendarPool, calendar: int, k: int) -> int:
    """When interval ``k`` begins."""
    return pool[pool[calendar * HEADER + BEGINS] + k]


@njit(cache=True, nogil=True)
def end_of(pool: CalendarPool, calendar: int, k: int) -> int:
    """When interval ``k`` ends."""
    return pool[pool[calendar * HEADER + ENDS] + k]


@njit(cache=True, nogil=True)
def pause_before(pool: CalendarPool, calendar: int, t: int) -> int:
    """The earliest moment from which nothing is worked until ``t``; ``t`` itself in the midst of work."""
    k = interval_at(pool, calendar, t)
    if begin_of(pool, calendar, k) < t:
        return t
    return end_of(pool, calendar, k - 1) if k > 0 else pool[calendar * HEADER + WINDOW]


@njit(cache=True, nogil=True)
def worked(pool: CalendarPool, calendar: int, t: int) -> int:
    """W(t): working minutes from the window's begin up to ``t``."""
    k = interval_at(pool, calendar, t)
    done = pool[pool[calendar * HEADER + DONE] + k]
    within = t - begin_of(pool, calendar, k)
    if within <= 0 or k == pool[calendar * HEADER + LAST]:
        return done
    return done + within


@njit(cache=True, nogil=True)
def worked_at(pool: CalendarPool, calendar: int, moments: Ints) -> Ints:
    """Working minutes up to each of several moments."""
    found = np.empty(len(moments), dtype=np.int64)
    for i in range(len(moments)):
        found[i] = worked(pool, calendar, moments[i])
    return found


@njit(cache=True, nogil=True)
def _interval_of(pool: CalendarPool, calendar: int, work: int) -> int:
    """The last interval that begins with at most ``work`` minutes done."""
    h = calendar * HEADER
    done, last = pool[h + DONE], pool[h + LAST]
    if work <= 0:
        return 0
    if work >= pool[done + last]:
        return last
    k = pool[pool[h + BY_WORK] + work // BUCKET]
    while pool[done + k + 1] <= work:
        k += 1
    return k


@njit(cache=True, nogil=True)
def start_side(pool: CalendarPool, calendar: int, work: int) -> int:
    """The latest t with W(t) = ``work``: the moment from which the next minute is worked."""
    h = calendar * HEADER
    if work < 0:
        return pool[h + WINDOW]
    k = _interval_of(pool, calendar, work)
    if k == pool[h + LAST]:
        return pool[h + WINDOW_END]
    return begin_of(pool, calendar, k) + work - pool[pool[h + DONE] + k]


@njit(cache=True, nogil=True)
def finish_side(pool: CalendarPool, calendar: int, work: int) -> int:
    """The earliest t with W(t) = ``work``: the moment at which that minute is done."""
    h = calendar * HEADER
    if work <= 0:
        return pool[h + WINDOW]
    if work > pool[pool[h + DONE] + pool[h + LAST]]:
        return pool[h + WINDOW_END]
    k = _interval_of(pool, calendar, work - 1)
    return begin_of(pool, calendar, k) + work - pool[pool[h + DONE] + k]


@njit(cache=True, nogil=True)
def next_working(pool: CalendarPool, calendar: int, t: int) -> int:
    """The first moment from ``t`` on at which work can start."""
    begin = begin_of(pool, calendar, interval_at(pool, calendar, t))
    return begin if begin > t else t


@njit(cache=True, nogil=True)
def advance(pool: CalendarPool, calendar: int, t: int, work: int) -> int:
    """The earliest t' with W(t') - W(t) = ``work`` > 0; ``work`` = 0 leaves ``t`` where it is."""
    if work == 0:
        return t
    return finish_side(pool, calendar, worked(pool, calendar, t) + work)


@njit(cache=True, nogil=True)
def retreat(pool: CalendarPool, calendar: int, t: int, work: int) -> int:
    """The latest t' with W(t) - W(t') = ``work`` > 0; ``work`` = 0 leaves ``t`` where it is."""
    if work == 0:
        return t
    return start_side(pool, calendar, worked(pool, calendar, t) - work)


@njit(cache=True, nogil=True)
def shifted(pool: CalendarPool, calendar: int, t: int, lag: int) -> int:
    """``t`` moved by a signed lag in working minutes."""
    if lag > 0:
        return advance(pool, calendar, t, lag)
    if lag < 0:
        return retreat(pool, calendar, t, -lag)
    return t


@njit(cache=True, nogil=True)
def latest_before(pool: CalendarPool, calendar: int, bound: int, lag: int) -> int:
    """The latest t whose ``shifted`` moment is not after ``bound``."""
    if lag == 0:
        return bound
    work = worked(pool, calendar, bound)
    if lag < 0 and next_working(pool, calendar, bound) != bound:
        work -= 1  # a lead lands on the start side, which here lies after the bound
    return start_side(pool, calendar, work - lag)
