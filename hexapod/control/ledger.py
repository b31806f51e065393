"""All logs of a plan as columns, so that they are added up in no time; brought up to date from what an edit changed."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from operator import attrgetter
from typing import Any

import numpy as np
from immutables import Map
from numpy.typing import NDArray

from hexapod.plan.accounts import Log, SheetState
from hexapod.plan.changes import Changes
from hexapod.plan.plan import Plan
from hexapod.plan.records import Resource
from hexapod.worktime.calendars import Ints

HOUR = 60


@dataclass(frozen=True)
class Ledger:
    """A row a log. ``task`` and ``who`` are places in ``tasks`` and ``people``; ``cost`` is in the smallest unit of
    money, at the rate of its day; ``back`` says that its sheet was sent back, so that it does not count as spent.

    A log that was taken out leaves a row without minutes and cost.
    """

    plan: Plan
    tasks: tuple[str, ...]
    people: tuple[str, ...]
    row_of: Map[str, int]
    task: Ints
    who: Ints
    day: Ints
    minutes: Ints
    cost: Ints
    back: NDArray[np.bool_]

    @staticmethod
    def of(plan: Plan) -> Ledger:
        """The columns of all logs."""
        logs = list(plan.logs.values())
        tasks = tuple(dict.fromkeys(map(attrgetter("task"), logs)))
        people = tuple(dict.fromkeys(map(attrgetter("resource"), logs)))
        task = _places(map(attrgetter("task"), logs), tasks)
        who = _places(map(attrgetter("resource"), logs), people)
        day, minutes = (np.array([*map(attrgetter(name), logs)], dtype=np.int64) for name in ("day", "minutes"))
        rates = rates_on([plan.resources[r] for r in people], who, day)
        row_of = Map(zip(plan.logs, range(len(logs)), strict=True))
        cost = cost_of(minutes, rates)
        return Ledger(plan, tasks, people, row_of, task, who, day, minutes, cost, _sent_back(plan, people, who, day))

    def after(self, plan: Plan, changes: Changes | None) -> Ledger:
        """The ledger of a plan that an edit made of this one's; from scratch where the edit is not known."""
        if plan is self.plan:
            return self
        if plan.logs is self.plan.logs and plan.sheets is self.plan.sheets and plan.resources is self.plan.resources:
            return replace(self, plan=plan)
        if changes is None or plan.resources is not self.plan.resources or len(changes.logs) > len(self.day) // 4 + 100:
            return Ledger.of(plan)
        found = self._with(plan, [log.id for log, new in changes.logs if log is not None and new is None],
                           [new for _, new in changes.logs if new is not None])  # fmt: skip
        return replace(found, back=_sent_back(plan, found.people, found.who, found.day)) if changes.sheets else found

    def _with(self, plan: Plan, gone: Iterable[str], came: Sequence[Log]) -> Ledger:
        tasks = (*self.tasks, *dict.fromkeys(x.task for x in came if x.task not in self.tasks))
        more = tuple(dict.fromkeys(x.resource for x in came if x.resource not in self.people))
        people = (*self.people, *more) if more else self.people
        row_of = self.row_of.mutate()
        for log in came:
            if log.id not in row_of:
                row_of[log.id] = len(row_of)
        size = len(row_of)
        columns = {name: _grown(getattr(self, name), size) for name in ("task", "who", "day", "minutes", "cost")}
        rows = np.array([row_of[log.id] for log in came], dtype=np.int64)
        columns["task"][rows] = [tasks.index(log.task) for log in came]
        columns["who"][rows] = who = np.array([people.index(log.resource) for log in came], dtype=np.int64)
        columns["day"][rows] = day = np.array([log.day for log in came], dtype=np.int64)
        columns["minutes"][rows] = minutes = np.array([log.minutes for log in came], dtype=np.int64)
        columns["cost"][rows] = cost_of(minutes, rates_on([plan.resources[r] for r in people], who, day))
        for log_id in gone:
            columns["minutes"][row_of[log_id]] = columns["cost"][row_of[log_id]] = 0
        back = _grown(self.back, size)
        back[rows] = [not plan.counts(log) for log in came]
        return Ledger(plan, tasks, people, row_of.finish(), back=back, **columns)

    def counting(self, until: int | None = None) -> NDArray[np.bool_]:
        """The rows that count as spent, up to and with a day: not those whose sheet was sent back."""
        return ~self.back if until is None else ~self.back & (self.day <= until)

    def of_tasks(self, wanted: Callable[[str], bool]) -> NDArray[np.bool_]:
        """The rows that count as spent, of some tasks."""
        among = np.array([wanted(task) for task in self.tasks], dtype=bool)
        return ~self.back & among[self.task] if len(self.tasks) else ~self.back

    def of_project(self, project: str, inside: Collection[str] | None = None) -> NDArray[np.bool_]:
        """The rows that count as spent, of a project, or of those of its tasks that are ``inside``."""
        tasks = self.plan.tasks
        return self.of_tasks(lambda t: t in tasks and tasks[t].project == project and (inside is None or t in inside))

    def by_task(self, keep: NDArray[np.bool_], what: Ints) -> dict[str, int]:
        """The sum of a column over some rows, by task."""
        total = summed(self.task[keep], what[keep], len(self.tasks))
        return {t: n for t, n in zip(self.tasks, total.tolist(), strict=True) if n}

    def by_person(self, keep: NDArray[np.bool_], what: Ints) -> dict[str, int]:
        """The same by person."""
        total = summed(self.who[keep], what[keep], len(self.people))
        return {r: n for r, n in zip(self.people, total.tolist(), strict=True) if n}


