"""Assignments as arrays, ready for the kernels. Rates are whole millionths of a unit, so that sums are exact."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, fields

import numpy as np
from immutables import Map
from numpy.typing import NDArray

from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY, Assignment, Curve, ResourceKind
from hexapod.schedule.arrays import Slots
from hexapod.schedule.codes import DONE, FOREVER, NEVER, NOT_BEGUN
from hexapod.schedule.effort import rate_of
from hexapod.schedule.schedule import Schedule
from hexapod.schedule.timing import assignment_set, own_calendar
from hexapod.staffing.capacity import PARTS, Capacity, in_parts, pooled
from hexapod.worktime.calendars import CalendarPool, Ints

CURVES = tuple(Curve)
# By tenths of the working time (common practice: the rate rises or falls by as much from each to the next).
_FALLING = tuple(1.9 - 0.2 * k for k in range(10))
_RISING_AND_FALLING = (0.2, 0.6, 1.0, 1.4, 1.8, 1.8, 1.4, 1.0, 0.6, 0.2)
WEIGHTS = {
    Curve.FLAT: (1.0,),
    Curve.FRONT: _FALLING,
    Curve.BACK: _FALLING[::-1],
    Curve.CENTRE: _RISING_AND_FALLING,
}


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
    units: Ints  # 0 where a total says it
    total: Ints  # minutes of work; 0 where units say it
    begin: Ints  # not before; NEVER
    end: Ints  # not after; FOREVER
    curve: Ints  # index in CURVES
    who: Ints  # the resource that does it
    own: Ints  # 0 where it is a member's, counted for the role
    assignments: Map  # type: ignore[type-arg]  # what it was made of
    pool_of_resources: Map  # type: ignore[type-arg]
    has_hours_a_day: bool  # which depend on calendars too
    slots: Slots
    held: frozenset[str]  # projects on hold, which ask for nobody

    @staticmethod
    def of(schedule: Schedule, plan: Plan, before: Demand | None = None) -> Demand:
        """The demand of a plan; ``before`` is used again if nothing in it changed."""
        if before is not None and before.is_still_of(schedule, plan):
            return before
        resources = tuple(r.id for r in plan.resources_in_order() if r.kind is not ResourceKind.MATERIAL)
        role_of = {m: r for r in resources for m in pooled(plan, r)}
        return _made(schedule, plan, resources, list(plan.assignments.values()), role_of)

    @staticmethod
    def of_assignments(schedule: Schedule, plan: Plan, assignments: Iterable[Assignment]) -> Demand:
        """The demand of some assignments only, each for its own resource."""
        chosen = list(assignments)
        return _made(schedule, plan, tuple(sorted({a.resource for a in chosen})), chosen, {})

    @staticmethod
    def of_resources(schedule: Schedule, plan: Plan, resources: Collection[str], known: Demand | None = None) -> Demand:
        """The demand for some resources, or that of all where it is ``known``."""
        if known is not None and known.is_still_of(schedule, plan) and set(resources) <= set(known.resources):
            return known
        mine = [plan.assignments[(t, r)] for r in resources for t in plan.used_by.get(r, ())]
        return Demand.of_assignments(schedule, plan, mine)

    def is_still_of(self, schedule: Schedule, plan: Plan) -> bool:
        """Whether a plan makes the same demand of the same slots. Hours a day depend on calendars: with
        them it counts as another."""
        same = (
            self.assignments is plan.assignments
            and self.pool_of_resources is plan.resources
            and self.held == _on_hold(plan)
            and schedule.network.slots.continues(self.slots)
        )
        return same and not self.has_hours_a_day

    def of_resource(self, resource: int) -> Ints:
        """The entries that ask for a resource."""
        return np.arange(self.first[resource], self.first[resource + 1])

    def runs(self, schedule: Schedule, rows: Ints) -> Runs:
        """When the work of some entries that are on leaves is done, and at what rate; a curve has several runs."""
        calendar, start, finish = _whole_runs(schedule, self.task[rows], self.resources, self.who[rows])
        start, finish = np.maximum(start, self.begin[rows]), np.minimum(finish, self.end[rows])
        units = self.units[rows].copy()
        pool = schedule.network.timing.pool
        done = np.zeros(len(rows))
        parted = np.flatnonzero((self.total[rows] > 0) | (self.curve[rows] > 0))
        done[parted] = _done_parts(schedule, self.task[rows[parted]])
        for i in np.flatnonzero((self.total[rows] > 0) & (start < finish)).tolist():
            time = int(worked_between(pool, calendar[i], start[i], finish[i]))
            units[i] = round(int(self.total[rows[i]]) * (1 - done[i]) * PARTS / time) if time else 0
        found = Runs(np.arange(len(rows)), calendar, start, finish, units)
        return _curved(pool, found, self.curve[rows], done) if self.curve[rows].any() else found


def _on_hold(plan: Plan) -> frozenset[str]:
    return frozenset(p.id for p in plan.projects.values() if p.on_hold)


@dataclass(frozen=True)
class Runs:
    """When assignments are worked: at least one entry each, ``row`` says of which. Several in one crew end on calendars
    of their own. ``units`` are millionths of a unit."""

    row: Ints
    calendar: Ints
    start: Ints
    finish: Ints
    units: Ints

    def kept(self, keep: NDArray[np.bool_]) -> Runs:
        return Runs(*(getattr(self, f.name)[keep] for f in fields(self)))


def _made(
    schedule: Schedule,
    plan: Plan,
    resources: tuple[str, ...],
    assignments: Collection[Assignment],
    role_of: Mapping[str, str],
) -> Demand:
    index = {r: i for i, r in enumerate(resources)}
    rows = []
    held = _on_hold(plan)
    for a in assignments:
        if a.resource in index and not (held and plan.tasks[a.task].project in held):
            what = (*_entry(plan, schedule, a), index[a.resource])
            rows.append((index[a.resource], *what, 1))
            if a.resource in role_of:
                rows.append((index[role_of[a.resource]], *what, 0))
    table = np.array(sorted(rows), dtype=np.int64).reshape(-1, 9)
    task, units, total, begin, end, curve, who, own = (np.ascontiguousarray(table[:, i]) for i in range(1, 9))
    first = np.searchsorted(table[:, 0], np.arange(len(resources) + 1))
    return Demand(
        resources, Capacity.of(plan, resources), first, task, units, total, begin, end, curve, who, own,
        plan.assignments, plan.resources, any(a.hours_a_day is not None for a in assignments),
        schedule.network.slots, held,
    )  # fmt: skip


def _entry(plan: Plan, schedule: Schedule, a: Assignment) -> tuple[int, int, int, int, int, int]:
    """Slot, units, total, begin, end and curve of an assignment."""
    begin = NEVER if a.first_day is None else a.first_day * DAY
    end = FOREVER if a.last_day is None else (a.last_day + 1) * DAY
    total = 0 if a.total is None else a.total
    units = 0 if total else in_parts(rate_of(plan, a))
    return schedule.slots[a.task], units, total, begin, end, CURVES.index(a.curve)


def _curved(pool: CalendarPool, runs: Runs, curve: Ints, done: NDArray[np.float64]) -> Runs:
    """Each run with a curve in ten pieces of as much time, at rates that follow the curve. Of begun work the run is
    its rest: what follows the ``done`` part of the curve."""
    from hexapod.worktime.arithmetic import finish_side, start_side, worked

    pieces = []
    for i in range(len(curve)):
        c, start, finish, units = (int(getattr(runs, n)[i]) for n in ("calendar", "start", "finish", "units"))
        weights = WEIGHTS[CURVES[curve[i]]]
        if len(weights) == 1 or start >= finish:
            pieces.append((i, c, start, finish, units))
            continue
        first, last = int(worked(pool, c, start)), int(worked(pool, c, finish))
        whole = round((last - first) / (1 - done[i]))  # as long as all of it takes
        edges = [whole * k // len(weights) for k in range(len(weights) + 1)]
        cuts = [first + max(0, edge - whole + last - first) for edge in edges]
        share = 0.0  # of the work; what falls on no whole minute goes to the next piece
        for k, weight in enumerate(weights):
            length, planned = cuts[k + 1] - cuts[k], edges[k + 1] - edges[k]
            if planned and not length:
                continue  # it is done
            share += weight / len(weights) * (length / planned if planned else 1.0)
            if not length:
                continue
            rate, share = round(units * whole * share / length), 0.0
            begin, end = int(start_side(pool, c, cuts[k])), int(finish_side(pool, c, cuts[k + 1]))
            pieces.append((i, c, max(begin, start), end, rate))
    table = np.array(pieces, dtype=np.int64).reshape(-1, 5)
    return Runs(*(np.ascontiguousarray(table[:, i]) for i in range(5)))


def worked_between(pool: CalendarPool, calendar: int, start: int, finish: int) -> int:
    from hexapod.worktime.arithmetic import worked

    return int(worked(pool, calendar, finish) - worked(pool, calendar, start))


def _done_parts(schedule: Schedule, slots: Ints) -> NDArray[np.float64]:
    """How much of begun work is behind its rest, from 0 to less than 1; 0 of what is not begun."""
    tasks = schedule.network.tasks
    duration, rest = tasks.duration[slots], tasks.rest[slots]
    is_begun = (tasks.actual_start[slots] > NEVER) & (rest > 0) & (rest < duration)
    found: NDArray[np.float64] = np.where(is_begun, 1.0 - rest / np.maximum(duration, 1), 0.0)
    return found


def _whole_runs(schedule: Schedule, slots: Ints, resources: Sequence[str], who: Ints) -> tuple[Ints, Ints, Ints]:
    """Calendar, start and finish of assignments given by their tasks' slots, and which of the resources does each.

    Of begun work it is the rest, and of what is done nothing.
    """
    network = schedule.network
    tasks = network.tasks
    calendar, start, finish = tasks.calendar[slots], schedule.start[slots], schedule.finish[slots]
    is_told = (tasks.progress[slots] != NOT_BEGUN) & (network.structure.leaf[slots] == 1)
    start = np.where(is_told, schedule.free_start[slots], start)
    start = np.where(is_told & (tasks.progress[slots] == DONE), finish, start)
    crewed = np.flatnonzero((network.tasks.crew[slots] > 0) & (network.structure.leaf[slots] == 1))
    if len(crewed):
        from hexapod.worktime.arithmetic import finish_side, worked

        plan, timing = network.plan, network.timing
        for i in crewed:
            own = own_calendar(plan, plan.tasks[network.slots.tasks[slots[i]]])
            calendar[i] = timing.index[assignment_set(own, plan.resources[resources[who[i]]])]
            length = tasks.duration[slots[i]] if tasks.progress[slots[i]] == NOT_BEGUN else tasks.rest[slots[i]]
            work = worked(timing.pool, calendar[i], start[i]) + length
            finish[i] = min(finish[i], finish_side(timing.pool, calendar[i], work))
    return calendar, start, finish
