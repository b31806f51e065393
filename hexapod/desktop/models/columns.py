"""The grid's columns: what each shows and what typing into it means."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from msgspec.structs import replace

from hexapod.desktop import dates
from hexapod.desktop.models.desk import Desk
from hexapod.errors import BadText
from hexapod.formats.assignment_text import format_assignments, parse_assignments
from hexapod.formats.field_text import format_value, parse_value
from hexapod.formats.link_text import format_links, parse_links
from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.field_values import value_in
from hexapod.plan.outline import Row
from hexapod.plan.priorities import USUAL, priority_words, read_priority
from hexapod.plan.records import DAY, Field, FieldKind, LimitKind, TaskKind
from hexapod.worktime.calendars import BUILT_IN, find_calendar, units_of
from hexapod.worktime.lengths import Units, format_duration, format_length, parse_duration

ASSUMED = "say "  # before a length that nobody has said


@dataclass(frozen=True)
class Column:
    """``show`` gives the cell's text; ``typed`` the text to edit; ``edit`` the edit that a text means.

    What is typed is meant for all selected rows where ``many`` is set, and for summaries where ``summaries`` is.
    """

    id: str
    title: str
    width: int
    show: Callable[[Desk, Row], str]
    hint: str = ""
    edit: Callable[[Desk, list[str], str], Edit] | None = None
    typed: Callable[[Desk, str], str] | None = None
    right: bool = False
    many: bool = True
    summaries: bool = False
    completes: str = ""  # tasks or resources
    echo: Callable[[Desk, str, str], str] | None = None  # what a text is understood as, before it is taken


def _has_dates(desk: Desk, task_id: str) -> bool:
    return desk.schedule.has(task_id)


def meant(desk: Desk, column: Column, task_id: str) -> list[str]:
    """The tasks that typing into a row means, that row first: all selected ones if it is among them."""
    chosen = desk.selected() if column.many else ()
    if task_id not in chosen:
        return [task_id]
    others = (t for t in chosen if t != task_id and (column.summaries or not desk.plan.is_summary(t)))
    return [task_id, *others]


def _name(desk: Desk, row: Row) -> str:
    return desk.plan.tasks[row.task].name


def _rename(desk: Desk, tasks: list[str], text: str) -> Edit:
    if not text.strip():
        raise BadText("A row needs a name. Delete the row if it is not wanted.")
    return edits.rename(desk.plan, tasks[0], text.strip())


def _units(desk: Desk, task_id: str) -> Units:
    return units_of(desk.plan, desk.plan.tasks[task_id].project)


def _length(desk: Desk, task_id: str) -> str:
    task = desk.plan.tasks[task_id]
    return format_duration(task.minutes, task.elapsed, _units(desk, task_id))


def _duration(desk: Desk, row: Row) -> str:
    task = desk.plan.tasks[row.task]
    if desk.plan.is_summary(row.task) or task.kind is TaskKind.SPAN:
        units = _units(desk, row.task)
        return format_length(desk.schedule.dates(row.task).duration, units) if _has_dates(desk, row.task) else ""
    return (ASSUMED if task.duration is None and task.minutes else "") + _length(desk, row.task)


def _set_duration(desk: Desk, tasks: list[str], text: str) -> Edit:
    if desk.plan.is_summary(tasks[0]):
        raise BadText("A summary lasts as long as its parts; change theirs.")
    if text.strip() in ("", "?", f"{ASSUMED}{_length(desk, tasks[0])}"):
        return edits.set_durations(desk.plan, tasks, None)
    minutes, elapsed = _typed_duration(desk, tasks[0], text)
    return edits.set_durations(desk.plan, tasks, minutes, elapsed=elapsed)


def _typed_duration(desk: Desk, task_id: str, text: str) -> tuple[int, bool]:
    return parse_duration(text.strip().removeprefix(ASSUMED), _units(desk, task_id))


def _echo_duration(desk: Desk, task_id: str, text: str) -> str:
    minutes, elapsed = _typed_duration(desk, task_id, text)
    shown = format_duration(minutes, elapsed, _units(desk, task_id))
    hours = f"{minutes / 60:.1f}".rstrip("0").rstrip(".")
    return f"{shown}, {hours} hours of work" if minutes and not elapsed else shown or "a milestone"


def _start(desk: Desk, row: Row) -> str:
    return dates.short_day(desk.schedule.dates(row.task).start) if _has_dates(desk, row.task) else ""


def _typed_start(desk: Desk, task_id: str) -> str:
    return dates.typed(desk.schedule.dates(task_id).start).split(" ")[0] if _has_dates(desk, task_id) else ""


def _typed_finish(desk: Desk, task_id: str) -> str:
    return dates.typed(desk.schedule.dates(task_id).finish).split(" ")[0] if _has_dates(desk, task_id) else ""


def _set_start(desk: Desk, tasks: list[str], text: str) -> Edit:
    return _set_limit(desk, tasks, text, LimitKind.START_NO_EARLIER)


def _set_finish(desk: Desk, tasks: list[str], text: str) -> Edit:
    return _set_limit(desk, tasks, text, LimitKind.FINISH_NO_EARLIER)


def _set_limit(desk: Desk, tasks: list[str], text: str, kind: LimitKind) -> Edit:
    """A typed date is a limit, and says so; nothing lifts it."""
    ends = kind is LimitKind.FINISH_NO_EARLIER
    if desk.plan.is_summary(tasks[0]):
        raise BadText(f"A summary {'ends with its last' if ends else 'starts with its first'} part; change that.")
    names = f"“{desk.plan.tasks[tasks[0]].name}”" if len(tasks) == 1 else f"{len(tasks)} tasks"
    if not text.strip():
        lifted = [edits.set_limit(desk.plan, t, kind, None) for t in tasks]
        return edits.together(f"Lift a limit of {names}", lifted)
    at = desk.read_date(text, ends=ends)
    verb = ("finishes" if ends else "starts") if len(tasks) == 1 else ("finish" if ends else "start")
    limits = [edits.set_limit(desk.plan, t, kind, at) for t in tasks]
    return edits.together(f"{names} {verb} no earlier than {_day_and_hour(at)}", limits)


def _day_and_hour(at: int) -> str:
    usual = at % DAY in (0, dates.DAY_BEGINS, dates.DAY_ENDS)
    return dates.long_day(at) if usual else dates.moment(at)


def _echo_date(desk: Desk, task_id: str, text: str) -> str:
    return f"no earlier than {_day_and_hour(dates.read(text))}"


def _finish(desk: Desk, row: Row) -> str:
    return dates.short_day(desk.schedule.dates(row.task).finish) if _has_dates(desk, row.task) else ""


def _links(desk: Desk, row: Row) -> str:
    return format_links(desk.plan, row.task) if desk.plan.is_whole else ""


def _set_links(desk: Desk, tasks: list[str], text: str) -> Edit:
    return edits.set_links(desk.plan, tasks[0], parse_links(desk.plan, tasks[0], text))


def _who(desk: Desk, row: Row) -> str:
    return format_assignments(desk.plan, row.task) if desk.plan.is_whole else ""


def _set_who(desk: Desk, tasks: list[str], text: str) -> Edit:
    if desk.plan.is_summary(tasks[0]) and text.strip():
        raise BadText("A summary is done by whoever does its parts; assign those.")
    wanted = parse_assignments(desk.plan, tasks[0], text)
    each = [edits.set_assignments(desk.plan, t, [replace(a, task=t) for a in wanted]) for t in tasks]
    return each[0] if len(each) == 1 else edits.together(f"Assign {len(each)} tasks", each)


def _float(desk: Desk, row: Row) -> str:
    return (
        format_length(desk.schedule.dates(row.task).total_float, _units(desk, row.task))
        if _has_dates(desk, row.task)
        else ""
    )


def _free_float(desk: Desk, row: Row) -> str:
    return (
        format_length(desk.schedule.dates(row.task).free_float, _units(desk, row.task))
        if _has_dates(desk, row.task)
        else ""
    )


def _number(desk: Desk, row: Row) -> str:
    return row.number


NUMBER, NAME, DURATION, START, LINKS, WHO, FLOAT, FREE, FINISH = range(9)

COLUMNS: tuple[Column, ...] = (
    Column("number", "#", 44, _number),
    Column("name", "Task", 206, _name, "The name of the row", _rename, lambda d, t: d.plan.tasks[t].name, many=False),
    Column(
        "duration",
        "Duration",
        62,
        _duration,
        "3, 3d, 4h, 2w or 1.5 d; 0 is a milestone",
        _set_duration,
        lambda d, t: "" if d.plan.tasks[t].duration is None else _length(d, t),
        right=True,
        echo=_echo_duration,
    ),
    Column(
        "start",
        "Start",
        84,
        _start,
        "fri, 15 sep, in 3 days, 2026-09-07: sets “no earlier than”",
        _set_start,
        _typed_start,
        echo=_echo_date,
    ),
    Column(
        "links",
        "Waits for",
        84,
        _links,
        "3.2, 3.2 SS, 3.2 2 d later, or a name",
        _set_links,
        lambda d, t: format_links(d.plan, t),
        many=False,
        completes="tasks",
    ),
    Column(
        "who",
        "Who",
        78,
        _who,
        "Initials, with a share: MO TB 50%, SL",
        _set_who,
        lambda d, t: format_assignments(d.plan, t),
        completes="resources",
    ),
    Column("float", "Float", 58, _float, right=True),
    Column("free_float", "Free float", 74, _free_float, right=True),
    Column(
        "finish",
        "Finish",
        86,
        _finish,
        "fri, end of oct, +2w: sets “finishes no earlier than”",
        _set_finish,
        _typed_finish,
        echo=_echo_date,
    ),
)


def _plain(field: str) -> Callable[[Desk, Row], str]:
    return lambda desk, row: str(getattr(desk.plan.tasks[row.task], field))


def _set_plain(field: str, read: Callable[[Desk, str], Any]) -> Callable[[Desk, list[str], str], Edit]:
    def edit(desk: Desk, tasks: list[str], text: str) -> Edit:
        value = read(desk, text.strip())
        each = [edits.set_task(desk.plan, t, f"Change “{desk.plan.tasks[t].name}”", **{field: value}) for t in tasks]
        return each[0] if len(each) == 1 else edits.together(f"Change {len(each)} tasks", each)

    return edit


def _priority(desk: Desk, row: Row) -> str:
    """In words; nothing where it is as usual, which is nearly everywhere."""
    priority = desk.plan.tasks[row.task].priority if row.task else USUAL
    return "" if priority == USUAL else priority_words(priority)


def _read_priority(desk: Desk, text: str) -> int:
    return read_priority(text)


def _percent(desk: Desk, row: Row) -> str:
    return f"{desk.percent(row.task):.0f} %"


def _set_percent(desk: Desk, tasks: list[str], text: str) -> Edit:
    said = text.strip().removesuffix("%").strip().replace(",", ".")
    try:
        percent = float(said or 0)
    except ValueError:
        percent = -1.0
    if not 0 <= percent <= 100:
        raise BadText("How much is done is a number from 0 to 100.")
    return edits.set_percent(desk.plan, tasks, percent)


def _read_target(desk: Desk, text: str) -> int | None:
    return desk.read_date(text, ends=True) if text else None


def _read_calendar(desk: Desk, text: str) -> str | None:
    if not text:
        return None
    known = {c.name.casefold(): c.id for c in [*BUILT_IN.values(), *desk.plan.calendars.values()]}
    if text.casefold() not in known:
        raise BadText(f"There is no calendar “{text}”; there are {', '.join(sorted(known))}.")
    return known[text.casefold()]


def _calendar(desk: Desk, row: Row) -> str:
    own = desk.plan.tasks[row.task].calendar
    return find_calendar(desk.plan.calendars, own).name if own else ""


def _tags(desk: Desk, row: Row) -> str:
    return ", ".join(desk.plan.tasks[row.task].tags)


def _set_tags(desk: Desk, tasks: list[str], text: str) -> Edit:
    return edits.set_tags(desk.plan, tasks, text.split(","))


def _target(desk: Desk, row: Row) -> str:
    at = desk.plan.tasks[row.task].target
    return "" if at is None else dates.short_day(at)


def _day(name: str) -> Callable[[Desk, Row], str]:
    def show(desk: Desk, row: Row) -> str:
        return dates.short_day(getattr(desk.schedule.dates(row.task), name)) if _has_dates(desk, row.task) else ""

    return show


def _interfering(desk: Desk, row: Row) -> str:
    if not _has_dates(desk, row.task):
        return ""
    found = desk.schedule.dates(row.task)
    return format_length(found.total_float - found.free_float, _units(desk, row.task))


def _independent(desk: Desk, row: Row) -> str:
    if desk.load is None:
        return ""
    return format_length(int(desk.load.independent[desk.schedule.slots[row.task]]), _units(desk, row.task))


MORE: tuple[Column, ...] = (
    Column("stream", "Stream", 84, _plain("stream"), "Department, phase or trade",
           _set_plain("stream", lambda d, text: text), lambda d, t: d.plan.tasks[t].stream, summaries=True),
    Column("priority", "Priority", 96, _priority, "Which comes first in levelling: 1, first of all, to 9, last of all",
           _set_plain("priority", _read_priority), lambda d, t: str(d.plan.tasks[t].priority)),
    Column("percent", "Done", 52, _percent, "How much is done, in per cent", _set_percent,
           lambda d, t: f"{d.plan.tasks[t].percent:g}", right=True, summaries=True),
    Column("calendar", "Calendar", 90, _calendar, "The name of a calendar, or nothing",
           _set_plain("calendar", _read_calendar), lambda d, t: _calendar(d, Row(t, 0, "")), summaries=True),
    Column("tags", "Tags", 90, _tags, "Words, parted by commas", _set_tags,
           lambda d, t: ", ".join(d.plan.tasks[t].tags), summaries=True),
    Column("target", "Wanted by", 84, _target, "A target date", _set_plain("target", _read_target),
           lambda d, t: "" if d.plan.tasks[t].target is None else dates.typed(d.plan.tasks[t].target or 0),
           echo=lambda d, t, text: dates.long_day(dates.read(text))),
    Column("late_start", "Latest start", 84, _day("late_start")),
    Column("late_finish", "Latest finish", 84, _day("late_finish")),
    Column("independent", "Independent float", 74, _independent, right=True),
    Column("interfering", "Interfering float", 74, _interfering, right=True),
    Column("notes", "Notes", 140, lambda d, r: d.plan.tasks[r.task].notes.split("\n")[0]),
)  # fmt: skip
FIXED = 2  # the number and the name stay in front


def field_column(field: Field) -> Column:
    """The column of one of a person's own fields; a computed one cannot be typed into."""
    right = field.kind in (FieldKind.NUMBER, FieldKind.MONEY)

    def value(desk: Desk, task_id: str) -> str:
        return format_value(desk.plan, field, value_in(field, dict(desk.plan.tasks[task_id].fields).get(field.name)))

    def edit(desk: Desk, tasks: list[str], text: str) -> Edit:
        found = parse_value(desk.plan, field, text, dates.reader())
        return edits.set_fields(desk.plan, tasks, {field.name: found})

    if field.kind is FieldKind.COMPUTED:
        return Column(f"field.{field.id}", field.name, 84, lambda d, r: d.formulas.text(field, r.task), field.formula,
                      right=True)  # fmt: skip
    hint = ", ".join(field.choices) or f"{field.name}: {field.kind.value}"
    return Column(
        f"field.{field.id}",
        field.name,
        84,
        lambda d, r: value(d, r.task),
        hint,
        edit,
        value,
        right=right,
        summaries=True,
    )


def all_columns(desk: Desk) -> dict[str, Column]:
    """Every column that can be shown, by its id."""
    return {c.id: c for c in (*COLUMNS, *MORE, *map(field_column, desk.plan.fields_in_order()))}


def shown_columns(desk: Desk) -> tuple[Column, ...]:
    """Those that are, in order; the number and the name first."""
    known = all_columns(desk)
    chosen = [c for c in dict.fromkeys(desk.looks.columns or [c.id for c in COLUMNS]) if c in known]
    front = [c.id for c in COLUMNS[:FIXED]]
    return tuple(known[c] for c in [*front, *(c for c in chosen if c not in front)])
