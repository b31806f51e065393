"""Placing every task of a plan to the minute, in the order of a list: what a search found, made exact.

Within float, a task is tried from its earliest start after the tasks already placed up to its late start; since late
starts come from the backward pass, the project's finish cannot move.
"""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from functools import cached_property
from operator import attrgetter

import numpy as np

from hexapod.plan.outline import outline_order
from hexapod.plan.priorities import LAST
from hexapod.plan.records import LimitKind, Task
from hexapod.schedule.codes import NOT_BEGUN
from hexapod.schedule.network import Network
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.capacity import Capacity
from hexapod.staffing.demand import Demand
from hexapod.staffing.levelling.grid import inherited
from hexapod.staffing.levelling.profile import END
from hexapod.staffing.levelling.rests import of_rests
from hexapod.staffing.levelling.serial import Layout, PlacedNodes, placed_by
from hexapod.worktime.calendars import Ints

FIXING = (LimitKind.MUST_START, LimitKind.MUST_FINISH)


@dataclass(frozen=True)
class Ground:
    """What every list of one levelling shares."""

    network: Network
    rests: Network  # the same with rests in place of what is begun: this is placed
    late_start: Ints
    movable: Ints
    lags: Ints  # by arc, percentages worked out
    lag_calendars: Ints
    capacity: Capacity
    within_float: bool
    rank: Ints  # by slot, the place in the outline
    layout: Layout

    @property
    def asking(self) -> Ints:
        """The slots that ask for somebody."""
        found: Ints = np.flatnonzero(np.diff(self.layout.asks_into))
        return found

    @cached_property
    def asks(self) -> dict[int, list[tuple[int, int, int]]]:
        """By slot: resource, units and calendar of each asking."""
        layout, found = self.layout, dict[int, list[tuple[int, int, int]]]()
        slots = np.repeat(np.arange(len(layout.asks_into) - 1), np.diff(layout.asks_into))
        columns = (slots, layout.resource, layout.units, layout.works)
        for slot, *ask in zip(*(column.tolist() for column in columns), strict=True):
            found.setdefault(slot, []).append((ask[0], ask[1], ask[2]))
        return found


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
    found = network.structure.leaf * (network.tasks.progress == NOT_BEGUN)
    if scope.begin is not None:
        found = found * (now.start >= scope.begin)
    if scope.end is not None:
        found = found * (now.start < scope.end)
    is_all = scope.projects is None and scope.tasks is None
    for task in network.plan.tasks.values():
        if (task.pinned or task.limits or not is_all) and not may_touch(task, scope):
            found[network.slots.of_task[task.id]] = 0
    return found


def may_touch(task: Task, scope: Scope) -> bool:
    """Whether a levelling may do anything to a task: it is in its scope, and neither pinned nor on a must-date."""
    in_projects = scope.projects is None or task.project in scope.projects
    in_scope = in_projects and (scope.tasks is None or task.id in scope.tasks)
    return in_scope and not task.pinned and not any(limit.kind in FIXING for limit in task.limits)


def ground_of(free: Schedule, demand: Demand, movable: Ints, within_float: bool, scope: Scope) -> Ground:
    network = free.network
    lags = free.lag + free.kept  # a link that keeps its gap holds its successor back by as much more
    rests = of_rests(free, lags)
    asks = _asks(free, demand, scope, rests)
    latest = free.late_start if within_float else np.full(len(free.late_start), END, dtype=np.int64)
    layout = _layout(rests, lags, movable, latest, asks, demand.capacity)
    return Ground(
        network, rests, free.late_start, movable, lags, layout.lag_calendars, demand.capacity, within_float,
        outline_places(network), layout,
    )  # fmt: skip


def outline_places(network: Network) -> Ints:
    """By slot, the place in the outline."""
    outline = network.slots.of_tasks(outline_order(network.plan))
    found = np.zeros(network.size, dtype=np.int64)
    found[outline] = np.arange(len(outline))
    return found


