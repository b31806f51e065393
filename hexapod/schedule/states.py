"""How far a task is, and in what way it is late: the names. ``standing`` says which applies."""

from __future__ import annotations

from enum import StrEnum


class State(StrEnum):
    """A leaf is exactly one of these; a summary what its leaves make of it."""

    DONE = "done"
    BEGUN = "begun"
    READY = "ready"  # all that it waits for is done
    WAITING = "waiting"


class Late(StrEnum):
    TO_FINISH = "to_finish"  # its finish lies beyond its target
    TO_BEGIN = "to_begin"  # it should have begun before the status date
    BEHIND = "behind"  # begun, with less done than the time gave


STATES, LATES = tuple(State), tuple(Late)
