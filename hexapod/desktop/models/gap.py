"""A row that is being typed and is no task yet: where it stands, and where the task will go."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.outline import Row
from hexapod.plan.plan import Plan


@dataclass(frozen=True)
class RowGap:
    """Room for a row at ``index`` of the screen, on ``level``."""

    index: int
    level: int


def deepest_level(rows: Sequence[Row], index: int) -> int:
    """The deepest level that a row at ``index`` can have: one below the row before it."""
    return rows[index - 1].level + 1 if index > 0 else 0


def add_in_gap(plan: Plan, project: str, rows: Sequence[Row], gap: RowGap, name: str, task_id: str) -> Edit:
    """The edit that makes the typed row a task. ``rows`` are those of the screen, without the gap."""
    for i in range(min(gap.index, len(rows)) - 1, -1, -1):
        row = rows[i]
        if row.level == gap.level:
            return edits.add_task(project, name, row.task, task_id=task_id)
        if row.level < gap.level:
            children = plan.children_of(project, row.task)
            if children and gap.index < len(rows) and rows[gap.index].task == children[0]:
                return edits.add_task(project, name, before=children[0], task_id=task_id)
            return edits.add_task(project, name, parent=row.task, task_id=task_id)
    if rows and gap.index == 0:
        return edits.add_task(project, name, before=rows[0].task, task_id=task_id)
    return edits.add_task(project, name, task_id=task_id)


def place_in_gap(
    plan: Plan, project: str, rows: Sequence[Row], gap: RowGap, without: Sequence[str]
) -> tuple[str | None, str | None]:
    """Where rows moved into a gap go: the row above them (None: the top level), and the one to stand before."""
    above = (rows[i] for i in range(gap.index - 1, -1, -1)) if gap.level else iter(())
    parent = next((row.task for row in above if row.level == gap.level - 1), None)
    moved = set(without)
    for i in range(gap.index, len(rows)):
        row = rows[i]
        if row.level < gap.level:
            break
        if row.level == gap.level and row.task not in moved:
            return parent, row.task
    return parent, None


def gap_above(rows: Sequence[Row], index: int) -> RowGap:
    return RowGap(index, rows[index].level)


def gap_below(plan: Plan, rows: Sequence[Row], index: int) -> RowGap:
    """Right below a row: its first part if it is an unfolded summary, else the next on its level."""
    inside = index + 1 < len(rows) and rows[index + 1].level > rows[index].level
    return RowGap(index + 1, rows[index].level + (1 if inside else 0))
