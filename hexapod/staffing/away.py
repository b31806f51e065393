"""When somebody is on leave, and the work that falls into it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, time

from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY, Resource
from hexapod.plan.recurrence import occurrences
from hexapod.schedule.schedule import Schedule
from hexapod.worktime.clock import date_of, day_number

Days = tuple[int, int]  # first and last, since 1970-01-01


def away(resource: Resource, first_day: int, last_day: int) -> list[Days]:
    """Stretches of leave that touch some days, in order."""
    found: list[Days] = []
    for leave in resource.leave:
        if leave.working:
            continue  # extra hours
        if leave.rule:
            until = datetime.combine(date_of(last_day), time.max)
            found += [(day, day) for day in (day_number(at) for at in occurrences(leave.rule, until))]
        else:
            found.append((leave.first_day, leave.last_day))
    return sorted(days for days in found if days[1] >= first_day and days[0] <= last_day)


@dataclass(frozen=True)
class Interrupted:
    """Somebody is away from the first day to the last while a task of theirs is under way or due to begin."""

    resource: str
    task: str
    first_day: int
    last_day: int


def interrupted(schedule: Schedule, plan: Plan) -> list[Interrupted]:
    """Work that leave falls into, the first leave first. What is done does not count."""
    found = []
    for resource in plan.resources.values():
        if not resource.leave:
            continue
        for task_id in plan.used_by.get(resource.id, ()):
            task = plan.tasks[task_id]
            if task.is_done or plan.is_summary(task_id):
                continue
            dates = schedule.dates(task_id)
            begin = int(schedule.free_start[schedule.slots[task_id]]) if task.is_begun else dates.start
            days = away(resource, begin // DAY, max(begin, dates.finish - 1) // DAY)
            found += [Interrupted(resource.id, task_id, *stretch) for stretch in days]
    return sorted(found, key=lambda i: (i.first_day, i.resource, i.task))
