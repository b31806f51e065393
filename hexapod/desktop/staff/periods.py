"""The periods that the load grid shows: days, weeks from Monday on, or months, with how each is called."""

from __future__ import annotations

from datetime import date
from enum import StrEnum

import numpy as np
from PyQt6.QtCore import QLocale

from hexapod.desktop import dates
from hexapod.plan.records import DAY
from hexapod.worktime.clock import date_of, day_number

MOST = 1200  # periods


class Step(StrEnum):
    DAY = "day"
    WEEK = "week"
    MONTH = "month"


def edges_of(step: Step, begin: int, end: int) -> np.ndarray:
    """Minutes at which periods begin, from that of ``begin`` to that of ``end``, and where the last one ends."""
    first, last = begin // DAY, max(end, begin + 1) // DAY
    if step is Step.MONTH:
        day, found = date_of(first).replace(day=1), []
        while day_number(day) <= last and len(found) < MOST:
            found.append(day_number(day))
            day = _next_month(day)
        return np.array([*found, day_number(day)]) * DAY
    if step is Step.WEEK:
        first -= date_of(first).weekday()
    length = 7 if step is Step.WEEK else 1
    count = min(MOST, (last - first) // length + 1)
    return (first + length * np.arange(count + 1)) * DAY


def _next_month(day: date) -> date:
    return date(day.year + day.month // 12, day.month % 12 + 1, 1)


def short_name(step: Step, begin: int) -> str:
    """Above a column."""
    day = date_of(begin // DAY)
    if step is Step.MONTH:
        month = QLocale().monthName(day.month, QLocale.FormatType.ShortFormat)[:3]
        return f"{month} {day.year}" if day.month == 1 else month
    text = f"{day.day} {QLocale().monthName(day.month, QLocale.FormatType.ShortFormat)[:3]}"
    return text


def long_name(step: Step, begin: int) -> str:
    """In a sentence."""
    day = date_of(begin // DAY)
    if step is Step.MONTH:
        return f"{QLocale().monthName(day.month)} {day.year}"
    return f"week of {dates.short_day(begin)}" if step is Step.WEEK else dates.long_day(begin)
