"""The records of what people have to agree to: an approval is a milestone of the plan that stays open until they said
yes, so that what waits for it moves with it."""

from __future__ import annotations

from enum import StrEnum

from msgspec.structs import replace

from hexapod.plan.record import Record


class ApprovalState(StrEnum):
    OPEN = "open"
    SENT_BACK = "sent_back"  # somebody said no: it is asked for again once the work is better
    GIVEN = "given"


class ApprovalAnswer(Record, frozen=True):
    """What one of them said, and when (minutes). ``name`` stays when somebody left."""

    person: str
    name: str
    yes: bool
    word: str
    at: int


class Approval(Record, frozen=True):
    """``task`` is the milestone that is reached once all ``people`` said yes, one after the other where they are
    ``in_order``. ``work`` is the row that is looked at, and goes on where somebody says no; None where the milestone
    stands for itself. With ``deliverable`` it is that of the work which is looked at. ``by`` asked for it, at a
    moment."""

    id: str
    task: str
    people: tuple[str, ...]
    in_order: bool = True
    work: str | None = None
    by: str = ""
    asked: int = 0
    answers: tuple[ApprovalAnswer, ...] = ()
    deliverable: str | None = None

    @property
    def key(self) -> str:
        return self.id

    @property
    def state(self) -> ApprovalState:
        if any(not answer.yes for answer in self.answers):
            return ApprovalState.SENT_BACK
        said = {answer.person for answer in self.answers}
        if self.people and said.issuperset(self.people):
            return ApprovalState.GIVEN
        return ApprovalState.OPEN

    @property
    def turn(self) -> tuple[str, ...]:
        """Who can answer now."""
        if self.state is not ApprovalState.OPEN:
            return ()
        said = {answer.person for answer in self.answers}
        left = tuple(person for person in self.people if person not in said)
        return left[:1] if self.in_order else left


class Route(Record, frozen=True):
    """A way that approvals go, kept under a name: people in order, or side by side."""

    id: str
    name: str
    rank: str
    people: tuple[str, ...] = ()
    in_order: bool = True

    @property
    def key(self) -> str:
        return self.id


def without_person(approval: Approval, person: str) -> Approval:
    """The same once somebody left: what was said stays under the name, nobody waits for an answer any more."""
    answers = tuple(replace(a, person="") if a.person == person else a for a in approval.answers)
    return replace(approval, people=tuple(p for p in approval.people if p != person), answers=answers)
