"""Who works on a task, as people type it: ``MO TB 50%, SL`` or ``CT ×3``.

Initials side by side share what stands behind them: a percentage or a number of units. Groups are parted
by commas.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from itertools import groupby

from hexapod.errors import BadText
from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment

_PERCENT = re.compile(r"(\d{1,6}(?:[.,]\d{1,2})?)\s*%")
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
        rest, units = _share(group.strip())
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
            found[resource] = Assignment(task_id, resource, units)
    return list(found.values())


def format_assignments(plan: Plan, task_id: str) -> str:
    """Who works on a task, as it can be typed."""
    groups = []
    for units, same in groupby(plan.assignments_of(task_id), key=lambda a: a.units):
        names = " ".join(handle(plan, a.resource) for a in same)
        groups.append(f"{names}{share_text(units)}")
    return ", ".join(groups)


def handle(plan: Plan, resource_id: str) -> str:
    """Initials, or the name of who has none."""
    resource = plan.resources[resource_id]
    return resource.initials or resource.name


def share_text(units: float) -> str:
    """Nothing for one whole unit, `` ×3`` for several, `` 50%`` for parts."""
    if units == 1:
        return ""
    if units > 1 and units == int(units):
        return f" ×{int(units)}"
    return f" {units * 100:.4g}%"


def _share(group: str) -> tuple[str, float]:
    for pattern, unit in ((_PERCENT, 100.0), (_TIMES, 1.0)):
        match = re.search(rf"(?:^|\s){pattern.pattern}$", group, re.IGNORECASE)
        if match:
            units = round(float(match[1].replace(",", ".")) / unit, 3)
            if units <= 0:
                raise BadText(f"“{group}”: a share must be more than nothing.")
            return group[: match.start()].strip(), units
    return group, 1.0
