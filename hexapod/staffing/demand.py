"""Assignments as arrays, ready for the kernels. Units are thousandths, so that sums are exact."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from immutables import Map

from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY, Resource, ResourceKind
from hexapod.schedule.codes import NEVER
from hexapod.schedule.schedule import Schedule
from hexapod.schedule.timing import assignment_set, own_calendar
from hexapod.worktime.calendars import Ints

MILLI = 1000


@dataclass(frozen=True)
class Capacity:
    """How much there is of each resource over time, in thousandths of a unit, step by step: from ``times[i]`` on it
    is ``levels[i]``; those of resource r are ``first[r]`` up to ``first[r + 1]``, the first of them from ever on."""

    resources: tuple[str, ...]
    first: Ints
    times: Ints
    levels: Ints

    @staticmethod
    def of(plan: Plan, resources: tuple[str, ...]) -> Capacity:
        """Of a role that somebody is wanted for it is what its members have together."""
        first, times, levels = [0], [], []
        for resource in resources:
            found = _steps_together([plan.resources[m] for m in pooled(plan, resource) or [resource]])
            times += list(found)
            levels += list(found.values())
            first.append(len(times))
        arrays = (np.array(values, dtype=np.int64) for values in (first, times, levels))
        return Capacity(resources, *arrays)

    @property
    def most(self) -> Ints:
        """The highest that each resource ever has."""
        spans = zip(self.first[:-1], self.first[1:], strict=True)
        return np.array([self.levels[a:b].max() for a, b in spans], dtype=np.int64)

    def steps(self, resource: int) -> tuple[Ints, Ints]:
        """From when a resource has how much."""
        mine = slice(self.first[resource], self.first[resource + 1])
        return self.times[mine], self.levels[mine]

    def at(self, resource: int, moments: Ints) -> Ints:
        times, levels = self.steps(resource)
        return levels[np.searchsorted(times, moments, side="right") - 1]

    def steps_within(self, begin: int, until: int) -> Ints:
        """Moments at which any capacity is another."""
        return self.times[(self.times > begin) & (self.times < until)]

    def by_slot(self, moments: Ints) -> Ints:
        """Resources by moments."""
        found = np.empty((len(self.resources), len(moments)), dtype=np.int64)
        for r in range(len(self.resources)):
            found[r] = self.at(r, moments)
        return found


def _steps_together(records: list[Resource]) -> dict[int, int]:
    """From when how much there is of several resources."""
    times = sorted({NEVER, *(day * DAY for r in records for day, _ in r.capacity_from)})
    found = dict.fromkeys(times, 0)
    for record in records:
        levels = [(NEVER, record.capacity), *((day * DAY, units) for day, units in record.capacity_from)]
        for t in times:
            found[t] += milli(next(units for begin, units in reversed(levels) if begin <= t))
    return found


def pooled(plan: Plan, role: str) -> list[str]:
    """Who has a role of which somebody is wanted, that is, which has open seats; nobody for anything else."""
    if plan.resources[role].kind is not ResourceKind.ROLE or not plan.used_by.get(role):
        return []
    return [r.id for r in plan.resources_in_order() if r.role == role]


@dataclass(frozen=True)
class Demand:
    """One entry an assignment, sorted by resource: ``first[r]`` up to ``first[r + 1]`` are resource r's.

    Materials are reported, not levelled; they are not among the resources. An open seat asks for its role, and there
    what the members of the role do counts too (``own`` 0, ``who`` does it): together they have what the role has.
    """

    resources: tuple[str, ...]
    capacity: Capacity
    first: Ints
    task: Ints  # slot
    units: Ints
    who: Ints  # the resource that does it
    own: Ints  # 0 where it is a member's, counted for the role
    assignments: Map  # type: ignore[type-arg]  # what it was made of
    pool_of_resources: Map  # type: ignore[type-arg]

    @staticmethod
    def of(schedule: Schedule, plan: Plan, before: Demand | None = None) -> Demand:
        """The demand of a plan; ``before`` is used again if nothing in it changed."""
        if before is not None and before.assignments is plan.assignments and before.pool_of_resources is plan.resources:
            return before
        resources = tuple(r.id for r in plan.resources_in_order() if r.kind is not ResourceKind.MATERIAL)
        index = {r: i for i, r in enumerate(resources)}
        role_of = {m: index[r] for r in resources for m in pooled(plan, r)}
        rows = []
        for a in plan.assignments.values():
            if a.resource in index:
                what = (schedule.slots[a.task], milli(a.units), index[a.resource])
                rows.append((index[a.resource], *what, 1))
                if a.resource in role_of:
                    rows.append((role_of[a.resource], *what, 0))
        table = np.array(sorted(rows), dtype=np.int64).reshape(-1, 5)
        return Demand(
            resources,
            Capacity.of(plan, resources),
            np.searchsorted(table[:, 0], np.arange(len(resources) + 1)),
            np.ascontiguousarray(table[:, 1]),
            np.ascontiguousarray(table[:, 2]),
            np.ascontiguousarray(table[:, 3]),
            np.ascontiguousarray(table[:, 4]),
            plan.assignments,
            plan.resources,
        )

    def doers(self, rows: slice | Ints) -> list[str]:
        """Who does the work of some entries."""
        return [self.resources[i] for i in self.who[rows].tolist()]


@dataclass(frozen=True)
class Runs:
    """When assignments are worked: one entry each. Several in one crew end on calendars of their own."""

    calendar: Ints
    start: Ints
    finish: Ints


def runs_of(schedule: Schedule, slots: Ints, resources: list[str]) -> Runs:
    """The runs of assignments given by their tasks' slots and their resources."""
    network = schedule.network
    assert network is not None
    calendar, start, finish = network.tasks.calendar[slots], schedule.start[slots], schedule.finish[slots]
    crewed = np.flatnonzero((network.tasks.crew[slots] > 0) & (network.structure.leaf[slots] == 1))
    if len(crewed):
        from hexapod.worktime.arithmetic import finish_side, worked

        plan, timing = network.plan, network.timing
        for i in crewed:
            own = own_calendar(plan, plan.tasks[network.interning.ids[slots[i]]])
            calendar[i] = timing.index[assignment_set(own, plan.resources[resources[i]])]
            work = worked(timing.pool, calendar[i], start[i]) + network.tasks.duration[slots[i]]
            finish[i] = min(finish[i], finish_side(timing.pool, calendar[i], work))
    return Runs(calendar, start, finish)


def milli(units: float) -> int:
    return round(units * MILLI)
