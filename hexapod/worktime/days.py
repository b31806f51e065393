"""What each day of a calendar is and why: the week, a holiday, or an exception."""

from __future__ import annotations

from collections.abc import Mapping
from enum import StrEnum
from typing import NamedTuple

from hexapod.errors import BadText
from hexapod.plan.holidays import of_year
from hexapod.plan.records import DAY, Calendar, Interval
from hexapod.system.budgets import whole_number
from hexapod.worktime.calendars import Window, exception_days, find_calendar
from hexapod.worktime.clock import THURSDAY, date_of


class DayKind(StrEnum):
    WEEK = "week"
    HOLIDAY = "holiday"
    EXCEPTION = "exception"


class Day(NamedTuple):
    """``name`` is that of the holiday or exception, ``source`` the calendar that says it."""

    kind: DayKind
    working: tuple[Interval, ...]
    name: str = ""
    source: str = ""

    def words(self) -> str:
        hours = format_hours(self.working) or "not working"
        return f"{hours} ({self.name})" if self.name else hours


def days_of(calendars: Mapping[str, Calendar], calendar: Calendar, window: Window) -> dict[int, Day]:
    """Each day of a window (days since 1970-01-01), by the same precedence as the compiled calendar."""
    lineage = [calendar]
    while lineage[-1].base is not None:
        lineage.append(find_calendar(calendars, lineage[-1].base))
    found: dict[int, Day] = {}
    for number in range(window.first_day, window.last_day):
        said = ((c, c.week[(number + THURSDAY) % 7]) for c in lineage)
        source, hours = next(((c, day) for c, day in said if day is not None), (calendar, ()))
        found[number] = Day(DayKind.WEEK, hours, "", source.id)
    for each in reversed(lineage):
        if each.holidays:
            for year in range(date_of(window.first_day).year, date_of(window.last_day - 1).year + 1):
                for number, name in of_year(each.holidays, year):
                    if number in found:
                        found[number] = Day(DayKind.HOLIDAY, (), name, each.id)
        for exception in each.exceptions:
            for first, last in exception_days(exception, window):
                for number in range(max(first, window.first_day), min(last + 1, window.last_day)):
                    found[number] = Day(DayKind.EXCEPTION, exception.working, exception.name, each.id)
    return found


def minutes_between(calendars: Mapping[str, Calendar], calendar: Calendar, begin: int, end: int) -> int:
    """Working minutes between two moments, day by day: for who cannot wait until calendars are compiled."""
    days = days_of(calendars, calendar, Window(begin // DAY - 1, end // DAY + 1))
    return sum(
        max(0, min(end, number * DAY + last) - max(begin, number * DAY + first))
        for number, day in days.items()
        for first, last in day.working
    )


def format_hours(working: tuple[Interval, ...]) -> str:
    """``08:00-12:00, 13:00-17:00``; nothing for no work."""
    return ", ".join(f"{_clock(b)}-{_clock(e if e <= DAY else e - DAY)}" for b, e in working)


def parse_hours(text: str) -> tuple[Interval, ...]:
    """Working hours as people type them: ``8-12, 13-17``, ``22:00-06:00``. ``BadText`` names the part."""
    found = []
    for part in filter(None, (p.strip() for p in text.replace(";", ",").split(","))):
        edges = [_minutes(edge) for edge in part.replace("–", "-").split("-")]
        if len(edges) != 2 or None in edges or edges[0] == edges[1] or edges[0] == DAY:
            raise BadText(f"“{part[:40]}” is no time of work. Type for example 8-12, 13-17 or 22:00-06:00.")
        begin, end = edges
        assert begin is not None and end is not None
        found.append((begin, end if end > begin else end + DAY))
    return tuple(sorted(found))


def _clock(minute: int) -> str:
    return f"{minute // 60:02}:{minute % 60:02}"


def _minutes(text: str) -> int | None:
    hour, _, minute = text.strip().replace(".", ":").partition(":")
    hours, minutes = whole_number(hour), whole_number(minute or "0")
    if hours is None or minutes is None or not (0 <= hours <= 24 and 0 <= minutes < 60):
        return None
    found = hours * 60 + minutes
    return found if found <= DAY else None
