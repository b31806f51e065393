"""How much work an assignment is, and at what rate, however it was entered."""

from __future__ import annotations

from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, Task
from hexapod.schedule.timing import own_calendar
from hexapod.worktime.calendars import find_calendar


def rate_of(plan: Plan, a: Assignment) -> float:
    """Units of a resource while the task is worked on; of a total, on the average of the whole task."""
    if a.hours_a_day is a.total is None:
        return a.units
    task = plan.tasks[a.task]
    if a.hours_a_day is not None:
        calendar = find_calendar(plan.calendars, own_calendar(plan, task))
        return a.hours_a_day * 60 / calendar.day_minutes
    return a.total / task.minutes if a.total is not None and task.minutes else 0.0


def effort_of_task(plan: Plan, task: Task) -> int:
    """Minutes of work of a task in all: as said, else what its assignments make; 0 where nobody said anything."""
    if task.effort is not None:
        return task.effort
    return round(sum(effort_of(plan, a) for a in plan.assignments_of(task.id)))


def effort_of(plan: Plan, a: Assignment) -> float:
    """Minutes of work, as if it lasted as long as its task."""
    return float(a.total) if a.total is not None else plan.tasks[a.task].minutes * rate_of(plan, a)
