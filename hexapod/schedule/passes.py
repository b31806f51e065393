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
from hexapod.schedule.codes import BY_BASE, BY_LIMIT, BY_LINK, FF, FOREVER, FS, NEVER, SF
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
    """The part of a structure that the kernels walk. They take tuples apart once: numba is slow at it."""

    into: Ints
    source: Ints
    kind: Ints
    lag: Ints
    order: Ints
    leaf: Ints


class Forward(NamedTuple):
    """Early dates by node; ``free_start`` is a leaf's early start before a levelling hold, ``work`` its W.

    ``driving`` marks the arcs that hold their node where it is, ``cause`` what each leaf's start rests on.
    """

    start: Ints
    finish: Ints
    free_start: Ints
    work: Ints
    driving: Ints
    cause: Ints


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
        if t != NEVER:  # a gate may hold nothing back
            t = shifted(pool, calendar, t, lags[a])
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
def close_of(first: int, last: int, source: Ints, start: Ints, finish: Ints) -> tuple[int, int]:
    """Earliest start and latest finish of what a summary's close gathers."""
    earliest, latest = FOREVER, NEVER
    for a in range(first, last):
        earliest = min(earliest, start[source[a]])
        latest = max(latest, finish[source[a]])
    return earliest, latest


@njit(cache=True, nogil=True)
def forward_pass(pool: CalendarPool, arcs: Arcs, tasks: TaskArrays) -> Forward:
    """Every node as early as its arcs, limits and base allow."""
    into, source, kinds, lags, order, leaf = (
        arcs.into,
        arcs.source,
        arcs.kind,
        arcs.lag,
        arcs.order,
        arcs.leaf,
    )
    calendars, durations, holds = tasks.calendar, tasks.duration, tasks.hold
    base, start_from, finish_from = tasks.base, tasks.start_from, tasks.finish_from
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
            kind = kinds[a]
            t = finish[source[a]] if kind == FS or kind == FF else start[source[a]]
            if t != NEVER:
                if lags[a] != 0:
                    t = shifted(pool, calendar, t, lags[a])
                if kind == FF or kind == SF:
                    from_finish = max(from_finish, t)
                else:
                    from_start = max(from_start, t)
            reached[a] = t
        if not leaf[j]:
            start[j] = finish[j] = from_start
            for a in range(first, last):
                driving[a] = reached[a] == from_start
            continue
        from_start = max(from_start, base[j], start_from[j])
        from_finish = max(from_finish, finish_from[j])
        logic = earliest_start(pool, calendar, duration, from_start, from_finish)
        # Anything that arrives in the pause before this start is as good as on it.
        tie = logic if duration == 0 else pause_before(pool, calendar, logic)
        cause[j] = BY_LIMIT if base[j] < tie else BY_BASE
        for a in range(first, last):
            if duration > 0 and (kinds[a] == FF or kinds[a] == SF) and reached[a] != NEVER:
                driving[a] = start_side(pool, calendar, worked(pool, calendar, reached[a]) - duration) == logic
            else:
                driving[a] = reached[a] >= tie
            if driving[a]:
                cause[j] = BY_LINK
        free_start[j] = logic
        start[j] = held_start(pool, calendar, duration, logic, holds[j])
        work[j] = worked(pool, calendar, start[j])
        finish[j] = start[j] if duration == 0 else finish_side(pool, calendar, work[j] + duration)
    return Forward(start, finish, free_start, work, driving, cause)


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
def _work_by(pool: CalendarPool, calendar: int, start_bound: int, finish_bound: int, duration: int) -> int:
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
def backward_pass(pool: CalendarPool, arcs: Arcs, tasks: TaskArrays, early: Forward, project_finish: Ints) -> Backward:
    """Every leaf as late as its successors, limits and its project's finish allow; both floats.

    Two bounds run back together: from the successors' late dates (total float) and from their early ones
    (free float). A link from a summary's earliest start binds the leaf that starts first.
    """
    into, source, kinds, lags, order, leaf = (
        arcs.into,
        arcs.source,
        arcs.kind,
        arcs.lag,
        arcs.order,
        arcs.leaf,
    )
    project_of, calendars, durations, holds = tasks.project, tasks.calendar, tasks.duration, tasks.hold
    start_until, finish_until = tasks.start_until, tasks.finish_until
    early_start, before_hold, work = early.start, early.free_start, early.work
    n = len(durations)
    late_start = np.full(n, NEVER, dtype=np.int64)
    late_finish = np.full(n, NEVER, dtype=np.int64)
    total = np.zeros(n, dtype=np.int64)
    free = np.zeros(n, dtype=np.int64)
    bounds = np.full((4, 2 * n), FOREVER, dtype=np.int64)  # late start, late finish, free start, free finish
    for at in range(len(order) - 1, -1, -1):
        j = order[at]
        first, last = into[j], into[j + 1]
        if j >= n:
            for a in range(first, last):
                s = source[a]
                for b in (1, 3):
                    bounds[b, s] = min(bounds[b, s], bounds[b, j])
                if early_start[s] == early_start[j]:
                    for b in (0, 2):
                        bounds[b, s] = min(bounds[b, s], bounds[b, j])
            continue
        calendar, late, now, hold, duration = calendars[j], 0, 0, 0, 0
        on_start, on_finish = bounds[0, j], bounds[1, j]
        free_on_start, free_on_finish = bounds[2, j], bounds[3, j]
        if leaf[j]:
            end = project_finish[project_of[j]]
            until_start = min(on_start, start_until[j])
            until_finish = min(on_finish, finish_until[j], end)
            free_until = min(free_on_finish, end)
            duration, hold, now = durations[j], holds[j], work[j]
            # What precedes is bound by the start before the hold, and by the last moment that counts as
            # this finish.
            if duration == 0:
                at_latest = min(until_start, until_finish)
                late_start[j] = late_finish[j] = at_latest
                total[j] = worked(pool, calendar, at_latest) - now
                free[j] = max(0, worked(pool, calendar, min(free_on_start, free_until)) - now)
                on_start = on_finish = retreat(pool, calendar, at_latest, hold)
            else:
                late = _work_by(pool, calendar, until_start, until_finish, duration)
                late_start[j] = start_side(pool, calendar, late)
                late_finish[j] = finish_side(pool, calendar, late + duration)
                total[j] = late - now
                if until_finish == free_until and until_start == free_on_start:
                    free[j] = max(0, total[j])
                else:
                    free[j] = max(0, _work_by(pool, calendar, free_on_start, free_until, duration) - now)
                on_start = late_start[j] if hold == 0 else start_side(pool, calendar, late - hold)
                on_finish = NEVER  # worked out where a link asks for it
            free_on_start = before_hold[j]
            free_on_finish = free_on_start if duration == 0 else NEVER
        for a in range(first, last):
            kind, s, lag = kinds[a], source[a], lags[a]
            if kind == FF or kind == SF:
                if on_finish == NEVER:
                    on_finish = start_side(pool, calendar, late - hold + duration)
                    free_on_finish = start_side(pool, calendar, now - hold + duration)
                bound, free_bound = on_finish, free_on_finish
            else:
                bound, free_bound = on_start, free_on_start
            b = 1 if kind == FS or kind == FF else 0
            if bound < FOREVER:
                bounds[b, s] = min(bounds[b, s], latest_before(pool, calendar, bound, lag))
            if free_bound < FOREVER:
                bounds[b + 2, s] = min(bounds[b + 2, s], latest_before(pool, calendar, free_bound, lag))
    return Backward(late_start, late_finish, total, free)


