"""When nobody works, for the shading behind a chart."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from hexapod.errors import CannotSchedule
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY
from hexapod.worktime.calendars import Window, compile_calendar

Spans = list[tuple[int, int]]
PIECE = 128  # days that are worked out together


class Idleness:
    """The idle times of a plan's calendars, each worked out once."""

    def __init__(self, plan: Plan) -> None:
        self.calendars = plan.calendars
        self._piece = lru_cache(512)(self._compute)

    def days(self, calendar: str, begin: int, end: int) -> Spans:
        """Runs of whole days without work between two minutes, as (begin, end) in minutes."""
        return self._spans(calendar, begin, end, False)

    def hours(self, calendar: str, begin: int, end: int) -> Spans:
        """All time without work between two minutes."""
        return self._spans(calendar, begin, end, True)

    def _spans(self, calendar: str, begin: int, end: int, fine: bool) -> Spans:
        found: Spans = []
        for piece in range(begin // DAY // PIECE, end // DAY // PIECE + 1):
            for span in self._piece(calendar, piece, fine):
                if span[1] <= begin or span[0] >= end:
                    continue
                if found and found[-1][1] == span[0]:
                    found[-1] = (found[-1][0], span[1])
                else:
                    found.append(span)
        return found

    def _compute(self, calendar: str, piece: int, fine: bool) -> Spans:
        first = piece * PIECE
        begin, end = first * DAY, (first + PIECE) * DAY
        try:
            works = compile_calendar(self.calendars, calendar, Window(first - 1, first + PIECE + 1))
        except CannotSchedule:
            return [(begin, end)]
        if fine:
            edges = np.column_stack((np.append(begin, works.ends), np.append(works.begins, end)))
            return [(max(begin, int(a)), min(end, int(b))) for a, b in edges if b > max(a, begin) and a < end]
        busy = np.zeros(PIECE + 3, dtype=np.int64)
        np.add.at(busy, works.begins // DAY - first + 1, 1)
        np.add.at(busy, -(-works.ends // DAY) - first + 1, -1)
        idle = np.concatenate(([0], (np.cumsum(busy)[1 : PIECE + 1] == 0).astype(np.int64), [0]))
        starts, ends = np.flatnonzero(np.diff(idle) == 1), np.flatnonzero(np.diff(idle) == -1)
        return [(begin + int(a) * DAY, begin + int(b) * DAY) for a, b in zip(starts, ends, strict=True)]
