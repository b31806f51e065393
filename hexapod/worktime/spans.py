"""Working time between two moments, for a few questions outside the kernels."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from hexapod.plan.records import DAY, Calendar
from hexapod.worktime.calendars import Window, WorkingTime, compile_calendar

AROUND = 2000  # days on both sides of what was asked
FIRST_DAY, LAST_DAY = -62_091, 105_190  # 1800 to 2258: beyond, a date is out of range
LONGEST = 200 * 366 * DAY  # minutes


def in_range(moment: int) -> bool:
    """Whether a moment lies in the years that are counted."""
    return FIRST_DAY * DAY <= moment < LAST_DAY * DAY


class WorkSpan:
    """Answers for one calendar, which is compiled once for as many years as are asked about."""

    def __init__(self, calendars: Mapping[str, Calendar], calendar: str) -> None:
        self._calendars, self._calendar = calendars, calendar
        self._window = Window(0, 0)
        self._found = WorkingTime(np.zeros(0, dtype=np.int64), np.zeros(0, dtype=np.int64))
        self._done = np.zeros(1, dtype=np.int64)

    def minutes(self, begin: int, end: int) -> int:
        """Working minutes from ``begin`` to ``end``; 0 for one that lies before it."""
        if end <= begin:
            return 0
        if not (self._window.begin <= begin and end <= self._window.end):
            self._compile(Window(begin // DAY - AROUND, end // DAY + AROUND))
        return self._worked(end) - self._worked(begin)

    def shifted(self, moment: int, length: int) -> int | None:
        """The moment so many working minutes later, or earlier; None where that is beyond all calendars.

        As in ``arithmetic``: a length ends on the working side, so 0 leaves the moment where it is.
        """
        if not length:
            return moment
        if abs(length) > LONGEST:
            return None
        reach = 3 * abs(length) // DAY + AROUND
        while True:
            asked = Window(max(moment // DAY - reach, FIRST_DAY), min(moment // DAY + reach, LAST_DAY))
            if not (self._window.begin <= asked.begin and asked.end <= self._window.end):
                self._compile(asked)
            wanted = self._worked(moment) + length
            if 0 < wanted < self._done[-1] or (length < 0 and wanted == 0):
                return self._finish_side(wanted) if length > 0 else self._start_side(wanted)
            if asked == Window(FIRST_DAY, LAST_DAY):
                return None
            reach *= 4

    def _finish_side(self, done: int) -> int:
        at = int(np.searchsorted(self._done, done, side="left")) - 1
        return int(self._found.begins[at] + done - self._done[at])

    def _start_side(self, done: int) -> int:
        at = int(np.searchsorted(self._done, done, side="right")) - 1
        return int(self._found.begins[at] + done - self._done[at])

    def _compile(self, asked: Window) -> None:
        known = self._window if self._window.last_day else asked
        self._window = Window(min(asked.first_day, known.first_day), max(asked.last_day, known.last_day))
        self._found = compile_calendar(self._calendars, self._calendar, self._window)
        self._done = np.concatenate(([0], np.cumsum(self._found.ends - self._found.begins)))

    def _worked(self, moment: int) -> int:
        at = int(np.searchsorted(self._found.begins, moment, side="right")) - 1
        if at < 0:
            return 0
        return int(self._done[at] + min(moment, int(self._found.ends[at])) - self._found.begins[at])
