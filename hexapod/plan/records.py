"""The records of a plan: small, frozen, and exactly what is stored.

Times are int minutes since 1970-01-01 00:00 local, lengths are int minutes. Every record has a ``key``
that names it within its kind. Nothing here is computed; dates come out of a schedule.
"""

from __future__ import annotations

from enum import StrEnum

from msgspec import Struct

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


class ResourceKind(StrEnum):
    PERSON = "person"
    TEAM = "team"
    ROLE = "role"
    EQUIPMENT = "equipment"
    PLACE = "place"


class Record(Struct, frozen=True, omit_defaults=True):
    """Base of the records."""


Interval = tuple[int, int]  # minutes of the day: begin, end (end up to 1440)


class CalendarException(Record, frozen=True):
    """Days, first to last inclusive (days since 1970-01-01), with other working intervals; none: no work."""

    first_day: int
    last_day: int
    working: tuple[Interval, ...] = ()


class Calendar(Record, frozen=True):
    """A weekly pattern and its exceptions, possibly on top of another calendar.

    ``week`` holds seven entries, Monday first; an entry of None takes the day from ``base``.
    """

    id: str
    name: str
    base: str | None = None
    week: tuple[tuple[Interval, ...] | None, ...] = (None,) * 7
    exceptions: tuple[CalendarException, ...] = ()

    @property
    def key(self) -> str:
        return self.id


class Project(Record, frozen=True):
    id: str
    name: str
    start: int
    rank: str
    calendar: str = "standard"
    status_date: int | None = None
    target_finish: int | None = None
    priority: int = 500
    critical_float: int = 0

    @property
    def key(self) -> str:
        return self.id


class Limit(Record, frozen=True):
    kind: LimitKind
    at: int


class Task(Record, frozen=True):
    """A row of the outline. With children it is a summary and its own duration is ignored.

    ``duration`` is working minutes, 0 for a milestone, None as long as nobody has said
    (it then counts as ``DEFAULT_DURATION``). ``hold`` is the working minutes that levelling adds
    before the start. ``target`` is the date the finish is wanted by.
    """

    id: str
    project: str
    name: str
    rank: str
    parent: str | None = None
    duration: int | None = None
    calendar: str | None = None
    priority: int = 500
    pinned: bool = False
    limits: tuple[Limit, ...] = ()
    target: int | None = None
    hold: int = 0
    stream: str = ""
    notes: str = ""

    @property
    def key(self) -> str:
        return self.id

    @property
    def minutes(self) -> int:
        """The duration that counts, in working minutes."""
        return DEFAULT_DURATION if self.duration is None else self.duration


class Link(Record, frozen=True):
    """``lag`` is signed working minutes on the successor's calendar; negative is a lead."""

    predecessor: str
    successor: str
    type: LinkType = LinkType.FS
    lag: int = 0

    @property
    def key(self) -> LinkKey:
        return (self.predecessor, self.successor, self.type._value_)  # the quick way to the plain text


class Resource(Record, frozen=True):
    """Who or what does the work. ``capacity`` is in units: 1.0 is one person or one machine."""

    id: str
    name: str
    rank: str
    kind: ResourceKind = ResourceKind.PERSON
    capacity: float = 1.0
    calendar: str | None = None
    initials: str = ""

    @property
    def key(self) -> str:
        return self.id


class Assignment(Record, frozen=True):
    """``units`` is the rate: 0.5 is half of one unit for the whole of the task's working time."""

    task: str
    resource: str
    units: float = 1.0

    @property
    def key(self) -> AssignmentKey:
        return (self.task, self.resource)


KINDS: dict[str, type[Record]] = {
    "calendars": Calendar,
    "projects": Project,
    "tasks": Task,
    "links": Link,
    "resources": Resource,
    "assignments": Assignment,
}
