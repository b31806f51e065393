"""Copies of rows: a fragment is a small plan of its own, which is put into a plan with new ids.

The clipboard, templates and duplicates are all fragments: their rows with the links between them, who is
assigned, and the calendars and resources that these need.
"""

from __future__ import annotations

from collections import deque
from collections.abc import Iterable, Mapping

from msgspec.structs import replace

from hexapod.errors import EditRefused
from hexapod.plan.bounds import LAST_TIME
from hexapod.plan.deliverables import to_come
from hexapod.plan.edits.edit import Edit, new_id, quoted
from hexapod.plan.edits.outlining import ranks_at
from hexapod.plan.edits.repeating import dated
from hexapod.plan.kinds import KINDS
from hexapod.plan.lookups import Place
from hexapod.plan.outline import without_descendants
from hexapod.plan.plan import Draft, Plan
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import DAY, Assignment, Calendar, Project, Record, Resource, Task
from hexapod.plan.recurrence import moments_of, moved
from hexapod.plan.risks import with_tasks_of
from hexapod.plan.telling import not_begun


def fragment_of(plan: Plan, task_ids: Iterable[str]) -> Plan:
    """The rows of a selection with all below them, in a project of their own that begins when theirs does."""
    tops = without_descendants(plan, list(task_ids))
    home = plan.project(plan.task(tops[0]).project)
    rows = [t for top in tops for t in plan.branch(top)]
    ranks = dict(zip(tops, ranks_between(None, None, len(tops)), strict=True))
    tasks = [
        replace(plan.task(t), project=home.id, rank=ranks[t], parent=None)
        if t in ranks
        else replace(plan.task(t), project=home.id)
        for t in rows
    ]
    return _closed(plan, home, tasks)


def fragment_of_project(plan: Plan, project_id: str) -> Plan:
    """A whole project."""
    tasks = [t for t in plan.tasks.values() if t.project == project_id]
    return _closed(plan, plan.project(project_id), tasks)


def _closed(plan: Plan, project: Project, tasks: list[Task]) -> Plan:
    """The tasks with what they need, and nothing that points outside."""
    inside = {t.id for t in tasks}
    records: list[Record] = [
        replace(project, led_by=None, baseline=None, word="", word_by="", word_at=None),
        *(apart(t) for t in tasks),
    ]
    links = {key for t in inside for key in plan.links_at.get(t, ())}
    records += [plan.link(key) for key in links if key[0] in inside and key[1] in inside]
    assignments = [a for t in inside for a in plan.assignments_of(t)]
    resources = [plan.resource(r) for r in {a.resource for a in assignments}]
    wanted = {project.calendar, *(t.calendar for t in tasks), *(r.calendar for r in resources)}
    calendars: dict[str, Calendar] = {}
    while wanted:
        calendar = plan.calendars.get(wanted.pop() or "")
        if calendar is not None and calendar.id not in calendars:
            calendars[calendar.id] = calendar
            wanted.add(calendar.base)
    records += [to_come(d) for t in inside for d in plan.deliverables_of(t)]
    holders: list[Project | Task] = [project, *tasks]
    fields = {name for holder in holders for name, _ in holder.fields}
    records += [f for f in plan.fields.values() if f.name in fields]
    return Plan.of([*calendars.values(), *records, *resources, *assignments])


def apart(task: Task) -> Task:
    """A task without what names stages and people of its workspace."""
    return replace(task, stage=None, also_told=()) if task.stage is not None or task.also_told else task


def without_resources(fragment: Plan, resources: Iterable[str]) -> Plan:
    """The fragment with some resources, and what they were assigned to, left out."""
    gone = set(resources)
    kept = [
        record
        for kind in KINDS
        for record in getattr(fragment, kind).values()
        if not (isinstance(record, Resource) and record.id in gone)
        and not (isinstance(record, Assignment) and record.resource in gone)
    ]
    return Plan.of(kept)


