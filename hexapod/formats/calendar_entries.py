"""Calendars of plan JSON as records: a week of intervals, exceptions by days or by a rule."""

from __future__ import annotations

import math
import re

from hexapod.errors import BadText
from hexapod.formats.documents import CalendarEntry, ExceptionEntry
from hexapod.formats.places import Misplaced, day_at, named
from hexapod.formats.plan_entries import WEEKDAYS
from hexapod.plan.records import DAY, Calendar, CalendarException, Interval
from hexapod.worktime.clock import day_number

_HOURS = re.compile(r"(\d\d):(\d\d)-(\d\d):(\d\d)")


def _intervals(texts: list[str], place: str) -> tuple[Interval, ...]:
    found = []
    for i, text in enumerate(texts):
        match = _HOURS.fullmatch(text)
        hours = [int(part) for part in match.groups()] if match else [99, 99, 99, 99]
        begin, end = hours[0] * 60 + hours[1], hours[2] * 60 + hours[3]
        if hours[1] > 59 or hours[3] > 59 or begin >= DAY or end > DAY or begin == end:
            raise Misplaced(
                f"{place}[{i}]", f"“{text[:40]}” is no interval of a day, such as 08:00-12:00 or 22:00-06:00"
            )
        if end < begin:
            end += DAY  # past midnight
        found.append((begin, end))
    return tuple(sorted(found))


def calendar_of(entry: CalendarEntry, place: str) -> Calendar:
    named(entry.id, place)
    for day in entry.week:
        if day not in WEEKDAYS:
            raise Misplaced(f"{place}.week", f"“{day[:40]}” is no weekday; they are {', '.join(WEEKDAYS)}")
    week = tuple(_intervals(entry.week[day], f"{place}.week.{day}") if day in entry.week else None for day in WEEKDAYS)
    if entry.base is None and all(day is None for day in week):
        raise Misplaced(place, "a calendar needs a week or a base")
    return Calendar(
        entry.id,
        entry.name or entry.id,
        entry.base,
        week,
        exceptions_of(entry.exceptions, f"{place}.exceptions"),
        entry.holidays,
        _minutes(entry.hours_a_day, f"{place}.hours_a_day"),
        _minutes(entry.hours_a_week, f"{place}.hours_a_week"),
        entry.days_a_month,
    )


def _minutes(hours: float, place: str) -> int:
    if not (math.isfinite(hours) and 0 < hours <= 168):
        raise Misplaced(place, f"{hours!r} is no number of hours of a day or a week")
    return round(hours * 60)


def exceptions_of(entries: list[ExceptionEntry], place: str) -> tuple[CalendarException, ...]:
    found = []
    for i, e in enumerate(entries):
        where = f"{place}[{i}]"
        working = _intervals(e.working, f"{where}.working")
        if e.rule:
            if e.first is not None or e.last is not None:
                raise Misplaced(where, "an exception has either a rule or from and to")
            day = _rule_day(e.rule, f"{where}.rule")
            found.append(CalendarException(day, day, working, e.rule, e.name))
            continue
        if e.first is None:
            raise Misplaced(where, "an exception needs from, or a rule")
        first = day_at(e.first, f"{where}.from")
        last = first if e.last is None else day_at(e.last, f"{where}.to")
        found.append(CalendarException(first, last, working, "", e.name))
    return tuple(found)


def _rule_day(rule: str, place: str) -> int:
    from hexapod.plan.recurrence import check_rule, start_of

    try:
        check_rule(rule)
        return day_number(start_of(rule))
    except BadText as error:
        raise Misplaced(place, str(error)) from None
