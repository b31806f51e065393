"""Dates as the reader's locale shows them, always with their weekday."""

from __future__ import annotations

from PyQt6.QtCore import QDate, QLocale, QTime

from hexapod.worktime.clock import date_of, moment_of

DAY = 1440


def _qdate(minutes: int) -> QDate:
    day = date_of(minutes // DAY)
    return QDate(day.year, day.month, day.day)


def short_day(minutes: int) -> str:
    """``Mon 7 Sep``: weekday, day, month in the locale's words."""
    return QLocale().toString(_qdate(minutes), "ddd d MMM")


def long_day(minutes: int) -> str:
    """``Mon 7 Sep 2026``."""
    return QLocale().toString(_qdate(minutes), "ddd d MMM yyyy")


def clock_time(minutes: int) -> str:
    moment = moment_of(minutes)
    return QLocale().toString(QTime(moment.hour, moment.minute), QLocale.FormatType.ShortFormat)


def moment(minutes: int) -> str:
    """Day and time, for where the hour counts."""
    return f"{long_day(minutes)}, {clock_time(minutes)}"
