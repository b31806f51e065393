"""The kinds of records that a plan holds: one descriptor each.

From the table made here follow the maps of a plan, its changes, the tables of the file, the copy in the cache, the
check of what records refer to, and (with ``formats.forms``) plan JSON. A new kind is a record, an entry here with its
line in ``Maps`` and in ``Pairs``, and its form in plan JSON.
"""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from typing import NamedTuple, TypeVar

from immutables import Map
from msgspec import Struct

from hexapod.plan.accounts import Baseline, Budget, Log, MoneyEntry, Sheet
from hexapod.plan.approvals import Approval, Route
from hexapod.plan.deliverables import Deliverable
from hexapod.plan.records import (
    Assignment,
    AssignmentKey,
    Calendar,
    Comment,
    Errand,
    Field,
    KeptReport,
    KeptView,
    Link,
    LinkKey,
    Project,
    Record,
    Reservation,
    Resource,
    Stage,
    Task,
)
from hexapod.plan.requests import Request
from hexapod.plan.risks import Risk
from hexapod.plan.scenarios import Scenario
from hexapod.plan.thresholds import Thresholds

BUILT_IN_CALENDARS = ("standard", "always")

R = TypeVar("R", bound=Record)
Pair = tuple[R | None, R | None]  # a record before and after; None is an added or a removed one


class Reference(NamedTuple):
    """``field`` holds the key of a record of another kind, or several, or None.

    ``lost`` is the sentence for one that is not there; it may say the ``name`` of the record and what is ``missing``.
    """

    field: str
    kind: str
    lost: str


@dataclass(frozen=True)
class Kind:
    """``name`` is that of its map, its table and its list in plan JSON; ``one`` is what a single record is called.

    ``key`` are the fields that tell one from another. ``since`` is the version of the file that first had it.
    """

    name: str
    one: str
    record: type[Record]
    key: tuple[str, ...] = ("id",)
    references: tuple[Reference, ...] = ()
    since: int = 1


_CALENDAR = "“{name}” uses a calendar “{missing}” that does not exist."
_NO_TASK = "names a task “{missing}” that does not exist."
_NOBODY = "names someone, “{missing}”, who is not among the resources."

_ALL = (
    Kind("calendars", "calendar", Calendar, references=(
        Reference("base", "calendars", "The calendar “{name}” is built on “{missing}”, which does not exist."),)),
    Kind("projects", "project", Project, references=(
        Reference("calendar", "calendars", _CALENDAR),
        Reference("led_by", "resources", "“{name}” is led by someone, “{missing}”, who does not exist."),
        Reference("baseline", "baselines", "“{name}” is measured from a baseline “{missing}” that does not exist."))),
    Kind("tasks", "task", Task, references=(
        Reference("project", "projects", "“{name}” belongs to a project “{missing}” that does not exist."),
        Reference("parent", "tasks", "“{name}” lies below a task “{missing}” that does not exist."),
        Reference("calendar", "calendars", _CALENDAR),
        Reference("stage", "stages", "“{name}” is in a stage “{missing}” that does not exist."),
        Reference("also_told", "resources", "“{name}” is told to someone, “{missing}”, who does not exist."))),
    Kind("links", "link", Link, ("predecessor", "successor", "type"), (
        Reference("predecessor", "tasks", f"A link {_NO_TASK}"),
        Reference("successor", "tasks", f"A link {_NO_TASK}"))),
    Kind("resources", "resource", Resource, references=(Reference("calendar", "calendars", _CALENDAR),)),
    Kind("assignments", "assignment", Assignment, ("task", "resource"), (
        Reference("task", "tasks", f"An assignment {_NO_TASK}"),
        Reference("resource", "resources", f"An assignment {_NOBODY}"))),
    Kind("reservations", "reservation", Reservation, references=(
        Reference("project", "projects", "A reservation names a project “{missing}” that does not exist."),
        Reference("resource", "resources", f"A reservation {_NOBODY}")),
        since=5),
    Kind("fields", "field", Field, since=2),
    Kind("comments", "comment", Comment, references=(
        Reference("task", "tasks", f"A comment {_NO_TASK}"),), since=2),
    Kind("views", "view", KeptView, since=6),
    Kind("stages", "stage", Stage, since=8),
    Kind("errands", "errand", Errand, references=(
        Reference("resource", "resources", f"An errand {_NOBODY}"),), since=8),
    Kind("logs", "log", Log, references=(
        Reference("task", "tasks", f"A log of hours {_NO_TASK}"),
        Reference("resource", "resources", f"A log of hours {_NOBODY}")), since=9),
    Kind("sheets", "sheet", Sheet, references=(
        Reference("resource", "resources", f"A sheet of hours {_NOBODY}"),), since=9),
    Kind("entries", "entry", MoneyEntry, references=(
        Reference("project", "projects", "The entry “{name}” belongs to a project “{missing}” that does not exist."),
        Reference("task", "tasks", "The entry “{name}” is about a task “{missing}” that does not exist.")), since=9),
    Kind("budgets", "budget", Budget, references=(
        Reference("project", "projects", "A budget is of a project “{missing}” that does not exist."),
        Reference("task", "tasks", f"A budget {_NO_TASK}")), since=9),
    Kind("baselines", "baseline", Baseline, references=(
        Reference("project", "projects", "The baseline “{name}” is of a project “{missing}” that does not exist."),),
        since=9),
    Kind("risks", "risk", Risk, references=(
        Reference("project", "projects", "The risk “{name}” is of a project “{missing}” that does not exist."),
        Reference("tasks", "tasks", "The risk “{name}” names a task “{missing}” that does not exist."),
        Reference("owner", "resources", "The risk “{name}” is owned by someone, “{missing}”, who does not exist.")),
        since=10),
    Kind("scenarios", "scenario", Scenario, since=11),
    Kind("reports", "report", KeptReport, since=12),
    Kind("requests", "request", Request, since=12),
    Kind("routes", "route", Route, references=(
        Reference("people", "resources", "The route “{name}” names someone, “{missing}”, who does not exist."),),
        since=12),
    Kind("deliverables", "deliverable", Deliverable, references=(
        Reference("task", "tasks", "The deliverable “{name}” is of a task “{missing}” that does not exist."),),
        since=13),
    Kind("approvals", "approval", Approval, references=(
        Reference("task", "tasks", f"An approval {_NO_TASK}"),
        Reference("work", "tasks", f"An approval {_NO_TASK}"),
        Reference("people", "resources", f"An approval {_NOBODY}"),
        Reference("deliverable", "deliverables", "An approval names a deliverable “{missing}” that does not exist.")),
        since=12),
    Kind("thresholds", "threshold", Thresholds, since=12),
)  # fmt: skip

