"""How projects stand: how much is done, how many tasks are late, and whether the finish is in danger."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from hexapod.plan.records import TaskKind
from hexapod.schedule.schedule import Schedule
from hexapod.schedule.slip import working_minutes
from hexapod.worktime.calendars import units_of

CLOSE = 5  # working days before its target within which a finish is in doubt


class ProjectState(StrEnum):
    ON_COURSE = "on_course"
    IN_DOUBT = "in_doubt"  # close to its target, or with an overdue milestone
    LATE = "late"  # it finishes after its target
    DONE = "done"


@dataclass(frozen=True)
class ProjectStatus:
    """``late`` counts leaves."""

    project: str
    status_date: int | None
    percent: float
    late: int
    state: ProjectState


def status_of(schedule: Schedule) -> tuple[ProjectStatus, ...]:
    """How each project stands, in their order."""
    plan = schedule.plan
    percents = _percents(schedule)
    return tuple(
        ProjectStatus(p.id, p.status_date, percents[p.id], count_late(schedule, p.id), _state(schedule, p.id))
        for p in plan.projects_in_order()
    )


def late_leaves(schedule: Schedule, project: str) -> list[str]:
    """The late leaves of a project, by when they start."""
    found, ids = np.flatnonzero(_late(schedule, project)), schedule.network.slots.tasks
    return [ids[slot] for slot in found[np.argsort(schedule.start[found], kind="stable")].tolist()]


def count_late(schedule: Schedule, project: str) -> int:
    """How many leaves of a project are late."""
    return int(_late(schedule, project).sum())


def _late(schedule: Schedule, project: str) -> NDArray[np.bool_]:
    network = schedule.network
    here = (network.structure.leaf[: network.size] == 1) & (network.tasks.project == network.projects.index(project))
    found: NDArray[np.bool_] = here & (schedule.standing.late >= 0)
    return found


def _percents(schedule: Schedule) -> dict[str, float]:
    """By project, weighted as in a summary: by effort where every leaf with a duration has one, else by duration."""
    network = schedule.network
    tasks, found = network.tasks, {}
    for i, project in enumerate(network.projects):
        mine = np.flatnonzero((network.structure.leaf[: network.size] == 1) & (tasks.project == i))
        duration, effort, done = tasks.duration[mine], tasks.effort[mine], network.percents[mine]
        lacks = bool(((duration > 0) & (effort == 0)).any())
        weight = (duration if lacks else effort).astype(np.float64)
        if len(mine) and not weight.sum():
            weight = np.ones(len(mine))  # milestones only
        found[project] = float((weight * done).sum() / weight.sum()) if len(mine) else 0.0
    return found


def _state(schedule: Schedule, project: str) -> ProjectState:
    plan, network = schedule.plan, schedule.network
    record, finish = plan.projects[project], schedule.project_finish[project]
    leaves = [t for t in plan.tasks.values() if t.project == project and not plan.is_summary(t.id)]
    if leaves and all(task.is_done for task in leaves):
        return ProjectState.DONE
    target = record.target_finish
    if target is not None and finish is not None:
        if finish > target:
            return ProjectState.LATE
        left = working_minutes(schedule, record.calendar, finish, target)
        if left <= CLOSE * units_of(plan, project).day:
            return ProjectState.IN_DOUBT
    late = schedule.standing.late
    milestones = (t for t in leaves if t.kind is TaskKind.MILESTONE or not t.minutes)
    overdue = any(late[network.slots.of_task[t.id]] >= 0 for t in milestones)
    return ProjectState.IN_DOUBT if overdue else ProjectState.ON_COURSE
