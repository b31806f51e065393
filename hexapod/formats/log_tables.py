"""Hours as a table: out of a plan, and from a file into it. What cannot be read is named by its row and its column."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from hexapod.errors import BadFile, BadText
from hexapod.fields.field import Texts
from hexapod.fields.hours_text import read_minutes
from hexapod.formats.tables import Cell, Sheet, read_table
from hexapod.plan.accounts import Log, monday_of
from hexapod.plan.edits.edit import new_id
from hexapod.plan.edits.hours import CLOSED, hours_words
from hexapod.plan.outline import number_of
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY, ResourceKind
from hexapod.worktime.clock import date_of, minutes_of

TITLES = ("Day", "Person", "Project", "Number", "Task", "Hours", "Note", "Sheet")
HEADINGS = {
    "day": ("day", "date", "on", "when"),
    "person": ("person", "who", "name", "initials", "by", "people"),
    "project": ("project",),
    "number": ("number", "#", "wbs", "no"),
    "task": ("task", "activity", "what", "task name", "work"),
    "hours": ("hours", "time", "duration", "spent", "h"),
    "minutes": ("minutes", "min"),
    "note": ("note", "notes", "remark", "comment", "description"),
}
MOST_SAID = 200  # findings
LONGEST_DAY = 24 * 60


@dataclass(frozen=True)
class ProposedLogs:
    """What a file would bring: logs, sentences about what is left out or odd, and how many are there already."""

    name: str
    logs: tuple[Log, ...]
    findings: tuple[str, ...]
    known: int

    @property
    def items(self) -> tuple[Log, ...]:
        return self.logs


def log_rows(plan: Plan) -> list[list[Cell]]:
    """A row of headings, and a row a log, by day."""
    rows: list[list[Cell]] = [list(TITLES)]
    for log in sorted(plan.logs.values(), key=lambda x: (x.day, x.resource, x.id)):
        task, who, sheet = plan.tasks[log.task], plan.resources[log.resource], plan.sheet_in(log.week)
        day = date_of(log.day)
        rows.append([
            datetime(day.year, day.month, day.day), who.name, plan.projects[task.project].name,
            number_of(plan, task.id), task.name, round(log.minutes / 60, 3), log.note,
            "open" if sheet is None else sheet.state.value.replace("_", " "),
        ])  # fmt: skip
    return rows


def read_logs(texts: Texts, path: Path, today: int) -> ProposedLogs:
    """What a CSV or XLSX file says. ``BadFile`` for one that is no such table."""
    sheets = read_table(path)
    found = next((sheet for sheet in sheets if _header(sheet) is not None), None)
    if found is None:
        raise BadFile(f"{path.name} has no row of headings with a day, a person, a task and hours.")
    return propose_logs(texts, path.name, found, today)


def propose_logs(texts: Texts, name: str, sheet: Sheet, today: int) -> ProposedLogs:
    """The logs of a sheet. Exactly the same log is not brought twice: it is counted as known."""
    header = _header(sheet)
    assert header is not None
    at, columns = header
    reader = _Reader(texts, columns, today)
    logs, findings = [], []
    there = Counter(_same(log) for log in texts.plan.logs.values())
    known = 0
    for i, row in enumerate(sheet.rows[at + 1 :]):
        if all(cell is None or cell == "" for cell in row):
            continue
        where = f"Row {sheet.first_row + at + 1 + i}"
        try:
            log = reader.log(row)
        except BadText as error:
            findings.append(f"{where}, {error}")
            continue
        if there[_same(log)]:
            there[_same(log)] -= 1
            known += 1
            continue
        logs.append(log)
    findings += _too_long(texts.plan, logs)
    more = len(findings) - MOST_SAID
    said = [*findings[:MOST_SAID], f"… and {more} more"] if more > 0 else findings
    return ProposedLogs(name, tuple(logs), tuple(said), known)


def _same(log: Log) -> tuple[str, str, int, int, str]:
    return (log.task, log.resource, log.day, log.minutes, log.note)


def _too_long(plan: Plan, logs: list[Log]) -> list[str]:
    """Takes out what would make a person's day longer than it is, and says so."""
    by_day: Counter[tuple[str, int]] = Counter()
    for log in (*plan.logs.values(), *logs):
        by_day[log.resource, log.day] += log.minutes
    over = {key for key, minutes in by_day.items() if minutes > LONGEST_DAY}
    logs[:] = [log for log in logs if (log.resource, log.day) not in over]
    touched = sorted(over)
    return [
        f"{plan.resources[who].name} would have {hours_words(by_day[who, day])} on {date_of(day).isoformat()}: left out"
        for who, day in touched
    ]


