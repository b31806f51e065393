"""What moved between two schedules, and by how much."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hexapod.schedule.passes import working_spans
from hexapod.schedule.schedule import Schedule
from hexapod.worktime.calendars import Ints


@dataclass(frozen=True)
class Shift:
    """Slots whose early dates differ. Signed working minutes, positive is later."""

    slots: Ints
    start: Ints
    finish: Ints

    def by_slot(self) -> dict[int, tuple[int, int]]:
        """(start, finish) moves by slot."""
        return dict(zip(self.slots.tolist(), zip(self.start.tolist(), self.finish.tolist(), strict=True), strict=True))


_NONE = np.zeros(0, dtype=np.int64)
UNMOVED = Shift(_NONE, _NONE, _NONE)


def shift(before: Schedule, after: Schedule) -> Shift:
    """From ``before`` to ``after``, for tasks alive in both."""
    if after.network is None or before.network is None:
        return UNMOVED
    common = min(len(before.start), len(after.start))
    moved = (before.start[:common] != after.start[:common]) | (before.finish[:common] != after.finish[:common])
    moved &= (before.network.tasks.alive[:common] & after.network.tasks.alive[:common]).astype(bool)
    slots = np.flatnonzero(moved)
    if not len(slots):
        return UNMOVED
    pool, calendars = after.network.timing.pool, after.network.tasks.calendar
    return Shift(
        slots,
        working_spans(pool, calendars, slots, before.start, after.start),
        working_spans(pool, calendars, slots, before.finish, after.finish),
    )
