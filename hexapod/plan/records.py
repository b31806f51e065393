"""The records of a plan: small, frozen, and exactly what is stored.

Times are int minutes since 1970-01-01 00:00 local, lengths are int minutes. Every record has a ``key``
that names it within its kind. Nothing here is computed; dates come out of a schedule.
"""

from __future__ import annotations

from decimal import ROUND_HALF_UP, Decimal
from enum import StrEnum

from hexapod.plan.estimates import Estimate, Shape
from hexapod.plan.kept import TASKS
from hexapod.plan.kept import Comment as Comment
from hexapod.plan.kept import Errand as Errand
from hexapod.plan.kept import KeptReport as KeptReport
from hexapod.plan.kept import KeptView as KeptView
from hexapod.plan.kept import Stage as Stage
from hexapod.plan.notice_kinds import NoticeKind, NoticeWhen
from hexapod.plan.record import Record as Record

LinkKey = tuple[str, str, str]
AssignmentKey = tuple[str, str]
Key = str | LinkKey | AssignmentKey

DAY = 1440  # minutes of a clock day
DEEPEST = 60  # levels of an outline
DEFAULT_DURATION = 480  # one 8 h day: what a task takes until a person says otherwise


class LinkType(StrEnum):
    """Which end of the predecessor holds which end of the successor."""

    FS = "FS"
    SS = "SS"
    FF = "FF"
    SF = "SF"


class LimitKind(StrEnum):
    """A bound a person puts on one end of a task."""

    START_NO_EARLIER = "start_no_earlier"
    FINISH_NO_EARLIER = "finish_no_earlier"
    START_NO_LATER = "start_no_later"
    FINISH_NO_LATER = "finish_no_later"
    MUST_START = "must_start"
    MUST_FINISH = "must_finish"


class Held(StrEnum):
    """What of a task stays as it is when another changes: effort = duration x rate."""

    DURATION = "duration"
    EFFORT = "effort"
    RATE = "rate"


class TaskKind(StrEnum):
    """A milestone is a moment even where it has a duration; a span stretches between the tasks it is linked to."""

    TASK = "task"
    MILESTONE = "milestone"
    SPAN = "span"


class Gap(StrEnum):
    """What a link does with the room before its successor when its predecessor moves."""

    USE = "use"
    KEEP = "keep"
    WARN = "warn"


class LagOn(StrEnum):
    """Whose working time counts a lag."""

    SUCCESSOR = "successor"
    PREDECESSOR = "predecessor"
    PROJECT = "project"
    ELAPSED = "elapsed"


class Direction(StrEnum):
    """A project is scheduled from its start, or back from its required finish."""

    FORWARD = "forward"
    BACKWARD = "backward"


class OutOfOrder(StrEnum):
    """What becomes of the rest of work that began before what it waits for: does it wait now, or go on."""

    WAITS = "waits"
    GOES_ON = "goes_on"


class Earns(StrEnum):
    """How much of its budget a task has earned: by its per cent, all of it when it is done, half when it begins, by the
    milestones below it, or as the time passes for which it was planned."""

    PERCENT = "percent"
    AT_END = "at_end"
    HALF = "half"
    MILESTONES = "milestones"
    TIME = "time"


class FieldKind(StrEnum):
    """What one of a person's own fields holds. Money is counted in its smallest unit."""

    TEXT = "text"
    NUMBER = "number"
    DATE = "date"
    CHOICE = "choice"
    YES_NO = "yes/no"
    PERSON = "person"
    MONEY = "money"
    COMPUTED = "computed"


class ResourceKind(StrEnum):
    PERSON = "person"
    TEAM = "team"
    ROLE = "role"
    EQUIPMENT = "equipment"
    PLACE = "place"
    MATERIAL = "material"  # a quantity: reported, not levelled


# Minutes of the day: begin, end. An end beyond 1440 lies in the next day, so that a shift may pass midnight;
# it belongs to the day on which it begins.
Interval = tuple[int, int]
FieldValue = str | int | float | bool


class CalendarException(Record, frozen=True):
    """Days, first to last inclusive (days since 1970-01-01), with other working intervals; none: no work.

    With a ``rule`` (RFC 5545: DTSTART, RRULE, EXDATE, RDATE lines) the days are those on which it occurs.
    """

    first_day: int
    last_day: int
    working: tuple[Interval, ...] = ()
    rule: str = ""
    name: str = ""


class Calendar(Record, frozen=True):
    """A weekly pattern and its exceptions, possibly on top of another calendar.

    ``week`` holds seven entries, Monday first; an entry of None takes the day from ``base``. ``holidays`` names
    a country, and perhaps a region of it, whose public holidays are free: ``GB`` or ``GB-SCT`` (ISO 3166).
    The three lengths only convert what people type: a day and a week in minutes, a month in days.
    """

    id: str
    name: str
    base: str | None = None
    week: tuple[tuple[Interval, ...] | None, ...] = (None,) * 7
    exceptions: tuple[CalendarException, ...] = ()
    holidays: str = ""
    day_minutes: int = 480
    week_minutes: int = 2400
    month_days: int = 20

    @property
    def key(self) -> str:
        return self.id


