"""What moved between two schedules, and by how much."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hexapod.schedule.passes import working_minutes_between
from hexapod.schedule.schedule import Schedule
from hexapod.worktime.calendars import Ints


@dataclass(frozen=True)
class Shift:
    """Tasks whose dates differ, by their slots in the later schedule, ``after``; ``slots_before`` are those in the
    other one. Signed working minutes, positive is later."""

    after: Schedule
    slots: Ints
    slots_before: Ints
    start: Ints
    finish: Ints

    def tasks(self) -> list[str]:
        return [self.after.network.slots.tasks[slot] for slot in self.slots.tolist()]

    def by_task(self) -> dict[str, tuple[int, int]]:
        """(start, finish) moves by task."""
        return dict(zip(self.tasks(), zip(self.start.tolist(), self.finish.tolist(), strict=True), strict=True))


def shift(before: Schedule, after: Schedule) -> Shift:
    """From one schedule to another, for the tasks that are in both; they need have nothing else in common."""
    network = after.network
    at = network.slots.tasks_in(before.network.slots)
    both = np.flatnonzero((at >= 0) & (network.tasks.alive == 1))
    both = both[before.network.tasks.alive[at[both]] == 1]
    old = at[both]
    moved = (before.start[old] != after.start[both]) | (before.finish[old] != after.finish[both])
    slots, old = both[moved], old[moved]
    if not len(slots):
        return Shift(after, slots, old, slots, slots)
    pool, calendars = network.timing.pool, network.tasks.calendar[slots]
    return Shift(
        after,
        slots,
        old,
        working_minutes_between(pool, calendars, before.start[old], after.start[slots]),
        working_minutes_between(pool, calendars, before.finish[old], after.finish[slots]),
    )
