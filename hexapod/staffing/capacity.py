"""How much there is of each resource over time. Amounts are whole millionths of a unit, so that sums are exact."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY, Resource, ResourceKind
from hexapod.schedule.codes import NEVER
from hexapod.worktime.calendars import Ints

PARTS = 1_000_000  # of a unit


@dataclass(frozen=True)
class Capacity:
    """How much there is of each resource over time, in millionths of a unit, step by step: from ``times[i]`` on it
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
        """The moments at which the capacity of some resource changes."""
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
            found[t] += in_parts(next(units for begin, units in reversed(levels) if begin <= t))
    return found


def pooled(plan: Plan, role: str) -> list[str]:
    """Who has a role of which somebody is wanted, that is, which has open seats; nobody for anything else."""
    if plan.resources[role].kind is not ResourceKind.ROLE or not plan.used_by.get(role):
        return []
    return [r.id for r in plan.resources_in_order() if r.role == role]


def in_parts(units: float) -> int:
    return round(units * PARTS)
