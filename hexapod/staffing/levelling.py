"""Levelling: delay work until no capacity is exceeded, and argue for each move.

Method: the serial schedule generation scheme (Kelley, "The critical-path method: resources planning and
scheduling", 1963) over lists ordered by priority rules (Kolisch, "Serial and parallel resource-constrained
project scheduling methods revisited", 1996). Within float, a task is tried from its earliest start after
the tasks already placed up to its late start; since late starts come from the backward pass, the project's
finish cannot move. The best of several lists is kept; the same input gives the same answer.
"""

from __future__ import annotations

import dataclasses
import heapq
import random
import time
from collections.abc import Iterator
from dataclasses import dataclass, field

import numpy as np
from msgspec.structs import replace

from hexapod.plan.changes import Changes
from hexapod.plan.outline import outline_order
from hexapod.plan.plan import Plan
from hexapod.plan.records import LimitKind
from hexapod.schedule.codes import NEVER
from hexapod.schedule.crews import crew_earliest_start, crew_finish
from hexapod.schedule.engine import reschedule, schedule_network
from hexapod.schedule.network import Network
from hexapod.schedule.passes import close_of, earliest_start, reach
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.bound import lower_bound
from hexapod.staffing.demand import Demand, runs_of
from hexapod.staffing.overloads import Overload, overloads
from hexapod.staffing.profile import END, booked, clash, empty_profile
from hexapod.worktime.arithmetic import advance, next_working, worked
from hexapod.worktime.calendars import Ints

LIST_LIMIT = 2_000  # placed tasks beyond which only one list is tried at first


@dataclass(frozen=True)
class Move:
    """A task's start before and after, in minutes; who it gives way to on which resource."""

    task: str
    before: int
    after: int
    hold: int
    resource: str | None
    gives_way_to: str | None


@dataclass(frozen=True)
class Proposal:
    """What levelling would do. ``holds`` is what accepting writes, 0 to clear a hold of before."""

    plan: Plan
    within_float: bool
    moves: tuple[Move, ...]
    holds: dict[str, int]
    schedule: Schedule
    finish_before: int | None
    finish_after: int | None
    overloads_before: tuple[Overload, ...]
    overloads_after: tuple[Overload, ...]
    lower_bound: int | None


@dataclass
class _Placed:
    """One list's outcome."""

    start: Ints
    holds: Ints
    because: dict[int, tuple[int, int]] = field(default_factory=dict)  # slot: resource, slot given way to


@dataclass(frozen=True)
class _Ground:
    """What every list of one levelling shares."""

    network: Network
    late_start: Ints
    movable: Ints
    lags: Ints  # by arc, percentages worked out
    lag_calendars: Ints
    asks: dict[int, list[tuple[int, int, int]]]  # slot: resource, units, calendar
    capacity: Ints
    within_float: bool
    onward: list[list[int]]


def level(now: Schedule, *, within_float: bool, seconds: float = 0.0) -> Proposal:
    """A proposal for the plan of ``now``. ``seconds`` lets it try more lists after the first few.

    Holds of tasks that may move are set anew; those of pinned tasks stay. The tasks that are fixed by a
    must-limit stay as well.
    """
    network = now.network
    assert network is not None
    plan = network.plan
    demand = Demand.of(now, plan)
    movable = _movable(network)
    unheld = np.where(movable == 1, 0, network.tasks.hold)
    bare = Network.of(plan, network.timing.window, network.interning)
    free = schedule_network(_with_holds(bare, unheld))
    assert free.network is not None
    ground = _ground(free, demand, movable, within_float)
    best: tuple[tuple[float, ...], _Placed, Schedule, list[Overload]] | None = None
    give_up = time.monotonic() + seconds
    for number, priority in enumerate(_priorities(free, ground)):
        if number and (time.monotonic() >= give_up if number >= 3 else len(ground.asks) > LIST_LIMIT):
            break
        placed = _place_all(ground, priority)
        after = schedule_network(_with_holds(ground.network, placed.holds))
        left = overloads(after, demand)
        score = (sum(o.excess for o in left), float(_finish(after)), float(placed.holds.sum()))
        if best is None or score < best[0]:
            best = (score, placed, after, left)
    assert best is not None
    _, placed, _, left = best
    return _proposal(now, free, demand, placed, tuple(left), within_float)


def _with_holds(network: Network, holds: Ints) -> Network:
    return dataclasses.replace(network, tasks=network.tasks._replace(hold=holds))


def _finish(schedule: Schedule) -> int:
    return schedule.last_finish if schedule.last_finish is not None else 0


