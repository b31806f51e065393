"""Edits of what a row says of itself, of projects and calendars, and of levelling holds."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from msgspec.structs import replace

from hexapod.errors import EditRefused
from hexapod.plan.edits.edit import Edit, quoted, saving
from hexapod.plan.plan import Draft, Plan
from hexapod.plan.ranks import rank_moved
from hexapod.plan.records import Calendar, Limit, LimitKind, Project


def set_task(plan: Plan, task_id: str, words: str, **fields: Any) -> Edit:
    """Some fields of one task."""
    return Edit(words, lambda draft: draft.put(replace(draft.task(task_id), **fields)))


def rename(plan: Plan, task_id: str, name: str) -> Edit:
    return set_task(plan, task_id, f"Rename “{plan.task(task_id).name}” to “{name}”", name=name)


def set_durations(plan: Plan, task_ids: Iterable[str], duration: int | None, *, elapsed: bool | None = None) -> Edit:
    """``duration`` is minutes, of working time or ``elapsed``; None takes back what was said."""
    tasks = list(task_ids)

    def change(draft: Draft) -> None:
        for task_id in tasks:
            task = draft.task(task_id)
            estimate = () if duration == 0 else task.estimate
            clock = task.elapsed if elapsed is None else elapsed
            draft.put(replace(task, duration=duration, elapsed=clock, estimate=estimate))

    return Edit(f"Set the duration of {quoted([plan.task(t).name for t in tasks])}", change)


def set_limit(plan: Plan, task_id: str, kind: LimitKind, at: int | None) -> Edit:
    """Put a limit on a task, in place of one of the same kind; None lifts it."""
    task = plan.task(task_id)
    others = tuple(limit for limit in task.limits if limit.kind is not kind)
    limits = others if at is None else (*others, Limit(kind, at))
    words = f"Limit the dates of “{task.name}”" if at is not None else f"Lift a limit of “{task.name}”"
    return set_task(plan, task_id, words, limits=limits)


def set_holds(plan: Plan, holds: Mapping[str, int], words: str) -> Edit:
    """Levelling holds in working minutes by task; 0 clears one."""

    def change(draft: Draft) -> None:
        for task_id, minutes in holds.items():
            draft.put(replace(draft.task(task_id), hold=minutes))

    return Edit(words, change)


def clear_holds(plan: Plan, task_ids: Iterable[str]) -> Edit:
    """Take the levelling holds off these tasks."""
    held = [t for t in task_ids if plan.task(t).hold]
    return set_holds(plan, dict.fromkeys(held, 0), f"Clear the holds of {quoted([plan.task(t).name for t in held])}")


def save_project(plan: Plan, project: Project) -> Edit:
    """Add a project, or change the one with its id."""
    return saving(plan, project, f"the project “{project.name}”")


def move_project(plan: Plan, project_id: str, by: int) -> Edit:
    """The project changes places with the one before (-1) or behind it (1)."""
    order = [p.id for p in plan.projects_in_order()]
    at = order.index(plan.project(project_id).id)
    if not 0 <= at + by < len(order):
        raise EditRefused("The project is at the end of the list already.")
    ranks = [project.rank for project in plan.projects_in_order()]
    project = replace(plan.project(order[at]), rank=rank_moved(ranks, at, by))
    return Edit(f"Move the project “{project.name}”", lambda draft: draft.put(project))


def remove_project(plan: Plan, project_id: str) -> Edit:
    """The project goes with everything in it."""

    def change(draft: Draft) -> None:
        for task_id in list(draft.children_of(project_id, None)):
            draft.remove_task(task_id)
        for reservation in plan.reservations_of(project_id):
            draft.remove("reservations", reservation.id)
        draft.put(replace(draft.get("projects", project_id), baseline=None))
        for kind in ("entries", "budgets", "baselines", "risks"):
            for key in draft.keys(kind):
                if draft.get(kind, key).project == project_id:
                    draft.remove(kind, key)
        draft.remove("projects", project_id)

    return Edit(f"Delete the project “{plan.project(project_id).name}”", change)


def save_calendar(plan: Plan, calendar: Calendar) -> Edit:
    """Add a calendar, or change the one with its id."""
    return saving(plan, calendar, f"the calendar “{calendar.name}”")


def remove_calendar(plan: Plan, calendar_id: str) -> Edit:
    return Edit(
        f"Delete the calendar “{plan.calendar(calendar_id).name}”",
        lambda draft: draft.remove("calendars", calendar_id),
    )


def plan_back(plan: Plan, task_id: str, at: int, chain: Iterable[str]) -> Edit:
    """A task must finish at a moment, and what it waits for is placed as late as that allows."""
    tasks = [t for t in chain if t != task_id]

    def change(draft: Draft) -> None:
        task = draft.task(task_id)
        others = tuple(limit for limit in task.limits if limit.kind is not LimitKind.MUST_FINISH)
        draft.put(replace(task, limits=(*others, Limit(LimitKind.MUST_FINISH, at))))
        for before in tasks:
            if draft.task(before).actual_start is None:
                draft.put(replace(draft.task(before), as_late_as_possible=True))

    return Edit(f"Plan back from “{plan.task(task_id).name}”", change)
