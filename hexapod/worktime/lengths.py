"""Lengths of working time as people type and read them: ``3``, ``3d``, ``4h``, ``2w``, ``1.5 d``, ``2 months``.

How long a day, a week and a month of work are is what the project's calendar says. An *elapsed* length runs
round the clock: its day has 24 hours, its week seven days.
"""

from __future__ import annotations

import re
from fractions import Fraction
from typing import NamedTuple

from hexapod.errors import BadText

HOUR = 60
DAY_OF_WORK = 8 * HOUR
WEEK_OF_WORK = 5 * DAY_OF_WORK
LONGEST_TYPED = 1_000_000 * DAY_OF_WORK


class Units(NamedTuple):
    """Minutes of a day, a week and a month, and what a bare number counts: ``d``, ``h`` or ``w``."""

    day: int = DAY_OF_WORK
    week: int = WEEK_OF_WORK
    month: int = 20 * DAY_OF_WORK
    bare: str = "d"


USUAL = Units()
CLOCK = Units(24 * HOUR, 7 * 24 * HOUR, 30 * 24 * HOUR)

_NAMES = {
    "m": "min", "min": "min", "minute": "min", "minutes": "min", "h": "h", "hour": "h", "hours": "h", "d": "d",
    "day": "d", "days": "d", "w": "w", "week": "w", "weeks": "w", "mo": "mo", "month": "mo", "months": "mo",
}  # fmt: skip
UNIT = r"(?:min(?:utes?)?|m|h(?:ours?)?|d(?:ays?)?|w(?:eeks?)?|mo(?:nths?)?)"  # as a part of an expression
_PIECE = re.compile(r"\s*(\d{1,9}(?:[.,]\d{1,6})?)\s*([a-z]*)", re.IGNORECASE)
_ELAPSED = re.compile(r"\s*\b(?:elapsed|round the clock)\s*$", re.IGNORECASE)


def parse_length(text: str, units: Units = USUAL) -> int:
    """Working minutes; a bare number is days, or as the units say. Pieces add up: ``1w 2d``.

    ``BadText`` if it is no length.
    """
    sizes = {"min": 1, "h": HOUR, "d": units.day, "w": units.week, "mo": units.month}
    total = Fraction(0)
    at = 0
    cleaned = text.strip()
    while at < len(cleaned):
        piece = _PIECE.match(cleaned, at)
        unit = _NAMES.get(piece[2].lower() or units.bare) if piece else None
        if piece is None or unit is None:
            raise BadText(f"“{text.strip()[:60]}” is not a length of time. Type for example 3d, 4h, 2w or 1.5 d.")
        total += Fraction(piece[1].replace(",", ".")) * sizes[unit]
        at = piece.end()
    if not cleaned:
        raise BadText("Type a length of time, for example 3d, 4h, 2w or 1.5 d.")
    minutes = round(total)
    if minutes > LONGEST_TYPED:
        raise BadText(f"“{text.strip()}” is longer than a plan can be.")
    return minutes


def parse_duration(text: str, units: Units = USUAL) -> tuple[int, bool]:
    """Minutes, and whether they run round the clock: ``36 h elapsed``."""
    rest = _ELAPSED.sub("", text)
    if rest == text:
        return parse_length(text, units), False
    return parse_length(rest, CLOCK._replace(bare=units.bare)), True


def format_length(minutes: int, units: Units = USUAL) -> str:
    """In days, such as ``3 d`` or ``1.5 d``; in hours below a day or where days do not come out even."""
    sign = "−" if minutes < 0 else ""
    size = abs(int(minutes))
    if size * 4 % units.day == 0 and (size >= units.day or size == 0):
        return f"{sign}{_plain(size, units.day)} d"
    if size % HOUR == 0 or size % 15 == 0:
        return f"{sign}{_plain(size, HOUR)} h"
    if size < HOUR:
        return f"{sign}{size} min"
    return f"{sign}{size // HOUR} h {size % HOUR} min"


def format_duration(minutes: int, elapsed: bool, units: Units = USUAL) -> str:
    """As it can be typed: ``3 d``, or ``2 d elapsed``."""
    return f"{format_length(minutes, CLOCK)} elapsed" if elapsed else format_length(minutes, units)


def format_days(minutes: float, units: Units = USUAL) -> str:
    """Rounded to a tenth of a day, for places where a glance counts."""
    return f"{'−' if minutes < 0 else ''}{_plain(round(abs(minutes) / (units.day / 10)), 10)} d"


def _plain(amount: int, unit: int) -> str:
    return f"{amount / unit:.2f}".rstrip("0").rstrip(".")
