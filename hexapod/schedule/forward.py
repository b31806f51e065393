"""The forward pass: early dates, over the whole network or over what an edit touched and what that moves.

Source: Kelley and Walker, "Critical-Path Planning and Scheduling" (1959), over precedence relations of
all four kinds with lags as in Elmaghraby and Kamburowski, "The analysis of activity networks under
generalized precedence relations" (1992); every sum is taken on the calendar of the task that it moves.
Time is linear in the nodes that are placed, and their arcs.
"""

from __future__ import annotations

import numpy as np

from hexapod.schedule.arrays import TaskArrays
from hexapod.schedule.begun import place_rest
from hexapod.schedule.codes import (
    BY_ACTUAL,
    BY_BASE,
    BY_GAP,
    BY_LIMIT,
    BY_LINK,
    DONE,
    FF,
    FS,
    NEVER,
    NOT_BEGUN,
    REST_GOES_ON,
    SF,
    WARN,
)
from hexapod.schedule.crews import crew_earliest_start, crew_finish, crew_pause_before, crew_start_for_finish
from hexapod.schedule.passes import (
    Arcs,
    Before,
    Crews,
    Flags,
    Forward,
    close_of,
    earliest_start,
    held_start,
    is_stretched,
)
from hexapod.system.compiler import njit
from hexapod.worktime.arithmetic import finish_side, next_working, pause_before, shifted, start_side, worked
from hexapod.worktime.calendars import CalendarPool, Ints


@njit(cache=True, nogil=True)
def keep_gaps(
    pool: CalendarPool,
    calendar: int,
    duration: int,
    j: int,
    first: int,
    last: int,
    arcs: Arcs,
    reached: Ints,
    start: Ints,
    finish: Ints,
    before: Before,
    kept: Ints,
) -> tuple[int, int]:
    """The moment up to which the links into task j keep it back so that its gaps stay, and the moment to which a limit
    on its start moves forward with what it waits for; NEVER if they do not, or it does not.

    Where an edit moves a predecessor, the gap is what it was ``before``: the task moves by as much.
    """
    n = len(arcs.leaf)
    held, moves, is_moved = NEVER, NEVER, False
    for a in range(first, last):
        if arcs.keeps[a] == 0 or reached[a] == NEVER:
            continue
        kind, s = arcs.kind[a], arcs.source[a]
        by_finish = kind == FS or kind == FF
        demanded = worked(pool, calendar, reached[a])
        if kind == FF or kind == SF:
            demanded -= duration
        if len(before.start) > 0:
            i = s if s < n else s - n
            was, now = (before.finish[i], finish[s]) if by_finish else (before.start[i], start[s])
            if before.is_said[j]:
                kept[a] = 0
            elif was != NEVER and before.start[j] != NEVER:
                by = worked(pool, calendar, now) - worked(pool, calendar, was)
                if by != 0:
                    kept[a] = max(0, worked(pool, calendar, before.start[j]) + by - demanded)
                    moves, is_moved = max(moves, by), True
        if kept[a] > 0:
            work = demanded + kept[a]
            held = max(held, start_side(pool, calendar, work) if duration > 0 else finish_side(pool, calendar, work))
    if is_moved and moves < 0:
        return held, start_side(pool, calendar, worked(pool, calendar, before.start[j]) + moves)
    return held, NEVER


