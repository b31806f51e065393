"""A calendar being edited: days and weeks are changed here first, and shown with what they would move."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

from msgspec.structs import replace

from hexapod.plan.records import Calendar, CalendarException, Interval
from hexapod.plan.recurrence import check_rule
from hexapod.worktime.clock import day_number


def with_days(
    calendar: Calendar, days: Sequence[date], working: tuple[Interval, ...] | None, name: str = ""
) -> Calendar:
    """The days with other hours, or (None) as the week says again. Exceptions by rule stay, and may come through."""
    numbers = [day_number(day) for day in days]
    if not numbers:
        return calendar
    first, last = min(numbers), max(numbers)
    kept: list[CalendarException] = []
    for exception in calendar.exceptions:
        if exception.rule or exception.last_day < first or exception.first_day > last:
            kept.append(exception)
            continue
        if exception.first_day < first:
            kept.append(replace(exception, last_day=first - 1))
        if exception.last_day > last:
            kept.append(replace(exception, first_day=last + 1))
    if working is not None:
        kept.append(CalendarException(first, last, working, "", name))
    return replace(calendar, exceptions=tuple(kept))


def yearly(calendar: Calendar, day: date, working: tuple[Interval, ...], name: str) -> Calendar:
    """The day with other hours in every year from now on."""
    return by_rule(calendar, day, "FREQ=YEARLY", working, name)


def by_rule(calendar: Calendar, day: date, rule: str, working: tuple[Interval, ...], name: str) -> Calendar:
    """Other hours on the days of an RFC 5545 rule, such as ``FREQ=MONTHLY;BYDAY=1FR``, from a day on."""
    whole = f"DTSTART:{day:%Y%m%d}T000000\nRRULE:{rule.strip().removeprefix('RRULE:')}"
    check_rule(whole)
    number = day_number(day)
    return replace(calendar, exceptions=(*calendar.exceptions, CalendarException(number, number, working, whole, name)))
