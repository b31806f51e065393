"""Capacity against demand by role: what there is, what is filled, what is open, and what would close a gap.

What a project needs of somebody is the larger of what it is promised and what its tasks ask for. What is open is asked
of the role itself, on tasks or on projects.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from msgspec.structs import replace
from numpy.typing import NDArray

from hexapod.plan.changes import Changes
from hexapod.plan.plan import Plan
from hexapod.plan.records import Resource, ResourceKind
from hexapod.schedule.engine import reschedule
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.capacity import PARTS
from hexapod.staffing.demand import Demand
from hexapod.staffing.load import capacity_by_period, loads_by_period, shares_of
from hexapod.staffing.reserved import Bookings
from hexapod.worktime.calendars import Ints

Floats = NDArray[np.float64]
HOUR = 60 * PARTS
MOST_TRIED = 12  # tasks that are tried later, those with the most work first


@dataclass(frozen=True)
class RoleRow:
    """Hours by period; ``filled`` and ``open`` by project and period, in the order of ``RoleTable.projects``."""

    role: str
    title: str
    have: Floats
    filled: Floats
    open: Floats

    @property
    def need(self) -> Floats:
        found: Floats = (self.filled + self.open).sum(axis=0)
        return found

    def short(self, period: int) -> float:
        """Hours that there are too few; negative to spare."""
        return float(self.need[period] - self.have[period])


@dataclass(frozen=True)
class RoleTable:
    edges: Ints
    projects: tuple[str, ...]
    rows: tuple[RoleRow, ...]


def role_table(schedule: Schedule, plan: Plan, demand: Demand, edges: Ints) -> RoleTable:
    """Every role that has members or is asked for."""
    bookings = Bookings.of(schedule, plan, demand, edges)
    claims = np.maximum(bookings.assigned, bookings.reserved) / HOUR
    index = {r: i for i, r in enumerate(bookings.resources)}
    rows = []
    for role in plan.resources_in_order():
        if role.kind is not ResourceKind.ROLE:
            continue
        members = members_of(plan, role.id)
        filled = claims[[index[m.id] for m in members]].sum(axis=0)
        if members or claims[index[role.id]].any():
            have = sum((_hours_of(schedule, plan, m.id, edges) for m in members), np.zeros(len(edges) - 1))
            rows.append(RoleRow(role.id, role.name, have, filled, claims[index[role.id]]))
    return RoleTable(edges, bookings.projects, tuple(rows))


def members_of(plan: Plan, role: str) -> list[Resource]:
    """Who has a role."""
    return [r for r in plan.resources_in_order() if r.role == role]


def _hours_of(schedule: Schedule, plan: Plan, resource: str, edges: Ints) -> Floats:
    found: Floats = capacity_by_period(schedule, plan, resource, edges) / HOUR
    return found


@dataclass(frozen=True)
class Helper:
    """Somebody of another role who can act in this one, with the hours that they are free."""

    resource: str
    free: float


@dataclass(frozen=True)
class Later:
    """A task that could wait within its float: ``by`` working minutes take ``hours`` of it out of the period."""

    task: str
    by: int
    hours: float


@dataclass(frozen=True)
class Hire:
    """So many more at full time, from one moment up to another."""

    count: int
    begin: int
    end: int


@dataclass(frozen=True)
class Remedies:
    """What would close a gap of ``short`` hours, each by itself as far as it goes."""

    short: float
    helpers: tuple[Helper, ...]
    later: tuple[Later, ...]
    hire: Hire | None


def remedies(schedule: Schedule, plan: Plan, demand: Demand, table: RoleTable, role: str, period: int) -> Remedies:
    """What would close the gap of a role in a period; empty where there is none."""
    row = next(r for r in table.rows if r.role == role)
    short = row.short(period)
    if short <= 1e-9:
        return Remedies(0.0, (), (), None)
    edges = table.edges[period : period + 2]
    return Remedies(
        short,
        _helpers(schedule, plan, demand, role, edges),
        _later(schedule, plan, role, edges),
        _hire(table, row, period),
    )


def _helpers(schedule: Schedule, plan: Plan, demand: Demand, role: str, edges: Ints) -> tuple[Helper, ...]:
    others = [r.id for r in plan.resources_in_order() if r.role != role and role in r.roles]
    bookings = Bookings.of(schedule, plan, demand, edges, others)
    found = []
    for other in others:
        capacity = int(capacity_by_period(schedule, plan, other, edges)[0])
        free = (capacity - int(bookings.claimed(other)[0])) / HOUR
        if free > 0:
            found.append(Helper(other, free))
    return tuple(sorted(found, key=lambda h: (-h.free, h.resource)))


def _later(schedule: Schedule, plan: Plan, role: str, edges: Ints) -> tuple[Later, ...]:
    """Each task of the role in the period that has float, as late as its float allows; the plan is scheduled anew."""
    begin, end = int(edges[0]), int(edges[1])
    who = [role, *(m.id for m in members_of(plan, role))]
    found = []
    for task_id in [share.task for share in shares_of(schedule, plan, who, begin, end)][:MOST_TRIED]:
        task, room = plan.tasks[task_id], schedule.dates(task_id).total_float
        if room is None or room <= 0 or task.pinned or task.actual_start is not None:
            continue
        held = replace(task, hold=task.hold + room)
        changes = Changes(tasks=((task, held),))
        moved = changes.applied_to(plan)
        after = reschedule(schedule, moved, changes)
        now, then = (loads_by_period(*of, who, edges).sum() for of in ((schedule, plan), (after, moved)))
        gone = int(now - then) / HOUR
        if gone > 0:
            found.append(Later(task_id, room, gone))
    return tuple(sorted(found, key=lambda x: (-x.hours, x.task)))


def _hire(table: RoleTable, row: RoleRow, period: int) -> Hire | None:
    """How many more would do for the whole stretch of short periods around one."""
    first = last = period
    while first > 0 and row.short(first - 1) > 1e-9:
        first -= 1
    while last + 1 < len(row.have) and row.short(last + 1) > 1e-9:
        last += 1
    hours = [_full_time(table, p) for p in range(first, last + 1)]
    if not all(hours):
        return None
    most = max(row.short(p) / h for p, h in zip(range(first, last + 1), hours, strict=True))
    return Hire(math.ceil(most - 1e-9), int(table.edges[first]), int(table.edges[last + 1]))


def _full_time(table: RoleTable, period: int) -> float:
    """Hours that one more would have: eight on each weekday of the period (common practice: a 40 h week)."""
    days = np.arange(table.edges[period] // 1440, table.edges[period + 1] // 1440)
    weekdays = ((days + 3) % 7) < 5  # 1970-01-01 was a Thursday
    return float(8 * weekdays.sum())
