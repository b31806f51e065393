"""Placing every task of a plan to the minute, in the order of a list: what a search found, made exact.

Method: the serial schedule generation scheme (Kelley, "The critical-path method: resources planning and scheduling",
1963). Within float, a task is tried from its earliest start after the tasks already placed up to its late start;
since late starts come from the backward pass, the project's finish cannot move.
"""

from __future__ import annotations

import heapq
from collections.abc import Collection
from dataclasses import dataclass, field
from typing import NamedTuple

import numpy as np

from hexapod.plan.outline import outline_order
from hexapod.plan.records import LimitKind, Task
from hexapod.schedule.codes import NEVER
from hexapod.schedule.crews import crew_earliest_start, crew_finish
from hexapod.schedule.network import Network
from hexapod.schedule.passes import close_of, earliest_start, reach
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.capacity import Capacity
from hexapod.staffing.demand import Demand
from hexapod.staffing.levelling.grid import inherited
from hexapod.staffing.levelling.profile import END, booked, empty_profile, fitted
from hexapod.worktime.arithmetic import advance, next_working, worked
from hexapod.worktime.calendars import Ints

FIXING = (LimitKind.MUST_START, LimitKind.MUST_FINISH)


@dataclass
class Placed:
    """One list's outcome."""

    start: Ints
    holds: Ints
    because: dict[int, tuple[int, int]] = field(default_factory=dict)  # slot: resource, slot given way to


class Leaves(NamedTuple):
    """What placing asks of each slot, as plain lists: looked up one by one they are much quicker than arrays."""

    calendar: list[int]
    duration: list[int]
    base: list[int]
    start_from: list[int]
    finish_from: list[int]
    span: list[int]
    hold: list[int]
    crew: list[int]
    movable: list[int]
    latest: list[int]  # start within float

    @staticmethod
    def of(network: Network, movable: Ints, late_start: Ints) -> Leaves:
        t = network.tasks
        columns = (t.calendar, t.duration, t.base, t.start_from, t.finish_from, t.span, t.hold, t.crew)
        return Leaves(*(c[: network.size].tolist() for c in (*columns, movable, late_start)))


@dataclass(frozen=True)
class Ground:
    """What every list of one levelling shares."""

    network: Network
    late_start: Ints
    movable: Ints
    lags: Ints  # by arc, percentages worked out
    lag_calendars: Ints
    asks: dict[int, list[tuple[int, int, int]]]  # slot: resource, units, calendar
    capacity: Capacity
    most: Ints
    within_float: bool
    onward: list[list[int]]
    rank: Ints  # by slot, the place in the outline
    leaves: Leaves


@dataclass(frozen=True)
class Scope:
    """What is levelled: tasks of some projects only, against what the others hold; some resources only; only what
    starts from one moment up to another; some tasks only."""

    projects: Collection[str] | None = None
    resources: Collection[str] | None = None
    begin: int | None = None
    end: int | None = None
    tasks: Collection[str] | None = None


def movable_tasks(now: Schedule, scope: Scope) -> Ints:
    """Leaves that levelling may delay: not those that are begun, done, pinned or on a must-date."""
    network = now.network
    assert network is not None
    found = network.structure.leaf * (network.tasks.percent == 0)
    if scope.begin is not None:
        found = found * (now.start >= scope.begin)
    if scope.end is not None:
        found = found * (now.start < scope.end)
    for task in network.plan.tasks.values():
        if not may_touch(task, scope):
            found[network.interning.slots[task.id]] = 0
    return found


def may_touch(task: Task, scope: Scope) -> bool:
    """Whether a levelling may do anything to a task: it is in its scope, and neither pinned nor on a must-date."""
    in_projects = scope.projects is None or task.project in scope.projects
    in_scope = in_projects and (scope.tasks is None or task.id in scope.tasks)
    return in_scope and not task.pinned and not any(limit.kind in FIXING for limit in task.limits)


