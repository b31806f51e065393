"""Minutes since 1970-01-01 00:00 local time, and dates."""

from __future__ import annotations

from datetime import date, datetime, time, timedelta

EPOCH = datetime(1970, 1, 1)
EPOCH_DAY = EPOCH.toordinal()


def minutes_of(moment: datetime) -> int:
    return int((moment - EPOCH) // timedelta(minutes=1))


def moment_of(minutes: int) -> datetime:
    return EPOCH + timedelta(minutes=int(minutes))


def day_number(day: date) -> int:
    """Days since 1970-01-01."""
    return day.toordinal() - EPOCH_DAY


def date_of(day: int) -> date:
    return date.fromordinal(EPOCH_DAY + int(day))


def today() -> int:
    """Minutes of the midnight that began this day."""
    return minutes_of(datetime.combine(date.today(), time()))


def now() -> int:
    """The minute that it is."""
    return minutes_of(datetime.now())


def iso(minutes: int) -> str:
    """ISO 8601 to the minute, such as ``2026-09-07T08:00``."""
    return moment_of(minutes).isoformat(timespec="minutes")


THURSDAY = 3  # weekday of 1970-01-01, Monday being 0
