"""The slow, obvious twin of the passes. Early dates minute by minute; floats by delaying and looking.

It shares no code with the kernels: constraints are stated one by one, the first minute that satisfies all
of them is searched for, and a float is the largest delay that does no harm.
"""

from __future__ import annotations

from hexapod.plan.plan import Plan
from hexapod.schedule.timing import calendar_set_of
from hexapod.worktime.calendars import Window
from tests.worktime.twin import MinuteByMinute


class SlowSchedule:
    def __init__(self, plan: Plan, window: Window) -> None:
        self.plan = plan
        self.leaves = [t for t in plan.tasks if not plan.is_summary(t)]
        self._twins: dict[tuple[str, ...], MinuteByMinute] = {}
        self._window = window
        self.start, self.finish = self.dates({})

    def calendar(self, task_id: str) -> MinuteByMinute:
        chosen = calendar_set_of(self.plan, self.plan.tasks[task_id])
        if chosen not in self._twins:
            self._twins[chosen] = MinuteByMinute(self.plan.calendars, chosen, self._window)
        return self._twins[chosen]

    def dates(self, delays: dict[str, int]) -> tuple[dict[str, int], dict[str, int]]:
        """Early dates with some tasks starting later by working minutes."""
        plan, start, finish = self.plan, {}, {}
        waiting = list(self.leaves)
        while waiting:
            for task_id in waiting:
                links = plan.links_into(task_id)
                if all(link.predecessor in start for link in links):
                    break
            waiting.remove(task_id)
            task, calendar = plan.tasks[task_id], self.calendar(task_id)
            from_start, from_finish = plan.projects[task.project].start, None
            for link in links:
                end = finish if link.type.value[0] == "F" else start
                reached = calendar.shifted(end[link.predecessor], link.lag)
                if link.type.value[1] == "S":
                    from_start = max(from_start, reached)
                else:
                    from_finish = reached if from_finish is None else max(from_finish, reached)
            t = self._first_fit(calendar, task.minutes, from_start, from_finish)
            delay = delays.get(task_id, 0) + task.hold
            if delay:
                t = calendar.advance(t, delay)
                t = calendar.next_working(t) if task.minutes else t
            start[task_id] = t
            finish[task_id] = calendar.advance(t, task.minutes)
        return start, finish

    @staticmethod
    def _first_fit(calendar: MinuteByMinute, duration: int, from_start: int, from_finish: int | None) -> int:
        if duration == 0:
            return from_start if from_finish is None else max(from_start, from_finish)
        t = calendar.next_working(from_start)
        while from_finish is not None and calendar.worked(t) + duration < calendar.worked(from_finish):
            t = calendar.next_working(t + 1)
        return t

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
