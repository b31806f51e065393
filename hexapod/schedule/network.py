"""The plan as arrays: a slot per task and per link, brought up to date from what an edit changed.

A task keeps its slot for as long as the program runs, also while it is deleted, so that undo finds it
again. Arrays are copied before they are changed: every network stays what it was.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from hexapod.plan.changes import Changes
from hexapod.plan.plan import Plan
from hexapod.plan.records import LimitKind, Link, Project, Task
from hexapod.schedule.arrays import Interning, LinkArrays, TaskArrays
from hexapod.schedule.codes import FOREVER, NEVER
from hexapod.schedule.structure import Structure
from hexapod.schedule.timing import (
    CalendarSet,
    Timing,
    calendar_set_of,
    first_window,
    resource_calendar,
    widened,
)
from hexapod.worktime.calendars import Window

LINK_TYPES = {"FS": 0, "SS": 1, "FF": 2, "SF": 3}


STRUCTURAL = {"alive", "parent"}


@dataclass(frozen=True)
class Network:
    plan: Plan
    interning: Interning
    tasks: TaskArrays
    links: LinkArrays
    projects: tuple[str, ...]
    timing: Timing
    structure: Structure

    @property
    def size(self) -> int:
        """How many slots there are, dead ones included."""
        return len(self.tasks.alive)

    @staticmethod
    def of(plan: Plan, window: Window | None = None, interning: Interning | None = None) -> Network:
        """The network of a whole plan. ``EditRefused`` if its links form a loop."""
        interning = interning or Interning({}, [], {}, [])
        projects = tuple(project.id for project in plan.projects_in_order())
        sets = {task.id: calendar_set_of(plan, task) for task in plan.tasks.values()}
        used = {*sets.values(), *((p.calendar,) for p in plan.projects.values())}
        used |= {(resource_calendar(r),) for r in plan.resources.values()}
        timing = Timing.of(plan.calendars, used, window or first_window(plan))
        for task_id in plan.tasks:
            interning.slot(task_id)
        for key in plan.links:
            interning.link_slot(key)
        tasks = _filled(TaskArrays, len(interning.ids))
        project_index = {p: i for i, p in enumerate(projects)}
        if plan.tasks:
            at = [interning.slots[t] for t in plan.tasks]
            rows = [
                _task_row(task, plan.projects[task.project], interning, project_index, timing.index[sets[task.id]])
                for task in plan.tasks.values()
            ]
            for column, values in zip(tasks, np.array(rows).T, strict=True):
                column[at] = values
        links = _filled(LinkArrays, len(interning.link_keys))
        if plan.links:
            at = [interning.link_slots[key] for key in plan.links]
            link_rows = [_link_row(link, interning) for link in plan.links.values()]
            for column, values in zip(links, np.array(link_rows).T, strict=True):
                column[at] = values
        return Network(plan, interning, tasks, links, projects, timing, Structure.of(tasks, links, interning, plan))

    def patched(self, plan: Plan, changes: Changes) -> Network:
        """The network of ``plan``, which differs from this one's plan by ``changes``."""
        if changes.calendars or changes.projects or _calendar_moved(changes):
            return Network.of(plan, interning=self.interning)
        interning, timing = self.interning, self.timing
        project_index = {p: i for i, p in enumerate(self.projects)}
        touched = _touched_tasks(plan, changes)
        for task_id in touched:
            interning.slot(task_id)
        tasks = _CopyOnWrite(self.tasks, len(interning.ids))
        for task_id in touched:
            task = plan.tasks.get(task_id)
            if task is None:
                tasks.put("alive", interning.slots[task_id], 0)
                continue
            chosen: CalendarSet = calendar_set_of(plan, task)
            timing = timing.including(plan.calendars, chosen)
            row = _task_row(task, plan.projects[task.project], interning, project_index, timing.index[chosen])
            tasks.put_row(interning.slots[task_id], row)
        for _, resource in changes.resources:
            if resource is not None:
                timing = timing.including(plan.calendars, (resource_calendar(resource),))
        for before, after in changes.links:
            interning.link_slot((after or before).key)  # type: ignore[union-attr]
        links = _CopyOnWrite(self.links, len(interning.link_keys))
        for before, after in changes.links:
            if after is None:
                assert before is not None
                links.put("alive", interning.link_slots[before.key], 0)
            else:
                links.put_row(interning.link_slots[after.key], _link_row(after, interning))
        task_arrays: TaskArrays = tasks.finish()
        link_arrays: LinkArrays = links.finish()
        structure = self.structure
        if changes.links or tasks.copied & STRUCTURAL or len(interning.ids) != self.size:
            lags_only = not tasks.copied & STRUCTURAL and links.copied <= {"lag"} and len(interning.ids) == self.size
            structure = (
                structure.with_lags(link_arrays.lag)
                if lags_only
                else Structure.of(task_arrays, link_arrays, interning, plan)
            )
        return Network(plan, interning, task_arrays, link_arrays, self.projects, timing, structure)

    def widened(self, early: bool, late: bool) -> Network | None:
        """The same over a wider window of days; None at the horizon."""
        window = widened(self.timing.window, early, late)
        if window is None:
            return None
        return replace(self, timing=Timing.of(self.plan.calendars, self.timing.index, window)).with_timing_order(
            self.timing.index
        )

    def with_timing_order(self, old: dict[CalendarSet, int]) -> Network:
        """Renumber the tasks' calendars after the timing was compiled anew."""
        renumber = np.zeros(len(old), dtype=np.int64)
        for chosen, index in old.items():
            renumber[index] = self.timing.index[chosen]
        return replace(self, tasks=self.tasks._replace(calendar=renumber[self.tasks.calendar]))


