"""How far the dates of a plan have drifted from a baseline."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from hexapod.plan.accounts import Baseline
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY
from hexapod.schedule.timing import CalendarBook, compile_set
from hexapod.worktime.calendars import CalendarPool, Ints, Window, pool_of

if TYPE_CHECKING:
    from hexapod.schedule.schedule import Schedule


class Drift(NamedTuple):
    """By how many working minutes of its calendar a task starts and finishes later than its baseline."""

    start: int
    finish: int


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
