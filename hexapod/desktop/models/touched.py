"""Which rows look different after an edit, so that only those are drawn again."""

from __future__ import annotations

import numpy as np

from hexapod.desktop.models.rows_on_show import moves_rows
from hexapod.plan.changes import Changes
from hexapod.schedule.schedule import Schedule
from hexapod.session import Applied

DATES = ("start", "finish", "early_start", "early_finish", "late_start", "late_finish", "total_float", "free_float",
         "critical", "longest_path", "duration")  # fmt: skip


def touched_tasks(applied: Applied) -> set[str] | None:
    """Tasks of which something that a row can show is different; None where it may be any."""
    changes, before, after = applied.changes, applied.before, applied.after
    if not isinstance(before, Schedule) or not isinstance(after, Schedule):
        return None
    if moves_rows(changes) or _concerns_all(changes) or len(before.start) != len(after.start):
        return None
    if any(new is not None and after.plan.is_summary(new.id) for _, new in changes.tasks):
        return None  # what is below it shows its colour, and counts on its calendar
    network = after.network
    differs = np.zeros(network.size, dtype=bool)
    for name in DATES:
        one, two = getattr(before, name), getattr(after, name)
        if one is not two:
            differs |= one != two
    differs |= before.free_start != after.free_start
    if "standing" in vars(before):  # somebody shows how tasks stand
        differs |= np.any([a != b for a, b in zip(before.standing, after.standing, strict=True)], axis=0)
    if before.network.percents is not network.percents:
        differs |= before.network.percents != network.percents
    found = {network.slots.tasks[slot] for slot in np.flatnonzero(differs).tolist()}
    found |= {new.id for _, new in changes.tasks if new is not None}
    for old, link in changes.links:
        found |= {end for each in (old, link) if each is not None for end in (each.predecessor, each.successor)}
    for one_more, assignment in changes.assignments:
        found |= {each.task for each in (one_more, assignment) if each is not None}
    return found


def _concerns_all(changes: Changes) -> bool:
    return bool(changes.resources or changes.calendars or changes.fields or changes.views)
