"""Calendars compiled to arrays of working intervals over a window of days.

A calendar's own exceptions come first, the last one said before the others, then its public holidays, then
the exceptions of the calendars it is built on, then its own week, then theirs: so a holiday of the base
counts unless the calendar itself says otherwise. A shift past midnight belongs to the day it begins on.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from hexapod.errors import CannotSchedule
from hexapod.plan.holidays import of_year
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY, Calendar, CalendarException, Interval
from hexapod.worktime.clock import THURSDAY, date_of
from hexapod.worktime.lengths import Units

Ints = NDArray[np.int64]

BUCKET = 512  # working minutes between two entries of the table that finds an interval by work done

_OFFICE: tuple[Interval, ...] = ((8 * 60, 12 * 60), (13 * 60, 17 * 60))
STANDARD = Calendar("standard", "Standard week", week=(_OFFICE,) * 5 + ((), ()))
ALWAYS = Calendar("always", "Round the clock", week=(((0, DAY),),) * 7)
BUILT_IN = {calendar.id: calendar for calendar in (STANDARD, ALWAYS)}


class WorkingTime(NamedTuple):
    """One calendar's working intervals in a window: int64 minutes, in order, never touching."""

    begins: Ints
    ends: Ints


CalendarPool = Ints
"""Several calendars in one flat int64 array, so that kernels hand it on at no cost.

It begins with a header of ``HEADER`` entries a calendar. Entries ``BEGINS``, ``ENDS`` and ``DONE`` (working
minutes before an interval) tell where the calendar's list of intervals lies, ``LAST`` the index of the
empty interval that closes the list at the window's end, ``BY_DAY`` where to find, for each of ``DAYS``
days, the first interval that ends after the day began, ``BY_WORK`` where to find, for each ``BUCKET`` of
working minutes, the interval that it begins in, and ``WINDOW`` and ``WINDOW_END`` the first and last minute.
"""

BEGINS, ENDS, DONE, LAST, BY_DAY, DAYS, BY_WORK, WINDOW, WINDOW_END, HEADER = range(10)


@dataclass(frozen=True)
class Window:
    """The days that are compiled: ``first_day`` up to, not including, ``last_day``."""

    first_day: int
    last_day: int

    @property
    def begin(self) -> int:
        return self.first_day * DAY

    @property
    def end(self) -> int:
        return self.last_day * DAY


def find_calendar(calendars: Mapping[str, Calendar], calendar_id: str) -> Calendar:
    """A workspace's calendar or a built-in one."""
    return BUILT_IN.get(calendar_id) or calendars[calendar_id]


def units_of(plan: Plan, project_id: str) -> Units:
    """How long days, weeks and months of work are in a project, and what a bare number counts there."""
    project = plan.projects[project_id]
    calendar = find_calendar(plan.calendars, project.calendar)
    day = calendar.day_minutes
    return Units(day, calendar.week_minutes, calendar.month_days * day, project.unit)


def compile_calendar(calendars: Mapping[str, Calendar], calendar_id: str, window: Window) -> WorkingTime:
    """The working intervals in the window. ``CannotSchedule`` if the calendar never works there."""
    lineage = [find_calendar(calendars, calendar_id)]
    while lineage[-1].base is not None:
        lineage.append(find_calendar(calendars, lineage[-1].base))
    patterns: list[tuple[Interval, ...]] = []
    for day in range(7):
        said = (calendar.week[day] for calendar in lineage)
        patterns.append(next((day for day in said if day is not None), ()))
    days = np.arange(window.first_day - 1, window.last_day)  # the day before may work past its midnight
    pattern_of = (days + THURSDAY) % 7
    for calendar in reversed(lineage):
        if calendar.holidays:
            pattern_of[holiday_days(calendar.holidays, window) - days[0]] = len(patterns)
            patterns.append(())
        for exception in calendar.exceptions:
            if exception.rule:
                at = rule_days(exception.rule, window) - days[0]
                pattern_of[at[at >= 0]] = len(patterns)
            else:
                first = max(exception.first_day - days[0], 0)
                last = min(exception.last_day + 1, window.last_day) - days[0]
                if first < last:
                    pattern_of[first:last] = len(patterns)
            patterns.append(exception.working)
    found = _within(_intervals(days, pattern_of, patterns), window)
    if not len(found.begins):
        raise CannotSchedule(f"The calendar “{lineage[0].name}” has no working time.")
    return found