def _asks(free: Schedule, demand: Demand, scope: Scope, rests: Network) -> Ints:
    """A row for each asking: slot, resource, the most units at once, and the calendar on which the resource works; by
    slot, then by resource."""
    network = free.network
    resource = np.repeat(np.arange(len(demand.resources)), np.diff(demand.first))
    chosen = [r for r, name in enumerate(demand.resources) if scope.resources is None or name in scope.resources]
    rows = np.flatnonzero((network.structure.leaf[demand.task] == 1) & np.isin(resource, chosen))
    runs = demand.runs(free, rows)
    highest = np.zeros(len(rows), dtype=np.int64)  # of a curve: it must fit wherever the task is put
    np.maximum.at(highest, runs.row, runs.units)
    calendars = np.zeros(len(rows), dtype=np.int64)
    calendars[runs.row] = runs.calendar
    table = np.stack((demand.task[rows], resource[rows], highest, calendars), axis=1)
    table = table[(rests.tasks.duration[table[:, 0]] > 0) & (highest > 0)]
    return table[np.argsort(table[:, 0], kind="stable")]


def _layout(network: Network, lags: Ints, movable: Ints, latest: Ints, asks: Ints, capacity: Capacity) -> Layout:
    shape, tasks, timing, n = network.structure, network.tasks, network.timing, network.size
    nodes = 2 * n
    head = np.repeat(np.arange(nodes), np.diff(shape.into[: nodes + 1]))
    source = shape.source[: len(head)]
    return Layout(
        timing.pool,
        shape.order,
        shape.into[: nodes + 1],
        shape.source,
        shape.kind,
        lags,
        network.arcs.lag_calendar,
        np.searchsorted(np.sort(source), np.arange(nodes + 1)),
        head[np.argsort(source, kind="stable")],
        shape.leaf[:n],
        tasks.calendar[:n],
        tasks.duration[:n],
        tasks.base[:n],
        tasks.start_from[:n],
        tasks.finish_from[:n],
        tasks.span[:n],
        tasks.hold[:n],
        tasks.crew[:n],
        timing.crew_into,
        timing.crew_calendars,
        movable[:n],
        latest[:n],
        np.searchsorted(asks[:, 0], np.arange(n + 1)),
        np.ascontiguousarray(asks[:, 1]),
        np.ascontiguousarray(asks[:, 2]),
        np.ascontiguousarray(asks[:, 3]),
        capacity.most,
        capacity.first,
        capacity.times,
        capacity.levels,
        timing.window.end,
    )


def urgency_of(ground: Ground) -> Ints:
    """By node, 0 first: the project's priority, then the task's. What something urgent waits for is as urgent; what
    cannot move, with what it waits for, comes before all."""
    network = ground.rests
    plan, n = network.plan, network.size
    of_project = np.array([plan.projects[p].priority for p in network.projects], dtype=np.int64)
    of_task = np.array(list(map(attrgetter("priority"), plan.tasks.values())), dtype=np.int64)
    slots = network.slots.of_tasks(plan.tasks)
    wishes, place = np.unique(of_project[network.tasks.project[slots]] * (LAST + 1) + of_task, return_inverse=True)
    found = np.full(2 * n, len(wishes) + 1, dtype=np.int64)
    is_leaf = network.structure.leaf[slots] == 1
    found[slots[is_leaf]] = place[is_leaf] + 1
    asked = np.zeros(n, dtype=bool)
    asked[ground.asking] = True
    found[:n][(network.structure.leaf == 1) & (ground.movable == 0) & asked] = 0
    shape = network.structure
    return inherited(shape.order, shape.into, shape.source, shape.kind, found)


def place_all(ground: Ground, priority: list[tuple[float, ...]]) -> PlacedNodes:
    """Every node placed, the leaves by their priority, least first, where several could be; summaries before them."""
    return placed_by(ground.layout, listed_nodes(ground, priority))


def listed_nodes(ground: Ground, priority: list[tuple[float, ...]]) -> Ints:
    """Summaries, then the leaves by their priority, least first."""
    leaf = ground.layout.leaf
    leaves = sorted(np.flatnonzero(leaf).tolist(), key=priority.__getitem__)
    others = np.flatnonzero(np.append(leaf, np.zeros_like(leaf)) == 0)
    return np.concatenate((others, leaves)).astype(np.int64)
