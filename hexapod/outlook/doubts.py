"""Targets that the plan meets, and that are not sure enough all the same."""

from __future__ import annotations

from hexapod.control.attention import Doubt
from hexapod.outlook.chances import Outlook


def doubts_of(outlook: Outlook, share: float) -> list[Doubt]:
    """Targets that the plan meets, and that hold in a smaller part of the rounds."""
    schedule = outlook.found.schedule
    found = []
    for project in schedule.plan.projects.values():
        finish, target, known = schedule.project_finish.get(project.id), project.target_finish, None
        if target is not None and finish is not None and finish <= target and project.is_at_work:
            known = outlook.of_project(project.id)
        if known is not None and target is not None and known.chance_by(target) < share:
            found.append(Doubt(project.id, None, target, known.chance_by(target)))
    for task in schedule.plan.tasks.values():
        target = task.target
        if target is None or task.is_done or not schedule.plan.projects[task.project].is_at_work:
            continue
        if not schedule.has(task.id) or schedule.dates(task.id).finish > target:
            continue
        known = outlook.of_task(task.id)
        if known is not None and known.chance_by(target) < share:
            found.append(Doubt(task.project, task.id, target, known.chance_by(target)))
    return found
