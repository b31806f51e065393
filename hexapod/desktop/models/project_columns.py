"""The columns that the list of projects can have: what stands in each, and by what it is sorted."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from hexapod.control.status import STATE_WORDS, ProjectState
from hexapod.desktop import dates
from hexapod.desktop.currency import currency
from hexapod.fields.own_text import format_value
from hexapod.plan.field_values import value_in
from hexapod.plan.kept import PROJECTS
from hexapod.plan.records import Field, FieldKind
from hexapod.schedule.slip import working_minutes
from hexapod.worktime.calendars import units_of
from hexapod.worktime.lengths import format_days

if TYPE_CHECKING:
    from hexapod.control.summary import ProjectRow
    from hexapod.desktop.models.portfolio import PortfolioWork
    from hexapod.plan.plan import Plan

TONES = {ProjectState.LATE: "brick", ProjectState.IN_DOUBT: "amber", ProjectState.ON_COURSE: "muted",
         ProjectState.ON_HOLD: "muted", ProjectState.DONE: "muted"}  # fmt: skip
Said = tuple[str, str]  # the words and their tone
NOTHING: Said = ("–", "muted")


@dataclass(frozen=True)
class ProjectColumn:
    """``words`` are what stands in it; ``order`` puts the projects in which it says most first."""

    title: str
    width: int
    words: Callable[[PortfolioWork, ProjectRow], Said]
    order: Callable[[PortfolioWork, ProjectRow], Any]
    is_text: bool = False


def _to_target(work: PortfolioWork, row: ProjectRow) -> Said:
    target, room = work.project(row.project).target_finish, row.status.room
    if target is None or room is None or row.finish is None:
        return "none set", "muted"
    words = "just then" if not room else f"{_days(work, row, room)} {'late' if row.finish > target else 'early'}"
    return words, TONES[row.status.state] if row.needs_attention else "muted"


def _moved(work: PortfolioWork, row: ProjectRow) -> int | None:
    """By how many working minutes the finish is later than a week ago."""
    before, known = work.week_ago(row.project), work.dates
    if before is None or row.finish is None or known is None:
        return None
    calendar = work.project(row.project).calendar
    by = working_minutes(known, calendar, min(before, row.finish), max(before, row.finish))
    return by if row.finish > before else -by


def _in_a_week(work: PortfolioWork, row: ProjectRow) -> Said:
    return _moved_words(work, row, _moved(work, row))


def _moved_words(work: PortfolioWork, row: ProjectRow, by: int | None) -> Said:
    if not by:
        return NOTHING if by is None else ("as it was", "muted")
    return f"{_days(work, row, by)} {'later' if by > 0 else 'sooner'}", "amber" if by > 0 else "ink"


def _days(work: PortfolioWork, row: ProjectRow, minutes: int) -> str:
    return format_days(abs(minutes), units_of(work.plan, row.project))


def _count(count: int, tone: str = "ink") -> Said:
    return (str(count), tone) if count else NOTHING


def _money(amount: int | None, tone: str = "ink") -> Said:
    return (currency().short(amount), tone) if amount else NOTHING


def _hours(minutes: int | None, tone: str = "ink") -> Said:
    return (f"{round(minutes / 60):,} h", tone) if minutes else NOTHING


def _day(at: int | None) -> Said:
    return NOTHING if at is None else (dates.last_day(at), "ink")


def _over(row: ProjectRow) -> int:
    """By how much it will have cost more than its budget."""
    return row.cost - row.budget if row.budget is not None else 0


def _over_hours(row: ProjectRow) -> int:
    return row.hours - row.hours_budget if row.hours_budget is not None else 0


COLUMNS: dict[str, ProjectColumn] = {
    "state": ProjectColumn(
        "how it is", 74, lambda work, row: (STATE_WORDS[row.status.state], TONES[row.status.state]),
        lambda work, row: list(STATE_WORDS).index(row.status.state), is_text=True,
    ),
    "percent": ProjectColumn(
        "done", 50, lambda work, row: (f"{round(row.status.percent)} %", "ink"), lambda work, row: -row.status.percent
    ),
    "finish": ProjectColumn(
        "finish", 96, lambda work, row: _day(row.finish), lambda work, row: (row.finish is None, row.finish or 0)
    ),
    "room": ProjectColumn(
        "to target", 82, _to_target, lambda work, row: (row.status.room is None, row.status.room or 0)
    ),
    "week": ProjectColumn("since last week", 108, _in_a_week, lambda work, row: -(_moved(work, row) or 0)),
    "baseline": ProjectColumn(
        "since the baseline", 124, lambda work, row: _moved_words(work, row, row.since_baseline),
        lambda work, row: (row.since_baseline is None, -(row.since_baseline or 0)),
    ),
    "late": ProjectColumn(
        "late tasks", 70, lambda work, row: _count(row.status.late, "brick"), lambda work, row: -row.status.late
    ),
    "due": ProjectColumn(
        "due next", 96, lambda work, row: _day(row.next_due),
        lambda work, row: (row.next_due is None, row.next_due or 0),
    ),
    "overloads": ProjectColumn(
        "overloads", 72, lambda work, row: _count(row.overloads, "amber"), lambda work, row: -row.overloads
    ),
    "cost": ProjectColumn(
        "will cost", 84, lambda work, row: _money(row.cost, "brick" if _over(row) > 0 else "ink"),
        lambda work, row: -row.cost,
    ),
    "budget": ProjectColumn("budget", 84, lambda work, row: _money(row.budget), lambda work, row: -_over(row)),
    "hours": ProjectColumn(
        "will take", 84, lambda work, row: _hours(row.hours, "brick" if _over_hours(row) > 0 else "ink"),
        lambda work, row: -row.hours,
    ),
    "hours_budget": ProjectColumn(
        "hours allowed", 96, lambda work, row: _hours(row.hours_budget), lambda work, row: -_over_hours(row)
    ),
    "lead": ProjectColumn(
        "led by", 160, lambda work, row: (work.leader(work.project(row.project)) or "–", "ink"),
        lambda work, row: work.leader(work.project(row.project)).casefold() or "\uffff", is_text=True,
    ),
    "department": ProjectColumn(
        "department", 104, lambda work, row: (work.project(row.project).department or "–", "ink"),
        lambda work, row: work.project(row.project).department.casefold() or "\uffff", is_text=True,
    ),
    "stream": ProjectColumn(
        "mostly", 104, lambda work, row: (row.stream or "–", "ink"),
        lambda work, row: row.stream.casefold() or "\uffff", is_text=True,
    ),
    "priority": ProjectColumn(
        "priority", 62, lambda work, row: (str(work.project(row.project).priority), "ink"),
        lambda work, row: work.project(row.project).priority,
    ),
}  # fmt: skip
USUAL = ("state", "percent", "finish", "room")
OWN = "field."  # before the id of an own field of projects, where one is a column or groups them


def columns_of(plan: Plan) -> dict[str, ProjectColumn]:
    """Those that there are always, and one for each own field of projects."""
    return COLUMNS | {f"{OWN}{field.id}": _own_column(field) for field in plan.fields_of(PROJECTS)}


def own_text(work: PortfolioWork, row: ProjectRow, field: Field) -> str:
    """What stands in an own field of a project, as it is read."""
    value = value_in(field, dict(work.project(row.project).fields).get(field.name))
    if value is not None and field.kind is FieldKind.DATE:
        return dates.short_day(int(value))
    if value is not None and field.kind is FieldKind.PERSON:
        return work.plan.resources[str(value)].name if value in work.plan.resources else str(value)
    return format_value(work.plan, field, value)


def _own_column(field: Field) -> ProjectColumn:
    is_number = field.kind in (FieldKind.NUMBER, FieldKind.MONEY)

    def order(work: PortfolioWork, row: ProjectRow) -> tuple[bool, Any]:
        """The largest number first, choices as they are listed, the rest by its text; what is empty last."""
        value = value_in(field, dict(work.project(row.project).fields).get(field.name))
        if value is None:
            return True, 0
        if field.kind is FieldKind.CHOICE and value in field.choices:
            return False, (field.choices.index(str(value)), "")
        if field.kind is FieldKind.DATE or is_number:
            return False, (-float(value) if is_number else float(value), "")
        return False, (len(field.choices), own_text(work, row, field).casefold())

    def words(work: PortfolioWork, row: ProjectRow) -> Said:
        text = own_text(work, row, field)
        return (text, "ink") if text else NOTHING

    return ProjectColumn(field.name.lower(), 104, words, order, is_text=not is_number)
