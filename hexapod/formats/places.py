"""Values of a plan JSON document that are read, with the place of what is wrong."""

from __future__ import annotations

import re
from datetime import date

from hexapod.errors import BadFile, BadText
from hexapod.plan.records import DAY
from hexapod.worktime.clock import date_of, day_number
from hexapod.worktime.dates import parse_moment

_WEEK = re.compile(r"(\d{4})-W(\d{2})")


class Misplaced(BadFile):
    """A mistake at a place in the document."""

    def __init__(self, place: str, what: str) -> None:
        super().__init__(f"{place}: {what}")


def named(entry_id: str, place: str) -> None:
    """``Misplaced`` for an id that is empty."""
    if not entry_id:
        raise Misplaced(f"{place}.id", "must not be empty")


def moment_at(text: str, place: str) -> int:
    """Minutes of an ISO 8601 moment."""
    try:
        return parse_moment(text)
    except BadText as error:
        raise Misplaced(place, str(error)) from None


def moment_or_none(text: str | None, place: str) -> int | None:
    return None if text is None else moment_at(text, place)


def day_at(text: str, place: str) -> int:
    """Days since 1970-01-01 of an ISO 8601 date."""
    minutes = moment_at(text, place)
    if minutes % DAY:
        raise Misplaced(place, f"“{text}” must be a date without a time of day")
    return minutes // DAY


def day_or_none(text: str | None, place: str) -> int | None:
    return None if text is None else day_at(text, place)


def week_at(text: str, place: str) -> int:
    """The Monday of an ISO 8601 week such as ``2026-W42``."""
    match = _WEEK.fullmatch(text)
    try:
        if match is None:
            raise ValueError
        return day_number(date.fromisocalendar(int(match[1]), int(match[2]), 1))
    except ValueError:
        raise Misplaced(place, f"“{text[:40]}” is no ISO week, such as 2026-W42") from None


def week_text(monday: int) -> str:
    """``2026-W42``, of its Monday."""
    year, week, _ = date_of(monday).isocalendar()
    return f"{year:04}-W{week:02}"
