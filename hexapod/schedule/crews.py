"""When a task can be worked by several resources who do not share their working time.

Each assignment takes the task's duration on its own calendar from the same release on; the task runs from
the first assignment's start to the last one's end. ``calendars[first:last]`` are those of the crew.
"""

from __future__ import annotations

from hexapod.schedule.codes import FOREVER, NEVER
from hexapod.system.compiler import njit
from hexapod.worktime.arithmetic import finish_side, next_working, pause_before, start_side, worked
from hexapod.worktime.calendars import CalendarPool, Ints


@njit(cache=True, nogil=True)
def latest_work(pool: CalendarPool, calendar: int, start_bound: int, finish_bound: int, duration: int) -> int:
    """The latest W at which a task can start to respect a bound on its start and one on its finish."""
    work = FOREVER
    if finish_bound < FOREVER:
        work = worked(pool, calendar, finish_bound) - duration
    if start_bound < FOREVER:
        latest = worked(pool, calendar, start_bound)
        if next_working(pool, calendar, start_bound) != start_bound:
            latest -= 1  # the bound lies in a pause: the start must be worked before it
        work = min(work, latest)
    return work


@njit(cache=True, nogil=True)
def crew_start_for_finish(
    pool: CalendarPool, calendars: Ints, first: int, last: int, duration: int, from_finish: int
) -> int:
    """The first moment from which the crew's work ends no sooner than ``from_finish``.

    It may lie in a pause of the one who ends then: another may begin in it.
    """
    found = FOREVER
    for c in range(first, last):
        calendar = calendars[c]
        found = min(found, finish_side(pool, calendar, worked(pool, calendar, from_finish) - duration))
    return found


@njit(cache=True, nogil=True)
def crew_earliest_start(
    pool: CalendarPool, calendars: Ints, first: int, last: int, duration: int, from_start: int, from_finish: int
) -> int:
    """The first moment at which one of the crew can start so that neither bound is broken."""
    release = from_start
    if from_finish > NEVER:
        release = max(release, crew_start_for_finish(pool, calendars, first, last, duration, from_finish))
    found = FOREVER
    for c in range(first, last):
        found = min(found, next_working(pool, calendars[c], release))
    return found


@njit(cache=True, nogil=True)
def crew_finish(pool: CalendarPool, calendars: Ints, first: int, last: int, duration: int, release: int) -> int:
    """When the last of the crew is done."""
    found = NEVER
    for c in range(first, last):
        found = max(found, finish_side(pool, calendars[c], worked(pool, calendars[c], release) + duration))
    return found


@njit(cache=True, nogil=True)
def crew_pause_before(pool: CalendarPool, calendars: Ints, first: int, last: int, t: int) -> int:
    """The earliest moment from which none of the crew works until ``t``."""
    found = NEVER
    for c in range(first, last):
        found = max(found, pause_before(pool, calendars[c], t))
    return found


@njit(cache=True, nogil=True)
def crew_latest_start(
    pool: CalendarPool, calendars: Ints, first: int, last: int, duration: int, start_bound: int, finish_bound: int
) -> int:
    """The latest release at which one of the crew starts, and all of it ends, within the bounds."""
    by_start = FOREVER
    if start_bound < FOREVER:
        by_start = NEVER
        for c in range(first, last):
            calendar = calendars[c]
            work = latest_work(pool, calendar, start_bound, FOREVER, duration)
            by_start = max(by_start, start_side(pool, calendar, work))
    found = by_start
    if finish_bound < FOREVER:
        for c in range(first, last):
            calendar = calendars[c]
            work = latest_work(pool, calendar, FOREVER, finish_bound, duration)
            found = min(found, start_side(pool, calendar, work))
    return found


@njit(cache=True, nogil=True)
def crew_latest_finish(pool: CalendarPool, calendars: Ints, first: int, last: int, duration: int, release: int) -> int:
    """The latest moment that may be asked of the finish, so that the crew need not start after ``release``."""
    found = NEVER
    for c in range(first, last):
        calendar = calendars[c]
        found = max(found, start_side(pool, calendar, worked(pool, calendar, release) + duration))
    return found