class Project(Record, frozen=True):
    """``finish`` is what a backward project is scheduled back from; ``gap`` what its links do by themselves.

    Tasks with at most ``critical_float`` working minutes of float are critical, with at most
    ``near_critical_float`` nearly so. ``unit`` (d, h or w) is what a bare number means where a length is typed.
    ``status_date`` is the moment up to which progress was told: nothing that is not done lies before it. ``led_by`` is
    who answers for it, ``baseline`` the one that it is measured against. ``moves_together`` is by stream the rank
    correlation of the lengths of its tasks, 0 to 1. ``on_hold`` asks for nobody: its dates stay, its work takes no
    capacity. ``outside`` says that people outside may see it. ``word`` is a judgement beside the derived state, with
    who said it and when (minutes). ``fields`` are values of own fields by name.
    """

    id: str
    name: str
    start: int
    rank: str
    calendar: str = "standard"
    status_date: int | None = None
    target_finish: int | None = None
    priority: int = 5
    critical_float: int = 0
    near_critical_float: int = 2400
    direction: Direction = Direction.FORWARD
    finish: int | None = None
    gap: Gap = Gap.USE
    unit: str = "d"
    folder: str = ""
    archived: bool = False
    out_of_order: OutOfOrder = OutOfOrder.WAITS
    led_by: str | None = None
    baseline: str | None = None
    moves_together: tuple[tuple[str, float], ...] = ()
    on_hold: bool = False
    department: str = ""
    outside: bool = False
    word: str = ""
    word_by: str = ""
    word_at: int | None = None
    fields: tuple[tuple[str, FieldValue], ...] = ()

    @property
    def key(self) -> str:
        return self.id

    @property
    def is_at_work(self) -> bool:
        """Neither put away nor on hold."""
        return not self.archived and not self.on_hold


class Limit(Record, frozen=True):
    """``by`` is who set it."""

    kind: LimitKind
    at: int
    by: str = ""


class Task(Record, frozen=True):
    """A row of the outline. With children it is a summary and its own duration is ignored.

    ``duration`` is working minutes, 0 for a milestone, None as long as nobody has said
    (it then counts as ``DEFAULT_DURATION``). ``hold`` is the working minutes that levelling adds
    before the start. ``target`` is the date the finish is wanted by. An ``elapsed`` duration runs round the
    clock. ``repeats`` makes a summary the series of its occurrences (RFC 5545, with DTSTART);
    ``occurrence`` is the moment at which the rule puts one of them. ``percent`` is how much is done, 0 to 100;
    that of a summary follows from what is below it. ``effort`` is what the work takes in all, in minutes of work, where
    somebody has said so; ``keeps`` is what stays when duration, effort or rate changes.

    A task with an ``actual_finish`` is done, one with only an ``actual_start`` is begun. ``remaining`` is how many
    working minutes are left where somebody said so, ``as_of`` the moment at which that, or the per cent, was so.

    A leaf that is ``on_board`` is a card in a ``stage``. ``also_told`` are people who hear of it beside those who work
    on it; ``reminders`` are so many days before its finish. ``earns`` is how it earns its budget; ``weight`` is that
    of a milestone among those of a branch that earns by them. ``estimate`` is how long it may take, ``shape`` how
    likely each length is.
    """

    id: str
    project: str
    name: str
    rank: str
    parent: str | None = None
    duration: int | None = None
    calendar: str | None = None
    priority: int = 5
    pinned: bool = False
    limits: tuple[Limit, ...] = ()
    target: int | None = None
    hold: int = 0
    stream: str = ""
    notes: str = ""
    kind: TaskKind = TaskKind.TASK
    elapsed: bool = False
    as_late_as_possible: bool = False
    tags: tuple[str, ...] = ()
    fields: tuple[tuple[str, FieldValue], ...] = ()
    attachments: tuple[str, ...] = ()  # files and web pages
    repeats: str = ""
    occurrence: int | None = None
    percent: float = 0.0
    effort: int | None = None
    keeps: Held = Held.DURATION
    actual_start: int | None = None
    actual_finish: int | None = None
    remaining: int | None = None
    as_of: int | None = None
    stage: str | None = None
    on_board: bool = False
    also_told: tuple[str, ...] = ()
    reminders: tuple[int, ...] = ()
    earns: Earns = Earns.PERCENT
    weight: float = 1.0
    estimate: Estimate = ()
    shape: Shape = Shape.PERT
    outside: bool | None = None  # whether people outside may see it; None as the row or project above it

    @property
    def key(self) -> str:
        return self.id

    @property
    def is_done(self) -> bool:
        return self.actual_finish is not None

    @property
    def is_begun(self) -> bool:
        """Begun and not done."""
        return self.actual_start is not None and self.actual_finish is None

    @property
    def rest(self) -> int:
        """Working minutes that are left: what was said, else what the per cent leaves of the duration, rounded half up.

        The per cent counts as it is written, digit by digit: 0.05 % of 1000 minutes leaves 999.5, so 1000.
        """
        if self.actual_finish is not None:
            return 0
        if self.remaining is not None:
            return self.remaining
        if self.percent == int(self.percent):
            return (self.minutes * (100 - int(self.percent)) + 50) // 100
        left = Decimal(self.minutes) * (100 - Decimal(repr(self.percent))) / 100
        return int(left.to_integral_value(ROUND_HALF_UP))

    @property
    def minutes(self) -> int:
        """The duration that counts, in working minutes."""
        if self.duration is None:
            return 0 if self.kind is TaskKind.MILESTONE else DEFAULT_DURATION
        return self.duration


