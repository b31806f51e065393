"""The parts of a plan JSON document, as they are written. The JSON Schema is generated from here."""

from __future__ import annotations

from typing import Any

from msgspec import Struct, field

from hexapod.plan.accounts import EntryKind, SheetState
from hexapod.plan.estimates import Shape
from hexapod.plan.kept import TASKS
from hexapod.plan.notice_kinds import NoticeKind, NoticeWhen
from hexapod.plan.records import (
    Curve,
    Direction,
    Earns,
    FieldKind,
    FieldValue,
    Gap,
    Held,
    LagOn,
    LimitKind,
    LinkType,
    OutOfOrder,
    ResourceKind,
    TaskKind,
)
from hexapod.plan.requests import RequestState
from hexapod.plan.risks import AnswerKind, RiskKind, RiskState


class Entry(Struct, forbid_unknown_fields=True):
    """Base of the document's parts: an unknown key is an error."""


class ExceptionEntry(Entry):
    """Days with other working hours, by ``from`` and ``to`` or by an RFC 5545 ``rule``; an empty list is time off."""

    first: str | None = field(name="from", default=None)
    last: str | None = field(name="to", default=None)
    working: list[str] = []
    rule: str = ""
    name: str = ""


class CalendarEntry(Entry):
    id: str
    name: str | None = None
    base: str | None = None
    week: dict[str, list[str]] = {}
    exceptions: list[ExceptionEntry] = []
    holidays: str = ""
    hours_a_day: float = 8
    hours_a_week: float = 40
    days_a_month: int = 20


class ProjectEntry(Entry):
    id: str
    start: str
    name: str | None = None
    calendar: str = "standard"
    status_date: str | None = None
    target_finish: str | None = None
    priority: int = 5
    critical_float: int = 0
    near_critical_float: int = 2400
    direction: Direction = Direction.FORWARD
    finish: str | None = None
    gap: Gap = Gap.USE
    unit: str = "d"
    folder: str = ""
    archived: bool = False
    out_of_order: OutOfOrder = OutOfOrder.WAITS
    led_by: str | None = None
    baseline: str | None = None
    moves_together: dict[str, float] = {}
    on_hold: bool = False
    department: str = ""
    outside: bool = False
    word: str = ""
    word_by: str = ""
    word_at: str | None = None
    fields: dict[str, FieldValue] = {}


class LimitEntry(Entry):
    kind: LimitKind
    at: str
    by: str = ""


class TaskEntry(Entry):
    id: str
    project: str
    parent: str | None = None
    name: str | None = None
    kind: TaskKind = TaskKind.TASK
    duration: int | None = None
    elapsed: bool = False
    calendar: str | None = None
    priority: int = 5
    pinned: bool = False
    as_late_as_possible: bool = False
    limits: list[LimitEntry] = []
    target: str | None = None
    hold: int = 0
    stream: str = ""
    notes: str = ""
    tags: list[str] = []
    fields: dict[str, FieldValue] = {}
    attachments: list[str] = []
    repeats: str = ""
    occurrence: str | None = None
    percent: float = 0
    effort: int | None = None
    keeps: Held = Held.DURATION
    actual_start: str | None = None
    actual_finish: str | None = None
    remaining: int | None = None
    as_of: str | None = None
    stage: str | None = None
    on_board: bool = False
    also_told: list[str] = []
    reminders: list[int] = []
    earns: Earns = Earns.PERCENT
    weight: float = 1
    estimate: list[int] = []
    shape: Shape = Shape.PERT
    outside: bool | None = None


class LinkEntry(Entry):
    predecessor: str
    successor: str
    type: LinkType = LinkType.FS
    lag: int = 0
    lag_on: LagOn = LagOn.SUCCESSOR
    lag_percent: float = 0
    gap: Gap | None = None
    gap_kept: int = 0


class SkillEntry(Entry):
    """A skill with its level, 1 to 5; a skill that is text only has the level 3."""

    name: str
    level: int = 3


class CapacityEntry(Entry):
    start: str = field(name="from")
    capacity: float = 1.0


