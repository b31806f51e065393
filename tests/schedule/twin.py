"""The slow, obvious twin of the forward pass: early dates, minute by minute.

It shares no code with the kernels. What holds a task is stated link by link, the first minute that satisfies it all is
searched for, and a float is the largest delay that does no harm. ``late_twin`` goes on with late dates.

The choices of the rules, as they are stated here:

- A link into a summary that holds its start holds every leaf below it; one that holds its finish holds the leaves below
  it that no other task of the branch waits for. Its lag counts on the summary's calendar.
- A link out of a summary leads from the earliest start, or the latest finish, of the leaves below it. A lag that is a
  percentage is one of the working time between the two.
- What is done lies where it was. What is begun started when it did; its rest is worked from the latest of the status
  date, the moment it was told, the actual start, and what holds it. Each of several who do it has the same rest. With
  neither a status date nor such a moment, each goes on where the own done part ends. A span has no rest: it ends with
  what ends it, and no sooner than the status date.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from fractions import Fraction
from functools import lru_cache
from typing import NamedTuple

from msgspec.structs import replace

from hexapod.plan.plan import Plan
from hexapod.plan.records import Calendar, Direction, Gap, LagOn, LimitKind, Link, OutOfOrder, Task, TaskKind
from hexapod.worktime.calendars import Window
from tests.worktime.twin import MinuteByMinute


class Dates(NamedTuple):
    """Of leaves. ``free`` is where a task starts before its levelling hold; of what is begun, where its rest starts."""

    start: dict[str, int]
    finish: dict[str, int]
    free: dict[str, int]


class Placed(NamedTuple):
    start: int
    finish: int
    free: int


@lru_cache(maxsize=40)
def _minutes(calendars: tuple[Calendar, ...], chosen: tuple[str, ...], window: Window) -> MinuteByMinute:
    return MinuteByMinute({calendar.id: calendar for calendar in calendars}, chosen, window)


class SlowSchedule:
    """``start`` and ``finish`` are the early dates of the leaves, from the projects' starts or ``base``."""

    def __init__(
        self,
        plan: Plan,
        window: Window,
        base: Mapping[str, int] | None = None,
    ) -> None:
        self.plan = plan
        self.leaves = [t for t in plan.tasks if not plan.is_summary(t)]
        self.base = {p.id: p.start for p in plan.projects.values()} | dict(base or {})
        for project in plan.projects.values():
            if project.status_date is not None:
                self.base[project.id] = max(self.base[project.id], project.status_date)
        self.window = window
        self._leaves_of = {t: [x for x in plan.branch(t) if not plan.is_summary(x)] for t in plan.tasks}
        self.holding = {t: self._links_that_hold(t) for t in self.leaves}
        self.lags: dict[tuple[str, str, str], int] = {}
        self.order: list[str] = []
        self.start, self.finish = self.dates({})

    # Calendars

    def calendar(self, *chosen: str) -> MinuteByMinute:
        """The minutes that all these calendars work."""
        needed: dict[str, Calendar] = {}
        for each in chosen:
            if each.startswith("leave of "):
                resource = self.plan.resources[each.removeprefix("leave of ")]
                needed[each] = Calendar(each, each, resource.calendar or "always", exceptions=resource.leave)
                each = resource.calendar or "always"
            while each in self.plan.calendars and each not in needed:
                needed[each] = self.plan.calendars[each]
                each = needed[each].base or "always"
        return _minutes(tuple(needed.values()), chosen, self.window)

    def own(self, task: Task) -> str:
        if task.elapsed:
            return "always"
        named = (t for t in (task.id, *self.plan.ancestors(task.id)) if self.plan.tasks[t].calendar)
        nearest = next(named, None)
        return (nearest and self.plan.tasks[nearest].calendar) or self.plan.projects[task.project].calendar

    def crew(self, task: Task) -> list[MinuteByMinute]:
        """When each of those assigned can work on the task; the task's own time if nobody is."""
        own, found = self.own(task), []
        apart = task.elapsed or self.plan.is_summary(task.id)
        for resource in () if apart else self.plan.assigned.get(task.id, ()):
            person = self.plan.resources[resource]
            other = f"leave of {resource}" if person.leave else person.calendar
            found.append(self.calendar(own) if other in (None, own) else self.calendar(own, other))
        return found or [self.calendar(own)]

    def counted(self, task: Task) -> MinuteByMinute:
        """On which lags and floats of the task are counted: its own time, or that of all who work on it if they
        share."""
        crew = self.crew(task)
        return crew[0] if len({id(c) for c in crew}) == 1 else self.calendar(self.own(task))

    # Links

    def _links_that_hold(self, task_id: str) -> list[Link]:
        """Those into a leaf, and those into the summaries above it that it has to answer for."""
        found = []
        for each in (task_id, *self.plan.ancestors(task_id)):
            for link in self.plan.links_into(each):
                by_finish = link.type.value[1] == "F"
                if self.plan.gap_of(link) is not Gap.WARN and (not by_finish or self._is_last(task_id, each)):
                    found.append(link)
        return found

    def _is_last(self, leaf: str, summary: str) -> bool:
        """Whether no other task of the branch waits for the leaf, or for a summary above it within the branch."""
        if leaf == summary:
            return True
        branch = set(self.plan.branch(summary))
        inside = [t for t in (leaf, *self.plan.ancestors(leaf)) if t in branch and t != summary]
        return not any(
            link.successor in branch and self.plan.gap_of(link) is not Gap.WARN
            for t in inside
            for link in self.plan.links_from(t)
        )

    def end(self, link: Link, start: Mapping[str, int], finish: Mapping[str, int]) -> int:
        """The moment that a link leads on from."""
        leaves = self._leaves_of[link.predecessor]
        return max(finish[t] for t in leaves) if link.type.value[0] == "F" else min(start[t] for t in leaves)

    def lag(self, link: Link, start: Mapping[str, int], finish: Mapping[str, int]) -> int:
        if not link.lag_percent:
            return link.lag
        before = self.plan.tasks[link.predecessor]
        length = before.minutes
        if self.plan.is_summary(before.id) or before.kind is TaskKind.SPAN:
            counted, leaves = self.counted(before), self._leaves_of[before.id]
            begin, end = min(start[t] for t in leaves), max(finish[t] for t in leaves)
            length = counted.worked(end) - counted.worked(begin)
        return math.floor(length * link.lag_percent / 100 + 0.5)

    def arrives(self, link: Link, at: int, lag: int) -> int:
        """Where a link arrives that leads on from a moment."""
        before, after = self.plan.tasks[link.predecessor], self.plan.tasks[link.successor]
        if link.lag_on is LagOn.PREDECESSOR:
            return self.counted(before).shifted(at, lag)
        if link.lag_on is LagOn.PROJECT:
            return self.calendar(self.plan.projects[after.project].calendar).shifted(at, lag)
        return (self.calendar("always") if link.lag_on is LagOn.ELAPSED else self.counted(after)).shifted(at, lag)

    # Placing

    def dates(
        self, delays: Mapping[str, int], not_before: Mapping[str, int] | None = None
    ) -> tuple[dict[str, int], dict[str, int]]:
        """Early dates with some tasks starting later by working minutes, or not before a moment."""
        found = self.all_dates(delays, not_before)
        return found.start, found.finish

    def all_dates(self, delays: Mapping[str, int], not_before: Mapping[str, int] | None = None) -> Dates:
        plan, found = self.plan, Dates({}, {}, {})
        waiting, self.order = list(self.leaves), []
        while waiting:
            task_id = next(t for t in waiting if self._is_ready(t, found.start))
            waiting.remove(task_id)
            self.order.append(task_id)
            task = plan.tasks[task_id]
            if task.actual_finish is not None:
                assert task.actual_start is not None
                found.start[task_id] = found.free[task_id] = task.actual_start
                found.finish[task_id] = task.actual_finish
                continue
            is_begun = task.actual_start is not None
            from_start, from_finish = max(self.base[task.project], (not_before or {}).get(task_id, 0)), None
            if is_begun:
                from_start = 0
            for limit in task.limits:
                if limit.kind in (LimitKind.START_NO_EARLIER, LimitKind.MUST_START):
                    from_start = from_start if is_begun else max(from_start, limit.at)
                elif limit.kind in (LimitKind.FINISH_NO_EARLIER, LimitKind.MUST_FINISH):
                    from_finish = limit.at if from_finish is None else max(from_finish, limit.at)
            for link in self.holding[task_id]:
                self.lags[link.key] = self.lag(link, found.start, found.finish)
                reached = self.arrives(link, self.end(link, found.start, found.finish), self.lags[link.key])
                if link.type.value[1] == "S":
                    from_start = max(from_start, reached)
                else:
                    from_finish = reached if from_finish is None else max(from_finish, reached)
                from_start = max(from_start, 0 if is_begun else self._kept_from(link, task, reached))
            if is_begun:
                if plan.projects[task.project].out_of_order is OutOfOrder.GOES_ON:
                    from_start = 0
                placed = self.place_rest(task, from_start, from_finish, delays.get(task_id, 0))
                found.start[task_id], found.finish[task_id], found.free[task_id] = placed
                continue
            placed = self.place(task, from_start, from_finish, delays.get(task_id, 0))
            found.start[task_id], found.finish[task_id], found.free[task_id] = placed
        return found

    def _kept_from(self, link: Link, task: Task, reached: int) -> int:
        """The moment up to which a link of a leaf keeps the gap before it: so much work after what it demands."""
        if not link.gap_kept or self.plan.gap_of(link) is not Gap.KEEP or link.successor != task.id:
            return 0
        counted = self.counted(task)
        length = task.minutes if link.type.value[1] == "F" and not self.is_stretched(task) else 0
        return counted.shifted(counted.retreat(reached, length), link.gap_kept)

    def _is_ready(self, task_id: str, start: Mapping[str, int]) -> bool:
        return all(t in start for link in self.holding[task_id] for t in self._leaves_of[link.predecessor])

    def is_stretched(self, task: Task) -> bool:
        """A span whose finish a link gives."""
        return task.kind is TaskKind.SPAN and any(x.type.value[1] == "F" for x in self.holding[task.id])

    def place(self, task: Task, from_start: int, from_finish: int | None, delay: int = 0) -> Placed:
        """The first minutes at which the task can lie, by bounds on its start and its finish."""
        crew, counted = self.crew(task), self.counted(task)
        if self.is_stretched(task):
            free = counted.next_working(from_start)
            start = counted.next_working(counted.advance(free, delay + task.hold))
            return Placed(start, start if from_finish is None else max(start, from_finish), free)
        t = free = self._first_fit(crew, task.minutes, from_start, from_finish)
        if delay + task.hold:
            t = counted.advance(t, delay + task.hold)
            t = counted.next_working(t) if task.minutes else t
        start = min(c.next_working(t) for c in crew) if task.minutes else t
        return Placed(start, max(c.advance(t, task.minutes) for c in crew) if task.minutes else t, free)

    def place_rest(self, task: Task, from_start: int, from_finish: int | None, delay: int = 0) -> Placed:
        """A begun task: its rest at the first minutes at which it can lie, bounded by what holds it."""
        begun, crew, counted = task.actual_start, self.crew(task), self.counted(task)
        assert begun is not None
        said = [t for t in (self.plan.projects[task.project].status_date, task.as_of) if t is not None]
        rest, whole = left_of(task), task.minutes
        if self.is_stretched(task) or not rest:
            done = 0 if self.is_stretched(task) else whole - rest
            earliest = max(begun, *said) if said else counted.advance(begun, max(0, done))
            end = counted.advance(max(earliest, from_start, from_finish or 0), delay)
            return Placed(begun, end, end)
        if said:
            t = self._first_fit(crew, rest, max(begun, from_start, *said), from_finish)
            t = counted.next_working(counted.advance(t, delay)) if delay else t
            return Placed(begun, max(c.advance(t, rest) for c in crew), t)
        end = max(c.advance(begun, max(whole, rest)) for c in crew)
        latest = end  # the last moment from which the rest would end as soon
        while max(c.advance(latest, rest) for c in crew) > end:
            latest -= 1
        while max(c.advance(latest + 1, rest) for c in crew) <= end:
            latest += 1
        held = self._first_fit(crew, rest, max(begun, from_start), from_finish)
        t = max(latest, held)
        t = counted.next_working(counted.advance(t, delay)) if delay else t
        return Placed(begun, max(end, *(c.advance(t, rest) for c in crew)), t)

    @staticmethod
    def _first_fit(crew: list[MinuteByMinute], duration: int, from_start: int, from_finish: int | None) -> int:
        if duration == 0:
            return from_start if from_finish is None else max(from_start, from_finish)
        t = min(c.next_working(from_start) for c in crew)
        while from_finish is not None and all(c.worked(t) + duration < c.worked(from_finish) for c in crew):
            t = min(c.next_working(t + 1) for c in crew)
        return t

    # Delaying and looking

    def as_late_as_possible(self, most: int) -> tuple[dict[str, int], dict[str, int]]:
        """The dates with each of those tasks in turn, from the last to the first, moved by all that moves nobody."""
        not_before: dict[str, int] = {}
        order = sorted(self.leaves, key=lambda t: (self.start[t], self.leaves.index(t)), reverse=True)
        late = [t for t in order if self.plan.tasks[t].as_late_as_possible]
        again = True
        while again:
            again = False
            for task_id in late:
                before = self.dates({}, not_before)
                moved = self._last_start(task_id, not_before, before, most)
                if moved > before[0][task_id]:
                    not_before[task_id], again = moved, True
        return self.dates({}, not_before)

    def _last_start(
        self, task_id: str, not_before: dict[str, int], before: tuple[dict[str, int], ...], most: int
    ) -> int:
        calendar, goal = self.calendar(self.own(self.plan.tasks[task_id])), self.project_finish(before[1])

        def moved(delay: int) -> int:
            return calendar.next_working(calendar.advance(before[0][task_id], delay))

        def harmless(delay: int) -> bool:
            start, finish = self.dates({}, {**not_before, task_id: moved(delay)})
            same = all((start[t], finish[t]) == (before[0][t], before[1][t]) for t in start if t != task_id)
            return same and self.project_finish(finish) == goal

        return moved(largest(harmless, most))

    def project_finish(self, finish: Mapping[str, int]) -> dict[str, int]:
        found: dict[str, int] = {}
        for task_id, end in finish.items():
            project = self.plan.tasks[task_id].project
            found[project] = max(end, found.get(project, end))
        return found

    def total_float(self, task_id: str, most: int) -> int:
        """The largest delay up to ``most`` with which every project ends as before."""
        goal = self.project_finish(self.finish)

        def harmless(delay: int) -> bool:
            return self.project_finish(self.dates({task_id: delay})[1]) == goal

        return largest(harmless, most)

    def free_float(self, task_id: str, most: int) -> int:
        """The largest delay up to ``most`` that moves no other task, nor the end of a project."""
        goal = self.project_finish(self.finish)

        def harmless(delay: int) -> bool:
            start, finish = self.dates({task_id: delay})
            others = all(start[t] == self.start[t] and finish[t] == self.finish[t] for t in start if t != task_id)
            return others and self.project_finish(finish) == goal

        return largest(harmless, most)


def largest(harmless, most: int, least: int = 0) -> int:  # type: ignore[no-untyped-def]
    """The largest number that does no harm, by halving: more never does less harm. ``IndexError`` if the least does."""
    if least and not harmless(least):
        raise IndexError("before the window")
    low, high = least, most + 1
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (middle, high) if harmless(middle) else (low, middle)
    return low


def left_of(task: Task) -> int:
    """Working minutes: as said, else what the per cent leaves, rounded half up, by the digits in which it is said."""
    if task.remaining is not None:
        return task.remaining
    return math.floor(Fraction(task.minutes) * (100 - Fraction(str(task.percent))) / 100 + Fraction(1, 2))


def is_backward(plan: Plan, project: str) -> bool:
    found = plan.projects[project]
    return found.direction is Direction.BACKWARD and found.finish is not None


def without_hold(task: Task) -> Task:
    return replace(task, hold=0)
