"""The record of a scenario: a plan beside the plan, made of what it does otherwise.

What it changes is not here: its edits have a history of their own in the file (``store.scenarios``).
"""

from __future__ import annotations

from hexapod.plan.records import Record

MOST_COLOURS = 6


class Scenario(Record, frozen=True):
    """``colour`` is the number of the one that its frame has, from 0 up to ``MOST_COLOURS``; ``made_from`` is the
    scenario that it was made from, which may be gone by now, or None where it was made from the plan. ``taken_over`` is
    the minute in which it was taken over into the plan, all of it or some."""

    id: str
    name: str
    rank: str
    note: str = ""
    colour: int = 0
    made_from: str | None = None
    taken_over: int | None = None

    @property
    def key(self) -> str:
        return self.id
