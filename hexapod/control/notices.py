"""What people are to be told of: what follows from the dates at a moment, and what changed since they were told last.

Each item has a key that says what it is about, so that nobody is told the same twice: what is due is told once for each
date on which it is due, what changed once for each look at the history. Who hears of a task are those who work on it
and those whom it names besides. Nothing here sends anything.
"""

from __future__ import annotations

import re
from collections.abc import Collection, Iterable
from dataclasses import dataclass

from hexapod.plan.changes import Changes
from hexapod.plan.notice_kinds import NoticeKind, NoticeWhen
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY, Resource, ResourceKind
from hexapod.schedule.schedule import Schedule
from hexapod.schedule.states import State
from hexapod.worktime.calendars import units_of
from hexapod.worktime.clock import date_of
from hexapod.worktime.lengths import format_length

TITLES = {
    NoticeKind.ASSIGNED: "Yours now",
    NoticeKind.READY: "Ready: what you waited for is done",
    NoticeKind.DUE: "Due soon",
    NoticeKind.OVERDUE: "Overdue",
    NoticeKind.MOVED: "Your dates moved",
    NoticeKind.NAMED: "You are named in a comment",
    NoticeKind.TARGET: "A finish has passed its target",
    NoticeKind.REMINDER: "You asked to be reminded",
}
FAR = 60  # working minutes: what moves by less is not told


@dataclass(frozen=True)
class Item:
    """One thing that one person is told, in a line. ``task`` is None where it is about a project."""

    kind: NoticeKind
    person: str
    key: str
    words: str
    task: str | None = None


def wish_of(resource: Resource, kind: NoticeKind) -> NoticeWhen:
    """When somebody wants to be told of a kind; at once where she said nothing."""
    return dict(resource.notices).get(kind, NoticeWhen.AT_ONCE)


def hearers(plan: Plan, task_id: str) -> list[str]:
    """Who hears of a task."""
    named = dict.fromkeys((*plan.assigned.get(task_id, ()), *plan.tasks[task_id].also_told))
    return [r for r in named if plan.resources[r].kind in (ResourceKind.PERSON, ResourceKind.TEAM)]


