"""Deliverables of a task as one text: ``Case drawing (handed over), Labels``."""

from __future__ import annotations

from hexapod.fields.reading import Reading
from hexapod.plan.deliverables import Deliverable, DeliverableState, by_deliverable, state_of


def _states(reading: Reading) -> list[tuple[Deliverable, DeliverableState]]:
    plan = reading.plan
    wanted = plan.deliverables_of(reading.task.id)
    if not wanted:
        return []
    asked = by_deliverable(plan.approvals.values())
    return [(d, state_of(d, asked.get(d.id))) for d in wanted]


def deliverables_text(reading: Reading) -> str:
    """By name; how far each is where it is no longer simply to come."""
    said = [d.name if s is DeliverableState.TO_COME else f"{d.name} ({s.value})" for d, s in _states(reading)]
    return ", ".join(said)


def count_owed(reading: Reading) -> int:
    """How many are still to be handed over."""
    return sum(s.is_owed for _, s in _states(reading))
