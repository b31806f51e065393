"""The records of what somebody asks for before there is a project: requests, and how they were answered."""

from __future__ import annotations

from collections.abc import Iterable
from enum import StrEnum

from hexapod.plan.record import Record


class RequestState(StrEnum):
    """In the order in which they are shown."""

    NEW = "new"
    LOOKED_AT = "looked_at"
    ACCEPTED = "accepted"
    DECLINED = "declined"


class Request(Record, frozen=True):
    """Somebody wants a project: ``name`` is what, ``who`` and ``email`` are who asks. ``asked`` and ``answered`` are
    moments (minutes), ``wanted_by`` a day (since 1970-01-01), ``size`` minutes of work. ``word`` is what was said back,
    and ``by`` whom; ``project`` is the one that it became, and may be gone by now. ``source`` tells the file that it
    came from."""

    id: str
    name: str
    asked: int
    why: str = ""
    wanted_by: int | None = None
    size: int = 0
    benefit: str = ""
    who: str = ""
    email: str = ""
    state: RequestState = RequestState.NEW
    word: str = ""
    by: str = ""
    answered: int | None = None
    project: str | None = None
    source: str = ""

    @property
    def key(self) -> str:
        return self.id

    @property
    def is_open(self) -> bool:
        """Nobody said yes or no yet."""
        return self.state in (RequestState.NEW, RequestState.LOOKED_AT)


def requests_in_order(requests: Iterable[Request]) -> list[Request]:
    """By state, the oldest first."""
    order = list(RequestState)
    return sorted(requests, key=lambda r: (order.index(r.state), r.asked, r.name, r.id))