def graft(
    plan: Plan,
    fragment: Plan,
    project: str,
    after: str | None,
    *,
    people: bool = True,
    swaps: Mapping[str, str] | None = None,
    shift_days: int = 0,
    words: str = "",
) -> Edit:
    """Put a fragment's rows below ``after`` on its level (None: at the end of the project), with new ids.

    ``swaps`` puts one resource in the place of another, ``shift_days`` moves the dates that were typed.
    Without ``people`` nobody is assigned and nothing is done yet; nor is it at another time.
    """
    ids = {task_id: new_id() for task_id in fragment.tasks}
    roots = [t for p in fragment.projects_in_order() for t in fragment.children_of(p.id, None)]

    def change(draft: Draft) -> None:
        calendars = _with_calendars(draft, fragment)
        place, index = _place(draft, project, after)
        ranks = dict(zip(roots, ranks_at(draft, place, index, len(roots)), strict=True))
        waiting = deque((t, place[1]) for t in roots)
        while waiting:
            old, parent = waiting.popleft()
            task = fragment.tasks[old]
            calendar = calendars.get(task.calendar or "", task.calendar)
            rank = ranks.get(old, task.rank)
            copied = replace(task, id=ids[old], project=place[0], parent=parent, rank=rank, calendar=calendar)
            is_still_told = people and not shift_days  # at another time it is other work: nothing of it is done
            draft.put(_shifted(copied if is_still_told else not_begun(copied), shift_days))
            waiting.extend((child, ids[old]) for child in fragment.children_of(task.project, old))
        if shift_days:
            for series in fragment.series:
                _follow_rule(draft, fragment, series, ids[series])
        for deliverable in fragment.deliverables.values():
            draft.put(replace(deliverable, id=new_id(), task=ids[deliverable.task]))
        for link in fragment.links.values():
            draft.put(replace(link, predecessor=ids[link.predecessor], successor=ids[link.successor]))
        if people:
            _assign(draft, fragment, ids, calendars, swaps or {}, shift_days)
        for field in fragment.fields.values():
            if not any(f.name.casefold() == field.name.casefold() for f in draft.before.fields.values()):
                draft.put(replace(field, id=field.id if draft.get("fields", field.id) is None else new_id()))

    names = [fragment.tasks[t].name for t in roots]
    return Edit(words or f"Add {quoted(names)}", change)


def bring_back(plan: Plan, past: Plan, task_id: str) -> Edit:
    """A branch that is gone, as it was in an earlier plan: in its old place, with the links and people that are there.

    A row of it that is there still goes back to what it was.
    """
    branch = dict.fromkeys(past.branch(task_id))

    def change(draft: Draft) -> None:
        for each in branch:
            task = past.tasks[each]
            if each == task_id:
                parent = task.parent if task.parent is not None and draft.get("tasks", task.parent) else None
                task = replace(task, parent=parent)
            calendar = task.calendar if task.calendar is None or draft.get("calendars", task.calendar) else None
            stage = task.stage if task.stage is None or draft.get("stages", task.stage) else None
            also_told = tuple(r for r in task.also_told if draft.get("resources", r) is not None)
            draft.put(replace(task, calendar=calendar, stage=stage, also_told=also_told))
        for each in branch:
            for key in past.links_at.get(each, ()):
                if draft.get("tasks", key[0]) is not None and draft.get("tasks", key[1]) is not None:
                    draft.put(past.links[key])
            for assignment in past.assignments_of(each):
                if draft.get("resources", assignment.resource) is not None:
                    draft.put(assignment)
            for record in (*past.comments_about(each), *past.deliverables_of(each)):
                draft.put(record)
            for log in past.logs_about(each):
                if draft.get("resources", log.resource) is not None:
                    draft.put(log)
        for entry in past.entries.values():
            if entry.task in branch and draft.get("entries", entry.id) is not None:
                draft.put(replace(draft.get("entries", entry.id), task=entry.task))
        for budget in past.budgets.values():
            if budget.task in branch:
                draft.put(budget)
        for risk in past.risks.values():
            if not set(branch).isdisjoint(risk.tasks) and draft.get("risks", risk.id) is not None:
                draft.put(with_tasks_of(draft.get("risks", risk.id), risk, branch))

    if past.tasks[task_id].project not in plan.projects:
        raise EditRefused("Its project is gone as well; undo the edit that deleted it.")
    return Edit(f"Bring back “{past.tasks[task_id].name}”", change)


def duplicate_project(
    plan: Plan,
    fragment: Plan,
    name: str,
    start: int,
    *,
    people: bool = True,
    swaps: Mapping[str, str] | None = None,
) -> tuple[str, Edit]:
    """A project like a fragment's, beginning at another time: its id and the edit that makes it."""
    source = fragment.projects_in_order()[0]
    last = plan.projects_in_order()
    made = new_id()
    days = start // DAY - source.start // DAY

    def change(draft: Draft) -> None:
        calendars = _with_calendars(draft, fragment)
        rank = ranks_between(last[-1].rank if last else None, None, 1)[0]
        moved = {
            field: value + days * DAY
            for field in ("target_finish", "finish")
            if (value := getattr(source, field)) is not None
        }
        calendar = calendars.get(source.calendar, source.calendar)
        project = replace(
            source, id=made, name=name, start=start, rank=rank, calendar=calendar, status_date=None, archived=False
        )
        draft.put(replace(project, **moved))
        graft(plan, fragment, made, None, people=people, swaps=swaps, shift_days=days).change(draft)

    return made, Edit(f"Add the project “{name}”", change)


