"""The content lines of RFC 5545 (section 3.1): components with their properties, read line by line.

Only the grammar: what a value means is for the reader of the component. A general library makes typed values of every
property of every component first, at a third of a millisecond each; a hundred thousand to-dos would take a minute.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import UTC, date, datetime, timedelta, tzinfo
from functools import lru_cache
from typing import NamedTuple
from zoneinfo import ZoneInfo

from hexapod.errors import BadFile

DEEPEST = 20  # components within components
LONGEST = 100 * 366  # days of a duration

_FOLD = re.compile(r"\r?\n[ \t]")
_VALUE = r'(?:"[^"]*"|[^":;,]*)'
_LINE = re.compile(rf"([A-Za-z0-9-]+)((?:;[A-Za-z0-9-]+={_VALUE}(?:,{_VALUE})*)*):(.*)", re.DOTALL)
_PARAMETER = re.compile(r';([A-Za-z0-9-]+)=((?:"[^"]*"|[^":;])*)')
_ESCAPED = re.compile(r"\\(.)")
_MOMENT = re.compile(r"(\d{4})(\d\d)(\d\d)(?:T(\d\d)(\d\d)(\d\d)(Z?))?", re.ASCII)
_DURATION = re.compile(
    r"([+-]?)P(?:(\d{1,7})W)?(?:(\d{1,7})D)?(?:T(?:(\d{1,9})H)?(?:(\d{1,9})M)?(?:(\d{1,9})S)?)?", re.ASCII
)


class Property(NamedTuple):
    """``value`` as it stands in the file; parameters by their names in capitals."""

    value: str
    parameters: dict[str, str]

    @property
    def text(self) -> str:
        return unescaped(self.value)


@dataclass
class Component:
    """A to-do or an event; its properties by their names in capitals, in the order of the file."""

    name: str
    properties: dict[str, list[Property]] = field(default_factory=dict)

    def first(self, name: str) -> Property | None:
        found = self.properties.get(name)
        return found[0] if found else None

    def all(self, name: str) -> list[Property]:
        return self.properties.get(name, [])


def components(name: str, text: str, wanted: tuple[str, ...]) -> Iterator[Component]:
    """The components of some kinds. ``BadFile`` names the first line that is none, or does not fit."""
    open_: list[tuple[str, Component | None]] = []
    seen_any = False
    for number, line in enumerate(_FOLD.sub("", text).splitlines(), 1):
        if not line.strip():
            continue
        match = _LINE.fullmatch(line)
        if match is None:
            raise BadFile(f"{name} is no calendar file: line {number} (unfolded) is not understood: {line[:40]!r}.")
        key, value = match[1].upper(), match[3]
        if key == "BEGIN":
            kind = value.strip().upper()
            if not open_ and kind != "VCALENDAR":
                raise BadFile(f"{name} is no calendar file: it does not begin with VCALENDAR.")
            if len(open_) >= DEEPEST:
                raise BadFile(f"{name} is no calendar file: more than {DEEPEST} parts lie within each other.")
            seen_any = True
            open_.append((kind, Component(kind) if kind in wanted else None))
        elif key == "END":
            kind = value.strip().upper()
            if not open_ or open_[-1][0] != kind:
                raise BadFile(f"{name} is damaged: line {number} (unfolded) ends {kind[:20]}, which is not open.")
            ended = open_.pop()[1]
            if ended is not None:
                yield ended
        elif open_ and open_[-1][1] is not None:
            parameters = {n.upper(): v.strip('"') for n, v in _PARAMETER.findall(match[2])} if match[2] else {}
            open_[-1][1].properties.setdefault(key, []).append(Property(value, parameters))
    if open_:
        raise BadFile(f"{name} is damaged: its end is missing.")
    if not seen_any:
        raise BadFile(f"{name} is no calendar file.")


def unescaped(value: str) -> str:
    if "\\" not in value:
        return value
    return _ESCAPED.sub(lambda found: "\n" if found[1] in "nN" else found[1], value)


def listed(value: str) -> list[str]:
    """The texts of a value with several, parted by commas."""
    return [unescaped(part) for part in re.split(r"(?<!\\),", value)]


def moment(found: Property | None) -> datetime | None:
    """Local time; one with a zone is taken to the zone of this machine. ``ValueError`` if it is none."""
    if found is None:
        return None
    match = _MOMENT.fullmatch(found.value.strip())
    if match is None:
        raise ValueError(f"“{found.value[:30]}” is no date")
    year, month, day = int(match[1]), int(match[2]), int(match[3])
    if match[4] is None:
        made = date(year, month, day)
        return datetime(made.year, made.month, made.day)
    made_at = datetime(year, month, day, int(match[4]), int(match[5]), min(59, int(match[6])))
    zone = UTC if match[7] else _zone(found.parameters.get("TZID", ""))
    if zone is None or not 1900 < year < 2300:
        return made_at
    return made_at.replace(tzinfo=zone).astimezone().replace(tzinfo=None)


def length(found: Property | None) -> timedelta | None:
    """A duration; ``ValueError`` if it is none."""
    if found is None:
        return None
    match = _DURATION.fullmatch(found.value.strip())
    if match is None or not any(match.groups()[1:]):
        raise ValueError(f"“{found.value[:30]}” is no duration")
    weeks, days, hours, minutes, seconds = (int(part or 0) for part in match.groups()[1:])
    made = timedelta(weeks=weeks, days=days, hours=hours, minutes=minutes, seconds=seconds)
    if made.days > LONGEST:
        raise ValueError(f"“{found.value[:30]}” is longer than a century")
    return -made if match[1] == "-" else made


@lru_cache(maxsize=256)
def _zone(name: str) -> tzinfo | None:
    """None for a zone that is not known: its times are taken as local ones."""
    try:
        return ZoneInfo(name) if name else None
    except (ValueError, OSError, KeyError):
        return None
