"""Rows of a plan as a table, and as indented text: all of it, or what is on the screen in its order."""

from __future__ import annotations

from collections.abc import Sequence

from hexapod.fields.formulas import fields_of
from hexapod.fields.reading import Reading
from hexapod.fields.table import FIELDS
from hexapod.formats.tables import Cell
from hexapod.plan.outline import Row, rows
from hexapod.plan.plan import Plan
from hexapod.schedule.schedule import Dates

ALL = tuple(field.id for field in FIELDS if field.in_files)


def table_of(
    plan: Plan, dates: Dates, shown: Sequence[Row], columns: Sequence[str] = ALL
) -> tuple[list[list[Cell]], list[int]]:
    """A row of headings and the rows; and the rows' levels. Own fields are columns ``field.<id>``."""
    known = fields_of(plan)
    own = [each for each in known if each.startswith("field.")]
    chosen = [known[c] for c in ([*ALL, *own] if columns is ALL else columns) if c in known]
    body: list[list[Cell]] = []
    for row in shown:
        if row.task:
            reading = Reading(plan, dates, plan.tasks[row.task], number=row.number)
            body.append([field.cell(reading) for field in chosen])
    titles: list[Cell] = [field.title for field in chosen]
    return [titles, *body], [row.level for row in shown if row.task]


def all_rows(plan: Plan) -> list[Row]:
    """Every row of every project that is at work, in order."""
    return [row for p in plan.projects_in_order() if not p.archived for row in rows(plan, p.id)]


def text_of(plan: Plan, shown: Sequence[Row]) -> str:
    """Names with their levels as indentation."""
    return "".join(f"{'    ' * row.level}{plan.tasks[row.task].name}\n" for row in shown if row.task)
