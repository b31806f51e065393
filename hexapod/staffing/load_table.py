"""Everybody's load against capacity, period by period, grouped by role; the rows add up exactly.

Load is the integral of rate over working time, so that the pieces of any periods sum to the effort. What exceeds
capacity at any moment of a period is told beside it, so that a coarse period does not hide it.
"""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from hexapod.plan.plan import Plan
from hexapod.plan.records import Resource
from hexapod.schedule.schedule import Schedule
from hexapod.schedule.timing import Timing
from hexapod.staffing.capacity import PARTS
from hexapod.staffing.demand import Demand
from hexapod.staffing.excess import excess_by_period
from hexapod.staffing.grouping import Grouping, groups, is_seat
from hexapod.staffing.load import capacities_by_period, load_by_row
from hexapod.staffing.moved import moved
from hexapod.staffing.overloads import Overloads
from hexapod.staffing.reserved import Floats, reserved_hours
from hexapod.worktime.calendars import Ints


class LoadRow(NamedTuple):
    """A resource, or a group of them (``resource`` None), with hours by period. ``excess`` are hours beyond capacity
    at some moment; ``tasks`` counts what is worked on, ``reserved`` is what projects are promised. Open seats of a
    role are a row of their own: what it asks for nobody has yet, on tasks and (``reserved``) on projects."""

    title: str
    resource: str | None
    members: tuple[str, ...]
    load: Floats
    capacity: Floats
    excess: Floats
    tasks: Ints
    reserved: Floats
    is_seat: bool = False

    def is_over(self, period: int) -> bool:
        """Whether more is asked for than there is, at some moment or in all."""
        if self.is_seat:
            return False
        return bool(self.excess[period] > 0 or self.load[period] > self.capacity[period] + 1e-9)


@dataclass(frozen=True)
class Kept:
    """What the next table can use again where demand, calendars and periods are still the same: the capacity of each
    resource, the excess of each whose overloads are, and the load of what did not move. A row each resource, in hours;
    the load in millionths of minutes, so that what is taken off and added again is exact."""

    schedule: Schedule
    demand: Demand
    timing: Timing
    edges: Ints
    rows: Ints  # to which row each entry of the demand is added, -1 to none
    load: Ints
    tasks: Ints
    capacity: Floats
    excess: Floats
    overloads: Overloads

    def is_still_of(self, demand: Demand, timing: Timing, edges: Ints) -> bool:
        return self.demand is demand and self.timing is timing and np.array_equal(self.edges, edges)


@dataclass(frozen=True)
class LoadTable:
    """``edges`` are minutes: period i reaches from ``edges[i]`` up to ``edges[i + 1]``."""

    edges: Ints
    rows: tuple[LoadRow, ...]
    kept: Kept


def load_table(
    schedule: Schedule,
    plan: Plan,
    demand: Demand,
    overloads: Overloads,
    edges: Ints,
    projects: Collection[str] | None = None,
    folded: Collection[str] = (),
    by: Grouping = Grouping.ROLE,
    before: LoadTable | None = None,
) -> LoadTable:
    """The load of all projects, or of some of them, against the whole capacity. ``folded`` groups show no members;
    of the table of before an edit is used again what is still so."""
    index = {r: i for i, r in enumerate(demand.resources)}
    old = before.kept if before and before.kept.is_still_of(demand, schedule.network.timing, edges) else None
    rows_of = _rows_of(schedule, demand, projects)
    kept = Kept(
        schedule, demand, schedule.network.timing, edges, rows_of,
        *_loads(schedule, demand, edges, rows_of, old),
        *_against_capacity(schedule, plan, demand, overloads, edges, old), overloads,
    )  # fmt: skip
    reserved = reserved_hours(schedule, plan, edges, index, projects)
    table = Cells(kept.load / (60 * PARTS), kept.capacity, kept.excess, kept.tasks, reserved)
    rows: list[LoadRow] = []
    for title, members in groups(plan, by):
        seats = [is_seat(plan, resource) for resource in members]
        at = [index[resource.id] for resource in members]
        rows.append(table.total(title, tuple(r.id for r in members), at, np.array(seats)))
        if title not in folded:
            rows += [table.row(*what) for what in zip(members, at, seats, strict=True)]
    return LoadTable(edges, tuple(rows), kept)