def ground_of(free: Schedule, demand: Demand, movable: Ints, within_float: bool, scope: Scope) -> Ground:
    network = free.network
    assert network is not None
    asks: dict[int, list[tuple[int, int, int]]] = {}
    for r, resource in enumerate(demand.resources):
        if scope.resources is not None and resource not in scope.resources:
            continue
        rows = demand.of_resource(r)
        rows = rows[network.structure.leaf[demand.task[rows]] == 1]
        runs = demand.runs(free, rows)
        highest = np.zeros(len(rows), dtype=np.int64)  # of a curve: it must fit wherever the task is put
        np.maximum.at(highest, runs.row, runs.units)
        calendars = np.zeros(len(rows), dtype=np.int64)
        calendars[runs.row] = runs.calendar
        for slot, units, calendar in zip(demand.task[rows].tolist(), highest, calendars, strict=True):
            if network.tasks.duration[slot] and units:
                asks.setdefault(slot, []).append((r, int(units), int(calendar)))
    shape = network.structure
    assert free.lag is not None
    onward: list[list[int]] = [[] for _ in range(2 * network.size)]
    targets = np.repeat(np.arange(2 * network.size), np.diff(shape.into[: 2 * network.size + 1]))
    for source, target in zip(shape.source[: len(targets)].tolist(), targets.tolist(), strict=True):
        onward[source].append(target)
    lag_calendars = network.lag_calendars(shape.link)
    outline = {t: i for i, t in enumerate(outline_order(network.plan))}
    rank = np.array([outline.get(t, 0) for t in network.interning.ids[: network.size]], dtype=np.int64)
    return Ground(
        network,
        free.late_start,
        movable,
        free.lag,
        lag_calendars,
        asks,
        demand.capacity,
        demand.capacity.most,
        within_float,
        onward,
        rank,
        Leaves.of(network, movable, free.late_start),
    )


def urgency_of(ground: Ground) -> Ints:
    """By node, 0 first: the project's priority, then the task's. What something urgent waits for is as urgent; what
    cannot move, with what it waits for, comes before all."""
    network = ground.network
    plan, n = network.plan, network.size
    priorities = {p.id: p.priority for p in plan.projects.values()}
    wish = [(priorities[t.project], t.priority) for t in plan.tasks.values()]
    places = {w: i for i, w in enumerate(sorted(set(wish), reverse=True))}
    found = np.full(2 * n, len(places) + 1, dtype=np.int64)
    slots = network.interning.slots
    for task, w in zip(plan.tasks, wish, strict=True):
        if network.structure.leaf[slots[task]]:
            found[slots[task]] = places[w] + 1
    asked = np.zeros(n, dtype=bool)
    asked[list(ground.asks)] = True
    found[:n][(network.structure.leaf == 1) & (ground.movable == 0) & asked] = 0
    shape = network.structure
    return inherited(shape.order, shape.into, shape.source, shape.kind, found)


def place_all(ground: Ground, priority: list[tuple[float, ...]]) -> Placed:
    """The serial scheme: again and again the most urgent node whose predecessors are placed."""
    network = ground.network
    shape, pool, calendars = network.structure, network.timing.pool, ground.leaves.calendar
    n = network.size
    start = np.full(2 * n, NEVER, dtype=np.int64)
    finish = np.full(2 * n, NEVER, dtype=np.int64)
    reached = np.empty(len(shape.source), dtype=np.int64)
    placed = Placed(start, np.zeros(n, dtype=np.int64))
    resources = range(len(ground.capacity.resources))
    profiles = [empty_profile(*ground.capacity.steps(r)) for r in resources]
    bookings: list[list[tuple[int, int, int]]] = [[] for _ in resources]
    missing = np.diff(shape.into)
    first_of_all: tuple[float, ...] = (-np.inf,)

    def urgency(j: int) -> tuple[float, ...]:
        return priority[j] if j < n and shape.leaf[j] else first_of_all

    ready = [(urgency(j), int(j)) for j in shape.order if not missing[j]]
    heapq.heapify(ready)
    while ready:
        _, j = heapq.heappop(ready)
        first, last = shape.into[j], shape.into[j + 1]
        if j >= n:
            start[j], finish[j] = close_of(first, last, shape.source, start, finish)
        else:
            bounds = reach(
                pool, calendars[j], first, last, shape.source, shape.kind, ground.lags, ground.lag_calendars,
                start, finish, reached,
            )  # fmt: skip
            if shape.leaf[j]:
                _place(ground, placed, finish, profiles, bookings, j, *bounds)
            else:
                start[j] = finish[j] = bounds[0]
        for k in ground.onward[j]:
            missing[k] -= 1
            if not missing[k]:
                heapq.heappush(ready, (urgency(k), k))
    return placed


