"""The earned part of tasks: how much of its budget each has earned by what was told of it.

In hundred-millionths, so that a per cent counts by its digits. What earns as time passes is not said here: it has
earned what was planned (``TIME``). Source: ANSI/EIA-748, earned value techniques.
"""

from __future__ import annotations

from collections.abc import Iterable
from decimal import Decimal

from hexapod.control.mine import is_milestone
from hexapod.plan.plan import Plan
from hexapod.plan.records import Earns, Task

WHOLE = 100_000_000
TIME = -1


def earned_parts(plan: Plan, tasks: Iterable[str]) -> dict[str, int]:
    """The earned parts of some rows, by row; of those that are there."""
    there = [t for t in map(plan.tasks.get, tasks) if t is not None]
    if any(task.earns is Earns.MILESTONES for task in plan.tasks.values()):
        return {task.id: earned_part(plan, task.id) for task in there}
    usual = {  # most rows: read without looking round them
        task.id: _digits(100.0 if task.actual_finish is not None else task.percent)
        for task in there
        if task.earns is Earns.PERCENT and (task.project, task.id) not in plan.children
    }
    return usual | {task.id: earned_part(plan, task.id) for task in there if task.id not in usual}


def earned_part(plan: Plan, task_id: str) -> int:
    """The part that a row has earned, 0 to ``WHOLE``; ``TIME`` for one that earns as time passes and is not done."""
    task = plan.tasks[task_id]
    branch = _by_milestones(plan, task_id)
    if branch is not None:
        return branch
    is_summary = plan.is_summary(task_id)
    done = percent_of(plan, task_id) if is_summary else _digits(100.0 if task.is_done else task.percent)
    if task.earns is Earns.AT_END:
        return WHOLE if done == WHOLE else 0
    if task.earns is Earns.HALF:
        is_begun = any(plan.tasks[t].actual_start is not None for t in plan.branch(task_id))
        return WHOLE if done == WHOLE else WHOLE // 2 if is_begun else 0
    if task.earns is Earns.TIME and done < WHOLE:
        return TIME
    return done


def percent_of(plan: Plan, task_id: str) -> int:
    """How much of a branch is done: its leaves weighted by effort where each that has a duration has one, else by
    duration; milestones count where there is nothing else."""
    leaves = [plan.tasks[t] for t in plan.branch(task_id) if not plan.is_summary(t)]
    by_effort = all(t.effort is not None for t in leaves if t.minutes)
    weights = [(t.effort or 0) if by_effort else t.minutes for t in leaves]
    if not sum(weights):
        weights = [1] * len(leaves)
    total = sum(w * _digits(100.0 if t.is_done else t.percent) for w, t in zip(weights, leaves, strict=True))
    return total // sum(weights)


def _by_milestones(plan: Plan, task_id: str) -> int | None:
    """The part that the nearest branch around a row, or the row, has earned by its milestones; None where none earns
    so, or has no milestone with a weight."""
    for row in (task_id, *plan.ancestors(task_id)):
        if plan.tasks[row].earns is Earns.MILESTONES:
            found = [t for t in map(plan.tasks.__getitem__, plan.branch(row)) if _counts(plan, t, row)]
            total = sum(Decimal(repr(t.weight)) for t in found)
            reached = sum(Decimal(repr(t.weight)) for t in found if t.is_done)
            return int(WHOLE * reached / total) if total else None
    return None


def _counts(plan: Plan, task: Task, branch: str) -> bool:
    return task.id != branch and not plan.is_summary(task.id) and is_milestone(task)


def _digits(percent: float) -> int:
    if percent == int(percent):
        return int(percent) * (WHOLE // 100)
    return int(Decimal(repr(percent)) * (WHOLE // 100))
