"""If it slips: what a later start of one task would do, by rescheduling it."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from hexapod.schedule.arrays import TaskArrays
from hexapod.schedule.codes import NOT_BEGUN
from hexapod.schedule.engine import schedule_network
from hexapod.schedule.schedule import Schedule


@dataclass(frozen=True)
class Slip:
    """``finish_moves`` is working minutes on the project's calendar, ``tasks_moved`` other leaves."""

    delay: int
    finish_before: int
    finish_after: int
    finish_moves: int
    tasks_moved: int


def slip(schedule: Schedule, task_id: str, delay: int) -> Slip:
    """The task starts ``delay`` working minutes later than it does, or its rest does; nothing else is changed.

    ``ValueError`` for a summary, and for what is done: neither has a start to delay.
    """
    network = schedule.network
    plan, slot = network.plan, network.slots.of_task[task_id]
    if plan.is_summary(task_id) or plan.tasks[task_id].is_done:
        raise ValueError("it has no start of its own to delay")
    after = schedule_network(replace(network, tasks=_delayed(schedule, slot, delay)))
    leaves = np.flatnonzero(network.structure.leaf)
    moved = (after.start[leaves] != schedule.start[leaves]) | (after.finish[leaves] != schedule.finish[leaves])
    project = plan.tasks[task_id].project
    before_finish, after_finish = schedule.project_finish[project], after.project_finish[project]
    assert before_finish is not None and after_finish is not None
    return Slip(
        delay,
        before_finish,
        after_finish,
        working_minutes(after, plan.projects[project].calendar, before_finish, after_finish),
        int(moved.sum()) - int(moved[np.searchsorted(leaves, slot)]),
    )


def _delayed(schedule: Schedule, slot: int, delay: int) -> TaskArrays:
    from hexapod.worktime.arithmetic import advance

    tasks, pool = schedule.network.tasks, schedule.network.timing.pool
    if tasks.progress[slot] == NOT_BEGUN:
        hold = tasks.hold.copy()
        hold[slot] += delay
        return tasks._replace(hold=hold)
    rest_from = tasks.rest_from.copy()
    rest_from[slot] = advance(pool, int(tasks.calendar[slot]), int(schedule.free_start[slot]), delay)
    return tasks._replace(rest_from=rest_from)


def working_minutes(schedule: Schedule, calendar: str, begin: int, end: int) -> int:
    """Signed working minutes from ``begin`` to ``end`` on a calendar."""
    from hexapod.worktime.arithmetic import worked

    timing = schedule.network.timing
    index = timing.index[(calendar,)]
    return int(worked(timing.pool, index, end) - worked(timing.pool, index, begin))
