"""The plan as people outside may see it: a plan of its own that holds nothing else, so that nothing else can be told.

``plan.outside`` says which rows they are. Rows whose parent is inside are lifted to the nearest one that is not. Each
row keeps the dates that it has, as facts without links, limits or people: what holds them where they are is nobody's
business outside.
"""

from __future__ import annotations

from collections.abc import Iterable

from msgspec.structs import replace

from hexapod.plan.outside import outside_tasks
from hexapod.plan.plan import Plan
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import (
    Calendar,
    Field,
    FieldKind,
    FieldValue,
    Limit,
    LimitKind,
    Project,
    Record,
    Task,
    TaskKind,
)
from hexapod.schedule.schedule import Schedule

NOT_NAMED = "Not named"  # a project that is inside and has rows that are not
ALWAYS = "always"
_PLAINER = {FieldKind.PERSON: FieldKind.TEXT, FieldKind.CHOICE: FieldKind.TEXT, FieldKind.COMPUTED: FieldKind.TEXT}


def outside_plan(schedule: Schedule, projects: Iterable[str]) -> Plan:
    """What of some projects is meant for people outside; ids, names and all other words of the rest are not in it."""
    plan, scope = schedule.plan, tuple(projects)
    seen = outside_tasks(plan, scope)
    fields = [f for f in plan.fields_in_order() if f.outside]
    home: dict[str, str] = {}
    hours: dict[str, Calendar] = {}
    records: list[Record] = []
    with_rows = {plan.tasks[t].project for t in seen}
    shown = [p for p in scope if plan.projects[p].outside or p in with_rows]
    for i, (project, rank) in enumerate(zip(shown, ranks_between(None, None, len(shown)), strict=True)):
        home[project] = f"p{i}"
        shell = _project(plan, plan.projects[project], f"p{i}", rank, fields)
        records.append(replace(shell, calendar=_hours(plan, plan.projects[project].calendar, hours)))
    records += hours.values()
    records += [
        Field(f"f{i}", f.name, f.rank, _PLAINER.get(f.kind, f.kind), outside=True, of=f.of)
        for i, f in enumerate(fields)
    ]
    new_id = {task: f"t{i}" for i, task in enumerate(seen)}
    parent = {task: next((a for a in plan.ancestors(task) if a in new_id), None) for task in seen}
    parents = {p for p in parent.values() if p is not None}
    for task, rank in zip(seen, ranks_between(None, None, len(seen)), strict=True):
        above = parent[task]
        made = _task(schedule, plan.tasks[task], new_id[task], home[plan.tasks[task].project], rank,
                     is_summary=task in parents, fields=fields)  # fmt: skip
        records.append(made if above is None else replace(made, parent=new_id[above]))
    return Plan.of(records)


def _hours(plan: Plan, calendar: str, known: dict[str, Calendar]) -> str:
    """The hours of a calendar under a name that says nothing, by which days to a target are counted."""
    if calendar not in plan.calendars:
        return calendar  # built in
    if calendar not in known:
        found = plan.calendars[calendar]
        base = None if found.base is None else _hours(plan, found.base, known)
        free = tuple(replace(each, name="") for each in found.exceptions)
        known[calendar] = replace(found, id=f"c{len(known)}", name="Hours", base=base, exceptions=free)
    return known[calendar].id


def _project(plan: Plan, project: Project, key: str, rank: str, fields: list[Field]) -> Project:
    """Its name, its target and how far it is told, where it is for people outside; else only that it is there."""
    if not project.outside:
        return Project(key, NOT_NAMED, project.start, rank, on_hold=project.on_hold)
    return Project(
        key, project.name, project.start, rank, status_date=None, target_finish=project.target_finish,
        on_hold=project.on_hold, outside=True, fields=_values(plan, project, fields),
    )  # fmt: skip


def _values(plan: Plan, holder: Project | Task, fields: list[Field]) -> tuple[tuple[str, FieldValue], ...]:
    """What of its own fields may be seen."""
    values = dict(holder.fields)
    return tuple((f.name, _value(plan, f, values[f.name])) for f in fields if f.name in values)


def _value(plan: Plan, field: Field, value: FieldValue) -> FieldValue:
    """What stands in a field; of a person the name."""
    if field.kind is FieldKind.PERSON and str(value) in plan.resources:
        return plan.resources[str(value)].name
    return value


def _task(
    schedule: Schedule, task: Task, key: str, project: str, rank: str, *, is_summary: bool, fields: list[Field]
) -> Task:
    """A row as a fact: where it lies, how far it is, whether it is wanted by a day."""
    kept = _values(schedule.plan, task, fields)
    made = Task(key, project, task.name, rank, target=task.target, fields=kept, outside=True)
    if is_summary:
        return made
    start, finish = schedule.dates(task.id).start, schedule.dates(task.id).finish
    is_moment = task.kind is TaskKind.MILESTONE or start == finish
    made = replace(
        made, calendar=ALWAYS, duration=0 if is_moment else max(0, finish - start),
        kind=TaskKind.MILESTONE if is_moment else TaskKind.TASK,
    )  # fmt: skip
    percent = task.percent
    if schedule.plan.is_summary(task.id):
        percent = round(float(schedule.network.percents[schedule.slots[task.id]]), 1)
    if task.is_done or percent >= 100:
        return replace(made, percent=100.0, actual_start=start, actual_finish=finish)
    if percent or task.actual_start is not None:
        return replace(made, percent=percent, actual_start=start)
    return replace(made, limits=(Limit(LimitKind.MUST_START, start if not is_moment else finish),))