@njit(cache=True, nogil=True)
def longest_path(arcs: Arcs, tasks: TaskArrays, early: Forward, project_finish: Ints) -> Ints:
    """Leaves from which driving arcs lead to their project's finish.

    On a summary's close, 1 marks its finish as driving, 2 its start.
    """
    into, source, kinds, order, leaf = arcs.into, arcs.source, arcs.kind, arcs.order, arcs.leaf
    project_of = tasks.project
    start, finish, driving = early.start, early.finish, early.driving
    n = len(project_of)
    marked = np.zeros(2 * n, dtype=np.int64)
    for at in range(len(order) - 1, -1, -1):
        j = order[at]
        if j < n and leaf[j] and finish[j] == project_finish[project_of[j]]:
            marked[j] = 1
        if not marked[j]:
            continue
        for a in range(into[j], into[j + 1]):
            s, kind = source[a], kinds[a]
            if j >= n:
                if marked[j] & 1 and finish[s] == finish[j]:
                    marked[s] |= 1
                if marked[j] & 2 and start[s] == start[j]:
                    marked[s] |= 2 if s >= n else 1
            elif driving[a]:
                marked[s] |= 1 if s < n or kind == FS or kind == FF else 2
    return np.minimum(marked[:n], 1) * leaf


@njit(cache=True, nogil=True)
def gather_summaries(
    bottom_up: Ints,
    tasks: TaskArrays,
    leaf: Ints,
    early: Forward,
    late: Backward,
    critical: Ints,
    longest: Ints,
) -> None:
    """Give each summary, in place, the span of what lies below it and its least float."""
    parent = tasks.parent
    early_start, early_finish = early.start, early.finish
    late_start, late_finish = late.start, late.finish
    total_float, free_float = late.total_float, late.free_float
    for j in bottom_up:
        if not leaf[j]:
            early_start[j], early_finish[j] = FOREVER, NEVER
            late_start[j], late_finish[j] = FOREVER, NEVER
            total_float[j] = free_float[j] = FOREVER
    for j in bottom_up:
        p = parent[j]
        if p < 0:
            continue
        early_start[p] = min(early_start[p], early_start[j])
        early_finish[p] = max(early_finish[p], early_finish[j])
        late_start[p] = min(late_start[p], late_start[j])
        late_finish[p] = max(late_finish[p], late_finish[j])
        total_float[p] = min(total_float[p], total_float[j])
        free_float[p] = min(free_float[p], free_float[j])
        critical[p] = max(critical[p], critical[j])
        longest[p] = max(longest[p], longest[j])


@njit(cache=True, nogil=True)
def working_spans(pool: CalendarPool, calendar: Ints, which: Ints, start: Ints, finish: Ints) -> Ints:
    """Working minutes from start to finish, for the slots named in ``which``."""
    found = np.empty(len(which), dtype=np.int64)
    for i in range(len(which)):
        j = which[i]
        found[i] = worked(pool, calendar[j], finish[j]) - worked(pool, calendar[j], start[j])
    return found