class RateEntry(Entry):
    start: str = field(name="from")
    rate: float = 0


class ResourceEntry(Entry):
    """``role`` and ``roles`` are ids of resources of the kind role, ``team`` of one of the kind team; ``rate`` is
    money an hour."""

    id: str
    name: str | None = None
    kind: ResourceKind = ResourceKind.PERSON
    capacity: float = 1.0
    calendar: str | None = None
    initials: str = ""
    leave: list[ExceptionEntry] = []
    email: str = ""
    role: str | None = None
    roles: list[str] = []
    team: str | None = None
    skills: list[str | SkillEntry] = []
    group: str = ""
    rate: float = 0
    rate_from: list[RateEntry] = []
    capacity_from: list[CapacityEntry] = []
    notices: dict[NoticeKind, NoticeWhen] = {}
    due_days: int = 3


class AssignmentEntry(Entry):
    """Either ``units``, or ``hours_a_day``, or the ``total`` in minutes of work."""

    task: str
    resource: str
    units: float = 1.0
    hours_a_day: float | None = None
    total: int | None = None
    first: str | None = field(name="from", default=None)
    last: str | None = field(name="to", default=None)
    curve: Curve = Curve.FLAT


class ReservationEntry(Entry):
    """Somebody, or anybody of a role, is promised to a project: at ``units``, from one day to another."""

    id: str
    project: str
    resource: str
    units: float = 1.0
    first: str | None = field(name="from", default=None)
    last: str | None = field(name="to", default=None)


class FieldEntry(Entry):
    """One of a person's own fields; ``fields`` of a task or of a project holds its values by name."""

    id: str
    name: str | None = None
    kind: FieldKind = FieldKind.TEXT
    choices: list[str] = []
    formula: str = ""
    outside: bool = False
    of: str = TASKS


class CommentEntry(Entry):
    id: str
    task: str
    who: str
    at: str
    text: str


class ViewEntry(Entry):
    """A view that is kept under a name; ``shows`` says what it shows ``of`` the ``tasks`` or the ``projects``."""

    id: str
    name: str
    shows: dict[str, Any] = {}
    of: str = "tasks"


class StageEntry(Entry):
    """A column of the board: what per cent it means, and how many cards it should hold at most."""

    id: str
    name: str | None = None
    percent: float | None = None
    limit: int | None = None


class ErrandEntry(Entry):
    """Something that somebody has to do and that belongs to no project."""

    id: str
    resource: str
    name: str
    due: str | None = None
    done: str | None = None


class LogEntry(Entry):
    """Minutes that somebody worked on a task on a day, and perhaps how far it was then."""

    id: str
    task: str
    resource: str
    day: str
    minutes: int
    note: str = ""
    percent: float | None = None
    remaining: int | None = None


class SheetEntry(Entry):
    """One person's ISO week of hours, such as 2026-W42."""

    id: str
    resource: str
    week: str
    state: SheetState = SheetState.OPEN
    by: str = ""
    word: str = ""


class MoneyEntryEntry(Entry):
    """An amount of money, in its smallest unit, on a ``day``, or spread evenly ``from`` one day ``to`` another."""

    id: str
    project: str
    kind: EntryKind
    amount: int
    task: str | None = None
    name: str | None = None
    planned: bool = False
    day: str | None = None
    first: str | None = field(name="from", default=None)
    last: str | None = field(name="to", default=None)


class BudgetEntry(Entry):
    """What a project, or a branch of it, may cost (``amount``, in the smallest unit) or take (``minutes`` of work)."""

    id: str
    project: str
    task: str | None = None
    first: str | None = field(name="from", default=None)
    last: str | None = field(name="to", default=None)
    amount: int | None = None
    minutes: int | None = None


class BaselineTaskEntry(Entry):
    """How one task was planned: ``duration`` and ``effort`` in minutes, ``cost`` in the smallest unit of money.
    With ``own`` effort and cost of a summary are its own, and not those of the rows below it."""

    task: str
    start: str
    finish: str
    duration: int = 0
    effort: int = 0
    cost: int = 0
    calendar: str | None = None
    curve: Curve = Curve.FLAT
    own: bool = False


