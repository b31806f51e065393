"""Edits of who is promised to a project, and of open seats: somebody takes one, or a part of it."""

from __future__ import annotations

from msgspec.structs import replace

from hexapod.plan.edits.edit import Edit, new_id
from hexapod.plan.plan import Draft, Plan
from hexapod.plan.records import Assignment, Reservation


def save_reservation(plan: Plan, reservation: Reservation) -> Edit:
    """Promise somebody to a project, or change the promise with its id."""
    word = "Change" if reservation.id in plan.reservations else "Reserve"
    who, project = plan.resource(reservation.resource), plan.project(reservation.project)
    return Edit(f"{word} {who.name} for “{project.name}”", lambda draft: draft.put(reservation))


def remove_reservation(plan: Plan, reservation_id: str) -> Edit:
    found = plan.reservation(reservation_id)
    who, project = plan.resource(found.resource), plan.project(found.project)
    return Edit(f"Release {who.name} from “{project.name}”", lambda draft: draft.remove("reservations", reservation_id))


def fill_seat(plan: Plan, role_id: str, taken: Assignment, rest: Assignment | None) -> Edit:
    """Somebody takes an open seat of a task; ``rest`` of it stays open."""
    present = plan.assignments.get(taken.key)

    def change(draft: Draft) -> None:
        if rest is not None:
            draft.put(rest)
        else:
            draft.remove("assignments", (taken.task, role_id))
        draft.put(taken if present is None else replace(present, units=present.units + taken.units))

    who, seat_name = plan.resource(taken.resource).name, plan.resource(role_id).name
    return Edit(f"{who} fills the seat {seat_name} of “{plan.task(taken.task).name}”", change)


def fill_project_seat(
    plan: Plan, reservation_id: str, resource_id: str, units: float, first_day: int | None = None
) -> Edit:
    """Somebody takes an open seat on a project, or a part of it, perhaps only from a day on; the rest stays open."""
    seat = plan.reservation(reservation_id)
    left = round(seat.units - units, 3)
    is_later = first_day is not None and first_day > (seat.first_day or 0)

    def change(draft: Draft) -> None:
        if left > 0:
            draft.put(replace(seat, units=left))
        else:
            draft.remove("reservations", seat.id)
        if is_later and first_day is not None:  # until then what is taken stays open
            draft.put(replace(seat, id=new_id(), units=units, last_day=first_day - 1))
        begin = first_day if is_later else seat.first_day
        draft.put(Reservation(new_id(), seat.project, resource_id, units, begin, seat.last_day))

    who, seat_name = plan.resource(resource_id).name, plan.resource(seat.resource).name
    return Edit(f"{who} fills the seat {seat_name} on “{plan.project(seat.project).name}”", change)
