"""Whom of a role to name for an open seat: somebody who is free for all of it, so that no date moves.

Levelling makes room for open seats out of what all of a role have together; this says who it is. Seats are filled in
the order of time, each by somebody of the role before somebody who can act in it, the one with the least other time
left first, so that who is freer stays free for longer work (best fit, common practice).
"""

from __future__ import annotations

from collections.abc import Callable, Collection
from dataclasses import dataclass

from hexapod.plan import edits
from hexapod.plan.changes import diff
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Plan
from hexapod.schedule.engine import reschedule
from hexapod.schedule.schedule import Schedule
from hexapod.schedule.shift import shift
from hexapod.staffing.guard import breaches
from hexapod.staffing.seats import Seat, seats, sitters, split

MOST_SEATS, MOST_TRIED = 40, 6


@dataclass(frozen=True)
class Choice:
    """Who fills the seat of a role on a task; ``resource`` None where nobody is free for all of it."""

    task: str
    role: str
    resource: str | None


def choose(
    now: Schedule, projects: Collection[str] | None = None, is_stopped: Callable[[], bool] = lambda: False
) -> tuple[Choice, ...]:
    """Somebody for each open seat on a task that is still to come, in all projects or some: nobody has more too much,
    and no date moves."""
    found: list[Choice] = []
    wanted = [s for s in seats(now, now.network.plan) if s.task and (projects is None or s.project in projects)]
    for seat in wanted[:MOST_SEATS]:
        if is_stopped():
            break
        plan = now.network.plan
        assert seat.task is not None
        if plan.tasks[seat.task].is_done:
            continue
        resource, now = _best(now, plan, seat)
        found.append(Choice(seat.task, seat.role, resource))
    return tuple(found)


def _best(now: Schedule, plan: Plan, seat: Seat) -> tuple[str | None, Schedule]:
    """Who fills the seat, and the dates then; None and the old dates if nobody can."""
    able = [s for s in sitters(now, plan, seat, seat.units) if s.over <= 0]
    for sitter in sorted(able, key=lambda s: (s.rank, s.free, s.resource))[:MOST_TRIED]:
        after_plan = _filled(now, plan, seat, sitter.resource).applied_to(plan)
        after = reschedule(now, after_plan, diff(plan, after_plan))
        if not len(shift(now, after).slots) and not breaches(now, after):
            return sitter.resource, after
    return None, now


def _filled(now: Schedule, plan: Plan, seat: Seat, resource: str) -> Edit:
    taken, rest = split(now, plan, seat, resource, seat.units)
    return edits.fill_seat(plan, seat.role, taken, rest)


def fill(now: Schedule, choices: tuple[Choice, ...]) -> Edit | None:
    """One edit that fills all seats; None if there is nobody. ``now`` are the dates with the seats still open."""
    plan = now.network.plan
    named = [c for c in choices if c.resource is not None and (c.task, c.role) in plan.assignments]
    open_seats = {s.key: s for s in seats(now, plan)}
    steps = [_filled(now, plan, open_seats[(c.task, c.role)], c.resource or "") for c in named]
    return edits.together("Fill the open seats", steps) if steps else None