class Link(Record, frozen=True):
    """``lag`` is signed minutes, working time as ``lag_on`` says; negative is a lead.

    ``lag_percent`` is a part of the predecessor's duration, in place of a fixed lag. ``gap`` None is as the
    successor's project says. ``gap_kept`` is the free time, in working minutes of the successor, that a link which
    keeps its gap goes on to leave behind what it demands: written when its predecessor moves.
    """

    predecessor: str
    successor: str
    type: LinkType = LinkType.FS
    lag: int = 0
    lag_on: LagOn = LagOn.SUCCESSOR
    lag_percent: float = 0.0
    gap: Gap | None = None
    gap_kept: int = 0

    @property
    def key(self) -> LinkKey:
        return (self.predecessor, self.successor, self.type._value_)  # the quick way to the plain text


class Skill(Record, frozen=True):
    """``level`` from 1, a beginner, to 5."""

    name: str
    level: int = 3


class Resource(Record, frozen=True):
    """Who or what does the work. ``capacity`` is in units: 1.0 is one person or one machine.

    ``capacity_from`` are days (since 1970-01-01) from which it is another, in order; ``rate`` is money an hour in
    its smallest unit, ``rate_from`` likewise from certain days on. ``role`` is the usual one (the id of a resource of
    kind role), ``roles`` are others that a person can act in; ``team`` is the team that it is a member of, ``section``
    what it is listed under. ``notices`` are the kinds of notices that a person wants otherwise than at once, each with
    when; ``due_days`` is how many days ahead what is due is said.
    """

    id: str
    name: str
    rank: str
    kind: ResourceKind = ResourceKind.PERSON
    capacity: float = 1.0
    calendar: str | None = None
    initials: str = ""
    leave: tuple[CalendarException, ...] = ()  # personal leave, and extra days where it has working hours
    capacity_from: tuple[tuple[int, float], ...] = ()
    email: str = ""
    section: str = ""
    role: str | None = None
    roles: tuple[str, ...] = ()
    team: str | None = None
    skills: tuple[Skill, ...] = ()
    rate: int = 0
    rate_from: tuple[tuple[int, int], ...] = ()
    notices: tuple[tuple[NoticeKind, NoticeWhen], ...] = ()
    due_days: int = 3

    @property
    def key(self) -> str:
        return self.id


class Curve(StrEnum):
    """How the work of an assignment lies in its time: evenly, most of it early, late, or in the middle."""

    FLAT = "flat"
    FRONT = "front"
    BACK = "back"
    CENTRE = "centre"


class Assignment(Record, frozen=True):
    """``units`` is the rate: 0.5 is half of one unit for the whole of the task's working time.

    In its place there may be ``hours_a_day``, or the ``total`` in minutes of work. ``first_day`` and ``last_day``
    (since 1970-01-01) bound it within the task.
    """

    task: str
    resource: str
    units: float = 1.0
    hours_a_day: float | None = None
    total: int | None = None
    first_day: int | None = None
    last_day: int | None = None
    curve: Curve = Curve.FLAT

    @property
    def key(self) -> AssignmentKey:
        return (self.task, self.resource)


class Reservation(Record, frozen=True):
    """Somebody is promised to a project: at a rate of ``units``, from the first day to the last (since 1970-01-01).

    None is from the project's start on, or up to its finish. Of a role it is an open seat on the project.
    """

    id: str
    project: str
    resource: str
    units: float = 1.0
    first_day: int | None = None
    last_day: int | None = None

    @property
    def key(self) -> str:
        return self.id


class Field(Record, frozen=True):
    """One of a person's own fields, ``of`` the tasks or the projects. ``choices`` are those of a choice, ``formula``
    what a computed one says. With ``outside`` people outside may see it."""

    id: str
    name: str
    rank: str
    kind: FieldKind = FieldKind.TEXT
    choices: tuple[str, ...] = ()
    formula: str = ""
    outside: bool = False
    of: str = TASKS

    @property
    def key(self) -> str:
        return self.id
