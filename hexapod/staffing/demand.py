"""Assignments as arrays, ready for the kernels. Units are thousandths, so that sums are exact."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from immutables import Map

from hexapod.plan.plan import Plan
from hexapod.schedule.schedule import Schedule
from hexapod.worktime.calendars import Ints

MILLI = 1000


@dataclass(frozen=True)
class Demand:
    """One entry an assignment, sorted by resource: ``first[r]`` up to ``first[r + 1]`` are resource r's."""

    resources: tuple[str, ...]
    capacity: Ints  # by resource, thousandths of a unit
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
        resources = tuple(r.id for r in plan.resources_in_order())
        index = {r: i for i, r in enumerate(resources)}
        rows = sorted((index[a.resource], schedule.slots[a.task], milli(a.units)) for a in plan.assignments.values())
        table = np.array(rows, dtype=np.int64).reshape(-1, 3)
        return Demand(
            resources,
            np.array([milli(plan.resources[r].capacity) for r in resources], dtype=np.int64),
            np.searchsorted(table[:, 0], np.arange(len(resources) + 1)),
            np.ascontiguousarray(table[:, 1]),
            np.ascontiguousarray(table[:, 2]),
            plan.assignments,
            plan.resources,
        )


def milli(units: float) -> int:
    return round(units * MILLI)
