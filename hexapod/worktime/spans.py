"""Working time between two moments, for a few questions outside the kernels."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from hexapod.plan.records import DAY, Calendar
from hexapod.worktime.calendars import Window, compile_calendar


def working_minutes_between(calendars: Mapping[str, Calendar], calendar: str, begin: int, end: int) -> int:
    """Working minutes from ``begin`` to ``end``; 0 for one that lies before it."""
    if end <= begin:
        return 0
    found = compile_calendar(calendars, calendar, Window(begin // DAY - 8, end // DAY + 8))
    within = np.minimum(found.ends, end) - np.maximum(found.begins, begin)
    return int(within[within > 0].sum())
