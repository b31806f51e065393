"""Planned value: what a baseline had planned to be done by a moment, and when it had planned so much.

Sources: ANSI/EIA-748 (planned value); Lipke 2003, *Schedule is different* (earned schedule).
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from hexapod.control.efforts import halved_up, safe
from hexapod.plan.accounts import Baseline, BaselineTask
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY
from hexapod.schedule.timing import HORIZON_DAY, CalendarBook, compile_set, own_calendar
from hexapod.staffing.demand import CURVES, WEIGHTS
from hexapod.worktime.calendars import BUILT_IN, CalendarPool, Ints, Window, pool_of

_TENTHS = np.array([[round(10 * w) for w in WEIGHTS[c]] if len(WEIGHTS[c]) > 1 else [10] * 10 for c in CURVES])
_UP_TO = np.concatenate((np.zeros((len(CURVES), 1), dtype=np.int64), np.cumsum(_TENTHS, axis=1)), axis=1)
_STEPS, _SUM = _TENTHS.shape[1], 100


class Measure(StrEnum):
    """What value is counted in: minutes of work, or the smallest unit of money."""

    HOURS = "hours"
    MONEY = "money"


@dataclass(frozen=True)
class Planned:
    """The rows of a baseline that hold a budget, as columns; times are minutes.

    A row that has others of the baseline below it in the plan is not among them: they hold what it stands for, unless
    it has a budget of its own.
    """

    plan: Plan
    project: str
    tasks: tuple[str, ...]
    start: Ints
    finish: Ints
    calendar: Ints  # in the pool
    curve: Ints
    effort: Ints
    cost: Ints
    pool: CalendarPool
    own: int  # the project's calendar in the pool
    begin: int  # when the project starts
    work: Ints  # working minutes of each row
    before: Ints  # working minutes on its calendar up to its start

    @staticmethod
    def of(plan: Plan, baseline: Baseline, until: int = 0) -> Planned:
        """``until`` is the last moment that anybody will ask for."""
        from hexapod.schedule.passes import working_minutes_between
        from hexapod.worktime.arithmetic import worked_at

        rows = _budgeted(plan, baseline)
        project = plan.projects[baseline.project]
        names = [_calendar(plan, row, baseline.project) for row in rows]
        known = list(dict.fromkeys([project.calendar, *names]))
        times = [project.start, until or project.start, *(row.start for row in rows), *(row.finish for row in rows)]
        window = Window(min(times) // DAY - 1, max(times) // DAY + 366)
        book = CalendarBook(plan)
        pool = pool_of((compile_set(book, (name,), window) for name in known), window)
        place = {name: i for i, name in enumerate(known)}
        start, finish, effort, cost = (
            np.array([getattr(row, name) for row in rows], dtype=np.int64)
            for name in ("start", "finish", "effort", "cost")
        )
        calendar = np.array([place[name] for name in names], dtype=np.int64)
        curve = np.array([CURVES.index(row.curve) for row in rows], dtype=np.int64)
        before = np.zeros(len(rows), dtype=np.int64)
        for c in range(len(known)):
            mine = calendar == c
            before[mine] = worked_at(pool, c, start[mine])
        work = working_minutes_between(pool, calendar, start, finish)
        return Planned(
            plan, baseline.project, tuple(row.task for row in rows), start, finish, calendar, curve, effort, cost, pool,
            place[project.calendar], project.start, work, before,
        )  # fmt: skip

    def among(self, tasks: Iterable[str]) -> Planned:
        """Only the rows of some tasks, for a branch."""
        wanted = set(tasks)
        keep = np.array([t in wanted for t in self.tasks], dtype=bool)
        columns = {n: getattr(self, n)[keep] for n in _COLUMNS}
        kept = tuple(t for t, k in zip(self.tasks, keep.tolist(), strict=True) if k)
        others = {n: getattr(self, n) for n in ("plan", "project", "pool", "own", "begin")}
        return Planned(tasks=kept, **columns, **others)

    def budgets(self, measure: Measure) -> Ints:
        """What each row was planned to take or to cost."""
        return self.effort if measure is Measure.HOURS else self.cost

    @property
    def end(self) -> int | None:
        """When the last of it was planned to finish."""
        return int(self.finish.max()) if len(self.finish) else None

    def by(self, at: int, measure: Measure) -> Ints:
        """PV of each row at a moment, rounded half up: its budget spread over its span, by its calendar and curve."""
        budget = self.budgets(measure)
        done, whole = self._parts(at)
        part = safe(budget, np.array([_SUM * int(whole.max(initial=1))])) * done
        found: Ints = np.where(whole > 0, halved_up(part, np.maximum(whole, 1)), 0)
        return np.where(self.finish <= at, budget, np.where(self.start >= at, 0, found)).astype(np.int64)

    def parts(self, at: int) -> NDArray[np.float64]:
        """How much of each row was planned to be done, 0 to 1."""
        done, whole = self._parts(at)
        found = np.where(whole > 0, done / np.maximum(whole, 1), 0.0)
        return np.where(self.finish <= at, 1.0, np.where(self.start >= at, 0.0, found))

    def _parts(self, at: int) -> tuple[Ints, Ints]:
        """Of each row how much of its curve lies before a moment, and all of it."""
        up_to = self._worked_up_to(at)
        time = np.clip(up_to[self.calendar] - self.before, 0, self.work) if len(self.tasks) else self.work
        step = time * _STEPS
        k = np.minimum(step // np.maximum(self.work, 1), _STEPS - 1)
        within = step - k * self.work
        return _UP_TO[self.curve, k] * self.work + _TENTHS[self.curve, k] * within, _SUM * self.work

    def _worked_up_to(self, at: int) -> Ints:
        from hexapod.worktime.arithmetic import worked

        count = 1 + int(max(self.calendar.max(initial=0), self.own))
        return np.array([worked(self.pool, c, at) for c in range(count)], dtype=np.int64)

    def total(self, at: int, measure: Measure) -> int:
        return int(self.by(at, measure).sum())

    # Earned schedule

    def time_until(self, at: int) -> int:
        """Working minutes on the project's calendar from its start to a moment."""
        from hexapod.worktime.arithmetic import worked

        return int(worked(self.pool, self.own, at) - worked(self.pool, self.own, self.begin))

    def earned_schedule(self, earned: int, measure: Measure) -> float:
        """Working minutes from the project's start to the earliest moment at which so much was planned to be done;
        linear within each working day (Lipke 2003)."""
        end = self.end
        if earned <= 0 or end is None:
            return 0.0
        first, last = min(self.begin, int(self.start.min())) // DAY, (end - 1) // DAY
        while first < last:  # the first day by whose end so much was planned
            middle = (first + last) // 2
            if self.total((middle + 1) * DAY, measure) >= earned:
                last = middle
            else:
                first = middle + 1
        morning, evening = first * DAY, (first + 1) * DAY
        before, after = self.total(morning, measure), self.total(evening, measure)
        from_start = max(0, self.time_until(morning))
        day = max(0, self.time_until(evening)) - from_start
        if after <= before or earned >= after:
            return float(from_start + day)
        return from_start + day * (earned - before) / (after - before)

    def moment_after(self, minutes: int) -> int | None:
        """The moment so many working minutes after the project's start; None beyond all calendars."""
        from hexapod.worktime.arithmetic import advance, worked

        first, days = self.begin // DAY - 1, 2 * 366
        book, name = CalendarBook(self.plan), self.plan.projects[self.project].calendar
        while first + days <= HORIZON_DAY:
            window = Window(first, first + days)
            pool = pool_of((compile_set(book, (name,), window),), window)
            if minutes < worked(pool, 0, window.end - 1) - worked(pool, 0, self.begin):
                return int(advance(pool, 0, self.begin, minutes))
            days *= 4
        return None


_COLUMNS = ("start", "finish", "calendar", "curve", "effort", "cost", "work", "before")


def _budgeted(plan: Plan, baseline: Baseline) -> list[BaselineTask]:
    holders: set[str] = set()
    for row in baseline.tasks:
        task = plan.tasks.get(row.task)
        while task is not None and task.parent is not None and task.parent not in holders:
            holders.add(task.parent)
            task = plan.tasks.get(task.parent)
    return [row for row in baseline.tasks if row.own or row.task not in holders]


def _calendar(plan: Plan, row: BaselineTask, project: str) -> str:
    """That of the baseline; where it kept none, or it is gone, the task's own, else the project's."""
    if row.calendar is not None and (row.calendar in BUILT_IN or row.calendar in plan.calendars):
        return row.calendar
    task = plan.tasks.get(row.task)
    return plan.projects[project].calendar if task is None else own_calendar(plan, task)