def _movable(network: Network) -> Ints:
    """Leaves that levelling may delay."""
    found = network.structure.leaf.copy()
    fixing = {LimitKind.MUST_START, LimitKind.MUST_FINISH}
    for task in network.plan.tasks.values():
        if task.pinned or any(limit.kind in fixing for limit in task.limits):
            found[network.interning.slots[task.id]] = 0
    return found


def _ground(free: Schedule, demand: Demand, movable: Ints, within_float: bool) -> _Ground:
    network = free.network
    assert network is not None
    asks: dict[int, list[tuple[int, int, int]]] = {}
    for r, resource in enumerate(demand.resources):
        mine = slice(demand.first[r], demand.first[r + 1])
        calendars = runs_of(free, demand.task[mine], [resource] * (mine.stop - mine.start)).calendar
        for slot, units, calendar in zip(demand.task[mine], demand.units[mine], calendars, strict=True):
            if network.structure.leaf[slot] and network.tasks.duration[slot]:
                asks.setdefault(int(slot), []).append((r, int(units), int(calendar)))
    shape = network.structure
    assert free.lag is not None
    onward: list[list[int]] = [[] for _ in range(2 * network.size)]
    for j in range(2 * network.size):
        for a in range(shape.into[j], shape.into[j + 1]):
            onward[shape.source[a]].append(j)
    lag_calendars = network.lag_calendars(shape.link)
    return _Ground(
        network, free.late_start, movable, free.lag, lag_calendars, asks, demand.capacity, within_float, onward
    )


def _priorities(free: Schedule, ground: _Ground) -> Iterator[list[tuple[float, ...]]]:
    """Priority lists: late start, late finish, work that follows, then late start shaken by a fixed seed."""
    network = ground.network
    plan, ids, n = network.plan, network.interning.ids, network.size
    outline = {t: i for i, t in enumerate(outline_order(plan))}
    rank = np.array([outline.get(ids[i], 0) for i in range(n)], dtype=np.float64)
    wish = [(0, 0)] * n
    for task in plan.tasks.values():
        wish[network.interning.slots[task.id]] = (-plan.projects[task.project].priority, -task.priority)
    following = _work_following(network, ground.onward)

    def listed(values: Ints) -> list[tuple[float, ...]]:
        return [(*wish[i], float(values[i]), float(free.total_float[i]), rank[i]) for i in range(n)]

    yield listed(free.late_start)
    yield listed(free.late_finish)
    yield listed(-following)
    shaker = random.Random(6)
    spread = max(1.0, float(np.ptp(free.late_start[network.structure.leaf == 1])) if n else 1.0)
    while True:
        shake = np.array([shaker.gauss(0.0, 0.08 * spread) for _ in range(n)])
        yield listed(free.late_start + shake)


def _work_following(network: Network, onward: list[list[int]]) -> Ints:
    """Duration of a task with the longest work behind it, in working minutes, calendars aside."""
    n = network.size
    found = np.zeros(2 * n, dtype=np.int64)
    for j in network.structure.order[::-1]:
        behind = max((found[k] for k in onward[j]), default=0)
        found[j] = behind + (network.tasks.duration[j] if j < n and network.structure.leaf[j] else 0)
    return found[:n]


