"""Calendars as the network needs them: each set that must agree (task and who works on it) as one."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, NamedTuple

import numpy as np

from hexapod.errors import CannotSchedule
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY, Calendar, Resource, Task
from hexapod.worktime.calendars import (
    CalendarPool,
    Ints,
    Window,
    WorkingTime,
    compile_calendar,
    find_calendar,
    meet,
    pool_of,
)

CalendarSet = tuple[str, ...]
ROUND_THE_CLOCK: CalendarSet = ("always",)

_WORK, _CAPACITY = "\0work ", "\0capacity "  # calendars of resources with leave of their own

EARLIEST_DAY = -62_091  # 1800-01-01
HORIZON_DAY = 105_190  # 2258: dates beyond are an error
FIRST_SPAN = 12 * 366


class CalendarBook(Mapping[str, Calendar]):
    """The calendars of a plan, and those that follow from what its resources say of their leave."""

    def __init__(self, plan: Plan) -> None:
        self._plan = plan

    def __getitem__(self, calendar_id: str) -> Calendar:
        for prefix, usual in ((_WORK, "always"), (_CAPACITY, "standard")):
            if calendar_id.startswith(prefix):
                resource = self._plan.resources[calendar_id.removeprefix(prefix)]
                return Calendar(calendar_id, resource.name, resource.calendar or usual, exceptions=resource.leave)
        return self._plan.calendars[calendar_id]

    def __iter__(self) -> Iterator[str]:
        return iter(self._plan.calendars)

    def __len__(self) -> int:
        return len(self._plan.calendars)


@dataclass(frozen=True)
class Timing:
    """The calendar sets in use, their index in the pool, and the window of days they are compiled for.

    A *crew* is the sets of several resources who share a task but not their working time. The calendars of
    crew c are ``crew_calendars[crew_into[c]]`` up to ``crew_into[c + 1]``; crew 0 is empty.
    """

    window: Window
    index: dict[CalendarSet, int]
    compiled: tuple[WorkingTime, ...]
    pool: CalendarPool
    crews: dict[tuple[CalendarSet, ...], int]
    crew_into: Ints
    crew_calendars: Ints

    @staticmethod
    def of(
        calendars: Mapping[str, Calendar],
        sets: Iterable[CalendarSet],
        window: Window,
        crews: Iterable[tuple[CalendarSet, ...]] = (),
    ) -> Timing:
        teams = sorted({(), *crews})
        ordered = sorted({*sets, *(chosen for crew in teams for chosen in crew)})
        return Timing.in_order(calendars, ordered, teams, window)

    @staticmethod
    def in_order(
        calendars: Mapping[str, Calendar],
        sets: Sequence[CalendarSet],
        crews: Sequence[tuple[CalendarSet, ...]],
        window: Window,
    ) -> Timing:
        """Of calendar sets and crews that are numbered as they come; the first crew is empty."""
        compiled = tuple(compile_set(calendars, chosen, window) for chosen in sets)
        index = {s: i for i, s in enumerate(sets)}
        return _timing(window, index, compiled, pool_of(compiled, window), {crew: i for i, crew in enumerate(crews)})

    def including(self, calendars: Mapping[str, Calendar], task: TaskTime) -> Timing:
        """The same with the calendar sets of one more task, where they are new."""
        new = [chosen for chosen in dict.fromkeys((task.own, *task.crew)) if chosen not in self.index]
        if not new and task.crew in self.crews:
            return self
        compiled, index, pool = self.compiled, self.index, self.pool
        if new:
            compiled = (*compiled, *(compile_set(calendars, chosen, self.window) for chosen in new))
            index = {**index, **{chosen: len(index) + i for i, chosen in enumerate(new)}}
            pool = pool_of(compiled, self.window)
        return _timing(self.window, index, compiled, pool, {**self.crews, **_one_more(self.crews, task.crew)})


def _one_more(crews: dict[tuple[CalendarSet, ...], int], crew: tuple[CalendarSet, ...]) -> dict[Any, int]:
    return {} if crew in crews else {crew: len(crews)}


def _timing(
    window: Window,
    index: dict[CalendarSet, int],
    compiled: tuple[WorkingTime, ...],
    pool: CalendarPool,
    crews: dict[tuple[CalendarSet, ...], int],
) -> Timing:
    sizes = np.cumsum([0, *(len(crew) for crew in crews)], dtype=np.int64)
    flat = np.array([index[chosen] for crew in crews for chosen in crew], dtype=np.int64)
    return Timing(window, index, compiled, pool, crews, sizes, flat)


class TaskTime(NamedTuple):
    """When a task is worked: its calendar set, and those of its crew where they are not all the same."""

    own: CalendarSet
    crew: tuple[CalendarSet, ...] = ()


def compile_set(calendars: Mapping[str, Calendar], chosen: CalendarSet, window: Window) -> WorkingTime:
    """When all calendars of the set work. ``CannotSchedule`` names them if they never meet."""
    found = compile_calendar(calendars, chosen[0], window)
    for other in chosen[1:]:
        found = meet(found, compile_calendar(calendars, other, window))
    if not len(found.begins):
        names = " and ".join(f"“{find_calendar(calendars, c).name}”" for c in chosen)
        raise CannotSchedule(f"The calendars {names} never work at the same time.")
    return found


def own_calendar(plan: Plan, task: Task) -> str:
    """The task's calendar, or that of the nearest summary with one, or its project's; elapsed: round the clock."""
    if task.elapsed:
        return "always"
    above: Task | None = task
    while above is not None:
        if above.calendar is not None:
            return above.calendar
        above = plan.tasks.get(above.parent) if above.parent is not None else None
    return plan.projects[task.project].calendar


def task_time(plan: Plan, task: Task) -> TaskTime:
    """Each assignment runs where the task's calendar and its resource's meet."""
    own = own_calendar(plan, task)
    resources = plan.assigned.get(task.id)
    if not resources or task.elapsed or plan.is_summary(task.id):
        return TaskTime((own,))
    sets = sorted({assignment_set(own, plan.resources[r]) for r in resources})
    return TaskTime(sets[0]) if len(sets) == 1 else TaskTime((own,), tuple(sets))


def assignment_set(own: str, resource: Resource) -> CalendarSet:
    """The calendars that an assignment of the resource to a task of calendar ``own`` needs."""
    other = _WORK + resource.id if resource.leave else resource.calendar
    return (own,) if other is None or other == own else (own, other)


def resource_calendar(resource: Resource) -> str:
    """The calendar that a resource's capacity is counted on."""
    return _CAPACITY + resource.id if resource.leave else resource.calendar or "standard"


def first_window(plan: Plan) -> Window:
    """A window round everything that has been typed, with room for a dozen years of work."""
    times = [p.start for p in plan.projects.values()]
    times += [t for p in plan.projects.values() for t in (p.status_date, p.target_finish, p.finish) if t is not None]
    for task in plan.tasks.values():
        if task.limits or task.target is not None:
            times += [limit.at for limit in task.limits]
            times += [] if task.target is None else [task.target]
        if task.actual_start is not None:
            times += [t for t in (task.actual_start, task.actual_finish, task.as_of) if t is not None]
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
