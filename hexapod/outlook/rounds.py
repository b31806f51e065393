"""Rounds of a plan: both passes over drawn lengths, several rounds at a time.

They place every node as the passes of ``schedule`` do, with the same calendars, links, lags, limits, holds, crews and
progress; what the rounds share, such as a link and its calendar, is looked up once for all of a block. Levelling holds
and limits stay. Source: Van Slyke, "Monte Carlo methods and the PERT problem" (1963).
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from hexapod.outlook.draws import Floats, Keys, Lengths, Table, draw_length, draw_normals, uniform
from hexapod.schedule.arrays import TaskArrays
from hexapod.schedule.begun import latest_rest, place_rest
from hexapod.schedule.codes import DONE, FF, FOREVER, FS, NEVER, NOT_BEGUN, REST_GOES_ON, SF, WARN
from hexapod.schedule.crews import (
    crew_earliest_start,
    crew_finish,
    crew_latest_finish,
    crew_latest_start,
    latest_work,
)
from hexapod.schedule.passes import Arcs, Crews, held_start, is_stretched
from hexapod.system.compiler import njit
from hexapod.worktime.arithmetic import (
    begin_of,
    finish_side,
    interval_at,
    latest_before,
    retreat,
    shifted,
    start_side,
    worked,
)
from hexapod.worktime.calendars import DONE as DONE_BEFORE
from hexapod.worktime.calendars import HEADER, LAST, CalendarPool, Ints

LANES = 32  # rounds of a block


class Varied(NamedTuple):
    """What differs from round to round. A row of ``slot`` a task whose length may: ``usual`` minutes if nothing is
    drawn, of the whole task, or of its rest where it is begun; ``drawn`` is its row of the lengths, or -1.

    A risk has a ``key`` and a ``chance``; rows ``into[q]`` to ``into[q + 1]`` of the delays are its own, each of them
    what it adds to the row ``delayed`` of the tasks.
    """

    slot: Ints
    usual: Ints
    drawn: Ints
    lengths: Lengths
    streams: Keys
    key: Keys
    chance: Floats
    into: Ints
    delayed: Ints
    delays: Lengths


class Found(NamedTuple):
    """What rounds bring; times are minutes from ``begin`` on, so that they need half the room. ``finish`` is of every
    task in the first rounds, ``lengths`` of the varied ones in the same, ``critical`` how often a task had no float
    left, ``projects`` the finish of each project in all rounds, ``happened`` whether each risk did."""

    finish: np.ndarray  # int32 (tasks, rounds that are kept)
    lengths: np.ndarray  # int32 (varied, rounds that are kept)
    critical: Ints
    projects: Ints  # (projects, rounds)
    happened: np.ndarray  # uint8 (risks, rounds)


class Lanes(NamedTuple):
    """The dates of a block of rounds: by node and lane, and by task and lane."""

    start: Ints
    finish: Ints
    free_start: Ints
    work: Ints
    length: Ints
    on_start: Ints
    on_finish: Ints
    flags: np.ndarray


@njit(cache=True, nogil=True)
def draw_rounds(varied: Varied, table: Table, first: int, lanes: int, length: Ints, drawn: Ints, happened) -> None:  # type: ignore[no-untyped-def]
    """The lengths of the varied tasks in a block of rounds, into ``length`` by slot, with what risks add."""
    common = np.empty((len(varied.streams), lanes))
    normals = np.empty(lanes)
    for s in range(len(varied.streams)):
        draw_normals(varied.streams[s], first, common[s])
    for i in range(len(varied.slot)):
        row = varied.drawn[i]
        if row < 0:
            drawn[i, :] = varied.usual[i]
        else:
            draw_length(varied.lengths, table, row, first, common, normals, drawn[i])
    added = np.empty(lanes, dtype=np.int64)
    for q in range(len(varied.key)):
        for r in range(lanes):
            happened[q, r] = uniform(varied.key[q], first + r) < varied.chance[q]
        for d in range(varied.into[q], varied.into[q + 1]):
            draw_length(varied.delays, table, d, first, common, normals, added)
            for r in range(lanes):
                if happened[q, r]:
                    drawn[varied.delayed[d], r] += added[r]
    for i in range(len(varied.slot)):
        for r in range(lanes):
            length[varied.slot[i], r] = drawn[i, r]


@njit(cache=True, nogil=True)
def place_rounds(pool: CalendarPool, arcs: Arcs, tasks: TaskArrays, crews: Crews, lanes: Lanes) -> None:
    """The forward pass of a block of rounds. ``lanes.length`` is of a task in all, or of its rest where it is begun."""
    into, source, kinds, order, leaf = arcs.into, arcs.source, arcs.kind, arcs.order, arcs.leaf
    lags, lag_calendars, percents, keeps, kept = arcs.lag, arcs.lag_calendar, arcs.percent, arcs.keeps, arcs.kept
    calendars, durations, holds, crew_of, spans = tasks.calendar, tasks.duration, tasks.hold, tasks.crew, tasks.span
    progress, actual_start, rests, rest_from = tasks.progress, tasks.actual_start, tasks.rest, tasks.rest_from
    actual_finish, bases, starts_from, finish_from = (
        tasks.actual_finish, tasks.base, tasks.start_from, tasks.finish_from,
    )  # fmt: skip
    start, finish, free_start, work, length = lanes.start, lanes.finish, lanes.free_start, lanes.work, lanes.length
    crew_into, crew_calendars = crews.into, crews.calendars
    n, count = len(durations), length.shape[1]
    begins, ends_from = np.empty(count, dtype=np.int64), np.empty(count, dtype=np.int64)
    held = np.empty(count, dtype=np.int64)
    for j in order:
        first, last = into[j], into[j + 1]
        if j >= n:
            start[j, :], finish[j, :] = FOREVER, NEVER
            for a in range(first, last):
                for r in range(count):
                    start[j, r] = min(start[j, r], start[source[a], r])
                    finish[j, r] = max(finish[j, r], finish[source[a], r])
            continue
        calendar = calendars[j]
        if leaf[j] and progress[j] == DONE:
            start[j, :], finish[j, :] = actual_start[j], actual_finish[j]
            continue
        stretched = leaf[j] and spans[j] == 1 and is_stretched(kinds, first, last)
        begins[:], ends_from[:], held[:] = NEVER, NEVER, NEVER
        for a in range(first, last):
            kind, s, lag = kinds[a], source[a], lags[a]
            if kind == WARN:
                continue
            by_finish, ends = kind == FS or kind == FF, kind == FF or kind == SF
            for r in range(count):
                t = finish[s, r] if by_finish else start[s, r]
                if t == NEVER:
                    continue
                if percents[a] != 0:
                    lag = _share_of(pool, tasks, lanes, s, r, percents[a])
                if lag != 0:
                    t = shifted(pool, calendar if lag_calendars[a] < 0 else lag_calendars[a], t, lag)
                if ends:
                    ends_from[r] = max(ends_from[r], t)
                else:
                    begins[r] = max(begins[r], t)
                if keeps[a] != 0 and kept[a] > 0 and leaf[j]:
                    own = 0 if stretched else length[j, r]
                    until = worked(pool, calendar, t) + kept[a] - (own if ends else 0)
                    side = start_side(pool, calendar, until) if own > 0 else finish_side(pool, calendar, until)
                    held[r] = max(held[r], side)
        if not leaf[j]:
            for r in range(count):
                start[j, r] = finish[j, r] = begins[r]
            continue
        c1, c2 = crew_into[crew_of[j]], crew_into[crew_of[j] + 1]
        if progress[j] != NOT_BEGUN:
            done = max(0, durations[j] - rests[j])
            for r in range(count):
                rest = 0 if stretched else length[j, r]
                whole = 0 if stretched else done + rest
                begin = NEVER if progress[j] == REST_GOES_ON else begins[r]
                end = max(ends_from[r], finish_from[j])
                start[j, r] = actual_start[j]
                free_start[j, r], finish[j, r] = place_rest(
                    pool, calendar, crew_calendars, c1, c2, whole, rest, rest_from[j], actual_start[j], begin, end
                )
            continue
        base = max(bases[j], starts_from[j])
        for r in range(count):
            duration = 0 if stretched else length[j, r]
            begin, end = max(begins[r], base, held[r]), max(ends_from[r], finish_from[j])
            if c2 > c1 and duration > 0:
                release = crew_earliest_start(pool, crew_calendars, c1, c2, duration, begin, end)
                if holds[j] != 0:
                    release = held_start(pool, calendar, duration, release, holds[j])
                start[j, r] = crew_earliest_start(pool, crew_calendars, c1, c2, duration, release, NEVER)
                finish[j, r] = crew_finish(pool, crew_calendars, c1, c2, duration, release)
                work[j, r] = worked(pool, calendar, start[j, r])
                continue
            if duration == 0 and not stretched:
                begin = max(begin, end)
                start[j, r] = finish[j, r] = held_start(pool, calendar, 0, begin, holds[j])
                work[j, r] = worked(pool, calendar, start[j, r])
                continue
            begin, done = _next_worked(pool, calendar, begin)
            if not stretched and end > NEVER:
                needed = worked(pool, calendar, end) - duration
                if needed > done:
                    begin, done = _on_start_side(pool, calendar, needed)
            if holds[j] != 0:
                begin = held_start(pool, calendar, duration, begin, holds[j])
                done = worked(pool, calendar, begin)
            start[j, r], work[j, r] = begin, done
            finish[j, r] = max(begin, end) if stretched else finish_side(pool, calendar, done + duration)


@njit(cache=True, nogil=True)
def _share_of(pool: CalendarPool, tasks: TaskArrays, lanes: Lanes, node: int, r: int, percent: int) -> int:
    """A lag of so many thousandths of a per cent of the length of a task in a round, or of a summary at its close."""
    n = len(tasks.duration)
    i = node if node < n else node - n
    whole = lanes.length[i, r]
    if tasks.progress[i] != NOT_BEGUN:
        whole += max(0, tasks.duration[i] - tasks.rest[i])
    if node >= n or tasks.span[i] == 1:
        calendar = tasks.calendar[i]
        whole = worked(pool, calendar, lanes.finish[node, r]) - worked(pool, calendar, lanes.start[node, r])
    elif tasks.progress[i] == DONE:
        whole = tasks.duration[i]
    return int(np.floor(whole * percent / 100_000 + 0.5))


@njit(cache=True, nogil=True)
def _next_worked(pool: CalendarPool, calendar: int, t: int) -> tuple[int, int]:
    """The first moment from ``t`` on at which work can start, and the working minutes up to it."""
    k = interval_at(pool, calendar, t)
    begin, done = begin_of(pool, calendar, k), pool[pool[calendar * HEADER + DONE_BEFORE] + k]
    if begin >= t or k == pool[calendar * HEADER + LAST]:
        return max(begin, t), done
    return t, done + t - begin


@njit(cache=True, nogil=True)
def _on_start_side(pool: CalendarPool, calendar: int, work: int) -> tuple[int, int]:
    t = start_side(pool, calendar, work)
    return t, worked(pool, calendar, t)


@njit(cache=True, nogil=True)
def bind_rounds(
    pool: CalendarPool, arcs: Arcs, tasks: TaskArrays, crews: Crews, lanes: Lanes, ends: Ints, bottom_up: Ints
) -> None:
    """The backward pass of a block of rounds, from the finish of each project: ``lanes.flags`` says which tasks have no
    float left."""
    into, kinds, order, leaf = arcs.into, arcs.kind, arcs.order, arcs.leaf
    lags, lag_calendar, percents, out_into, out, head = (
        arcs.lag, arcs.lag_calendar, arcs.percent, arcs.out_into, arcs.out, arcs.head,
    )  # fmt: skip
    calendars, durations, holds, progress = tasks.calendar, tasks.duration, tasks.hold, tasks.progress
    crew_of, spans, project_of, parent = tasks.crew, tasks.span, tasks.project, tasks.parent
    start_until, finish_until = tasks.start_until, tasks.finish_until
    start, finish, work, length, flags = lanes.start, lanes.finish, lanes.work, lanes.length, lanes.flags
    asks_start, asks_finish, free_start = lanes.on_start, lanes.on_finish, lanes.free_start
    crew_into, crew_calendars = crews.into, crews.calendars
    n, count = len(durations), length.shape[1]
    on_start, on_finish = np.empty(count, dtype=np.int64), np.empty(count, dtype=np.int64)
    for at in range(len(order) - 1, -1, -1):
        j = order[at]
        on_start[:], on_finish[:] = FOREVER, FOREVER
        for o in range(out_into[j], out_into[j + 1]):
            a = out[o]
            kind, k = kinds[a], head[a]
            if kind == WARN:
                continue
            if k >= n:  # the close of the summary above
                for r in range(count):
                    on_finish[r] = min(on_finish[r], asks_finish[k, r])
                    if start[j, r] == start[k, r]:
                        on_start[r] = min(on_start[r], asks_start[k, r])
                continue
            counted = calendars[k] if lag_calendar[a] < 0 else lag_calendar[a]
            for r in range(count):
                bound = asks_finish[k, r] if kind == FF or kind == SF else asks_start[k, r]
                if bound == FOREVER:
                    continue
                lag = lags[a]
                if percents[a] != 0:
                    is_done = k < n and leaf[k] and progress[k] == DONE
                    lag = 0 if is_done else _share_of(pool, tasks, lanes, j, r, percents[a])
                if lag != 0:
                    bound = latest_before(pool, counted, bound, lag)
                if kind == FS or kind == FF:
                    on_finish[r] = min(on_finish[r], bound)
                else:
                    on_start[r] = min(on_start[r], bound)
        if j >= n or not leaf[j]:
            for r in range(count):
                asks_start[j, r], asks_finish[j, r] = on_start[r], on_finish[r]
            continue
        calendar, hold = calendars[j], holds[j]
        c1, c2 = crew_into[crew_of[j]], crew_into[crew_of[j] + 1]
        holds_finish = is_stretched(kinds, into[j], into[j + 1])
        stretched = spans[j] == 1 and holds_finish
        for r in range(count):
            until_start = min(on_start[r], start_until[j])
            until_finish = min(on_finish[r], finish_until[j], ends[project_of[j], r])
            asked_start, asked_finish = FOREVER, FOREVER
            if progress[j] == DONE:
                total = FOREVER
            elif progress[j] != NOT_BEGUN:
                rest = 0 if stretched else length[j, r]
                if rest > 0 and c1 == c2:
                    late = worked(pool, calendar, until_finish) - rest
                    total = late - worked(pool, calendar, free_start[j, r])
                    asked_start = start_side(pool, calendar, late)
                    if holds_finish:
                        asked_finish = start_side(pool, calendar, late + rest)
                else:
                    end, asked_start, asked_finish = latest_rest(
                        pool, crew_calendars, c1, c2, rest, until_finish, finish[j, r]
                    )
                    total = worked(pool, calendar, end) - worked(pool, calendar, finish[j, r])
                if progress[j] == REST_GOES_ON:
                    asked_start = FOREVER
            elif stretched:
                late_start = min(until_start, until_finish)
                total = min(
                    worked(pool, calendar, late_start) - work[j, r],
                    worked(pool, calendar, until_finish) - worked(pool, calendar, finish[j, r]),
                )
                asked_start, asked_finish = late_start, until_finish
            elif c2 > c1 and length[j, r] > 0:
                duration = length[j, r]
                release = crew_latest_start(pool, crew_calendars, c1, c2, duration, until_start, until_finish)
                late_start = crew_earliest_start(pool, crew_calendars, c1, c2, duration, release, NEVER)
                late_finish = crew_finish(pool, crew_calendars, c1, c2, duration, release)
                total = min(
                    worked(pool, calendar, late_start) - work[j, r],
                    worked(pool, calendar, late_finish) - worked(pool, calendar, finish[j, r]),
                )
                asked_start = release
                if hold != 0:
                    asked_start = start_side(pool, calendar, worked(pool, calendar, release) - hold)
                asked_finish = crew_latest_finish(pool, crew_calendars, c1, c2, duration, asked_start)
            elif length[j, r] == 0:
                at_latest = min(until_start, until_finish)
                total = worked(pool, calendar, at_latest) - work[j, r]
                asked_start = asked_finish = retreat(pool, calendar, at_latest, hold)
            else:
                late = latest_work(pool, calendar, until_start, until_finish, length[j, r])
                total = late - work[j, r]
                asked_start = start_side(pool, calendar, late - hold)
                if holds_finish:
                    asked_finish = start_side(pool, calendar, late - hold + length[j, r])
            flags[j, r] = 1 if total <= 0 and spans[j] == 0 else 0
            asks_start[j, r], asks_finish[j, r] = asked_start, asked_finish
    for j in bottom_up:
        if not leaf[j]:
            flags[j, :] = 0
    for j in bottom_up:
        p = parent[j]
        if p >= 0:
            for r in range(count):
                flags[p, r] = max(flags[p, r], flags[j, r])


@njit(cache=True, nogil=True)
def run_rounds(
    pool: CalendarPool,
    arcs: Arcs,
    tasks: TaskArrays,
    crews: Crews,
    bottom_up: Ints,
    varied: Varied,
    table: Table,
    begin: int,
    first: int,
    last: int,
    with_floats: bool,
    found: Found,
) -> None:
    """The rounds from ``first``, an even one, up to ``last``, into their places of what is found; ``critical`` is added
    to."""
    n = len(tasks.duration)
    lanes = Lanes(
        np.full((2 * n, LANES), NEVER, dtype=np.int64),
        np.full((2 * n, LANES), NEVER, dtype=np.int64),
        np.full((n, LANES), NEVER, dtype=np.int64),
        np.zeros((n, LANES), dtype=np.int64),
        np.zeros((n, LANES), dtype=np.int64),
        np.full((2 * n, LANES), FOREVER, dtype=np.int64),
        np.full((2 * n, LANES), FOREVER, dtype=np.int64),
        np.zeros((n, LANES), dtype=np.uint8),
    )
    for j in range(n):
        lanes.length[j, :] = tasks.duration[j] if tasks.progress[j] == NOT_BEGUN else tasks.rest[j]
    drawn = np.zeros((len(varied.slot), LANES), dtype=np.int64)
    happened = np.zeros((len(varied.key), LANES), dtype=np.uint8)
    ends = np.empty((len(found.projects), LANES), dtype=np.int64)
    latest = np.full((n, LANES), NEVER, dtype=np.int64)
    finishes, lengths, critical, projects, whether = (
        found.finish, found.lengths, found.critical, found.projects, found.happened,
    )  # fmt: skip
    flags, kept = lanes.flags, finishes.shape[1]
    for block in range(first, last, LANES):
        draw_rounds(varied, table, block, LANES, lanes.length, drawn, happened)
        place_rounds(pool, arcs, tasks, crews, lanes)
        _gather(tasks, arcs.leaf, bottom_up, lanes.finish, latest, ends)
        if with_floats:
            bind_rounds(pool, arcs, tasks, crews, lanes, ends, bottom_up)
        rounds = min(LANES, last - block)
        for j in range(n):
            for r in range(rounds):
                critical[j] += flags[j, r]
                if block + r < kept and latest[j, r] > NEVER:
                    finishes[j, block + r] = latest[j, r] - begin
        for i in range(len(drawn)):
            for r in range(rounds):
                if block + r < kept:
                    lengths[i, block + r] = drawn[i, r]
        for r in range(rounds):
            for p in range(len(projects)):
                projects[p, block + r] = ends[p, r]
            for i in range(len(whether)):
                whether[i, block + r] = happened[i, r]


@njit(cache=True, nogil=True)
def _gather(tasks: TaskArrays, leaf: Ints, bottom_up: Ints, finish: Ints, latest: Ints, ends: Ints) -> None:
    """When each task, also a summary, and each project ends in the rounds of a block."""
    parent, project_of, count = tasks.parent, tasks.project, finish.shape[1]
    ends[:, :] = NEVER
    for j in bottom_up:
        if not leaf[j]:
            latest[j, :] = NEVER
    for j in bottom_up:
        if leaf[j]:
            for r in range(count):
                latest[j, r] = finish[j, r]
                ends[project_of[j], r] = max(ends[project_of[j], r], finish[j, r])
        p = parent[j]
        if p >= 0:
            for r in range(count):
                latest[p, r] = max(latest[p, r], latest[j, r])