@dataclass(frozen=True)
class Cells:
    """Hours and counts of all resources, a row each, by period."""

    load: Floats
    capacity: Floats
    excess: Floats
    tasks: Ints
    reserved: Floats

    def row(self, resource: Resource, i: int, seat: bool) -> LoadRow:
        who, load, tasks, reserved = (resource.id, (resource.id,)), self.load[i], self.tasks[i], self.reserved[i]
        if seat:
            none = np.zeros_like(load)
            return LoadRow(f"Open seats: {resource.name}", *who, load, none, none, tasks, reserved, True)
        return LoadRow(resource.name, *who, load, self.capacity[i], self.excess[i], tasks, reserved)

    def total(self, title: str, members: tuple[str, ...], at: list[int], seat: NDArray[np.bool_]) -> LoadRow:
        """Open seats have no capacity; beyond it is what they ask for over what all members have together."""
        capacity = self.capacity[at][~seat].sum(axis=0)
        beyond = self.excess[at]
        return LoadRow(
            title,
            None,
            members,
            self.load[at].sum(axis=0),
            capacity,
            np.maximum(beyond[~seat].sum(axis=0), beyond[seat].sum(axis=0)),
            self.tasks[at].sum(axis=0),
            self.reserved[at].sum(axis=0),
        )


def _rows_of(schedule: Schedule, demand: Demand, projects: Collection[str] | None) -> Ints:
    """Of each entry of the demand the resource to whose row it is added; -1 where it is of another project."""
    network = schedule.network
    rows = np.repeat(np.arange(len(demand.resources)), np.diff(demand.first))
    if projects is None:
        return rows
    chosen = [i for i, p in enumerate(network.projects) if p in projects]
    return np.where(np.isin(network.tasks.project[demand.task], chosen), rows, -1)


def _loads(schedule: Schedule, demand: Demand, edges: Ints, rows: Ints, old: Kept | None) -> tuple[Ints, Ints]:
    """Millionths of minutes, and how many tasks, by resource and period. Where little moved, that is taken off what was
    known, and added where it is now."""
    count = len(demand.resources)
    changed = moved(schedule, old.schedule) if old is not None and np.array_equal(old.rows, rows) else None
    if old is None or changed is None or 2 * np.count_nonzero(changed) > len(changed):
        return load_by_row(schedule, demand, edges, rows, count)
    rows = np.where(changed[demand.task], rows, -1)
    (load, tasks), (less, fewer) = (load_by_row(s, demand, edges, rows, count) for s in (schedule, old.schedule))
    return old.load + load - less, old.tasks + tasks - fewer


def _against_capacity(
    schedule: Schedule, plan: Plan, demand: Demand, overloads: Overloads, edges: Ints, old: Kept | None
) -> tuple[Floats, Floats]:
    """Capacity in hours by resource, and hours beyond it in each period that an overload touches."""
    if old is None:
        capacity = capacities_by_period(schedule, plan, demand.resources, edges) / (60 * PARTS)
        excess = np.zeros_like(capacity)
        mine = overloads.by_resource()
    else:
        capacity, excess = old.capacity, old.excess.copy()
        mine = _changed(overloads, old.overloads, excess)
    excess[sorted(mine)] = excess_by_period(schedule, demand, overloads, sorted(mine), edges) / (60 * PARTS)
    return capacity, excess


def _changed(overloads: Overloads, before: Overloads, excess: Floats) -> dict[int, slice]:
    """Where the overloads of each resource are that has others than before; the excess of these is 0 for now."""
    old, changed = before.by_resource(), {}
    for resource, where in overloads.by_resource().items():
        was = old.pop(resource, slice(0))
        if overloads.columns[:, where].tobytes() != before.columns[:, was].tobytes():
            changed[resource] = where
    excess[[*changed, *old]] = 0  # in others there are none any more
    return changed
