"""How much work and money tasks are planned to take, in all and for what is left of them. Sums are exact.

By slot of the schedule; summaries hold nothing of their own here, ``gathered`` adds up what is below them.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from hexapod.control.ledger import HOUR, summed
from hexapod.plan.records import DAY
from hexapod.schedule.codes import FOREVER, NEVER
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.capacity import PARTS
from hexapod.staffing.demand import Demand, Runs
from hexapod.worktime.calendars import Ints


@dataclass(frozen=True)
class Efforts:
    """What the assignments of all leaves make. ``rows`` are entries of the demand, each a resource's own on a leaf."""

    schedule: Schedule
    demand: Demand
    rows: Ints

    @staticmethod
    def of(schedule: Schedule, demand: Demand | None = None) -> Efforts:
        """``demand`` is used again where it is still that of the plan."""
        found = Demand.of(schedule, schedule.plan, demand)
        is_leaf = schedule.network.structure.leaf[found.task] == 1
        return Efforts(schedule, found, np.flatnonzero(is_leaf & (found.own == 1)))

    @cached_property
    def whole_parts(self) -> Ints:
        """Millionths of minutes of each row, as if nothing of it were done."""
        from hexapod.worktime.arithmetic import worked

        demand, rows, schedule = self.demand, self.rows, self.schedule
        task, total = demand.task[rows], demand.total[rows]
        found: Ints = np.where(total > 0, total * PARTS, demand.units[rows] * schedule.network.tasks.duration[task])
        bounded = (demand.begin[rows] > NEVER) | (demand.end[rows] < FOREVER)
        bounded |= schedule.network.tasks.span[task] == 1  # as long as what it stretches between
        pool = schedule.network.timing.pool
        for i in np.flatnonzero(bounded & (total == 0)).tolist():
            calendar = int(schedule.network.tasks.calendar[task[i]])
            start = max(int(schedule.start[task[i]]), int(demand.begin[rows[i]]))
            finish = min(int(schedule.finish[task[i]]), int(demand.end[rows[i]]))
            time = worked(pool, calendar, finish) - worked(pool, calendar, start) if start < finish else 0
            found[i] = int(demand.units[rows[i]]) * int(time)
        return found

    @cached_property
    def runs(self) -> Runs:
        """When the work that is left is done; ``row`` counts in ``rows``."""
        return self.demand.runs(self.schedule, self.rows)

    @cached_property
    def left_parts(self) -> Ints:
        """Millionths of minutes of what is left of each row."""
        time = worked_in(self.schedule, self.runs, self.runs.start, self.runs.finish)
        return summed(self.runs.row, time * self.runs.units, len(self.rows))

    @cached_property
    def whole(self) -> Ints:
        """Minutes of work of each slot in all: as said, else what its assignments make."""
        schedule = self.schedule
        made = halved_up(summed(self.demand.task[self.rows], self.whole_parts, schedule.network.size), PARTS)
        said = schedule.network.tasks.effort
        is_leaf = schedule.network.structure.leaf[: schedule.network.size] == 1
        found: Ints = np.where(is_leaf, np.where(self._said, said, made), 0)
        return found

    @cached_property
    def _said(self) -> Ints:
        """Where somebody said the effort."""
        plan, slots = self.schedule.plan, self.schedule.slots
        found = np.zeros(self.schedule.network.size, dtype=bool)
        found[[slots[t.id] for t in plan.tasks.values() if t.effort is not None]] = True
        return found

    @cached_property
    def left(self) -> Ints:
        """Minutes of work of the rest of each slot: its assignments over what is left of it."""
        schedule = self.schedule
        network = schedule.network
        made = halved_up(summed(self.demand.task[self.rows], self.left_parts, network.size), PARTS)
        has_rows = np.zeros(network.size, dtype=bool)
        has_rows[self.demand.task[self.rows]] = True
        duration, rest = network.tasks.duration, network.tasks.rest
        part = np.where(duration > 0, np.minimum(rest, duration), 0)
        alone = halved_up(self.whole * part, np.maximum(duration, 1))
        found: Ints = np.where(has_rows, made, alone)
        return found

    @cached_property
    def cost(self) -> Ints:
        """The planned cost of the work of each slot in all: what its assignments make at the rates of their days."""
        behind = self.whole_parts - self.left_parts  # what was done costs the usual rate
        money = self._cost_left + safe(behind, self._usual_rates) * self._usual_rates
        return halved_up(summed(self.demand.task[self.rows], money, self.schedule.network.size), PARTS * HOUR)

    @cached_property
    def _usual_rates(self) -> Ints:
        plan = self.schedule.plan
        rates = np.array([plan.resources[r].rate for r in self.demand.resources], dtype=np.int64)
        return rates[self.demand.who[self.rows]]

    @cached_property
    def _cost_left(self) -> Ints:
        """Money x millionths of minutes of what is left of each row; a rate that changes counts from its day on."""
        plan, runs = self.schedule.plan, self.runs
        dearest = np.array([r for each in plan.resources.values() for _, r in each.rate_from] or [0])
        found: Ints = safe(self.left_parts, np.concatenate((self._usual_rates, dearest))) * self._usual_rates
        who = self.demand.who[self.rows][runs.row]
        for i, resource in enumerate(plan.resources[r] for r in self.demand.resources):
            before = resource.rate
            for first, rate in resource.rate_from:
                mine = np.flatnonzero((who == i) & (runs.finish > first * DAY))
                some = Runs(
                    *(column[mine] for column in (runs.row, runs.calendar, runs.start, runs.finish, runs.units))
                )
                time = worked_in(self.schedule, some, np.maximum(some.start, first * DAY), some.finish)
                np.add.at(found, some.row, time * some.units * (rate - before))
                before = rate
        return found


def worked_in(schedule: Schedule, runs: Runs, start: Ints, finish: Ints) -> Ints:
    """Working minutes of each run between moments of its own."""
    from hexapod.schedule.passes import working_minutes_between

    found: Ints = working_minutes_between(schedule.network.timing.pool, runs.calendar, start, np.maximum(start, finish))
    return found


def safe(what: Ints, by: Ints) -> Ints:
    """The same numbers, as Python's own where a product of these with others could leave 64 bits."""
    most = int(np.abs(what).sum()) * int(np.abs(by).max(initial=1))
    return what if most < 2**61 else what.astype(object)


def halved_up(what: Ints, by: Ints | int) -> Ints:
    """Divided and rounded half up, in whole numbers."""
    found: Ints = (2 * what + by) // (2 * by)
    return found


def gathered(schedule: Schedule, what: Ints) -> Ints:
    """By slot what is there and below it."""
    total, network = what.copy(), schedule.network
    parent = network.tasks.parent
    for slot in network.structure.bottom_up.tolist():
        if parent[slot] >= 0:
            total[parent[slot]] += total[slot]
    return total
