"""Earned value: what was planned, earned and spent by a moment, what that says of the finish, and of what it is made.

Everything is exact whole minutes or whole smallest units of money, rounded for each task, so that parts add up; only
quotients are not whole. A quotient by zero is None, and ``missing`` says why.

Sources: ANSI/EIA-748; ISO 21508:2018; earned schedule after Lipke 2003.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import NamedTuple

import numpy as np

from hexapod.control.earned import TIME, WHOLE, earned_parts
from hexapod.control.efforts import halved_up, safe
from hexapod.control.ledger import Ledger
from hexapod.control.planned_value import Measure, Planned
from hexapod.control.spreading import until
from hexapod.plan.accounts import EntryKind
from hexapod.plan.outline import outline_order
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY
from hexapod.schedule.drifting import reference_of


class Figures(NamedTuple):
    """PV, EV, AC and BAC of a task, a branch, a project or all of them. EV is None where it is not known for that day,
    all but AC where there is no baseline."""

    pv: int | None
    ev: int | None
    ac: int
    bac: int | None

    def plus(self, other: Figures) -> Figures:
        """Both together."""
        return Figures(
            _sum(self.pv, other.pv), _sum(self.ev, other.ev), self.ac + other.ac, _sum(self.bac, other.bac)
        )  # fmt: skip

    @property
    def sv(self) -> int | None:
        return _difference(self.ev, self.pv)

    @property
    def cv(self) -> int | None:
        return _difference(self.ev, self.ac)

    @property
    def spi(self) -> float | None:
        return _quotient(self.ev, self.pv)

    @property
    def cpi(self) -> float | None:
        return _quotient(self.ev, self.ac)

    @property
    def left(self) -> int | None:
        """BAC - EV: what is still to be earned."""
        return _difference(self.bac, self.ev)

    @property
    def eac(self) -> int | None:
        """The estimate at completion, if the rest costs as what was done: AC + (BAC - EV) / CPI."""
        if self.left is None or not self.ev or not self.ac:
            return None
        return self.ac + _rounded(self.left * self.ac, self.ev)

    @property
    def eac_as_planned(self) -> int | None:
        """The same if the rest costs what was planned: AC + (BAC - EV)."""
        return None if self.left is None else self.ac + self.left

    @property
    def eac_with_both(self) -> int | None:
        """The same if the rest suffers from cost and from delay: AC + (BAC - EV) / (CPI SPI)."""
        if self.left is None or not self.ev or not self.ac or not self.pv:
            return None
        return self.ac + _rounded(self.left * self.ac * self.pv, self.ev * self.ev)

    @property
    def etc(self) -> int | None:
        return _difference(self.eac, self.ac)

    @property
    def vac(self) -> int | None:
        return _difference(self.bac, self.eac)

    @property
    def tcpi(self) -> float | None:
        """What the rest must be worth to meet the budget: (BAC - EV) / (BAC - AC)."""
        return _quotient(self.left, _difference(self.bac, self.ac))


NOTHING = Figures(0, 0, 0, 0)
OF_EARNED = ("ev", "sv", "cv", "spi", "cpi", "eac", "etc", "vac", "tcpi", "es", "spi_t", "finish")


@dataclass(frozen=True)
class Value:
    """The value of one project at a moment. ``es`` and ``time`` are working minutes on its calendar from its start."""

    project: str
    name: str
    at: int
    measure: Measure
    whole: Figures
    tasks: Mapping[str, Figures]
    es: float | None = None
    time: int = 0
    planned_time: int = 0
    finish: int | None = None
    missing: Mapping[str, str] = field(default_factory=dict)

    @property
    def spi_t(self) -> float | None:
        return None if self.es is None else _quotient(self.es, self.time)

    @property
    def sv_t(self) -> float | None:
        return None if self.es is None else self.es - self.time


@dataclass(frozen=True)
class Valuing:
    """What value is worked out from, made once for a plan: the baseline's rows, and what was spent."""

    plan: Plan
    project: str
    planned: Planned | None
    ledger: Ledger

    @staticmethod
    def of(plan: Plan, project: str, ledger: Ledger | None = None, last: int = 0) -> Valuing:
        """``last`` is the last moment that will be asked for."""
        baseline = reference_of(plan, project)
        planned = None if baseline is None else Planned.of(plan, baseline, last)
        return Valuing(plan, project, planned, Ledger.of(plan) if ledger is None else ledger)

    def parts(self, plan: Plan | None = None) -> dict[str, int]:
        """The earned parts of the rows that have a budget, as they are told; in an earlier ``plan`` as they were."""
        return {} if self.planned is None else earned_parts(self.plan if plan is None else plan, self.planned.tasks)

    def at(self, moment: int, measure: Measure, parts: Mapping[str, int] | None) -> Value:
        """The value at a moment. ``parts`` are the earned parts by task as they were then; None where nobody knows."""
        spent, alone = self.spent(moment, measure)
        planned, name = self.planned, self.plan.projects[self.project].name
        if planned is None:
            tasks = {t: Figures(None, None, ac, None) for t, ac in spent.items()}
            total = Figures(None, None, sum(spent.values()) + alone, None)
            why = "No baseline is what the project is measured against, so nothing says what was planned."
            return Value(self.project, name, moment, measure, total, tasks, missing={"pv": why, "ev": why})
        budgets, pv = planned.budgets(measure), planned.by(moment, measure)
        ev = None if parts is None else self._earned(planned, budgets, pv, parts)
        tasks = {
            t: Figures(p, None if ev is None else ev[i], spent.get(t, 0), b)
            for i, (t, p, b) in enumerate(zip(planned.tasks, pv.tolist(), budgets.tolist(), strict=True))
        }
        none_earned = None if ev is None else 0
        tasks.update((t, Figures(0, none_earned, ac, 0)) for t, ac in spent.items() if t not in tasks)
        total = Figures(
            int(pv.sum()), None if ev is None else sum(ev), sum(spent.values()) + alone, int(budgets.sum())
        )  # fmt: skip
        return self._in_time(planned, Value(self.project, name, moment, measure, total, tasks))

    def _earned(self, planned: Planned, budgets: np.ndarray, pv: np.ndarray, parts: Mapping[str, int]) -> list[int]:
        part = np.array([parts.get(t, 0) for t in planned.tasks], dtype=np.int64)
        found = halved_up(safe(budgets, np.array([WHOLE])) * np.maximum(part, 0), WHOLE)
        earned: list[int] = np.where(part == TIME, pv, found).astype(np.int64).tolist()
        return earned

    def earned_total(
        self, moment: int, measure: Measure, parts: Mapping[str, int], inside: Collection[str] | None = None
    ) -> int:
        """What was earned at a moment, of the project or of some rows of it."""
        planned = self.planned
        if planned is None:
            return 0
        earned = self._earned(planned, planned.budgets(measure), planned.by(moment, measure), parts)
        return sum(e for t, e in zip(planned.tasks, earned, strict=True) if inside is None or t in inside)

    def spent_totals(
        self, moments: Sequence[int], measure: Measure, inside: Collection[str] | None = None
    ) -> list[int]:
        """What was spent by each of some moments, of the project or of some rows of it: added up once for all."""
        plan, ledger = self.plan, self.ledger
        rows = ledger.of_project(self.project, inside)
        amounts = ledger.minutes if measure is Measure.HOURS else ledger.cost
        order = np.argsort(ledger.day[rows], kind="stable")
        days, total = ledger.day[rows][order], np.concatenate(([0], np.cumsum(amounts[rows][order])))
        entries = [
            e for e in plan.entries.values()
            if measure is Measure.MONEY and e.project == self.project and not e.planned and e.kind is EntryKind.COST
            and (inside is None or e.task in inside)
        ]  # fmt: skip
        found = []
        for day in ((moment - 1) // DAY for moment in moments):
            logged = int(total[np.searchsorted(days, day, side="right")])
            found.append(logged + sum(until(entry, day) for entry in entries))
        return found

    def _in_time(self, planned: Planned, value: Value) -> Value:
        """With the earned schedule and what it says of the finish."""
        time, ev, end = planned.time_until(value.at), value.whole.ev, planned.end
        missing = dict(why_missing(value.whole))
        if ev is None or end is None:
            return replace(value, time=time, missing=missing)
        es = planned.earned_schedule(ev, value.measure)
        length, finish = planned.time_until(end), None
        if es > 0 and time > 0:
            finish = planned.moment_after(round(length * time / es))
        if time <= 0:
            missing["spi_t"] = missing["finish"] = "No working time of the project has passed by then."
        elif es == 0:
            missing["finish"] = "Nothing is earned by then, so the pace says nothing of the finish."
        return replace(value, es=es, time=time, planned_time=length, finish=finish, missing=missing)

    def spent(self, moment: int, measure: Measure) -> tuple[dict[str, int], int]:
        """AC by task up to the day of a moment, and what is the project's alone: entries of no task."""
        day = (moment - 1) // DAY
        ledger, plan = self.ledger, self.plan
        keep = ledger.counting(day)
        by_task = ledger.by_task(keep, ledger.minutes if measure is Measure.HOURS else ledger.cost)
        found = {t: n for t, n in by_task.items() if plan.tasks[t].project == self.project}
        alone = 0
        if measure is Measure.MONEY:
            for entry in plan.entries.values():
                if entry.project != self.project or entry.planned or entry.kind is not EntryKind.COST:
                    continue
                amount = until(entry, day)
                if entry.task is None:
                    alone += amount
                elif amount:
                    found[entry.task] = found.get(entry.task, 0) + amount
        return found, alone


def with_branches(plan: Plan, value: Value) -> dict[str, Figures]:
    """The figures of all rows of a project in their order, a branch as the sum of what is below it; then those of rows
    that are gone."""
    rows = [t for t in outline_order(plan) if plan.tasks[t].project == value.project]
    found = {t: value.tasks.get(t, nothing_of(value)) for t in rows}
    for task_id in reversed(rows):
        parent = plan.tasks[task_id].parent
        if parent is not None:
            found[parent] = found[parent].plus(found[task_id])
    return found | {t: figures for t, figures in value.tasks.items() if t not in found}


def of_branch(plan: Plan, value: Value, task: str) -> Value:
    """The figures of a branch alone. When it will be earned is a matter of the whole project."""
    inside = set(plan.branch(task))
    tasks = {t: figures for t, figures in value.tasks.items() if t in inside}
    whole = nothing_of(value)
    for figures in tasks.values():
        whole = whole.plus(figures)
    missing = {**why_missing(whole), **({"pv": value.missing["pv"]} if "pv" in value.missing else {})}
    for name in ("es", "spi_t", "finish"):
        missing[name] = "The schedule is earned by the whole project, not by a branch."
    return replace(value, whole=whole, tasks=tasks, es=None, finish=None, missing=missing)


def nothing_of(value: Value) -> Figures:
    """The figures of a row without any; what the value does not know, it does not know of that row either."""
    if value.whole.pv is None:
        return Figures(None, None, 0, None)
    return NOTHING if value.whole.ev is not None else NOTHING._replace(ev=None)


def why_missing(figures: Figures) -> dict[str, str]:
    """For each figure that has no value, why."""
    found: dict[str, str] = {}
    if figures.ev is None:
        why = "What was earned by then is not known: only the history of the plan could say."
        return dict.fromkeys(OF_EARNED, why)
    if figures.pv == 0:
        found["spi"] = "Nothing was planned to be done by then."
    if figures.ac == 0:
        found.update(dict.fromkeys(("cpi", "eac", "etc", "vac"), "Nothing was spent by then."))
    if figures.ev == 0:
        found["eac"] = found["etc"] = found["vac"] = "Nothing is earned by then, so the rest cannot be measured by it."
    if figures.bac == figures.ac:
        found["tcpi"] = "All of the budget is spent."
    return found


def _sum(a: int | None, b: int | None) -> int | None:
    return None if a is None or b is None else a + b


def _difference(a: int | None, b: int | None) -> int | None:
    return None if a is None or b is None else a - b


def _quotient(a: float | None, b: float | None) -> float | None:
    return None if a is None or b is None or not b else a / b


def _rounded(a: int, b: int) -> int:
    return (2 * a + b) // (2 * b)
