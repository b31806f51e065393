"""Hours as a table: out of a plan, and from a file into it. What cannot be read is named by its row and its column."""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Sequence
from datetime import datetime
from pathlib import Path

from hexapod.errors import BadFile, BadText
from hexapod.fields.field import Texts
from hexapod.fields.hours_text import read_minutes
from hexapod.formats.table_rows import (
    Proposed,
    RowReader,
    Table,
    by_what_they_are_called,
    day_cell,
    proposed,
    table_in,
)
from hexapod.formats.tables import Cell, Sheet, read_table
from hexapod.plan.accounts import Log, monday_of
from hexapod.plan.edits.edit import new_id
from hexapod.plan.edits.hours import CLOSED, hours_words
from hexapod.plan.outline import number_of
from hexapod.plan.plan import Plan
from hexapod.plan.records import ResourceKind
from hexapod.worktime.clock import date_of

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
LONGEST_DAY = 24 * 60


def log_rows(plan: Plan) -> list[list[Cell]]:
    """A row of headings, and a row a log, by day."""
    rows: list[list[Cell]] = [list(TITLES)]
    for log in sorted(plan.logs.values(), key=lambda x: (x.day, x.resource, x.id)):
        task, who, sheet = plan.tasks[log.task], plan.resources[log.resource], plan.sheet_in(log.week)
        rows.append([
            day_cell(log.day), who.name, plan.projects[task.project].name,
            number_of(plan, task.id), task.name, round(log.minutes / 60, 3), log.note,
            "open" if sheet is None else sheet.state.value.replace("_", " "),
        ])  # fmt: skip
    return rows


def read_logs(texts: Texts, path: Path, today: int) -> Proposed[Log]:
    """What a CSV or XLSX file says. ``BadFile`` for one that is no such table."""
    found = next(filter(None, map(_table_in, read_table(path))), None)
    if found is None:
        raise BadFile(f"{path.name} has no row of headings with a day, a person, a task and hours.")
    return propose_logs(texts, path.name, found, today)


def propose_logs(texts: Texts, name: str, table: Table, today: int) -> Proposed[Log]:
    """The logs of a table. Exactly the same log is not brought twice: it is counted as known."""
    reader = _Reader(texts, table, today)
    logs, findings = [], []
    there = Counter(_same(log) for log in texts.plan.logs.values())
    known = 0
    for where, row in table.rows():
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
    return proposed(name, logs, findings, known)


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


def _table_in(sheet: Sheet) -> Table | None:
    return table_in(sheet, HEADINGS, _is_enough)


def _is_enough(columns: Collection[str]) -> bool:
    return {"day", "person", "task"}.issubset(columns) and not {"hours", "minutes"}.isdisjoint(columns)


class _Reader(RowReader):
    """Reads rows; names are looked up once."""

    def __init__(self, texts: Texts, table: Table, today: int) -> None:
        super().__init__(texts, table, HEADINGS)
        self._today, plan = today, texts.plan
        self._people = by_what_they_are_called(
            [r for r in plan.resources_in_order() if r.kind is not ResourceKind.ROLE]
        )
        self._tasks: dict[str, list[str]] = {}
        for t in plan.tasks.values():
            if not plan.is_summary(t.id):
                self._tasks.setdefault(t.name.casefold(), []).append(t.id)

    def log(self, row: Sequence[Cell]) -> Log:
        """``BadText`` names the column."""
        day, who = self._day(row), self._who(row)
        task, minutes = self._task(row, who), self._minutes(row)
        plan = self.texts.plan
        sheet = plan.sheet_in((who, monday_of(day)))
        if sheet is not None and sheet.state in CLOSED:
            raise BadText(f"Day: that week of {plan.resources[who].name} is {sheet.state.value.replace('_', ' ')}.")
        return Log(new_id(), task, who, day, minutes, self.text(row, "note")[:2000])

    def _day(self, row: Sequence[Cell]) -> int:
        day = self.day(row, "day")
        if day is None:
            raise BadText("Day: there is none.")
        if day > self._today:
            raise BadText(f"Day: {date_of(day).isoformat()} is still to come.")
        return day

    def _who(self, row: Sequence[Cell]) -> str:
        name = self.text(row, "person")
        found = self._people.get(name.casefold())
        if found is None:
            raise BadText(f"Person: “{name[:60]}” is nobody among the resources.")
        return found

    def _task(self, row: Sequence[Cell], who: str) -> str:
        plan, name = self.texts.plan, self.text(row, "task")
        if name in plan.tasks:
            return name
        found = self._tasks.get(name.casefold(), [])
        project, number = self.text(row, "project").casefold(), self.text(row, "number")
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
        is_hours = "hours" in self.columns
        cell = self.cell(row, "hours" if is_hours else "minutes")
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
