"""Links as people type them in a cell: ``3.2``, ``3.2 SS``, ``3.2 2 d later``, ``Survey FF 1 d sooner``.

A predecessor is an outline number or a name; behind it, in any order, the type and a length of time with
``later`` or ``sooner``. Several are parted by commas; a name with a comma in it stands in quotes. A task of
another project is ``project: number``.
"""

from __future__ import annotations

import re

from hexapod.errors import BadText
from hexapod.plan.outline import number_of, task_at
from hexapod.plan.plan import Plan
from hexapod.plan.records import Link, LinkType
from hexapod.schedule.words import lag_text
from hexapod.worktime.lengths import parse_length

_NUMBER = re.compile(r"\d+(\.\d+)*")
_TYPE = re.compile(r"(?:^|\s)(FS|SS|FF|SF)$", re.IGNORECASE)
_UNIT = r"(?:min(?:utes?)?|m|h(?:ours?)?|d(?:ays?)?|w(?:eeks?)?)"
_LAG = re.compile(rf"(?:^|\s)((?:\d[\d.,]*\s*{_UNIT}\s+)*\d[\d.,]*\s*{_UNIT}?)\s+(later|sooner)$", re.IGNORECASE)
_PIECES = re.compile(r'"[^"]*"[^,;]*|“[^”]*”[^,;]*|[^,;]+')


def parse_links(plan: Plan, successor: str, text: str) -> list[Link]:
    """The links into ``successor`` that a text says. ``BadText`` names the part that is not understood."""
    found: dict[tuple[str, str, str], Link] = {}
    for piece in _PIECES.findall(text):
        if piece.strip():
            link = _parse_one(plan, successor, piece.strip())
            if link.key in found:
                raise BadText(f"“{piece.strip()}” is there twice.")
            found[link.key] = link
    return list(found.values())


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
    if link.lag:
        parts.append(lag_text(link.lag))
    return " ".join(parts)


def _parse_one(plan: Plan, successor: str, piece: str) -> Link:
    rest, type_, lag = piece, LinkType.FS, 0
    has_type = has_lag = False
    while True:
        if not has_type and (match := _TYPE.search(rest)):
            type_, has_type = LinkType(match[1].upper()), True
        elif not has_lag and (match := _LAG.search(rest)):
            lag, has_lag = parse_length(match[1]) * (1 if match[2].lower() == "later" else -1), True
        else:
            break
        rest = rest[: match.start()].strip()
    if not rest:
        raise BadText(f"“{piece}” names no task. Type its number or name first, for example 3.2 SS 2 d later.")
    return Link(_find(plan, plan.tasks[successor].project, rest.strip('"“” ')), successor, type_, lag)


def _find(plan: Plan, project: str, text: str) -> str:
    if _NUMBER.fullmatch(text):
        task_id = task_at(plan, project, text)
        if task_id is not None:
            return task_id
    if ":" in text:
        before, _, number = text.rpartition(":")
        for other in plan.projects.values():
            if other.name.casefold() == before.strip().casefold():
                task_id = task_at(plan, other.id, number.strip())
                if task_id is not None:
                    return task_id
    named = [t for t in plan.tasks.values() if t.name.casefold() == text.casefold()]
    here = [t for t in named if t.project == project]
    found = here or named
    if len(found) > 1:
        numbers = " or ".join(sorted(reference(plan, project, t.id) for t in found)[:4])
        raise BadText(f"Several tasks are called “{text}”; type the number: {numbers}.")
    if not found:
        raise BadText(f"There is no task “{text}”. Type a number such as 3.2, or a name.")
    return found[0].id
