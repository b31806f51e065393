"""Ranges of lengths as people type them: ``3-8 d``, ``3 5 9 d``, ``4h - 2d``, ``5 d ± 20 %``."""

from __future__ import annotations

import re

from hexapod.errors import BadText
from hexapod.plan.estimates import Estimate, a_third_of_the_way
from hexapod.worktime.lengths import CLOCK, Units, format_duration, parse_duration

_NUMBER = r"\d{1,9}(?:[.,]\d{1,6})?"
_LENGTH = rf"{_NUMBER}\s*[a-z]*(?:\s+{_NUMBER}\s*[a-z]+)*(?:\s+elapsed)?"
_BETWEEN = r"\s*(?:-|–|—|/|\.\.|\bto\b)\s*"
_JOINED = re.compile(rf"({_LENGTH}?){_BETWEEN}({_LENGTH}?)(?:{_BETWEEN}({_LENGTH}))?", re.IGNORECASE)
_BARE = re.compile(rf"({_NUMBER})\s+({_NUMBER})(?:\s+({_NUMBER}))?\s*([a-z]*)(\s+elapsed)?", re.IGNORECASE)
_AROUND = re.compile(rf"({_LENGTH})\s*(?:±|\+-|\+/-)\s*(\d{{1,3}})\s*%", re.IGNORECASE)
_UNIT = re.compile(r"[a-z]", re.IGNORECASE)


def looks_like_a_range(text: str) -> bool:
    """Whether a text that is typed as a duration says more than one length."""
    cleaned = text.strip()
    return any(pattern.fullmatch(cleaned) for pattern in (_BARE, _JOINED, _AROUND))


def read_estimate(text: str, units: Units, *, least: int = 1) -> tuple[Estimate, bool]:
    """An estimate in minutes, and whether it runs round the clock. ``BadText`` if it is none, out of order, or begins
    with less than ``least`` minutes."""
    cleaned = text.strip()
    around, bare, joined = _AROUND.fullmatch(cleaned), _BARE.fullmatch(cleaned), _JOINED.fullmatch(cleaned)
    if around:
        likely, elapsed = parse_duration(around[1], units)
        by = likely * int(around[2]) // 100
        return _in_order((likely - by, likely, likely + by), cleaned, least), elapsed
    if bare:
        unit = f"{bare[4]}{bare[5] or ''}"
        parts = [f"{number} {unit}" for number in bare.group(1, 2, 3) if number]
    elif joined:
        parts = [part for part in joined.groups() if part]
        last = re.sub(r"^[\d.,\s]*", "", parts[-1])
        parts = [part if _UNIT.search(part) else f"{part} {last}" for part in parts]
        if last.lower().endswith("elapsed"):
            parts = [part if part.lower().endswith("elapsed") else f"{part} elapsed" for part in parts]
    else:
        raise BadText(f"“{cleaned[:60]}” is no range. Type the best and the worst, for example 3-8 d, or 3 5 9 d.")
    read = [parse_duration(part, units) for part in parts]
    return _in_order(tuple(minutes for minutes, _ in read), cleaned, least), read[0][1]


def _in_order(found: Estimate, text: str, least: int) -> Estimate:
    if list(found) != sorted(found):
        raise BadText(f"“{text[:60]}” goes down: type the best length first, then the likely one, then the worst.")
    if found[0] < least:
        raise BadText("At its best a task still takes some time: type more than nothing.")
    return found


def estimate_words(estimate: Estimate, elapsed: bool, units: Units) -> str:
    """As it can be typed: ``3 d – 8 d``, or with the likely length between."""
    used = CLOCK if elapsed else units
    texts = [format_duration(minutes, False, used) for minutes in estimate]
    return " – ".join(texts) + (" elapsed" if elapsed and texts else "")


def echo_of(estimate: Estimate, duration: int, elapsed: bool, units: Units) -> str:
    """What an estimate will be taken for; of two lengths alone also which is the likely one, and why."""
    best, worst = estimate[0], estimate[-1]
    if len(estimate) == 3:
        likely, why = estimate[1], ""
    elif best <= duration <= worst:
        likely, why = duration, ", as it is"
    else:
        likely, why = a_third_of_the_way(best, worst), ", a third of the way"
    said = [format_duration(minutes, elapsed, units) for minutes in (best, likely, worst)]
    return f"best {said[0]}, likely {said[1]}{why}, worst {said[2]}"
