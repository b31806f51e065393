"""iCalendar: tasks as VTODO, or as VEVENT for calendars that know no others, with their links.

RFC 5545 for the components; RFC 9253, section 5, for the temporal relations (from memory): RELATED-TO in the
component that waits names what it waits for, with RELTYPE FINISHTOSTART and so on, and GAP for the lag.
What the format has no word for is kept in X-HEXAPOD- properties, so that a round trip loses nothing of it.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from datetime import UTC, datetime, timedelta

from icalendar import Calendar, Event, Todo

from hexapod.errors import BadFile
from hexapod.formats.content_lines import Component, Property, components, length, listed, moment
from hexapod.formats.tables import Cell, Sheet, decoded
from hexapod.plan.outline import Row
from hexapod.plan.plan import Plan
from hexapod.plan.records import Link, LinkType, Task
from hexapod.schedule.schedule import Dates
from hexapod.system import budgets
from hexapod.system.budgets import within
from hexapod.worktime.clock import iso, moment_of

_RELATIONS = {
    LinkType.FS: "FINISHTOSTART",
    LinkType.SS: "STARTTOSTART",
    LinkType.FF: "FINISHTOFINISH",
    LinkType.SF: "STARTTOFINISH",
}
_TYPES = {relation: kind for kind, relation in _RELATIONS.items()}


def write_icalendar(plan: Plan, dates: Dates, shown: Sequence[Row], *, events: bool = False) -> bytes:
    """The rows as to-dos, or as events."""
    calendar = Calendar()
    calendar.add("prodid", "-//Hexapod//Project schedules//EN")
    calendar.add("version", "2.0")
    stamp = datetime.now(UTC).replace(microsecond=0)
    for row in shown:
        if row.task and dates.has(row.task):
            calendar.add_component(_component(plan, dates, row, stamp, events))
    return bytes(calendar.to_ical())


def _component(plan: Plan, dates: Dates, row: Row, stamp: datetime, events: bool) -> Event | Todo:
    task, found = plan.tasks[row.task], dates.dates(row.task)
    made = Event() if events else Todo()
    made.add("uid", task.id)
    made.add("dtstamp", stamp)
    made.add("summary", task.name)
    made.add("dtstart", moment_of(found.start))
    if not events:
        made.add("due", moment_of(found.finish)) if found.finish > found.start else None
        _add_progress(made, plan, task)
    elif found.finish > found.start:
        made.add("dtend", moment_of(found.finish))
    if task.notes:
        made.add("description", task.notes)
    if task.tags:
        made.add("categories", list(task.tags))
    for place in task.attachments:
        made.add("attach", one_line(place))
    if task.parent is not None:
        made.add("related-to", task.parent, parameters={"RELTYPE": "PARENT"})
    for link in sorted(plan.links_into(task.id), key=lambda x: x.key):
        made.add("related-to", link.predecessor, parameters=_parameters(link))
    if not plan.is_summary(task.id) and task.duration is not None:
        made.add("x-hexapod-duration", f"{task.minutes} min{' elapsed' if task.elapsed else ''}")
    if task.stream:
        made.add("x-hexapod-stream", one_line(task.stream))
    return made


def _add_progress(made: Event | Todo, plan: Plan, task: Task) -> None:
    """STATUS, PERCENT-COMPLETE and COMPLETED (RFC 5545, 3.8.1.11, 3.8.1.8 and 3.8.2.1: in UTC)."""
    if plan.is_summary(task.id) or task.actual_start is None:
        return
    made.add("status", "COMPLETED" if task.is_done else "IN-PROCESS")
    made.add("percent-complete", round(task.percent))
    made.add("x-hexapod-began", iso(task.actual_start))
    if task.actual_finish is not None:
        made.add("completed", moment_of(task.actual_finish).astimezone(UTC))
    elif task.remaining is not None:
        made.add("x-hexapod-left", f"{task.remaining} min")
    if task.percent != round(task.percent):
        made.add("x-hexapod-percent", f"{task.percent:.6g}")


def one_line(text: str) -> str:
    """A text without what ends a line: one that went into a file as it is could begin a property of its own."""
    return " ".join(text.split())


def _parameters(link: Link) -> dict[str, str]:
    found = {"RELTYPE": _RELATIONS[link.type]}
    if link.lag:
        found["GAP"] = f"{'-' if link.lag < 0 else ''}PT{abs(link.lag)}M"
    return found


def read_icalendar(name: str, data: bytes) -> Sheet:
    """The to-dos and events of a file as a table, parents before their parts. ``BadFile`` if it is none."""
    within(name, len(data), "bytes", budgets.CALENDAR_FILE)
    parts: list[Component] = []
    for part in components(name, decoded(name, data), ("VTODO", "VEVENT")):
        parts.append(part)
        within(name, len(parts), "entries", budgets.ENTRIES)
    if not parts:
        raise BadFile(f"{name} has no to-dos and no events.")
    heads: list[Cell] = [
        "id",
        "level",
        "name",
        "duration",
        "start",
        "finish",
        "waits for",
        "tags",
        "notes",
        "stream",
        "done",
        "actual start",
        "actual finish",
        "left",
    ]
    return Sheet(name, [heads, *_rows(parts)], 0)


def _rows(parts: list[Component]) -> Iterator[list[Cell]]:
    by_id = {_said(part, "UID") or str(i): part for i, part in enumerate(parts)}
    below: dict[str, list[str]] = {}
    for uid, part in by_id.items():
        parent = next((r.text for r in part.all("RELATED-TO") if _relation(r) == "PARENT"), "")
        below.setdefault(parent if parent in by_id and parent != uid else "", []).append(uid)
    waiting = [(uid, 1) for uid in reversed(below.get("", []))]
    seen: set[str] = set()
    while waiting:
        uid, level = waiting.pop()
        if uid in seen:
            continue
        seen.add(uid)
        yield _row(by_id[uid], uid, level, bool(below.get(uid)))
        waiting += [(child, level + 1) for child in reversed(below.get(uid, []))]
    for uid in by_id:
        if uid not in seen:  # parents that lead in a circle
            yield _row(by_id[uid], uid, 1, False)


def _row(part: Component, uid: str, level: int, is_summary: bool) -> list[Cell]:
    duration = _said(part, "X-HEXAPOD-DURATION")
    start, finish = (None, None) if duration or is_summary else _dates(part)  # else the plan gives the dates
    links = [text for r in part.all("RELATED-TO") if (text := _link_text(r))]
    words = [word for found in part.all("CATEGORIES") for word in listed(found.value)]
    return [
        uid, level, _said(part, "SUMMARY") or "(no name)", duration or None, start, finish, ", ".join(links) or None,
        ", ".join(w.replace(",", " ") for w in words) or None, _said(part, "DESCRIPTION") or None,
        _said(part, "X-HEXAPOD-STREAM") or None, *([None] * 4 if is_summary else _progress(part)),
    ]  # fmt: skip


def _progress(part: Component) -> tuple[Cell, Cell, Cell, Cell]:
    """Per cent, actual start, actual finish and what is left; what another program calls completed is done."""
    percent = _said(part, "X-HEXAPOD-PERCENT") or _said(part, "PERCENT-COMPLETE")
    is_done = _said(part, "STATUS").upper() == "COMPLETED"
    began, ended = _said(part, "X-HEXAPOD-BEGAN"), part.first("COMPLETED")
    try:
        end: Cell = moment(ended)
    except (ValueError, OverflowError):
        end = None if ended is None else ended.text  # no date: to be told with its row
    left = _said(part, "X-HEXAPOD-LEFT")
    return "100" if is_done else percent or None, began or None, end, left or None


def _dates(part: Component) -> tuple[Cell, Cell]:
    """Start and finish; what is no date is handed on as it is, to be told with its row."""
    try:
        start = moment(part.first("DTSTART"))
        finish = moment(part.first("DUE") or part.first("DTEND"))
        if start is not None and finish is None:
            finish = start + (length(part.first("DURATION")) or timedelta())
    except (ValueError, OverflowError):
        said = [_said(part, name) for name in ("DTSTART", "DUE", "DTEND", "DURATION")]
        return said[0] or None, next(filter(None, said[1:]), None)
    return start, finish


def _relation(related: Property) -> str:
    return related.parameters.get("RELTYPE", "PARENT").upper()


def _link_text(related: Property) -> str:
    """The link as it is typed, by the id of what is waited for."""
    kind = _TYPES.get(_relation(related))
    if kind is None:
        return ""
    text = f"{related.text} {kind.value}"
    gap = related.parameters.get("GAP", "")
    if gap:
        try:
            found = length(Property(gap, {}))
        except ValueError:
            return f"{text} {gap[:30]} later"  # to be told with its row
        minutes = round((found or timedelta()).total_seconds() / 60)
        if minutes:
            text += f" {abs(minutes)} min {'sooner' if minutes < 0 else 'later'}"
    return text


def _said(part: Component, name: str) -> str:
    found = part.first(name)
    return "" if found is None else found.text
