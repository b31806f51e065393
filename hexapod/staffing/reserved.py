"""What is promised to projects against what is asked for in them, by resource, project and period.

A reservation is counted on the calendar of its resource's capacity, so that a month at half time is half of what there
is in it. What a project has a claim to is the larger of the two: its promise, or what its tasks ask for.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY, Reservation
from hexapod.schedule.schedule import Schedule
from hexapod.schedule.timing import resource_calendar
from hexapod.staffing.capacity import PARTS, in_parts
from hexapod.staffing.demand import Demand
from hexapod.staffing.load import add_all, add_load, load_by_row
from hexapod.worktime.calendars import Ints

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Bookings:
    """Millionths of minutes, by resource, project and period of ``edges``."""

    resources: tuple[str, ...]
    projects: tuple[str, ...]
    edges: Ints
    assigned: Ints
    reserved: Ints

    @staticmethod
    def of(
        schedule: Schedule, plan: Plan, demand: Demand, edges: Ints, only: Collection[str] | None = None
    ) -> Bookings:
        """Of all resources of a demand, or of some of them."""
        network = schedule.network
        projects = tuple(network.projects)
        resources = tuple(r for r in demand.resources if only is None or r in only)
        shape = (len(resources), len(projects), len(edges) - 1)
        first_row = {r: i * len(projects) for i, r in enumerate(resources)}
        of_resource = np.array([first_row.get(r, -1) for r in demand.resources], dtype=np.int64)
        rows = np.repeat(of_resource, np.diff(demand.first))
        rows = np.where(rows < 0, rows, rows + network.tasks.project[demand.task])
        assigned, _ = load_by_row(schedule, demand, edges, rows, shape[0] * shape[1])
        reserved = np.zeros(shape, dtype=np.int64)
        for found in plan.reservations.values():
            if found.resource in resources and not plan.projects[found.project].on_hold:
                place = resources.index(found.resource), projects.index(found.project)
                reserved[place] += reserved_by_period(schedule, plan, found, edges)
        return Bookings(resources, projects, edges, assigned.reshape(shape), reserved)

    def claimed(self, resource: str, besides: str | None = None) -> Ints:
        """What projects have a claim to of a resource; ``besides`` has none beyond what its tasks ask for."""
        r = self.resources.index(resource)
        both = np.maximum(self.assigned[r], self.reserved[r])
        if besides in self.projects:
            both[self.projects.index(besides)] = self.assigned[r, self.projects.index(besides)]
        found: Ints = both.sum(axis=0)
        return found


def bounds_of(schedule: Schedule, plan: Plan, reservation: Reservation) -> tuple[int, int]:
    """From when to when somebody is promised, in minutes."""
    project = plan.projects[reservation.project]
    first, last = reservation.first_day, reservation.last_day
    begin = schedule.project_start.get(project.id, project.start) if first is None else first * DAY
    finish = schedule.project_finish.get(project.id)
    end = (finish if finish is not None else begin) if last is None else (last + 1) * DAY
    return begin, max(begin, end)


def span_of(schedule: Schedule, plan: Plan) -> tuple[int, int]:
    """From the first project's start to the last finish, or the last minute that is promised to anybody."""
    begin = min((p.start for p in plan.projects.values()), default=0)
    promised = (r.last_day * DAY - 1 for r in plan.reservations.values() if r.last_day is not None)
    return begin, max(schedule.last_finish or begin, *promised, begin)


def reserved_by_period(schedule: Schedule, plan: Plan, reservation: Reservation, edges: Ints) -> Ints:
    """Millionths of minutes that are promised in each period."""
    network = schedule.network
    found = np.zeros(len(edges) - 1, dtype=np.int64)
    calendar = network.timing.index[(resource_calendar(plan.resources[reservation.resource]),)]
    begin, end = bounds_of(schedule, plan, reservation)
    add_load(network.timing.pool, calendar, begin, end, in_parts(reservation.units), edges, found)
    return found


def reserved_hours(
    schedule: Schedule, plan: Plan, edges: Ints, resources: Mapping[str, int], projects: Collection[str] | None = None
) -> Floats:
    """Hours that are promised to some projects or to all, a row each of some resources, by period."""
    network = schedule.network
    table = [
        (network.timing.index[(resource_calendar(plan.resources[r.resource]),)], *bounds_of(schedule, plan, r),
         in_parts(r.units), resources[r.resource])
        for r in plan.reservations.values()
        if (projects is None or r.project in projects) and not plan.projects[r.project].on_hold
    ]  # fmt: skip
    calendar, begin, end, units, row = np.array(table, dtype=np.int64).reshape(-1, 5).T.copy()
    total, counts = (np.zeros((len(resources), len(edges) - 1), dtype=np.int64) for _ in range(2))
    add_all(network.timing.pool, calendar, begin, end, units, np.arange(len(table)), row, edges, total, counts)
    return total / (60 * PARTS)
