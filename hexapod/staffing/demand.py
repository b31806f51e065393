"""Assignments as arrays, ready for the kernels. Units are thousandths, so that sums are exact."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from immutables import Map

from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY, ResourceKind
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
        first, times, levels = [0], [], []
        for resource in resources:
            record = plan.resources[resource]
            times += [NEVER, *(day * DAY for day, _ in record.capacity_from)]
            levels += [milli(record.capacity), *(milli(units) for _, units in record.capacity_from)]
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


@dataclass(frozen=True)
class Demand:
    """One entry an assignment, sorted by resource: ``first[r]`` up to ``first[r + 1]`` are resource r's.

    Materials are reported, not levelled; they are not among the resources.
    """

    resources: tuple[str, ...]
    capacity: Capacity
    first: Ints
    task: Ints  # slot
    units: Ints
    assignments: Map  # type: ignore[type-arg]  # what it was made of
    pool_of_resources: Map  # type: ignore[type-arg]

    @staticmethod
    def of(schedule: Schedule, plan: Plan, before: Demand | None = None) -> Demand:
        """The demand of a plan; ``before`` is used again if nothing in it changed."""
        if before is not None and before.assignments is plan.assignments and before.pool_of_resources is plan.resources:
            return before
        resources = tuple(r.id for r in plan.resources_in_order() if r.kind is not ResourceKind.MATERIAL)
        index = {r: i for i, r in enumerate(resources)}
        rows = sorted(
            (index[a.resource], schedule.slots[a.task], milli(a.units))
            for a in plan.assignments.values()
            if a.resource in index
        )
        table = np.array(rows, dtype=np.int64).reshape(-1, 3)
        return Demand(
            resources,
            Capacity.of(plan, resources),
            np.searchsorted(table[:, 0], np.arange(len(resources) + 1)),
            np.ascontiguousarray(table[:, 1]),
            np.ascontiguousarray(table[:, 2]),
            plan.assignments,
            plan.resources,
        )


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
