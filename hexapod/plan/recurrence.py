"""Recurrence rules of RFC 5545 (section 3.8.5.3): checked, and expanded to moments. Times are local, without zones.

A rule is expanded by asking of each day in the window whether it fits, as array operations. So whatever a rule says, it
takes no longer than there are days: a rule whose days never come, such as 30 February, has none, and is not searched
for. A library that steps from one occurrence to the next cannot promise that; one is the oracle in the tests.
"""

from __future__ import annotations

import itertools
import re
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from hexapod.errors import BadText

LONGEST_RULE = 2000  # characters
MOST_OCCURRENCES = 200_000
MOST_INTERVAL, MOST_COUNT = 10_000, 100_000
FIRST_YEAR, LAST_YEAR = 1900, 2257
EPOCH, MINUTE = datetime(1970, 1, 1), timedelta(minutes=1)
DAY = 1440
MONDAY_BASE = 3  # 1970-01-01 was a Thursday

Days = NDArray[np.int64]
_FREQUENCIES = ("YEARLY", "MONTHLY", "WEEKLY", "DAILY")
_WEEKDAYS = ("MO", "TU", "WE", "TH", "FR", "SA", "SU")
_ZONED = re.compile(r"TZID|\d{6}Z", re.IGNORECASE)
_MOMENT = re.compile(r"(\d{8})(?:T(\d{6}))?")
_ORDINAL = re.compile(r"([+-]?\d{1,2})?(MO|TU|WE|TH|FR|SA|SU)")
# By part of a rule: the largest number it takes, and whether it may be negative, counted from the end.
_NUMBERS = {
    "BYMONTH": (1, 12, False),
    "BYMONTHDAY": (1, 31, True),
    "BYYEARDAY": (1, 366, True),
    "BYWEEKNO": (1, 53, True),
    "BYSETPOS": (1, 366, True),
    "BYHOUR": (0, 23, False),
    "BYMINUTE": (0, 59, False),
    "BYSECOND": (0, 59, False),
}


@dataclass(frozen=True)
class _Rule:
    """One RRULE or EXRULE. ``by`` are its numbers by part, ``weekdays`` (ordinal or 0, Monday 0)."""

    frequency: str
    interval: int
    count: int | None
    until: int | None
    by: dict[str, tuple[int, ...]]
    weekdays: tuple[tuple[int, int], ...]
    week_start: int


@dataclass(frozen=True)
class _Recurrence:
    start: int
    rules: tuple[_Rule, ...]
    left_out: tuple[_Rule, ...]
    moments: tuple[int, ...]
    moments_left_out: tuple[int, ...]


def check_rule(text: str) -> None:
    """Raise ``BadText`` with the reason why a rule cannot be used."""
    occurrences(text, datetime(2100, 1, 1))


