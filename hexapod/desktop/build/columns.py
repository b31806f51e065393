"""The grid's columns: what each shows and what typing into it means."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from msgspec.structs import replace

from hexapod.desktop import dates
from hexapod.desktop.desk import Desk
from hexapod.errors import BadText
from hexapod.formats.assignment_text import format_assignments, parse_assignments
from hexapod.formats.link_text import format_links, parse_links
from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.outline import Row
from hexapod.plan.records import DAY, LimitKind
from hexapod.worktime.dates import parse_moment
from hexapod.worktime.lengths import format_length, parse_length


@dataclass(frozen=True)
class Column:
    """``show`` gives the cell's text; ``typed`` the text to edit; ``edit`` the edit that a text means."""

    title: str
    width: int
    show: Callable[[Desk, Row], str]
    hint: str = ""
    edit: Callable[[Desk, str, str], Edit] | None = None
    typed: Callable[[Desk, str], str] | None = None
    right: bool = False
    completes: str = ""  # tasks or resources


def _has_dates(desk: Desk, task_id: str) -> bool:
    return desk.schedule.has(task_id)


def _meant(desk: Desk, task_id: str) -> list[str]:
    """The tasks that typing into one row means: all selected ones if it is among them."""
    chosen = [t for t in desk.selected() if not desk.plan.is_summary(t)]
    return chosen if task_id in chosen else [task_id]


def _name(desk: Desk, row: Row) -> str:
    return desk.plan.tasks[row.task].name


def _rename(desk: Desk, task_id: str, text: str) -> Edit:
    if not text.strip():
        raise BadText("A row needs a name. Delete the row if it is not wanted.")
    return edits.rename(desk.plan, task_id, text.strip())


def _duration(desk: Desk, row: Row) -> str:
    task = desk.plan.tasks[row.task]
    if desk.plan.is_summary(row.task):
        return format_length(desk.schedule.dates(row.task).duration) if _has_dates(desk, row.task) else ""
    return format_length(task.minutes) + ("?" if task.duration is None else "")


def _set_duration(desk: Desk, task_id: str, text: str) -> Edit:
    if desk.plan.is_summary(task_id):
        raise BadText("A summary lasts as long as its parts; change theirs.")
    tasks = _meant(desk, task_id)
    minutes = None if text.strip() in ("", "?") else parse_length(text.strip().removesuffix("?"))
    return edits.set_durations(desk.plan, tasks, minutes)


def _start(desk: Desk, row: Row) -> str:
    return dates.short_day(desk.schedule.dates(row.task).early_start) if _has_dates(desk, row.task) else ""


def _typed_start(desk: Desk, task_id: str) -> str:
    if not _has_dates(desk, task_id):
        return ""
    from hexapod.worktime.clock import iso

    return iso(desk.schedule.dates(task_id).early_start).split("T")[0]


def _set_start(desk: Desk, task_id: str, text: str) -> Edit:
    if desk.plan.is_summary(task_id):
        raise BadText("A summary starts with its first part; change that.")
    at = parse_moment(text)
    name = desk.plan.tasks[task_id].name
    day = dates.short_day(at) + (f", {dates.clock_time(at)}" if at % DAY else "")
    limit = edits.set_limit(desk.plan, task_id, LimitKind.START_NO_EARLIER, at)
    return edits.together(f"“{name}” starts no earlier than {day}", [limit])


def _finish(desk: Desk, row: Row) -> str:
    return dates.short_day(desk.schedule.dates(row.task).early_finish) if _has_dates(desk, row.task) else ""


def _links(desk: Desk, row: Row) -> str:
    return format_links(desk.plan, row.task)


def _set_links(desk: Desk, task_id: str, text: str) -> Edit:
    return edits.set_links(desk.plan, task_id, parse_links(desk.plan, task_id, text))


def _who(desk: Desk, row: Row) -> str:
    return format_assignments(desk.plan, row.task)


def _set_who(desk: Desk, task_id: str, text: str) -> Edit:
    if desk.plan.is_summary(task_id) and text.strip():
        raise BadText("A summary is done by whoever does its parts; assign those.")
    wanted = parse_assignments(desk.plan, task_id, text)
    each = [edits.set_assignments(desk.plan, t, [replace(a, task=t) for a in wanted]) for t in _meant(desk, task_id)]
    return each[0] if len(each) == 1 else edits.together(f"Assign {len(each)} tasks", each)


def _float(desk: Desk, row: Row) -> str:
    return format_length(desk.schedule.dates(row.task).total_float) if _has_dates(desk, row.task) else ""


def _free_float(desk: Desk, row: Row) -> str:
    return format_length(desk.schedule.dates(row.task).free_float) if _has_dates(desk, row.task) else ""


def _number(desk: Desk, row: Row) -> str:
    return row.number


NUMBER, NAME, DURATION, START, LINKS, WHO, FLOAT, FREE, FINISH = range(9)

COLUMNS: tuple[Column, ...] = (
    Column("#", 44, _number),
    Column("Task", 206, _name, "The name of the row", _rename, lambda d, t: d.plan.tasks[t].name),
    Column(
        "Duration",
        62,
        _duration,
        "3, 3d, 4h, 2w or 1.5 d; 0 is a milestone",
        _set_duration,
        lambda d, t: "" if d.plan.tasks[t].duration is None else format_length(d.plan.tasks[t].minutes),
        right=True,
    ),
    Column("Start", 84, _start, "A date such as 2026-09-07 sets “no earlier than”", _set_start, _typed_start),
    Column(
        "Waits for",
        84,
        _links,
        "3.2, 3.2 SS, 3.2 2 d later, or a name",
        _set_links,
        lambda d, t: format_links(d.plan, t),
        completes="tasks",
    ),
    Column(
        "Who",
        78,
        _who,
        "Initials, with a share: MO TB 50%, SL",
        _set_who,
        lambda d, t: format_assignments(d.plan, t),
        completes="resources",
    ),
    Column("Float", 58, _float, right=True),
    Column("Free float", 74, _free_float, right=True),
    Column("Finish", 86, _finish),
)
