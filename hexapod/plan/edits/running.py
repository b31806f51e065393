"""Edits of errands, and of who hears of a task and when."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from msgspec.structs import replace

from hexapod.plan.edits.edit import Edit, new_id, quoted, removing
from hexapod.plan.plan import Draft, Plan
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import Errand


def add_errands(plan: Plan, resource: str, said: Sequence[tuple[str, int | None]]) -> Edit:
    """Errands of a person, each a name and the day on which it is due, behind those that are there."""
    last = max((e.rank for e in plan.errands.values() if e.resource == resource), default=None)
    ranks = ranks_between(last, None, len(said))
    made = [Errand(new_id(), resource, name, rank, due) for (name, due), rank in zip(said, ranks, strict=True)]

    def change(draft: Draft) -> None:
        for errand in made:
            draft.put(errand)

    return Edit(f"Add {quoted([name for name, _ in said], 'errands')}", change)


def save_errand(plan: Plan, errand: Errand) -> Edit:
    """Change an errand."""
    return Edit(f"Change “{errand.name}”", lambda draft: draft.put(errand))


def tick_errand(plan: Plan, errand_id: str, at: int | None) -> Edit:
    """The errand was done at a moment; None: it is not done."""
    errand = plan.errand(errand_id)
    words = f"“{errand.name}” {'not done' if at is None else 'done'}"
    return Edit(words, lambda draft: draft.put(replace(errand, done=at)))


def remove_errands(plan: Plan, errand_ids: Iterable[str]) -> Edit:
    gone = list(errand_ids)
    return removing(f"Delete {quoted([plan.errand(e).name for e in gone], 'errands')}", "errands", gone)


def tell_also(plan: Plan, task_ids: Iterable[str], people: Iterable[str]) -> Edit:
    """Exactly these people hear of some tasks, beside those who work on them."""
    tasks, told = list(task_ids), tuple(dict.fromkeys(people))

    def change(draft: Draft) -> None:
        for task_id in tasks:
            draft.put(replace(draft.task(task_id), also_told=told))

    return Edit(f"Who else hears of {quoted([plan.task(t).name for t in tasks])}", change)


def set_reminders(plan: Plan, task_ids: Iterable[str], days: Iterable[int]) -> Edit:
    """Reminders so many days before the finish of some tasks."""
    tasks, said = list(task_ids), tuple(sorted(set(days), reverse=True))

    def change(draft: Draft) -> None:
        for task_id in tasks:
            draft.put(replace(draft.task(task_id), reminders=said))

    return Edit(f"Reminders of {quoted([plan.task(t).name for t in tasks])}", change)
