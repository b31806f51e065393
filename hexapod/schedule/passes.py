"""The forward and the backward pass, floats, the longest path and the summaries' spans.

Source: Kelley and Walker, "Critical-Path Planning and Scheduling" (1959), over precedence relations of
all four kinds with lags as in Elmaghraby and Kamburowski, "The analysis of activity networks under
generalized precedence relations" (1992); every sum is taken on the calendar of the task that it moves.
Time and space are linear in tasks and links.

All times are int64 minutes; nodes and arcs as in ``structure``. Work is compared as W(t), so that Friday
17:00 and Monday 08:00 are one moment for whoever works the standard week.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import njit

from hexapod.schedule.arrays import TaskArrays
from hexapod.schedule.codes import BY_BASE, BY_GAP, BY_LATENESS, BY_LIMIT, BY_LINK, FF, FOREVER, FS, NEVER, SF, WARN
from hexapod.schedule.crews import (
    crew_earliest_start,
    crew_finish,
    crew_latest_finish,
    crew_latest_start,
    crew_pause_before,
    crew_start_for_finish,
    latest_work,
)
from hexapod.worktime.arithmetic import (
    advance,
    finish_side,
    latest_before,
    next_working,
    pause_before,
    retreat,
    shifted,
    start_side,
    worked,
)
from hexapod.worktime.calendars import CalendarPool, Ints


class Arcs(NamedTuple):
    """The part of a structure that the kernels walk. They take tuples apart once: numba is slow at it.

    ``lag_calendar`` -1 is the successor's. The forward pass writes the lags that are a ``percent`` of their
    predecessor's duration (in thousandths) into ``lag``. ``keeps`` marks links that keep the gap before their
    successor, ``kept`` is how much that is.
    """

    into: Ints
    source: Ints
    kind: Ints
    lag: Ints
    lag_calendar: Ints
    percent: Ints
    order: Ints
    leaf: Ints
    keeps: Ints
    kept: Ints


class Before(NamedTuple):
    """Where tasks lay before an edit, by slot, for links that keep their gap; NEVER for what takes no part in it.

    ``is_said`` marks tasks whose own start the edit is about, ``limit_moves`` those with nothing but a limit of "starts
    no earlier" on their start: it moves along when what it waits for is done sooner. All empty: nothing was before.
    """

    start: Ints
    finish: Ints
    is_said: Ints
    limit_moves: Ints


class Crews(NamedTuple):
    """Calendars of the tasks whose resources do not share theirs; as in ``Timing``."""

    into: Ints
    calendars: Ints


class Forward(NamedTuple):
    """Early dates by node; ``free_start`` is a leaf's early start before a levelling hold, ``work`` its W.

    ``driving`` marks the arcs that hold their node where it is, ``cause`` what each leaf's start rests on.
    The backward pass moves what is to be as late as possible. ``kept``, by arc, and ``start_from``, by task, are the
    gaps and the limits that an edit leaves; without one they are those of the arcs and the tasks.
    """

    start: Ints
    finish: Ints
    free_start: Ints
    work: Ints
    driving: Ints
    cause: Ints
    kept: Ints
    start_from: Ints


class Backward(NamedTuple):
    """Late dates and floats (working minutes on the task's calendar) by task slot."""

    start: Ints
    finish: Ints
    total_float: Ints
    free_float: Ints


@njit(cache=True, nogil=True)
def reach(
    pool: CalendarPool,
    calendar: int,
    first: int,
    last: int,
    source: Ints,
    kinds: Ints,
    lags: Ints,
    lag_calendars: Ints,
    start: Ints,
    finish: Ints,
    reached: Ints,
) -> tuple[int, int]:
    """What the arcs first to last demand of their node: its start not before, its finish not before.

    For whoever places nodes one by one; the forward pass does the same in its own loop.

    Writes into ``reached`` the moment that each arc arrives at.
    """
    from_start, from_finish = NEVER, NEVER
    for a in range(first, last):
        kind, s = kinds[a], source[a]
        t = finish[s] if kind == FS or kind == FF else start[s]
        if kind == WARN:
            t = NEVER
        if t != NEVER:  # a gate may hold nothing back
            t = shifted(pool, calendar if lag_calendars[a] < 0 else lag_calendars[a], t, lags[a])
            if kind == FF or kind == SF:
                from_finish = max(from_finish, t)
            else:
                from_start = max(from_start, t)
        reached[a] = t
    return from_start, from_finish


@njit(cache=True, nogil=True)
def earliest_start(pool: CalendarPool, calendar: int, duration: int, from_start: int, from_finish: int) -> int:
    """The first moment at which work of that duration can start so that neither bound is broken."""
    if duration == 0:
        return max(from_start, from_finish)
    start = next_working(pool, calendar, from_start)
    if from_finish > NEVER:
        needed = start_side(pool, calendar, worked(pool, calendar, from_finish) - duration)
        start = max(start, needed)
    return start


@njit(cache=True, nogil=True)
def held_start(pool: CalendarPool, calendar: int, duration: int, start: int, hold: int) -> int:
    """A start moved on by a levelling hold."""
    if hold == 0 or duration == 0:
        return advance(pool, calendar, start, hold)
    return start_side(pool, calendar, worked(pool, calendar, start) + hold)


@njit(cache=True, nogil=True)
def is_stretched(kinds: Ints, first: int, last: int) -> bool:
    """Whether a span's finish is given by a link; without one it lasts as long as its own duration."""
    for a in range(first, last):  # noqa: SIM110 - numba knows no generators
        if kinds[a] == FF or kinds[a] == SF:
            return True
    return False


@njit(cache=True, nogil=True)
def close_of(first: int, last: int, source: Ints, start: Ints, finish: Ints) -> tuple[int, int]:
    """Earliest start and latest finish of what a summary's close gathers."""
    earliest, latest = FOREVER, NEVER
    for a in range(first, last):
        earliest = min(earliest, start[source[a]])
        latest = max(latest, finish[source[a]])
    return earliest, latest


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
def forward_pass(pool: CalendarPool, arcs: Arcs, tasks: TaskArrays, crews: Crews, before: Before) -> Forward:
    """Every node as early as its arcs, limits and base allow, with the gaps that links keep."""
    into, source, kinds, lags, order, leaf = arcs.into, arcs.source, arcs.kind, arcs.lag, arcs.order, arcs.leaf
    lag_calendars, percents = arcs.lag_calendar, arcs.percent
    calendars, durations, holds, crew_of, spans = tasks.calendar, tasks.duration, tasks.hold, tasks.crew, tasks.span
    base, start_from, finish_from = tasks.base, tasks.start_from, tasks.finish_from
    kept, keeps_any = arcs.kept, arcs.keeps.any()
    if len(before.start) > 0:
        kept, start_from = kept.copy(), start_from.copy()
    crew_into, crew_calendars = crews.into, crews.calendars
    n = len(durations)
    start = np.full(2 * n, NEVER, dtype=np.int64)
    finish = np.full(2 * n, NEVER, dtype=np.int64)
    free_start = np.full(n, NEVER, dtype=np.int64)
    work = np.zeros(n, dtype=np.int64)
    driving = np.zeros(len(source), dtype=np.int64)
    cause = np.zeros(n, dtype=np.int64)
    reached = np.empty(len(source), dtype=np.int64)
    for j in order:
        first, last = into[j], into[j + 1]
        if j >= n:
            start[j] = FOREVER
            for a in range(first, last):
                start[j] = min(start[j], start[source[a]])
                finish[j] = max(finish[j], finish[source[a]])
            continue
        calendar, duration = calendars[j], durations[j]
        from_start, from_finish = NEVER, NEVER
        for a in range(first, last):  # as in ``reach``; a call for each node would double the time
            kind, s = kinds[a], source[a]
            t = finish[s] if kind == FS or kind == FF else start[s]
            if kind == WARN:
                t = NEVER
            if t != NEVER:
                if percents[a] != 0:
                    i = s if s < n else s - n
                    length = durations[i]
                    if s >= n or spans[s] == 1:
                        length = worked(pool, calendars[i], finish[s]) - worked(pool, calendars[i], start[s])
                    lags[a] = int(np.floor(length * percents[a] / 100_000 + 0.5))
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
    return Forward(start, finish, free_start, work, driving, cause, kept, start_from)


@njit(cache=True, nogil=True)
def project_finishes(tasks: TaskArrays, leaf: Ints, finish: Ints, projects: int) -> Ints:
    """The latest finish of each project's leaves."""
    project_of = tasks.project
    latest = np.full(projects, NEVER, dtype=np.int64)
    for i in range(len(leaf)):
        if leaf[i]:
            latest[project_of[i]] = max(latest[project_of[i]], finish[i])
    return latest


@njit(cache=True, nogil=True)
def backward_pass(
    pool: CalendarPool, arcs: Arcs, tasks: TaskArrays, crews: Crews, early: Forward, project_finish: Ints
) -> Backward:
    """Every leaf as late as its successors, limits and its project's finish allow; both floats.

    Two bounds run back together: from the successors' late dates (total float) and from their early ones
    (free float). A link from a summary's earliest start binds the leaf that starts first. What is to be as
    late as possible is moved, in ``early``, by its free float.
    """
    into, source, kinds, lags, order, leaf = arcs.into, arcs.source, arcs.kind, arcs.lag, arcs.order, arcs.leaf
    lag_calendars = arcs.lag_calendar
    project_of, calendars, durations, holds = tasks.project, tasks.calendar, tasks.duration, tasks.hold
    start_until, finish_until, crew_of = tasks.start_until, tasks.finish_until, tasks.crew
    spans, as_late = tasks.span, tasks.late
    crew_into, crew_calendars = crews.into, crews.calendars
    early_start, early_finish, before_hold, work, cause = (
        early.start,
        early.finish,
        early.free_start,
        early.work,
        early.cause,
    )
    n = len(durations)
    late_start = np.full(n, NEVER, dtype=np.int64)
    late_finish = np.full(n, NEVER, dtype=np.int64)
    total = np.zeros(n, dtype=np.int64)
    free = np.zeros(n, dtype=np.int64)
    bounds = np.full((2 * n, 4), FOREVER, dtype=np.int64)  # late start, late finish, free start, free finish
    for at in range(len(order) - 1, -1, -1):
        j = order[at]
        first, last = into[j], into[j + 1]
        if j >= n:
            for a in range(first, last):
                s = source[a]
                for b in (1, 3):
                    bounds[s, b] = min(bounds[s, b], bounds[j, b])
                if early_start[s] == early_start[j]:
                    for b in (0, 2):
                        bounds[s, b] = min(bounds[s, b], bounds[j, b])
            continue
        calendar, late, now, hold, duration = calendars[j], 0, 0, 0, 0
        on_start, on_finish = bounds[j, 0], bounds[j, 1]
        free_on_start, free_on_finish = bounds[j, 2], bounds[j, 3]
        if leaf[j]:
            end = project_finish[project_of[j]]
            until_start = min(on_start, start_until[j])
            until_finish = min(on_finish, finish_until[j], end)
            free_until = min(free_on_finish, end)
            duration, hold, now = durations[j], holds[j], work[j]
            # What precedes is bound by the start before the hold, and by the last moment that counts as
            # this finish.
            if spans[j] == 1 and is_stretched(kinds, first, last):
                late_start[j], late_finish[j] = min(until_start, until_finish), until_finish
                done = worked(pool, calendar, early_finish[j])
                total[j] = min(worked(pool, calendar, late_start[j]) - now, worked(pool, calendar, until_finish) - done)
                room = worked(pool, calendar, free_until) - done
                if free_on_start < FOREVER:
                    room = min(room, worked(pool, calendar, free_on_start) - now)
                free[j] = max(0, room)
                on_start, on_finish = late_start[j], late_finish[j]
                free_on_start, free_on_finish = before_hold[j], early_finish[j]
            elif crew_of[j] > 0 and duration > 0:
                c1, c2 = crew_into[crew_of[j]], crew_into[crew_of[j] + 1]
                release = crew_latest_start(pool, crew_calendars, c1, c2, duration, until_start, until_finish)
                late_start[j] = crew_earliest_start(pool, crew_calendars, c1, c2, duration, release, NEVER)
                late_finish[j] = crew_finish(pool, crew_calendars, c1, c2, duration, release)
                done = worked(pool, calendar, early_finish[j])
                total[j] = min(
                    worked(pool, calendar, late_start[j]) - now, worked(pool, calendar, late_finish[j]) - done
                )
                free_release = crew_latest_start(pool, crew_calendars, c1, c2, duration, free_on_start, free_until)
                free_release = crew_earliest_start(pool, crew_calendars, c1, c2, duration, free_release, NEVER)
                free_end = crew_finish(pool, crew_calendars, c1, c2, duration, free_release)
                room = min(worked(pool, calendar, free_release) - now, worked(pool, calendar, free_end) - done)
                free[j] = max(0, room)
                if as_late[j] and min(free[j], total[j]) > 0:
                    release_now = min(free_release, release)
                    early_start[j] = crew_earliest_start(pool, crew_calendars, c1, c2, duration, release_now, NEVER)
                    early_finish[j] = crew_finish(pool, crew_calendars, c1, c2, duration, release_now)
                    work[j] = worked(pool, calendar, early_start[j])
                    total[j] -= work[j] - now
                    free[j] = max(0, free[j] - (work[j] - now))
                    cause[j] = BY_LATENESS
                    before_hold[j] = start_side(pool, calendar, work[j] - hold)
                free_on_start = before_hold[j]
                free_on_finish = crew_latest_finish(pool, crew_calendars, c1, c2, duration, before_hold[j])
                on_start = release if hold == 0 else start_side(pool, calendar, worked(pool, calendar, release) - hold)
                on_finish = crew_latest_finish(pool, crew_calendars, c1, c2, duration, on_start)
            elif duration == 0:
                at_latest = min(until_start, until_finish)
                free_latest = min(free_on_start, free_until)
                if as_late[j] and min(free_latest, at_latest) > early_start[j]:
                    early_start[j] = early_finish[j] = min(free_latest, at_latest)
                    now = work[j] = worked(pool, calendar, early_start[j])
                    cause[j] = BY_LATENESS
                    before_hold[j] = retreat(pool, calendar, early_start[j], hold)
                late_start[j] = late_finish[j] = at_latest
                total[j] = worked(pool, calendar, at_latest) - now
                free[j] = max(0, worked(pool, calendar, free_latest) - now)
                on_start = on_finish = retreat(pool, calendar, at_latest, hold)
                free_on_start = free_on_finish = before_hold[j]
            else:
                late = latest_work(pool, calendar, until_start, until_finish, duration)
                late_start[j] = start_side(pool, calendar, late)
                late_finish[j] = finish_side(pool, calendar, late + duration)
                total[j] = late - now
                if until_finish == free_until and until_start == free_on_start:
                    free[j] = max(0, total[j])
                else:
                    free[j] = max(0, latest_work(pool, calendar, free_on_start, free_until, duration) - now)
                if as_late[j] and min(free[j], total[j]) > 0:
                    by = min(free[j], total[j])
                    now = work[j] = now + by
                    early_start[j] = start_side(pool, calendar, now)
                    early_finish[j] = finish_side(pool, calendar, now + duration)
                    total[j] -= by
                    free[j] -= by
                    cause[j] = BY_LATENESS
                    before_hold[j] = start_side(pool, calendar, now - hold)
                on_start = late_start[j] if hold == 0 else start_side(pool, calendar, late - hold)
                on_finish = NEVER  # worked out where a link asks for it
                free_on_start = before_hold[j]
                free_on_finish = NEVER
        for a in range(first, last):
            kind, s, lag = kinds[a], source[a], lags[a]
            if kind == WARN:
                continue
            if kind == FF or kind == SF:
                if on_finish == NEVER:
                    on_finish = start_side(pool, calendar, late - hold + duration)
                    free_on_finish = start_side(pool, calendar, now - hold + duration)
                bound, free_bound = on_finish, free_on_finish
            else:
                bound, free_bound = on_start, free_on_start
            b = 1 if kind == FS or kind == FF else 0
            counted = calendar if lag_calendars[a] < 0 else lag_calendars[a]
            if bound < FOREVER:
                bounds[s, b] = min(bounds[s, b], latest_before(pool, counted, bound, lag))
            if free_bound < FOREVER:
                bounds[s, b + 2] = min(bounds[s, b + 2], latest_before(pool, counted, free_bound, lag))
    return Backward(late_start, late_finish, total, free)


@njit(cache=True, nogil=True)
def longest_path(arcs: Arcs, tasks: TaskArrays, early: Forward, project_finish: Ints) -> Ints:
    """Leaves from which driving arcs lead to their project's finish.

    On a summary's close, 1 marks its finish as driving, 2 its start.
    """
    into, source, kinds, order, leaf = arcs.into, arcs.source, arcs.kind, arcs.order, arcs.leaf
    project_of, spans = tasks.project, tasks.span
    start, finish, driving, cause = early.start, early.finish, early.driving, early.cause
    n = len(project_of)
    marked = np.zeros(2 * n, dtype=np.int64)
    for at in range(len(order) - 1, -1, -1):
        j = order[at]
        if j < n and leaf[j] and finish[j] == project_finish[project_of[j]] and cause[j] != BY_LATENESS:
            marked[j] = 1
        if not marked[j]:
            continue
        by_finish_only = j < n and spans[j] == 1 and is_stretched(kinds, into[j], into[j + 1])
        for a in range(into[j], into[j + 1]):
            s, kind = source[a], kinds[a]
            if j >= n:
                if marked[j] & 1 and finish[s] == finish[j]:
                    marked[s] |= 1
                if marked[j] & 2 and start[s] == start[j]:
                    marked[s] |= 2 if s >= n else 1
            elif driving[a] and (not by_finish_only or kind == FF or kind == SF):  # a span ends with what ends it
                marked[s] |= 1 if s < n or kind == FS or kind == FF else 2
    return np.minimum(marked[:n], 1) * leaf * (1 - spans)


@njit(cache=True, nogil=True)
def gather_summaries(
    bottom_up: Ints,
    tasks: TaskArrays,
    leaf: Ints,
    early: Forward,
    late: Backward,
    critical: Ints,
    longest: Ints,
    start: Ints,
    finish: Ints,
) -> None:
    """Give each summary, in place, the span of what lies below it and its least float."""
    parent = tasks.parent
    early_start, early_finish = early.start, early.finish
    late_start, late_finish = late.start, late.finish
    total_float, free_float = late.total_float, late.free_float
    for j in bottom_up:
        if not leaf[j]:
            start[j], finish[j] = FOREVER, NEVER
            early_start[j], early_finish[j] = FOREVER, NEVER
            late_start[j], late_finish[j] = FOREVER, NEVER
            total_float[j] = free_float[j] = FOREVER
    for j in bottom_up:
        p = parent[j]
        if p < 0:
            continue
        start[p] = min(start[p], start[j])
        finish[p] = max(finish[p], finish[j])
        early_start[p] = min(early_start[p], early_start[j])
        early_finish[p] = max(early_finish[p], early_finish[j])
        late_start[p] = min(late_start[p], late_start[j])
        late_finish[p] = max(late_finish[p], late_finish[j])
        total_float[p] = min(total_float[p], total_float[j])
        free_float[p] = min(free_float[p], free_float[j])
        critical[p] = max(critical[p], critical[j])
        longest[p] = max(longest[p], longest[j])


@njit(cache=True, nogil=True)
def working_minutes_between(pool: CalendarPool, calendar: Ints, begin: Ints, end: Ints) -> Ints:
    """Signed working minutes, each on its own calendar."""
    found = np.empty(len(calendar), dtype=np.int64)
    for i in range(len(calendar)):
        found[i] = worked(pool, calendar[i], end[i]) - worked(pool, calendar[i], begin[i])
    return found
