"""What a log of hours does to a plan, and the clock that runs while somebody works.

Work on which hours are logged has begun: on the first of those days, where nobody said otherwise.
"""

from __future__ import annotations

from collections.abc import Sequence

import msgspec

from hexapod.plan import edits
from hexapod.plan.accounts import Log
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY
from hexapod.schedule.timing import own_calendar
from hexapod.worktime.calendars import Window, find_calendar
from hexapod.worktime.days import days_of

LONGEST_RUN = 12 * 60  # minutes after which a clock was forgotten, most likely


def log_edit(plan: Plan, logs: Sequence[Log], *, is_correction: bool = False) -> Edit:
    """Logs with what they say of how far their tasks are. ``EditRefused`` for what is approved or handed in, unless it
    is a correction."""
    steps = [edits.correct(plan, x) for x in logs] if is_correction else [edits.save_logs(plan, logs)]
    words = steps[0].words
    for log in sorted(logs, key=lambda x: (x.day, x.id)):
        steps += _told(plan, log)
    return edits.together(words, steps)


def _told(plan: Plan, log: Log) -> list[Edit]:
    task = plan.task(log.task)
    if plan.is_summary(log.task) or not task.minutes or log.minutes < 0:
        return []
    steps = []
    if task.actual_start is None:
        steps.append(edits.begin(plan, [task.id], first_moment(plan, task.id, log.day)))
    if log.percent is not None:
        steps.append(edits.set_percent(plan, [task.id], log.percent))
    elif log.remaining is not None:
        steps.append(edits.set_rest(plan, [task.id], log.remaining))
    return steps


def first_moment(plan: Plan, task_id: str, day: int) -> int:
    """When a task's calendar begins work on a day; in the morning of one on which it does not work."""
    calendar = find_calendar(plan.calendars, own_calendar(plan, plan.tasks[task_id]))
    working = days_of(plan.calendars, calendar, Window(day, day + 1))[day].working
    return day * DAY + (working[0][0] if working else 8 * 60)


def outside_words(plan: Plan, task_id: str, resource: str, day: int) -> str:
    """What is said of hours on a task that somebody is not on, or of somebody who had left by then; it is allowed."""
    who = plan.resources[resource]
    capacity = next((c for first, c in reversed(who.capacity_from) if first <= day), who.capacity)
    if not capacity:
        return f"{who.name} has no time in the plan by that day; the hours count all the same."
    if resource not in plan.assigned.get(task_id, ()):
        return f"{who.name} is not on “{plan.tasks[task_id].name}”; the hours count all the same."
    return ""


class RunningClock(msgspec.Struct, frozen=True):
    """Somebody works on a task since a moment (minutes)."""

    task: str
    since: int


def is_forgotten(clock: RunningClock, now: int) -> bool:
    """Whether a clock runs for so long, or since an earlier day, that somebody should say how long it was."""
    return now - clock.since > LONGEST_RUN or now // DAY != clock.since // DAY


def clock_words(minutes: int) -> str:
    """``0:42``."""
    return f"{minutes // 60}:{minutes % 60:02}"


def stopped(plan: Plan, resource: str, clock: RunningClock, now: int, minutes: int | None = None) -> list[Log]:
    """What a clock that stops becomes: its minutes on the day on which it was started; nothing below a minute."""
    spent = min(now - clock.since, DAY) if minutes is None else minutes
    if spent <= 0 or clock.task not in plan.tasks:
        return []
    return [Log(edits.new_id(), clock.task, resource, clock.since // DAY, spent)]