def occurrences(text: str, until: datetime) -> list[datetime]:
    """The moments of a rule from its DTSTART up to and including ``until``, in order.

    ``BadText`` if it is no rule, never occurs, or has more occurrences than a plan can hold.
    """
    last = min(until, datetime(LAST_YEAR, 12, 31, 23, 59))
    return [moment_at(moment) for moment in _expanded(text, int((last - EPOCH) // MINUTE))]


def moments_until(text: str, until: int) -> tuple[int, ...]:
    """The same in minutes since 1970, up to and including ``until``."""
    return _expanded(text, until)


def moments_of(text: str, until: int, most: int) -> list[int]:
    """The same in minutes since 1970, the first ``most`` of them; a rule with an end of its own goes up to that."""
    end = int((datetime(2129, 12, 31) - EPOCH) // MINUTE) if has_end(text) else until
    return list(_expanded(text, end)[:most])


def has_end(text: str) -> bool:
    """Whether a rule says itself when it is over."""
    return bool(re.search(r"COUNT=|UNTIL=", text, re.IGNORECASE))


def moment_at(minutes: int) -> datetime:
    """The moment that is so many minutes after the beginning of 1970."""
    return EPOCH + minutes * MINUTE


def start_of(text: str) -> datetime:
    """The DTSTART of a rule."""
    match = re.search(r"DTSTART[^:\n]*:(\d{8}(?:T\d{6})?)", text, re.IGNORECASE)
    if match is None:
        raise BadText(f"The rule “{_short(text)}” needs a DTSTART line that says when it begins.")
    return _moment(match[1], text)


def moved(text: str, days: int) -> str:
    """The rule so many days later: its beginning, its end, and the dates that it names."""

    def later(line: str) -> str:
        is_rule = line.upper().startswith(("RRULE", "EXRULE"))
        dates = r"(?<=UNTIL=)\d{8}(?=T|;|$)" if is_rule else r"(?<![\dT])\d{8}(?=T|,|$)"
        return re.sub(dates, lambda found: _later(found[0], days, text), line, flags=re.IGNORECASE)

    return "\n".join(later(line) for line in text.splitlines())


def _later(day: str, days: int, text: str) -> str:
    try:
        return f"{datetime.strptime(day, '%Y%m%d').date() + timedelta(days):%Y%m%d}"
    except (ValueError, OverflowError):
        raise BadText(f"A date of the rule “{_short(text)}” would lie outside all calendars.") from None


# Reading


def _parsed(text: str) -> _Recurrence:
    if len(text) > LONGEST_RULE:
        raise BadText(f"A rule of more than {LONGEST_RULE} characters is too long.")
    start = start_of(text)
    if _ZONED.search(text):
        raise BadText(f"The rule “{_short(text)}” names a time zone; times here are local.")
    begin = int((start - EPOCH) // MINUTE)
    rules: list[_Rule] = []
    left_out: list[_Rule] = []
    moments: list[int] = []
    moments_left_out: list[int] = []
    for line in filter(None, (line.strip() for line in text.splitlines())):
        head, colon, value = line.rpartition(":")
        name = head.partition(";")[0].upper() if colon else "RRULE"
        if name in ("RRULE", "EXRULE"):
            (rules if name == "RRULE" else left_out).append(_rule(value, text))
        elif name in ("RDATE", "EXDATE"):
            found = [int((_moment(part.strip(), text) - EPOCH) // MINUTE) for part in value.split(",")]
            (moments if name == "RDATE" else moments_left_out).extend(found)
        elif name != "DTSTART":
            raise BadText(f"“{_short(text)}” is no recurrence rule (RFC 5545): what is {_short(line)}?")
    if not rules and not moments:
        raise BadText(f"“{_short(text)}” is no recurrence rule (RFC 5545): it has no RRULE and no RDATE.")
    return _Recurrence(begin, tuple(rules), tuple(left_out), tuple(moments), tuple(moments_left_out))


def _rule(value: str, text: str) -> _Rule:
    parts: dict[str, str] = {}
    for part in filter(None, value.split(";")):
        name, equals, said = part.partition("=")
        name = name.strip().upper()
        if not equals or name in parts:
            raise _no_rule(text, part)
        parts[name] = said.strip().upper()
    frequency = parts.pop("FREQ", "")
    if frequency not in _FREQUENCIES:
        raise BadText(
            f"The rule “{_short(text)}” repeats within a day; days are the finest here."
            if frequency in ("HOURLY", "MINUTELY", "SECONDLY")
            else f"“{_short(text)}” is no recurrence rule (RFC 5545): it has no FREQ."
        )
    interval = _number(parts.pop("INTERVAL", "1"), 1, MOST_INTERVAL, False, text)
    count = parts.pop("COUNT", None)
    until = parts.pop("UNTIL", None)
    week_start = parts.pop("WKST", "MO")
    if week_start not in _WEEKDAYS:
        raise _no_rule(text, week_start)
    weekdays = []
    for each in filter(None, parts.pop("BYDAY", parts.pop("BYWEEKDAY", "")).split(",")):
        match = _ORDINAL.fullmatch(each.strip())
        ordinal = int(match[1] or 0) if match else 0
        if match is None or abs(ordinal) > 53 or (match[1] and not ordinal):
            raise _no_rule(text, each)
        weekdays.append((ordinal, _WEEKDAYS.index(match[2])))
    by = {}
    for name, said in parts.items():
        if name not in _NUMBERS:
            raise _no_rule(text, name)
        by[name] = tuple(sorted({_number(each, *_NUMBERS[name], text) for each in said.split(",")}))
    return _Rule(
        frequency,
        interval,
        None if count is None else _number(count, 1, MOST_COUNT, False, text),
        None if until is None else int((_until(until, text) - EPOCH) // MINUTE),
        by,
        tuple(weekdays),
        _WEEKDAYS.index(week_start),
    )


def _number(said: str, least: int, most: int, signed: bool, text: str) -> int:
    said = said.strip()
    if not re.fullmatch(r"[+-]?\d{1,6}", said, re.ASCII):
        raise _no_rule(text, said)
    found = int(said)
    if not least <= (abs(found) if signed else found) <= most:
        raise _no_rule(text, said)
    return found


def _until(said: str, text: str) -> datetime:
    """A day without a time is meant with all of it."""
    found = _moment(said, text)
    return found if "T" in said else found + timedelta(days=1) - MINUTE


def _moment(said: str, text: str) -> datetime:
    match = _MOMENT.fullmatch(said.upper())
    if match is None:
        raise _no_rule(text, said)
    try:
        found = datetime.strptime(match[1] + (match[2] or "000000"), "%Y%m%d%H%M%S")
    except ValueError:
        raise BadText(f"The rule “{_short(text)}” names a day that does not exist.") from None
    if not FIRST_YEAR <= found.year <= LAST_YEAR:
        raise BadText(f"The rule “{_short(text)}” names a year outside {FIRST_YEAR} to {LAST_YEAR}.")
    return found.replace(second=0)


def _no_rule(text: str, part: str) -> BadText:
    return BadText(f"“{_short(text)}” is no recurrence rule (RFC 5545): “{_short(part)[:30]}” is not understood.")


# Expanding


@lru_cache(maxsize=512)
def _expanded(text: str, until: int) -> tuple[int, ...]:
    """All moments up to and including ``until``."""
    found = _parsed(text)
    for rule in found.rules:
        if rule.until is None and not len(_moments(rule, found.start, found.start + _SEARCHED, first_only=True)):
            raise BadText(f"The rule “{_short(text)}” never occurs.")
    moments = np.concatenate(
        [
            np.array([m for m in found.moments if m <= until], dtype=np.int64),
            *(_moments(rule, found.start, until) for rule in found.rules),
        ]
    )
    out = np.concatenate(
        [np.array(found.moments_left_out, dtype=np.int64), *(_moments(r, found.start, until) for r in found.left_out)]
    )
    kept = np.setdiff1d(moments, out)
    if len(kept) > MOST_OCCURRENCES:
        raise BadText(f"The rule “{_short(text)}” occurs more than {MOST_OCCURRENCES} times.")
    return tuple(kept.tolist())


_SEARCHED = 2000 * 366 * DAY  # cut off at ``LAST_YEAR``


def _moments(rule: _Rule, start: int, until: int, *, first_only: bool = False) -> Days:
    """The moments of one rule, in order. ``first_only``: some of them are enough to tell that there are any."""
    last = min(until, rule.until if rule.until is not None else until)
    end_day = min(last // DAY, _day(date(LAST_YEAR, 12, 31)))
    begin_day = start // DAY
    if first_only:
        for years in (10, 60, LAST_YEAR):
            found = _moments(rule, start, min(last, start + years * 366 * DAY))
            if len(found):
                return found
        return found
    if last < start:
        return np.zeros(0, dtype=np.int64)
    # The whole of the first and the last period: positions are counted within one.
    days = np.arange(begin_day - 366, end_day + 367, dtype=np.int64)
    fields = _Fields(days)
    period = fields.period(rule) - _Fields(np.array([begin_day])).period(rule)[0]
    fits = (period >= 0) & (period % rule.interval == 0) & _fitting(rule, fields, start)
    chosen, of_period = days[fits], period[fits]
    times = np.array(_times(rule, start), dtype=np.int64)
    moments = (chosen[:, None] * DAY + times[None, :]).ravel()
    if "BYSETPOS" in rule.by:
        moments = moments[_at_positions(np.repeat(of_period, len(times)), rule.by["BYSETPOS"])]
    moments = moments[moments >= start]
    if rule.count is not None:
        moments = moments[: rule.count]
    return moments[moments <= last]


def _times(rule: _Rule, start: int) -> list[int]:
    """The minutes of the day, in order."""
    hours = rule.by.get("BYHOUR", (start % DAY // 60,))
    minutes = rule.by.get("BYMINUTE", (start % 60,))
    return sorted(h * 60 + m for h, m in itertools.product(hours, minutes))


class _Fields:
    """What days are: year, month, day of the month and of the year, and how many these have. Days since 1970."""

    def __init__(self, days: Days) -> None:
        self.days = days
        stamps = days.astype("datetime64[D]")
        months, years = stamps.astype("datetime64[M]"), stamps.astype("datetime64[Y]")
        self.months = months.astype(np.int64)
        self.year = years.astype(np.int64) + 1970
        self.month = self.months % 12 + 1
        self.day = (stamps - months).astype(np.int64) + 1
        self.year_day = (stamps - years).astype(np.int64) + 1
        self.month_size = ((months + 1).astype("datetime64[D]") - months.astype("datetime64[D]")).astype(np.int64)
        self.year_size = ((years + 1).astype("datetime64[D]") - years.astype("datetime64[D]")).astype(np.int64)
        self.weekday = (days + MONDAY_BASE) % 7

    def period(self, rule: _Rule) -> Days:
        """The number of the year, month, week or day."""
        if rule.frequency == "YEARLY":
            return self.year
        if rule.frequency == "MONTHLY":
            return self.months
        if rule.frequency == "WEEKLY":
            return (self.days + MONDAY_BASE - rule.week_start) // 7
        return self.days

    def week_numbers(self, week_start: int) -> tuple[Days, Days]:
        """The number of each day's week, from the beginning of its year of weeks and from its end (ISO 8601)."""
        begins = self.days - (self.weekday - week_start) % 7
        middle = (begins + 3).astype("datetime64[D]").astype("datetime64[Y]")
        first = self._first_week(middle, week_start)
        following = self._first_week(middle + 1, week_start)
        number = (begins - first) // 7 + 1
        return number, number - (following - first) // 7 - 1

    @staticmethod
    def _first_week(years: NDArray[np.datetime64], week_start: int) -> Days:
        fourth = years.astype("datetime64[D]").astype(np.int64) + 3  # 4 January lies in the first week
        return fourth - ((fourth + MONDAY_BASE) % 7 - week_start) % 7


def _fitting(rule: _Rule, fields: _Fields, start: int) -> NDArray[np.bool_]:
    """Which days fit what the rule says of days; where it says nothing, they are like its first one."""
    by, first = rule.by, _Fields(np.array([start // DAY]))
    months, month_days, weekdays = by.get("BYMONTH", ()), by.get("BYMONTHDAY", ()), rule.weekdays
    says_days = month_days or weekdays or "BYYEARDAY" in by or "BYWEEKNO" in by
    if not says_days and rule.frequency in ("YEARLY", "MONTHLY"):
        month_days = (int(first.day[0]),)
        if rule.frequency == "YEARLY" and not months:
            months = (int(first.month[0]),)
    elif not says_days and rule.frequency == "WEEKLY":
        weekdays = ((0, int(first.weekday[0])),)
    fits = np.ones(len(fields.days), dtype=np.bool_)
    if months:
        fits &= np.isin(fields.month, months)
    if month_days:
        fits &= np.isin(fields.day, month_days) | np.isin(fields.day - fields.month_size - 1, month_days)
    if "BYYEARDAY" in by:
        in_year = np.isin(fields.year_day, by["BYYEARDAY"])
        fits &= in_year | np.isin(fields.year_day - fields.year_size - 1, by["BYYEARDAY"])
    if "BYWEEKNO" in by:
        number, from_end = fields.week_numbers(rule.week_start)
        fits &= np.isin(number, by["BYWEEKNO"]) | np.isin(from_end, by["BYWEEKNO"])
    if weekdays:
        fits &= _on_weekdays(rule, weekdays, fields, in_months=rule.frequency == "MONTHLY" or bool(months))
    return fits


def _on_weekdays(
    rule: _Rule, weekdays: tuple[tuple[int, int], ...], fields: _Fields, *, in_months: bool
) -> NDArray[np.bool_]:
    """Days on some weekdays; ``-1FR`` is the last Friday of the month, or of the year."""
    place = fields.day if in_months else fields.year_day
    size = fields.month_size if in_months else fields.year_size
    found = np.zeros(len(fields.days), dtype=np.bool_)
    for ordinal, weekday in weekdays:
        here = fields.weekday == weekday
        if ordinal > 0 and rule.frequency in ("YEARLY", "MONTHLY"):
            here &= (place - 1) // 7 + 1 == ordinal
        elif ordinal < 0 and rule.frequency in ("YEARLY", "MONTHLY"):
            here &= (size - place) // 7 + 1 == -ordinal
        found |= here
    return found


def _at_positions(period: Days, positions: tuple[int, ...]) -> NDArray[np.bool_]:
    """Which of the moments, given by their period, are the first, the last, ... of it."""
    fresh = np.concatenate(([True], period[1:] != period[:-1])) if len(period) else np.zeros(0, dtype=np.bool_)
    begins = np.flatnonzero(fresh)
    sizes = np.diff(np.append(begins, len(period)))
    place = np.arange(len(period)) - np.repeat(begins, sizes) + 1
    found: NDArray[np.bool_] = np.isin(place, positions) | np.isin(place - np.repeat(sizes, sizes) - 1, positions)
    return found


def _day(day: date) -> int:
    return (day - EPOCH.date()).days


def _short(text: str) -> str:
    return " ".join(text.split())[:80]
