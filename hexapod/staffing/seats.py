"""Open seats: a role is wanted, on a task or on a project, and nobody does it yet; and who could fill one."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from msgspec.structs import replace

from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY, Assignment, Reservation, Resource, ResourceKind
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.capacity import PARTS
from hexapod.staffing.demand import Demand
from hexapod.staffing.load import capacity_by_period, shares_in
from hexapod.staffing.reserved import Bookings, bounds_of, reserved_by_period

FINEST, MOST_PERIODS = 1440, 400  # minutes of a period in which time is looked for, and how many of them at most
SeatKey = tuple[str, str]


@dataclass(frozen=True)
class Seat:
    """A role that is wanted on a task, or (``task`` None) on a project, ``units`` of it; ``minutes`` is the work from
    ``begin`` to ``end``. ``key`` names the assignment, or for a project its reservation."""

    key: SeatKey
    task: str | None
    project: str
    role: str
    units: float
    begin: int
    end: int
    minutes: float


@dataclass(frozen=True)
class Sitter:
    """Who could fill a seat: 0 has the role, 1 can act in it. ``free`` minutes just then, ``over`` what would be too
    much of the seat's work, ``beside`` what else they do then, the most of it first, ``promised`` the projects that
    they are reserved for then."""

    resource: str
    rank: int
    free: float
    over: float
    beside: tuple[str, ...]
    promised: tuple[str, ...] = ()


def seats(schedule: Schedule, plan: Plan) -> list[Seat]:
    """Every open seat, by when it begins."""
    wanted = {r.role for r in plan.resources.values()}
    roles = [r.id for r in plan.resources.values() if r.kind is ResourceKind.ROLE and r.id in wanted]
    found = []
    for role in roles:
        tasks = (t for t in plan.used_by.get(role, ()) if not plan.is_summary(t))
        found += [seat_of(schedule, plan, (task, role)) for task in tasks]
    promised = [r for r in plan.reservations.values() if r.resource in roles]
    found += [seat_of(schedule, plan, ("", r.id)) for r in promised]
    return sorted(found, key=lambda seat: (seat.begin, seat.key))


def is_open(plan: Plan, key: SeatKey) -> bool:
    """Whether a seat is still there."""
    return key in plan.assignments if key[0] else key[1] in plan.reservations


def seat_of(schedule: Schedule, plan: Plan, key: SeatKey) -> Seat:
    if not key[0]:
        return _project_seat(schedule, plan, plan.reservations[key[1]])
    assignment, task = plan.assignments[key], plan.tasks[key[0]]
    dates = schedule.dates(task.id)
    demand = Demand.of_assignments(schedule, plan, [assignment])
    runs = demand.runs(schedule, np.arange(1))
    begin = int(runs.start.min()) if len(runs.start) else dates.start
    end = int(runs.finish.max()) if len(runs.finish) else dates.finish
    minutes = minutes_of(schedule, plan, assignment, begin, end)
    return Seat(key, task.id, task.project, assignment.resource, assignment.units, begin, end, minutes)


def minutes_of(
    schedule: Schedule, plan: Plan, assignment: Assignment, begin: int | None = None, end: int | None = None
) -> float:
    """The work of one assignment, all of it or what lies between two moments."""
    dates = schedule.dates(assignment.task)
    begin, end = dates.start if begin is None else begin, dates.finish if end is None else end
    shares = shares_in(schedule, plan, assignment.resource, begin, end)
    return next((s.minutes for s in shares if s.task == assignment.task), 0.0)


def _project_seat(schedule: Schedule, plan: Plan, reservation: Reservation) -> Seat:
    begin, end = bounds_of(schedule, plan, reservation)
    minutes = int(reserved_by_period(schedule, plan, reservation, np.array([begin, end]))[0]) / PARTS
    key = ("", reservation.id)
    return Seat(key, None, reservation.project, reservation.resource, reservation.units, begin, end, minutes)


def sitters(schedule: Schedule, plan: Plan, seat: Seat, units: float, begin: int | None = None) -> list[Sitter]:
    """Who could take ``units`` of a seat from ``begin`` on: those who would not be overloaded first, then those with
    the role, then who is the freest in just those dates. What other projects are promised is not free."""
    begin = seat.begin if begin is None else max(seat.begin, begin)
    if begin >= seat.end:
        return []
    edges = _edges(begin, seat.end)
    wanted = seat.minutes * units / seat.units * _part(schedule, plan, seat, begin)
    people = [
        r
        for r in plan.resources_in_order()
        if r.kind is not ResourceKind.ROLE and (r.role == seat.role or seat.role in r.roles)
    ]
    mine = [a for a in plan.assignments.values() if a.resource in {p.id for p in people}]
    bookings = Bookings.of(schedule, plan, Demand.of_assignments(schedule, plan, mine), edges) if mine else None
    found = [_sitter(schedule, plan, seat, other, edges, wanted, bookings) for other in people]
    return sorted(found, key=lambda s: (s.over > 0, s.rank, s.over, -s.free, s.resource))


def _sitter(
    schedule: Schedule,
    plan: Plan,
    seat: Seat,
    other: Resource,
    edges: np.ndarray,
    wanted: float,
    bookings: Bookings | None,
) -> Sitter:
    """What there is to say of one of them over the periods of ``edges``."""
    begin, end = int(edges[0]), int(edges[-1])
    capacity = capacity_by_period(schedule, plan, other.id, edges)
    if bookings is not None and other.id in bookings.resources:
        taken = bookings.claimed(other.id, besides=seat.project)
    else:
        taken = _promised_elsewhere(schedule, plan, other.id, seat.project, edges)
    free = float(np.maximum(0, capacity - taken).sum()) / PARTS
    beside = tuple(s.task for s in shares_in(schedule, plan, other.id, begin, end)[:3])
    span = np.array([begin, end])
    mine = (r for r in plan.reservations.values() if r.resource == other.id)
    promised = dict.fromkeys(r.project for r in mine if reserved_by_period(schedule, plan, r, span)[0])
    rank = 0 if other.role == seat.role else 1
    return Sitter(other.id, rank, free, max(0.0, wanted - free), beside, tuple(promised))


def _promised_elsewhere(schedule: Schedule, plan: Plan, resource: str, project: str, edges: np.ndarray) -> np.ndarray:
    found = np.zeros(len(edges) - 1, dtype=np.int64)
    for reservation in plan.reservations.values():
        if reservation.resource == resource and reservation.project != project:
            found += reserved_by_period(schedule, plan, reservation, edges)
    return found


def _edges(begin: int, end: int) -> np.ndarray:
    """Days, or longer periods where there would be too many."""
    step = max(FINEST, -(-(end - begin) // MOST_PERIODS // FINEST) * FINEST)
    return np.unique(np.append(np.arange(begin, end, step), end))


def _part(schedule: Schedule, plan: Plan, seat: Seat, begin: int) -> float:
    """How much of a seat's work lies after a moment."""
    if begin <= seat.begin or not seat.minutes:
        return 1.0
    if seat.task is None:
        reservation = plan.reservations[seat.key[1]]
        later = int(reserved_by_period(schedule, plan, reservation, np.array([begin, seat.end]))[0]) / PARTS
    else:
        later = minutes_of(schedule, plan, plan.assignments[seat.key], begin, seat.end)
    return later / seat.minutes


