"""Who else could do a piece of work: those of the same role or with the same skills, by how free they are just then."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hexapod.plan.plan import Plan
from hexapod.plan.records import Resource, ResourceKind
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.capacity import PARTS
from hexapod.staffing.demand import Demand
from hexapod.staffing.load import capacities_by_period, loads_by_period

PEOPLE = (ResourceKind.PERSON, ResourceKind.TEAM)


@dataclass(frozen=True)
class Candidate:
    """``free`` are minutes of capacity that nothing asks for; ``skills`` those that are shared; ``rank`` puts who has
    the role before who can act in it, before who only has a skill."""

    resource: str
    free: float
    rank: int
    skills: tuple[str, ...]


def candidates(
    schedule: Schedule, plan: Plan, resource_id: str, begin: int, end: int, known: Demand | None = None
) -> list[Candidate]:
    """Who could take over work of a resource between two moments, best first; all have some time free. ``known`` is the
    demand of the plan where it has been made."""
    wanted = plan.resources[resource_id]
    edges = np.array([begin, end])
    others = [(other, _fit(wanted, other)) for other in plan.resources_in_order() if other.id != resource_id]
    fitting = [(other, fit) for other, fit in others if fit is not None]
    names = [other.id for other, _ in fitting]
    if not names:
        return []
    capacity = capacities_by_period(schedule, plan, names, edges)[:, 0]
    free = (capacity - loads_by_period(schedule, plan, names, edges, known)[:, 0]) / PARTS
    found = [
        Candidate(other.id, left, fit, _shared(wanted, other))
        for (other, fit), left in zip(fitting, free.tolist(), strict=True)
        if left > 0
    ]
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