def day_words(at: int) -> str:
    """``Fri 16 Oct 2026``, in English whatever the machine speaks: mails are read elsewhere."""
    day = date_of(max(0, at - 1) // DAY)
    weekday = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")[day.weekday()]
    month = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")[day.month - 1]
    return f"{weekday} {day.day} {month} {day.year}"


# What follows from the dates


def standing_items(schedule: Schedule, now: int) -> list[Item]:
    """What is due, overdue, or to be reminded of at a moment."""
    plan, found = schedule.plan, []
    for task in plan.tasks.values():
        if task.is_done or plan.is_summary(task.id) or not schedule.has(task.id):
            continue
        told = hearers(plan, task.id)
        if not told or not plan.projects[task.project].is_at_work:
            continue
        finish = int(schedule.finish[schedule.slots[task.id]])
        last = (finish - 1) // DAY
        where = _where(plan, task.id)
        for person in told:
            if finish < now:
                words = f"{where}: was to end {day_words(finish)}"
                found.append(Item(NoticeKind.OVERDUE, person, f"overdue/{task.id}/{last}", words, task.id))
            elif last - now // DAY <= plan.resources[person].due_days:
                words = f"{where}: to {day_words(finish)}"
                found.append(Item(NoticeKind.DUE, person, f"due/{task.id}/{last}", words, task.id))
            for days in task.reminders:
                if 0 <= last - now // DAY <= days:
                    key, words = f"reminder/{task.id}/{days}/{last}", f"{where}: to {day_words(finish)}"
                    found.append(Item(NoticeKind.REMINDER, person, key, words, task.id))
    return found


def target_items(schedule: Schedule, beyond: Collection[str], since: int) -> tuple[list[Item], list[str]]:
    """Finishes that have passed their target and had not before, told to who leads the project; with all projects that
    are beyond theirs now. ``since`` tells one such time from the next."""
    from hexapod.schedule.slip import working_minutes

    plan, found, now_beyond = schedule.plan, [], []
    for project in plan.projects_in_order():
        finish, target = schedule.project_finish.get(project.id), project.target_finish
        if finish is None or target is None or finish <= target or not project.is_at_work:
            continue
        now_beyond.append(project.id)
        if project.id in beyond or project.led_by is None:
            continue
        by = format_length(working_minutes(schedule, project.calendar, target, finish), units_of(plan, project.id))
        words = f"{project.name}: finishes {day_words(finish)}, {by} beyond {day_words(target)}"
        found.append(Item(NoticeKind.TARGET, project.led_by, f"target/{project.id}/{target}/{since}", words))
    return found, now_beyond


# What changed


def change_items(before: Schedule, after: Schedule, changes: Changes, who: Collection[str], since: int) -> list[Item]:
    """What changed between two plans: ``changes`` leads from one to the other, ``who`` made the edits, ``since`` is the
    row of the history after which they were made. Nobody is told of what she alone did."""
    found = [
        *_assigned(after, changes, since),
        *_named(after, changes),
        *_ready(before, after, since),
        *_moved(before, after, who, since),
    ]
    plan = after.plan
    return [item for item in found if set(who) != {plan.resources[item.person].name}]


def _assigned(after: Schedule, changes: Changes, since: int) -> Iterable[Item]:
    plan = after.plan
    for old, new in changes.assignments:
        if old is not None or new is None or not after.has(new.task) or plan.tasks[new.task].is_done:
            continue
        if new.resource in hearers(plan, new.task):
            slot = after.slots[new.task]
            dates = f"{day_words(int(after.start[slot]) + 1)} to {day_words(int(after.finish[slot]))}"
            words = f"{_where(plan, new.task)}: {dates}"
            yield Item(NoticeKind.ASSIGNED, new.resource, f"assigned/{new.task}/{since}", words, new.task)


def _named(after: Schedule, changes: Changes) -> Iterable[Item]:
    plan = after.plan
    fresh = [new for old, new in changes.comments if old is None and new is not None and new.task in plan.tasks]
    people = [r for r in plan.resources.values() if r.kind is ResourceKind.PERSON] if fresh else []
    for comment in fresh:
        for person in people:
            if is_named(person, comment.text) and comment.who not in (person.name, person.initials):
                words = f"{_where(plan, comment.task)}: {comment.who} said “{_short(comment.text)}”"
                yield Item(NoticeKind.NAMED, person.id, f"named/{comment.id}", words, comment.task)


def is_named(person: Resource, text: str) -> bool:
    """Whether a text calls somebody by name: her whole name, the last two words of it, or ``@`` before a name or her
    initials."""
    low, words = text.casefold(), person.name.casefold().split()
    if any(
        re.search(rf"\b{re.escape(name)}\b", low) for name in {" ".join(words), " ".join(words[-2:])} if " " in name
    ):
        return True
    called = {*words, person.initials.casefold()} - {""}
    return any(re.search(rf"@{re.escape(name)}\b", low) for name in called)


def _ready(before: Schedule, after: Schedule, since: int) -> Iterable[Item]:
    plan = after.plan
    for task_id in dict.fromkeys(a.task for a in plan.assignments.values()):
        if not (before.has(task_id) and after.has(task_id)) or plan.is_summary(task_id):
            continue
        if before.state_of(task_id) is State.WAITING and after.state_of(task_id) is State.READY:
            for person in hearers(plan, task_id):
                words = f"{_where(plan, task_id)}: from {day_words(int(after.start[after.slots[task_id]]) + 1)}"
                yield Item(NoticeKind.READY, person, f"ready/{task_id}/{since}", words, task_id)


def _moved(before: Schedule, after: Schedule, who: Collection[str], since: int) -> Iterable[Item]:
    from hexapod.schedule.shift import shift

    plan = after.plan
    by_whom = f", by {', '.join(sorted(who))}" if who else ""
    for task_id, (start_by, finish_by) in shift(before, after).by_task().items():
        if task_id not in plan.tasks or task_id not in before.plan.tasks or plan.is_summary(task_id):
            continue
        by = finish_by if abs(finish_by) >= abs(start_by) else start_by
        if abs(by) < FAR or plan.tasks[task_id].is_done:
            continue
        length = format_length(abs(by), units_of(plan, plan.tasks[task_id].project))
        finish = day_words(int(after.finish[after.slots[task_id]]))
        words = f"{_where(plan, task_id)}: {length} {'later' if by > 0 else 'sooner'}, to {finish}{by_whom}"
        for person in hearers(plan, task_id):
            yield Item(NoticeKind.MOVED, person, f"moved/{task_id}/{since}", words, task_id)


def _where(plan: Plan, task_id: str) -> str:
    task = plan.tasks[task_id]
    return f"{task.name} ({plan.projects[task.project].name})"


def _short(text: str) -> str:
    said = " ".join(text.split())
    return said if len(said) <= 200 else f"{said[:199]}…"
