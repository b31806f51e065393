"""The serial schedule generation scheme to the minute, as a kernel.

Again and again the most urgent node whose predecessors are placed goes to the first moment at which logic allows it and
its resources are free (Kelley, "The critical-path method: resources planning and scheduling", 1963).
"""

from __future__ import annotations

import heapq
from typing import NamedTuple

import numpy as np

from hexapod.schedule.codes import NEVER
from hexapod.schedule.crews import crew_earliest_start, crew_finish
from hexapod.schedule.passes import close_of, earliest_start, held_start, reach
from hexapod.staffing.levelling.profile import END, book, fitted, free_profiles
from hexapod.staffing.widening import widened
from hexapod.system.compiler import njit
from hexapod.worktime.arithmetic import advance, interval_at, next_working, worked
from hexapod.worktime.calendars import CalendarPool, Ints

SEVERAL = -2  # in place of a calendar


class Layout(NamedTuple):
    """What is placed, by node: slots 0 to n - 1, then what closes each summary. Node j's arcs are
    ``into[j]:into[j + 1]``, the nodes behind it ``out_into[j]:out_into[j + 1]`` of ``out_target``, what slot j asks for
    ``asks_into[j]:asks_into[j + 1]``; resource r has ``levels[i]`` from ``times[i]`` on, i from ``steps_into[r]``."""

    pool: CalendarPool
    order: Ints
    into: Ints
    source: Ints
    kind: Ints
    lags: Ints  # by arc, percentages worked out
    lag_calendars: Ints
    out_into: Ints
    out_target: Ints
    leaf: Ints
    calendar: Ints
    duration: Ints
    base: Ints
    start_from: Ints
    finish_from: Ints
    span: Ints
    hold: Ints
    crew: Ints
    crew_into: Ints
    crew_calendars: Ints
    movable: Ints
    latest: Ints  # start
    asks_into: Ints
    resource: Ints
    units: Ints
    works: Ints  # the calendar on which the resource works
    most: Ints  # there ever is of each resource
    steps_into: Ints
    times: Ints
    levels: Ints
    window_end: int


class Booked(NamedTuple):
    """What each resource is booked for, a row each with ``size`` steps, and by which slot. ``works[r]`` is the calendar
    on which all of its work is done: then nobody works in the pauses of another, and a booking is one stretch."""

    times: Ints
    levels: Ints
    holders: Ints
    size: Ints
    works: Ints


class PlacedNodes(NamedTuple):
    """Start and finish by node; by slot the delay in working minutes, the resource that it waits for (-1: none), and
    the slot that has it until then."""

    start: Ints
    finish: Ints
    hold: Ints
    waits_for: Ints
    gives_way_to: Ints


@njit(cache=True, nogil=True)
def placed_by(layout: Layout, node_at: Ints) -> PlacedNodes:
    """All nodes placed; ``node_at`` lists them, the most urgent first."""
    n, nodes = len(layout.leaf), len(layout.into) - 1
    start, finish = np.full(nodes, NEVER, dtype=np.int64), np.full(nodes, NEVER, dtype=np.int64)
    found = PlacedNodes(start, finish, np.zeros(n, np.int64), np.full(n, -1, np.int64), np.full(n, -1, np.int64))
    times, levels, size = free_profiles(layout.steps_into, layout.times, layout.levels, layout.most)
    booked = Booked(times, levels, np.full(times.shape, -1, np.int64), size, _calendars_of(layout))
    reached = np.empty(len(layout.source), dtype=np.int64)
    urgency = np.empty(nodes, dtype=np.int64)
    for k in range(nodes):
        urgency[node_at[k]] = k
    missing = layout.into[1:] - layout.into[:-1]
    ready = [urgency[j] for j in layout.order if missing[j] == 0]
    heapq.heapify(ready)
    while len(ready):
        j = node_at[heapq.heappop(ready)]
        first, last = layout.into[j], layout.into[j + 1]
        if j >= n:
            start[j], finish[j] = close_of(first, last, layout.source, start, finish)
        else:
            from_start, from_finish = reach(
                layout.pool, layout.calendar[j], first, last, layout.source, layout.kind, layout.lags,
                layout.lag_calendars, start, finish, reached,
            )  # fmt: skip
            if layout.leaf[j]:
                booked = _place(layout, found, booked, j, from_start, from_finish)
            else:
                start[j] = finish[j] = from_start
        for k in layout.out_target[layout.out_into[j] : layout.out_into[j + 1]]:
            missing[k] -= 1
            if missing[k] == 0:
                heapq.heappush(ready, urgency[k])
    return found


@njit(cache=True, nogil=True)
def _calendars_of(layout: Layout) -> Ints:
    """By resource the calendar on which it does all that it is asked for, or ``SEVERAL``."""
    found = np.full(len(layout.most), -1, dtype=np.int64)
    for a in range(len(layout.resource)):
        r = layout.resource[a]
        found[r] = layout.works[a] if found[r] in (-1, layout.works[a]) else SEVERAL
    return found