def _place(
    ground: Ground,
    placed: Placed,
    finish: Ints,
    profiles: list[tuple[Ints, Ints]],
    bookings: list[list[tuple[int, int, int]]],
    j: int,
    from_start: int,
    from_finish: int,
) -> None:
    """Put a leaf at the first moment its resources are free, or where logic puts it if there is none."""
    pool, leaves = ground.network.timing.pool, ground.leaves
    calendar, duration = leaves.calendar[j], leaves.duration[j]
    from_start = max(from_start, leaves.base[j], leaves.start_from[j])
    from_finish = max(from_finish, leaves.finish_from[j])
    if leaves.span[j] and from_finish > NEVER:
        placed.start[j] = next_working(pool, calendar, from_start)
        finish[j] = max(placed.start[j], from_finish)
        return
    crew = _crew(ground, leaves.crew[j]) if leaves.crew[j] and duration else None
    if crew is not None and len(crew):
        logic = crew_earliest_start(pool, crew, 0, len(crew), duration, from_start, from_finish)
    else:
        logic = earliest_start(pool, calendar, duration, from_start, from_finish)
    at = logic
    if not leaves.movable[j]:
        hold = leaves.hold[j]
        at = advance(pool, calendar, logic, hold) if hold else logic
        at = next_working(pool, calendar, at) if duration else at
        placed.holds[j] = hold
    elif j in ground.asks:
        latest = leaves.latest[j] if ground.within_float else END
        found, because = _first_fit(ground, profiles, bookings, j, logic, latest)
        if found is not None and found > logic:
            at = found
            placed.holds[j] = worked(pool, calendar, at) - worked(pool, calendar, logic)
            if because is not None:
                placed.because[j] = because
    if crew is not None and len(crew):
        at = crew_earliest_start(pool, crew, 0, len(crew), duration, at, NEVER)
        finish[j] = crew_finish(pool, crew, 0, len(crew), duration, at)
    else:
        finish[j] = advance(pool, calendar, at, duration)
    placed.start[j] = at
    for r, units, works in ground.asks.get(j, ()):
        end = advance(pool, works, at, duration)
        profiles[r] = booked(pool, works, at, end, *profiles[r], units)
        bookings[r].append((int(at), int(end), j))


def _crew(ground: Ground, crew: int) -> Ints:
    """The calendars of those who share a task without sharing their working time."""
    timing = ground.network.timing
    return timing.crew_calendars[timing.crew_into[crew] : timing.crew_into[crew + 1]]


def _first_fit(
    ground: Ground,
    profiles: list[tuple[Ints, Ints]],
    bookings: list[list[tuple[int, int, int]]],
    j: int,
    logic: int,
    latest: int,
) -> tuple[int | None, tuple[int, int] | None]:
    """The first start from ``logic`` to ``latest`` that exceeds no capacity, and what stood in the way last."""
    pool, window_end = ground.network.timing.pool, ground.network.timing.window.end
    calendar, duration = ground.leaves.calendar[j], ground.leaves.duration[j]
    asks = [ask for ask in ground.asks[j] if ask[1] <= ground.most[ask[0]]]
    at, last, settled = logic, None, False
    while not settled:
        settled = True
        for r, units, works in asks:
            room = ground.most[r] - units
            found, moment = fitted(pool, calendar, works, duration, at, latest, window_end, *profiles[r], room)
            if found == END:
                return None, None
            if moment != END:
                at, last, settled = found, (r, moment), len(asks) == 1
    if last is None:
        return at, None
    r, moment = last
    blockers = (slot for s, f, slot in reversed(bookings[r]) if s <= moment < f)
    return at, (r, next(blockers, j))
