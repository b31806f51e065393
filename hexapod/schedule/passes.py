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
from numpy.typing import NDArray

from hexapod.schedule.arrays import TaskArrays
from hexapod.schedule.codes import BY_LATENESS, FF, FOREVER, FS, NEVER, SF, WARN
from hexapod.system.compiler import njit
from hexapod.worktime.arithmetic import (
    advance,
    next_working,
    shifted,
    start_side,
    worked,
)
from hexapod.worktime.calendars import CalendarPool, Ints

Flags = NDArray[np.uint8]  # one a node


class Arcs(NamedTuple):
    """The part of a structure that the kernels walk. They take tuples apart once: numba is slow at it.

    ``lag_calendar`` -1 is the successor's. Lags that are a ``percent`` of their predecessor's duration (in thousandths)
    are worked out in the forward pass. ``keeps`` marks links that keep the gap before their
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
    head: Ints
    out_into: Ints
    out: Ints


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
    lag: Ints


class Backward(NamedTuple):
    """Late dates and floats (working minutes on the task's calendar) by task slot.

    ``asks`` is by node what it asks of those before it: its late start and finish, from which total float follows, and
    its early ones, from which free float follows; FOREVER where it asks nothing.
    """

    start: Ints
    finish: Ints
    total_float: Ints
    free_float: Ints
    asks: Ints  # (nodes, 4)


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
def project_finishes(tasks: TaskArrays, leaf: Ints, finish: Ints, projects: int) -> Ints:
    """The latest finish of each project's leaves."""
    project_of = tasks.project
    latest = np.full(projects, NEVER, dtype=np.int64)
    for i in range(len(leaf)):
        if leaf[i]:
            latest[project_of[i]] = max(latest[project_of[i]], finish[i])
    return latest


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
    early_start: Ints,
    early_finish: Ints,
    late_start: Ints,
    late_finish: Ints,
    total_float: Ints,
    free_float: Ints,
    critical: Ints,
    longest: Ints,
    start: Ints,
    finish: Ints,
) -> None:
    """Give each summary, in place, the span of what lies below it and its least float."""
    parent = tasks.parent
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
