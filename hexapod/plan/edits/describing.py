"""Edits of what is said about tasks: tags, attachments, comments and a person's own fields."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping

from msgspec.structs import replace

from hexapod.errors import EditRefused
from hexapod.plan.edits.edit import Edit, new_id, quoted
from hexapod.plan.plan import Draft, Gone, Plan
from hexapod.plan.records import Comment, Field, FieldValue, Task


def set_tags(plan: Plan, task_ids: Iterable[str], tags: Iterable[str]) -> Edit:
    """The tags become exactly these, each once."""
    tasks, wanted = list(task_ids), tuple(dict.fromkeys(tag.strip() for tag in tags if tag.strip()))

    def change(draft: Draft) -> None:
        for task_id in tasks:
            draft.put(replace(draft.task(task_id), tags=wanted))

    return Edit(f"Tag {quoted([plan.task(t).name for t in tasks])}", change)


def attach(plan: Plan, task_id: str, place: str) -> Edit:
    """A file or web page is named with a task."""

    def change(draft: Draft) -> None:
        task = draft.task(task_id)
        if place not in task.attachments:
            draft.put(replace(task, attachments=(*task.attachments, place)))

    return Edit(f"Attach to “{plan.task(task_id).name}”", change)


def detach(plan: Plan, task_id: str, place: str) -> Edit:
    def change(draft: Draft) -> None:
        task = draft.task(task_id)
        draft.put(replace(task, attachments=tuple(p for p in task.attachments if p != place)))

    return Edit(f"Detach from “{plan.task(task_id).name}”", change)


def add_comment(plan: Plan, task_id: str, who: str, at: int, text: str) -> Edit:
    """``at`` is minutes; the comment keeps who said it and when."""
    comment = Comment(new_id(), task_id, who, at, text.strip())
    return Edit(f"Comment on “{plan.task(task_id).name}”", lambda draft: draft.put(comment))


def save_field(plan: Plan, field: Field) -> Edit:
    """Add a field, or change the one with its id; a new name goes with the values."""
    before = plan.fields.get(field.id)

    def change(draft: Draft) -> None:
        draft.put(field)
        if before is not None and before.name != field.name:
            _rename_values(draft, before.name, field.name)

    return Edit(f"{'Change' if before else 'Add'} the field “{field.name}”", change)


def remove_field(plan: Plan, field_id: str) -> Edit:
    """The field goes, with what was entered in it."""
    name = plan.field(field_id).name

    def change(draft: Draft) -> None:
        draft.remove("fields", field_id)
        _rename_values(draft, name, None)

    return Edit(f"Delete the field “{name}”", change)


def set_fields(plan: Plan, task_ids: Iterable[str], values: Mapping[str, FieldValue | None]) -> Edit:
    """Values of own fields by name; None empties one."""
    tasks = list(task_ids)

    def change(draft: Draft) -> None:
        for task_id in tasks:
            task = draft.task(task_id)
            kept = {name: value for name, value in {**dict(task.fields), **values}.items() if value is not None}
            draft.put(replace(task, fields=tuple(kept.items())))

    return Edit(f"Set {', '.join(values)} of {quoted([plan.task(t).name for t in tasks])}", change)


def set_project_fields(plan: Plan, project_ids: Iterable[str], values: Mapping[str, FieldValue | None]) -> Edit:
    """The same of projects."""
    projects = list(project_ids)

    def change(draft: Draft) -> None:
        for project_id in projects:
            project = draft.get("projects", project_id)
            if project is None:
                raise Gone
            kept = {name: value for name, value in {**dict(project.fields), **values}.items() if value is not None}
            draft.put(replace(project, fields=tuple(kept.items())))

    names = [plan.project(p).name for p in projects]
    return Edit(f"Set {', '.join(values)} of {quoted(names, 'projects')}", change)


def pattern_of(text: str, *, exact: bool) -> re.Pattern[str]:
    """What finds a text as it is written, or whatever its capitals."""
    return re.compile(re.escape(text), 0 if exact else re.IGNORECASE)


def text_of(task: Task, field: str) -> str:
    """The text of ``name``, ``notes`` or ``tags``."""
    return ", ".join(task.tags) if field == "tags" else str(getattr(task, field))


def replace_text(plan: Plan, task_ids: Iterable[str], field: str, text: str, by: str, *, exact: bool) -> Edit:
    """A text replaced wherever it stands in the ``name``, ``notes`` or ``tags`` of some tasks."""
    tasks, pattern = list(task_ids), pattern_of(text, exact=exact)

    def change(draft: Draft) -> None:
        for task_id in tasks:
            task = draft.task(task_id)
            now = pattern.sub(lambda _: by, text_of(task, field))
            if field == "name" and not now.strip():
                raise EditRefused(f"Nothing would be left of the name “{task.name}”.")
            kept = tuple(dict.fromkeys(t.strip() for t in now.split(",") if t.strip())) if field == "tags" else now
            draft.put(replace(task, **{field: kept}))

    return Edit(f"Replace “{text}” with “{by}” in {quoted([plan.task(t).name for t in tasks])}", change)


def _rename_values(draft: Draft, name: str, to: str | None) -> None:
    holders = (*draft.before.tasks.values(), *draft.before.projects.values())
    for holder in holders:
        if any(field == name for field, _ in holder.fields):
            kept = tuple((to if f == name else f, v) for f, v in holder.fields if f != name or to is not None)
            draft.put(replace(holder, fields=kept))
