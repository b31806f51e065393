"""Edits of deliverables: what a task hands over, its files, and that it was handed over."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from msgspec.structs import replace

from hexapod.plan.approvals import ApprovalState
from hexapod.plan.deliverables import Deliverable
from hexapod.plan.edits.edit import Edit, new_id
from hexapod.plan.plan import Draft, Gone, Plan
from hexapod.plan.ranks import ranks_between


def add_deliverables(plan: Plan, task_id: str, names: Sequence[str]) -> Edit:
    """What else a task hands over, behind what it does already."""
    said = [name.strip() for name in names if name.strip()]
    last = max((d.rank for d in plan.deliverables.values()), default=None)
    made = [
        Deliverable(new_id(), plan.task(task_id).id, name, rank)
        for name, rank in zip(said, ranks_between(last, None, len(said)), strict=True)
    ]

    def change(draft: Draft) -> None:
        for deliverable in made:
            draft.put(deliverable)

    called = f"the deliverable “{said[0]}”" if len(said) == 1 else f"{len(said)} deliverables"
    return Edit(f"Add {called}", change)


def set_deliverable(plan: Plan, deliverable_id: str, words: str, **values: Any) -> Edit:
    """Change fields of one."""
    _there(plan, deliverable_id)

    def change(draft: Draft) -> None:
        now = draft.get("deliverables", deliverable_id)
        if now is None:
            raise Gone
        draft.put(replace(now, **values))

    return Edit(words, change)


def deliver(plan: Plan, deliverable_id: str, who: str, now: int) -> Edit:
    """It is handed over at a moment. One that was sent back is asked for again: everybody is to look at it anew."""
    words = f"Hand over “{_there(plan, deliverable_id).name}”"
    again = [
        replace(a, answers=(), by=who, asked=now)
        for a in plan.approvals.values()
        if a.deliverable == deliverable_id and a.state is ApprovalState.SENT_BACK
    ]

    def change(draft: Draft) -> None:
        set_deliverable(plan, deliverable_id, words, handed=now, by=who).change(draft)
        for approval in again:
            draft.put(approval)

    return Edit(words, change)


def not_delivered(plan: Plan, deliverable_id: str) -> Edit:
    """It is still to come."""
    words = f"“{_there(plan, deliverable_id).name}” is still to come"
    return set_deliverable(plan, deliverable_id, words, handed=None, by="")


def attach_to(plan: Plan, deliverable_id: str, place: str) -> Edit:
    """A file or web page that it is."""
    there = _there(plan, deliverable_id)
    files = tuple(dict.fromkeys((*there.files, place)))
    return set_deliverable(plan, deliverable_id, f"Attach to “{there.name}”", files=files)


def detach_from(plan: Plan, deliverable_id: str, place: str) -> Edit:
    there = _there(plan, deliverable_id)
    files = tuple(p for p in there.files if p != place)
    return set_deliverable(plan, deliverable_id, f"Detach from “{there.name}”", files=files)


def remove_deliverable(plan: Plan, deliverable_id: str) -> Edit:
    """With what was asked about it; the milestone of its approval stays."""
    there = _there(plan, deliverable_id)
    asked = [a.id for a in plan.approvals.values() if a.deliverable == deliverable_id]

    def change(draft: Draft) -> None:
        for approval in asked:
            draft.remove("approvals", approval)
        draft.remove("deliverables", deliverable_id)

    return Edit(f"Delete the deliverable “{there.name}”", change)


def _there(plan: Plan, deliverable_id: str) -> Deliverable:
    found = plan.deliverables.get(deliverable_id)
    if found is None:
        raise Gone
    return found
