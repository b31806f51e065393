"""The records of what a plan takes and costs: hours logged, sheets, money, budgets, and baselines.

Money is whole numbers of its smallest unit; days are counted since 1970-01-01, and so is a week, by its Monday.
"""

from __future__ import annotations

from enum import StrEnum

from hexapod.plan.records import Curve, Record

WeekKey = tuple[str, int]  # a resource, and the Monday of a week


def monday_of(day: int) -> int:
    """The Monday of the ISO week of a day; 1970-01-01 was a Thursday."""
    return day - (day + 3) % 7


class SheetState(StrEnum):
    """Where the hours of a person's week are: still being written, with who approves them, approved, or back again."""

    OPEN = "open"
    HANDED_IN = "handed_in"
    APPROVED = "approved"
    SENT_BACK = "sent_back"


class EntryKind(StrEnum):
    """Money that goes out, that comes in, and that was charged to somebody: the last is never a cost."""

    COST = "cost"
    INCOME = "income"
    INVOICED = "invoiced"


class Log(Record, frozen=True):
    """Minutes that somebody worked on a task on a day; a correction may be negative.

    ``percent`` and ``remaining`` are what was said with it of how far the task is. The task holds what counts.
    """

    id: str
    task: str
    resource: str
    day: int
    minutes: int
    note: str = ""
    percent: float | None = None
    remaining: int | None = None

    @property
    def key(self) -> str:
        return self.id

    @property
    def week(self) -> WeekKey:
        """Whose week it belongs to."""
        return (self.resource, monday_of(self.day))


class Sheet(Record, frozen=True):
    """One person's week of hours. ``by`` is who handed it in, approved it or sent it back, ``word`` what was said."""

    id: str
    resource: str
    week: int
    state: SheetState = SheetState.OPEN
    by: str = ""
    word: str = ""

    @property
    def key(self) -> str:
        return self.id


class MoneyEntry(Record, frozen=True):
    """An amount of money of a project, or of one of its rows, on a day or spread evenly from a first day to a last."""

    id: str
    project: str
    name: str
    kind: EntryKind
    amount: int
    first_day: int
    last_day: int
    task: str | None = None
    planned: bool = False

    @property
    def key(self) -> str:
        return self.id


class Budget(Record, frozen=True):
    """What a project, or a branch of it, may cost or take: in all, or from a first day to a last."""

    id: str
    project: str
    task: str | None = None
    first_day: int | None = None
    last_day: int | None = None
    amount: int | None = None
    minutes: int | None = None

    @property
    def key(self) -> str:
        return self.id


class BaselineTask(Record, frozen=True):
    """How one row was planned. Effort and cost of a summary say what the rows below it say; with ``own`` they are its
    own, beside those."""

    task: str
    start: int
    finish: int
    duration: int = 0
    effort: int = 0
    cost: int = 0
    calendar: str | None = None
    curve: Curve = Curve.FLAT
    own: bool = False


class Baseline(Record, frozen=True):
    """How a project was planned at a moment. Its tasks may be gone by now: it says what was so, and stays."""

    id: str
    name: str
    at: int
    project: str
    tasks: tuple[BaselineTask, ...] = ()

    @property
    def key(self) -> str:
        return self.id
