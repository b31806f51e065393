"""What differs between the dates that a file remembers and those of a schedule: only that is written.

The file's dates are what a window paints from before anything is computed. Of a large plan they are written in
pieces, so that a window never waits for them.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from hexapod.schedule.arrays import places_of
from hexapod.schedule.schedule import Dates, Schedule
from hexapod.store.schema import DATES
from hexapod.worktime.calendars import Ints

COLUMNS = (*DATES, "critical", "longest_path")


@dataclass(frozen=True)
class DatesToWrite:
    """``fresh`` are slots of the schedule whose dates are others; ``gone`` the tasks that have none any more.

    ``from_nothing`` where it is not known what the file has.
    """

    schedule: Schedule
    fresh: Ints
    gone: list[str]
    from_nothing: bool

    def __bool__(self) -> bool:
        return bool(len(self.fresh) or self.gone or self.from_nothing)

    def pieces(self, most: int) -> Iterator[list[tuple[object, ...]]]:
        """The rows to write, ``most`` at a time."""
        ids = self.schedule.network.slots.tasks
        for begin in range(0, len(self.fresh), most):
            slots = self.fresh[begin : begin + most]
            columns = [getattr(self.schedule, name)[slots].tolist() for name in COLUMNS]
            yield list(zip([ids[i] for i in slots.tolist()], *columns, strict=True))


def dates_to_write(known: Dates | None, schedule: Schedule) -> DatesToWrite:
    """What the file lacks of a computed schedule; ``known`` is what it has, None if nobody knows."""
    network = schedule.network
    alive = network.tasks.alive == 1
    if known is None:
        return DatesToWrite(schedule, np.flatnonzero(alive), [], from_nothing=True)
    others = known.network.slots.tasks if isinstance(known, Schedule) else None
    at = places_of(network.slots.tasks, known.slots, others)
    there, count = at >= 0, len(known.slots)
    if isinstance(known, Schedule):
        there[there] = known.network.tasks.alive[at[there]] == 1
        count = int(known.network.tasks.alive.sum())
    differs = alive & ~there
    both = np.flatnonzero(alive & there)
    for name in COLUMNS:
        old, new = getattr(known, name), getattr(schedule, name)
        differs[both] |= old[at[both]] != new[both]
    stays = at[there & alive]
    gone: list[str] = []
    if len(stays) < count:
        staying = set(stays.tolist())
        gone = [t for t, i in known.slots.items() if i not in staying and known.has(t)]
    return DatesToWrite(schedule, np.flatnonzero(differs), gone, from_nothing=False)
