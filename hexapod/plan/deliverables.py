"""The record of a deliverable: what a task hands over, with the files that it is."""

from __future__ import annotations

from collections.abc import Iterable
from enum import StrEnum

from msgspec.structs import replace

from hexapod.plan.approvals import Approval, ApprovalState
from hexapod.plan.record import Record


class Deliverable(Record, frozen=True):
    """``asked`` says what makes it good, ``files`` are paths and web pages. ``handed`` is the moment at which it was
    handed over, None while it is still to come, and ``by`` is who said so."""

    id: str
    task: str
    name: str
    rank: str
    asked: str = ""
    files: tuple[str, ...] = ()
    handed: int | None = None
    by: str = ""

    @property
    def key(self) -> str:
        return self.id


def to_come(deliverable: Deliverable) -> Deliverable:
    """The same of work that is done once more: it has no files yet."""
    return replace(deliverable, files=(), handed=None, by="")


class DeliverableState(StrEnum):
    TO_COME = "to come"
    SENT_BACK = "sent back"  # somebody did not agree to it: it is to be handed over again
    HANDED_OVER = "handed over"
    AGREED = "agreed to"

    @property
    def is_owed(self) -> bool:
        """It is still to be handed over."""
        return self in (DeliverableState.TO_COME, DeliverableState.SENT_BACK)


def by_deliverable(approvals: Iterable[Approval]) -> dict[str, Approval]:
    """Those that are about a deliverable, by its id."""
    return {a.deliverable: a for a in approvals if a.deliverable is not None}


def state_of(deliverable: Deliverable, approval: Approval | None) -> DeliverableState:
    """How far it is, by what was told of it and by its approval, where it has one."""
    if approval is not None and approval.state is ApprovalState.SENT_BACK:
        return DeliverableState.SENT_BACK
    if deliverable.handed is None:
        return DeliverableState.TO_COME
    is_agreed = approval is not None and approval.state is ApprovalState.GIVEN
    return DeliverableState.AGREED if is_agreed else DeliverableState.HANDED_OVER
