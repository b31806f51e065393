"""A task in two parts, one behind the other: work that is interrupted."""

from __future__ import annotations

from msgspec.structs import replace

from hexapod.errors import EditRefused
from hexapod.plan.edits.edit import Edit, new_id
from hexapod.plan.edits.outlining import ranks_at
from hexapod.plan.estimates import scaled
from hexapod.plan.plan import Draft, Plan
from hexapod.plan.records import LimitKind, Link, LinkType, Task, TaskKind

OF_THE_FINISH = (LimitKind.FINISH_NO_EARLIER, LimitKind.FINISH_NO_LATER, LimitKind.MUST_FINISH)
FROM_FINISH, TO_FINISH = (LinkType.FS, LinkType.FF), (LinkType.FF, LinkType.SF)


def split_task(plan: Plan, task_id: str, minutes: int, second: str | None = None) -> Edit:
    """The first ``minutes`` of a task, and behind them a task of their own with the rest, ``second`` its id.

    What waits for its finish waits for the second part, what holds its finish holds that. Everybody works on both, and
    hours in all are shared. ``EditRefused`` for what has no length to be parted.
    """
    task = plan.task(task_id)
    if plan.is_summary(task_id) or task.kind is not TaskKind.TASK or task.repeats:
        raise EditRefused(f"“{task.name}” cannot be split; a task with a duration can.")
    if not 0 < minutes < task.minutes:
        raise EditRefused(f"The first part of “{task.name}” must be shorter than the whole of it.")
    behind = second or new_id()
    if task.is_done:
        raise EditRefused(f"“{task.name}” is done, and stays in one piece.")
    if task.is_begun and minutes < task.minutes - task.rest:
        raise EditRefused(f"More than that of “{task.name}” is done already.")
    part = minutes / task.minutes

    def change(draft: Draft) -> None:
        siblings = draft.children_of(task.project, task.parent)
        rank = ranks_at(draft, (task.project, task.parent), siblings.index(task_id) + 1, 1)[0]
        draft.put(_first(task, minutes, part))
        draft.put(_second(task, behind, rank, minutes, part))
        for assignment in plan.assignments_of(task_id):
            whole = assignment.total
            shared = None if whole is None else max(1, round(whole * part))
            draft.put(replace(assignment, total=shared))
            draft.put(replace(assignment, task=behind, total=None if whole is None else max(1, whole - (shared or 0))))
        _relink(draft, plan, task_id, behind)
        draft.put(Link(task_id, behind))

    return Edit(f"Split “{task.name}”", change)


def _first(task: Task, minutes: int, part: float) -> Task:
    return replace(
        task,
        duration=minutes,
        estimate=scaled(task.estimate, part),
        limits=tuple(x for x in task.limits if x.kind not in OF_THE_FINISH),
        target=None,
        percent=min(100.0, task.percent / part),
        remaining=None if task.remaining is None else max(0, task.remaining - (task.minutes - minutes)),
        effort=None if task.effort is None else max(1, round(task.effort * part)),
    )


def _second(task: Task, second: str, rank: str, minutes: int, part: float) -> Task:
    return replace(
        task,
        id=second,
        name=f"{task.name}, the rest",
        rank=rank,
        duration=task.minutes - minutes,
        estimate=scaled(task.estimate, 1 - part),
        limits=tuple(x for x in task.limits if x.kind in OF_THE_FINISH),
        hold=0,
        percent=0.0,
        actual_start=None,
        remaining=None,
        as_of=None,
        effort=None if task.effort is None else max(1, task.effort - round(task.effort * part)),
        occurrence=None,
    )


def _relink(draft: Draft, plan: Plan, first: str, second: str) -> None:
    for link in plan.links_from(first):
        if link.type in FROM_FINISH:
            draft.remove("links", link.key)
            draft.put(replace(link, predecessor=second))
    for link in plan.links_into(first):
        if link.type in TO_FINISH:
            draft.remove("links", link.key)
            draft.put(replace(link, successor=second))
