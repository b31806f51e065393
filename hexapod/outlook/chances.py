"""What many rounds say: quantiles, chances, what drives the finish, and how sure the figures themselves are.

A quantile is a finish that occurred. Sources: Van Slyke (1963) for criticality; Spearman's rank correlation for
cruciality; the standard error of a share is that of a binomial one, that of a quantile by Maritz and Jarrett (1978).
"""

from __future__ import annotations

import os
from collections.abc import Callable, Collection
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from hexapod.outlook.simulation import Simulated, simulate
from hexapod.schedule.codes import NEVER
from hexapod.worktime.arithmetic import worked, worked_at
from hexapod.worktime.calendars import Ints


def quantile_at(part: float, rounds: int) -> int:
    """Where, among so many sorted finishes, the least lies that such a part of them does not pass."""
    return min(rounds - 1, max(0, int(np.ceil(part * rounds - 1e-9)) - 1))


@dataclass(frozen=True, eq=False)
class Chances:
    """The finish of a project, or of a task, in all rounds that are known of it, sorted."""

    finishes: Ints

    @property
    def rounds(self) -> int:
        return len(self.finishes)

    def quantile(self, part: float) -> int:
        """The finish that such a part of the rounds does not pass: 0.8 is what 8 in 10 hold."""
        return int(self.finishes[quantile_at(part, self.rounds)])

    def chance_by(self, moment: int) -> float:
        """In what part of the rounds it ends by a moment."""
        return float(np.searchsorted(self.finishes, moment, side="right")) / self.rounds

    def error_of_chance(self, chance: float) -> float:
        """The standard error of a chance."""
        return float(np.sqrt(chance * (1 - chance) / self.rounds))

    def error_of_quantile(self, part: float) -> float:
        """The standard error of a quantile, in minutes of the clock: half of what lies between the finishes one
        standard error of the share below and above it."""
        by = self.error_of_chance(part)
        return (self.quantile(min(1.0, part + by)) - self.quantile(max(0.0, part - by))) / 2


@dataclass(frozen=True, eq=False)
class Outlook:
    """What the rounds say of each project and task."""

    found: Simulated

    def of_project(self, project: str) -> Chances | None:
        """None of one without tasks."""
        network = self.found.network
        row = self.found.projects[network.projects.index(project)] if project in network.projects else np.zeros(0)
        return None if not len(row) or row[0] == NEVER else self._sorted_projects[network.projects.index(project)]

    @cached_property
    def _sorted_projects(self) -> list[Chances]:
        return [Chances(np.sort(row)) for row in self.found.projects]

    def of_task(self, task: str) -> Chances | None:
        """None of one that the rounds do not know."""
        slot = self.found.schedule.slots.get(task)
        if slot is None or self.found.finish[slot, 0] < 0:
            return None
        return Chances(np.sort(self.found.finish[slot]).astype(np.int64) + self.found.begin)

    def quantiles(self, parts: Collection[float]) -> list[Ints]:
        """By task slot the finish at each of some parts of the rounds; what is not in use is before all time."""
        finish = self.found.finish
        at = [quantile_at(part, finish.shape[1]) for part in parts]
        with ThreadPoolExecutor(os.cpu_count()) as pool:
            pieces = pool.map(lambda rows: np.partition(rows, at, axis=1), np.array_split(finish, os.cpu_count() or 1))
        ordered = np.concatenate([piece[:, at] for piece in pieces])
        return [np.where(finish[:, 0] < 0, NEVER, each.astype(np.int64) + self.found.begin) for each in ordered.T]

    def criticality(self, task: str) -> float:
        """In what part of the rounds a task had no float left."""
        return float(self.found.critical[self.found.schedule.slots[task]]) / self.found.rounds

    def mean_of_project(self, project: str) -> int | None:
        """The mean finish, in working time of the project: the mean of the minutes worked until then."""
        from hexapod.worktime.arithmetic import finish_side

        known = self.of_project(project)
        if known is None:
            return None
        pool, calendar = self.found.network.timing.pool, self.calendar_of(project)
        return int(finish_side(pool, calendar, round(worked_at(pool, calendar, known.finishes).mean())))

    def calendar_of(self, project: str) -> int:
        """The project's calendar in the pool of the network."""
        network = self.found.network
        return network.timing.index[(network.plan.projects[project].calendar,)]

    def work_between(self, project: str, first: int, second: int) -> int:
        """Working minutes of a project from one moment to another."""
        pool, calendar = self.found.network.timing.pool, self.calendar_of(project)
        return int(worked(pool, calendar, second) - worked(pool, calendar, first))

    def crucialities(self, project: str) -> dict[str, float]:
        """By task how the ranks of its length and of the project's finish go together, -1 to 1 (Spearman); only of
        those whose length differs from round to round."""
        found, plan = self.found, self.found.schedule.plan
        kept = found.lengths.shape[1]
        finish = _ranks(found.projects[found.network.projects.index(project)][:kept])
        spread = finish - finish.mean()
        size = float(np.sqrt((spread**2).sum()))
        result = {}
        for task, lengths in zip(found.varied, found.lengths, strict=True):
            if plan.tasks[task].project == project and lengths.min() < lengths.max():
                own = _ranks(lengths)
                own -= own.mean()
                both = size * float(np.sqrt((own**2).sum()))
                result[task] = float((own * spread).sum()) / both if both else 0.0
        return result


def _ranks(values: NDArray[np.int64]) -> NDArray[np.float64]:
    """Ranks from 1; what is equal shares the mean of its ranks."""
    order = np.argsort(values, kind="stable")
    ordered = values[order]
    firsts = np.flatnonzero(np.concatenate(([True], ordered[1:] != ordered[:-1])))
    counts = np.diff(np.concatenate((firsts, [len(values)])))
    ranks = np.empty(len(values))
    ranks[order] = np.repeat(firsts + (counts + 1) / 2, counts)
    return ranks


@dataclass(frozen=True)
class Added:
    """What one of the things that may come adds to the finish of a project, in minutes of its work: on average, and to
    the date that 8 in 10 hold. ``happened`` is in what part of the rounds it did."""

    happened: float
    mean: int
    sure: int


def added_by(
    outlook: Outlook,
    project: str,
    *,
    risk: str = "",
    task: str = "",
    part: float = 0.8,
    after: bool = False,
    is_stopped: Callable[[], bool] = lambda: False,
) -> Added:
    """What a risk adds by happening, or a task by not being certain: with and without it, the same random numbers."""
    found = outlook.found
    other = Outlook(
        simulate(
            found.schedule, found.rounds, found.seed, after=after, with_floats=False,
            certain=(task,) if task else (), without=(risk,) if risk else (), is_stopped=is_stopped,
        )
    )  # fmt: skip
    with_it, without = outlook.of_project(project), other.of_project(project)
    if with_it is None or without is None:
        return Added(0.0, 0, 0)
    pool, calendar = found.network.timing.pool, outlook.calendar_of(project)
    pool_then, calendar_then = other.found.network.timing.pool, other.calendar_of(project)
    begin = found.schedule.plan.projects[project].start
    mean = worked_at(pool, calendar, with_it.finishes).mean() - worked(pool, calendar, begin)
    mean_without = worked_at(pool_then, calendar_then, without.finishes).mean() - worked(
        pool_then, calendar_then, begin
    )
    happened = float(found.happened[found.risks.index(risk)].mean()) if risk in found.risks else 0.0
    sure = outlook.work_between(project, without.quantile(part), with_it.quantile(part))
    return Added(happened, round(mean - mean_without), sure)
