"""Links as people type them in a cell: ``3.2``, ``3.2 SS``, ``3.2 2 d later``, ``Survey FF 1 d sooner``.

A predecessor is an outline number or a name; behind it, in any order, the type and a length of time with
``later`` or ``sooner``. Several are parted by commas; a name with a comma in it stands in quotes. A task of
another project is ``project: number``.

What else people type is understood, and shown in these words: ``after 3.2``, ``3.2 and 3.3``, ``3.2 ss 2d``,
``3.2 +2d``, ``3.2 -1d``. A length of time without a sign is later.
"""

from __future__ import annotations

import contextlib
import re
from typing import Any

from msgspec.structs import replace

from hexapod.errors import BadText
from hexapod.plan.outline import number_of, task_at
from hexapod.plan.plan import Plan
from hexapod.plan.records import LagOn, Link, LinkType
from hexapod.schedule.words import lag_text
from hexapod.worktime.calendars import units_of
from hexapod.worktime.lengths import CLOCK, UNIT, Units, parse_length

QUOTES = '"“” '
_NUMBER = re.compile(r"\d+(\.\d+)*")
_TYPE = re.compile(r"(?:^|\s|(?<=\d))(FS|SS|FF|SF)$", re.IGNORECASE)
_AMOUNT = r"\d[\d.,]*"
_PIECES_BEFORE = rf"(?:{_AMOUNT}\s*{UNIT}\s+)*"
_LENGTH = rf"{_PIECES_BEFORE}{_AMOUNT}\s*{UNIT}?"
_COUNTED = r"(?:\s+(?P<counted>elapsed|by its own calendar|by the project's calendar))?"
_PART = rf"(?P<percent>{_AMOUNT})\s*%"
_WORDED = re.compile(rf"(?:^|\s)(?:{_PART}|(?P<length>{_LENGTH})){_COUNTED}\s+(?P<way>later|sooner)$", re.IGNORECASE)
_SIGNED = re.compile(rf"(?P<way>[+\-−])\s*(?:{_PART}|(?P<length>{_LENGTH})){_COUNTED}$", re.IGNORECASE)
_BARE = re.compile(rf"(?:^|\s)(?:{_PART}|(?P<length>{_PIECES_BEFORE}{_AMOUNT}\s*{UNIT})){_COUNTED}$", re.IGNORECASE)
_SOONER = {"sooner", "-", "−"}
_LEAD_IN = re.compile(r"(?:after|waits for)\s+", re.IGNORECASE)
_LAG_ON = {
    "elapsed": LagOn.ELAPSED,
    "by its own calendar": LagOn.PREDECESSOR,
    "by the project's calendar": LagOn.PROJECT,
}
NO_LAG: dict[str, Any] = {"lag": 0, "lag_on": LagOn.SUCCESSOR, "lag_percent": 0.0}
_PIECES = re.compile(r'"[^"]*"[^,;]*|“[^”]*”[^,;]*|[^,;]+')


def parse_links(plan: Plan, successor: str, text: str) -> list[Link]:
    """The links into ``successor`` that a text says. ``BadText`` names the part that is not understood."""
    found: dict[tuple[str, str, str], Link] = {}
    for piece in _PIECES.findall(text):
        if piece.strip():
            for link in _parse_piece(plan, successor, piece.strip()):
                if link.key in found:
                    raise BadText(f"“{piece.strip()}” is there twice.")
                found[link.key] = link
    return list(found.values())


def _parse_piece(plan: Plan, successor: str, piece: str) -> list[Link]:
    """One link; several where the piece is no task, but ``3.2 and 3.3``."""
    try:
        return [_parse_one(plan, successor, piece)]
    except BadText:
        parts = re.split(r"\s+and\s+|\s*&\s*", piece)
        if len(parts) == 1:
            raise
        with contextlib.suppress(BadText):
            return [_parse_one(plan, successor, part) for part in parts if part]
        raise


def format_links(plan: Plan, successor: str) -> str:
    """What a task waits for, as it can be typed."""
    links = sorted(plan.links_into(successor), key=lambda link: _order(plan, link))
    return ", ".join(_format_one(plan, successor, link) for link in links)


def reference(plan: Plan, project: str, task_id: str) -> str:
    """How a cell of ``project`` names a task: its number, with its project in front if that is another."""
    task = plan.tasks[task_id]
    number = number_of(plan, task_id)
    return number if task.project == project else f"{plan.projects[task.project].name}: {number}"


def _order(plan: Plan, link: Link) -> tuple[bool, list[int], str]:
    same = plan.tasks[link.predecessor].project == plan.tasks[link.successor].project
    return (not same, [int(part) for part in number_of(plan, link.predecessor).split(".")], link.type.value)


def _format_one(plan: Plan, successor: str, link: Link) -> str:
    parts = [reference(plan, plan.tasks[successor].project, link.predecessor)]
    if link.type is not LinkType.FS:
        parts.append(link.type.value)
    if link.lag or link.lag_percent:
        parts.append(lag_text(link))
    return " ".join(parts)


