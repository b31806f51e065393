"""What something shown was made of: the very dates, and what was asked for."""

from __future__ import annotations

from typing import NamedTuple

from hexapod.schedule.schedule import Schedule


class MadeOf(NamedTuple):
    """``asked`` is compared by what it says, ``dates`` by whether they are the very same ones."""

    dates: Schedule
    asked: tuple[object, ...]

    def is_same(self, other: MadeOf | None) -> bool:
        return other is not None and self.dates is other.dates and self.asked == other.asked
