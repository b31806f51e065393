"""How early a levelled plan could end at best, and why.

The longer of the critical path and, for each resource, the time that some of its work takes at full capacity, between
the earliest start of that work and the shortest way from it to the finish (the energy bound over all pairs of heads and
tails; Klein and Scholl, "Computing lower bounds by destructive improvement", 1999, section 2; for one machine it is
Carlier's preemptive bound, "The one-machine sequencing problem", 1982). A search by constraint programming may prove
more.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING

import numpy as np

from hexapod.plan.plan import Plan
from hexapod.schedule.codes import FS, NEVER
from hexapod.schedule.network import Network
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.capacity import PARTS
from hexapod.staffing.demand import Demand
from hexapod.system.compiler import njit
from hexapod.system.words import count_of
from hexapod.worktime.arithmetic import finish_side, worked_at
from hexapod.worktime.calendars import Ints

if TYPE_CHECKING:
    from hexapod.staffing.levelling.placing import Ground


class Argument(StrEnum):
    """What a bound rests on."""

    PATH = "path"
    WORK = "work"
    SEARCH = "search"


@dataclass(frozen=True)
class Bound:
    """No arrangement ends before ``at``. By ``WORK``: ``count`` tasks of a resource ask for ``work`` minutes, none can
    begin before ``begin``, and ``behind`` minutes of other work follow the last of them."""

    at: int
    by: Argument
    resource: str | None = None
    units: float = 0.0  # the most that there ever is of it
    count: int = 0
    work: float = 0.0
    begin: int = 0
    behind: int = 0


def of_path(at: int) -> Bound:
    """What the critical path alone says."""
    return Bound(at, Argument.PATH)


def by_search(at: int, known: Bound | None) -> Bound:
    """The bound that a search proved, if it is better than the known one."""
    return known if known is not None and known.at >= at else Bound(at, Argument.SEARCH)


def lower_bound(free: Schedule, demand: Demand, ground: Ground) -> Bound | None:
    """None for a plan without tasks. ``free`` is the schedule without levelling holds."""
    network = ground.rests
    if free.last_finish is None:
        return None
    best = Bound(free.last_finish, Argument.PATH)
    pool, tasks = network.timing.pool, network.tasks
    most = demand.capacity.most
    layout = ground.layout
    asking = np.repeat(np.arange(len(layout.asks_into) - 1), np.diff(layout.asks_into))
    fits = (layout.units <= most[layout.resource]) & (tasks.crew[asking] == 0) & (tasks.span[asking] == 0)
    begins = np.where(tasks.actual_start > NEVER, free.free_start, free.start)
    ends = _tails(free, network)
    for resource in dict.fromkeys(layout.resource[fits].tolist()):
        mine = np.flatnonzero(fits & (layout.resource == resource))
        slots, units, calendars = asking[mine], layout.units[mine], layout.works[mine]
        if len(set(calendars.tolist())) > 1:
            continue
        calendar = int(calendars[0])
        heads = worked_at(pool, calendar, begins[slots])
        tails = np.where(tasks.calendar[slots] == calendar, ends[slots], 0)
        work = tasks.duration[slots] * units
        length, head, tail, count, done = _energy_bound(
            heads, tails, work, int(most[resource]), np.unique(heads), np.argsort(-tails)
        )
        at = int(finish_side(pool, calendar, length))
        if at > best.at:
            begin = int(begins[slots[heads >= head]].min())
            name, there = demand.resources[resource], int(most[resource]) / PARTS
            best = Bound(at, Argument.WORK, name, there, int(count), int(done) / PARTS, begin, int(tail))
    return best


def _tails(free: Schedule, network: Network) -> Ints:
    """Working minutes that must follow each task, on its own calendar, while all that follows shares that calendar."""
    shape, tasks, n = network.structure, network.tasks, network.size
    lags = free.lag + free.kept
    return tails_of(shape.order, shape.into, shape.source, shape.kind, lags, network.arcs.lag_calendar,
                    shape.leaf, tasks.calendar, tasks.duration, n)  # fmt: skip


@njit(cache=True, nogil=True)
def tails_of(
    order: Ints,
    into: Ints,
    source: Ints,
    kinds: Ints,
    lags: Ints,
    lag_calendars: Ints,
    leaf: Ints,
    calendar: Ints,
    duration: Ints,
    n: int,
) -> Ints:
    """Along finish-to-start links between tasks of one calendar only: less than there may be, never more."""
    found = np.zeros(n, dtype=np.int64)
    for i in range(len(order) - 1, -1, -1):
        j = order[i]
        if j >= n or not leaf[j]:
            continue
        for a in range(into[j], into[j + 1]):
            s = source[a]
            is_plain = kinds[a] == FS and lags[a] >= 0 and lag_calendars[a] < 0
            if is_plain and s < n and leaf[s] and calendar[s] == calendar[j]:
                found[s] = max(found[s], lags[a] + duration[j] + found[j])
    return found


@njit(cache=True, nogil=True)
def _energy_bound(
    heads: Ints, tails: Ints, work: Ints, capacity: int, each_head: Ints, by_tail: Ints
) -> tuple[int, int, int, int, int]:
    """The largest of head + work / capacity + tail, over the work of those that begin no sooner and have no shorter
    a tail: its length, head, tail, and how many tasks with how much work it rests on."""
    best = (0, 0, 0, 0, 0)
    for head in each_head:
        total, count = 0, 0
        for i in by_tail:
            if heads[i] < head:
                continue
            total += work[i]
            count += 1
            length = head + (total + capacity - 1) // capacity + tails[i]
            if length > best[0]:
                best = (length, head, tails[i], count, total)
    return best


def argument(plan: Plan, bound: Bound, day: Callable[[int], str]) -> str:
    """A bound in a sentence; ``day`` says a moment."""
    at = f"No arrangement ends before {day(bound.at)}"
    if sum(bool(plan.children_of(p, None)) for p in plan.projects) > 1:
        at = f"No arrangement ends the last of the projects before {day(bound.at)}"
    if bound.by is Argument.PATH:
        return f"{at}: the critical path to it is as long."
    if bound.by is Argument.SEARCH:
        return f"{at}: a search through all of them ruled out every earlier finish."
    assert bound.resource is not None
    name = plan.resources[bound.resource].name
    there_is = f"{bound.units:g} × {name}" if bound.units != 1 else name
    behind = f", and {bound.behind / 60:,.4g} h of other work must follow the last of them" if bound.behind else ""
    count, ask = count_of(bound.count, "task"), "asks" if bound.count == 1 else "ask"
    tasks = f"{count} that cannot begin before {day(bound.begin)} {ask} for {bound.work / 60:,.4g} h of it"
    return f"{at}, because there is only {there_is}: {tasks}{behind}."
