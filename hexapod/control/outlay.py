"""What all projects will have cost, in all and by month, worked out for all of them at once.

The same figures as those of a project's own table (``money.Costing``): what is logged, what is left of the work at the
rates of its days, and entries of money; amounts that are spread are shared out by cumulative rounding.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from hexapod.control.efforts import Efforts
from hexapod.control.ledger import Ledger, rate_on
from hexapod.control.money import halved_up_money
from hexapod.control.spreading import between
from hexapod.plan.accounts import EntryKind
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.load import add_all


@dataclass(frozen=True)
class Outlay:
    """By month what a project will have cost; ``budget`` is None where none was set."""

    by_month: tuple[int, ...]
    budget: int | None

    @property
    def whole(self) -> int:
        return sum(self.by_month)


def outlays(schedule: Schedule, efforts: Efforts, months: Sequence[int], today: int) -> dict[str, Outlay]:
    """By project, over the months that begin on some days, the last of which ends the one before it. What lies before
    the first month or behind the last counts with them. ``today`` is a day."""
    plan = schedule.plan
    projects = list(schedule.network.projects)
    total = _left(schedule, efforts, months, len(projects))
    place = {p: i for i, p in enumerate(projects)}
    _add_logs(plan, total, months, place)
    _add_entries(plan, total, months, place, today)
    budgets = budgets_of(plan, "amount")
    return {p: Outlay(tuple(int(x) for x in total[i]), budgets.get(p)) for p, i in place.items()}


def _left(schedule: Schedule, efforts: Efforts, months: Sequence[int], count: int) -> list[list[int]]:
    """What the rest of the work costs, by project and month."""
    demand, runs = efforts.demand, efforts.runs
    total = [[0] * (len(months) - 1) for _ in range(count)]
    if not len(runs.row):
        return total
    project = schedule.network.tasks.project[demand.task[efforts.rows]]
    pairs, pair_of = np.unique(project * len(demand.resources) + demand.who[efforts.rows], return_inverse=True)
    pieces = _pieces(schedule.plan, months, int(runs.start.min()), int(runs.finish.max()))
    parts = np.zeros((len(pairs), len(pieces) - 1), dtype=np.int64)
    row = pair_of[runs.row]
    add_all(schedule.network.timing.pool, runs.calendar, runs.start, runs.finish, runs.units, row, row,
            np.array(pieces, dtype=np.int64) * DAY, parts, np.zeros_like(parts))  # fmt: skip
    money = np.zeros((count, len(pieces) - 1), dtype=object)
    for pair, worked in zip(pairs.tolist(), parts.astype(object), strict=True):
        resource = schedule.plan.resources[demand.resources[pair % len(demand.resources)]]
        money[pair // len(demand.resources)] += worked * [rate_on(resource, day) for day in pieces[:-1]]
    month = np.clip(np.searchsorted(np.array(months), pieces[:-1], side="right") - 1, 0, len(months) - 2).tolist()
    for of_project, sums in zip(total, np.cumsum(money, axis=1), strict=True):
        before = 0
        for m, amount in zip(month, map(halved_up_money, sums), strict=True):
            of_project[m] += amount - before
            before = amount
    return total


def _pieces(plan: Plan, months: Sequence[int], start: int, finish: int) -> list[int]:
    """The days on which a month begins or a rate changes, from before some moment to behind another."""
    first, last = min(months[0], start // DAY), max(months[-1], -(-finish // DAY))
    steps = {day for r in plan.resources.values() for day, _ in r.rate_from if first < day < last}
    return sorted({first, *months, *steps, last})


def _add_logs(plan: Plan, total: list[list[int]], months: Sequence[int], place: dict[str, int]) -> None:
    """What is logged, at the rates of its days; not what was sent back."""
    ledger = Ledger.of(plan)
    month = np.clip(np.searchsorted(np.array(months), ledger.day, side="right") - 1, 0, len(months) - 2)
    keep = ledger.counting()
    logged = zip(ledger.task[keep].tolist(), month[keep].tolist(), ledger.cost[keep].tolist(), strict=True)
    for task, m, cost in logged:
        found = plan.tasks.get(ledger.tasks[task])
        if found is not None:
            total[place[found.project]][m] += cost


def _add_entries(plan: Plan, total: list[list[int]], months: Sequence[int], place: dict[str, int], today: int) -> None:
    """Costs that were entered; of planned ones what is still to come."""
    for entry in plan.entries.values():
        if entry.kind is not EntryKind.COST or entry.project not in place:
            continue
        of_project = total[place[entry.project]]
        begin = max(entry.first_day, today + 1) if entry.planned else entry.first_day
        for m in range(len(of_project)):
            first = begin if m == 0 else max(begin, months[m])
            last = entry.last_day if m == len(of_project) - 1 else min(entry.last_day, months[m + 1] - 1)
            if first <= last:
                of_project[m] += between(entry, first, last)


def budgets_of(plan: Plan, of: str) -> dict[str, int]:
    """The budget of each project as a whole, its ``amount`` or its ``minutes``: that for all time where there is one,
    else those of periods together."""
    for_all: dict[str, int] = {}
    periods: dict[str, int] = {}
    for budget in plan.budgets.values():
        size: int | None = getattr(budget, of)
        if budget.task is None and size is not None:
            sums = for_all if budget.first_day is None else periods
            sums[budget.project] = sums.get(budget.project, 0) + size
    return periods | for_all