@njit(cache=True, nogil=True)
def _place(layout: Layout, found: PlacedNodes, booked: Booked, j: int, from_start: int, from_finish: int) -> Booked:
    """Put a leaf at the first moment its resources are free, or where logic puts it if there is none."""
    pool, calendar, duration = layout.pool, layout.calendar[j], layout.duration[j]
    from_start = max(from_start, layout.base[j], layout.start_from[j])
    from_finish = max(from_finish, layout.finish_from[j])
    if layout.span[j] and from_finish > NEVER:
        found.start[j] = next_working(pool, calendar, from_start)
        found.finish[j] = max(found.start[j], from_finish)
        return booked
    c1 = layout.crew_into[layout.crew[j]]
    c2 = layout.crew_into[layout.crew[j] + 1] if layout.crew[j] and duration else c1
    if c2 > c1:
        logic = crew_earliest_start(pool, layout.crew_calendars, c1, c2, duration, from_start, from_finish)
    else:
        logic = earliest_start(pool, calendar, duration, from_start, from_finish)
    at = logic
    if not layout.movable[j]:
        at = held_start(pool, calendar, duration, logic, layout.hold[j])
        found.hold[j] = layout.hold[j]
    elif layout.asks_into[j + 1] > layout.asks_into[j]:
        at, resource, holder = _first_fit(layout, booked, j, logic)
        if at > logic:
            found.hold[j] = worked(pool, calendar, at) - worked(pool, calendar, logic)
            found.waits_for[j] = resource
            found.gives_way_to[j] = j if holder < 0 else holder
    if c2 > c1:
        at = crew_earliest_start(pool, layout.crew_calendars, c1, c2, duration, at, NEVER)
        found.finish[j] = crew_finish(pool, layout.crew_calendars, c1, c2, duration, at)
    else:
        found.finish[j] = advance(pool, calendar, at, duration)
    found.start[j] = at
    return _book(layout, booked, j, at)


@njit(cache=True, nogil=True)
def _first_fit(layout: Layout, booked: Booked, j: int, logic: int) -> tuple[int, int, int]:
    """The first start from ``logic`` on that exceeds no capacity, else ``logic``; the resource that stood in the way
    last, -1 if none did, and the slot that had it then, -1 if none had."""
    at, resource, holder, settled = logic, -1, -1, False
    while not settled:
        settled = True
        for a in range(layout.asks_into[j], layout.asks_into[j + 1]):
            r = layout.resource[a]
            room = layout.most[r] - layout.units[a]
            if room < 0:
                continue  # it is never enough, wherever the task is
            free, clashed = fitted(
                layout.pool, layout.calendar[j], layout.works[a], layout.duration[j], at, layout.latest[j],
                layout.window_end, booked.times[r, : booked.size[r]], booked.levels[r, : booked.size[r]], room,
            )  # fmt: skip
            if free == END:
                return logic, -1, -1
            if clashed >= 0:
                at, resource, holder = free, r, booked.holders[r, clashed]
                settled = layout.asks_into[j + 1] - layout.asks_into[j] == 1
    return at, resource, holder


@njit(cache=True, nogil=True)
def _book(layout: Layout, booked: Booked, j: int, at: int) -> Booked:
    """All that a task asks for, from a moment on; with wider profiles where these were full."""
    times, levels, holders = booked.times, booked.levels, booked.holders
    for a in range(layout.asks_into[j], layout.asks_into[j + 1]):
        r, works = layout.resource[a], layout.works[a]
        end = advance(layout.pool, works, at, layout.duration[j])
        is_parted = booked.works[r] == SEVERAL
        pauses = interval_at(layout.pool, works, end - 1) - interval_at(layout.pool, works, at) if is_parted else 0
        while booked.size[r] + 2 * (pauses + 1) > times.shape[1]:
            times, levels, holders = widened(times), widened(levels), widened(holders)
        booked.size[r] = book(
            layout.pool, works, at, end, times[r], levels[r], holders[r], booked.size[r], layout.units[a], j, is_parted
        )
    return Booked(times, levels, holders, booked.size, booked.works)


@njit(cache=True, nogil=True)
def work_following(layout: Layout) -> Ints:
    """By node its duration with the longest work behind it, in working minutes, calendars aside."""
    found = np.zeros(len(layout.into) - 1, dtype=np.int64)
    for j in layout.order[::-1]:
        for k in layout.out_target[layout.out_into[j] : layout.out_into[j + 1]]:
            found[j] = max(found[j], found[k])
        if j < len(layout.leaf) and layout.leaf[j]:
            found[j] += layout.duration[j]
    return found
