"""Ways out of a conflict, each an edit that ends it."""

from __future__ import annotations

from msgspec.structs import replace

from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Plan
from hexapod.plan.records import Gap
from hexapod.schedule.conflicts import Conflict, ConflictKind
from hexapod.schedule.schedule import Schedule


def ways_out(plan: Plan, schedule: Schedule, conflict: Conflict) -> list[tuple[str, Edit]]:
    """(what it is called, the edit), the least far-reaching first."""
    task = plan.tasks[conflict.task]
    if conflict.kind is ConflictKind.OVERLAP and conflict.link is not None:
        link = conflict.link
        follow = edits.change_link(plan, link.key, replace(link, gap=Gap.USE))
        return [
            ("Move it behind what it waits for", follow),
            ("Remove the link", edits.unlink(plan, [link.key])),
        ]
    if conflict.kind is ConflictKind.LIMIT and conflict.limit is not None:
        return [("Lift the limit", edits.set_limit(plan, task.id, conflict.limit, None))]
    if conflict.kind is ConflictKind.TARGET:
        at = schedule.dates(task.id).finish
        moved = edits.set_task(plan, task.id, f"Move the target of “{task.name}”", target=at)
        dropped = edits.set_task(plan, task.id, f"No target for “{task.name}”", target=None)
        return [("Move the target to its finish", moved), ("Drop the target", dropped)]
    project = plan.projects[task.project]
    last = max(schedule.early_finish[schedule.slots[t]] for t in plan.children_of(project.id, None))
    return [("Finish when the work allows", edits.save_project(plan, replace(project, finish=int(last))))]
