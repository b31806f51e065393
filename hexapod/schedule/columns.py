"""What the arrays of a network say of tasks and links: of all of a plan, or of those that an edit touches.

A column at a time: a plan of a hundred thousand tasks has few kinds of rows. Most have no limit, no person with hours
of their own, and the calendar of their project; only the others are looked at one by one.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from itertools import repeat
from operator import is_
from typing import Any, TypeVar

import numpy as np

from hexapod.plan.in_memory import values_of
from hexapod.plan.plan import Plan
from hexapod.plan.records import Gap, LimitKind, Link, OutOfOrder, Task, TaskKind
from hexapod.schedule.arrays import GAPS, LAGS_ON, LINK_TYPES, PERCENT, LinkArrays, Slots, TaskArrays
from hexapod.schedule.codes import DONE, FOREVER, NEVER, REST_GOES_ON, REST_WAITS
from hexapod.schedule.effort import effort_of_task
from hexapod.schedule.timing import TaskTime, Timing, task_time
from hexapod.worktime.calendars import Ints

MILLION = 1_000_000
Arrays = TypeVar("Arrays", TaskArrays, LinkArrays)
_LAGS_ON = {counted.value: number for counted, number in LAGS_ON.items()}


def task_times(plan: Plan) -> dict[str, TaskTime]:
    """When each task is worked, as ``task_time`` says of one."""
    with_hours = {r.id for r in plan.resources.values() if r.leave or r.calendar is not None}
    slow = {task for resource in with_hours for task in plan.used_by.get(resource, ())}
    known: dict[str, TaskTime] = {}
    found: dict[str, TaskTime] = {}
    for project in plan.projects.values():
        waiting = [(project.calendar, plan.children_of(project.id, None))]
        while waiting:
            above, rows = waiting.pop()
            for task_id in rows:
                task = plan.tasks[task_id]
                inherited = task.calendar or above
                own = "always" if task.elapsed else inherited
                if own not in known:
                    known[own] = TaskTime((own,))
                found[task_id] = task_time(plan, task) if task_id in slow else known[own]
                below = plan.children.get((project.id, task_id))
                if below:
                    waiting.append((inherited, below))
    return found


def task_rows(
    tasks: Sequence[Task],
    plan: Plan,
    slots: Slots,
    projects: Sequence[str],
    times: Mapping[str, TaskTime],
    timing: Timing,
) -> TaskArrays:
    """The columns of some tasks, one entry each, in their order."""
    index = {p: i for i, p in enumerate(projects)}
    base = {p.id: p.start if p.status_date is None else max(p.start, p.status_date) for p in plan.projects.values()}
    project = list(values_of(tasks, "project"))
    worked = list(map(times.__getitem__, values_of(tasks, "id")))
    never, forever = np.full(len(tasks), NEVER), np.full(len(tasks), FOREVER)
    rows = TaskArrays(
        alive=np.ones(len(tasks), dtype=np.int64),
        parent=_ints(map(slots.of_task.get, values_of(tasks, "parent"), repeat(-1))),  # no task is called None
        project=_ints(map(index.__getitem__, project)),
        calendar=_ints(map(timing.index.__getitem__, values_of(worked, "own"))),
        crew=_ints(map(timing.crews.__getitem__, values_of(worked, "crew"))),
        duration=_ints(values_of(tasks, "minutes")),
        hold=_ints(values_of(tasks, "hold")),
        base=_ints(map(base.__getitem__, project)),
        start_from=never,
        finish_from=never.copy(),
        start_until=forever,
        finish_until=forever.copy(),
        span=_ints(map(is_, values_of(tasks, "kind"), repeat(TaskKind.SPAN))),
        late=_ints(values_of(tasks, "as_late_as_possible")),
        percent=_parts(values_of(tasks, "percent"), MILLION),
        target=_ints(FOREVER if t.target is None else t.target for t in tasks),
        effort=_ints(effort_of_task(plan, t) if t.effort or t.id in plan.assigned else 0 for t in tasks),
        progress=np.zeros(len(tasks), dtype=np.int64),
        actual_start=never.copy(),
        actual_finish=never.copy(),
        rest=np.zeros(len(tasks), dtype=np.int64),
        as_of=never.copy(),
        rest_from=never.copy(),
    )
    bounded = (rows.start_from, rows.finish_from, rows.start_until, rows.finish_until)
    for i, task in enumerate(tasks):
        if task.limits or task.target is not None:
            for column, value in zip(bounded, _bounds_of(task), strict=True):
                column[i] = value
        if task.actual_start is not None:
            _put_progress(rows, i, task, plan)
    return rows


def _put_progress(rows: TaskArrays, i: int, task: Task, plan: Plan) -> None:
    """What was told of a leaf; limits on its start, holds and lateness no longer act on it."""
    if plan.is_summary(task.id):
        return
    assert task.actual_start is not None
    project = plan.projects[task.project]
    rows.hold[i] = rows.late[i] = 0
    rows.start_from[i], rows.start_until[i] = NEVER, FOREVER
    rows.actual_start[i] = task.actual_start
    if task.actual_finish is not None:
        rows.progress[i], rows.actual_finish[i] = DONE, task.actual_finish
        rows.finish_from[i], rows.finish_until[i] = NEVER, FOREVER
        return
    rows.progress[i] = REST_WAITS if project.out_of_order is OutOfOrder.WAITS else REST_GOES_ON
    rows.rest[i] = task.rest
    if task.as_of is not None:
        rows.as_of[i] = task.as_of
    said = [moment for moment in (project.status_date, task.as_of) if moment is not None]
    if said:
        rows.rest_from[i] = max(task.actual_start, *said)


def _bounds_of(task: Task) -> tuple[int, int, int, int]:
    """The bounds that the limits of a task set: earliest start and finish, latest start and finish."""
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
    return start_from, finish_from, start_until, finish_until


def link_rows(
    links: Sequence[Link], plan: Plan, slots: Slots, projects: Sequence[str], tasks: TaskArrays
) -> LinkArrays:
    """The columns of some links, one entry each, in their order."""
    successor = _ints(map(slots.of_task.__getitem__, values_of(links, "successor")))
    gaps = _ints(GAPS[plan.projects[p].gap] for p in projects)[tasks.project[successor]]
    for i, gap in enumerate(values_of(links, "gap")):
        if gap is not None:
            gaps[i] = GAPS[gap]
    return LinkArrays(
        alive=np.ones(len(links), dtype=np.int64),
        predecessor=_ints(map(slots.of_task.__getitem__, values_of(links, "predecessor"))),
        successor=successor,
        type=_ints(map(LINK_TYPES.__getitem__, values_of(links, "type._value_"))),  # the quick way to the plain text
        lag=_ints(values_of(links, "lag")),
        lag_on=_ints(map(_LAGS_ON.__getitem__, values_of(links, "lag_on._value_"))),
        percent=_parts(values_of(links, "lag_percent"), PERCENT),
        gap=gaps,
        kept=np.where(gaps == GAPS[Gap.KEEP], _ints(values_of(links, "gap_kept")), 0),
    )


def _parts(values: Iterable[float], of_one: int) -> Ints:
    """Whole parts, so many to one."""
    found: Ints = np.rint(np.array(list(values), dtype=np.float64) * of_one).astype(np.int64)
    return found


def _ints(values: Iterable[Any]) -> Ints:
    return np.array(list(values), dtype=np.int64)


def spread(rows: Arrays, at: Ints, size: int) -> Arrays:
    """Columns of ``size`` slots with the values of some rows at their slots, and 0 in those that are not in use."""
    found = np.zeros((len(rows), size), dtype=np.int64)
    for column, values in zip(found, rows, strict=True):
        column[at] = values
    return type(rows)(*found)
