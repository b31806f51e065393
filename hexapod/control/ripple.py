"""What a change does: which tasks move and by how much, and what becomes of finish, target and critical path."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hexapod.schedule.schedule import Schedule
from hexapod.schedule.shift import shift


@dataclass(frozen=True)
class Moved:
    """``by`` is signed working minutes of the finish, or of the start where the finish stays."""

    task: str
    by: int
    start: int
    finish: int


@dataclass(frozen=True)
class ProjectFinish:
    """``target`` None where none is set."""

    project: str
    before: int | None
    after: int | None
    target: int | None


@dataclass(frozen=True)
class Ripple:
    """``moved`` are leaves, the largest move first; ``now_critical`` and ``no_longer_critical`` as well."""

    moved: tuple[Moved, ...]
    finishes: tuple[ProjectFinish, ...]
    now_critical: tuple[str, ...]
    no_longer_critical: tuple[str, ...]
    negative_before: int
    negative_after: int


def ripple(before: Schedule, after: Schedule) -> Ripple:
    """The difference of two schedules; projects are those whose finish or target is touched."""
    ids, leaf = after.network.slots.tasks, after.network.structure.leaf == 1
    found = shift(before, after)
    moved = [
        Moved(ids[slot], finish or start, int(after.start[slot]), int(after.finish[slot]))
        for slot, start, finish in zip(found.slots.tolist(), found.start.tolist(), found.finish.tolist(), strict=True)
        if leaf[slot]
    ]
    moved.sort(key=lambda m: (-abs(m.by), m.start))
    old_leaf = before.network.structure.leaf == 1
    at = after.network.slots.tasks_in(before.network.slots)
    both = np.flatnonzero(leaf & (at >= 0))
    both = both[old_leaf[at[both]]]
    was, now = before.critical[at[both]] == 1, after.critical[both] == 1
    return Ripple(
        tuple(moved),
        tuple(_finishes(before, after)),
        tuple(ids[i] for i in both[now & ~was].tolist()),
        tuple(ids[i] for i in both[was & ~now].tolist()),
        int((before.total_float[old_leaf] < 0).sum()),
        int((after.total_float[leaf] < 0).sum()),
    )


def _finishes(before: Schedule, after: Schedule) -> list[ProjectFinish]:
    found = []
    for project in after.network.plan.projects_in_order():
        then, now = before.project_finish.get(project.id), after.project_finish.get(project.id)
        if then != now:
            found.append(ProjectFinish(project.id, then, now, project.target_finish))
    return found
