"""Where the rest of begun work lies: kernels of both passes.

The actual start stays. The rest is worked from the latest of the status date, the moment it was told as of, the actual
start, and what holds it; with neither of the first two from where the done part ends, so that work told without a
status date lies as it lay. The end of a span is given by its links: it has no rest, and only its finish is placed.
Practice: retained logic and progress override (common practice; both are choices of a project).
"""

from __future__ import annotations

from hexapod.schedule.codes import FOREVER, NEVER
from hexapod.schedule.crews import (
    crew_earliest_start,
    crew_finish,
    crew_latest_finish,
    crew_latest_start,
)
from hexapod.schedule.passes import earliest_start
from hexapod.system.compiler import njit
from hexapod.worktime.arithmetic import advance, finish_side, worked
from hexapod.worktime.calendars import CalendarPool, Ints


@njit(cache=True, nogil=True)
def place_rest(
    pool: CalendarPool,
    calendar: int,
    crew: Ints,
    first: int,
    last: int,
    duration: int,
    rest: int,
    rest_from: int,
    actual_start: int,
    from_start: int,
    from_finish: int,
) -> tuple[int, int]:
    """When the rest starts and when it ends. ``crew[first:last]`` are calendars of a crew, none: ``calendar``."""
    done = max(0, duration - rest)
    if rest > 0 and last > first:
        if rest_from != NEVER:
            begin = crew_earliest_start(pool, crew, first, last, rest, max(rest_from, from_start), from_finish)
            return begin, crew_finish(pool, crew, first, last, rest, begin)
        # Each of them goes on where the own done part ends: the last of them ends when all would have ended.
        end = crew_finish(pool, crew, first, last, done + rest, actual_start)
        begin = crew_latest_start(pool, crew, first, last, rest, FOREVER, end)
        if max(from_start, from_finish) > NEVER:
            held = crew_earliest_start(pool, crew, first, last, rest, max(from_start, actual_start), from_finish)
            begin = max(begin, held)
        return begin, max(end, crew_finish(pool, crew, first, last, rest, begin))
    if rest_from == NEVER:
        rest_from = advance(pool, calendar, actual_start, done)
    begin = earliest_start(pool, calendar, rest, max(rest_from, from_start), from_finish)
    return begin, begin if rest == 0 else finish_side(pool, calendar, worked(pool, calendar, begin) + rest)


@njit(cache=True, nogil=True)
def latest_rest(
    pool: CalendarPool, crew: Ints, first: int, last: int, rest: int, until: int, now: int
) -> tuple[int, int, int]:
    """The latest finish of a crew's rest that ends ``until`` a moment, and up to when what holds its start, and its
    finish, may do so. ``now`` is where the finish is: where that is soon enough, the latest is no sooner.

    Of what has no rest left it is that moment. The backward pass does the same for who works alone in its own loop.
    """
    if rest == 0:
        return until, until, until
    begin = crew_latest_start(pool, crew, first, last, rest, FOREVER, until)
    end = crew_finish(pool, crew, first, last, rest, begin)
    return max(end, now) if now <= until else end, begin, crew_latest_finish(pool, crew, first, last, rest, begin)


@njit(cache=True, nogil=True)
def rest_asks(
    pool: CalendarPool, crew: Ints, first: int, last: int, rest: int, begin: int, end: int
) -> tuple[int, int]:
    """Up to when what holds the start, and the finish, of a crew's rest may do so without moving it."""
    if rest == 0:
        return end, end
    return begin, crew_latest_finish(pool, crew, first, last, rest, begin)
