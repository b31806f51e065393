"""Dates as people type them: ``2026-09-15``, ``15/9``, ``fri``, ``next mon``, ``in 3 days``, ``+2w``, ``end of oct``.

What is said without a year is the next such day, or one of the last three months. A weekday is the next one,
today among them; with ``next`` it is that of the week after this one. Weeks are those of ISO 8601.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from datetime import date, datetime, time, timedelta
from typing import NamedTuple

from dateutil.relativedelta import relativedelta

from hexapod.errors import BadText
from hexapod.worktime.clock import minutes_of

_MONTHS = (
    "january", "february", "march", "april", "may", "june", "july", "august", "september", "october", "november",
    "december",
)  # fmt: skip
_WEEKDAYS = ("monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday")
_UNITS = {
    "d": "days", "day": "days", "w": "weeks", "week": "weeks", "m": "months", "month": "months", "y": "years",
    "year": "years",
}  # fmt: skip
_EXAMPLES = "Type for example 2026-09-15, 15 sep, fri, next mon, in 3 days, +2w or end of oct."


class DateWords(NamedTuple):
    """What the reader's locale calls months and weekdays (January and Monday first), and whether the day leads."""

    months: tuple[str, ...] = ()
    weekdays: tuple[str, ...] = ()
    day_first: bool = True


ENGLISH = DateWords()


def parse_moment(text: str) -> int:
    """Minutes of ``2026-09-07`` (the start of that day) or ``2026-09-07 08:00``. ``BadText`` otherwise."""
    try:
        moment = datetime.fromisoformat(text.strip())
    except ValueError:
        raise BadText(
            f"“{text.strip()}” is not a date. Type it as 2026-09-07, with 08:00 behind it if the hour counts."
        ) from None
    return _checked(moment, text)


def parse_said(text: str, today: date, words: DateWords = ENGLISH) -> int:
    """Minutes of a date in any of the forms people use, with a time of day behind it or without.

    ``BadText`` with an example if it is none of them.
    """
    said = " ".join(text.strip().lower().rstrip(".").split())
    if re.match(r"\d{4}-?\d\d-?\d\d", said):
        return parse_moment(text)
    said, of_day = _time_of(said)
    try:
        day = _day_of(said, today, words)
    except (ValueError, OverflowError):
        day = None
    if day is None:
        raise BadText(f"“{text.strip()[:60]}” is not a date. {_EXAMPLES}")
    return _checked(datetime.combine(day, of_day), text)


def _checked(moment: datetime, text: str) -> int:
    if moment.tzinfo is not None:
        raise BadText(f"“{text.strip()}” names a time zone; dates here are local.")
    if moment.second or moment.microsecond:
        raise BadText(f"“{text.strip()}” is finer than a minute.")
    if not 1970 <= moment.year <= 2129:
        raise BadText(f"“{text.strip()}” lies outside 1970 to 2129.")
    return minutes_of(moment)


def _time_of(said: str) -> tuple[str, time]:
    """The text without a time of day at its end, and that time; midnight where none is said."""
    match = re.search(r"(?:^|[\s,t])(?:at )?(\d{1,2}):(\d\d)$", said)
    match = match or re.search(r"(?:^|\s)(?:at )?(\d{1,2})\s?(am|pm)$", said)
    if match is None:
        return said, time()
    hour = int(match[1])
    if match[2] in ("am", "pm"):
        hour, minute = hour % 12 + (12 if match[2] == "pm" else 0), 0
    else:
        minute = int(match[2])
    if hour > 23 or minute > 59:
        return said, time()
    return said[: match.start()].strip(" ,"), time(hour, minute)


def _day_of(said: str, today: date, words: DateWords) -> date | None:
    for reader in (_near, _weekday, _counted, _edge, _numbers, _named, _week):
        found = reader(said, today, words)
        if found is not None:
            return found
    return None


def _near(said: str, today: date, words: DateWords) -> date | None:
    offsets = {"today": 0, "now": 0, "tomorrow": 1, "yesterday": -1, "": 0}
    return today + timedelta(days=offsets[said]) if said in offsets else None


def _index(word: str, names: tuple[str, ...], *more: tuple[str, ...]) -> int | None:
    """Which of some names a word means: the name, or its beginning from three letters on."""
    for family in (names, *more):
        for i, name in enumerate(family):
            lower = name.lower().rstrip(".")
            if word == lower or (len(word) >= 3 and lower.startswith(word)):
                return i
    return None


def _month(word: str, words: DateWords) -> int | None:
    found = _index(word.rstrip("."), _MONTHS, words.months)
    return None if found is None else found + 1


def _weekday(said: str, today: date, words: DateWords) -> date | None:
    match = re.fullmatch(r"(next |this |last )?(\w+)\.?", said)
    day = _index(match[2], _WEEKDAYS, words.weekdays) if match else None
    if match is None or day is None:
        return None
    monday = today - timedelta(days=today.weekday())
    if match[1] in ("next ", "this ", "last "):
        return monday + timedelta(days=day, weeks={"next ": 1, "this ": 0, "last ": -1}[match[1]])
    return today + timedelta(days=(day - today.weekday()) % 7)


