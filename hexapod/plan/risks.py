"""The records of what may happen, and of what did: risks, issues, actions and decisions of a project."""

from __future__ import annotations

from collections.abc import Collection
from enum import StrEnum

from msgspec.structs import replace

from hexapod.plan.records import Record

Range = tuple[int, int, int]  # best, likely, worst


class RiskKind(StrEnum):
    """What may happen, what happened, what somebody is to do about it, and what was decided."""

    RISK = "risk"
    ISSUE = "issue"
    ACTION = "action"
    DECISION = "decision"


class AnswerKind(StrEnum):
    """What is done about a risk: its cause removed, somebody else bears it, it is made smaller, or it is borne."""

    AVOID = "avoid"
    PASS_ON = "pass_on"
    LESSEN = "lessen"
    ACCEPT = "accept"


class RiskState(StrEnum):
    OPEN = "open"
    HAPPENED = "happened"
    CLOSED = "closed"


class RiskDelay(Record, frozen=True):
    """What a risk adds to a task if it happens: working minutes at best, most likely and at worst."""

    task: str
    minutes: Range


class Risk(Record, frozen=True):
    """``chance`` is how likely it is, 0 to 1; ``cost``, best, likely and worst, is in the smallest unit of money.

    ``chance_after``, ``delays_after`` and ``cost_after`` are what is left once its answer is taken; None: as before.
    With ``answered`` the answer is taken. ``until`` is the last day on which it can happen, ``due`` the day on which
    somebody looks at it again. ``about`` are tasks that it concerns beside those that it delays.
    """

    id: str
    project: str
    name: str
    kind: RiskKind = RiskKind.RISK
    cause: str = ""
    effect: str = ""
    chance: float = 0.0
    delays: tuple[RiskDelay, ...] = ()
    cost: Range | None = None
    answer: AnswerKind | None = None
    answer_note: str = ""
    answer_cost: int = 0
    answered: bool = False
    chance_after: float | None = None
    delays_after: tuple[RiskDelay, ...] | None = None
    cost_after: Range | None = None
    owner: str | None = None
    state: RiskState = RiskState.OPEN
    due: int | None = None
    until: int | None = None
    about: tuple[str, ...] = ()
    notes: str = ""

    @property
    def key(self) -> str:
        return self.id

    @property
    def may_happen(self) -> bool:
        """Whether rounds draw it: a risk that is open."""
        return self.kind is RiskKind.RISK and self.state is RiskState.OPEN

    @property
    def tasks(self) -> tuple[str, ...]:
        """All tasks that it names."""
        delayed = (*self.delays, *(self.delays_after or ()))
        return tuple(dict.fromkeys((*(d.task for d in delayed), *self.about)))

    def chance_of(self, *, after: bool) -> float:
        """How likely it is: as it stands, or (``after``) with its answer taken."""
        taken = after or self.answered
        return self.chance_after if taken and self.chance_after is not None else self.chance

    def delays_of(self, *, after: bool) -> tuple[RiskDelay, ...]:
        """The same of what it adds."""
        taken = after or self.answered
        return self.delays_after if taken and self.delays_after is not None else self.delays

    def cost_of(self, *, after: bool) -> Range | None:
        """The same of what it costs."""
        taken = after or self.answered
        return self.cost_after if taken and self.cost_after is not None else self.cost


def without_tasks(risk: Risk, gone: Collection[str]) -> Risk:
    """The risk without what it says of some tasks."""
    after = risk.delays_after
    return replace(
        risk,
        delays=tuple(d for d in risk.delays if d.task not in gone),
        delays_after=None if after is None else tuple(d for d in after if d.task not in gone),
        about=tuple(t for t in risk.about if t not in gone),
    )


def with_tasks_of(risk: Risk, past: Risk, back: Collection[str]) -> Risk:
    """The risk with what it said in the past of some tasks that are there again."""
    after = risk.delays_after
    return replace(
        risk,
        delays=(*risk.delays, *(d for d in past.delays if d.task in back)),
        delays_after=None if after is None else (*after, *(d for d in past.delays_after or () if d.task in back)),
        about=(*risk.about, *(t for t in past.about if t in back)),
    )


def weight(risk: Risk, *, after: bool = False) -> float:
    """How likely it is times the minutes that it is likely to add: by which risks are put in order."""
    return risk.chance_of(after=after) * effect(risk, after=after)


def effect(risk: Risk, *, after: bool = False) -> float:
    """Minutes that it adds on average where it happens: the most of its tasks, which may go side by side."""
    return max((mean_of(delay.minutes) for delay in risk.delays_of(after=after)), default=0.0)


def mean_of(found: Range | None) -> float:
    """The mean of the beta distribution of a range."""
    return 0.0 if found is None else (found[0] + 4 * found[1] + found[2]) / 6
