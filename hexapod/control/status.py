"""How projects stand: how much is done, how many tasks are late, and whether the finish is in danger."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from hexapod.control.money import OverBudget
from hexapod.plan.plan import Plan
from hexapod.plan.records import Task, TaskKind
from hexapod.plan.thresholds import thresholds_of
from hexapod.schedule.drifting import reference_of
from hexapod.schedule.schedule import Schedule
from hexapod.schedule.slip import working_minutes
from hexapod.schedule.states import Late
from hexapod.system.words import count_of
from hexapod.worktime.calendars import Ints, units_of
from hexapod.worktime.lengths import format_days


class ProjectState(StrEnum):
    ON_COURSE = "on_course"
    IN_DOUBT = "in_doubt"  # close to its target, with an overdue milestone, or over its budget
    LATE = "late"  # it finishes after its target, or without one after its baseline
    ON_HOLD = "on_hold"
    DONE = "done"


STATE_WORDS = {
    ProjectState.LATE: "late",
    ProjectState.IN_DOUBT: "in doubt",
    ProjectState.ON_COURSE: "on course",
    ProjectState.ON_HOLD: "on hold",
    ProjectState.DONE: "done",
}  # the worst first


@dataclass(frozen=True)
class ProjectStatus:
    """``late`` counts leaves; ``because`` is a sentence. ``wanted`` is the moment that the finish is measured by (its
    target, else that of its baseline), ``room`` the working minutes from the finish to it, less than none when late."""

    project: str
    status_date: int | None
    percent: float
    late: int
    state: ProjectState
    because: str
    wanted: int | None
    room: int | None


def status_of(
    schedule: Schedule, over: Iterable[OverBudget] = (), leaves: Mapping[str, list[Task]] | None = None
) -> tuple[ProjectStatus, ...]:
    """How each project stands, in their order. ``over`` are budgets that are burst or will be, ``leaves`` those of each
    project where they are known."""
    plan, burst = schedule.plan, {each.project: each for each in over if each.task is None}
    percents, late = _percents(schedule), _late_by_project(schedule)
    leaves = leaves_by_project(plan) if leaves is None else leaves
    found = []
    for p in plan.projects_in_order():
        wanted = _wanted(schedule, p.id)
        state = _state(schedule, p.id, leaves[p.id], burst.get(p.id), wanted)
        found.append(ProjectStatus(p.id, p.status_date, percents[p.id], late[p.id], *state, wanted.at, wanted.room))
    return tuple(found)


def leaves_by_project(plan: Plan) -> dict[str, list[Task]]:
    """The tasks of each project that have nothing below them."""
    found: dict[str, list[Task]] = {project: [] for project in plan.projects}
    summaries = {parent for (_, parent), below in plan.children.items() if below}
    for task in plan.tasks.values():
        if task.id not in summaries:
            found[task.project].append(task)
    return found


def leaf_slots(schedule: Schedule) -> dict[str, Ints]:
    """By project the slots of the same."""
    network = schedule.network
    leaves = np.flatnonzero((network.structure.leaf[: network.size] == 1) & (network.tasks.alive == 1))
    project = network.tasks.project[leaves]
    order = np.argsort(project, kind="stable")
    ends = np.searchsorted(project[order], np.arange(1, len(network.projects)))
    return dict(zip(network.projects, np.split(leaves[order], ends), strict=True)) if network.projects else {}


def _late_by_project(schedule: Schedule) -> dict[str, int]:
    network = schedule.network
    is_late = (network.structure.leaf[: network.size] == 1) & (schedule.standing.late >= 0)
    counts = np.bincount(network.tasks.project[is_late], minlength=len(network.projects))
    return dict(zip(network.projects, counts.tolist(), strict=False))


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
    for project, mine in leaf_slots(schedule).items():
        duration, effort, done = tasks.duration[mine], tasks.effort[mine], network.percents[mine]
        lacks = bool(((duration > 0) & (effort == 0)).any())
        weight = (duration if lacks else effort).astype(np.float64)
        if len(mine) and not weight.sum():
            weight = np.ones(len(mine))  # milestones only
        found[project] = float((weight * done).sum() / weight.sum()) if len(mine) else 0.0
    return found


def _state(
    schedule: Schedule, project: str, leaves: list[Task], over: OverBudget | None, wanted: _Wanted
) -> tuple[ProjectState, str]:
    """The state of a project and the sentence that says because of what."""
    record, finish, room = schedule.plan.projects[project], schedule.project_finish[project], wanted.room
    if leaves and all(task.is_done for task in leaves):
        return ProjectState.DONE, "All of it is done."
    if record.on_hold:
        return ProjectState.ON_HOLD, "It is on hold: it asks for nobody, and nothing of it is late."
    units = units_of(schedule.plan, project)
    if room is not None and finish is not None and wanted.at is not None:
        thresholds = thresholds_of(schedule.plan)
        if finish > wanted.at:
            # Not by working time alone: a finish may lie after its target by hours in which nobody works.
            is_late = not thresholds.late_days or -room > thresholds.late_days * units.day
            state = ProjectState.LATE if is_late else ProjectState.IN_DOUBT
            return state, f"Its finish lies {format_days(-room, units)} after {wanted.words}."
        if record.target_finish is not None and room <= thresholds.doubt_days * units.day:
            left = f"Only {format_days(room, units)}" if room else "Nothing"
            return ProjectState.IN_DOUBT, f"{left} is left between its finish and its target."
    overdue = _overdue(schedule, leaves)
    if len(overdue) > 1:
        others = count_of(len(overdue) - 1, "other milestone")
        return ProjectState.IN_DOUBT, f"“{overdue[0].name}” and {others} are late."
    if overdue:
        late = schedule.late_of(overdue[0].id)
        how = "comes after its target" if late is not None and late[0] is Late.TO_FINISH else "is overdue"
        return ProjectState.IN_DOUBT, f"“{overdue[0].name}” {how}."
    if over is not None:
        said = "Its budget is spent, and more." if over.is_burst else "By the forecast its budget will not do."
        return ProjectState.IN_DOUBT, said
    if room is None:
        return ProjectState.ON_COURSE, "It has no target, and no milestone is late."
    return ProjectState.ON_COURSE, f"Its finish lies {format_days(room, units)} before {wanted.words}."


class _Wanted(NamedTuple):
    """What the finish of a project is measured by: its target, else its baseline."""

    at: int | None
    words: str
    room: int | None


def _wanted(schedule: Schedule, project: str) -> _Wanted:
    plan = schedule.plan
    at, words = plan.projects[project].target_finish, "its target"
    baseline = reference_of(plan, project)
    if at is None and baseline is not None and baseline.tasks:
        at, words = max(row.finish for row in baseline.tasks), f"its baseline “{baseline.name}”"
    finish = schedule.project_finish[project]
    if at is None or finish is None:
        return _Wanted(at, words, None)
    return _Wanted(at, words, working_minutes(schedule, plan.projects[project].calendar, finish, at))


def _overdue(schedule: Schedule, leaves: list[Task]) -> list[Task]:
    """Milestones that are late, by when they are planned."""
    late, slots = schedule.standing.late, schedule.slots
    found = [t for t in leaves if (t.kind is TaskKind.MILESTONE or not t.minutes) and late[slots[t.id]] >= 0]
    return sorted(found, key=lambda t: int(schedule.finish[slots[t.id]]))
