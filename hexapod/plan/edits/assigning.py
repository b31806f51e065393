"""Edits of resources and of who is assigned to what."""

from __future__ import annotations

from collections.abc import Iterable

from msgspec.structs import replace

from hexapod.plan.approvals import without_person
from hexapod.plan.edits.edit import Edit, saving
from hexapod.plan.plan import Draft, Plan
from hexapod.plan.records import Assignment, Resource


def save_resource(plan: Plan, resource: Resource) -> Edit:
    """Add a resource, or change the one with its id."""
    return saving(plan, resource, f"“{resource.name}”")


def remove_resource(plan: Plan, resource_id: str) -> Edit:
    """The resource goes, with its assignments and reservations; who had it as a role or a team has none then."""

    def change(draft: Draft) -> None:
        for task_id in plan.used_by.get(resource_id, ()):
            draft.remove("assignments", (task_id, resource_id))
        for reservation in plan.reservations.values():
            if reservation.resource == resource_id:
                draft.remove("reservations", reservation.id)
        for other in plan.resources.values():
            if resource_id in (other.role, other.team, *other.roles):
                draft.put(
                    replace(
                        other,
                        role=None if other.role == resource_id else other.role,
                        team=None if other.team == resource_id else other.team,
                        roles=tuple(r for r in other.roles if r != resource_id),
                    )
                )
        for project in [p for p in plan.projects.values() if p.led_by == resource_id]:
            draft.put(replace(project, led_by=None))
        for risk in [r for r in plan.risks.values() if r.owner == resource_id]:
            draft.put(replace(risk, owner=None))
        for approval in [a for a in plan.approvals.values() if resource_id in a.people]:
            draft.put(without_person(approval, resource_id))
        for route in [r for r in plan.routes.values() if resource_id in r.people]:
            draft.put(replace(route, people=tuple(p for p in route.people if p != resource_id)))
        for errand in [e for e in plan.errands.values() if e.resource == resource_id]:
            draft.remove("errands", errand.id)
        for task in [t for t in plan.tasks.values() if resource_id in t.also_told]:
            others = tuple(r for r in draft.task(task.id).also_told if r != resource_id)
            draft.put(replace(draft.task(task.id), also_told=others))
        draft.remove("resources", resource_id)

    return Edit(f"Delete “{plan.resource(resource_id).name}”", change)


def set_assignments(plan: Plan, task_id: str, assignments: Iterable[Assignment]) -> Edit:
    """Who works on a task becomes exactly this."""
    wanted = {a.key: a for a in assignments}

    def change(draft: Draft) -> None:
        for resource_id in list(draft.assigned(task_id)):
            if (task_id, resource_id) not in wanted:
                draft.remove("assignments", (task_id, resource_id))
        for assignment in wanted.values():
            draft.put(assignment)

    return Edit(f"Assign “{plan.task(task_id).name}”", change)


def assign(plan: Plan, task_ids: Iterable[str], resource_id: str, units: float = 1.0) -> Edit:
    """A resource joins tasks, beside whoever is there."""
    tasks = list(task_ids)

    def change(draft: Draft) -> None:
        for task_id in tasks:
            draft.put(Assignment(task_id, resource_id, units))

    what = f"“{plan.task(tasks[0]).name}”" if len(tasks) == 1 else f"{len(tasks)} tasks"
    return Edit(f"Assign {plan.resource(resource_id).name} to {what}", change)


def unassign(plan: Plan, task_id: str, resource_id: str) -> Edit:
    """A resource leaves a task."""
    words = f"Take {plan.resource(resource_id).name} off “{plan.task(task_id).name}”"
    return Edit(words, lambda draft: draft.remove("assignments", (task_id, resource_id)))


def hand_over(plan: Plan, task_id: str, before: str | None, after: str) -> Edit:
    """Somebody does what somebody else did, or what nobody was named for (``before`` None).

    With ``before`` None an open seat of a role that they have or can act in is theirs; otherwise they join.
    """
    who, task = plan.resource(after), plan.task(task_id)
    if before is None:
        fitting = [r for r in plan.assigned.get(task_id, ()) if r in (who.role, *who.roles)]
        before = fitting[0] if fitting else None
    share = plan.assignments[(task_id, before)] if before is not None else Assignment(task_id, after)
    present = plan.assignments.get((task_id, after))

    def change(draft: Draft) -> None:
        if before is not None:
            draft.remove("assignments", (task_id, before))
        taken = replace(share, resource=after)
        draft.put(taken if present is None else replace(present, units=present.units + taken.units))

    return Edit(f"{who.name} does “{task.name}”", change)
