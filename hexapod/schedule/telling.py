"""The actual dates that follow from a per cent, a rest or a finish when it is told, or read: written once.

The actual start is the earliest of where the pass without status dates puts the task, the status date, and so much work
before the actual finish as the task takes. The actual finish is where that pass ends it, at most the later of the
status date and now.
"""

from __future__ import annotations

from msgspec.structs import replace

from hexapod.errors import HexapodError
from hexapod.plan.changes import Changes
from hexapod.plan.plan import Plan
from hexapod.plan.records import Task
from hexapod.plan.telling import WHOLE, follows, lacks_dates, not_begun
from hexapod.schedule.schedule import Dates, Schedule


def told(before: Dates, plan: Plan, changes: Changes, now: int) -> Changes:
    """The changes of an edit with what follows from the progress that it tells. ``plan`` is the one that they make of
    the one whose dates are ``before``, ``now`` the moment in minutes."""
    pairs = [(old, new if new is None or plan.is_summary(new.id) else follows(old, new)) for old, new in changes.tasks]
    missing = [new for _, new in pairs if new is not None and lacks_dates(new) and not plan.is_summary(new.id)]
    if missing:
        dates = _expected(before, plan, changes, missing)
        dated = {task.id: _dated(plan, dates, task, now) for task in missing}
        pairs = [(old, new if new is None else dated.get(new.id, new)) for old, new in pairs]
    is_same = all(a[1] is b[1] for a, b in zip(pairs, changes.tasks, strict=True))
    return changes if is_same else replace(changes, tasks=tuple(pairs))


def told_in_full(plan: Plan, now: int) -> Plan:
    """A plan that was read, with the actual dates that what it tells of its tasks leaves out.

    One that has no dates, since its links form a loop, stays as it is: whoever wants its dates is told.
    """
    leaves = (task for task in plan.tasks.values() if not plan.is_summary(task.id))
    followed = ((task, follows(None, task)) for task in leaves)
    pairs = tuple((old, new) for old, new in followed if old is not new or lacks_dates(new))
    if not pairs:
        return plan
    from hexapod.schedule.engine import schedule

    try:
        before = schedule(plan)
    except HexapodError:
        return plan
    return told(before, plan, Changes(tasks=pairs), now).applied_to(plan)


def _expected(before: Dates, plan: Plan, changes: Changes, missing: list[Task]) -> Dates:
    """The dates of the plan with the tasks whose actual start is missing not begun; the remembered ones, if there are
    no others."""
    if not isinstance(before, Schedule):
        return before
    from hexapod.schedule.engine import reschedule

    open_ones = Changes(tasks=tuple((t, not_begun(t)) for t in missing if t.actual_start is None))
    followed = changes.then(open_ones)
    return reschedule(before, followed.applied_to(before.plan), followed)


def _dated(plan: Plan, dates: Dates, task: Task, now: int) -> Task:
    """The task with the actual dates that it lacks."""
    project = plan.projects[task.project]
    status, begun, end = project.status_date, task.actual_start, task.actual_finish
    start, finish = _planned(dates, task) or (project.start, project.start)
    if end is None and task.percent == WHOLE:
        latest = now if status is None else max(now, status)
        end = max(begun or 0, min(finish, latest))
    if begun is None:
        begun = start if status is None else min(start, status)
        begun = begun if end is None else min(begun, end, _retreated(dates, task, end))
    return replace(task, actual_start=begun, actual_finish=end)


def _planned(dates: Dates, task: Task) -> tuple[int, int] | None:
    """Where the pass without status dates puts a task."""
    if not dates.has(task.id):
        return None
    slot, found = dates.slots[task.id], dates.planned if isinstance(dates, Schedule) else dates
    return int(found.start[slot]), int(found.finish[slot])


def _retreated(dates: Dates, task: Task, end: int) -> int:
    """The start with which a task ends at a moment, where its calendar is known."""
    if not isinstance(dates, Schedule):
        return end
    from hexapod.worktime.arithmetic import retreat

    calendar = dates.network.tasks.calendar[dates.slots[task.id]]
    return int(retreat(dates.network.timing.pool, int(calendar), end, task.minutes))
