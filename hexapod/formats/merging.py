"""A whole plan brought into another: what is added, and what changes where the ids are the same."""

from __future__ import annotations

from msgspec.structs import replace

from hexapod.formats.importing import Action, ImportProposal, Outcome, alike
from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.kinds import KINDS
from hexapod.plan.outline import outline_order
from hexapod.plan.plan import Draft, Plan
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import Resource


def merge(plan: Plan, other: Plan, name: str) -> ImportProposal:
    """What a whole plan would add to another, and change in it where the ids are the same."""

    def change(draft: Draft) -> None:
        initials = {r.initials.casefold(): r.id for r in plan.resources.values() if r.initials}
        last = plan.projects_in_order()
        fresh = [p for p in other.projects_in_order() if p.id not in plan.projects]
        ranks = ranks_between(last[-1].rank if last else None, None, len(fresh))
        moved = {p.id: replace(p, rank=rank) for p, rank in zip(fresh, ranks, strict=True)}
        for kind in KINDS:
            for key, record in getattr(other, kind).items():
                if isinstance(record, Resource) and initials.get(record.initials.casefold(), record.id) != record.id:
                    record = replace(record, initials="")
                draft.put(moved.get(key, record) if kind == "projects" else record)

    after = Edit("", change).applied_to(plan)
    outcomes = [
        Outcome(i, task.name, _merged_action(plan, after, task.id), task.id)
        for i, task in enumerate((other.tasks[t] for t in outline_order(other)), 1)
    ]
    edit = None if after == plan else edits.to_plan(f"Import “{name}”", plan, after)
    added = tuple(r.name for r in other.resources.values() if r.id not in plan.resources)
    return ImportProposal(outcomes, added, edit)


def _merged_action(plan: Plan, after: Plan, task_id: str) -> Action:
    if task_id not in plan.tasks:
        return Action.ADD
    return Action.SAME if alike(plan, after, task_id) else Action.CHANGE