@njit(cache=True, nogil=True)
def forward_pass(
    pool: CalendarPool,
    arcs: Arcs,
    tasks: TaskArrays,
    crews: Crews,
    before: Before,
    found: Forward,
    touched: Flags,
    is_whole: bool,
) -> Flags:
    """Put nodes as early as their arcs, limits and base allow, with the gaps that links keep, into ``found``.

    All of them if ``is_whole``; else those that are marked as ``touched``, and those that these move, which it marks as
    it goes. Returns which nodes have other dates than ``found`` had.
    """
    into, source, kinds, order, leaf = arcs.into, arcs.source, arcs.kind, arcs.order, arcs.leaf
    lag_calendars, percents = arcs.lag_calendar, arcs.percent
    calendars, durations, holds, crew_of, spans = tasks.calendar, tasks.duration, tasks.hold, tasks.crew, tasks.span
    base, finish_from, progress, actual_start, rests = (
        tasks.base,
        tasks.finish_from,
        tasks.progress,
        tasks.actual_start,
        tasks.rest,
    )
    crew_into, crew_calendars = crews.into, crews.calendars
    n = len(durations)
    start, finish, free_start, work, lags = found.start, found.finish, found.free_start, found.work, found.lag
    driving, cause, kept, start_from = found.driving, found.cause, found.kept, found.start_from
    keeps_any = arcs.keeps.any()
    reached = np.empty(len(source), dtype=np.int64)
    moved = np.zeros(2 * n, dtype=np.uint8)
    placed, was_start, was_finish, was_free = -1, NEVER, NEVER, NEVER
    for at in range(len(order) + 1):
        if placed >= 0 and not is_whole:  # the node before this one in the order
            is_other = start[placed] != was_start or finish[placed] != was_finish
            if is_other or (placed < n and free_start[placed] != was_free):
                moved[placed] = 1
                for o in range(arcs.out_into[placed], arcs.out_into[placed + 1]):
                    touched[arcs.head[arcs.out[o]]] = 1
        placed = -1
        if at == len(order):
            break
        j = order[at]
        if not is_whole:
            if not touched[j]:
                continue
            placed, was_start, was_finish = j, start[j], finish[j]
            was_free = free_start[j] if j < n else NEVER
        first, last = into[j], into[j + 1]
        if j >= n:
            start[j], finish[j] = close_of(first, last, source, start, finish)
            continue
        calendar, duration = calendars[j], durations[j]
        if leaf[j] and progress[j] == DONE:  # it lies where it was, whatever its links say
            start[j] = free_start[j] = actual_start[j]
            finish[j], cause[j] = tasks.actual_finish[j], BY_ACTUAL
            work[j] = worked(pool, calendar, start[j])
            for a in range(first, last):
                driving[a] = 0
                if percents[a] != 0:
                    lags[a] = 0
            continue
        from_start, from_finish = NEVER, NEVER
        for a in range(first, last):  # as in ``reach``; a call for each node would double the time
            kind, s = kinds[a], source[a]
            t = finish[s] if kind == FS or kind == FF else start[s]
            if percents[a] != 0 and t != NEVER:
                i = s if s < n else s - n
                length = durations[i]
                if s >= n or spans[s] == 1:
                    length = worked(pool, calendars[i], finish[s]) - worked(pool, calendars[i], start[s])
                lags[a] = int(np.floor(length * percents[a] / 100_000 + 0.5))
            if kind == WARN:
                t = NEVER
            if t != NEVER:
                if lags[a] != 0:
                    t = shifted(pool, calendar if lag_calendars[a] < 0 else lag_calendars[a], t, lags[a])
                if kind == FF or kind == SF:
                    from_finish = max(from_finish, t)
                else:
                    from_start = max(from_start, t)
            reached[a] = t
        if not leaf[j]:
            start[j] = finish[j] = from_start
            for a in range(first, last):
                driving[a] = reached[a] == from_start and kinds[a] != WARN
            continue
        stretched = spans[j] == 1 and is_stretched(kinds, first, last)
        if stretched:
            duration = 0
        if progress[j] != NOT_BEGUN:
            for a in range(first, last):
                driving[a] = 0
            if progress[j] == REST_GOES_ON:
                from_start = NEVER
            from_finish = max(from_finish, finish_from[j])
            rest = 0 if stretched else rests[j]
            c1, c2 = crew_into[crew_of[j]], crew_into[crew_of[j] + 1]
            start[j], cause[j] = actual_start[j], BY_ACTUAL
            work[j] = worked(pool, calendar, start[j])
            free_start[j], finish[j] = place_rest(
                pool,
                calendar,
                crew_calendars,
                c1,
                c2,
                duration,
                rest,
                tasks.rest_from[j],
                start[j],
                from_start,
                from_finish,
            )
            continue
        held = NEVER
        if keeps_any:
            held, moved_to = keep_gaps(
                pool, calendar, duration, j, first, last, arcs, reached, start, finish, before, kept
            )
            if moved_to != NEVER and before.limit_moves[j] and start_from[j] > max(from_start, base[j], held):
                start_from[j] = min(start_from[j], moved_to)
        from_start = max(from_start, base[j], start_from[j], held)
        from_finish = max(from_finish, finish_from[j])
        has_crew = crew_of[j] > 0 and duration > 0
        c1, c2 = crew_into[crew_of[j]], crew_into[crew_of[j] + 1]
        # Anything that arrives in the pause before this start is as good as on it.
        if has_crew:
            logic = crew_earliest_start(pool, crew_calendars, c1, c2, duration, from_start, from_finish)
            tie = crew_pause_before(pool, crew_calendars, c1, c2, logic)
        elif stretched:
            logic = next_working(pool, calendar, from_start)
            tie = pause_before(pool, calendar, logic)
        else:
            logic = earliest_start(pool, calendar, duration, from_start, from_finish)
            tie = logic if duration == 0 else pause_before(pool, calendar, logic)
        cause[j] = BY_LIMIT if base[j] < tie else BY_BASE
        if held >= tie and base[j] < tie:
            cause[j] = BY_GAP
        for a in range(first, last):
            if reached[a] == NEVER:
                driving[a] = 0
                continue
            if kinds[a] != FF and kinds[a] != SF:
                driving[a] = reached[a] >= tie
            elif stretched:
                driving[a] = reached[a] == from_finish
                continue  # it holds the finish of the span, not its start
            elif has_crew:
                driving[a] = crew_start_for_finish(pool, crew_calendars, c1, c2, duration, reached[a]) >= tie
            elif duration > 0:
                driving[a] = start_side(pool, calendar, worked(pool, calendar, reached[a]) - duration) == logic
            else:
                driving[a] = reached[a] >= tie
            if driving[a]:
                cause[j] = BY_LINK
        free_start[j] = logic
        if has_crew:
            release = logic if holds[j] == 0 else held_start(pool, calendar, duration, logic, holds[j])
            start[j] = crew_earliest_start(pool, crew_calendars, c1, c2, duration, release, NEVER)
            finish[j] = crew_finish(pool, crew_calendars, c1, c2, duration, release)
            work[j] = worked(pool, calendar, start[j])
            continue
        start[j] = held_start(pool, calendar, duration, logic, holds[j])
        work[j] = worked(pool, calendar, start[j])
        if stretched:
            finish[j] = max(start[j], from_finish)
        else:
            finish[j] = start[j] if duration == 0 else finish_side(pool, calendar, work[j] + duration)
    return moved