def split(
    schedule: Schedule, plan: Plan, seat: Seat, resource: str, units: float, begin: int | None = None
) -> tuple[Assignment, Assignment | None]:
    """Who takes an open seat of a task, or a part of it, perhaps only from a day on, and what of it stays open.

    Where both less and later is taken, what stays open is said in hours in all, so that no work is lost.
    """
    assert seat.task is not None
    open_seat = plan.assignments[seat.key]
    is_later = begin is not None and begin > seat.begin
    first = begin // DAY if is_later and begin is not None else open_seat.first_day
    taken = replace(open_seat, resource=resource, units=units, first_day=first)
    if open_seat.total is not None or open_seat.hours_a_day is not None:
        share = units / seat.units
        taken = replace(taken, units=1.0, hours_a_day=_times(open_seat.hours_a_day, share),
                        total=None if open_seat.total is None else max(1, round(open_seat.total * share)))  # fmt: skip
    is_part = units < seat.units - 0.0005
    if not is_part and not is_later:
        return taken, None
    if is_part and is_later:
        assert begin is not None
        rest = seat.minutes * (1 - units / seat.units * _part(schedule, plan, seat, begin))
        return taken, replace(open_seat, units=1.0, hours_a_day=None, total=max(1, round(rest)))
    if is_later:
        assert first is not None
        return taken, replace(open_seat, last_day=first - 1)
    left = 1 - units / seat.units
    if open_seat.total is not None:
        return taken, replace(open_seat, total=max(1, open_seat.total - (taken.total or 0)))
    if open_seat.hours_a_day is not None:
        return taken, replace(open_seat, hours_a_day=_times(open_seat.hours_a_day, left))
    return taken, replace(open_seat, units=round(seat.units - units, 3))


def _times(amount: float | None, factor: float) -> float | None:
    return None if amount is None else round(amount * factor, 4)
