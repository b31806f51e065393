"""What people outside may see: a mark on a row holds for what is below it, one on a project for its rows, unless those
say otherwise; what is not marked is inside."""

from __future__ import annotations

from collections.abc import Iterable

from hexapod.plan.outline import outline_order
from hexapod.plan.plan import Plan


def is_outside(plan: Plan, task_id: str) -> bool:
    """Whether people outside may see a row."""
    for each in (task_id, *plan.ancestors(task_id)):
        mark = plan.tasks[each].outside
        if mark is not None:
            return mark
    return plan.projects[plan.tasks[task_id].project].outside


def outside_tasks(plan: Plan, projects: Iterable[str]) -> list[str]:
    """The rows of some projects that people outside may see, in the order of the outline."""
    chosen = set(projects)
    known: dict[str | None, bool] = {}
    found = []
    for task_id in outline_order(plan):
        task = plan.tasks[task_id]
        if task.project not in chosen:
            continue
        above = known[task.parent] if task.parent is not None else plan.projects[task.project].outside
        known[task_id] = above if task.outside is None else task.outside
        if known[task_id]:
            found.append(task_id)
    return found
