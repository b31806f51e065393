"""Which days nobody works, for the shading behind a chart."""

from __future__ import annotations

import numpy as np

from hexapod.errors import CannotSchedule
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY
from hexapod.worktime.calendars import Window, compile_calendar


def idle_spans(plan: Plan, calendar: str, begin: int, end: int) -> list[tuple[int, int]]:
    """Runs of whole days without work between two minutes, as (begin, end) in minutes."""
    window = Window(begin // DAY - 1, end // DAY + 2)
    try:
        works = compile_calendar(plan.calendars, calendar, window)
    except CannotSchedule:
        return [(begin, end)]
    busy = np.zeros(window.last_day - window.first_day + 1, dtype=np.int64)
    np.add.at(busy, works.begins // DAY - window.first_day, 1)
    np.add.at(busy, -(-works.ends // DAY) - window.first_day, -1)
    idle = np.concatenate(([0], (np.cumsum(busy)[:-1] == 0).astype(np.int64), [0]))
    starts = np.flatnonzero(np.diff(idle) == 1) + window.first_day
    ends = np.flatnonzero(np.diff(idle) == -1) + window.first_day
    return [(int(s) * DAY, int(e) * DAY) for s, e in zip(starts, ends, strict=True)]
