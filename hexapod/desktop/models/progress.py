"""How far a task is, in words: for tooltips, screen readers and the side."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence

from hexapod.control.mine import people_waited_for
from hexapod.desktop import dates
from hexapod.desktop.models.desk import Desk
from hexapod.fields.actual import latest_actual
from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Plan
from hexapod.plan.records import Resource, Task
from hexapod.schedule.schedule import computed_dates
from hexapod.schedule.states import Late, State


def begin_as_planned(desk: Desk, task_ids: Iterable[str]) -> Edit | None:
    """Each leaf that has not begun did so where it was planned to, at most now; None where there is none, or where that
    is not worked out yet."""
    known, plan = computed_dates(desk.schedule), desk.plan
    leaves = dict.fromkeys(t for row in task_ids for t in plan.branch(row) if not plan.is_summary(t))
    if known is None:
        return None
    ahead = [t for t in leaves if plan.tasks[t].actual_start is None and known.has(t)]
    if not ahead:
        return None
    steps = []
    for task in ahead:
        planned = int(known.planned.start[known.slots[task]])
        steps.append(edits.begin(plan, [task], min(planned, latest_actual(plan, plan.tasks[task].project))))
    return steps[0] if len(steps) == 1 else edits.together(f"{len(steps)} tasks begun", steps)


def progress_words(desk: Desk, task_id: str) -> list[str]:
    """What there is to say of how far a task is, in few words; nothing of what is simply not begun."""
    task, found = desk.plan.tasks[task_id], []
    if desk.plan.is_summary(task_id):
        percent = desk.percent(task_id)
        return [f"{percent:.0f} % done"] if percent else []
    if task.is_done:
        return ["done"]
    if task.is_begun:
        found.append(f"{desk.length(task.rest, task_id)} left of {desk.length(task.minutes, task_id)}")
    late = late_words(desk, task_id)
    return [*found, late] if late else found


def left_words(desk: Desk, task: Task) -> str:
    """What is left of a leaf, in a few words."""
    if task.is_done:
        return "Done"
    if not task.is_begun:
        return "Not begun"
    return f"{desk.length(task.rest, task.id)} left of {desk.length(task.minutes, task.id)}"


def late_words(desk: Desk, task_id: str) -> str:
    """In what way a task is late and by how much; nothing where it is not."""
    known = computed_dates(desk.schedule)
    late = known.late_of(task_id) if known is not None and known.has(task_id) else None
    if late is None:
        return ""
    kind, minutes = late
    by = desk.length(minutes, task_id) if minutes else "a little"
    return {
        Late.TO_FINISH: f"{by} beyond its target",
        Late.TO_BEGIN: f"should have begun {by} ago",
        Late.BEHIND: f"{by} behind",
    }[kind]


def waits_words(plan: Plan, held: Sequence[str], called: Callable[[Resource], str] | None = None) -> str:
    """What a task waits for: the first of what holds it, with who works on that, as people are ``called``."""
    there = [task for task in held if task in plan.tasks]
    if not there:
        return "waits for others"
    who = people_waited_for(plan, there[:1]) if called is not None else []
    by = f" ({called(plan.resources[who[0]])})" if called is not None and who else ""
    more = f" and {len(there) - 1} more" if len(there) > 1 else ""
    return f"waits for {plan.tasks[there[0]].name}{by}{more}"


def state_words(desk: Desk, task: Task) -> str:
    """A sentence on how far a leaf is: when it began or ended, or whether it could begin."""
    if task.actual_start is not None and task.actual_finish is not None:
        if task.actual_start == task.actual_finish:
            return f"Reached {dates.long_day(task.actual_finish)}."
        return f"Began {dates.short_day(task.actual_start)}, ended {dates.long_day(task.actual_finish)}."
    if task.actual_start is not None:
        as_of = "" if task.as_of is None else f"; told as of {dates.short_day(task.as_of)}"
        return f"Began {dates.long_day(task.actual_start)}{as_of}."
    known = computed_dates(desk.schedule)
    if known is None or not known.has(task.id):
        return "Not begun."
    is_ready = known.state_of(task.id) is State.READY
    return "Not begun; it is ready: all that it waits for is done." if is_ready else "Not begun; it waits for others."
