"""What the arrays of a network say of tasks and links: of all of a plan, or of those that an edit touches.

A column at a time: a plan of a hundred thousand tasks has few kinds of rows. Most have no limit, no person with hours
of their own, and the calendar of their project; only the others are looked at one by one.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from operator import attrgetter
from typing import Any

import numpy as np

from hexapod.plan.plan import Plan
from hexapod.plan.records import Gap, LimitKind, Link, LinkType, OutOfOrder, Task, TaskKind
from hexapod.schedule.arrays import GAPS, LAGS_ON, LINK_TYPES, PERCENT, LinkArrays, Slots, TaskArrays
from hexapod.schedule.codes import DONE, FOREVER, NEVER, REST_GOES_ON, REST_WAITS
from hexapod.schedule.effort import effort_of_task
from hexapod.schedule.timing import TaskTime, Timing, task_time
from hexapod.worktime.calendars import Ints

MILLION = 1_000_000
_TYPES = {kind: LINK_TYPES[kind.value] for kind in LinkType}


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


def task_columns(
    plan: Plan, slots: Slots, projects: Sequence[str], times: Mapping[str, TaskTime], timing: Timing
) -> TaskArrays:
    """Of all tasks, one entry a slot; 0 for those that are not in use."""
    rows = task_rows(list(plan.tasks.values()), plan, slots, projects, times, timing)
    at = slots.of_tasks(plan.tasks)
    return TaskArrays(*(_spread(column, at, len(slots.tasks)) for column in rows))


def link_columns(plan: Plan, slots: Slots) -> LinkArrays:
    """Of all links, one entry a slot; 0 for those that are not in use."""
    rows = link_rows(list(plan.links.values()), plan, slots)
    at = slots.of_links(plan.links)
    return LinkArrays(*(_spread(column, at, len(slots.links)) for column in rows))


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
    project = list(map(attrgetter("project"), tasks))
    worked = [times[t.id] for t in tasks]
    never, forever = np.full(len(tasks), NEVER), np.full(len(tasks), FOREVER)
    rows = TaskArrays(
        alive=np.ones(len(tasks), dtype=np.int64),
        parent=_ints(-1 if t.parent is None else slots.of_task[t.parent] for t in tasks),
        project=_ints(map(index.__getitem__, project)),
        calendar=_ints(timing.index[w.own] for w in worked),
        crew=_ints(timing.crews[w.crew] for w in worked),
        duration=_ints(map(attrgetter("minutes"), tasks)),
        hold=_ints(map(attrgetter("hold"), tasks)),
        base=_ints(map(base.__getitem__, project)),
        start_from=never,
        finish_from=never.copy(),
        start_until=forever,
        finish_until=forever.copy(),
        span=_ints(t.kind is TaskKind.SPAN for t in tasks),
        late=_ints(map(attrgetter("as_late_as_possible"), tasks)),
        percent=_ints(round(t.percent * MILLION) if t.percent else 0 for t in tasks),
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


def link_rows(links: Sequence[Link], plan: Plan, slots: Slots) -> LinkArrays:
    """The columns of some links, one entry each, in their order."""
    of_project = {p.id: GAPS[p.gap] for p in plan.projects.values()}
    gaps = _ints(of_project[plan.tasks[x.successor].project] if x.gap is None else GAPS[x.gap] for x in links)
    return LinkArrays(
        alive=np.ones(len(links), dtype=np.int64),
        predecessor=_ints(slots.of_task[x.predecessor] for x in links),
        successor=_ints(slots.of_task[x.successor] for x in links),
        type=_ints(_TYPES[x.type] for x in links),
        lag=_ints(map(attrgetter("lag"), links)),
        lag_on=_ints(LAGS_ON[x.lag_on] for x in links),
        percent=_ints(round(x.lag_percent * PERCENT) if x.lag_percent else 0 for x in links),
        gap=gaps,
        kept=np.where(gaps == GAPS[Gap.KEEP], _ints(map(attrgetter("gap_kept"), links)), 0),
    )


def _ints(values: Iterable[Any]) -> Ints:
    return np.array(list(values), dtype=np.int64)


def _spread(values: Ints, at: Ints, size: int) -> Ints:
    found = np.zeros(size, dtype=np.int64)
    found[at] = values
    return found
