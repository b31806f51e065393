"""Plan JSON, the open interchange form. docs/plan-json.md describes it; its schema is generated from here."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Mapping
from decimal import Decimal
from itertools import chain
from operator import attrgetter
from typing import Any

import msgspec

from hexapod.errors import BadFile
from hexapod.formats.account_entries import (
    baseline_entry,
    baseline_of,
    budget_entry,
    budget_of,
    log_entry,
    log_of,
    money_entry,
    money_of,
    sheet_entry,
    sheet_of,
)
from hexapod.formats.calendar_entries import calendar_of, exceptions_of
from hexapod.formats.documents import (
    AssignmentEntry,
    CommentEntry,
    Entry,
    ErrandEntry,
    FieldEntry,
    PlanDocument,
    ProjectEntry,
    ReservationEntry,
    ResourceEntry,
    SkillEntry,
    StageEntry,
    TaskEntry,
    ViewEntry,
)
from hexapod.formats.places import Misplaced, day_at, day_or_none, moment_at, moment_or_none, named
from hexapod.formats.plan_entries import (
    ENTRY_OF,
    assignment_entry,
    calendar_entry,
    comment_entry,
    errand_entry,
    field_entry,
    link_entry,
    project_entry,
    report_entry,
    report_from,
    reservation_entry,
    resource_entry,
    stage_entry,
    task_entry,
    thresholds_entry,
    thresholds_from,
    view_entry,
)
from hexapod.formats.request_entries import (
    approval_entry,
    approval_of,
    deliverable_entry,
    deliverable_of,
    request_entry,
    request_of,
    route_entry,
    route_of,
)
from hexapod.formats.risk_entries import risk_entry, risk_of
from hexapod.plan.kept import reports_in_order
from hexapod.plan.outline import outline_order
from hexapod.plan.plan import Plan
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import (
    Assignment,
    Comment,
    Errand,
    Field,
    KeptView,
    Limit,
    Link,
    Project,
    Record,
    Reservation,
    Resource,
    Skill,
    Stage,
    Task,
)
from hexapod.plan.validity import InvalidRecord, broken_records
from hexapod.system import budgets
from hexapod.system.budgets import within

FORMAT, VERSION = "hexapod-plan", 1


def read_plan(data: bytes) -> Plan:
    """The plan of a document. ``BadFile`` names the place of the first mistake, on one line."""
    within("The document", len(data), "bytes", budgets.DOCUMENT)
    try:
        document = msgspec.json.decode(data, type=PlanDocument)
    except RecursionError:
        raise BadFile("$: the document is nested too deep.") from None
    except (msgspec.MsgspecError, ValueError, OverflowError) as error:
        raise BadFile(_one_line(str(error))) from None
    if document.format != FORMAT:
        raise Misplaced("$.format", f"must be “{FORMAT}”")
    if document.version != VERSION:
        raise Misplaced("$.version", f"must be {VERSION}; this Hexapod reads no other")
    records = _records(document)
    plan = Plan.of(chain.from_iterable(records.values()))
    _refuse_twins(records, plan)
    broken = broken_records(plan)
    if broken:
        raise _first_mistake(records, broken)
    return plan


def write_plan(plan: Plan) -> bytes:
    """The document of a plan, with lists in the order of the outline."""
    position = {t: i for i, t in enumerate(outline_order(plan))}
    document = PlanDocument(
        FORMAT,
        VERSION,
        [calendar_entry(c) for c in sorted(plan.calendars.values(), key=lambda c: c.id)],
        [project_entry(p) for p in plan.projects_in_order()],
        [task_entry(plan.tasks[t]) for t in position],
        [
            link_entry(x)
            for x in sorted(plan.links.values(), key=lambda x: (position[x.successor], position[x.predecessor], x.type))
        ],
        [resource_entry(r) for r in plan.resources_in_order()],
        [assignment_entry(a) for a in sorted(plan.assignments.values(), key=lambda a: (position[a.task], a.resource))],
        [reservation_entry(r) for p in plan.projects_in_order() for r in plan.reservations_of(p.id)],
        [field_entry(f) for f in plan.fields_in_order()],
        [comment_entry(c) for c in sorted(plan.comments.values(), key=lambda c: (position[c.task], c.at, c.id))],
        [view_entry(v) for v in plan.views_in_order()],
        [stage_entry(s) for s in plan.stages_in_order()],
        [errand_entry(e) for e in sorted(plan.errands.values(), key=lambda e: (e.resource, e.rank))],
        [log_entry(x) for x in sorted(plan.logs.values(), key=lambda x: (x.day, x.resource, position[x.task], x.id))],
        [sheet_entry(s) for s in sorted(plan.sheets.values(), key=lambda s: (s.week, s.resource))],
        [money_entry(e) for e in sorted(plan.entries.values(), key=lambda e: (e.first_day, e.last_day, e.id))],
        [budget_entry(b) for b in sorted(plan.budgets.values(), key=lambda b: (b.project, b.first_day or 0, b.id))],
        [baseline_entry(b) for b in sorted(plan.baselines.values(), key=lambda b: (b.project, b.at, b.id))],
        [risk_entry(r) for r in sorted(plan.risks.values(), key=lambda r: (r.project, r.id))],
        [report_entry(r) for r in reports_in_order(plan.reports.values())],
        [request_entry(r) for r in sorted(plan.requests.values(), key=lambda r: (r.asked, r.id))],
        [route_entry(r) for r in sorted(plan.routes.values(), key=lambda r: (r.rank, r.id))],
        [approval_entry(a) for a in sorted(plan.approvals.values(), key=lambda a: (position[a.task], a.id))],
        [thresholds_entry(t) for t in plan.thresholds.values()],
        [
            deliverable_entry(d)
            for d in sorted(plan.deliverables.values(), key=lambda d: (position[d.task], d.rank, d.id))
        ],
    )
    return msgspec.json.format(msgspec.json.encode(_said(document)), indent=1) + b"\n"


def read_record(kind: str, entry: dict[str, Any]) -> Record:
    """The record of one entry of a list, such as ``tasks``. ``BadFile`` says what of it cannot be read."""
    try:
        document = msgspec.convert({"format": FORMAT, "version": VERSION, kind: [entry]}, PlanDocument)
    except (msgspec.MsgspecError, ValueError, OverflowError) as error:
        raise BadFile(_one_line(str(error)).replace(f"$.{kind}[...]", kind).replace(f"$.{kind}[0]", kind)) from None
    try:
        record: Record = _records(document)[kind][0]
        return record
    except BadFile as error:
        raise BadFile(str(error).replace(f"$.{kind}[0].", "").replace(f"$.{kind}[0]", kind)) from None


def written_record(kind: str, record: Record) -> dict[str, Any]:
    """One record as an entry of its list, with all of its keys."""
    found: dict[str, Any] = msgspec.to_builtins(ENTRY_OF[kind](record))
    return found


def _said(entry: Any) -> Any:
    """An entry as plain values, without what is at its default."""
    if isinstance(entry, list):
        return [_said(each) for each in entry]
    if not isinstance(entry, Entry):
        return entry
    said: dict[str, Any] = {}
    for part in msgspec.structs.fields(entry):
        value = getattr(entry, part.name)
        default = part.default_factory() if part.default_factory is not msgspec.NODEFAULT else part.default
        if value != default:
            said[part.encode_name] = _said(value)
    return said


def schema() -> dict[str, Any]:
    """JSON Schema of the document."""
    found = msgspec.json.schema(PlanDocument)
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "title": "Hexapod plan", **found}


def _one_line(text: str) -> str:
    return re.sub(r"\s+", " ", text)[:500]


def _records(document: PlanDocument) -> dict[str, list[Any]]:
    """The records by kind, each in the place of its entry in the document."""
    found: dict[str, list[Any]] = {}
    for kind, read in IN_ORDER.items():
        entries = getattr(document, kind)
        found[kind] = []
        for i, (entry, rank) in enumerate(zip(entries, ranks_between(None, None, len(entries)), strict=True)):
            named(entry.id, f"$.{kind}[{i}]")
            found[kind].append(read(entry, f"$.{kind}[{i}]", rank))
    for kind, read_one in OTHERS.items():
        found[kind] = [read_one(entry, f"$.{kind}[{i}]") for i, entry in enumerate(getattr(document, kind))]
    columns = (map(attrgetter(field), document.links) for field in Link.__struct_fields__)
    found["links"] = list(map(Link, *columns))  # by columns, since there may be hundreds of thousands
    return found


def _refuse_twins(records: Mapping[str, list[Any]], plan: Plan) -> None:
    """``Misplaced`` for the first record that has the key of one before it."""
    for kind, found in records.items():
        if len(found) == len(getattr(plan, kind)):
            continue
        places: dict[Any, int] = {}
        for i, record in enumerate(found):
            first = places.setdefault(record.key, i)
            if first != i:
                what = record.id if hasattr(record, "id") else " → ".join(record.key)
                raise Misplaced(f"$.{kind}[{i}]", f"“{what}” is there already, at $.{kind}[{first}]")


def _first_mistake(records: Mapping[str, list[Any]], broken: list[InvalidRecord]) -> Misplaced:
    """Of the first kind that has any the one that comes first in the document."""
    kind = broken[0].kind
    place = {record.key: i for i, record in enumerate(records[kind])}
    first = min((error for error in broken if error.kind == kind), key=lambda error: place[error.key])
    return Misplaced(f"$.{kind}[{place[first.key]}]", _one_line(str(first)))


def _field(field: FieldEntry, place: str, rank: str) -> Field:
    name = field.name or field.id
    return Field(field.id, name, rank, field.kind, tuple(field.choices), field.formula, field.outside, field.of)


def _comment(comment: CommentEntry, place: str) -> Comment:
    return Comment(comment.id, comment.task, comment.who, moment_at(comment.at, f"{place}.at"), comment.text)


def _view(view: ViewEntry, place: str, rank: str) -> KeptView:
    return KeptView(view.id, view.name, rank, msgspec.json.encode(view.shows).decode(), view.of)


def _stage(stage: StageEntry, place: str, rank: str) -> Stage:
    return Stage(stage.id, stage.name or stage.id, rank, stage.percent, stage.limit)


def _errand(errand: ErrandEntry, place: str, rank: str) -> Errand:
    due, done = day_or_none(errand.due, f"{place}.due"), moment_or_none(errand.done, f"{place}.done")
    return Errand(errand.id, errand.resource, errand.name, rank, due, done)


def _project(entry: ProjectEntry, place: str, rank: str) -> Project:
    start = moment_at(entry.start, f"{place}.start")
    return Project(
        entry.id,
        entry.name or entry.id,
        start,
        rank,
        entry.calendar,
        moment_or_none(entry.status_date, f"{place}.status_date"),
        moment_or_none(entry.target_finish, f"{place}.target_finish"),
        entry.priority,
        entry.critical_float,
        entry.near_critical_float,
        entry.direction,
        moment_or_none(entry.finish, f"{place}.finish"),
        entry.gap,
        entry.unit,
        entry.folder,
        entry.archived,
        entry.out_of_order,
        entry.led_by,
        entry.baseline,
        tuple(sorted(entry.moves_together.items())),
        entry.on_hold,
        entry.department,
        entry.outside,
        entry.word,
        entry.word_by,
        moment_or_none(entry.word_at, f"{place}.word_at"),
        tuple(entry.fields.items()),
    )


def _task(entry: TaskEntry, place: str, rank: str) -> Task:
    limits = []
    for i, limit in enumerate(entry.limits):
        at = moment_at(limit.at, f"{place}.limits[{i}].at")
        limits.append(Limit(limit.kind, at, limit.by))
    return Task(
        entry.id,
        entry.project,
        entry.name if entry.name is not None else entry.id,
        rank,
        entry.parent,
        entry.duration,
        entry.calendar,
        entry.priority,
        entry.pinned,
        tuple(limits),
        moment_or_none(entry.target, f"{place}.target"),
        entry.hold,
        entry.stream,
        entry.notes,
        entry.kind,
        entry.elapsed,
        entry.as_late_as_possible,
        tuple(entry.tags),
        tuple(entry.fields.items()),
        tuple(entry.attachments),
        entry.repeats,
        moment_or_none(entry.occurrence, f"{place}.occurrence"),
        entry.percent,
        entry.effort,
        entry.keeps,
        moment_or_none(entry.actual_start, f"{place}.actual_start"),
        moment_or_none(entry.actual_finish, f"{place}.actual_finish"),
        entry.remaining,
        moment_or_none(entry.as_of, f"{place}.as_of"),
        entry.stage,
        entry.on_board,
        tuple(entry.also_told),
        tuple(entry.reminders),
        entry.earns,
        entry.weight,
        tuple(entry.estimate),
        entry.shape,
        entry.outside,
    )


def _resource(entry: ResourceEntry, place: str, rank: str) -> Resource:
    skills = (SkillEntry(s) if isinstance(s, str) else s for s in entry.skills)
    return Resource(
        id=entry.id,
        name=entry.name if entry.name is not None else entry.id,
        rank=rank,
        kind=entry.kind,
        capacity=entry.capacity,
        calendar=entry.calendar,
        initials=entry.initials,
        leave=exceptions_of(entry.leave, f"{place}.leave"),
        capacity_from=tuple(
            (day_at(step.start, f"{place}.capacity_from[{i}].from"), step.capacity)
            for i, step in enumerate(entry.capacity_from)
        ),
        email=entry.email,
        section=entry.group,
        role=entry.role,
        roles=tuple(entry.roles),
        team=entry.team,
        skills=tuple(Skill(s.name, s.level) for s in skills),
        rate=_smallest(entry.rate, f"{place}.rate"),
        rate_from=tuple(
            (day_at(step.start, f"{place}.rate_from[{i}].from"), _smallest(step.rate, f"{place}.rate_from[{i}].rate"))
            for i, step in enumerate(entry.rate_from)
        ),
        notices=tuple(entry.notices.items()),
        due_days=entry.due_days,
    )


def _assignment(entry: AssignmentEntry, place: str) -> Assignment:
    if (entry.units != 1.0) + (entry.hours_a_day is not None) + (entry.total is not None) > 1:
        raise Misplaced(place, "an assignment has units, hours_a_day or total, only one of them")
    return Assignment(
        entry.task,
        entry.resource,
        entry.units,
        entry.hours_a_day,
        entry.total,
        day_or_none(entry.first, f"{place}.from"),
        day_or_none(entry.last, f"{place}.to"),
        entry.curve,
    )


def _reservation(entry: ReservationEntry, place: str) -> Reservation:
    named(entry.id, place)
    return Reservation(
        entry.id,
        entry.project,
        entry.resource,
        entry.units,
        day_or_none(entry.first, f"{place}.from"),
        day_or_none(entry.last, f"{place}.to"),
    )


def _smallest(money: float, place: str) -> int:
    """Money in its smallest unit."""
    if not (math.isfinite(money) and abs(money) < 1e12):
        raise Misplaced(place, f"{money!r} is no amount of money")
    found = Decimal(repr(money)) * 100
    if found != found.to_integral_value():
        raise Misplaced(place, f"{money!r} is no amount of money with two places")
    return int(found)


# How the kinds are read whose records have an order, and how those that have none. Links are read by columns.
IN_ORDER: dict[str, Callable[[Any, str, str], Record]] = {
    "projects": _project,
    "tasks": _task,
    "resources": _resource,
    "fields": _field,
    "views": _view,
    "reports": lambda entry, place, rank: report_from(entry, rank),
    "routes": lambda entry, place, rank: route_of(entry, rank),
    "deliverables": deliverable_of,
    "stages": _stage,
    "errands": _errand,
}
OTHERS: dict[str, Callable[[Any, str], Record]] = {
    "calendars": calendar_of,
    "assignments": _assignment,
    "reservations": _reservation,
    "comments": _comment,
    "logs": log_of,
    "sheets": sheet_of,
    "entries": money_of,
    "budgets": budget_of,
    "baselines": baseline_of,
    "risks": risk_of,
    "requests": request_of,
    "approvals": approval_of,
    "thresholds": thresholds_from,
}
