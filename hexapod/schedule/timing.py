"""Calendars as the network needs them: each set that must agree (task and who works on it) as one."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from hexapod.errors import CannotSchedule
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY, Calendar, Resource, Task
from hexapod.worktime.calendars import (
    CalendarPool,
    Window,
    WorkingTime,
    compile_calendar,
    find_calendar,
    meet,
    pool_of,
)

CalendarSet = tuple[str, ...]

EARLIEST_DAY = -62_091  # 1800-01-01
HORIZON_DAY = 105_190  # 2258: dates beyond are an error
FIRST_SPAN = 12 * 366


@dataclass(frozen=True)
class Timing:
    """The calendar sets in use, their index in the pool, and the window of days they are compiled for."""

    window: Window
    index: dict[CalendarSet, int]
    compiled: tuple[WorkingTime, ...]
    pool: CalendarPool

    @staticmethod
    def of(calendars: Mapping[str, Calendar], sets: Iterable[CalendarSet], window: Window) -> Timing:
        ordered = sorted(set(sets))
        compiled = tuple(compile_set(calendars, chosen, window) for chosen in ordered)
        return Timing(window, {s: i for i, s in enumerate(ordered)}, compiled, pool_of(compiled, window))

    def including(self, calendars: Mapping[str, Calendar], chosen: CalendarSet) -> Timing:
        """The same with one more calendar set, if it is new."""
        if chosen in self.index:
            return self
        compiled = (*self.compiled, compile_set(calendars, chosen, self.window))
        index = {**self.index, chosen: len(self.compiled)}
        return Timing(self.window, index, compiled, pool_of(compiled, self.window))


def compile_set(calendars: Mapping[str, Calendar], chosen: CalendarSet, window: Window) -> WorkingTime:
    """When all calendars of the set work. ``CannotSchedule`` names them if they never meet."""
    found = compile_calendar(calendars, chosen[0], window)
    for other in chosen[1:]:
        found = meet(found, compile_calendar(calendars, other, window))
    if not len(found.begins):
        names = " and ".join(f"“{find_calendar(calendars, c).name}”" for c in chosen)
        raise CannotSchedule(f"The calendars {names} never work at the same time.")
    return found


def calendar_set_of(plan: Plan, task: Task) -> CalendarSet:
    """The task's calendar, or its project's, met with those of who is assigned."""
    own = task.calendar or plan.projects[task.project].calendar
    resources = plan.assigned.get(task.id)
    if not resources or plan.is_summary(task.id):
        return (own,)
    others = {c for r in resources if (c := plan.resources[r].calendar) is not None and c != own}
    return (own, *sorted(others))


def resource_calendar(resource: Resource) -> str:
    """The calendar that a resource's capacity is counted on."""
    return resource.calendar or "standard"


def first_window(plan: Plan) -> Window:
    """A window round everything that has been typed, with room for a dozen years of work."""
    times = [p.start for p in plan.projects.values()]
    times += [t for p in plan.projects.values() for t in (p.status_date, p.target_finish) if t is not None]
    for task in plan.tasks.values():
        if task.limits or task.target is not None:
            times += [limit.at for limit in task.limits]
            times += [] if task.target is None else [task.target]
    first, last = (min(times), max(times)) if times else (0, 0)
    return Window(first // DAY - 366, last // DAY + FIRST_SPAN)


def widened(window: Window, early: bool, late: bool) -> Window | None:
    """Twice the room on the sides that ran out; None where the horizon is reached."""
    span = window.last_day - window.first_day
    first = max(window.first_day - span, EARLIEST_DAY) if early else window.first_day
    last = min(window.last_day + span, HORIZON_DAY) if late else window.last_day
    if (early and first == window.first_day) or (late and last == window.last_day):
        return None
    return Window(first, last)
