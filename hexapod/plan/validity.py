"""What a plan must always be. Checked for the records that an edit touched, before anything is kept."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Iterator
from functools import partial
from typing import Any

from hexapod.errors import BadText, EditRefused
from hexapod.plan.bounds import (
    DEAREST,
    FIRST_TIME,
    LAST_TIME,
    LEAST_UNITS,
    LONGEST,
    LONGEST_NAME,
    LONGEST_PLACE,
    LONGEST_TEXT,
    MOST_EXCEPTIONS,
    MOST_PERCENT,
    MOST_RULES,
    MOST_UNITS,
)
from hexapod.plan.changes import Changes
from hexapod.plan.field_values import field_trouble, is_small
from hexapod.plan.in_memory import in_memory_order
from hexapod.plan.kinds import BUILT_IN_CALENDARS, KINDS, missing_reference, still_referred_to
from hexapod.plan.plan import Plan
from hexapod.plan.priorities import FIRST, LAST
from hexapod.plan.records import (
    DAY,
    DEEPEST,
    Assignment,
    Calendar,
    CalendarException,
    Direction,
    Interval,
    Link,
    Project,
    Reservation,
    Resource,
    ResourceKind,
    Task,
)
from hexapod.plan.screening import is_complete, suspects
from hexapod.plan.telling import progress_trouble
from hexapod.plan.thresholds import thresholds_trouble
from hexapod.plan.validity_of_accounts import (
    baseline_trouble,
    budget_trouble,
    changed_log_trouble,
    entry_trouble,
    log_trouble,
    reference_trouble,
    sheet_trouble,
)
from hexapod.plan.validity_of_risks import range_trouble, risk_trouble, scenario_trouble, together_trouble
from hexapod.plan.validity_of_telling import (
    approval_trouble,
    comment_trouble,
    deliverable_trouble,
    report_trouble,
    request_trouble,
    route_trouble,
    view_trouble,
)
from hexapod.plan.validity_of_work import errand_trouble, notices_trouble, reminders_trouble, stage_trouble
from hexapod.system.words import count_of


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
        sentence = _removed(plan, kind, record) if after is None else _trouble(plan, record, kind)
        if not sentence and kind == "tasks" and after is not None and (before is None or before.parent != after.parent):
            sentence = _branch_in_its_place(plan, after)
        if not sentence and kind == "resources" and before is not None and after is not None:
            sentence = _members_left(plan, before, after)
        if not sentence and kind == "logs" and before is not None:
            sentence = changed_log_trouble(plan, before, after)
        if sentence:
            raise InvalidRecord(kind, record.key, sentence)
    if changes.resources:
        for error in _same_initials(plan, (after for _, after in changes.resources if after is not None)):
            raise error


def check_whole(plan: Plan) -> None:
    """The same for every record of a plan that was read from somewhere."""
    for error in _broken(plan):
        raise error


def broken_records(plan: Plan) -> list[InvalidRecord]:
    """Every record that breaks a rule, with the first rule that it breaks."""
    return list(_broken(plan))


def _broken(plan: Plan) -> Iterator[InvalidRecord]:
    for kind in KINDS:
        rule = _RULES.get(kind, lambda plan, record: None)
        _, records = in_memory_order(getattr(plan, kind))
        is_whole = is_complete(plan, KINDS[kind], records)
        trouble = rule if is_whole else partial(_trouble, kind=kind)
        for record in suspects(plan, kind, records) if is_whole else records:
            sentence = trouble(plan, record)
            if sentence:
                yield InvalidRecord(kind, record.key, sentence)
    latest_first = reversed(plan.resources_in_order())
    yield from itertools.islice(_same_initials(plan, latest_first), 1)  # the other one may keep them


def _trouble(plan: Plan, record: Any, kind: str) -> str | None:
    """The first rule that a record breaks."""
    rule = _RULES.get(kind)
    return missing_reference(plan, KINDS[kind], record) or (rule(plan, record) if rule else None)


def _removed(plan: Plan, kind: str, record: Any) -> str | None:
    """What still needs a record that went."""
    rule = _REMOVED.get(kind)
    return rule(plan, record) if rule else still_referred_to(plan, kind, record.key)


def _task(plan: Plan, task: Task) -> str | None:
    if len(task.name) > LONGEST_NAME:
        return f"The name “{task.name[:40]}…” is longer than {LONGEST_NAME} characters."
    if task.parent is not None:
        parent = plan.tasks[task.parent]
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
    if not FIRST <= task.priority <= LAST:
        return f"The priority of “{task.name}” must be from {FIRST}, first of all, to {LAST}, last of all."
    trouble = progress_trouble(task) or range_trouble(task)
    if trouble:
        return trouble
    if task.effort is not None and not 1 <= task.effort <= LONGEST:
        return f"The effort of “{task.name}” must be more than none, and less than a hundred years."
    if not (math.isfinite(task.weight) and 0 <= task.weight <= 1_000_000):
        return f"The weight of “{task.name}” must be a number from 0 to a million."
    if task.reminders and (trouble := reminders_trouble(task)):
        return trouble
    times = [limit.at for limit in task.limits] + [t for t in (task.target, task.occurrence) if t is not None]
    if not all(_is_time(t) for t in times):
        return f"A date of “{task.name}” lies outside 1970 to 2129."
    return _texts_of(task)


def _texts_of(task: Task) -> str | None:
    if len(task.notes) > LONGEST_TEXT:
        return f"The notes of “{task.name}” are longer than {LONGEST_TEXT} characters."
    if any(not tag or len(tag) > LONGEST_NAME or "," in tag for tag in task.tags):
        return f"A tag of “{task.name}” must be some words without a comma."
    if not all(name and is_small(value) for name, value in task.fields):
        return f"A field of “{task.name}” needs a name, and a value of at most {LONGEST_TEXT} characters or 18 digits."
    if any(not place or len(place) > LONGEST_PLACE for place in task.attachments):
        return f"What is attached to “{task.name}” must be a file or page, named in at most {LONGEST_PLACE} characters."
    return _rule_trouble(task.repeats) if task.repeats else None


def _rule_trouble(rule: str) -> str | None:
    from hexapod.plan.recurrence import check_rule

    try:
        check_rule(rule)
    except BadText as error:
        return str(error)
    return None


def _branch_in_its_place(plan: Plan, task: Task) -> str | None:
    """What a row that got another parent breaks in records that were not touched: rows below it, links around it."""
    above = plan.ancestors(task.id)
    if not above:
        return None
    below, deepest = [task.id], len(above)
    while below:
        if deepest > DEEPEST:
            return f"What is below “{task.name}” would lie more than {DEEPEST} levels deep."
        below = [child for row in below for child in plan.children_of(task.project, row)]
        deepest += 1
    for outer in above:
        for key in plan.links_at.get(outer, ()):
            inner = key[0] if key[1] == outer else key[1]
            if inner in plan.tasks and (inner == task.id or task.id in plan.ancestors(inner)):
                return _linked_within(plan, inner, outer)
    return None


def _linked_within(plan: Plan, inner: str, outer: str) -> str:
    return f"“{plan.tasks[inner].name}” is part of “{plan.tasks[outer].name}”: the two cannot be linked."


def _link(plan: Plan, link: Link) -> str | None:
    name = plan.tasks[link.successor].name
    if link.predecessor == link.successor:
        return f"“{name}” cannot wait for itself."
    for inner, outer in ((link.successor, link.predecessor), (link.predecessor, link.successor)):
        if plan.is_summary(outer) and outer in plan.ancestors(inner):
            return _linked_within(plan, inner, outer)
    if abs(link.lag) > LONGEST:
        return f"The lag before “{name}” is longer than a hundred years."
    if not (math.isfinite(link.lag_percent) and abs(link.lag_percent) <= MOST_PERCENT):
        return f"The lag before “{name}” must be at most 10,000 % of what it waits for."
    if not 0 <= link.gap_kept <= LONGEST:
        return f"The gap kept before “{name}” must be between 0 and a hundred years."
    if link.lag and link.lag_percent:
        return f"The lag before “{name}” is either a length of time or a percentage, not both."
    return None


def _assignment(plan: Plan, assignment: Assignment) -> str | None:
    if not (math.isfinite(assignment.units) and LEAST_UNITS <= assignment.units <= MOST_UNITS):
        return f"The share in “{plan.tasks[assignment.task].name}” must be more than 0 %."
    where = f"of {plan.resources[assignment.resource].name} in “{plan.tasks[assignment.task].name}”"
    hours, total = assignment.hours_a_day, assignment.total
    if hours is not None and total is not None:
        return f"The work {where} is either hours a day or a total, not both."
    if hours is not None and not (math.isfinite(hours) and 0.01 <= hours <= 240_000):
        return f"The hours a day {where} must be more than none."
    if total is not None and not 1 <= total <= LONGEST:
        return f"The total {where} must be more than none, and less than a hundred years."
    first, last = assignment.first_day, assignment.last_day
    if not all(_is_time(day * DAY) for day in (first, last) if day is not None):
        return f"A date {where} lies outside 1970 to 2129."
    if first is not None and last is not None and last < first:
        return f"The work {where} would end before it begins."
    return None


def _reservation(plan: Plan, reservation: Reservation) -> str | None:
    where = f"of {plan.resources[reservation.resource].name} for “{plan.projects[reservation.project].name}”"
    if not (math.isfinite(reservation.units) and LEAST_UNITS <= reservation.units <= MOST_UNITS):
        return f"The share {where} must be more than 0 %."
    first, last = reservation.first_day, reservation.last_day
    if not all(_is_time(day * DAY) for day in (first, last) if day is not None):
        return f"A date {where} lies outside 1970 to 2129."
    if first is not None and last is not None and last < first:
        return f"The reservation {where} would end before it begins."
    return None


def _resource(plan: Plan, resource: Resource) -> str | None:
    return resource_trouble(resource) or _belonging(plan, resource)


def resource_trouble(resource: Resource) -> str | None:
    """What is wrong with a resource by itself, whatever plan it is in."""
    if not resource.name.strip() or len(resource.name) > LONGEST_NAME:
        return f"A resource needs a name of at most {LONGEST_NAME} characters."
    if not (math.isfinite(resource.capacity) and 0 <= resource.capacity <= 1_000_000):
        return f"The capacity of “{resource.name}” must be a number from 0 to a million."
    trouble = _exceptions_trouble(f"the leave of “{resource.name}”", resource.leave)
    if trouble:
        return trouble
    if any(not s.name.strip() or len(s.name) > LONGEST_NAME or not 1 <= s.level <= 5 for s in resource.skills):
        return f"Each skill of “{resource.name}” needs a name, and a level from 1 to 5."
    for days in ([d for d, _ in resource.capacity_from], [d for d, _ in resource.rate_from]):
        if any(a >= b for a, b in itertools.pairwise(days)) or not all(_is_time(d * DAY) for d in days):
            return f"The days from which something of “{resource.name}” is another must follow each other."
    if not all(math.isfinite(c) and 0 <= c <= 1_000_000 for _, c in resource.capacity_from):
        return f"Each capacity of “{resource.name}” must be a number from 0 to a million."
    if not all(0 <= r <= DEAREST for r in (resource.rate, *(r for _, r in resource.rate_from))):
        return f"The rate of “{resource.name}” must be from 0 to ten million an hour."
    if any(c in ",;%×" or c.isspace() for c in resource.initials):
        return f"The initials “{resource.initials}” must be one word without , ; % or ×."
    return notices_trouble(resource)


def _same_initials(plan: Plan, about: Iterable[Resource]) -> Iterator[InvalidRecord]:
    """Which of some resources have initials that another one has."""
    holders: dict[str, list[Resource]] = {}
    for resource in plan.resources_in_order():
        if resource.initials:
            holders.setdefault(resource.initials.casefold(), []).append(resource)
    for resource in about:
        for other in holders.get(resource.initials.casefold(), ()):
            if other.id != resource.id:
                sentence = f"“{other.name}” already has the initials {other.initials}."
                yield InvalidRecord("resources", resource.id, sentence)
                break


def _belonging(plan: Plan, resource: Resource) -> str | None:
    """What is wrong with the roles, the team and the skills of a resource."""
    for role in filter(None, (resource.role, *resource.roles)):
        found = plan.resources.get(role)
        if found is None or found.kind is not ResourceKind.ROLE or role == resource.id:
            return f"“{resource.name}” has a role “{role}” that is none of the roles."
    if resource.team is not None:
        found = plan.resources.get(resource.team)
        if found is None or found.kind is not ResourceKind.TEAM or found.id == resource.id:
            return f"“{resource.name}” is in a team “{resource.team}” that is none of the teams."
    return None


def _members_left(plan: Plan, before: Resource, after: Resource) -> str | None:
    """A role or a team that is to be something else must have nobody in it."""
    if before.kind is after.kind or before.kind not in (ResourceKind.ROLE, ResourceKind.TEAM):
        return None
    for other in plan.resources.values():
        if before.id in (other.role, other.team, *other.roles):
            return f"“{other.name}” belongs to “{before.name}”, so it stays a {before.kind.value}."
    return None


def _project(plan: Plan, project: Project) -> str | None:
    if not project.name.strip() or len(project.name) > LONGEST_NAME:
        return f"A project needs a name of at most {LONGEST_NAME} characters."
    times = (project.start, project.status_date, project.target_finish, project.finish, project.word_at)
    if not all(_is_time(t) for t in times if t is not None):
        return f"A date of “{project.name}” lies outside 1970 to 2129."
    if not FIRST <= project.priority <= LAST:
        return f"The priority of “{project.name}” must be from {FIRST}, first of all, to {LAST}, last of all."
    if not 0 <= project.critical_float <= LONGEST:
        return f"The critical float of “{project.name}” must be between 0 and a hundred years."
    if not 0 <= project.near_critical_float <= LONGEST:
        return f"The near-critical float of “{project.name}” must be between 0 and a hundred years."
    if project.direction is Direction.BACKWARD and project.finish is None:
        return f"“{project.name}” is scheduled back from its finish, so it needs one."
    if len(project.word) > LONGEST_TEXT or len(project.word_by) > LONGEST_NAME:
        return f"The judgement of “{project.name}” is too long."
    if not all(name and is_small(value) for name, value in project.fields):
        return (
            f"A field of “{project.name}” needs a name, and a value of at most {LONGEST_TEXT} characters or 18 digits."
        )
    if project.unit not in ("d", "h", "w"):
        return f"The unit of “{project.name}” must be d, h or w."
    if project.baseline is not None and (trouble := reference_trouble(plan, project.id, project.baseline)):
        return trouble
    return together_trouble(project)


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
    if len(calendar.week) != 7 or not all(_is_day(day) for day in calendar.week if day is not None):
        return f"The working hours of “{calendar.name}” must begin in their day, in order, without overlap."
    lengths = (calendar.day_minutes, calendar.week_minutes, calendar.month_days)
    if not all(1 <= n <= most for n, most in zip(lengths, (DAY, 7 * DAY, 31), strict=True)):
        return f"The hours a day and a week, and the days a month, of “{calendar.name}” must be such as there are."
    if calendar.holidays:
        from hexapod.plan.holidays import check_code

        try:
            check_code(calendar.holidays)
        except BadText as error:
            return str(error)
    return _exceptions_trouble(f"the calendar “{calendar.name}”", calendar.exceptions)


def _exceptions_trouble(whose: str, exceptions: tuple[CalendarException, ...]) -> str | None:
    if len(exceptions) > MOST_EXCEPTIONS:
        return f"There are more than {MOST_EXCEPTIONS} exceptions in {whose}."
    if sum(1 for exception in exceptions if exception.rule) > MOST_RULES:
        return f"There are more than {MOST_RULES} rules in {whose}."
    for exception in exceptions:
        if exception.last_day < exception.first_day:
            return f"An exception in {whose} ends before it begins."
        if not _is_day(exception.working):
            return f"The hours of an exception in {whose} must begin in their day, in order, without overlap."
        if exception.rule and (trouble := _rule_trouble(exception.rule)):
            return trouble
    return None


def _removed_task(plan: Plan, task: Task) -> str | None:
    at_task = (plan.links_at, plan.assigned, plan.comments_on, plan.logs_on, plan.delivers)
    if plan.children.get((task.project, task.id)) or any(found.get(task.id) for found in at_task):
        return f"“{task.name}” is still in use by rows below it, links, assignments, comments, hours or deliverables."
    return still_referred_to(plan, "tasks", task.id, ("entries", "budgets", "risks", "approvals"))


def _removed_resource(plan: Plan, resource: Resource) -> str | None:
    tasks = plan.used_by.get(resource.id)
    if tasks:
        return f"“{resource.name}” is still assigned to {count_of(len(tasks), 'task')}."
    if any(r.resource == resource.id for r in plan.reservations.values()):
        return f"“{resource.name}” is still reserved for a project."
    for other in plan.resources.values():
        if resource.id in (other.role, other.team, *other.roles):
            return f"“{other.name}” still belongs to “{resource.name}”."
    if any(who == resource.id for who, _ in (*plan.logs_in, *plan.sheet_of)):
        return f"“{resource.name}” has logged hours, and stays for their sake."
    return still_referred_to(plan, "resources", resource.id)


def _removed_project(plan: Plan, project: Project) -> str | None:
    tasks = plan.children.get((project.id, None))
    if any(r.project == project.id for r in plan.reservations.values()):
        return f"Somebody is still reserved for “{project.name}”."
    if tasks:
        return f"“{project.name}” still has {count_of(len(tasks), 'row')}."
    return still_referred_to(plan, "projects", project.id, ("entries", "budgets", "baselines", "risks"))


def _removed_calendar(plan: Plan, calendar: Calendar) -> str | None:
    users = [
        record.name
        for kind in ("projects", "resources", "tasks", "calendars")
        for record in getattr(plan, kind).values()
        if calendar.id in (getattr(record, "calendar", None), getattr(record, "base", None))
    ]
    return f"The calendar “{calendar.name}” is still used by “{users[0]}”." if users else None


def _is_time(minute: int) -> bool:
    return FIRST_TIME <= minute <= LAST_TIME


def _is_day(intervals: tuple[Interval, ...]) -> bool:
    edges = [edge for interval in intervals for edge in interval]
    in_order = all(a <= b for a, b in itertools.pairwise(edges))
    return in_order and all((0 <= b < DAY and b < e < b + DAY) or (b, e) == (0, DAY) for b, e in intervals)


_RULES: dict[str, Any] = {
    "tasks": _task,
    "links": _link,
    "assignments": _assignment,
    "reservations": _reservation,
    "resources": _resource,
    "projects": _project,
    "calendars": _calendar,
    "fields": field_trouble,
    "comments": comment_trouble,
    "views": view_trouble,
    "stages": stage_trouble,
    "errands": errand_trouble,
    "logs": log_trouble,
    "sheets": sheet_trouble,
    "entries": entry_trouble,
    "budgets": budget_trouble,
    "baselines": baseline_trouble,
    "risks": risk_trouble,
    "scenarios": scenario_trouble,
    "reports": report_trouble,
    "thresholds": thresholds_trouble,
    "requests": request_trouble,
    "routes": route_trouble,
    "deliverables": deliverable_trouble,
    "approvals": approval_trouble,
}
_REMOVED: dict[str, Any] = {
    "tasks": _removed_task,
    "resources": _removed_resource,
    "projects": _removed_project,
    "calendars": _removed_calendar,
}
