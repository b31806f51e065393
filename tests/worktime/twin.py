"""The slow, obvious twin of the working-time arithmetic: every minute of the window, one by one."""

from __future__ import annotations

from array import array
from bisect import bisect_left, bisect_right
from collections.abc import Mapping
from itertools import accumulate

from hexapod.plan.records import Calendar
from hexapod.worktime.calendars import BUILT_IN, Window


class MinuteByMinute:
    """``works[i]`` tells whether minute ``window.begin + i`` is worked."""

    def __init__(self, calendars: Mapping[str, Calendar], chosen: tuple[str, ...], window: Window) -> None:
        self.begin, self.end = window.begin, window.end
        self.works: list[bool] = []
        for day in range(window.first_day, window.last_day):
            minutes = [True] * 1440
            for calendar in chosen:
                open_ = [False] * 2880
                for begin, end in self._hours(calendars, calendar, day):
                    open_[begin : min(end, 1440)] = [True] * (min(end, 1440) - begin)
                for _, end in self._hours(calendars, calendar, day - 1):  # a shift that passed midnight
                    open_[: max(0, end - 1440)] = [True] * max(0, end - 1440)
                minutes = [a and b for a, b in zip(minutes, open_[:1440], strict=True)]
            self.works += minutes
        self.done = array("l", accumulate(self.works, initial=0))

    @staticmethod
    def _hours(calendars: Mapping[str, Calendar], calendar_id: str, day: int) -> tuple[tuple[int, int], ...]:
        lineage = []
        current: str | None = calendar_id
        while current is not None:
            lineage.append(BUILT_IN.get(current) or calendars[current])
            current = lineage[-1].base
        for calendar in lineage:
            for exception in reversed(calendar.exceptions):
                if exception.first_day <= day <= exception.last_day:
                    return exception.working
        for calendar in lineage:
            hours = calendar.week[(day + 3) % 7]
            if hours is not None:
                return hours
        return ()

    def worked(self, t: int) -> int:
        if t < self.begin:
            raise IndexError("before the window")
        return self.done[t - self.begin]

    def advance(self, t: int, work: int) -> int:
        """The earliest t' with W(t') - W(t) = work."""
        if work == 0:
            return t
        return self.begin + bisect_left(self.done, self.worked(t) + work)

    def retreat(self, t: int, work: int) -> int:
        """The latest t' with W(t) - W(t') = work."""
        if work == 0:
            return t
        goal = self.worked(t) - work
        if goal < 0:
            raise IndexError("before the window")
        return self.begin + bisect_right(self.done, goal) - 1

    def next_working(self, t: int) -> int:
        return self.begin + bisect_right(self.done, self.worked(t)) - 1

    def shifted(self, t: int, lag: int) -> int:
        return self.advance(t, lag) if lag > 0 else self.retreat(t, -lag) if lag < 0 else t
