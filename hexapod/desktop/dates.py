"""Dates as the reader's locale shows them, always with their weekday."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from functools import cache

from PyQt6.QtCore import QDate, QLocale, QTime

from hexapod.worktime.clock import date_of, iso, moment_of
from hexapod.worktime.dates import DateWords, parse_said
from hexapod.worktime.spans import in_range

DAY = 1440


NO_DATE = "–"  # of a moment that lies outside all calendars, such as that of work which cannot be placed


def _shown(minutes: int, shape: str) -> str:
    if not in_range(minutes):
        return NO_DATE
    day = date_of(minutes // DAY)
    return QLocale().toString(QDate(day.year, day.month, day.day), shape)


def short_day(minutes: int) -> str:
    """``Mon 7 Sep``: weekday, day, month in the locale's words."""
    return _shown(minutes, "ddd d MMM")


def last_day(minutes: int) -> str:
    """The day on which something ends: what ends at midnight ends on the day before."""
    return short_day(minutes - 1 if minutes % DAY == 0 else minutes)


def long_day(minutes: int) -> str:
    """``Mon 7 Sep 2026``."""
    return _shown(minutes, "ddd d MMM yyyy")


def clock_time(minutes: int) -> str:
    if not in_range(minutes):
        return NO_DATE
    moment = moment_of(minutes)
    return QLocale().toString(QTime(moment.hour, moment.minute), QLocale.FormatType.ShortFormat)


def moment(minutes: int) -> str:
    """Day and time, for where the hour counts."""
    return f"{long_day(minutes)}, {clock_time(minutes)}"


DAY_BEGINS, DAY_ENDS = 8 * 60, 17 * 60  # the hour that is meant where none is said


@cache
def words() -> DateWords:
    """What the reader's locale calls months and days, and which of them leads in 15/9."""
    locale = QLocale()
    months = tuple(locale.standaloneMonthName(m) for m in range(1, 13))
    days = tuple(locale.standaloneDayName(d) for d in range(1, 8))
    short = locale.dateFormat(QLocale.FormatType.ShortFormat)
    day_first = short.find("d") < short.find("M") if locale != QLocale.c() else True
    return DateWords(months, days, day_first)


def read(text: str, *, ends: bool = False) -> int:
    """A date as it was typed; without an hour the day's beginning, or the hour at which work usually ends."""
    at = parse_said(text, date.today(), words())
    return at + DAY_ENDS if ends and not at % DAY and ":" not in text else at


def read_start(text: str) -> int:
    """When something begins, as it was typed; without an hour at the one from which work usually begins."""
    at = read(text)
    return at if at % DAY else at + DAY_BEGINS


def read_either(text: str, ends: bool) -> int:
    """A date as it was typed, for who says which end of a day is meant."""
    return read(text, ends=ends)


def reader() -> Callable[[str], int]:
    """The reading of dates, for who knows nothing of locales; a day without an hour is its midnight."""
    return lambda text: parse_said(text, date.today(), words())


def typed(minutes: int) -> str:
    """As it can be typed again: ``2026-09-07``, with the hour if it is not a usual one."""
    text = iso(minutes)
    day, hour = text.split("T")
    return day if minutes % DAY in (0, DAY_BEGINS, DAY_ENDS) else f"{day} {hour}"


def month_name(minutes: int) -> str:
    """``September 2026``."""
    return _shown(minutes, "MMMM yyyy")
