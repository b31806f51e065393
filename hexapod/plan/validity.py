"""What a plan must always be. Checked for the records that an edit touched, before anything is kept."""

from __future__ import annotations

import itertools
import math
from typing import Any

from hexapod.errors import EditRefused
from hexapod.plan.changes import Changes
from hexapod.plan.plan import Plan
from hexapod.plan.records import DEEPEST, KINDS, Assignment, Calendar, Interval, Link, Project, Resource, Task

LONGEST = 100 * 366 * 1440  # minutes: no single length of time is longer than a century
FIRST_TIME = 0  # 1970-01-01
LAST_TIME = 84_006_720  # 2129-09-21, so that a century of work still ends in four-digit years
LONGEST_NAME = 1000
BUILT_IN_CALENDARS = ("standard", "always")


class InvalidRecord(EditRefused):
    """A rule is broken; ``kind`` and ``key`` name the record."""

    def __init__(self, kind: str, key: Any, sentence: str) -> None:
        super().__init__(sentence)
        self.kind = kind
        self.key = key


def check(plan: Plan, changes: Changes) -> None:
    """Raise ``InvalidRecord`` for the first touched record that breaks a rule.

    Loops of links are found where the network is ordered, since links of summaries take part in them.
    """
    for kind, before, after in changes.pairs():
        record = before if after is None else after
        rule = _REMOVED.get(kind) if after is None else _RULES[kind]
        sentence = rule(plan, record) if rule else None
        if sentence:
            raise InvalidRecord(kind, record.key, sentence)


def check_whole(plan: Plan) -> None:
    """The same for every record of a plan that was read from somewhere."""
    for kind in KINDS:
        rule = _RULES[kind]
        for record in getattr(plan, kind).values():
            sentence = rule(plan, record)
            if sentence:
                raise InvalidRecord(kind, record.key, sentence)


def _task(plan: Plan, task: Task) -> str | None:
    if task.project not in plan.projects:
        return f"“{task.name}” belongs to a project “{task.project}” that does not exist."
    if len(task.name) > LONGEST_NAME:
        return f"The name “{task.name[:40]}…” is longer than {LONGEST_NAME} characters."
    if task.parent is not None:
        parent = plan.tasks.get(task.parent)
        if parent is None:
            return f"“{task.name}” lies below a task “{task.parent}” that does not exist."
        if parent.project != task.project:
            return f"“{task.name}” and the task above it, “{parent.name}”, are in different projects."
        above = plan.ancestors(task.id)
        if task.id in above:
            return f"“{task.name}” cannot lie below itself."
        if len(above) > DEEPEST:
            return f"“{task.name}” lies more than {DEEPEST} levels deep."
    if not 0 <= task.minutes <= LONGEST:
        return f"The duration of “{task.name}” must be between 0 and a hundred years."
    if not 0 <= task.hold <= LONGEST:
        return f"The levelling hold of “{task.name}” must be between 0 and a hundred years."
    if not 0 <= task.priority <= 1000:
        return f"The priority of “{task.name}” must be between 0 and 1000."
    if task.calendar is not None and not _is_calendar(plan, task.calendar):
        return f"“{task.name}” uses a calendar “{task.calendar}” that does not exist."
    times = [limit.at for limit in task.limits] + ([] if task.target is None else [task.target])
    if not all(_is_time(t) for t in times):
        return f"A date of “{task.name}” lies outside 1970 to 2129."
    return None


def _link(plan: Plan, link: Link) -> str | None:
    for end in (link.predecessor, link.successor):
        if end not in plan.tasks:
            return f"A link names a task “{end}” that does not exist."
    name = plan.tasks[link.successor].name
    if link.predecessor == link.successor:
        return f"“{name}” cannot wait for itself."
    for inner, outer in ((link.successor, link.predecessor), (link.predecessor, link.successor)):
        if plan.is_summary(outer) and outer in plan.ancestors(inner):
            return f"“{plan.tasks[inner].name}” is part of “{plan.tasks[outer].name}”: the two cannot be linked."
    if abs(link.lag) > LONGEST:
        return f"The lag before “{name}” is longer than a hundred years."
    return None


def _assignment(plan: Plan, assignment: Assignment) -> str | None:
    if assignment.task not in plan.tasks:
        return f"An assignment names a task “{assignment.task}” that does not exist."
    if assignment.resource not in plan.resources:
        return f"An assignment names someone, “{assignment.resource}”, who is not among the resources."
    if not (math.isfinite(assignment.units) and 0.001 <= assignment.units <= 10_000):
        return f"The share in “{plan.tasks[assignment.task].name}” must be more than 0 %."
    return None


