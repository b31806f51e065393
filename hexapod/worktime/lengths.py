"""Lengths of working time as people type and read them: ``3``, ``3d``, ``4h``, ``2w``, ``1.5 d``."""

from __future__ import annotations

import re
from fractions import Fraction

from hexapod.errors import BadText

HOUR = 60
DAY_OF_WORK = 8 * HOUR
WEEK_OF_WORK = 5 * DAY_OF_WORK
LONGEST_TYPED = 1_000_000 * DAY_OF_WORK

_UNITS = {
    "m": 1, "min": 1, "minute": 1, "minutes": 1,
    "h": HOUR, "hour": HOUR, "hours": HOUR,
    "d": DAY_OF_WORK, "day": DAY_OF_WORK, "days": DAY_OF_WORK,
    "w": WEEK_OF_WORK, "week": WEEK_OF_WORK, "weeks": WEEK_OF_WORK,
}  # fmt: skip
_PIECE = re.compile(r"\s*(\d{1,9}(?:[.,]\d{1,6})?)\s*([a-z]*)", re.IGNORECASE)


def parse_length(text: str) -> int:
    """Working minutes; a bare number is days. Pieces add up: ``1w 2d``. ``BadText`` if it is no length."""
    total = Fraction(0)
    at = 0
    cleaned = text.strip()
    while at < len(cleaned):
        piece = _PIECE.match(cleaned, at)
        unit = _UNITS.get(piece[2].lower() or "d") if piece else None
        if piece is None or unit is None:
            raise BadText(f"“{text.strip()}” is not a length of time. Type for example 3d, 4h, 2w or 1.5 d.")
        total += Fraction(piece[1].replace(",", ".")) * unit
        at = piece.end()
    if not cleaned:
        raise BadText("Type a length of time, for example 3d, 4h, 2w or 1.5 d.")
    minutes = round(total)
    if minutes > LONGEST_TYPED:
        raise BadText(f"“{text.strip()}” is longer than a plan can be.")
    return minutes


def format_length(minutes: int) -> str:
    """In days, such as ``3 d`` or ``1.5 d``; in hours below a day or where days do not come out even."""
    sign = "−" if minutes < 0 else ""
    size = abs(int(minutes))
    if size % (DAY_OF_WORK // 4) == 0 and (size >= DAY_OF_WORK or size == 0):
        return f"{sign}{_plain(size, DAY_OF_WORK)} d"
    if size % HOUR == 0 or size % 15 == 0:
        return f"{sign}{_plain(size, HOUR)} h"
    if size < HOUR:
        return f"{sign}{size} min"
    return f"{sign}{size // HOUR} h {size % HOUR} min"


def format_days(minutes: float) -> str:
    """Rounded to a tenth of a day, for places where a glance counts."""
    return f"{'−' if minutes < 0 else ''}{_plain(round(abs(minutes) / (DAY_OF_WORK / 10)), 10)} d"


def _plain(amount: int, unit: int) -> str:
    return f"{amount / unit:.2f}".rstrip("0").rstrip(".")
