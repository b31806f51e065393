"""What is typed into the fields of progress: when work began, when it ended, and what is left of it."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from hexapod.errors import BadText
from hexapod.fields.field import Texts
from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY
from hexapod.schedule.timing import own_calendar
from hexapod.worktime import clock
from hexapod.worktime.calendars import Window, find_calendar, units_of
from hexapod.worktime.days import days_of
from hexapod.worktime.lengths import format_length, parse_duration


def latest_actual(plan: Plan, project: str) -> int:
    """The last moment at which something can have happened: the later of the status date and now."""
    status = plan.projects[project].status_date
    return clock.now() if status is None else max(status, clock.now())


def actual_moment(texts: Texts, task_id: str, text: str, *, ends: bool, latest: int | None = None) -> int:
    """A date as it was typed; without an hour, when the task's calendar begins or ends that day.

    ``BadText`` for one that is still to come, or lies after ``latest`` where that is later.
    """
    plan, task = texts.plan, texts.plan.tasks[task_id]
    at = texts.dates.read(text, ends=ends)
    if ":" not in text:
        calendar, day = find_calendar(plan.calendars, own_calendar(plan, task)), at // DAY
        working = days_of(plan.calendars, calendar, Window(day, day + 1))[day].working
        if working:
            at = day * DAY + (working[-1][1] if ends and not task.elapsed else working[0][0])
    latest = max(latest_actual(plan, task.project), latest or 0)
    if at > latest and at // DAY == latest // DAY and ":" not in text:
        return latest
    if at > latest:
        verb = "ended" if ends else "begun"
        raise BadText(f"“{task.name}” cannot have {verb} by {texts.dates.long(at)}: that is still to come.")
    return at


def set_actual_start(texts: Texts, tasks: Sequence[str], text: str) -> Edit:
    """Nothing typed: it has not begun."""
    if not text.strip():
        return edits.take_back(texts.plan, tasks)
    return _each(texts, tasks, lambda t: edits.begin(texts.plan, [t], actual_moment(texts, t, text, ends=False)))


def set_actual_finish(texts: Texts, tasks: Sequence[str], text: str) -> Edit:
    """Nothing typed: it has not ended."""
    if not text.strip():
        return edits.reopen(texts.plan, tasks)
    return _each(texts, tasks, lambda t: edits.finish(texts.plan, [t], actual_moment(texts, t, text, ends=True)))


def set_remaining(texts: Texts, tasks: Sequence[str], text: str) -> Edit:
    """So much work is left of each task; nothing typed: as much as the per cent says."""
    plan = texts.plan
    if not text.strip():
        words = f"Say nothing of what is left of {_quoted(plan, tasks)}"
        return edits.together(words, [edits.set_task(plan, t, words, remaining=None) for t in tasks])
    return edits.set_rest(plan, tasks, rest_of(texts, tasks[0], text))


def rest_of(texts: Texts, task_id: str, text: str) -> int:
    """Working minutes from a length that was typed. ``BadText`` for time round the clock, where work is meant."""
    task = texts.plan.tasks[task_id]
    minutes, elapsed = parse_duration(text, units_of(texts.plan, task.project))
    if elapsed and not task.elapsed:
        raise BadText("What is left is a length of work, such as 3 d or 4 h.")
    return minutes


def echo_actual_start(texts: Texts, task_id: str, text: str) -> str:
    return f"began {texts.dates.long(actual_moment(texts, task_id, text, ends=False))}"


def echo_actual_finish(texts: Texts, task_id: str, text: str) -> str:
    return f"ended {texts.dates.long(actual_moment(texts, task_id, text, ends=True))}"


def echo_remaining(texts: Texts, task_id: str, text: str) -> str:
    rest = rest_of(texts, task_id, text)
    return f"{format_length(rest, units_of(texts.plan, texts.plan.tasks[task_id].project))} left" if rest else "done"


def _each(texts: Texts, tasks: Sequence[str], edit_of: Callable[[str], Edit]) -> Edit:
    plan = texts.plan
    leaves = [leaf for t in tasks for leaf in plan.branch(t) if not plan.is_summary(leaf)]
    each = [edit_of(t) for t in leaves]
    return each[0] if len(each) == 1 else edits.together(f"{_quoted(plan, leaves)}: actual dates", each)


def _quoted(plan: Plan, tasks: Sequence[str]) -> str:
    return f"“{plan.tasks[tasks[0]].name}”" if len(tasks) == 1 else f"{len(tasks)} tasks"
