"""Records that stand beside the tasks: what was said, views and reports that are kept, stages, errands."""

from __future__ import annotations

from collections.abc import Iterable

from hexapod.plan.record import Record

TASKS, PROJECTS = "tasks", "projects"  # what a view or an own field is of


class Comment(Record, frozen=True):
    """What somebody said about a task. ``at`` is minutes."""

    id: str
    task: str
    who: str
    at: int
    text: str

    @property
    def key(self) -> str:
        return self.id


class KeptView(Record, frozen=True):
    """What somebody wants to see again under a name, ``of`` the tasks or the projects. ``shows`` is what it shows, as
    JSON: see ``query.views`` and ``query.portfolio_views``."""

    id: str
    name: str
    rank: str
    shows: str = "{}"
    of: str = TASKS

    @property
    def key(self) -> str:
        return self.id


class Stage(Record, frozen=True):
    """A column of the board. ``percent`` is what a card in it is done, where it says so; ``most`` how many cards it
    should hold at once."""

    id: str
    name: str
    rank: str
    percent: float | None = None
    most: int | None = None

    @property
    def key(self) -> str:
        return self.id


class Errand(Record, frozen=True):
    """Something that a person has to do and that belongs to no project. ``due`` is a day (since 1970-01-01), ``done``
    when it was done (minutes)."""

    id: str
    resource: str
    name: str
    rank: str
    due: int | None = None
    done: int | None = None

    @property
    def key(self) -> str:
        return self.id


class KeptReport(Record, frozen=True):
    """A report that somebody keeps under a name: the ``parts`` of ``hexapod.reports`` that it has, in their order, an
    own ``heading``, and a ``text`` of its author. It is of some ``projects``, else of those of a ``department``, else
    of all, and looks back on so many ``days``; ``outside`` leaves out what is not meant for people outside."""

    id: str
    name: str
    rank: str
    parts: tuple[str, ...] = ()
    heading: str = ""
    text: str = ""
    projects: tuple[str, ...] = ()
    department: str = ""
    days: int = 7
    outside: bool = False

    @property
    def key(self) -> str:
        return self.id


def reports_in_order(reports: Iterable[KeptReport]) -> list[KeptReport]:
    """As they were put in order."""
    return sorted(reports, key=lambda r: (r.rank, r.id))