def summed(places: Ints, what: Ints, size: int) -> Ints:
    """Whole numbers added up by place."""
    total = np.zeros(size, dtype=what.dtype)
    np.add.at(total, places, what)
    return total


def rate_on(resource: Resource, day: int) -> int:
    """What an hour of a resource costs on a day."""
    return next((rate for first, rate in reversed(resource.rate_from) if first <= day), resource.rate)


def rates_on(resources: Sequence[Resource], who: Ints, day: Ints) -> Ints:
    """The same of many: ``who`` are places among the resources."""
    found: Ints = np.array([r.rate for r in resources], dtype=np.int64)[who] if len(who) else np.zeros(0, np.int64)
    for i, resource in enumerate(resources):
        for first, rate in resource.rate_from:
            found[(who == i) & (day >= first)] = rate
    return found


def cost_of(minutes: Ints, rates: Ints) -> Ints:
    """Hours x rate of each log, rounded half up to the smallest unit."""
    found: Ints = (2 * minutes * rates + HOUR) // (2 * HOUR)
    return found


def _places(names: Iterable[str], known: Sequence[str]) -> Ints:
    place: Mapping[str, int] = {name: i for i, name in enumerate(known)}
    return np.array([*map(place.__getitem__, names)], dtype=np.int64)


def _grown(column: NDArray[Any], size: int) -> NDArray[Any]:
    """A copy with room for more rows at its end."""
    found = np.empty(size, dtype=column.dtype)
    found[: len(column)] = column
    return found


def _sent_back(plan: Plan, people: Sequence[str], who: Ints, day: Ints) -> NDArray[np.bool_]:
    """Whether the sheet of each log was sent back: that of its person and of the Monday before its day."""
    place: Mapping[str, int] = {name: i for i, name in enumerate(people)}
    sheets = [x for x in plan.sheets.values() if x.state is SheetState.SENT_BACK and x.resource in place]
    back = np.array([x.week * len(people) + place[x.resource] for x in sheets], dtype=np.int64)
    found: NDArray[np.bool_] = np.isin((day - (day + 3) % 7) * len(people) + who, back)
    return found
