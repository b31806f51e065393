"""What a cell offers to complete while it is typed: the names of tasks, or people by their initials."""

from __future__ import annotations

from hexapod.desktop.frame.cell_editor import CellEditor
from hexapod.desktop.models.desk import Desk
from hexapod.fields.field import PlanField


def offer_completions(editor: CellEditor, field: PlanField, desk: Desk, task: str | None) -> None:
    """Of tasks those of the project on show come first, and never the one that is typed in."""
    if field.completes == "tasks":
        others = (t for t in desk.plan.tasks.values() if t.id != task)
        editor.complete_from([t.name for t in sorted(others, key=lambda t: t.project != desk.project)], ",;")
    elif field.completes == "resources":
        chosen = desk.plan.resources_in_order()
        editor.complete_from([f"{r.initials or r.name}   {r.name}" for r in chosen], ",; ")
