"""Rows of a plan as a table, and as indented text: all of it, or what is on the screen in its order."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from hexapod.errors import BadText
from hexapod.formats.assignment_text import format_assignments
from hexapod.formats.field_text import format_value
from hexapod.formats.link_text import format_links
from hexapod.formats.tables import Cell
from hexapod.plan.field_values import value_in
from hexapod.plan.outline import Row, number_of, rows
from hexapod.plan.plan import Plan
from hexapod.plan.records import Field, FieldKind, LimitKind, Task
from hexapod.query.fields import Reading, compile_formula
from hexapod.query.language import OutOfRange
from hexapod.query.values import Kind
from hexapod.schedule.schedule import Dates
from hexapod.worktime.calendars import units_of
from hexapod.worktime.clock import moment_of
from hexapod.worktime.lengths import format_duration, format_length

Getter = Callable[[Plan, Dates, Task], Cell]


def _date(name: str) -> Getter:
    return lambda plan, dates, task: moment_of(getattr(dates.dates(task.id), name)) if dates.has(task.id) else None


def _length(name: str) -> Getter:
    def get(plan: Plan, dates: Dates, task: Task) -> Cell:
        if not dates.has(task.id):
            return None
        return format_length(getattr(dates.dates(task.id), name), units_of(plan, task.project))

    return get


def _duration(plan: Plan, dates: Dates, task: Task) -> Cell:
    if plan.is_summary(task.id):
        return None  # its parts give it
    return None if task.duration is None else format_duration(task.minutes, task.elapsed, units_of(plan, task.project))


def _not_before(task: Task) -> Cell:
    found = [x.at for x in task.limits if x.kind is LimitKind.START_NO_EARLIER]
    return moment_of(found[0]) if found else None


EXPORTS: dict[str, tuple[str, Getter]] = {
    "id": ("Id", lambda plan, dates, task: task.id),
    "project": ("Project", lambda plan, dates, task: plan.projects[task.project].name),
    "number": ("#", lambda plan, dates, task: number_of(plan, task.id)),
    "name": ("Task", lambda plan, dates, task: task.name),
    "duration": ("Duration", _duration),
    "start": ("Start", _date("start")),
    "finish": ("Finish", _date("finish")),
    "not_before": ("No earlier than", lambda plan, dates, task: _not_before(task)),
    "links": ("Waits for", lambda plan, dates, task: format_links(plan, task.id)),
    "who": ("Who", lambda plan, dates, task: format_assignments(plan, task.id)),
    "float": ("Float", _length("total_float")),
    "free_float": ("Free float", _length("free_float")),
    "late_start": ("Latest start", _date("late_start")),
    "late_finish": ("Latest finish", _date("late_finish")),
    "stream": ("Stream", lambda plan, dates, task: task.stream),
    "priority": ("Priority", lambda plan, dates, task: task.priority),
    "percent": ("Done", lambda plan, dates, task: task.percent),
    "target": ("Wanted by", lambda plan, dates, task: None if task.target is None else moment_of(task.target)),
    "tags": ("Tags", lambda plan, dates, task: ", ".join(task.tags)),
    "notes": ("Notes", lambda plan, dates, task: task.notes),
}
ALL = tuple(EXPORTS)


def table_of(
    plan: Plan, dates: Dates, shown: Sequence[Row], columns: Sequence[str] = ALL
) -> tuple[list[list[Cell]], list[int]]:
    """A row of headings and the rows; and the rows' levels. Own fields are columns ``field.<id>``."""
    own = {f"field.{f.id}": f for f in plan.fields_in_order()}
    chosen = [c for c in columns if c in EXPORTS or c in own]
    if columns is ALL:
        chosen += own
    getters = [EXPORTS[c][1] if c in EXPORTS else _own(plan, own[c]) for c in chosen]
    titles: list[Cell] = [EXPORTS[c][0] if c in EXPORTS else own[c].name for c in chosen]
    at = chosen.index("number") if "number" in chosen else -1
    body: list[list[Cell]] = []
    for row in shown:
        if row.task:
            task = plan.tasks[row.task]
            body.append([row.number if i == at else get(plan, dates, task) for i, get in enumerate(getters)])
    return [titles, *body], [row.level for row in shown if row.task]


def _own(plan: Plan, field: Field) -> Getter:
    if field.kind is FieldKind.COMPUTED:
        try:
            found = compile_formula(plan, field.formula, field)
        except BadText:
            return lambda plan, dates, task: "?"

        def computed(plan: Plan, dates: Dates, task: Task) -> Cell:
            try:
                value = found.run(Reading(plan, dates, task))
            except OutOfRange as error:
                return str(error)
            if value is not None and found.kind is Kind.DATE:
                return moment_of(int(value))
            if value is not None and found.kind is Kind.LENGTH:
                return format_length(int(value))
            return value

        return computed

    def get(plan: Plan, dates: Dates, task: Task) -> Cell:
        value = value_in(field, dict(task.fields).get(field.name))
        if value is None or isinstance(value, bool) or field.kind is FieldKind.NUMBER:
            return value
        if field.kind is FieldKind.DATE:
            return moment_of(int(value))
        return int(value) / 100 if field.kind is FieldKind.MONEY else format_value(plan, field, value)

    return get


def all_rows(plan: Plan) -> list[Row]:
    """Every row of every project that is at work, in order."""
    return [row for p in plan.projects_in_order() if not p.archived for row in rows(plan, p.id)]


def text_of(plan: Plan, shown: Sequence[Row]) -> str:
    """Names with their levels as indentation."""
    return "".join(f"{'    ' * row.level}{plan.tasks[row.task].name}\n" for row in shown if row.task)