def parse_link(plan: Plan, predecessor: str, successor: str, text: str) -> Link:
    """The link between two tasks of which a text says the type and the lag, in any order; ``BadText`` if it does not.

    What the text does not speak of, such as the gap policy, stays as it is where the link is there already.
    """
    rest, type_, lag = split_link(text.strip(), units_of(plan, plan.tasks[successor].project))
    if rest:
        raise BadText(f"“{rest[:60]}” is neither a type of link nor a lag, such as 2 d later.")
    known = plan.links.get((predecessor, successor, type_.value))
    return replace(known or Link(predecessor, successor, type_), **lag)


def _parse_one(plan: Plan, successor: str, piece: str) -> Link:
    project = plan.tasks[successor].project
    rest, type_, lag = split_link(piece, units_of(plan, project))
    if not rest:
        raise BadText(f"“{piece}” names no task. Type its number or name first, for example 3.2 SS 2 d later.")
    try:
        predecessor = _find(plan, project, rest.strip(QUOTES))
    except BadText as error:
        predecessor, type_, lag = _whole_name(plan, project, piece, error), LinkType.FS, NO_LAG
    known = plan.links.get((predecessor, successor, type_.value))
    return replace(known or Link(predecessor, successor, type_), **lag)


def _whole_name(plan: Plan, project: str, piece: str, error: BadText) -> str:
    """The task whose name ends like a lag, such as “Phase 2 d”; else the ``error`` of reading it as one is raised."""
    with contextlib.suppress(BadText):
        return _named(plan, project, piece.strip(QUOTES))
    raise error


def split_link(text: str, units: Units, *, bare: bool = True) -> tuple[str, LinkType, dict[str, Any]]:
    """What is left of a text in front of the type and the lag, and these, the lag as fields of a link.

    ``bare`` lets a length of time without a word or sign be a lag.
    """
    rest, type_ = text, LinkType.FS
    lag = dict(NO_LAG)
    has_type = has_lag = False
    while True:
        if not has_type and (match := _TYPE.search(rest)):
            type_, has_type = LinkType(match[1].upper()), True
        elif not has_lag and (match := _lag_at_end(rest, bare)):
            lag, has_lag = _parse_lag(match, units), True
        else:
            break
        rest = rest[: match.start()].strip()
    return rest, type_, lag


def _lag_at_end(text: str, bare: bool) -> re.Match[str] | None:
    return _WORDED.search(text) or _SIGNED.search(text) or (_BARE.search(text) if bare else None)


def parse_lag_text(plan: Plan, successor: str, text: str) -> dict[str, Any]:
    """The fields of a link that ``2 d later`` or nothing says. ``BadText`` if it is neither."""
    said = text.strip()
    if not said:
        return dict(NO_LAG)
    match = _lag_at_end(said, bare=True)
    if match is None or match.start() > 0:
        raise BadText(f"“{said[:60]}” is not a lag. Type for example 2 d later, 1 d sooner or 50 % later.")
    return _parse_lag(match, units_of(plan, plan.tasks[successor].project))


def _parse_lag(match: re.Match[str], units: Units) -> dict[str, Any]:
    found = match.groupdict()
    sign = -1 if (found.get("way") or "").lower() in _SOONER else 1
    if found["percent"] is not None:
        return NO_LAG | {"lag_percent": sign * as_number(found["percent"])}
    on = _LAG_ON.get((found["counted"] or "").lower(), LagOn.SUCCESSOR)
    minutes = parse_length(found["length"], CLOCK if on is LagOn.ELAPSED else units)
    return {"lag": sign * minutes, "lag_on": on, "lag_percent": 0.0}


def as_number(text: str) -> float:
    """A number with a point or a comma. ``BadText`` if it is none."""
    try:
        return float(text.replace(",", "."))
    except ValueError:
        raise BadText(f"“{text}” is not a number.") from None


def _find(plan: Plan, project: str, text: str) -> str:
    """The task that a text names, also with ``after`` in front of it where none is called so."""
    try:
        return _named(plan, project, text)
    except BadText:
        shorter = _LEAD_IN.sub("", text, count=1).strip(QUOTES)
        if shorter == text:
            raise
        return _named(plan, project, shorter)


def _named(plan: Plan, project: str, text: str) -> str:
    if _NUMBER.fullmatch(text):
        task_id = task_at(plan, project, text)
        if task_id is not None:
            return task_id
    elsewhere = row_of_another_project(plan, text)
    if elsewhere is not None:
        return elsewhere
    called = [t for t in plan.tasks.values() if t.name.casefold() == text.casefold()]
    here = [t for t in called if t.project == project]
    found = here or called
    if len(found) > 1:
        numbers = " or ".join(sorted(reference(plan, project, t.id) for t in found)[:4])
        raise BadText(f"Several tasks are called “{text}”; type the number: {numbers}.")
    if not found:
        raise BadText(f"There is no task “{text}”. Type a number such as 3.2, or a name.")
    return found[0].id


def row_of_another_project(plan: Plan, text: str) -> str | None:
    """The task that ``Glasshouse Roof: 3.2`` names; None where it names none."""
    name, colon, number = text.rpartition(":")
    for project in plan.projects.values() if colon else ():
        if project.name.casefold() == name.strip().casefold():
            task_id = task_at(plan, project.id, number.strip())
            if task_id is not None:
                return task_id
    return None
