"""Baselines: how a project is planned at a moment, kept, and how far the plan has drifted from it since."""

from __future__ import annotations

import numpy as np

from hexapod.control.efforts import Efforts
from hexapod.plan.accounts import Baseline, BaselineTask
from hexapod.plan.outline import rows as outline_rows
from hexapod.plan.plan import Plan
from hexapod.plan.records import Curve
from hexapod.schedule.drifting import minutes_between
from hexapod.schedule.schedule import Schedule
from hexapod.schedule.timing import own_calendar


def baseline_of(
    schedule: Schedule, project: str, baseline_id: str, name: str, at: int, efforts: Efforts | None = None
) -> Baseline:
    """How a project is planned now: dates, effort and cost of each of its tasks. The cost is that of the work and of
    the planned costs that were entered for the task itself. ``efforts`` are used where they are known already."""
    plan, efforts = schedule.plan, efforts or Efforts.of(schedule)
    whole, cost = efforts.whole, efforts.cost
    entered = planned_costs(plan)
    rows = []
    for task in (plan.tasks[row.task] for row in outline_rows(plan, project) if schedule.has(row.task)):
        slot = schedule.slots[task.id]
        is_leaf = not plan.is_summary(task.id)
        money = int(cost[slot]) + entered.get(task.id, 0)
        rows.append(BaselineTask(
            task.id, int(schedule.start[slot]), int(schedule.finish[slot]), task.minutes if is_leaf else 0,
            int(whole[slot]), money, own_calendar(plan, task), _curve(plan, task.id), not is_leaf and money > 0,
        ))  # fmt: skip
    return Baseline(baseline_id, name, at, project, tuple(rows))


def planned_costs(plan: Plan) -> dict[str, int]:
    """What planned costs were entered for tasks, by task."""
    found: dict[str, int] = {}
    for entry in plan.entries.values():
        if entry.planned and entry.kind == "cost" and entry.task is not None:
            found[entry.task] = found.get(entry.task, 0) + entry.amount
    return found


def _curve(plan: Plan, task_id: str) -> Curve:
    """The curve of all assignments of a task; flat where they differ."""
    curves = {a.curve for a in plan.assignments_of(task_id)}
    return curves.pop() if len(curves) == 1 else Curve.FLAT


def project_drift(schedule: Schedule, baseline: Baseline) -> int | None:
    """By how many working minutes a project finishes later than its baseline had it."""
    now, then = schedule.project_finish.get(baseline.project), finish_of(baseline)
    if now is None or then is None:
        return None
    calendar = schedule.network.timing.index[(schedule.plan.projects[baseline.project].calendar,)]
    found = minutes_between(schedule, np.array([calendar]), np.array([then]), np.array([now]))
    return int(found[0])


def finish_of(baseline: Baseline) -> int | None:
    """When the last of a baseline was planned to finish."""
    return max((row.finish for row in baseline.tasks), default=None)
