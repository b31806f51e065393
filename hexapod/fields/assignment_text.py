"""Who works on a task, as people type it: ``MO TB 50%, SL`` or ``CT ×3``.

Initials side by side share what stands behind them: a percentage, a number of units, hours a day or hours in all:
``MO 3 h a day, TB 12 h in all``. Groups are parted by commas.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from itertools import groupby

from msgspec.structs import replace

from hexapod.errors import BadText
from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment

_PERCENT = re.compile(r"(\d{1,6}(?:[.,]\d{1,2})?)\s*%")
_HOURS = re.compile(r"(\d{1,6}(?:[.,]\d{1,2})?)\s*h(?:ours?)?\s+(a day|in all)", re.IGNORECASE)
_TIMES = re.compile(r"[×x*](\d{1,5}(?:[.,]\d{1,3})?)", re.IGNORECASE)


def known_people(plan: Plan) -> dict[str, str]:
    """Ids by initials and by names, in small letters; for who reads many texts of one plan."""
    known = {r.initials.casefold(): r.id for r in plan.resources.values() if r.initials}
    return known | {r.name.casefold(): r.id for r in plan.resources.values() if r.name.casefold() not in known}


def parse_assignments(plan: Plan, task_id: str, text: str, known: Mapping[str, str] | None = None) -> list[Assignment]:
    """The assignments that a text says. ``BadText`` names who is not known."""
    known = known_people(plan) if known is None else known
    found: dict[str, Assignment] = {}
    for group in re.split(r"[,;](?!\d)", text):
        rest, share = split_share(group.strip())
        names = [rest] if rest.casefold() in known else rest.split()
        if not names and group.strip():
            raise BadText(f"“{group.strip()}” says how much, but not who.")
        for name in names:
            resource = known.get(name.casefold())
            if resource is None:
                some = ", ".join(r.initials for r in plan.resources_in_order()[:8] if r.initials)
                hint = f" Known are {some}." if some else " Add people and equipment in Staff first."
                raise BadText(f"Nobody has the initials “{name}”.{hint}")
            if resource in found:
                raise BadText(f"{plan.resources[resource].name} is there twice.")
            before = plan.assignments.get((task_id, resource)) or Assignment(task_id, resource)
            found[resource] = replace(before, **{"units": 1.0, "hours_a_day": None, "total": None, **share})
    return list(found.values())


def with_share(assignment: Assignment, text: str) -> Assignment:
    """The assignment at what a text says: ``50 %``, ``×2``, ``3 h a day``, ``12 h in all``; else ``BadText``."""
    rest, share = split_share(text.strip())
    if rest:
        raise BadText(f"“{text.strip()}” is no share, such as 50 %, 3 h a day or 12 h in all.")
    return replace(assignment, **{"units": 1.0, "hours_a_day": None, "total": None, **share})


def format_assignments(plan: Plan, task_id: str) -> str:
    """Who works on a task, as it can be typed."""
    groups = []
    for share, same in groupby(plan.assignments_of(task_id), key=share_text):
        names = " ".join(handle(plan, a.resource) for a in same)
        groups.append(f"{names}{share}")
    return ", ".join(groups)


def handle(plan: Plan, resource_id: str) -> str:
    """Initials, or the name of who has none."""
    resource = plan.resources[resource_id]
    return resource.initials or resource.name


def share_text(assignment: Assignment) -> str:
    """Nothing for one whole unit, `` ×3`` for several, `` 50%`` for parts, hours a day or in all."""
    if assignment.hours_a_day is not None:
        return f" {assignment.hours_a_day:.6g} h a day"
    if assignment.total is not None:
        return f" {assignment.total / 60:.8g} h in all"
    units = assignment.units
    if units == 1:
        return ""
    if units > 1 and units == int(units):
        return f" ×{int(units)}"
    return f" {units * 100:.4g}%"


def split_share(group: str) -> tuple[str, dict[str, float | int]]:
    """The names, and how much of them by the name of the field that says it."""
    match = re.search(rf"(?:^|\s){_HOURS.pattern}$", group, re.IGNORECASE)
    if match:
        hours = float(match[1].replace(",", "."))
        if hours <= 0:
            raise BadText(f"“{group}”: the hours must be more than none.")
        is_daily = match[2].lower() == "a day"
        return group[: match.start()].strip(), {"hours_a_day": hours} if is_daily else {"total": round(hours * 60)}
    for pattern, unit in ((_PERCENT, 100.0), (_TIMES, 1.0)):
        match = re.search(rf"(?:^|\s){pattern.pattern}$", group, re.IGNORECASE)
        if match:
            units = round(float(match[1].replace(",", ".")) / unit, 3)
            if units <= 0:
                raise BadText(f"“{group}”: a share must be more than nothing.")
            return group[: match.start()].strip(), {"units": units}
    return group, {"units": 1.0}
