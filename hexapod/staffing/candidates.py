"""Who else could do a piece of work: those of the same role or with the same skills, by how free they are just then."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hexapod.plan.plan import Plan
from hexapod.plan.records import Resource, ResourceKind
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.capacity import PARTS
from hexapod.staffing.load import capacity_by_period, load_by_period

PEOPLE = (ResourceKind.PERSON, ResourceKind.TEAM)


@dataclass(frozen=True)
class Candidate:
    """``free`` are minutes of capacity that nothing asks for; ``skills`` those that are shared; ``rank`` puts who has
    the role before who can act in it, before who only has a skill."""

    resource: str
    free: float
    rank: int
    skills: tuple[str, ...]


def candidates(schedule: Schedule, plan: Plan, resource_id: str, begin: int, end: int) -> list[Candidate]:
    """Who could take over work of a resource between two moments, best first; all have some time free."""
    wanted = plan.resources[resource_id]
    edges = np.array([begin, end])
    found = []
    for other in plan.resources_in_order():
        fit = _fit(wanted, other) if other.id != resource_id else None
        if fit is None:
            continue
        capacity = int(capacity_by_period(schedule, plan, other.id, edges)[0])
        free = (capacity - int(load_by_period(schedule, plan, other.id, edges)[0])) / PARTS
        if free > 0:
            found.append(Candidate(other.id, free, fit, _shared(wanted, other)))
    return sorted(found, key=lambda c: (c.rank, -len(c.skills), -c.free, c.resource))


def _fit(wanted: Resource, other: Resource) -> int | None:
    """0 for the same role, 1 for one that can be acted in, 2 for a skill, None for neither."""
    if (wanted.kind in PEOPLE) != (other.kind in PEOPLE):
        return None
    if wanted.role is not None and wanted.role == other.role:
        return 0
    if wanted.role is not None and wanted.role in other.roles:
        return 1
    return 2 if _shared(wanted, other) else None


def _shared(wanted: Resource, other: Resource) -> tuple[str, ...]:
    known = {s.name.casefold() for s in other.skills}
    return tuple(s.name for s in wanted.skills if s.name.casefold() in known)
