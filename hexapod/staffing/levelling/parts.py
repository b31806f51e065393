"""Tasks in two parts: which, after how much work, and the plan and dates with them."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from hashlib import blake2b

from hexapod.plan import edits
from hexapod.plan.changes import diff
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Plan
from hexapod.plan.records import Task, TaskKind
from hexapod.schedule.engine import reschedule
from hexapod.schedule.schedule import Schedule
from hexapod.worktime.arithmetic import worked


@dataclass(frozen=True)
class Part:
    """The first ``minutes`` of a task stay where they are; what is left becomes the task ``rest``."""

    task: str
    rest: str
    minutes: int

    @staticmethod
    def of(task: str, minutes: int) -> Part:
        """The same task and minutes always make the same rest, so that the same search finds the same answer."""
        return Part(task, blake2b(f"{task} {minutes}".encode(), digest_size=6).hexdigest(), minutes)


def can_part(plan: Plan, task_id: str, minutes: int, least: int) -> bool:
    """Whether a task may be interrupted after some minutes, neither part shorter than ``least``.

    What is begun can be interrupted, but no sooner than what is done of it.
    """
    task = plan.tasks[task_id]
    is_whole = task.kind is TaskKind.TASK and not task.repeats and not task.pinned and not plan.is_summary(task_id)
    return is_whole and max(done(task), least) <= minutes <= task.minutes - least


def done(task: Task) -> int:
    """Minutes of a task that are done, the last one whole."""
    return max(0, task.minutes - task.rest) if task.actual_start is not None else 0


def worked_between(schedule: Schedule, task_id: str, begin: int, end: int) -> int:
    """Working minutes of a task's calendar from one moment to another."""
    network = schedule.network
    slot = schedule.slots[task_id]
    pool, calendar = network.timing.pool, int(network.tasks.calendar[slot])
    return int(worked(pool, calendar, end) - worked(pool, calendar, begin))


def parting(words: str, parts: Sequence[Part], then: Sequence[Callable[[Plan], Edit]] = ()) -> Edit:
    """One edit that parts tasks, one after another, and does more in the plan that this leaves."""
    steps: list[Callable[[Plan], Edit]] = [
        lambda plan, p=p: edits.split_task(plan, p.task, p.minutes, p.rest)  # type: ignore[misc]
        for p in parts
    ]
    return edits.in_steps(words, [*steps, *then])


def parted(now: Schedule, parts: Sequence[Part]) -> Schedule:
    """The dates with tasks parted and nothing between their parts."""
    if not parts:
        return now
    before = now.network.plan
    plan = parting("", parts).applied_to(before)
    return reschedule(now, plan, diff(before, plan))
