"""Moving a bar: the edits that put a task, or what has not begun of a branch, at another date."""

from __future__ import annotations

from msgspec.structs import replace

from hexapod.errors import EditRefused
from hexapod.plan.edits import Edit, set_limit, together
from hexapod.plan.plan import Draft, Plan
from hexapod.plan.records import Limit, LimitKind, Task
from hexapod.schedule.schedule import Schedule
from hexapod.worktime.arithmetic import next_working, shifted, worked


def moved_to(schedule: Schedule, task_id: str, at: int) -> Edit:
    """The task starts not before ``at``; of a summary, what has not begun is shifted by as much.

    Logic still wins: what waits for something stays behind it. ``EditRefused`` if nothing of it can move.
    """
    network = schedule.network
    plan = network.plan
    if not plan.is_summary(task_id):
        refuse_what_began(plan.tasks[task_id])
        edit = set_limit(plan, task_id, LimitKind.START_NO_EARLIER, on_its_calendar(schedule, task_id, at))
        return Edit(f"“{plan.tasks[task_id].name}” starts no earlier", edit.change)
    pool, calendar = network.timing.pool, network.timing.index[(plan.projects[plan.tasks[task_id].project].calendar,)]
    start = int(schedule.start[schedule.slots[task_id]])
    by = int(worked(pool, calendar, at) - worked(pool, calendar, start))
    branch = plan.branch(task_id)
    leaves = [t for t in branch if not plan.is_summary(t) and plan.tasks[t].actual_start is None]
    if not leaves:
        raise EditRefused(f"All of “{plan.tasks[task_id].name}” has begun already.")
    inside = set(branch)
    shifted_leaves = (_shifted_leaf(schedule, plan, t, by, inside) for t in leaves)
    changes = [change for change in shifted_leaves if change is not None]
    return together(f"Shift “{plan.tasks[task_id].name}”", changes)


def refuse_what_began(task: Task) -> None:
    """``EditRefused`` for a task whose start is a fact."""
    if task.is_done:
        raise EditRefused(f"“{task.name}” is done, and stays where it was.")
    if task.is_begun:
        raise EditRefused(f"“{task.name}” has begun, so its start stays; say what is left of it, or when it began.")


def on_its_calendar(schedule: Schedule, task_id: str, at: int) -> int:
    """The next moment from ``at`` on in which the task's calendar works; a milestone stays at the moment."""
    network = schedule.network
    slot = schedule.slots[task_id]
    if not network.tasks.duration[slot]:
        return at
    return int(next_working(network.timing.pool, int(network.tasks.calendar[slot]), at))


def _shifted_leaf(schedule: Schedule, plan: Plan, task_id: str, by: int, inside: set[str]) -> Edit | None:
    """A leaf that nothing in its branch holds gets a limit; limits that it has move along."""
    network = schedule.network
    task, slot = plan.tasks[task_id], schedule.slots[task_id]
    pool, calendar = network.timing.pool, int(network.tasks.calendar[slot])
    limits = tuple(_moved(limit, int(shifted(pool, calendar, limit.at, by))) for limit in task.limits)
    waits = any(link.predecessor in inside for t in (task_id, *plan.ancestors(task_id)) for link in plan.links_into(t))
    if not waits:
        start = int(schedule.start[slot])
        at = int(shifted(pool, calendar, start, by))
        if next_working(pool, calendar, start) == start:  # it began with work: so it does there
            at = int(next_working(pool, calendar, at))
        others = tuple(limit for limit in limits if limit.kind is not LimitKind.START_NO_EARLIER)
        limits = (*others, Limit(LimitKind.START_NO_EARLIER, at))
    return None if limits == task.limits else _with_limits(task, limits)


def _moved(limit: Limit, at: int) -> Limit:
    """Only what holds the start back moves; a date that must be met is somebody's word."""
    is_moved = limit.kind in (LimitKind.START_NO_EARLIER, LimitKind.FINISH_NO_EARLIER)
    return replace(limit, at=at) if is_moved else limit


def _with_limits(task: Task, limits: tuple[Limit, ...]) -> Edit:
    def change(draft: Draft) -> None:
        draft.put(replace(draft.task(task.id), limits=limits))

    return Edit(f"Limit the dates of “{task.name}”", change)


def stretched_from(schedule: Schedule, task_id: str, at: int) -> tuple[Edit, int]:
    """The task starts at ``at`` and ends when it does: its new duration is with the edit."""
    from hexapod.plan.edits import set_durations

    network = schedule.network
    plan, slot = network.plan, schedule.slots[task_id]
    refuse_what_began(plan.tasks[task_id])
    pool, calendar = network.timing.pool, int(network.tasks.calendar[slot])
    at = on_its_calendar(schedule, task_id, at)
    finish = int(schedule.finish[slot])
    duration = int(worked(pool, calendar, finish) - worked(pool, calendar, at))
    if duration <= 0:
        raise EditRefused("It would end before it starts.")
    limit = set_limit(plan, task_id, LimitKind.START_NO_EARLIER, at)
    name = plan.tasks[task_id].name
    both = together(f"“{name}” starts elsewhere, and ends as before", [limit, set_durations(plan, [task_id], duration)])
    return both, duration
