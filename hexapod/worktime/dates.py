"""Dates as people type them in this first form: ISO dates, with or without a time of day."""

from __future__ import annotations

from datetime import datetime

from hexapod.errors import BadText
from hexapod.worktime.clock import minutes_of


def parse_moment(text: str) -> int:
    """Minutes of ``2026-09-07`` (the start of that day) or ``2026-09-07 08:00``. ``BadText`` otherwise."""
    try:
        moment = datetime.fromisoformat(text.strip())
    except ValueError:
        raise BadText(
            f"“{text.strip()}” is not a date. Type it as 2026-09-07, with 08:00 behind it if the hour counts."
        ) from None
    if moment.tzinfo is not None:
        raise BadText(f"“{text.strip()}” names a time zone; dates here are local.")
    if moment.second or moment.microsecond:
        raise BadText(f"“{text.strip()}” is finer than a minute.")
    if not 1970 <= moment.year <= 2129:
        raise BadText(f"“{text.strip()}” lies outside 1970 to 2129.")
    return minutes_of(moment)