def _header(sheet: Sheet) -> tuple[int, dict[str, int]] | None:
    """The row of headings among the first ten, and which column is which."""
    for i, row in enumerate(sheet.rows[:10]):
        said = [str(cell or "").strip().casefold() for cell in row]
        columns = {
            name: next(said.index(word) for word in words if word in said)
            for name, words in HEADINGS.items()
            if any(word in said for word in words)
        }
        has_time = "hours" in columns or "minutes" in columns
        if {"day", "person", "task"} <= columns.keys() and has_time:
            return i, columns
    return None


class _Reader:
    """Reads rows; names are looked up once."""

    def __init__(self, texts: Texts, columns: dict[str, int], today: int) -> None:
        self._texts, self._columns, self._today = texts, columns, today
        plan = texts.plan
        self._people: dict[str, str] = {}
        for r in plan.resources_in_order():
            if r.kind is not ResourceKind.ROLE:
                for name in (r.name, r.initials, r.email):
                    if name:
                        self._people.setdefault(name.casefold(), r.id)
        self._tasks: dict[str, list[str]] = {}
        for t in plan.tasks.values():
            if not plan.is_summary(t.id):
                self._tasks.setdefault(t.name.casefold(), []).append(t.id)

    def _cell(self, row: Sequence[Cell], name: str) -> Cell:
        at = self._columns.get(name)
        return row[at] if at is not None and at < len(row) else None

    def _text(self, row: Sequence[Cell], name: str) -> str:
        found = self._cell(row, name)
        return "" if found is None else str(found).strip()

    def log(self, row: Sequence[Cell]) -> Log:
        """``BadText`` names the column."""
        day, who = self._day(row), self._who(row)
        task, minutes = self._task(row, who), self._minutes(row)
        plan = self._texts.plan
        sheet = plan.sheet_in((who, monday_of(day)))
        if sheet is not None and sheet.state in CLOSED:
            raise BadText(f"Day: that week of {plan.resources[who].name} is {sheet.state.value.replace('_', ' ')}.")
        return Log(new_id(), task, who, day, minutes, self._text(row, "note")[:2000])

    def _day(self, row: Sequence[Cell]) -> int:
        cell = self._cell(row, "day")
        if isinstance(cell, datetime):
            day = minutes_of(cell) // DAY
        else:
            try:
                day = self._texts.dates.read(str(cell or "").strip()) // DAY
            except BadText as error:
                raise BadText(f"Day: {error}") from None
        if day > self._today:
            raise BadText(f"Day: {date_of(day).isoformat()} is still to come.")
        return day

    def _who(self, row: Sequence[Cell]) -> str:
        name = self._text(row, "person")
        found = self._people.get(name.casefold())
        if found is None:
            raise BadText(f"Person: “{name[:60]}” is nobody among the resources.")
        return found

    def _task(self, row: Sequence[Cell], who: str) -> str:
        plan, name = self._texts.plan, self._text(row, "task")
        if name in plan.tasks:
            return name
        found = self._tasks.get(name.casefold(), [])
        project, number = self._text(row, "project").casefold(), self._text(row, "number")
        if project:
            found = [t for t in found if plan.projects[plan.tasks[t].project].name.casefold() == project]
        if len(found) > 1 and number:
            found = [t for t in found if number_of(plan, t) == number]
        if len(found) > 1:
            found = [t for t in found if who in plan.assigned.get(t, ())] or found
        if len(found) != 1:
            count = "no task is" if not found else f"{len(found)} tasks are"
            raise BadText(f"Task: {count} called “{name[:60]}”.")
        return found[0]

    def _minutes(self, row: Sequence[Cell]) -> int:
        is_hours = "hours" in self._columns
        cell = self._cell(row, "hours" if is_hours else "minutes")
        column = "Hours" if is_hours else "Minutes"
        if isinstance(cell, bool) or cell is None or cell == "":
            raise BadText(f"{column}: there are none.")
        if isinstance(cell, datetime):
            minutes = cell.hour * 60 + cell.minute
        elif isinstance(cell, int | float):
            minutes = round(cell * (60 if is_hours else 1))
        else:
            try:
                minutes = read_minutes(cell if is_hours else f"{cell}m")
            except BadText as error:
                raise BadText(f"{column}: {error}") from None
        if not minutes or abs(minutes) > LONGEST_DAY:
            raise BadText(f"{column}: {hours_words(minutes)} is no part of a day.")
        return minutes
