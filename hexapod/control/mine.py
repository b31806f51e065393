"""Own work: what somebody has to do now, today, this week and next, what she waits for, and her milestones.

Everything is derived from the dates and from what was told; nothing is kept but errands.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY, Errand, LinkType, Task, TaskKind
from hexapod.schedule.schedule import Schedule
from hexapod.schedule.states import Late, State

WEEK = 7 * DAY
MONDAY = 4 * DAY  # 1970-01-05, from which weeks are counted


class When(StrEnum):
    """In which part of a morning's list a task stands: the first that applies."""

    LATE = "late"
    TODAY = "today"  # due today
    NOW = "now"  # begun, or ready and planned to begin by today
    WEEK = "week"  # to begin or to end in this week
    NEXT = "next"  # in the next week
    WAITING = "waiting"  # it should begin by the end of next week, and cannot yet
    LATER = "later"


WHENS = tuple(When)


@dataclass(frozen=True)
class Work:
    """A task of somebody; ``waits_for`` are tasks that hold it and have not happened. Times are minutes."""

    task: str
    when: When
    start: int
    finish: int
    waits_for: tuple[str, ...] = ()


class Reach(StrEnum):
    OVERDUE = "overdue"
    COMING = "coming"
    REACHED = "reached"


REACHES = tuple(Reach)


@dataclass(frozen=True)
class MyMilestone:
    """``at`` is when it is planned, or was reached."""

    task: str
    reach: Reach
    at: int

    @property
    def order(self) -> tuple[int, int, str]:
        """Overdue, coming, and reached ones, the latest of these first."""
        return REACHES.index(self.reach), -self.at if self.reach is Reach.REACHED else self.at, self.task


def work_of(schedule: Schedule, tasks: Iterable[str], now: int) -> list[Work]:
    """The open leaves among some tasks, by when they are to be done, then by date. Milestones are left out."""
    plan = schedule.plan
    found = []
    for task_id in tasks:
        if _counts(schedule, task_id) and not plan.tasks[task_id].is_done and not is_milestone(plan.tasks[task_id]):
            found.append(_work(schedule, task_id, now))
    return sorted(found, key=lambda w: (WHENS.index(w.when), w.finish, w.start, w.task))


def milestones_of(schedule: Schedule, tasks: Iterable[str], now: int) -> list[MyMilestone]:
    """The milestones among some tasks: overdue, coming, and reached, the latest first."""
    plan = schedule.plan
    wanted = (plan.tasks[t] for t in tasks if _counts(schedule, t))
    return sorted((milestone_of(schedule, task, now) for task in wanted if is_milestone(task)), key=lambda m: m.order)


def milestone_of(schedule: Schedule, task: Task, now: int) -> MyMilestone:
    """How a milestone stands. One that lies beyond its target may still be coming; of a project that is put away or on
    hold none is overdue."""
    at, late = int(schedule.finish[schedule.slots[task.id]]), schedule.late_of(task.id)
    is_late = at < now or (late is not None and late[0] is Late.TO_BEGIN)
    is_overdue = is_late and schedule.plan.projects[task.project].is_at_work
    return MyMilestone(task.id, Reach.REACHED if task.is_done else Reach.OVERDUE if is_overdue else Reach.COMING, at)


def is_milestone(task: Task) -> bool:
    """A moment: said to be a milestone, or without a length."""
    return task.kind is TaskKind.MILESTONE or (not task.minutes and task.kind is TaskKind.TASK)


def tasks_of_person(plan: Plan, person: str) -> tuple[str, ...]:
    """What is assigned to somebody."""
    return tuple(plan.used_by.get(person, ()))


def tasks_of_nobody(schedule: Schedule) -> list[str]:
    """Leaves that are not done and that nobody and nothing is assigned to."""
    plan, network = schedule.plan, schedule.network
    leaves = np.flatnonzero((network.structure.leaf[: network.size] == 1) & (network.tasks.alive[: network.size] == 1))
    named = (network.slots.tasks[slot] for slot in leaves.tolist())
    return [t for t in named if not plan.assigned.get(t) and not plan.tasks[t].is_done]


def unmet(plan: Plan, task_id: str) -> list[str]:
    """What a task waits for by a link, its own or of a row above it, and what has not happened."""
    found: dict[str, None] = {}
    for row in (task_id, *plan.ancestors(task_id)):
        for link in plan.links_into(row):
            is_start = link.type in (LinkType.SS, LinkType.SF)
            leaves = [plan.tasks[t] for t in plan.branch(link.predecessor) if not plan.is_summary(t)]
            has_happened = (
                any(t.actual_start is not None for t in leaves) if is_start else all(t.is_done for t in leaves)
            )
            if not has_happened:
                found[link.predecessor] = None
    return list(found)


def errands_when(errand: Errand, now: int) -> When:
    """In which part of the list an errand stands."""
    if errand.due is None:
        return When.NOW
    today = now // DAY
    if errand.due <= today:
        return When.LATE if errand.due < today else When.TODAY
    end = week_end(now)
    return When.WEEK if errand.due * DAY < end else When.NEXT if errand.due * DAY < end + WEEK else When.LATER


def week_end(now: int) -> int:
    """When the ISO week of a moment is over."""
    return now + WEEK - (now - MONDAY) % WEEK


def _counts(schedule: Schedule, task_id: str) -> bool:
    plan = schedule.plan
    if not schedule.has(task_id) or plan.is_summary(task_id):
        return False
    return plan.projects[plan.tasks[task_id].project].is_at_work


def _work(schedule: Schedule, task_id: str, now: int) -> Work:
    slot, state = schedule.slots[task_id], schedule.state_of(task_id)
    start, finish = int(schedule.start[slot]), int(schedule.finish[slot])
    today = now // DAY
    last = (finish - 1) // DAY  # what ends at midnight ends on the day before
    end = week_end(now)
    waits_for = tuple(unmet(schedule.plan, task_id)) if state is State.WAITING else ()
    if schedule.late_of(task_id) is not None or last < today:
        when = When.LATE
    elif last == today:
        when = When.TODAY
    elif state is State.BEGUN or (state is State.READY and start < (today + 1) * DAY):
        when = When.NOW
    elif state is State.WAITING:
        when = When.WAITING if start < end + WEEK else When.LATER
    else:
        when = When.WEEK if start < end else When.NEXT if start < end + WEEK else When.LATER
    return Work(task_id, when, start, finish, waits_for)


def people_waited_for(plan: Plan, tasks: Collection[str]) -> list[str]:
    """Who works on what somebody waits for."""
    named = dict.fromkeys(r for t in tasks for leaf in plan.branch(t) for r in plan.assigned.get(leaf, ()))
    return list(named)
