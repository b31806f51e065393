"""What resources are listed under: their role, their team or their section."""

from __future__ import annotations

from enum import StrEnum

from hexapod.plan.plan import Plan
from hexapod.plan.records import Resource, ResourceKind
from hexapod.staffing.capacity import pooled

PLURALS = {
    ResourceKind.PERSON: "People",
    ResourceKind.TEAM: "Teams",
    ResourceKind.ROLE: "Roles",
    ResourceKind.EQUIPMENT: "Equipment",
    ResourceKind.PLACE: "Places",
}


class Grouping(StrEnum):
    """What resources are listed under."""

    ROLE = "role"
    TEAM = "team"
    SECTION = "section"


def groups(plan: Plan, by: Grouping = Grouping.ROLE) -> list[tuple[str, list[Resource]]]:
    """Resources by role (or else by what they are listed under, or what they are; the roles first), by team or by
    section."""
    in_order = plan.resources_in_order()
    found: dict[str, list[Resource]] = {}
    if by is Grouping.ROLE:
        found = {r.name: [] for r in in_order if r.kind is ResourceKind.ROLE}
    promised = {r.resource for r in plan.reservations.values()}
    for resource in in_order:
        is_role = resource.kind is ResourceKind.ROLE
        is_unused_role = is_role and not plan.used_by.get(resource.id) and resource.id not in promised
        if resource.kind is not ResourceKind.MATERIAL and not is_unused_role:
            found.setdefault(_title_of(plan, resource, by), []).append(resource)
    return [(title, members) for title, members in found.items() if members]


def _title_of(plan: Plan, resource: Resource, by: Grouping) -> str:
    if by is Grouping.SECTION:
        return resource.section or "No section"
    if by is Grouping.TEAM:
        own = resource.id if resource.kind is ResourceKind.TEAM else resource.team
        return plan.resources[own].name if own is not None else PLURALS.get(resource.kind, "Open seats")
    if resource.kind is ResourceKind.ROLE:
        return resource.name
    role = plan.resources.get(resource.role or "")
    return role.name if role is not None else resource.section or PLURALS[resource.kind]


def is_seat(plan: Plan, resource: Resource) -> bool:
    """Whether a resource is a role with members that tasks or projects ask for: its load is that of open seats."""
    if pooled(plan, resource.id):
        return True
    return (
        resource.kind is ResourceKind.ROLE
        and any(r.resource == resource.id for r in plan.reservations.values())
        and any(r.role == resource.id for r in plan.resources.values())
    )
