"""Everybody's load against capacity, period by period, grouped by role; the rows add up exactly.

Load is the integral of rate over working time, so that the pieces of any periods sum to the effort. What exceeds
capacity at any moment of a period is told beside it, so that a coarse period does not hide it.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass

import numpy as np
from numba import njit
from numpy.typing import NDArray

from hexapod.plan.plan import Plan
from hexapod.plan.records import Resource, ResourceKind
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.capacity import PARTS, pooled
from hexapod.staffing.demand import Demand
from hexapod.staffing.load import capacity_by_period
from hexapod.staffing.overloads import Overload, excess_within
from hexapod.worktime.arithmetic import worked
from hexapod.worktime.calendars import CalendarPool, Ints

Floats = NDArray[np.float64]
PLURALS = {
    ResourceKind.PERSON: "People",
    ResourceKind.TEAM: "Teams",
    ResourceKind.ROLE: "Roles",
    ResourceKind.EQUIPMENT: "Equipment",
    ResourceKind.PLACE: "Places",
}


@dataclass(frozen=True)
class LoadRow:
    """A resource, or a group of them (``resource`` None), with hours by period. ``excess`` are hours beyond capacity
    at some moment; ``tasks`` counts what is worked on. Open seats of a role are a row of their own: what it asks for
    nobody has yet."""

    title: str
    resource: str | None
    members: tuple[str, ...]
    load: Floats
    capacity: Floats
    excess: Floats
    tasks: Ints
    is_seat: bool = False

    def is_over(self, period: int) -> bool:
        """Whether more is asked for than there is, at some moment or in all."""
        if self.is_seat:
            return False
        return bool(self.excess[period] > 0 or self.load[period] > self.capacity[period] + 1e-9)


@dataclass(frozen=True)
class LoadTable:
    """``edges`` are minutes: period i reaches from ``edges[i]`` up to ``edges[i + 1]``."""

    edges: Ints
    rows: tuple[LoadRow, ...]


def load_table(
    schedule: Schedule,
    plan: Plan,
    demand: Demand,
    overloads: Sequence[Overload],
    edges: Ints,
    projects: Collection[str] | None = None,
    folded: Collection[str] = (),
) -> LoadTable:
    """The load of all projects, or of some of them, against the whole capacity. ``folded`` groups show no members."""
    loads, counts = _loads(schedule, plan, demand, edges, projects)
    excess = _excess(schedule, demand, overloads, edges)
    index = {r: i for i, r in enumerate(demand.resources)}
    rows: list[LoadRow] = []
    for title, members in groups(plan):
        mine, beyond = [], np.zeros(len(edges) - 1)
        for resource in members:
            i = index[resource.id]
            load, is_seat = loads[i] / (60 * PARTS), bool(pooled(plan, resource.id))
            if is_seat:
                beyond = beyond + excess[i]
                none = np.zeros(len(edges) - 1)
                title_of = f"Open seats: {resource.name}"
                mine.append(LoadRow(title_of, resource.id, (resource.id,), load, none, none, counts[i], True))
                continue
            capacity = capacity_by_period(schedule, plan, resource.id, edges) / (60 * PARTS)
            mine.append(LoadRow(resource.name, resource.id, (resource.id,), load, capacity, excess[i], counts[i]))
        rows.append(_total(title, mine, beyond))
        if title not in folded:
            rows += mine
    return LoadTable(edges, tuple(rows))


def groups(plan: Plan) -> list[tuple[str, list[Resource]]]:
    """Resources by role, or by what they are listed under, or by what they are; the roles first."""
    in_order = plan.resources_in_order()
    found: dict[str, list[Resource]] = {r.name: [] for r in in_order if r.kind is ResourceKind.ROLE}
    for resource in in_order:
        is_unused_role = resource.kind is ResourceKind.ROLE and not plan.used_by.get(resource.id)
        if resource.kind is ResourceKind.MATERIAL or is_unused_role:
            continue
        role = plan.resources.get(resource.role or "")
        if resource.kind is ResourceKind.ROLE:
            title = resource.name
        else:
            title = role.name if role is not None else resource.section or PLURALS[resource.kind]
        found.setdefault(title, []).append(resource)
    return [(title, members) for title, members in found.items() if members]


def _total(title: str, members: list[LoadRow], beyond: Floats) -> LoadRow:
    """``beyond`` is what the open seats ask for over what all members have together."""

    def summed(of: Callable[[LoadRow], Floats]) -> Floats:
        return np.sum([of(m) for m in members], axis=0)

    return LoadRow(
        title,
        None,
        tuple(r for m in members for r in m.members),
        summed(lambda m: m.load),
        summed(lambda m: m.capacity),
        np.maximum(summed(lambda m: m.excess), beyond),
        np.sum([m.tasks for m in members], axis=0),
    )


def _loads(
    schedule: Schedule, plan: Plan, demand: Demand, edges: Ints, projects: Collection[str] | None
) -> tuple[Ints, Ints]:
    """Millionths of minutes, and how many tasks, by resource and period."""
    network = schedule.network
    assert network is not None
    count = len(demand.resources)
    row = np.repeat(np.arange(count), np.diff(demand.first))
    keep = (network.structure.leaf[demand.task] == 1) & (demand.own == 1)
    if projects is not None:
        chosen = [i for i, p in enumerate(network.projects) if p in projects]
        keep &= np.isin(network.tasks.project[demand.task], chosen)
    runs = demand.runs(schedule, np.flatnonzero(keep))
    row = row[keep][runs.row]
    total, counts = (np.zeros((count, len(edges) - 1), dtype=np.int64) for _ in range(2))
    _add_all(
        network.timing.pool, runs.calendar, runs.start, runs.finish, runs.units, runs.row, row, edges, total, counts
    )
    return total, counts


@njit(cache=True, nogil=True)
def _add_all(
    pool: CalendarPool,
    calendar: Ints,
    start: Ints,
    finish: Ints,
    units: Ints,
    entry: Ints,
    row: Ints,
    edges: Ints,
    total: Ints,
    counts: Ints,
) -> None:
    counted = np.full(total.shape, -1, dtype=np.int64)
    for i in range(len(start)):
        first = max(int(np.searchsorted(edges, start[i], side="right")) - 1, 0)
        for p in range(first, len(edges) - 1):
            if edges[p] >= finish[i]:
                break
            begin, end = max(edges[p], start[i]), min(edges[p + 1], finish[i])
            if begin < end:
                work = worked(pool, calendar[i], end) - worked(pool, calendar[i], begin)
                total[row[i], p] += units[i] * work
                if work > 0 and counted[row[i], p] != entry[i]:
                    counts[row[i], p] += 1
                    counted[row[i], p] = entry[i]


def _excess(schedule: Schedule, demand: Demand, overloads: Sequence[Overload], edges: Ints) -> Floats:
    """Hours beyond capacity in each period that an overload touches."""
    index = {r: i for i, r in enumerate(demand.resources)}
    found = np.zeros((len(demand.resources), len(edges) - 1))
    touched = set()
    for over in overloads:
        first = max(int(np.searchsorted(edges, over.begin, side="right")) - 1, 0)
        last = int(np.searchsorted(edges, over.end, side="left"))
        touched |= {(over.resource, p) for p in range(first, min(last, len(edges) - 1))}
    for resource, p in touched:
        excess = excess_within(schedule, demand, resource, int(edges[p]), int(edges[p + 1]))
        found[index[resource], p] = excess / 60
    return found
