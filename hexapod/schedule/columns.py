"""The arrays of a whole plan, a column at a time: what ``Network`` fills row by row for what an edit touches.

A plan of a hundred thousand tasks has few kinds of rows: most have no limit, no person with hours of their own, and the
calendar of their project. What is the same for all is written at once; only the others are looked at one by one.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from operator import attrgetter
from typing import Any

import numpy as np

from hexapod.plan.plan import Plan
from hexapod.plan.records import Gap, Link, LinkType, Task, TaskKind
from hexapod.schedule.arrays import GAPS, LAGS_ON, LINK_TYPES, PERCENT, LinkArrays, Slots, TaskArrays
from hexapod.schedule.codes import FOREVER, NEVER
from hexapod.schedule.timing import TaskTime, Timing, task_time
from hexapod.worktime.calendars import Ints

_TYPES = {kind: LINK_TYPES[kind.value] for kind in LinkType}
_NO_GAP = -1


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
    plan: Plan, slots: Slots, projects: Sequence[str], times: dict[str, TaskTime], timing: Timing
) -> TaskArrays:
    """One entry a slot; 0 for those that are not in use."""
    tasks = list(plan.tasks.values())
    at = _ints(slots.of_task[t.id] for t in tasks)
    index = {p: i for i, p in enumerate(projects)}
    base = {p.id: p.start if p.status_date is None else max(p.start, p.status_date) for p in plan.projects.values()}
    project = list(map(attrgetter("project"), tasks))
    worked = [times[t.id] for t in tasks]
    never, forever = np.full(len(tasks), NEVER), np.full(len(tasks), FOREVER)
    columns = TaskArrays(
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
        percent=_ints(round(t.percent * 100) if t.percent else 0 for t in tasks),
    )
    _put_limits(tasks, columns)
    return TaskArrays(*(_spread(column, at, len(slots.tasks)) for column in columns))


def _put_limits(tasks: Sequence[Task], columns: TaskArrays) -> None:
    from hexapod.schedule.network import bounds_of

    bounded = (columns.start_from, columns.finish_from, columns.start_until, columns.finish_until)
    for i, task in enumerate(tasks):
        if task.limits or task.target is not None:
            for column, value in zip(bounded, bounds_of(task), strict=True):
                column[i] = value


def link_columns(plan: Plan, slots: Slots, tasks: TaskArrays, projects: Sequence[str]) -> LinkArrays:
    """One entry a link slot; 0 for those that are not in use."""
    links: list[Link] = list(plan.links.values())
    at = _ints(slots.of_link[key] for key in plan.links)
    successor = _ints(slots.of_task[x.successor] for x in links)
    gaps = _ints(_NO_GAP if x.gap is None else GAPS[x.gap] for x in links)
    of_project = np.array([GAPS[plan.projects[p].gap] for p in projects], dtype=np.int64)
    if len(links):
        gaps = np.where(gaps == _NO_GAP, of_project[tasks.project[successor]], gaps)
    columns = LinkArrays(
        alive=np.ones(len(links), dtype=np.int64),
        predecessor=_ints(slots.of_task[x.predecessor] for x in links),
        successor=successor,
        type=_ints(_TYPES[x.type] for x in links),
        lag=_ints(map(attrgetter("lag"), links)),
        lag_on=_ints(LAGS_ON[x.lag_on] for x in links),
        percent=_ints(round(x.lag_percent * PERCENT) if x.lag_percent else 0 for x in links),
        gap=gaps,
        kept=np.where(gaps == GAPS[Gap.KEEP], _ints(map(attrgetter("gap_kept"), links)), 0),
    )
    return LinkArrays(*(_spread(column, at, len(slots.links)) for column in columns))


def _ints(values: Iterable[Any]) -> Ints:
    return np.array(list(values), dtype=np.int64)


def _spread(values: Ints, at: Ints, size: int) -> Ints:
    found = np.zeros(size, dtype=np.int64)
    found[at] = values
    return found
