"""Money by period: what was budgeted, planned and spent, what it will have cost, what was charged, and what came in.

Every amount is whole smallest units. What is spread over time is shared out day by day by cumulative rounding, so that
the periods of any division add up to the same.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, fields
from datetime import date
from enum import StrEnum

import numpy as np

from hexapod.control.baselines import baseline_of
from hexapod.control.efforts import Efforts
from hexapod.control.ledger import HOUR, Ledger, rate_on
from hexapod.control.planned_value import Measure, Planned
from hexapod.control.spreading import between, share
from hexapod.plan.accounts import Budget, EntryKind, Log, MoneyEntry, monday_of
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY
from hexapod.schedule.drifting import reference_of
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.capacity import PARTS
from hexapod.staffing.load import add_all
from hexapod.worktime.calendars import Ints
from hexapod.worktime.clock import date_of, day_number

MOST_PERIODS = 400
Days = tuple[int, int]  # first and last


class Step(StrEnum):
    WEEK = "week"
    MONTH = "month"
    QUARTER = "quarter"


@dataclass(frozen=True)
class Money:
    """Amounts of a period, or of all of them. ``budget`` is None where none was set.

    ``expected`` is what it will have cost: what is spent and what is still to come by the plan. ``agreed`` is what is
    to be charged to somebody, ``promised`` the income that was planned and ``came`` the income that came.
    """

    budget: int | None = None
    planned: int = 0
    spent: int = 0
    expected: int = 0
    agreed: int = 0
    invoiced: int = 0
    promised: int = 0
    came: int = 0

    @property
    def to_invoice(self) -> int:
        """What is still to be charged; less than nothing where more was charged than was agreed."""
        return self.agreed - self.invoiced

    @property
    def left(self) -> int | None:
        """What of the budget will be left; less than nothing where it will be over."""
        return None if self.budget is None else self.budget - self.expected

    @property
    def is_over(self) -> bool:
        return self.budget is not None and self.spent > self.budget

    @property
    def will_be_over(self) -> bool:
        return self.budget is not None and self.expected > self.budget

    def __add__(self, other: Money) -> Money:
        found = {}
        for each in fields(self):
            mine, its = getattr(self, each.name), getattr(other, each.name)
            found[each.name] = its if mine is None else mine if its is None else mine + its
        return Money(**found)


@dataclass(frozen=True)
class Period:
    days: Days
    money: Money


@dataclass(frozen=True)
class MoneyTable:
    """``whole`` are all periods together; its budget is that of the whole, where one was set for all time."""

    project: str
    task: str | None
    periods: tuple[Period, ...]
    whole: Money

    def to_invoice_after(self, period: Period) -> int:
        """What of all that was agreed is still to be charged when a period is over."""
        charged = sum(p.money.invoiced for p in self.periods if p.days <= period.days)
        return self.whole.agreed - charged


def periods_of(step: Step, first: int, last: int) -> list[Days]:
    """The weeks, months or quarters that some days lie in, whole ones."""
    found: list[Days] = []
    begin = _begin(step, first)
    while begin <= last and len(found) < MOST_PERIODS:
        after = _begin(step, begin + {Step.WEEK: 7, Step.MONTH: 32, Step.QUARTER: 95}[step])
        found.append((begin, after - 1))
        begin = after
    return found


def _begin(step: Step, day: int) -> int:
    if step is Step.WEEK:
        return monday_of(day)
    on = date_of(day)
    month = on.month if step is Step.MONTH else (on.month - 1) // 3 * 3 + 1
    return day_number(date(on.year, month, 1))


@dataclass(frozen=True)
class Costing:
    """What a table of money is made from, worked out once for a plan: ``planned`` is the baseline, or the plan as it is
    where none is kept."""

    schedule: Schedule
    efforts: Efforts
    ledger: Ledger
    project: str
    planned: Planned

    @staticmethod
    def of(efforts: Efforts, ledger: Ledger, project: str, today: int) -> Costing:
        schedule = efforts.schedule
        plan = schedule.plan
        kept = reference_of(plan, project)
        baseline = baseline_of(schedule, project, "", "now", today * DAY, efforts) if kept is None else kept
        return Costing(schedule, efforts, ledger, project, Planned.of(plan, baseline, (today + 366) * DAY))

    @property
    def plan(self) -> Plan:
        return self.schedule.plan

    def table(self, step: Step, today: int, task: str | None = None) -> MoneyTable:
        """By period, of the project or of one of its branches; ``today`` is a day."""
        found = self._periods(periods_of(step, *self._days(self._inside(task), task)), today, task)
        whole = sum((period.money for period in found), Money())
        for_all = [b.amount for b in self._budgets(task) if b.first_day is None and b.amount is not None]
        if for_all:
            whole = _with_budget(whole, sum(for_all))
        return MoneyTable(self.project, task, tuple(found), whole)

    def money_in(self, days: Days, today: int, task: str | None = None) -> Money:
        """The money of some days alone."""
        return self._periods([days], today, task, clipped=True)[0].money

    def _budgets(self, task: str | None) -> list[Budget]:
        return [b for b in self.plan.budgets.values() if b.project == self.project and b.task == task]

    def _periods(self, periods: Sequence[Days], today: int, task: str | None, *, clipped: bool = False) -> list[Period]:
        inside = self._inside(task)
        edges = [periods[0][0], *(last + 1 for _, last in periods)]
        planned = self._planned(inside, edges)
        spent, left = self._logged(inside, edges), self._left(inside, edges, clipped)
        entries = [e for e in self.plan.entries.values() if self._is_inside(e, inside, task)]
        budgets = self._budgets(task)
        found = []
        for i, (first, last) in enumerate(periods):
            found.append(Period((first, last), _money(
                entries, budgets, (first, last), today, planned[i], spent[i], left[i],
            )))  # fmt: skip
        return found

    def _inside(self, task: str | None) -> set[str] | None:
        return None if task is None else set(self.plan.branch(task))

    def _is_inside(self, entry: MoneyEntry, inside: set[str] | None, task: str | None) -> bool:
        if entry.project != self.project:
            return False
        return inside is None or entry.task in inside

    def _days(self, inside: set[str] | None, task: str | None) -> Days:
        """The first and the last day on which there is any money."""
        plan = self.plan
        project = plan.projects[self.project]
        days = [project.start // DAY]
        finish = self.schedule.project_finish.get(self.project)
        if finish is not None:
            days.append((finish - 1) // DAY)
        for entry in plan.entries.values():
            if self._is_inside(entry, inside, task):
                days += [entry.first_day, entry.last_day]
        for budget in plan.budgets.values():
            if budget.project == self.project and budget.task == task and budget.first_day is not None:
                days += [budget.first_day, budget.last_day or budget.first_day]
        rows = self.ledger.of_project(self.project, inside)
        if rows.any():
            days += [int(self.ledger.day[rows].min()), int(self.ledger.day[rows].max())]
        if self.planned.end is not None:
            days += [int(self.planned.start.min()) // DAY, (self.planned.end - 1) // DAY]
        return min(days), max(days)

    def _planned(self, inside: set[str] | None, edges: Sequence[int]) -> list[int]:
        planned = self.planned if inside is None else self.planned.among(inside)
        totals = [planned.total(day * DAY, Measure.MONEY) for day in edges]
        return np.diff(totals).tolist()

    def _logged(self, inside: set[str] | None, edges: Sequence[int]) -> list[int]:
        rows = self.ledger.of_project(self.project, inside)
        rows &= (self.ledger.day >= edges[0]) & (self.ledger.day < edges[-1])
        place = np.searchsorted(np.array(edges), self.ledger.day[rows], side="right") - 1
        total = np.zeros(len(edges) - 1, dtype=np.int64)
        np.add.at(total, place, self.ledger.cost[rows])
        return total.tolist()

    def _left(self, inside: set[str] | None, edges: Sequence[int], clipped: bool) -> list[int]:
        """What the rest of the work costs, by period; what lies before the first is in the first, unless it is
        clipped."""
        efforts, demand = self.efforts, self.efforts.demand
        network = self.schedule.network
        runs, ids = efforts.runs, network.slots.tasks
        task = demand.task[efforts.rows]
        chosen = network.tasks.project[task] == network.projects.index(self.project)
        if inside is not None:
            chosen &= np.array([ids[slot] in inside for slot in task.tolist()], dtype=bool)
        if not chosen.any():
            return [0] * (len(edges) - 1)
        keep = chosen[runs.row]
        some = runs.kept(keep)
        fine = self._fine_edges(edges)
        moments: Ints = np.array(fine, dtype=np.int64) * DAY
        if not clipped:
            moments[0], moments[-1] = min(moments[0], int(some.start.min())), max(moments[-1], int(some.finish.max()))
        shape = (len(efforts.rows), len(fine) - 1)
        minutes, counts = np.zeros(shape, dtype=np.int64), np.zeros(shape, dtype=np.int64)
        add_all(network.timing.pool, some.calendar, some.start, some.finish, some.units, some.row, some.row, moments,
                minutes, counts)  # fmt: skip
        rates = self._rates(fine)
        who = demand.who[efforts.rows]
        up_to = np.cumsum((minutes.astype(object) * rates[who]).sum(axis=0))
        by_fine = np.diff(np.concatenate(([0], [halved_up_money(n) for n in up_to])))
        place = np.searchsorted(np.array(edges), np.array(fine[:-1]), side="right") - 1
        total = [0] * (len(edges) - 1)
        for i, amount in zip(place.tolist(), by_fine.tolist(), strict=True):
            total[max(0, i)] += int(amount)
        return total

    def _fine_edges(self, edges: Sequence[int]) -> list[int]:
        """The periods, cut where a rate changes."""
        steps = {day for r in self.plan.resources.values() for day, _ in r.rate_from if edges[0] < day < edges[-1]}
        return sorted({*edges, *steps})

    def _rates(self, fine: Sequence[int]) -> np.ndarray:
        """By resource and piece of time what an hour costs."""
        resources = [self.plan.resources[r] for r in self.efforts.demand.resources]
        return np.array([[rate_on(r, day) for day in fine[:-1]] for r in resources], dtype=object).reshape(
            len(resources), len(fine) - 1
        )

    # What a figure is made of

    def logs_in(self, days: Days, task: str | None = None) -> list[Log]:
        """The logs that count as spent in some days."""
        inside, plan = self._inside(task), self.plan
        counts, row_of = self.ledger.counting(), self.ledger.row_of
        return [
            log for log in plan.logs.values()
            if days[0] <= log.day <= days[1] and plan.tasks[log.task].project == self.project
            and (inside is None or log.task in inside) and counts[row_of[log.id]]
        ]  # fmt: skip

    def entries_in(self, days: Days, task: str | None = None) -> list[MoneyEntry]:
        inside = self._inside(task)
        found = [e for e in self.plan.entries.values() if self._is_inside(e, inside, task)]
        return sorted((e for e in found if e.first_day <= days[1] and e.last_day >= days[0]),
                      key=lambda e: (e.first_day, e.name))  # fmt: skip


def _money(
    entries: Iterable[MoneyEntry],
    budgets: Iterable[Budget],
    days: Days,
    today: int,
    planned: int,
    logged: int,
    left: int,
) -> Money:
    first, last = days
    sums: dict[tuple[EntryKind, bool], int] = {}
    to_come = 0
    for entry in entries:
        until = last if entry.planned else min(last, today)  # what is to be paid later is not spent yet
        amount = between(entry, first, until) if until >= first else 0
        if amount:
            key = (entry.kind, entry.planned)
            sums[key] = sums.get(key, 0) + amount
        if entry.kind is EntryKind.COST and last > today:
            to_come += between(entry, max(first, today + 1), last)
    spent = logged + sums.get((EntryKind.COST, False), 0)
    amounts = [part for b in budgets if (part := _budget_in(b, days)) is not None]
    return Money(
        sum(amounts) if amounts else None, planned, spent, spent + left + to_come,
        sums.get((EntryKind.INVOICED, True), 0), sums.get((EntryKind.INVOICED, False), 0),
        sums.get((EntryKind.INCOME, True), 0), sums.get((EntryKind.INCOME, False), 0),
    )  # fmt: skip


def _budget_in(budget: Budget, days: Days) -> int | None:
    """The part of a budget of a period that lies in some days, spread evenly; None of one that is for all time."""
    if budget.amount is None or budget.first_day is None or budget.last_day is None:
        return None
    if budget.first_day > days[1] or budget.last_day < days[0]:
        return None
    return share(budget.amount, budget.first_day, budget.last_day, *days)


def _with_budget(money: Money, budget: int) -> Money:
    return Money(budget, *(getattr(money, f.name) for f in fields(money)[1:]))


def halved_up_money(parts: int) -> int:
    """Millionths of minutes at a rate an hour as money, rounded half up."""
    by = PARTS * HOUR
    return (2 * parts + by) // (2 * by)


@dataclass(frozen=True)
class OverBudget:
    """A budget that is burst, or will be by the forecast; ``days`` are those of a budget of a period."""

    project: str
    task: str | None
    days: Days | None
    budget: int
    amount: int
    is_burst: bool


def over_budgets(costing: Costing, today: int) -> list[OverBudget]:
    """The budgets of a project that are burst or will be, those for all time first."""
    plan, found = costing.plan, []
    mine = [b for b in plan.budgets.values() if b.project == costing.project and b.amount is not None]
    for task in dict.fromkeys(b.task for b in mine):
        table = costing.table(Step.MONTH, today, task)
        for budget in (b for b in mine if b.task == task):
            assert budget.amount is not None
            if budget.first_day is None or budget.last_day is None:
                money, days = table.whole, None
            else:
                days = (budget.first_day, budget.last_day)
                money = costing.money_in(days, today, task)
            spent, expected = money.spent, money.expected
            if spent > budget.amount or expected > budget.amount:
                amount = spent if spent > budget.amount else expected
                found.append(OverBudget(costing.project, task, days, budget.amount, amount, spent > budget.amount))
    return sorted(found, key=lambda o: (o.days is not None, o.days or (0, 0), o.task or ""))


def over_now(schedule: Schedule, today: int) -> list[OverBudget]:
    """The same of every project that has a budget; nothing is worked out where none has."""
    plan = schedule.plan
    projects = [p.id for p in plan.projects_in_order() if any(b.project == p.id for b in plan.budgets.values())]
    if not projects:
        return []
    efforts, ledger = Efforts.of(schedule), Ledger.of(plan)
    return [over for p in projects for over in over_budgets(Costing.of(efforts, ledger, p, today), today)]
