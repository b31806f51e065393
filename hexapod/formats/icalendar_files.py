"""iCalendar: tasks as VTODO, or as VEVENT for calendars that know no others, with their links.

RFC 5545 for the components; RFC 9253, section 5, for the temporal relations (from memory): RELATED-TO in the
component that waits names what it waits for, with RELTYPE FINISHTOSTART and so on, and GAP for the lag.
What the format has no word for is kept in X-HEXAPOD- properties, so that a round trip loses nothing of it.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from datetime import UTC, date, datetime, timedelta
from typing import Any

from icalendar import Calendar, Event, Todo

from hexapod.errors import BadFile
from hexapod.formats.tables import MOST_ROWS, Cell, Sheet
from hexapod.plan.outline import Row
from hexapod.plan.plan import Plan
from hexapod.plan.records import Link, LinkType
from hexapod.schedule.schedule import Schedule
from hexapod.worktime.clock import moment_of

LARGEST = 32 * 1024 * 1024  # bytes
_RELATIONS = {
    LinkType.FS: "FINISHTOSTART",
    LinkType.SS: "STARTTOSTART",
    LinkType.FF: "FINISHTOFINISH",
    LinkType.SF: "STARTTOFINISH",
}
_TYPES = {relation: kind for kind, relation in _RELATIONS.items()}


def write_icalendar(plan: Plan, dates: Schedule, shown: Sequence[Row], *, events: bool = False) -> bytes:
    """The rows as to-dos, or as events."""
    calendar = Calendar()
    calendar.add("prodid", "-//Hexapod//Project schedules//EN")
    calendar.add("version", "2.0")
    stamp = datetime.now(UTC).replace(microsecond=0)
    for row in shown:
        if row.task and dates.has(row.task):
            calendar.add_component(_component(plan, dates, row, stamp, events))
    return bytes(calendar.to_ical())


def _component(plan: Plan, dates: Schedule, row: Row, stamp: datetime, events: bool) -> Event | Todo:
    task, found = plan.tasks[row.task], dates.dates(row.task)
    made = Event() if events else Todo()
    made.add("uid", task.id)
    made.add("dtstamp", stamp)
    made.add("summary", task.name)
    made.add("dtstart", moment_of(found.start))
    if not events:
        made.add("due", moment_of(found.finish)) if found.finish > found.start else None
        if task.percent:
            made.add("percent-complete", round(task.percent))
    elif found.finish > found.start:
        made.add("dtend", moment_of(found.finish))
    if task.notes:
        made.add("description", task.notes)
    if task.tags:
        made.add("categories", list(task.tags))
    for place in task.attachments:
        made.add("attach", place)
    if task.parent is not None:
        made.add("related-to", task.parent, parameters={"RELTYPE": "PARENT"})
    for link in sorted(plan.links_into(task.id), key=lambda x: x.key):
        made.add("related-to", link.predecessor, parameters=_parameters(link))
    if not plan.is_summary(task.id) and task.duration is not None:
        made.add("x-hexapod-duration", f"{task.minutes} min{' elapsed' if task.elapsed else ''}")
    if task.stream:
        made.add("x-hexapod-stream", task.stream)
    return made


def _parameters(link: Link) -> dict[str, str]:
    found = {"RELTYPE": _RELATIONS[link.type]}
    if link.lag:
        found["GAP"] = f"{'-' if link.lag < 0 else ''}PT{abs(link.lag)}M"
    return found


def read_icalendar(name: str, data: bytes) -> Sheet:
    """The to-dos and events of a file as a table, parents before their parts. ``BadFile`` if it is none."""
    if len(data) > LARGEST:
        raise BadFile(f"{name} has {len(data) // 1024 // 1024} MB; a calendar may have {LARGEST // 1024 // 1024} MB.")
    try:
        calendars = Calendar.from_ical(data, multiple=True)
    except (ValueError, KeyError, IndexError, TypeError, AttributeError, RecursionError) as error:
        raise BadFile(f"{name} is no calendar file: {str(error)[:100]}.") from None
    parts = [c for calendar in calendars for c in calendar.walk() if c.name in ("VTODO", "VEVENT")]
    if len(parts) > MOST_ROWS:
        raise BadFile(f"{name} has more than {MOST_ROWS} entries.")
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
    ]
    return Sheet(name, [heads, *_rows(parts)], 0)


def _rows(parts: list[Any]) -> Iterator[list[Cell]]:
    by_id = {_said(part, "uid") or str(i): part for i, part in enumerate(parts)}
    below: dict[str, list[str]] = {}
    for uid, part in by_id.items():
        parent = next((str(r) for r in _related(part) if _relation(r) == "PARENT"), "")
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
    for uid in by_id.keys() - seen:  # parents that lead in a circle
        yield _row(by_id[uid], uid, 1, False)


def _row(part: Any, uid: str, level: int, is_summary: bool) -> list[Cell]:
    duration = _said(part, "x-hexapod-duration")
    start, finish = _moment(part.get("dtstart")), _moment(part.get("due") or part.get("dtend"))
    if duration or is_summary:
        start = finish = None  # the plan gives the dates
    elif start is not None and finish is None:
        length = part.get("duration")
        finish = start + length.dt if length is not None and isinstance(length.dt, timedelta) else start
    links = [text for r in _related(part) if (text := _link_text(r))]
    tags = part.get("categories")
    lists = tags if isinstance(tags, list) else [] if tags is None else [tags]
    words = [str(w) for each in lists for w in getattr(each, "cats", [each])]
    return [
        uid, level, _said(part, "summary") or "(no name)", duration or None, start, finish, ", ".join(links) or None,
        ", ".join(w.replace(",", " ") for w in words) or None, _said(part, "description") or None,
        _said(part, "x-hexapod-stream") or None, _said(part, "percent-complete") or None,
    ]  # fmt: skip


def _related(part: Any) -> list[Any]:
    found = part.get("related-to")
    return found if isinstance(found, list) else [] if found is None else [found]


def _relation(related: Any) -> str:
    return str(related.params.get("RELTYPE", "PARENT")).upper()


def _link_text(related: Any) -> str:
    """The link as it is typed, by the id of what is waited for."""
    kind = _TYPES.get(_relation(related))
    if kind is None:
        return ""
    text = f"{related} {kind.value}"
    gap = re.fullmatch(r"(-?)P(?:(\d+)W)?(?:(\d+)D)?(?:T(?:(\d+)H)?(?:(\d+)M)?)?", str(related.params.get("GAP", "")))
    if gap:
        weeks, days, hours, minutes = (int(part or 0) for part in gap.groups()[1:])
        total = ((weeks * 7 + days) * 24 + hours) * 60 + minutes
        if total:
            text += f" {total} min {'sooner' if gap[1] else 'later'}"
    return text


def _said(part: Any, name: str) -> str:
    value = part.get(name)
    return "" if value is None else str(value[0] if isinstance(value, list) else value)


def _moment(value: Any) -> datetime | None:
    """Local time; one with a zone is taken to the zone of this machine."""
    if isinstance(value, list):
        value = value[0]
    found = getattr(value, "dt", None)
    if isinstance(found, datetime):
        return found.astimezone().replace(tzinfo=None) if found.tzinfo is not None else found
    if isinstance(found, date):
        return datetime(found.year, found.month, found.day)
    return None
