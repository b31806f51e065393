"""Lengths of time at the end of a line: ``5d``, ``about 2 weeks``, ``takes a day``."""

from __future__ import annotations

import re

from hexapod.errors import BadText
from hexapod.lines.clauses import Clause, Length
from hexapod.worktime.lengths import UNIT, Units, parse_duration

COUNTS = {
    "a": 1, "an": 1, "one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7, "eight": 8, "nine": 9,
    "ten": 10,
}  # fmt: skip
_ONE = rf"\d{{1,9}}(?:[.,]\d{{1,6}})?\s*{UNIT}"
_IN_WORDS = rf"(?:(?:{'|'.join(COUNTS)})\s+(?:hours?|days?|weeks?|months?))"
_LEAD_IN = r"(?:(?P<lead>about|ca\.?|say|takes|lasts|for|~)\s*)?"
_AT_END = re.compile(
    rf"(?<![\w.,×+\-–/]){_LEAD_IN}"
    rf"(?<![\w.])(?P<length>{_ONE}(?:\s+{_ONE})*|half an? (?:hour|day|week)|{_IN_WORDS})"
    r"(?P<elapsed>\s+elapsed)?\s*\??$",
    re.IGNORECASE,
)
_PART_OF_A_NAME = re.compile(
    r"(?:^|\s)(?:every|each|per|of|last|first|next|within|than|over|under|x|×|to|and|or|the|these|those|day|week|in"
    r"|\d\s*h(?:ours?)?|.*[+])\s*$",
    re.IGNORECASE,
)


def length_at_end(text: str, units: Units) -> Clause | None:
    """The length that ends a text; it is not sure where it may be metres, a size such as 3D, or words of a name."""
    match = _AT_END.search(text)
    if match is None or not text[: match.start()].strip() or _PART_OF_A_NAME.search(text[: match.start()]):
        return None
    said, lead, start = match["length"], (match["lead"] or "").lower(), match.start()
    size = re.match(r"(?:.*\s)?\d+[A-Z]\s+(?=\d)", said)  # “3D 2d” is two days
    if size:
        said, start = said[size.end() :], match.start("length") + size.end()
    number, in_words = said, False
    half = re.fullmatch(r"half an? (\w+)", said, re.IGNORECASE)
    counted = re.fullmatch(r"([a-z]+)\s+(\w+)", said, re.IGNORECASE)
    if half:
        number = f"0.5 {half[1]}"
    elif counted and counted[1].lower() in COUNTS:
        number, in_words = f"{COUNTS[counted[1].lower()]} {counted[2]}", True
    try:
        minutes, elapsed = parse_duration(number + (match["elapsed"] or ""), units)
    except BadText:
        return None
    is_size = bool(re.search(r"\d\s*m$|\d[A-Z]$", said))
    is_vague = (in_words and lead not in ("takes", "lasts")) or lead == "for"
    return Clause(start, match.end(), Length(minutes, elapsed), sure=not is_size and not is_vague)