def _place(draft: Draft, project: str, after: str | None) -> tuple[Place, int]:
    if after is None:
        return (project, None), len(draft.children_of(project, None))
    row = draft.task(after)
    place = (row.project, row.parent)
    return place, draft.children_of(*place).index(after) + 1


def _shifted(task: Task, days: int) -> Task:
    """The dates that were typed, so many days later.

    Recurring work is moved by whole weeks, so that what was on Mondays still is: its rule, and what the rule has made.
    """
    if not days:
        return task
    if task.repeats or task.occurrence is not None:
        days = 7 * round(days / 7)
    by = days * DAY
    return replace(
        task,
        limits=tuple(replace(limit, at=limit.at + by) for limit in task.limits),
        target=None if task.target is None else task.target + by,
        occurrence=None if task.occurrence is None else task.occurrence + by,
        repeats=moved(task.repeats, days) if task.repeats else "",
    )


def _follow_rule(draft: Draft, fragment: Plan, old: str, new: str) -> None:
    """Occurrences that were where their rule puts them are where the moved rule puts them: on the 15th, say."""
    rule, series = fragment.tasks[old].repeats, draft.task(new)
    before = [fragment.tasks[c].occurrence for c in fragment.children_of(fragment.tasks[old].project, old)]
    there = [moment for moment in before if moment is not None]
    if not there or there != list(moments_of(rule, there[-1], len(there))):
        return
    last = there[-1] + (moments_of(series.repeats, LAST_TIME, 1)[0] - there[0]) + 366 * DAY
    moments = moments_of(series.repeats, last, len(there))
    occurrences = [c for c in draft.children_of(series.project, new) if draft.task(c).occurrence is not None]
    if len(moments) == len(there):
        for i, (child, moment) in enumerate(zip(occurrences, moments, strict=True)):
            draft.put(dated(draft.task(child), series.name, i, moment))


def _with_calendars(draft: Draft, fragment: Plan) -> dict[str, str]:
    """The plan's calendar for each of the fragment's: one of its id, or of its name, or a new one."""
    found: dict[str, str] = {}
    for calendar in fragment.calendars.values():
        known = draft.get("calendars", calendar.id)
        if known is None:
            named = [c for c in draft.before.calendars.values() if c.name == calendar.name]
            if named:
                found[calendar.id] = named[0].id
                continue
            draft.put(calendar)
        found[calendar.id] = calendar.id
    return found


def _assign(
    draft: Draft,
    fragment: Plan,
    ids: Mapping[str, str],
    calendars: Mapping[str, str],
    swaps: Mapping[str, str],
    days: int,
) -> None:
    chosen: dict[str, str] = {}
    last = draft.before.resources_in_order()
    resources = fragment.resources_in_order()
    ranks = ranks_between(last[-1].rank if last else None, None, len(resources))
    for resource, rank in zip(resources, ranks, strict=True):
        chosen[resource.id] = swaps.get(resource.id) or _known(draft, replace(resource, rank=rank), calendars)
    for assignment in fragment.assignments.values():
        key = (ids[assignment.task], chosen[assignment.resource])
        before = draft.get("assignments", key)
        first_day, last_day = (None if d is None else d + days for d in (assignment.first_day, assignment.last_day))
        copied = replace(assignment, task=key[0], resource=key[1], first_day=first_day, last_day=last_day)
        if before is not None:  # two who became one
            copied = replace(copied, units=assignment.units + before.units)
        draft.put(copied)


def _there(draft: Draft, resource: str | None) -> str | None:
    """A role or a team, where the plan has it."""
    return resource if resource is not None and draft.get("resources", resource) is not None else None


def _known(draft: Draft, resource: Resource, calendars: Mapping[str, str]) -> str:
    """The plan's resource of that id or name; added if there is none."""
    if draft.get("resources", resource.id) is not None:
        return resource.id
    for other in draft.before.resources.values():
        if other.name.casefold() == resource.name.casefold():
            return other.id
    taken = {r.initials.casefold() for r in draft.before.resources.values()}
    initials = "" if resource.initials.casefold() in taken else resource.initials
    calendar = calendars.get(resource.calendar or "", resource.calendar)
    draft.put(
        replace(
            resource,
            initials=initials,
            calendar=calendar,
            role=_there(draft, resource.role),
            team=_there(draft, resource.team),
            roles=tuple(r for r in resource.roles if _there(draft, r)),
        )
    )
    return resource.id
