"""Baselines: how a project is planned at a moment, kept, and how far the plan has drifted from it since."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from hexapod.control.efforts import Efforts
from hexapod.plan.accounts import Baseline, BaselineTask
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY, Curve
from hexapod.schedule.schedule import Schedule
from hexapod.schedule.timing import CalendarBook, compile_set, own_calendar
from hexapod.worktime.calendars import CalendarPool, Ints, Window, pool_of


class Drift(NamedTuple):
    """By how many working minutes of its calendar a task starts and finishes later than its baseline."""

    start: int
    finish: int


def baseline_of(schedule: Schedule, project: str, baseline_id: str, name: str, at: int) -> Baseline:
    """How a project is planned now: dates, effort and cost of each of its tasks. The cost is that of the work and of
    the planned costs that were entered for the task itself."""
    plan, efforts = schedule.plan, Efforts.of(schedule)
    whole, cost = efforts.whole, efforts.cost
    entered = planned_costs(plan)
    rows = []
    for task in plan.tasks.values():
        if task.project != project or not schedule.has(task.id):
            continue
        slot = schedule.slots[task.id]
        is_leaf = not plan.is_summary(task.id)
        money = int(cost[slot]) + entered.get(task.id, 0)
        rows.append(BaselineTask(
            task.id, int(schedule.start[slot]), int(schedule.finish[slot]), task.minutes if is_leaf else 0,
            int(whole[slot]), money, own_calendar(plan, task), _curve(plan, task.id),
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


def reference_of(plan: Plan, project: str) -> Baseline | None:
    """The baseline that a project is measured against."""
    chosen = plan.projects[project].baseline
    return None if chosen is None else plan.baselines[chosen]


def drifts(schedule: Schedule, baseline: Baseline) -> dict[str, Drift]:
    """By task, for those that are in the baseline and in the plan."""
    rows = [row for row in baseline.tasks if schedule.has(row.task)]
    slots = np.array([schedule.slots[row.task] for row in rows], dtype=np.int64)
    start, finish = (np.array([getattr(row, name) for row in rows], dtype=np.int64) for name in ("start", "finish"))
    calendars = schedule.network.tasks.calendar[slots]
    found = zip(
        minutes_between(schedule, calendars, start, schedule.start[slots]).tolist(),
        minutes_between(schedule, calendars, finish, schedule.finish[slots]).tolist(),
        strict=True,
    )
    return {row.task: Drift(*by) for row, by in zip(rows, found, strict=True)}


def reference_drifts(schedule: Schedule) -> dict[str, Drift]:
    """The same of all projects, each against its own reference."""
    chosen = (reference_of(schedule.plan, project) for project in schedule.plan.projects)
    return {task: drift for b in chosen if b is not None for task, drift in drifts(schedule, b).items()}


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


def minutes_between(schedule: Schedule, calendars: Ints, begin: Ints, end: Ints) -> Ints:
    """Signed working minutes between moments of any time, each on a calendar of the network."""
    from hexapod.schedule.passes import working_minutes_between

    pool = schedule.network.timing.pool
    if len(begin):
        pool = _reaching(schedule, min(int(begin.min()), int(end.min())), max(int(begin.max()), int(end.max())))
    found: Ints = working_minutes_between(pool, calendars, begin, end)
    return found


def _reaching(schedule: Schedule, first: int, last: int) -> CalendarPool:
    """The network's calendars, compiled so that they reach two moments."""
    timing = schedule.network.timing
    if timing.window.begin <= first and last < timing.window.end:
        return timing.pool
    window = Window(min(timing.window.first_day, first // DAY - 1), max(timing.window.last_day, last // DAY + 2))
    book = CalendarBook(schedule.plan)
    return pool_of((compile_set(book, chosen, window) for chosen in timing.index), window)
