"""Which tasks are worked at other times, or otherwise, than in a schedule of before."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from hexapod.schedule.schedule import Schedule


def moved(now: Schedule, before: Schedule) -> NDArray[np.bool_] | None:
    """By slot; None where the two cannot be compared, as calendars or the tasks themselves are others."""
    network, old = now.network, before.network
    if network.timing is not old.timing or network.slots is not old.slots:
        return None
    size = len(now.start)
    new_tasks, old_tasks = network.tasks, old.tasks
    columns = (
        (now.start, before.start),
        (now.finish, before.finish),
        (now.duration, before.duration),
        (new_tasks.duration, old_tasks.duration),
        (now.free_start, before.free_start),
        (new_tasks.progress, old_tasks.progress),
        (new_tasks.rest, old_tasks.rest),
        (new_tasks.actual_start, old_tasks.actual_start),
        (new_tasks.calendar, old_tasks.calendar),
        (new_tasks.crew, old_tasks.crew),
        (network.structure.leaf, old.structure.leaf),
    )
    found = np.zeros(size, dtype=bool)
    for a, b in columns:
        if a is not b:  # what an edit did not touch is shared
            found |= a[:size] != b[:size]
    return found