KINDS: dict[str, Kind] = {kind.name: kind for kind in _ALL}
KIND_OF: dict[type[Record], str] = {kind.record: kind.name for kind in _ALL}


class Maps:
    """A map of each kind, by key."""

    __slots__ = tuple(KINDS)

    calendars: Map[str, Calendar]
    projects: Map[str, Project]
    tasks: Map[str, Task]
    links: Map[LinkKey, Link]
    resources: Map[str, Resource]
    assignments: Map[AssignmentKey, Assignment]
    reservations: Map[str, Reservation]
    fields: Map[str, Field]
    comments: Map[str, Comment]
    views: Map[str, KeptView]
    stages: Map[str, Stage]
    errands: Map[str, Errand]
    logs: Map[str, Log]
    sheets: Map[str, Sheet]
    entries: Map[str, MoneyEntry]
    budgets: Map[str, Budget]
    baselines: Map[str, Baseline]
    risks: Map[str, Risk]
    scenarios: Map[str, Scenario]
    reports: Map[str, KeptReport]
    requests: Map[str, Request]
    routes: Map[str, Route]
    deliverables: Map[str, Deliverable]
    approvals: Map[str, Approval]
    thresholds: Map[str, Thresholds]


class Pairs(Struct, frozen=True, omit_defaults=True):
    """Pairs of each kind, in the order of ``KINDS``."""

    calendars: tuple[Pair[Calendar], ...] = ()
    projects: tuple[Pair[Project], ...] = ()
    tasks: tuple[Pair[Task], ...] = ()
    links: tuple[Pair[Link], ...] = ()
    resources: tuple[Pair[Resource], ...] = ()
    assignments: tuple[Pair[Assignment], ...] = ()
    reservations: tuple[Pair[Reservation], ...] = ()
    fields: tuple[Pair[Field], ...] = ()
    comments: tuple[Pair[Comment], ...] = ()
    views: tuple[Pair[KeptView], ...] = ()
    stages: tuple[Pair[Stage], ...] = ()
    errands: tuple[Pair[Errand], ...] = ()
    logs: tuple[Pair[Log], ...] = ()
    sheets: tuple[Pair[Sheet], ...] = ()
    entries: tuple[Pair[MoneyEntry], ...] = ()
    budgets: tuple[Pair[Budget], ...] = ()
    baselines: tuple[Pair[Baseline], ...] = ()
    risks: tuple[Pair[Risk], ...] = ()
    scenarios: tuple[Pair[Scenario], ...] = ()
    reports: tuple[Pair[KeptReport], ...] = ()
    requests: tuple[Pair[Request], ...] = ()
    routes: tuple[Pair[Route], ...] = ()
    deliverables: tuple[Pair[Deliverable], ...] = ()
    approvals: tuple[Pair[Approval], ...] = ()
    thresholds: tuple[Pair[Thresholds], ...] = ()


def missing_reference(maps: Maps, kind: Kind, record: Record) -> str | None:
    """The sentence for the first record that one refers to and that is not there; None if all are."""
    for field, of, lost in kind.references:
        named = getattr(record, field)
        for key in named if isinstance(named, tuple) else (named,):
            if key is None or key in getattr(maps, of) or (of == "calendars" and key in BUILT_IN_CALENDARS):
                continue
            return lost.format(name=getattr(record, "name", ""), missing=key)
    return None


def still_referred_to(maps: Maps, of: str, key: object, by: Collection[str] = tuple(KINDS)) -> str | None:
    """The sentence for what, among some kinds, still refers to a record that is to go; None if nothing does."""
    for kind in map(KINDS.__getitem__, by):
        for field in (reference.field for reference in kind.references if reference.kind == of):
            for record in getattr(maps, kind.name).values():
                named = getattr(record, field)
                if key == named or (isinstance(named, tuple) and key in named):
                    return f"The {KINDS[of].one} is still used by the {kind.one} “{getattr(record, 'name', record)}”."
    return None
