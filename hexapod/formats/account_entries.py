"""Logs, sheets, money, budgets and baselines: as entries of a plan JSON document, and back."""

from __future__ import annotations

from hexapod.formats.documents import (
    BaselineEntry,
    BaselineTaskEntry,
    BudgetEntry,
    LogEntry,
    MoneyEntryEntry,
    SheetEntry,
)
from hexapod.formats.places import Misplaced, day_at, day_or_none, moment_at, named, week_at, week_text
from hexapod.plan.accounts import Baseline, BaselineTask, Budget, Log, MoneyEntry, Sheet
from hexapod.worktime.clock import date_of, iso


def _date(day: int | None) -> str | None:
    return None if day is None else date_of(day).isoformat()


def log_entry(log: Log) -> LogEntry:
    day = date_of(log.day).isoformat()
    return LogEntry(log.id, log.task, log.resource, day, log.minutes, log.note, log.percent, log.remaining)


def log_of(entry: LogEntry, place: str) -> Log:
    named(entry.id, place)
    day = day_at(entry.day, f"{place}.day")
    return Log(
        entry.id, entry.task, entry.resource, day, entry.minutes, entry.note, entry.percent, entry.remaining
    )  # fmt: skip


def sheet_entry(sheet: Sheet) -> SheetEntry:
    return SheetEntry(sheet.id, sheet.resource, week_text(sheet.week), sheet.state, sheet.by, sheet.word)


def sheet_of(entry: SheetEntry, place: str) -> Sheet:
    named(entry.id, place)
    week = week_at(entry.week, f"{place}.week")
    return Sheet(entry.id, entry.resource, week, entry.state, entry.by, entry.word)


def money_entry(entry: MoneyEntry) -> MoneyEntryEntry:
    is_on_a_day = entry.first_day == entry.last_day
    first, last = _date(entry.first_day), _date(entry.last_day)
    return MoneyEntryEntry(
        entry.id,
        entry.project,
        entry.kind,
        entry.amount,
        entry.task,
        entry.name,
        entry.planned,
        first if is_on_a_day else None,
        None if is_on_a_day else first,
        None if is_on_a_day else last,
    )


def money_of(entry: MoneyEntryEntry, place: str) -> MoneyEntry:
    named(entry.id, place)
    day = day_or_none(entry.day, f"{place}.day")
    first, last = day_or_none(entry.first, f"{place}.from"), day_or_none(entry.last, f"{place}.to")
    if (day is None) == (first is None or last is None) or (day is not None and (first, last) != (None, None)):
        raise Misplaced(place, "an entry has either a day, or both from and to")
    if day is not None:
        first = last = day
    assert first is not None and last is not None
    name = entry.id if entry.name is None else entry.name
    return MoneyEntry(entry.id, entry.project, name, entry.kind, entry.amount, first, last, entry.task, entry.planned)


def budget_entry(budget: Budget) -> BudgetEntry:
    first, last = _date(budget.first_day), _date(budget.last_day)
    return BudgetEntry(budget.id, budget.project, budget.task, first, last, budget.amount, budget.minutes)


def budget_of(entry: BudgetEntry, place: str) -> Budget:
    named(entry.id, place)
    first, last = day_or_none(entry.first, f"{place}.from"), day_or_none(entry.last, f"{place}.to")
    return Budget(entry.id, entry.project, entry.task, first, last, entry.amount, entry.minutes)


def baseline_entry(baseline: Baseline) -> BaselineEntry:
    tasks = [
        BaselineTaskEntry(t.task, iso(t.start), iso(t.finish), t.duration, t.effort, t.cost, t.calendar, t.curve, t.own)
        for t in baseline.tasks
    ]
    return BaselineEntry(baseline.id, baseline.project, iso(baseline.at), baseline.name, tasks)


def baseline_of(entry: BaselineEntry, place: str) -> Baseline:
    named(entry.id, place)
    tasks = []
    for i, row in enumerate(entry.tasks):
        where = f"{place}.tasks[{i}]"
        start, finish = moment_at(row.start, f"{where}.start"), moment_at(row.finish, f"{where}.finish")
        tasks.append(
            BaselineTask(row.task, start, finish, row.duration, row.effort, row.cost, row.calendar, row.curve, row.own)
        )
    at = moment_at(entry.at, f"{place}.at")
    return Baseline(entry.id, entry.name or entry.id, at, entry.project, tuple(tasks))
