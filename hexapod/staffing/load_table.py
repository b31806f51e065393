"""Everybody's load against capacity, period by period, grouped by role; the rows add up exactly.

Load is the integral of rate over working time, so that the pieces of any periods sum to the effort. What exceeds
capacity at any moment of a period is told beside it, so that a coarse period does not hide it.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from hexapod.plan.plan import Plan
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.capacity import PARTS
from hexapod.staffing.demand import Demand
from hexapod.staffing.grouping import Grouping, groups, is_seat
from hexapod.staffing.load import capacity_by_period, load_by_row
from hexapod.staffing.overloads import Overload, excess_in
from hexapod.staffing.reserved import reserved_hours
from hexapod.worktime.calendars import Ints

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class LoadRow:
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
    by: Grouping = Grouping.ROLE,
) -> LoadTable:
    """The load of all projects, or of some of them, against the whole capacity. ``folded`` groups show no members."""
    loads, counts = _loads(schedule, demand, edges, projects)
    excess = _excess(schedule, demand, overloads, edges)
    index = {r: i for i, r in enumerate(demand.resources)}
    rows: list[LoadRow] = []
    reserved = reserved_hours(schedule, plan, edges, projects)
    none = np.zeros(len(edges) - 1)
    for title, members in groups(plan, by):
        mine, beyond = [], none
        for resource in members:
            i = index[resource.id]
            load, promised = loads[i] / (60 * PARTS), reserved.get(resource.id, none)
            who = (resource.id, (resource.id,))
            if is_seat(plan, resource):
                beyond = beyond + excess[i]
                mine.append(LoadRow(f"Open seats: {resource.name}", *who, load, none, none, counts[i], promised, True))
                continue
            capacity = capacity_by_period(schedule, plan, resource.id, edges) / (60 * PARTS)
            mine.append(LoadRow(resource.name, *who, load, capacity, excess[i], counts[i], promised))
        rows.append(_total(title, mine, beyond))
        if title not in folded:
            rows += mine
    return LoadTable(edges, tuple(rows))


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
        summed(lambda m: m.reserved),
    )


def _loads(schedule: Schedule, demand: Demand, edges: Ints, projects: Collection[str] | None) -> tuple[Ints, Ints]:
    """Millionths of minutes, and how many tasks, by resource and period."""
    network = schedule.network
    assert network is not None
    rows = np.repeat(np.arange(len(demand.resources)), np.diff(demand.first))
    if projects is not None:
        chosen = [i for i, p in enumerate(network.projects) if p in projects]
        rows = np.where(np.isin(network.tasks.project[demand.task], chosen), rows, -1)
    return load_by_row(schedule, demand, edges, rows, len(demand.resources))


def _excess(schedule: Schedule, demand: Demand, overloads: Sequence[Overload], edges: Ints) -> Floats:
    """Hours beyond capacity in each period that an overload touches."""
    index = {r: i for i, r in enumerate(demand.resources)}
    found = np.zeros((len(demand.resources), len(edges) - 1))
    touched: dict[int, set[int]] = {}
    for over in overloads:
        first = max(int(np.searchsorted(edges, over.begin, side="right")) - 1, 0)
        last = int(np.searchsorted(edges, over.end, side="left"))
        touched.setdefault(index[over.resource], set()).update(range(first, min(last, len(edges) - 1)))
    for resource, periods in touched.items():
        chosen = np.array(sorted(periods), dtype=np.int64)
        found[resource, chosen] = excess_in(schedule, demand, resource, edges, chosen) / (60 * PARTS)
    return found