class _CopyOnWrite:
    """Columns that are copied when first changed."""

    def __init__(self, arrays: Any, size: int) -> None:
        self._type = type(arrays)
        self._columns: dict[str, NDArray[np.int64]] = arrays._asdict()
        self.copied: set[str] = set()
        missing = size - len(arrays[0])
        if missing:
            for name, column in self._columns.items():
                self._columns[name] = np.concatenate((column, np.zeros(missing, dtype=np.int64)))
            self.copied = set(self._columns)

    def put(self, name: str, slot: int, value: int) -> None:
        if self._columns[name][slot] == value:
            return
        if name not in self.copied:
            self._columns[name] = self._columns[name].copy()
            self.copied.add(name)
        self._columns[name][slot] = value

    def put_row(self, slot: int, row: tuple[int, ...]) -> None:
        for name, value in zip(self._columns, row, strict=True):
            self.put(name, slot, value)

    def finish(self) -> Any:
        return self._type(**self._columns)


def _filled(arrays: Any, size: int) -> Any:
    return arrays(*(np.zeros(size, dtype=np.int64) for _ in arrays._fields))


def _task_row(
    task: Task, project: Project, interning: Interning, project_index: dict[str, int], calendar: int
) -> tuple[int, ...]:
    base = project.start if project.status_date is None else max(project.start, project.status_date)
    start_from, finish_from, start_until, finish_until = NEVER, NEVER, FOREVER, FOREVER
    for limit in task.limits:
        kind, at = limit.kind, limit.at
        if kind in (LimitKind.START_NO_EARLIER, LimitKind.MUST_START):
            start_from = max(start_from, at)
        if kind in (LimitKind.FINISH_NO_EARLIER, LimitKind.MUST_FINISH):
            finish_from = max(finish_from, at)
        if kind in (LimitKind.START_NO_LATER, LimitKind.MUST_START):
            start_until = min(start_until, at)
        if kind in (LimitKind.FINISH_NO_LATER, LimitKind.MUST_FINISH):
            finish_until = min(finish_until, at)
    if task.target is not None:
        finish_until = min(finish_until, task.target)
    return (
        1,
        -1 if task.parent is None else interning.slot(task.parent),
        project_index[task.project],
        calendar,
        task.minutes,
        task.hold,
        base,
        start_from,
        finish_from,
        start_until,
        finish_until,
    )


def _link_row(link: Link, interning: Interning) -> tuple[int, ...]:
    return (
        1,
        interning.slots[link.predecessor],
        interning.slots[link.successor],
        LINK_TYPES[link.type.value],
        link.lag,
    )


def _calendar_moved(changes: Changes) -> bool:
    return any(
        before is not None and after is not None and before.calendar != after.calendar
        for before, after in changes.resources
    )


def _touched_tasks(plan: Plan, changes: Changes) -> list[str]:
    """Tasks whose arrays may differ: changed, newly a summary or no longer one, or assigned anew."""
    touched: dict[str, None] = {}
    for before, after in changes.tasks:
        for task in (before, after):
            if task is not None:
                touched[task.id] = None
                if task.parent is not None:
                    touched[task.parent] = None
    for assigned in changes.assignments:
        for assignment in assigned:
            if assignment is not None:
                touched[assignment.task] = None
    return list(touched)
