"""Who does what when, a lane each: the pieces of work of a resource, put on lines so that none covers another."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

import numpy as np

from hexapod.plan.plan import Plan
from hexapod.plan.records import ResourceKind, TaskKind
from hexapod.schedule.codes import NOT_BEGUN
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.demand import Demand


@dataclass(frozen=True)
class Piece:
    """A task in somebody's lane, from ``begin`` to ``end`` in minutes, on one of its lines."""

    task: str
    begin: int
    end: int
    line: int


@dataclass(frozen=True)
class Lane:
    """``lines`` is how many its pieces need, at least one."""

    resource: str
    pieces: tuple[Piece, ...]

    @property
    def lines(self) -> int:
        return max((p.line for p in self.pieces), default=0) + 1


def lanes(
    schedule: Schedule, plan: Plan, demand: Demand, resources: Collection[str], projects: Collection[str] | None = None
) -> list[Lane]:
    """The lanes of some resources, in their order, with the work of all projects or of some."""
    network = schedule.network
    index = {r: i for i, r in enumerate(demand.resources)}
    leaf, ids = network.structure.leaf, network.slots.tasks
    found = []
    for resource in resources:
        if resource not in index:
            continue
        rows = demand.of_resource(index[resource])
        rows = rows[(leaf[demand.task[rows]] == 1) & (demand.own[rows] == 1)]
        runs = demand.runs(schedule, rows)
        begin, end = np.full(len(rows), np.iinfo(np.int64).max), np.zeros(len(rows), dtype=np.int64)
        np.minimum.at(begin, runs.row, runs.start)
        np.maximum.at(end, runs.row, runs.finish)
        slots = demand.task[rows]
        told = network.tasks.progress[slots] != NOT_BEGUN  # drawn whole, although only its rest is asked for
        begin, end = np.where(told, schedule.start[slots], begin), np.where(told, schedule.finish[slots], end)
        spans = [
            (int(begin[i]), int(end[i]), ids[slot])
            for i, slot in enumerate(demand.task[rows].tolist())
            if begin[i] <= end[i] and (projects is None or plan.tasks[ids[slot]].project in projects)
        ]
        found.append(Lane(resource, tuple(packed(spans))))
    return found


def packed(spans: list[tuple[int, int, str]]) -> list[Piece]:
    """Each (begin, end, task) on the first line that is free by then; as few lines as tasks ever run at once."""
    ends: list[int] = []
    found = []
    for begin, end, task in sorted(spans):
        line = next((i for i, last in enumerate(ends) if last <= begin), len(ends))
        ends[line : line + 1] = [end]
        found.append(Piece(task, begin, end, line))
    return found


def nobody_on(plan: Plan, projects: Collection[str] | None = None) -> list[str]:
    """Work that nobody is named for: leaves with neither people nor equipment, or with an open seat."""
    found = []
    for task in plan.tasks.values():
        if projects is not None and task.project not in projects:
            continue
        if plan.is_summary(task.id) or task.kind is not TaskKind.TASK or task.is_done or not task.minutes:
            continue
        kinds = {plan.resources[r].kind for r in plan.assigned.get(task.id, ())}
        if not kinds or kinds == {ResourceKind.MATERIAL} or ResourceKind.ROLE in kinds:
            found.append(task.id)
    return found


def is_scheduled(plan: Plan, task_id: str) -> bool:
    """Whether anybody said when: it waits for something, something waits for it, or it has a limit or a length."""
    task = plan.tasks[task_id]
    rows = (task_id, *plan.ancestors(task_id))
    return task.duration is not None or any(plan.tasks[t].limits or plan.links_at.get(t) for t in rows)
