"""From time to pixels and back, and the marks along the time axis. Pure: knows no widget."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import date, timedelta
from typing import NamedTuple

from PyQt6.QtCore import QLocale

from hexapod.desktop import dates
from hexapod.plan.records import DAY
from hexapod.worktime.clock import date_of, day_number

CLOSEST, WIDEST = 1920.0, 0.012  # pixels a day


@dataclass(frozen=True)
class TimeScale:
    """``origin`` is the minute at x = 0, ``pixels`` the width of a day."""

    origin: int
    pixels: float

    def x(self, minute: float) -> float:
        return (minute - self.origin) * self.pixels / DAY

    def minute(self, x: float) -> int:
        return round(self.origin + x * DAY / self.pixels)

    def zoomed(self, factor: float, around: float) -> TimeScale:
        """``factor`` times the width, with the moment at x = ``around`` staying where it is."""
        pixels = max(WIDEST, min(CLOSEST, self.pixels * factor))
        kept = self.origin + around * DAY / self.pixels
        return TimeScale(round(kept - around * DAY / pixels), pixels)

    def moved(self, x: float) -> TimeScale:
        """Scrolled so that what was at ``x`` is at 0."""
        return replace(self, origin=self.minute(x))


class Mark(NamedTuple):
    """A boundary on the axis: what begins at ``minute`` and ends at ``end``, and what it is called."""

    minute: int
    end: int
    label: str


def marks(scale: TimeScale, width: float) -> tuple[list[Mark], list[Mark]]:
    """The upper and the lower line of the axis over ``width`` pixels."""
    first, last = scale.minute(0) // DAY, scale.minute(width) // DAY + 1
    p = scale.pixels
    if p >= 180:
        return list(_days(first, last, long=True)), list(_hours(first, last, 4 if p < 400 else 2 if p < 900 else 1))
    if p >= 26:
        return list(_weeks(first, last, long=True)), list(_days(first, last, long=False, named=True))
    if p >= 17:
        return list(_months(first, last)), list(_days(first, last, long=False))
    if p >= 2.6:
        return list(_months(first, last)), list(_weeks(first, last))
    if p >= 0.75:
        return list(_years(first, last)), list(_months(first, last, short=True))
    if p >= 0.2:
        return list(_years(first, last)), list(_quarters(first, last))
    return list(_years(first, last, step=10)), list(_years(first, last, step=1 if p > 0.08 else 5))


def snap_of(scale: TimeScale) -> int:
    """The step in minutes to which a drag snaps at this zoom."""
    return 60 if scale.pixels >= 180 else 240 if scale.pixels >= 40 else 480


def _span(first: date, end: date, label: str) -> Mark:
    return Mark(day_number(first) * DAY, day_number(end) * DAY, label)


def _hours(first: int, last: int, step: int) -> Iterator[Mark]:
    for day in range(first, last):
        for hour in range(0, 24, step):
            at = day * DAY + hour * 60
            yield Mark(at, at + step * 60, f"{hour}")


def _days(first: int, last: int, *, long: bool, named: bool = False) -> Iterator[Mark]:
    for day in range(first, last):
        at, on = day * DAY, date_of(day)
        short = _letter_of(on.isoweekday()) if named else ""
        yield Mark(at, at + DAY, dates.long_day(at) if long else f"{short} {on.day}".strip())


def _letter_of(weekday: int) -> str:
    """The locale's shortest name of a weekday; where that is a number only, the first letter of the next longer one."""
    narrow = QLocale().dayName(weekday, QLocale.FormatType.NarrowFormat)
    return QLocale().dayName(weekday, QLocale.FormatType.ShortFormat)[:1] if narrow.isdecimal() else narrow


def _weeks(first: int, last: int, *, long: bool = False) -> Iterator[Mark]:
    """Weeks from Monday on; ``long`` with their number in the year (ISO 8601)."""
    monday = first - date_of(first).weekday()
    for day in range(monday, last, 7):
        begins = date_of(day)
        month = QLocale().monthName(begins.month, QLocale.FormatType.LongFormat)
        text = f"{month} {begins.year}, week {begins.isocalendar()[1]}" if long else str(begins.day)
        yield Mark(day * DAY, (day + 7) * DAY, text)


def _months(first: int, last: int, *, short: bool = False) -> Iterator[Mark]:
    day = date_of(first).replace(day=1)
    while day_number(day) < last:
        following = (day + timedelta(days=31)).replace(day=1)
        name = QLocale().monthName(
            day.month, QLocale.FormatType.ShortFormat if short else QLocale.FormatType.LongFormat
        )
        yield _span(day, following, name[:3] if short else f"{name} {day.year}")
        day = following


def _quarters(first: int, last: int) -> Iterator[Mark]:
    start = date_of(first)
    day = start.replace(month=start.month - (start.month - 1) % 3, day=1)
    while day_number(day) < last:
        following = (day + timedelta(days=95)).replace(day=1)
        yield _span(day, following, f"Q{(day.month + 2) // 3}")
        day = following


def _years(first: int, last: int, *, step: int = 1) -> Iterator[Mark]:
    year = date_of(first).year // step * step
    while year < 9990 and day_number(date(year, 1, 1)) < last:
        yield _span(date(year, 1, 1), date(year + step, 1, 1), str(year) if step < 10 else f"{year}s")
        year += step