def _resource(plan: Plan, resource: Resource) -> str | None:
    if not resource.name.strip() or len(resource.name) > LONGEST_NAME:
        return f"A resource needs a name of at most {LONGEST_NAME} characters."
    if not (math.isfinite(resource.capacity) and 0 <= resource.capacity <= 1_000_000):
        return f"The capacity of “{resource.name}” must be a number from 0 to a million."
    if resource.calendar is not None and not _is_calendar(plan, resource.calendar):
        return f"“{resource.name}” uses a calendar “{resource.calendar}” that does not exist."
    if resource.initials:
        if any(c in ",;%×" or c.isspace() for c in resource.initials):
            return f"The initials “{resource.initials}” must be one word without , ; % or ×."
        for other in plan.resources.values():
            if other.id != resource.id and other.initials.casefold() == resource.initials.casefold():
                return f"“{other.name}” already has the initials {other.initials}."
    return None


def _project(plan: Plan, project: Project) -> str | None:
    if not project.name.strip() or len(project.name) > LONGEST_NAME:
        return f"A project needs a name of at most {LONGEST_NAME} characters."
    if not _is_calendar(plan, project.calendar):
        return f"“{project.name}” uses a calendar “{project.calendar}” that does not exist."
    if not all(_is_time(t) for t in (project.start, project.status_date, project.target_finish) if t is not None):
        return f"A date of “{project.name}” lies outside 1970 to 2129."
    if not 0 <= project.priority <= 1000:
        return f"The priority of “{project.name}” must be between 0 and 1000."
    if not 0 <= project.critical_float <= LONGEST:
        return f"The critical float of “{project.name}” must be between 0 and a hundred years."
    return None


def _calendar(plan: Plan, calendar: Calendar) -> str | None:
    if calendar.id in BUILT_IN_CALENDARS:
        return f"“{calendar.id}” is a built-in calendar; give yours another id."
    seen = {calendar.id}
    base = calendar.base
    while base is not None and base not in BUILT_IN_CALENDARS:
        if base in seen:
            return f"The calendar “{calendar.name}” is built on itself."
        seen.add(base)
        if base not in plan.calendars:
            return f"The calendar “{calendar.name}” is built on “{base}”, which does not exist."
        base = plan.calendars[base].base
    days = [day for day in calendar.week if day is not None] + [e.working for e in calendar.exceptions]
    if len(calendar.week) != 7 or not all(_is_day(day) for day in days):
        return f"The working hours of “{calendar.name}” must lie in one day, in order, without overlap."
    if any(e.last_day < e.first_day for e in calendar.exceptions):
        return f"An exception of “{calendar.name}” ends before it begins."
    return None


def _removed_task(plan: Plan, task: Task) -> str | None:
    if plan.children.get((task.project, task.id)) or plan.links_at.get(task.id) or plan.assigned.get(task.id):
        return f"“{task.name}” is still in use by rows below it, links or assignments."
    return None


def _removed_resource(plan: Plan, resource: Resource) -> str | None:
    tasks = plan.used_by.get(resource.id)
    return f"“{resource.name}” is still assigned to {len(tasks)} tasks." if tasks else None


def _removed_project(plan: Plan, project: Project) -> str | None:
    tasks = plan.children.get((project.id, None))
    return f"“{project.name}” still has {len(tasks)} rows." if tasks else None


def _removed_calendar(plan: Plan, calendar: Calendar) -> str | None:
    users = [
        record.name
        for kind in ("projects", "resources", "tasks", "calendars")
        for record in getattr(plan, kind).values()
        if calendar.id in (getattr(record, "calendar", None), getattr(record, "base", None))
    ]
    return f"The calendar “{calendar.name}” is still used by “{users[0]}”." if users else None


def _is_calendar(plan: Plan, calendar_id: str) -> bool:
    return calendar_id in BUILT_IN_CALENDARS or calendar_id in plan.calendars


def _is_time(minute: int) -> bool:
    return FIRST_TIME <= minute <= LAST_TIME


def _is_day(intervals: tuple[Interval, ...]) -> bool:
    edges = [edge for interval in intervals for edge in interval]
    in_order = all(a <= b for a, b in itertools.pairwise(edges))
    return in_order and all(0 <= b < e <= 1440 for b, e in intervals)


_RULES: dict[str, Any] = {
    "tasks": _task,
    "links": _link,
    "assignments": _assignment,
    "resources": _resource,
    "projects": _project,
    "calendars": _calendar,
}
_REMOVED: dict[str, Any] = {
    "tasks": _removed_task,
    "resources": _removed_resource,
    "projects": _removed_project,
    "calendars": _removed_calendar,
}
