"""Conflicts: what a plan asks for and its dates do not give, each with its name and amount."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from hexapod.plan.records import Direction, Gap, LimitKind, Link
from hexapod.schedule.arrays import GAPS
from hexapod.schedule.schedule import Schedule


class ConflictKind(StrEnum):
    OVERLAP = "overlap"  # a link that only warns is not kept
    LIMIT = "limit"  # a limit of the task itself is not kept
    TARGET = "target"  # a target date is missed
    REQUIRED_FINISH = "required_finish"  # a project scheduled back has less time than its work takes


@dataclass(frozen=True)
class Conflict:
    """``by`` is working minutes; ``link`` or ``limit`` is what is not kept."""

    kind: ConflictKind
    task: str
    by: int
    link: Link | None = None
    limit: LimitKind | None = None


def conflicts(schedule: Schedule) -> list[Conflict]:
    """Every conflict of a plan, in the order of the dates."""
    found = [*_overlaps(schedule), *_missed(schedule)]
    return sorted(found, key=lambda c: (schedule.start[schedule.slots[c.task]], c.task, c.kind))


def _overlaps(schedule: Schedule) -> list[Conflict]:
    network = schedule.network
    if not (network.links.alive * (network.links.gap == GAPS[Gap.WARN])).any():
        return []
    from hexapod.schedule.slack import link_slacks

    slacks = link_slacks(schedule)
    broken = np.flatnonzero((slacks < 0) & (network.links.gap == GAPS[Gap.WARN]) & (network.links.alive == 1)).tolist()
    links = (network.plan.links[network.slots.links[i]] for i in broken)
    return [
        Conflict(ConflictKind.OVERLAP, link.successor, int(-slacks[i]), link=link)
        for i, link in zip(broken, links, strict=True)
    ]


_ENDS = {
    LimitKind.START_NO_LATER: "start",
    LimitKind.MUST_START: "start",
    LimitKind.FINISH_NO_LATER: "finish",
    LimitKind.MUST_FINISH: "finish",
}


def _missed(schedule: Schedule) -> list[Conflict]:
    """Limits and targets that the dates go beyond. Logic always wins over a limit; here it is said."""
    network = schedule.network
    late = np.flatnonzero((schedule.total_float < 0) & (network.structure.leaf == 1))
    found = []
    for slot in late.tolist():
        task, index = network.plan.tasks[network.slots.tasks[slot]], int(network.tasks.calendar[slot])
        for limit in task.limits:
            if limit.kind in _ENDS:
                by = _beyond(schedule, index, int(getattr(schedule, _ENDS[limit.kind])[slot]), limit.at)
                found.append(Conflict(ConflictKind.LIMIT, task.id, by, limit=limit.kind))
        if task.target is not None:
            by = _beyond(schedule, index, int(schedule.finish[slot]), task.target)
            found.append(Conflict(ConflictKind.TARGET, task.id, by))
    for project in network.plan.projects.values():
        rows = network.plan.children_of(project.id, None)
        if project.direction is Direction.BACKWARD and project.finish is not None and rows:
            last, task_id = max((int(schedule.early_finish[schedule.slots[t]]), t) for t in rows)
            by = _beyond(schedule, network.timing.index[(project.calendar,)], last, project.finish)
            found.append(Conflict(ConflictKind.REQUIRED_FINISH, task_id, by))
    return [conflict for conflict in found if conflict.by > 0]


def _beyond(schedule: Schedule, calendar: int, reached: int, wanted: int) -> int:
    """How many working minutes one moment lies after another; 0 if it lies before."""
    from hexapod.worktime.arithmetic import worked

    pool = schedule.network.timing.pool
    return max(0, int(worked(pool, calendar, reached) - worked(pool, calendar, wanted)))
