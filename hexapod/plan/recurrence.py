"""Recurrence rules of RFC 5545: checked, and expanded to moments. Times are local, without zones."""

from __future__ import annotations

import re
from datetime import datetime, timedelta

from dateutil.rrule import DAILY, YEARLY, rrule, rruleset, rrulestr

from hexapod.errors import BadText

LONGEST_RULE = 2000  # characters
MOST_OCCURRENCES = 200_000
EPOCH, MINUTE = datetime(1970, 1, 1), timedelta(minutes=1)
_FREQUENCIES = ("YEARLY", "MONTHLY", "WEEKLY", "DAILY")
_ZONED = re.compile(r"TZID|\d{6}Z", re.IGNORECASE)


def check_rule(text: str) -> None:
    """Raise ``BadText`` with the reason why a rule cannot be used."""
    _parsed(text, datetime(2100, 1, 1))


def occurrences(text: str, until: datetime) -> list[datetime]:
    """The moments of a rule from its DTSTART up to and including ``until``, in order.

    ``BadText`` if it is no rule, or has more occurrences than a plan can hold.
    """
    found: list[datetime] = []
    for moment in _parsed(text, until):
        if moment > until:
            break
        found.append(moment)
        if len(found) > MOST_OCCURRENCES:
            raise BadText(f"The rule “{_short(text)}” occurs more than {MOST_OCCURRENCES} times.")
    return found


def moments_of(text: str, until: int, most: int) -> list[int]:
    """The same in minutes since 1970, the first ``most`` of them; a rule with an end of its own goes up to that."""
    end = datetime(2129, 12, 31) if re.search(r"COUNT=|UNTIL=", text, re.IGNORECASE) else moment_at(until)
    return [int((moment - EPOCH) // MINUTE) for moment in occurrences(text, end)[:most]]


def moment_at(minutes: int) -> datetime:
    """The moment that is so many minutes after the beginning of 1970."""
    return EPOCH + minutes * MINUTE


def start_of(text: str) -> datetime:
    """The DTSTART of a rule that was checked."""
    match = re.search(r"DTSTART[^:\n]*:(\d{8}(?:T\d{6})?)", text, re.IGNORECASE)
    if match is None:
        raise BadText(f"The rule “{_short(text)}” needs a DTSTART line that says when it begins.")
    shape = "%Y%m%dT%H%M%S" if "T" in match[1].upper() else "%Y%m%d"
    try:
        return datetime.strptime(match[1].upper(), shape)
    except ValueError:
        raise BadText(f"The rule “{_short(text)}” begins on a day that does not exist.") from None


def _parsed(text: str, until: datetime) -> rruleset:
    """Each endless rule is given an end, so that one that never occurs does not search for ever."""
    if len(text) > LONGEST_RULE:
        raise BadText(f"A rule of more than {LONGEST_RULE} characters is too long.")
    begin = start_of(text)
    if _ZONED.search(text):
        raise BadText(f"The rule “{_short(text)}” names a time zone; times here are local.")
    for frequency in re.findall(r"FREQ=(\w*)", text, re.IGNORECASE):
        if frequency.upper() not in _FREQUENCIES:
            raise BadText(f"The rule “{_short(text)}” repeats within a day; days are the finest here.")
    try:
        lines = "\n".join(line.strip() for line in text.splitlines() if line.strip())
        found = rrulestr(lines, forceset=True)
        assert isinstance(found, rruleset)
        for rules in (found._rrule, found._exrule):  # type: ignore[attr-defined]
            rules[:] = [_ended(rule, max(until, begin)) for rule in rules]
    except (ValueError, TypeError, KeyError, OverflowError, AssertionError, AttributeError):
        raise BadText(f"“{_short(text)}” is no recurrence rule (RFC 5545).") from None
    return found


def _ended(rule: rrule, until: datetime) -> rrule:
    """The rule with an end. One whose days never come, such as 30 February, is refused: it would be searched for."""
    if rule._freq == DAILY and rule._original_rule:  # type: ignore[attr-defined]
        yearly = {key: value for key, value in rule._original_rule.items() if value is not None}  # type: ignore[attr-defined]
        if next(iter(rrule(YEARLY, dtstart=datetime(2000, 1, 1), count=1, **yearly)), None) is None:
            raise ValueError("never occurs")
    given = rule._until  # type: ignore[attr-defined]
    if given is not None and given <= until:
        return rule
    if rule._count is not None:  # type: ignore[attr-defined]
        return rule
    return rule.replace(until=until)


def _short(text: str) -> str:
    return " ".join(text.split())[:80]