def exception_days(exception: CalendarException, window: Window) -> list[tuple[int, int]]:
    """The runs of days, first to last inclusive, that an exception is about; a rule's as far as the window."""
    if not exception.rule:
        return [(exception.first_day, exception.last_day)]
    return [(day, day) for day in rule_days(exception.rule, window).tolist()]


def rule_days(rule: str, window: Window) -> Ints:
    """The days on which a rule occurs, each once and in order, from its beginning up to the end of the window."""
    from hexapod.plan.recurrence import moments_until

    return np.unique(np.array(moments_until(rule, window.end - 1), dtype=np.int64) // DAY)


def holiday_days(code: str, window: Window) -> Ints:
    """The public holidays in the window and on the day before, as days since 1970-01-01."""
    years = range(date_of(window.first_day - 1).year, date_of(window.last_day - 1).year + 1)
    found = np.array([day for year in years for day, _ in of_year(code, year)], dtype=np.int64)
    return found[(found >= window.first_day - 1) & (found < window.last_day)]


def _within(found: WorkingTime, window: Window) -> WorkingTime:
    begins, ends = np.maximum(found.begins, window.begin), np.minimum(found.ends, window.end)
    return WorkingTime(begins[begins < ends], ends[begins < ends])


def _intervals(days: Ints, pattern_of: Ints, patterns: list[tuple[Interval, ...]]) -> WorkingTime:
    counts = np.array([len(p) for p in patterns])
    flat = np.array([i for p in patterns for i in p], dtype=np.int64).reshape(-1, 2)
    starts = np.concatenate(([0], np.cumsum(counts)[:-1]))
    per_day = counts[pattern_of]
    total = int(per_day.sum())
    within = np.arange(total) - np.repeat(np.cumsum(per_day) - per_day, per_day)
    source = np.repeat(starts[pattern_of], per_day) + within
    midnight = np.repeat(days * DAY, per_day)
    return _joined(midnight + flat[source, 0], midnight + flat[source, 1])


def _joined(begins: Ints, ends: Ints) -> WorkingTime:
    """Intervals in the order of their begins, those that touch or overlap as one."""
    if not len(begins):
        return WorkingTime(begins, ends)
    ends = np.maximum.accumulate(ends)
    fresh = np.concatenate(([True], begins[1:] > ends[:-1]))
    last = np.concatenate((fresh[1:], [True]))
    return WorkingTime(begins[fresh], ends[last])


def meet(a: WorkingTime, b: WorkingTime) -> WorkingTime:
    """When both work."""
    edges = np.unique(np.concatenate((a.begins, a.ends, b.begins, b.ends)))
    begins, ends = edges[:-1], edges[1:]
    both = _works_at(a, begins) & _works_at(b, begins)
    return _joined(begins[both], ends[both])


def _works_at(calendar: WorkingTime, moments: Ints) -> NDArray[np.bool_]:
    at = np.searchsorted(calendar.begins, moments, side="right") - 1
    return (at >= 0) & (moments < calendar.ends[np.maximum(at, 0)])


def pool_of(compiled: Iterable[WorkingTime], window: Window) -> CalendarPool:
    """Lay compiled calendars side by side with the tables that find an interval at once."""
    calendars = list(compiled)
    header = np.zeros((len(calendars), HEADER), dtype=np.int64)
    parts: list[Ints] = []
    at = header.size
    day_starts = np.arange(window.first_day, window.last_day + 1) * DAY
    for row, calendar in zip(header, calendars, strict=True):
        done = np.concatenate(([0], np.cumsum(calendar.ends - calendar.begins)))
        buckets = np.arange(0, done[-1] + BUCKET, BUCKET)
        tables = {
            BEGINS: np.append(calendar.begins, window.end),
            ENDS: np.append(calendar.ends, window.end),
            DONE: done,
            BY_DAY: np.searchsorted(calendar.ends, day_starts, side="right"),
            BY_WORK: np.searchsorted(done, buckets, side="right") - 1,
        }
        row[LAST], row[DAYS] = len(calendar.begins), len(day_starts)
        row[WINDOW], row[WINDOW_END] = window.begin, window.end
        for entry, table in tables.items():
            row[entry] = at
            parts.append(table)
            at += len(table)
    return np.concatenate([header.ravel(), *parts])