class BaselineEntry(Entry):
    """How a project was planned at a moment."""

    id: str
    project: str
    at: str
    name: str | None = None
    tasks: list[BaselineTaskEntry] = []


class RiskDelayEntry(Entry):
    """Working minutes that a risk adds to a task: best, likely and worst."""

    task: str
    minutes: list[int]


class RiskEntry(Entry):
    """What may happen, or did; ``cost`` is best, likely and worst in the smallest unit of money. What is left once the
    answer is taken has ``_after``; where that is missing, it is as before."""

    id: str
    project: str
    name: str | None = None
    kind: RiskKind = RiskKind.RISK
    cause: str = ""
    effect: str = ""
    chance: float = 0.0
    delays: list[RiskDelayEntry] = []
    cost: list[int] | None = None
    answer: AnswerKind | None = None
    answer_note: str = ""
    answer_cost: int = 0
    answered: bool = False
    chance_after: float | None = None
    delays_after: list[RiskDelayEntry] | None = None
    cost_after: list[int] | None = None
    owner: str | None = None
    state: RiskState = RiskState.OPEN
    due: str | None = None
    until: str | None = None
    about: list[str] = []
    notes: str = ""


class ReportEntry(Entry):
    """A report that is kept: its parts in order, and of what it is."""

    id: str
    name: str
    parts: list[str] = []
    heading: str = ""
    text: str = ""
    projects: list[str] = []
    department: str = ""
    days: int = 7
    outside: bool = False


class RequestEntry(Entry):
    """What somebody asks for before there is a project."""

    id: str
    name: str
    asked: str
    why: str = ""
    wanted_by: str | None = None
    size: int = 0
    benefit: str = ""
    who: str = ""
    email: str = ""
    state: RequestState = RequestState.NEW
    word: str = ""
    by: str = ""
    answered: str | None = None
    project: str | None = None
    source: str = ""


class RouteEntry(Entry):
    """A way that approvals go."""

    id: str
    name: str
    people: list[str] = []
    in_order: bool = True


class ApprovalAnswerEntry(Entry):
    person: str
    name: str
    yes: bool
    word: str
    at: str


class ApprovalEntry(Entry):
    """Who has to agree to a milestone, and what they said."""

    id: str
    task: str
    people: list[str] = []
    in_order: bool = True
    work: str | None = None
    by: str = ""
    asked: str | None = None
    answers: list[ApprovalAnswerEntry] = []
    deliverable: str | None = None


class DeliverableEntry(Entry):
    """What a task hands over."""

    id: str
    task: str
    name: str
    asked: str = ""
    files: list[str] = []
    handed: str | None = None
    by: str = ""


class ThresholdsEntry(Entry):
    """From when on projects are in doubt, and late: working days before and after their target."""

    id: str = "thresholds"
    doubt_days: float = 5.0
    late_days: float = 0.0


class PlanDocument(Entry):
    format: str
    version: int
    calendars: list[CalendarEntry] = []
    projects: list[ProjectEntry] = []
    tasks: list[TaskEntry] = []
    links: list[LinkEntry] = []
    resources: list[ResourceEntry] = []
    assignments: list[AssignmentEntry] = []
    reservations: list[ReservationEntry] = []
    fields: list[FieldEntry] = []
    comments: list[CommentEntry] = []
    views: list[ViewEntry] = []
    stages: list[StageEntry] = []
    errands: list[ErrandEntry] = []
    logs: list[LogEntry] = []
    sheets: list[SheetEntry] = []
    entries: list[MoneyEntryEntry] = []
    budgets: list[BudgetEntry] = []
    baselines: list[BaselineEntry] = []
    risks: list[RiskEntry] = []
    reports: list[ReportEntry] = []
    requests: list[RequestEntry] = []
    routes: list[RouteEntry] = []
    approvals: list[ApprovalEntry] = []
    thresholds: list[ThresholdsEntry] = []
    deliverables: list[DeliverableEntry] = []
