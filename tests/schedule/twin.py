"""The slow, obvious twin of the passes. Early dates minute by minute; floats by delaying and looking.

It shares no code with the kernels: constraints are stated one by one, the first minute that satisfies all
of them is searched for, and a float is the largest delay that does no harm.
"""

from __future__ import annotations

import math

from hexapod.plan.plan import Plan
from hexapod.plan.records import Gap, LagOn, LimitKind, Link, Task, TaskKind
from hexapod.worktime.calendars import Window
from tests.worktime.twin import MinuteByMinute


class SlowSchedule:
    def __init__(self, plan: Plan, window: Window) -> None:
        self.plan = plan
        self.leaves = [t for t in plan.tasks if not plan.is_summary(t)]
        self._twins: dict[tuple[str, ...], MinuteByMinute] = {}
        self._window = window
        self.start, self.finish = self.dates({})

    def calendar(self, *chosen: str) -> MinuteByMinute:
        """The minutes that all these calendars work."""
        if chosen not in self._twins:
            self._twins[chosen] = MinuteByMinute(self.plan.calendars, chosen, self._window)
        return self._twins[chosen]

    def own(self, task: Task) -> str:
        if task.elapsed:
            return "always"
        named = (t for t in (task.id, *self.plan.ancestors(task.id)) if self.plan.tasks[t].calendar)
        nearest = next(named, None)
        return (nearest and self.plan.tasks[nearest].calendar) or self.plan.projects[task.project].calendar

    def crew(self, task: Task) -> list[MinuteByMinute]:
        """When each of those assigned can work on the task; the task's own time if nobody is."""
        own, found = self.own(task), []
        for resource in [] if task.elapsed else self.plan.assigned.get(task.id, ()):
            other = self.plan.resources[resource].calendar
            found.append(self.calendar(own) if other in (None, own) else self.calendar(own, other))
        return found or [self.calendar(own)]

    def dates(
        self, delays: dict[str, int], not_before: dict[str, int] | None = None
    ) -> tuple[dict[str, int], dict[str, int]]:
        """Early dates with some tasks starting later by working minutes, or not before a moment."""
        plan, start, finish = self.plan, {}, {}
        waiting = list(self.leaves)
        while waiting:
            for task_id in waiting:
                links = [x for x in plan.links_into(task_id) if plan.gap_of(x) is not Gap.WARN]
                if all(link.predecessor in start for link in links):
                    break
            waiting.remove(task_id)
            task = plan.tasks[task_id]
            crew = self.crew(task)
            counted = crew[0] if len({id(c) for c in crew}) == 1 else self.calendar(self.own(task))
            from_start, from_finish = max(plan.projects[task.project].start, (not_before or {}).get(task_id, 0)), None
            for limit in task.limits:
                if limit.kind in (LimitKind.START_NO_EARLIER, LimitKind.MUST_START):
                    from_start = max(from_start, limit.at)
                elif limit.kind in (LimitKind.FINISH_NO_EARLIER, LimitKind.MUST_FINISH):
                    from_finish = limit.at if from_finish is None else max(from_finish, limit.at)
            for link in links:
                reached = self._reached(link, counted, start, finish)
                if link.type.value[1] == "S":
                    from_start = max(from_start, reached)
                else:
                    from_finish = reached if from_finish is None else max(from_finish, reached)
            if task.kind is TaskKind.SPAN and from_finish is not None:
                start[task_id] = counted.next_working(from_start)
                finish[task_id] = max(start[task_id], from_finish)
                continue
            t = self._first_fit(crew, task.minutes, from_start, from_finish)
            delay = delays.get(task_id, 0) + task.hold
            if delay:
                t = counted.advance(t, delay)
                t = counted.next_working(t) if task.minutes else t
            start[task_id] = min(c.next_working(t) for c in crew) if task.minutes else t
            finish[task_id] = max(c.advance(t, task.minutes) for c in crew)
        return start, finish

    def _reached(self, link: Link, counted: MinuteByMinute, start: dict[str, int], finish: dict[str, int]) -> int:
        """Where a link arrives; lags of the predecessor's own calendar for a crew."""
        before, after = self.plan.tasks[link.predecessor], self.plan.tasks[link.successor]
        lag = link.lag
        if link.lag_percent:
            lag = math.floor(before.minutes * link.lag_percent / 100 + 0.5)
        if link.lag_on is LagOn.PREDECESSOR:
            crew = self.crew(before)
            counted = crew[0] if len({id(c) for c in crew}) == 1 else self.calendar(self.own(before))
        elif link.lag_on is LagOn.PROJECT:
            counted = self.calendar(self.plan.projects[after.project].calendar)
        elif link.lag_on is LagOn.ELAPSED:
            counted = self.calendar("always")
        end = finish if link.type.value[0] == "F" else start
        return counted.shifted(end[link.predecessor], lag)

    @staticmethod
    def _first_fit(crew: list[MinuteByMinute], duration: int, from_start: int, from_finish: int | None) -> int:
        if duration == 0:
            return from_start if from_finish is None else max(from_start, from_finish)
        t = min(c.next_working(from_start) for c in crew)
        while from_finish is not None and all(c.worked(t) + duration < c.worked(from_finish) for c in crew):
            t = min(c.next_working(t + 1) for c in crew)
        return t

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

        return moved(_largest(harmless, most))

    def project_finish(self, finish: dict[str, int]) -> dict[str, int]:
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

        return _largest(harmless, most)

    def free_float(self, task_id: str, most: int) -> int:
        """The largest delay up to ``most`` that moves no other task, nor the end of a project."""
        goal = self.project_finish(self.finish)

        def harmless(delay: int) -> bool:
            start, finish = self.dates({task_id: delay})
            others = all(start[t] == self.start[t] and finish[t] == self.finish[t] for t in start if t != task_id)
            return others and self.project_finish(finish) == goal

        return _largest(harmless, most)


def _largest(harmless, most: int) -> int:  # type: ignore[no-untyped-def]
    """By halving: delaying more never does less harm."""
    low, high = 0, most + 1
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (middle, high) if harmless(middle) else (low, middle)
    return low
