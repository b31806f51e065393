"""What the end of a line may say of its task, once it is understood."""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import StrEnum
from typing import Any

from hexapod.plan.records import Assignment, LimitKind, Link


@dataclass(frozen=True)
class Length:
    """Minutes of work, or round the clock if ``elapsed``."""

    minutes: int
    elapsed: bool = False


@dataclass(frozen=True)
class Links:
    """Links of the task; the end that is the task itself is left empty."""

    links: tuple[Link, ...]


@dataclass(frozen=True)
class People:
    """Who works on it; the task of each assignment is left empty."""

    assignments: tuple[Assignment, ...]


class Moment(StrEnum):
    """What a date is for."""

    FROM = "from"  # it starts not before
    ON = "on"  # it starts then; without a length it is a milestone
    BY = "by"  # its target
    NOT_AFTER = "not after"  # it finishes not after


LIMITS = {
    Moment.FROM: LimitKind.START_NO_EARLIER,
    Moment.ON: LimitKind.MUST_START,
    Moment.NOT_AFTER: LimitKind.FINISH_NO_LATER,
}


@dataclass(frozen=True)
class Date:
    moment: Moment
    at: int


Meaning = Length | Links | People | Date


@dataclass(frozen=True)
class Question:
    """Why a part of a line has no meaning yet; ``unknown`` are initials that nobody has."""

    text: str
    unknown: tuple[str, ...] = ()


@dataclass(frozen=True)
class Clause:
    """A part of a line, from ``start`` to ``end``, and what it says.

    ``sure`` is false where it may be a part of the name as well. With a ``question`` it has no meaning yet, and
    stays in the name.
    """

    start: int
    end: int
    meaning: Meaning | None
    sure: bool = True
    question: Question | None = None

    @property
    def slot(self) -> str:
        """What there can be one of in a line."""
        if isinstance(self.meaning, Date):
            return self.meaning.moment
        if isinstance(self.meaning, Links):
            return "out" if self.meaning.links[0].predecessor == "" else "in"
        return type(self.meaning).__name__ if self.meaning else "question"


@dataclass
class Fields:
    """What clauses together say of a task: fields of its record, its links and its assignments."""

    task: dict[str, Any] = field(default_factory=dict)
    links: tuple[Link, ...] = ()
    assignments: tuple[Assignment, ...] = ()
