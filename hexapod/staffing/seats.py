"""Open seats: work that a role is wanted for and nobody does yet, and who could fill one."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hexapod.plan.plan import Plan
from hexapod.plan.records import ResourceKind
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.capacity import PARTS, in_parts
from hexapod.staffing.load import capacity_by_period, load_by_period, shares_in


@dataclass(frozen=True)
class Seat:
    """A role that is wanted on a task, ``units`` of it; ``minutes`` is the work from ``begin`` to ``end``."""

    task: str
    role: str
    units: float
    begin: int
    end: int
    minutes: float


@dataclass(frozen=True)
class Sitter:
    """Who could fill a seat: 0 has the role, 1 can act in it. ``free`` minutes just then, ``over`` what would be too
    much of the seat's work, ``beside`` what else they do then, the most of it first."""

    resource: str
    rank: int
    free: float
    over: float
    beside: tuple[str, ...]


def seats(schedule: Schedule, plan: Plan) -> list[Seat]:
    """Every open seat, by when it begins."""
    found = []
    for resource in plan.resources.values():
        if resource.kind is not ResourceKind.ROLE or not any(r.role == resource.id for r in plan.resources.values()):
            continue
        for task in plan.used_by.get(resource.id, ()):
            if not plan.is_summary(task):
                found.append(seat_of(schedule, plan, task, resource.id))
    return sorted(found, key=lambda seat: (seat.begin, seat.task))


def seat_of(schedule: Schedule, plan: Plan, task: str, role: str) -> Seat:
    dates, units = schedule.dates(task), plan.assignments[(task, role)].units
    minutes = load_by_period(schedule, plan, role, np.array([dates.start, dates.finish]))[0]
    own = in_parts(units) * dates.duration / PARTS
    return Seat(task, role, units, dates.start, dates.finish, min(float(minutes) / PARTS, own))


def sitters(schedule: Schedule, plan: Plan, seat: Seat, units: float) -> list[Sitter]:
    """Who could take ``units`` of a seat: those with the role first, then who would not be overloaded, then who is the
    freest in just those dates."""
    edges = np.array([seat.begin, seat.end])
    wanted = seat.minutes * units / seat.units
    found = []
    for other in plan.resources_in_order():
        if other.kind is ResourceKind.ROLE or (other.role != seat.role and seat.role not in other.roles):
            continue
        capacity = int(capacity_by_period(schedule, plan, other.id, edges)[0])
        free = max(0.0, (capacity - int(load_by_period(schedule, plan, other.id, edges)[0])) / PARTS)
        beside = tuple(s.task for s in shares_in(schedule, plan, other.id, seat.begin, seat.end)[:3])
        rank = 0 if other.role == seat.role else 1
        found.append(Sitter(other.id, rank, free, max(0.0, wanted - free), beside))
    return sorted(found, key=lambda s: (s.over > 0, s.rank, s.over, -s.free, s.resource))