def _counted(said: str, today: date, words: DateWords) -> date | None:
    match = re.fullmatch(r"(in |\+|-|)\s*(an?|\d{1,5})\s*([a-z]+?)s?( ago| from now)?", said)
    if match is None or match[3] not in _UNITS or not (match[1] or match[4]):
        return None
    count = 1 if match[2] in ("a", "an") else int(match[2])
    sign = -1 if match[1] == "-" or match[4] == " ago" else 1
    return today + relativedelta(**{_UNITS[match[3]]: sign * count})  # type: ignore[arg-type]


def _edge(said: str, today: date, words: DateWords) -> date | None:
    """``end of oct``, ``start of next month``, ``mid nov 2027``, ``end of q3``, ``end of the year``."""
    match = re.fullmatch(r"(end|start|beginning|middle|mid)(?: of)?(?: the)? (.+)", said)
    period = _period(match[2], today, words) if match else None
    if match is None or period is None:
        return None
    first, last = period
    if match[1] == "end":
        return last
    return first if match[1] in ("start", "beginning") else first + (last - first + timedelta(days=1)) / 2


def _period(said: str, today: date, words: DateWords) -> tuple[date, date] | None:
    day = timedelta(days=1)
    if match := re.fullmatch(r"(next |this |last )?(week|month|quarter|year)", said):
        step = {"next ": 1, "last ": -1}.get(match[1] or "", 0)
        if match[2] == "week":
            monday = today - timedelta(days=today.weekday()) + timedelta(weeks=step)
            return monday, monday + 4 * day
        months = {"month": 1, "quarter": 3, "year": 12}[match[2]]
        first = date(today.year, (today.month - 1) // months * months + 1, 1) + relativedelta(months=months * step)
        return first, first + relativedelta(months=months) - day
    if match := re.fullmatch(r"(\d{4})", said):
        return date(int(match[1]), 1, 1), date(int(match[1]), 12, 31)
    if match := re.fullmatch(r"q([1-4])(?: (\d{4}))?", said):
        month = 3 * int(match[1]) - 2
        first = _upcoming(lambda year: date(year, month, 1), match[2], today)
        return first, first + relativedelta(months=3) - day
    match = re.fullmatch(r"([^\W\d]+\.?)(?: (\d{4}))?", said)
    named = _month(match[1], words) if match else None
    if match is None or named is None:
        return None
    first = _upcoming(lambda year: date(year, named, 1), match[2], today, month=True)
    return first, first + relativedelta(months=1) - day


def _upcoming(on: Callable[[int], date], year: str | None, today: date, *, month: bool = False) -> date:
    """A day of the said year; without one, the next such day or one of the last three months."""
    if year is not None:
        return on(int(year) + (2000 if len(year) == 2 else 0))
    earliest = today.replace(day=1) if month else today - timedelta(days=92)
    for candidate in (today.year - 1, today.year, today.year + 1):
        try:
            found = on(candidate)
        except ValueError:  # 29 February
            continue
        if found >= earliest:
            return found
    return on(today.year + 4 - today.year % 4)


def _numbers(said: str, today: date, words: DateWords) -> date | None:
    """``15/9``, ``15.9.``, ``15-9-26``: the locale tells which is the day, where both could be."""
    match = re.fullmatch(r"(\d{1,2})([./-])(\d{1,2})(?:\2(\d{4}|\d\d)?)?", said)
    if match is None:
        return None
    first, second = int(match[1]), int(match[3])
    day, month = (first, second) if words.day_first else (second, first)
    if month > 12 >= day:
        day, month = month, day
    return _upcoming(lambda year: date(year, month, day), match[4], today)


def _named(said: str, today: date, words: DateWords) -> date | None:
    """``15 sep``, ``sep 15``, ``15th of September 2026``."""
    match = re.fullmatch(r"(\d{1,2})(?:st|nd|rd|th|\.)?(?: of)? ?([^\W\d]+\.?),?(?: (\d{4}|\d\d))?", said)
    if match:
        day, name, year = match[1], match[2], match[3]
    else:
        match = re.fullmatch(r"([^\W\d]+\.?) (\d{1,2})(?:st|nd|rd|th)?,?(?: (\d{4}))?", said)
        if match is None:
            return None
        day, name, year = match[2], match[1], match[3]
    month = _month(name, words)
    return None if month is None else _upcoming(lambda y: date(y, month, int(day)), year, today)


def _week(said: str, today: date, words: DateWords) -> date | None:
    """``week 40``, ``w40 2026``, ``2026-w40-2``: the Monday of an ISO week, or the day that is said."""
    if match := re.fullmatch(r"(\d{4})-?w(\d\d)(?:-?([1-7]))?", said):
        return date.fromisocalendar(int(match[1]), int(match[2]), int(match[3] or 1))
    match = re.fullmatch(r"(?:week|wk|w) ?(\d{1,2})(?: (\d{4}))?", said)
    if match is None:
        return None
    return _upcoming(lambda year: date.fromisocalendar(year, int(match[1]), 1), match[2], today)
