"""The slow twin of both passes: late dates, floats, what is critical and the longest path, found by trying.

No bound is ever taken backward over a lag or a calendar. A leaf may be as late as the last minute at which, placed
there and looked at *forward*, it ends in time and every link out of it still lets its successor lie where that may be.
So the twin shares neither code nor idea with the backward pass.

The choices of the rules, as they are stated here:

- A link from a summary's start binds the leaves below it that start first; one from its finish binds all of them.
- Total float is the least of what the start and the finish can move, free float what a task can move before it moves a
  successor, or the end of its project; both are counted on the task's calendar.
- Links into a summary meet in one moment, the latest at which one arrives; the longest path runs on to those.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple

from msgspec import to_builtins

from hexapod.plan.plan import Plan
from hexapod.plan.records import Gap, LimitKind, Link, OutOfOrder, Task, TaskKind
from hexapod.schedule.schedule import Schedule
from hexapod.worktime.calendars import Window
from tests.schedule.twin import Dates, Placed, SlowSchedule, is_backward, largest, left_of, without_hold

NEVER_ASKS = 1 << 50


class Row(NamedTuple):
    """As ``TaskDates``; a summary has the span of what is below it, and the least floats."""

    start: int
    finish: int
    early_start: int
    early_finish: int
    late_start: int
    late_finish: int
    total_float: int | None
    free_float: int | None
    critical: bool
    longest_path: bool


def disagreements(plan: Plan, fast: Schedule, window: Window) -> list[str] | None:
    """What the twin finds otherwise, task by task; None if its window is too small for the plan."""
    try:
        slow = SlowPasses(plan, window)
        expected = slow.rows()
    except IndexError:
        return None
    late = any(task.as_late_as_possible for task in plan.tasks.values())
    found = []
    for task_id, row in expected.items():
        other = Row(*fast.dates(task_id)[: len(Row._fields)])
        if late:  # what is moved within its float is no part of any path, and breaks those through it
            row, other = row._replace(longest_path=False), other._replace(longest_path=False)
        differs = [f"{name} {b}, not {a}" for name, a, b in zip(Row._fields, row, other, strict=True) if a != b]
        if differs:
            found.append(f"{task_id}: {', '.join(differs)}")
    found += [f"{p} begins otherwise" for p, start in slow.starts.items() if fast.project_start[p] != start]
    return found


def told(plan: Plan) -> str:
    """The records of a plan, to read."""
    kinds = (plan.projects, plan.tasks, plan.links, plan.resources, plan.assignments)
    return "\n".join(str(to_builtins(record)) for kind in kinds for record in kind.values())


class Latest(NamedTuple):
    """Of a leaf: the last moment at which it may be free to start (before its hold), start, and end."""

    release: int
    start: int
    finish: int


class SlowPasses:
    def __init__(self, plan: Plan, window: Window) -> None:
        self.plan = plan
        self.early = SlowSchedule(plan, window)
        self.starts: dict[str, int] = {}
        back = [p for p in plan.projects if is_backward(plan, p)]
        self._run(window)
        if back:
            base: dict[str, int] = {}
            for project in back:
                mine = [t for t in self.early.leaves if plan.tasks[t].project == project]
                if mine:
                    self.starts[project] = min(self.latest[t].start for t in mine)
                ahead = [t for t in mine if plan.tasks[t].actual_start is None]
                if ahead:
                    base[project] = min(self.latest[t].start for t in ahead)
            self.early = SlowSchedule(plan, window, base)
            self._run(window)

    def _run(self, window: Window) -> None:
        self.dates: Dates = self.early.all_dates({})
        self.first = dict(self.dates.start)  # before what is to be as late as possible was moved
        self.last = dict(self.dates.finish)
        self.lags = dict(self.early.lags)
        self.ends = self.early.project_finish(self.dates.finish)
        for project in self.plan.projects.values():
            if is_backward(self.plan, project.id) and project.finish is not None:
                self.ends[project.id] = project.finish
        self.latest: dict[str, Latest] = {}
        self.floats: dict[str, tuple[int, int]] = {}
        self.delayed: set[str] = set()
        for task_id in reversed(self.early.order):
            self._place_late(self.plan.tasks[task_id], window)

    # Late dates

    def _place_late(self, task: Task, window: Window) -> None:
        counted = self.early.counted(task)
        if task.actual_start is not None:
            self._place_told_late(task, window)
            return
        if self.early.is_stretched(task):
            self._place_span_late(task, window)
            return
        first, now = window.begin + 1440, self.dates.start[task.id]

        # Of a milestone and of a crew not every moment is one that a hold leads to: it is taken off afterwards.
        apart = task.hold if not task.minutes or len(self.early.crew(task)) > 1 else 0
        placing = without_hold(task) if apart else task

        def in_time(t: int) -> bool:
            placed = self.early.place(placing, t, None)
            return (
                placed.finish <= self.ends[task.project]
                and _respects(task, placed.start, placed.finish)
                and self._lets_others(task.id, placed.start, placed.finish, self.latest)
            )

        release = largest(in_time, self.ends[task.project], first)
        placed = self.early.place(placing, release, None)
        self.latest[task.id] = Latest(counted.retreat(release, apart), placed.start, placed.finish)
        total = min(
            counted.worked(placed.start) - counted.worked(now),
            counted.worked(placed.finish) - counted.worked(self.dates.finish[task.id]),
        )
        alone = self._moving_nobody(task, window)
        free = min(
            counted.worked(alone.start) - counted.worked(now),
            counted.worked(alone.finish) - counted.worked(self.dates.finish[task.id]),
        )
        free = max(0, free)
        at = min(alone.start, placed.start)
        if task.as_late_as_possible and at > now and (not task.minutes or min(free, total) > 0):
            self._delay(task, at)
            by = counted.worked(self.dates.start[task.id]) - counted.worked(now)
            total, free = total - by, max(0, free - by)
        self.floats[task.id] = total, free

    def _place_told_late(self, task: Task, window: Window) -> None:
        """What is done is as late as it was, and asks for nothing. What is begun may end as late as what follows lets
        it; where one of a crew ends sooner than that, it ends when the last of them does."""
        now, begun = self.dates.finish[task.id], self.dates.start[task.id]
        if task.actual_finish is not None:
            self.latest[task.id] = Latest(NEVER_ASKS, begun, now)
            return
        crew, counted = self.early.crew(task), self.early.counted(task)
        rest = 0 if self.early.is_stretched(task) else left_of(task)

        def ends(t: int) -> int:
            return max(c.advance(t, rest) for c in crew) if rest else t

        def last(where: Mapping[str, Latest], limited: bool) -> tuple[int, int]:
            def in_time(t: int) -> bool:
                is_free = not limited or _respects(task, None, ends(t))
                return ends(t) <= until and is_free and self._lets_others(task.id, None, ends(t), where)

            until = self.ends[task.project]
            begin = largest(in_time, until, window.begin + 1440)
            return begin, max(ends(begin), now) if rest and len(crew) > 1 and may(where, limited) else ends(begin)

        def may(where: Mapping[str, Latest], limited: bool) -> bool:
            is_free = not limited or _respects(task, None, now)
            return now <= self.ends[task.project] and is_free and self._lets_others(task.id, None, now, where)

        begin, finish = last(self.latest, True)
        self.latest[task.id] = Latest(begin, begun, finish)
        where = {t: self._as_it_is(t) for t in self.early.leaves}
        total = counted.worked(finish) - counted.worked(now)
        self.floats[task.id] = total, max(0, counted.worked(last(where, False)[1]) - counted.worked(now))

    def _as_it_is(self, task_id: str) -> Latest:
        done = self.plan.tasks[task_id].actual_finish is not None
        return Latest(
            NEVER_ASKS if done else self.dates.free[task_id], self.dates.start[task_id], self.dates.finish[task_id]
        )

    def _moving_nobody(self, task: Task, window: Window) -> Placed:
        """The last place of the task with which all that waits for it stays where it is."""
        bare = without_hold(task)
        where_they_are = {t: self._as_it_is(t) for t in self.early.leaves}

        def harmless(t: int) -> bool:
            placed = self.early.place(bare, t, None)
            return placed.finish <= self.ends[task.project] and self._lets_others(
                task.id, placed.start, placed.finish, where_they_are
            )

        at = largest(harmless, self.ends[task.project], window.begin + 1440)
        return self.early.place(bare, at, None)

    def _delay(self, task: Task, at: int) -> None:
        placed = self.early.place(without_hold(task), at, None)
        self.dates.start[task.id], self.dates.finish[task.id] = placed.start, placed.finish
        counted = self.early.counted(task)
        free = counted.retreat(placed.start, task.hold)
        self.dates.free[task.id] = counted.next_working(free) if task.minutes else free
        self.delayed.add(task.id)

    def _place_span_late(self, task: Task, window: Window) -> None:
        """A span has no length of its own: its ends are bound apart, and it cannot start after it has ended."""
        until, begins, ends = max(self.ends.values()) + 40_000, self.dates.start[task.id], self.dates.finish[task.id]
        counted = self.early.counted(task)

        def latest_end(where: Mapping[str, Latest], limited: bool) -> int:
            return largest(
                lambda t: (
                    t <= self.ends[task.project]
                    and (not limited or _respects(task, None, t))
                    and self._lets_others(task.id, None, t, where)
                ),
                until,
                window.begin,
            )

        finish = latest_end(self.latest, True)
        start = largest(
            lambda t: _respects(task, t, None) and self._lets_others(task.id, t, None, self.latest), until, window.begin
        )
        start = min(start, finish)
        self.latest[task.id] = Latest(start, start, finish)
        total = min(
            counted.worked(start) - counted.worked(begins),
            counted.worked(finish) - counted.worked(ends),
        )
        where = {t: self._as_it_is(t) for t in self.early.leaves}
        free = counted.worked(latest_end(where, False)) - counted.worked(ends)
        by_start = largest(lambda t: self._lets_others(task.id, t, None, where), until, window.begin)
        if by_start < until:
            free = min(free, counted.worked(by_start) - counted.worked(begins))
        self.floats[task.id] = total, max(0, free)

    def _lets_others(self, task_id: str, start: int | None, finish: int | None, where: Mapping[str, Latest]) -> bool:
        """Whether all that waits for a leaf, or for a summary above it, can lie there, when the leaf lies here."""
        for each in (task_id, *self.plan.ancestors(task_id)):
            for link in self.plan.links_from(each):
                if self.plan.gap_of(link) is Gap.WARN:
                    continue
                by_finish = link.type.value[0] == "F"
                at = finish if by_finish else start
                if at is None or (not by_finish and self.first[task_id] > self._first_of(each)):
                    continue
                for leaf in self.early._leaves_of[link.successor]:
                    if link in self.early.holding[leaf] and not self._fits(link, leaf, at, where[leaf]):
                        return False
        return True

    def _first_of(self, task_id: str) -> int:
        return min(self.first[t] for t in self.early._leaves_of[task_id])

    def _fits(self, link: Link, leaf: str, at: int, there: Latest) -> bool:
        """Whether a leaf that may be free to start at a moment satisfies a link that leads on from another."""
        task = self.plan.tasks[leaf]
        if task.actual_finish is not None:
            return True
        arrives = self.early.arrives(link, at, self.lags[link.key])
        if task.actual_start is not None:
            return self._fits_the_rest(link, task, arrives, there)
        if link.type.value[1] == "S":
            return arrives <= there.release
        if self.early.is_stretched(task):
            return arrives <= there.finish
        if not task.minutes:
            return arrives <= there.release
        crew = self.early.crew(task)
        return any(c.worked(there.release) + task.minutes >= c.worked(arrives) for c in crew)

    def _fits_the_rest(self, link: Link, task: Task, arrives: int, there: Latest) -> bool:
        """The same of a begun task: its rest may start when it does, unless it goes on whatever holds it."""
        rest = 0 if self.early.is_stretched(task) else left_of(task)
        if link.type.value[1] == "S":
            goes_on = self.plan.projects[task.project].out_of_order is OutOfOrder.GOES_ON
            return goes_on or arrives <= (there.release if rest else there.finish)
        if not rest:
            return arrives <= there.finish
        return any(c.worked(there.release) + rest >= c.worked(arrives) for c in self.early.crew(task))

    # The longest path

    def longest_path(self) -> set[str]:
        """Leaves from which links that hold lead to the end of their project."""
        finish, found = self.dates.finish, set()
        tasks = self.plan.tasks
        waiting = [t for t in self.early.leaves if finish[t] == self.ends[tasks[t].project] and t not in self.delayed]
        while waiting:
            task_id = waiting.pop()
            if task_id in found:
                continue
            found.add(task_id)
            for link in self._driving(tasks[task_id]):
                by_finish = link.type.value[0] == "F"
                ends, leaves = (self.last if by_finish else self.first), self.early._leaves_of[link.predecessor]
                edge = (max if by_finish else min)(ends[t] for t in leaves)
                waiting += [t for t in leaves if ends[t] == edge]
        return {t for t in found if tasks[t].kind is not TaskKind.SPAN}

    def _driving(self, task: Task) -> list[Link]:
        if task.actual_start is not None:
            return []
        holding = self.early.holding[task.id]
        by_start = [x for x in holding if x.type.value[1] == "S"]
        by_finish = [x for x in holding if x.type.value[1] == "F"]
        free, crew = self.dates.free[task.id], self.early.crew(task)
        found = []
        if self.early.is_stretched(task):
            latest = max(
                [self._arrival(x) for x in by_finish]
                + [x.at for x in task.limits if x.kind in (LimitKind.FINISH_NO_EARLIER, LimitKind.MUST_FINISH)]
            )
            return [x for x in by_finish if self._arrival(x) == latest]
        for link in self._meeting(task.id, by_start):
            at = self._arrival(link)
            if at == free or (task.minutes and min(c.next_working(at) for c in crew) >= free):
                found.append(link)
        for link in by_finish:
            if not task.minutes:
                is_held = self._arrival(link) == free
            else:
                sooner = free - 1  # the last moment from which the crew would begin before it does
                while min(c.next_working(sooner) for c in crew) == free:
                    sooner -= 1
                is_held = all(c.worked(sooner) + task.minutes < c.worked(self._arrival(link)) for c in crew)
            if is_held:
                found.append(link)
        return found

    def _meeting(self, leaf: str, links: list[Link]) -> list[Link]:
        """Links into the leaf itself, and of those into summaries above it the last to arrive."""
        above = [x for x in links if x.successor != leaf]
        latest = max((self._arrival(x) for x in above), default=0)
        return [x for x in links if x.successor == leaf or self._arrival(x) == latest]

    def _arrival(self, link: Link) -> int:
        return self.early.arrives(link, self.early.end(link, self.first, self.last), self.lags[link.key])

    # All together

    def rows(self) -> dict[str, Row]:
        """By task, what ``Schedule.dates`` says."""
        longest, found = self.longest_path(), {}
        for task_id in self.early.leaves:
            task, latest = self.plan.tasks[task_id], self.latest[task_id]
            early = self.dates.start[task_id], self.dates.finish[task_id]
            if task.actual_finish is not None:
                found[task_id] = Row(*early, *early, *early, None, None, False, task_id in longest)
                continue
            total, free = self.floats[task_id]
            project = self.plan.projects[task.project]
            threshold = project.critical_float
            late = is_backward(self.plan, task.project)
            if project.status_date is not None and latest.start < early[0]:
                late = False
            found[task_id] = Row(
                *((latest.start, latest.finish) if late else early),
                *early,
                latest.start,
                latest.finish,
                total,
                free,
                total <= threshold and task.kind is not TaskKind.SPAN,
                task_id in longest,
            )
        for task_id in [t for t in self.plan.tasks if self.plan.is_summary(t)]:
            below = [found[t] for t in self.early._leaves_of[task_id]]
            columns = zip((min, max, min, max, min, max, least, least, max, max), zip(*below, strict=True), strict=True)
            found[task_id] = Row(*(choose(column) for choose, column in columns))
        return found


def least(floats: tuple[int | None, ...]) -> int | None:
    """None is none: what is done has no float."""
    return min((f for f in floats if f is not None), default=None)


def _respects(task: Task, start: int | None, finish: int | None) -> bool:
    """Whether limits of "no later" and the target are kept; None is an end that is not asked about."""
    for limit in task.limits:
        if start is not None and limit.kind in (LimitKind.START_NO_LATER, LimitKind.MUST_START) and start > limit.at:
            return False
        if (
            finish is not None
            and limit.kind in (LimitKind.FINISH_NO_LATER, LimitKind.MUST_FINISH)
            and finish > limit.at
        ):
            return False
    return finish is None or task.target is None or finish <= task.target
