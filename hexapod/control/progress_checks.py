"""Checks of what was told of the work: odd dates are taken as they are, and named here.

Sources: DCMA 14-point assessment (2012), points 9, 11 and 14, and GAO-16-89G, practice 9; both from memory. Missed
tasks and the baseline execution index look at the reference baseline of each project, where it has one.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from hexapod.control.checks import Check, Ground
from hexapod.plan.records import Gap, LinkKey
from hexapod.schedule.codes import DONE, FF, FS, NOT_BEGUN, SF, SS
from hexapod.schedule.schedule import Schedule
from hexapod.worktime.arithmetic import next_working, pause_before, shifted, worked

PRACTICE = "GAO-16-89G practice 9"


def _after_status(ground: Ground) -> Iterator[str]:
    for task in ground.tasks:
        status = ground.plan.projects[task.project].status_date
        told = [at for at in (task.actual_start, task.actual_finish) if at is not None]
        if status is not None and any(at > status for at in told):
            yield task.id


def _outside_working_time(ground: Ground) -> Iterator[str]:
    """Milestones aside: they may lie at any moment."""
    network = ground.schedule.network
    pool = network.timing.pool
    for task in ground.tasks:
        if task.actual_start is None or not task.minutes:
            continue
        calendar = int(network.tasks.calendar[ground.slot(task)])
        starts_in_pause = next_working(pool, calendar, task.actual_start) != task.actual_start
        end = task.actual_finish
        ends_in_pause = end is not None and pause_before(pool, calendar, end) < end != task.actual_start
        if starts_in_pause or ends_in_pause:
            yield task.id


def _rest_too_long(ground: Ground) -> Iterator[str]:
    return (task.id for task in ground.tasks if task.is_begun and task.rest > task.minutes)


def _out_of_order(ground: Ground) -> Iterator[LinkKey]:
    found = set(out_of_order(ground.schedule))
    return (key for key in ground.links if key in found)


def out_of_order(schedule: Schedule) -> list[LinkKey]:
    """Links that what was told has not kept: work began, or ended, before what it waits for."""
    network = schedule.network
    plan, shape, tasks, n = network.plan, network.structure, network.tasks, network.size
    pool, slots = network.timing.pool, network.slots
    by_link: dict[LinkKey, None] = {}
    for arc in np.flatnonzero((shape.link >= 0) & (shape.kind <= SF)).tolist():
        head, source, kind = int(shape.head[arc]) % n, int(shape.source[arc]) % n, int(shape.kind[arc])
        link = plan.links[slots.links[int(shape.link[arc])]]
        told = [int(s) for s in _leaves(schedule, head) if tasks.progress[s] != NOT_BEGUN]
        if not told or plan.gap_of(link) is Gap.WARN:
            continue
        counted = int(network.arcs.lag_calendar[arc])
        calendar = int(tasks.calendar[head]) if counted < 0 else counted
        moment = schedule.finish[source] if kind in (FS, FF) else schedule.start[source]
        reached = int(shifted(pool, calendar, int(moment), int(schedule.lag[arc])))
        for slot in told:
            if kind in (FF, SF) and tasks.progress[slot] != DONE:
                continue
            at = int(tasks.actual_start[slot] if kind in (FS, SS) else tasks.actual_finish[slot])
            own = int(tasks.calendar[slot])
            if worked(pool, own, reached) > worked(pool, own, at):
                by_link[link.key] = None
    return list(by_link)


def _leaves(schedule: Schedule, slot: int) -> list[int]:
    network = schedule.network
    if network.structure.leaf[slot]:
        return [slot]
    plan = network.plan
    return [network.slots.of_task[t] for t in plan.branch(network.slots.tasks[slot]) if not plan.is_summary(t)]


def _were_due(ground: Ground) -> list[str]:
    """Tasks that the baseline had finish by the status date of their project."""
    rows, plan = ground.schedule.baseline_rows, ground.plan
    found = []
    for task in ground.tasks:
        status, row = plan.projects[task.project].status_date, rows.get(task.id)
        if status is not None and row is not None and row.finish <= status:
            found.append(task.id)
    return found


def _missed(ground: Ground) -> Iterator[str]:
    """Of what the baseline had finish by now: what ended later, or is to."""
    rows, schedule = ground.schedule.baseline_rows, ground.schedule
    return (t for t in _were_due(ground) if int(schedule.finish[schedule.slots[t]]) > rows[t].finish)


def _missed_part(ground: Ground) -> str:
    due = len(_were_due(ground))
    return f"{sum(1 for _ in _missed(ground)) / due:.0%} of {due}" if due else "no baseline"


def _execution_index(ground: Ground) -> float | None:
    """Tasks that are done, by those that the baseline had finish by now."""
    plan, due = ground.plan, len(_were_due(ground))
    counted = {p.id for p in ground.projects if p.baseline is not None and p.status_date is not None}
    done = sum(1 for t in ground.tasks if plan.tasks[t.id].is_done and t.project in counted)
    return done / due if due else None


def _not_executed(ground: Ground) -> Iterator[str]:
    """What should have finished and is not done, where too little is done."""
    index = _execution_index(ground)
    if index is not None and index < LEAST_EXECUTION:
        yield from (t for t in _were_due(ground) if not ground.plan.tasks[t].is_done)


def _execution_words(ground: Ground) -> str:
    """Cut off after two digits, so that what is too low does not read as if it were not."""
    index = _execution_index(ground)
    return "no baseline" if index is None else f"{math.floor(index * 100) / 100:.2f}"


def _hours_before_begin(ground: Ground) -> Iterator[str]:
    """Hours are logged, and nobody told that it began."""
    logged = ground.plan.logs_on
    return (t.id for t in ground.tasks if t.minutes and t.actual_start is None and logged.get(t.id))


LEAST_EXECUTION, MOST_MISSED = 0.95, 0.05

CHECKS = (
    Check(
        "invalid_dates",
        "Actual dates after the status date",
        "What is told as done lies ahead of the day up to which anybody told.",
        f"DCMA 9, {PRACTICE}",
        _after_status,
    ),
    Check(
        "out_of_order",
        "Begun out of order",
        "It began, or ended, before what it waits for: the link says something else than what happened.",
        PRACTICE,
        _out_of_order,
        of_links=True,
    ),
    Check(
        "outside_working_time",
        "Actual dates outside working time",
        "Nobody works then by the calendar: the date or the calendar is wrong.",
        PRACTICE,
        _outside_working_time,
    ),
    Check(
        "long_rest",
        "More left than it was to take",
        "It grew while it was worked on; its duration does not say so.",
        PRACTICE,
        _rest_too_long,
    ),
    Check(
        "missed_tasks",
        "Missed tasks",
        "The baseline had them finish by now, and they ended later, or will.",
        "DCMA 11",
        _missed,
        threshold=f"at most {MOST_MISSED:.0%} of what was due",
        figure=_missed_part,
        passes=lambda ground, found: found <= MOST_MISSED * len(_were_due(ground)),
    ),
    Check(
        "execution_index",
        "Baseline execution index",
        "As many tasks should be done as the baseline had finish by now.",
        "DCMA 14",
        _not_executed,
        threshold=f"at least {LEAST_EXECUTION}",
        figure=_execution_words,
    ),
    Check(
        "hours_before_begin",
        "Hours on what has not begun",
        "Somebody worked on it, and nobody told that it began.",
        PRACTICE,
        _hours_before_begin,
    ),
)
