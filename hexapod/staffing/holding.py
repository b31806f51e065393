"""What of a task stays when something of it changes: effort = duration x rate, summed over who is assigned.

A task that keeps its effort gets shorter when people join, longer when they leave; when its duration is said
instead, everybody's rate follows. Whatever the edit was, this follows from what it changed.
"""

from __future__ import annotations

from collections.abc import Iterable

from msgspec.structs import replace

from hexapod.errors import EditRefused
from hexapod.plan.changes import Changes
from hexapod.plan.edits.edit import Edit
from hexapod.plan.plan import Draft, Plan
from hexapod.plan.records import Assignment, Held, Task
from hexapod.schedule.effort import effort_of, rate_of
from hexapod.worktime.lengths import format_length

LEAST, MOST = 0.001, 10_000.0  # units of an assignment


def rate_of_task(plan: Plan, people: Iterable[Assignment]) -> float:
    """Units of all who work on a task for as long as it lasts; work said in hours in all is not among it."""
    return sum(rate_of(plan, a) for a in people if a.total is None)


def effort_of_task(plan: Plan, task_id: str) -> int:
    """Minutes of work that its duration and all its assignments make."""
    return round(sum(effort_of(plan, a) for a in plan.assignments_of(task_id)))


def what_is_held(before: Plan, after: Plan, changes: Changes) -> Edit | None:
    """What follows from an edit for tasks that keep their effort; None for nothing."""
    touched = {a.task for pair in changes.assignments for a in pair if a is not None}
    touched |= {new.id for old, new in changes.tasks if old is not None and new is not None and _is_about(old, new)}
    found: list[Task | Assignment] = []
    for task_id in sorted(touched):
        old, new = before.tasks.get(task_id), after.tasks.get(task_id)
        if old is not None and new is not None and new.keeps is Held.EFFORT and not after.is_summary(task_id):
            found += _held(before, after, old, new)
    return Edit("", lambda draft: _put(draft, found)) if found else None


def _is_about(old: Task, new: Task) -> bool:
    return (old.duration, old.effort, old.keeps) != (new.duration, new.effort, new.keeps)


def _put(draft: Draft, records: list[Task | Assignment]) -> None:
    for record in records:
        draft.put(record)


def _held(before: Plan, after: Plan, old: Task, new: Task) -> list[Task | Assignment]:
    people = after.assignments_of(new.id)
    had = before.assignments_of(old.id)
    rate = rate_of_task(after, people)
    if new.effort is None:  # from now on it is what it was before the edit, or with the first people is
        new = replace(new, effort=effort_of_task(before if had else after, new.id) or None)
    if new.effort is None or not people:
        return [new]
    has_new_duration = old.duration != new.duration
    if not new.minutes and has_new_duration:
        return [replace(new, effort=None)]  # it is a moment now, and no work
    if has_new_duration and had != people:
        return [replace(new, effort=effort_of_task(after, new.id) or None)]
    by_rate = new.effort - sum(a.total or 0 for a in people)
    if not rate or by_rate <= 0:
        return [new]
    if has_new_duration and new.minutes:
        return [new, *(_faster(a, by_rate / (new.minutes * rate)) for a in people)]
    return [replace(new, duration=max(1, round(by_rate / rate)))]


def _faster(a: Assignment, by: float) -> Assignment:
    if a.total is not None:
        return a
    if a.hours_a_day is not None:
        return replace(a, hours_a_day=max(0.01, round(a.hours_a_day * by, 4)))
    return replace(a, units=min(MOST, max(LEAST, round(a.units * by, 4))))


def set_effort(plan: Plan, task_id: str, effort: int | None) -> Edit:
    """Say how much work a task is, in minutes: its duration follows, or where that is kept, everybody's rate."""
    task = plan.tasks[task_id]
    people = plan.assignments_of(task_id)
    rate = rate_of_task(plan, people)

    def change(draft: Draft) -> None:
        said = replace(draft.task(task_id), effort=effort)
        by_rate = (effort or 0) - sum(a.total or 0 for a in people)
        if effort is not None and by_rate <= 0 and people:
            raise EditRefused(f"More than {format_length(effort)} is said for those who work on it already.")
        if effort is not None and rate and task.keeps is Held.DURATION and task.minutes:
            for a in people:
                draft.put(_faster(a, by_rate / (task.minutes * rate)))
        elif effort is not None and rate:
            said = replace(said, duration=max(1, round(by_rate / rate)))
        draft.put(said)

    return Edit(f"Set the effort of “{task.name}”", change)


def keep(plan: Plan, task_id: str, held: Held) -> Edit:
    """Which of duration, effort and rate stays from now on."""
    task = plan.tasks[task_id]
    said = (effort_of_task(plan, task_id) or None) if plan.assigned.get(task_id) else task.effort
    words = f"“{task.name}” keeps its {held.value}"
    return Edit(words, lambda draft: draft.put(replace(draft.task(task_id), keeps=held, effort=said)))


def kept_words(held: Held) -> str:
    """What it means, in a sentence."""
    return {
        Held.DURATION: "With more people it is more work; another effort changes everybody’s rate.",
        Held.EFFORT: "With more people it is shorter; another duration changes everybody’s rate.",
        Held.RATE: "A longer duration is more work; another effort changes the duration.",
    }[held]


def held_words(changes: Changes) -> str:
    """What an edit came to for a task that keeps its effort, in a sentence; nothing where it changed no such task."""
    kept = {new.id: (old, new) for old, new in changes.tasks if old and new and new.keeps is Held.EFFORT}
    for before, after in changes.assignments:
        task_id = (after or before).task  # type: ignore[union-attr]
        old, new = kept.get(task_id, (None, None))
        if old is None or new is None or old.minutes == new.minutes or new.effort != old.effort:
            continue
        if before is not None and after is not None and before.units != after.units:
            return (
                f"“{new.name}” keeps its effort: everybody works at {100 * after.units / before.units:.4g} % of before."
            )
        took, takes = format_length(old.minutes), format_length(new.minutes)
        return f"“{new.name}” keeps its effort of {(new.effort or 0) / 60:,.8g} h: it takes {takes}, not {took}."
    return ""