def _place_all(ground: _Ground, priority: list[tuple[float, ...]]) -> _Placed:
    """The serial scheme: again and again the most urgent node whose predecessors are placed."""
    network = ground.network
    shape, tasks, pool = network.structure, network.tasks, network.timing.pool
    n = network.size
    start = np.full(2 * n, NEVER, dtype=np.int64)
    finish = np.full(2 * n, NEVER, dtype=np.int64)
    reached = np.empty(len(shape.source), dtype=np.int64)
    placed = _Placed(start, np.zeros(n, dtype=np.int64))
    profiles = [empty_profile() for _ in ground.capacity]
    bookings: list[list[tuple[int, int, int]]] = [[] for _ in ground.capacity]
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
            calendar = int(tasks.calendar[j])
            bounds = reach(
                pool, calendar, first, last, shape.source, shape.kind, ground.lags, ground.lag_calendars,
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
    ground: _Ground,
    placed: _Placed,
    finish: Ints,
    profiles: list[tuple[Ints, Ints]],
    bookings: list[list[tuple[int, int, int]]],
    j: int,
    from_start: int,
    from_finish: int,
) -> None:
    """Put a leaf at the first moment its resources are free, or where logic puts it if there is none."""
    tasks, pool = ground.network.tasks, ground.network.timing.pool
    calendar, duration = int(tasks.calendar[j]), int(tasks.duration[j])
    from_start = max(from_start, tasks.base[j], tasks.start_from[j])
    from_finish = max(from_finish, tasks.finish_from[j])
    crew = _crew(ground, j)
    if tasks.span[j] and from_finish > NEVER:
        placed.start[j] = next_working(pool, calendar, from_start)
        finish[j] = max(placed.start[j], from_finish)
        return
    if len(crew) and duration:
        logic = crew_earliest_start(pool, crew, 0, len(crew), duration, from_start, from_finish)
    else:
        logic = earliest_start(pool, calendar, duration, from_start, from_finish)
    at = logic
    if not ground.movable[j]:
        hold = int(tasks.hold[j])
        at = advance(pool, calendar, logic, hold)
        at = next_working(pool, calendar, at) if duration else at
        placed.holds[j] = hold
    elif j in ground.asks:
        latest = int(ground.late_start[j]) if ground.within_float else END
        found, because = _first_fit(ground, profiles, bookings, j, logic, latest)
        if found is not None and found > logic:
            at = found
            placed.holds[j] = worked(pool, calendar, at) - worked(pool, calendar, logic)
            if because is not None:
                placed.because[j] = because
    if len(crew) and duration:
        at = crew_earliest_start(pool, crew, 0, len(crew), duration, at, NEVER)
        finish[j] = crew_finish(pool, crew, 0, len(crew), duration, at)
    else:
        finish[j] = advance(pool, calendar, at, duration)
    placed.start[j] = at
    for r, units, works in ground.asks.get(j, ()):
        end = advance(pool, works, at, duration)
        profiles[r] = booked(pool, works, at, end, *profiles[r], units)
        bookings[r].append((int(at), int(end), j))


def _crew(ground: _Ground, j: int) -> Ints:
    """The calendars of those who share the task without sharing their working time."""
    timing, crew = ground.network.timing, ground.network.tasks.crew[j]
    return timing.crew_calendars[timing.crew_into[crew] : timing.crew_into[crew + 1]]


def _first_fit(
    ground: _Ground,
    profiles: list[tuple[Ints, Ints]],
    bookings: list[list[tuple[int, int, int]]],
    j: int,
    logic: int,
    latest: int,
) -> tuple[int | None, tuple[int, int] | None]:
    """The first start from ``logic`` to ``latest`` that exceeds no capacity, and what stood in the way last."""
    tasks, pool = ground.network.tasks, ground.network.timing.pool
    calendar, duration = int(tasks.calendar[j]), int(tasks.duration[j])
    asks = [ask for ask in ground.asks[j] if ask[1] <= ground.capacity[ask[0]]]
    at, because, settled = logic, None, False
    while not settled:
        settled = True
        for r, units, works in asks:
            end = advance(pool, works, at, duration)
            begin, until = clash(pool, works, at, end, *profiles[r], ground.capacity[r] - units)
            if begin == END:
                continue
            blockers = [slot for s, f, slot in bookings[r] if s <= begin < f]
            because = (r, blockers[-1] if blockers else j)
            at, settled = next_working(pool, calendar, until), False
            if at > latest or at >= ground.network.timing.window.end:
                return None, None
    return at, because


def _proposal(
    now: Schedule,
    free: Schedule,
    demand: Demand,
    placed: _Placed,
    left: tuple[Overload, ...],
    within_float: bool,
) -> Proposal:
    network = now.network
    assert network is not None
    plan, ids = network.plan, network.interning.ids
    wanted = {ids[i]: int(placed.holds[i]) for i in np.flatnonzero(network.structure.leaf)}
    holds = {t: hold for t, hold in wanted.items() if plan.tasks[t].hold != hold}
    changes = Changes(tasks=tuple((plan.tasks[t], replace(plan.tasks[t], hold=hold)) for t, hold in holds.items()))
    after = reschedule(now, changes.applied_to(plan), changes)
    leaves = np.flatnonzero(network.structure.leaf)
    moved = leaves[now.start[leaves] != after.start[leaves]]
    moves = []
    for i in sorted(moved, key=lambda i: (after.start[i], ids[i])):
        resource, blocker = placed.because.get(int(i), (None, None))
        moves.append(
            Move(
                ids[i],
                int(now.start[i]),
                int(after.start[i]),
                int(placed.holds[i]),
                None if resource is None else demand.resources[resource],
                None if blocker is None else ids[blocker],
            )
        )
    return Proposal(
        plan,
        within_float,
        tuple(moves),
        holds,
        after,
        now.last_finish,
        after.last_finish,
        tuple(overloads(now, demand)),
        left,
        lower_bound(free, demand),
    )
