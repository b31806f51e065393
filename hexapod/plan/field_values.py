"""A person's own fields: whether one can be, and whether a value is what its field holds.

A field may have become another kind after it was filled in, and a file may say anything. What does not fit counts as
empty wherever it is read; it stays in the plan until somebody fills in something else.
"""

from __future__ import annotations

import math

from hexapod.plan.bounds import FIRST_TIME, LAST_TIME, LONGEST_NAME, LONGEST_TEXT
from hexapod.plan.kept import PROJECTS, TASKS
from hexapod.plan.plan import Plan
from hexapod.plan.records import Field, FieldKind, FieldValue, Task

LARGEST = 10**15  # of a number: what a float still holds exactly


def value_in(field: Field, value: FieldValue | None) -> FieldValue | None:
    """The value as the field holds it; None where it is empty, or none of its kind."""
    return value if value is not None and _fits(field.kind, value) else None


def own_value(plan: Plan, task: Task, field: Field) -> FieldValue | None:
    """What stands in a field at a task; of a field of projects, what stands in it at the project of the task."""
    holder = plan.projects[task.project] if field.of == PROJECTS else task
    return value_in(field, dict(holder.fields).get(field.name))


def is_small(value: FieldValue) -> bool:
    """Whether a value can be kept, whatever its field is."""
    if isinstance(value, str):
        return len(value) <= LONGEST_TEXT
    return math.isfinite(value) and abs(value) < 10**18


def _fits(kind: FieldKind, value: FieldValue) -> bool:
    if kind is FieldKind.YES_NO:
        return isinstance(value, bool)
    if isinstance(value, bool):
        return False
    if kind is FieldKind.NUMBER:
        return isinstance(value, int | float) and math.isfinite(value) and abs(value) <= LARGEST
    if kind is FieldKind.MONEY:
        return isinstance(value, int) and abs(value) <= LARGEST
    if kind is FieldKind.DATE:
        return isinstance(value, int) and FIRST_TIME <= value <= LAST_TIME
    return isinstance(value, str) and kind is not FieldKind.COMPUTED


def field_trouble(plan: Plan, field: Field) -> str | None:
    """What is wrong with a field, in a sentence."""
    if not field.name.strip() or len(field.name) > LONGEST_NAME:
        return f"A field needs a name of at most {LONGEST_NAME} characters."
    for other in plan.fields.values():
        if other.id != field.id and other.name.casefold() == field.name.casefold():
            return f"There is a field “{other.name}” already."
    if field.of not in (TASKS, PROJECTS):
        return f"The field “{field.name[:60]}” is of nothing that has fields."
    if field.of == PROJECTS and field.kind is FieldKind.COMPUTED:
        return f"The field “{field.name}” is of projects, so it cannot be computed: formulas are about tasks."
    if field.kind is FieldKind.CHOICE and not field.choices:
        return f"The field “{field.name}” is a choice, so it needs something to choose from."
    if any(not choice.strip() for choice in field.choices):
        return f"A choice of the field “{field.name}” is empty."
    if len(field.formula) > LONGEST_TEXT:
        return f"The formula of “{field.name}” is longer than {LONGEST_TEXT} characters."
    return None
