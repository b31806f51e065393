"""What a line says of its task, as an edit."""

from __future__ import annotations

from msgspec.structs import replace

from hexapod.lines.clauses import Fields
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Draft
from hexapod.plan.records import Link


def with_own_end(link: Link, task_id: str) -> Link:
    """A link whose own end a line left empty."""
    return replace(link, predecessor=link.predecessor or task_id, successor=link.successor or task_id)


def says(said: Fields, task_id: str) -> Edit:
    """The task gets what its line says of it."""

    def change(draft: Draft) -> None:
        if said.task:
            draft.put(replace(draft.task(task_id), **said.task))
        for link in said.links:
            draft.put(with_own_end(link, task_id))
        for assignment in said.assignments:
            draft.put(replace(assignment, task=task_id))

    return Edit("Say what a line says", change)
