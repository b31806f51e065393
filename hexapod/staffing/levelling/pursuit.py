"""Looking for better lists on a grid as long as one may: by crossing lists, or by moving tasks on critical blocks, with
constraint programming beside it. Knows neither plan nor network, so that it can be done in another process."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from hexapod.staffing.levelling import exact
from hexapod.staffing.levelling.grid import Grid
from hexapod.staffing.levelling.scheme import FAR, WEIGHT, forward, listed
from hexapod.staffing.levelling.search import POPULATION, Population, begin, evolve
from hexapod.staffing.levelling.shop import Shop, is_shop, open_shop, rearrange
from hexapod.worktime.calendars import Ints

PAUSE = 0.25  # seconds of searching between two looks at the clock
SOLVED_FROM = 2.0  # seconds for which the solver is worth being loaded
LARGE = 3_000  # nodes beyond which the population is small
POLISHED_EVERY = 0.5  # seconds at least between two answers that are placed to the minute
POLISHED_STEPS = 1000  # the same where steps are counted


class SearchGoal(NamedTuple):
    """What is looked for. ``wishes`` has a row of slots for each priority rule; with a sum of finishes of ``enough``
    slots there can be nothing better; ``is_exact`` says whether the grid tells finishes as they are."""

    grid: Grid
    wishes: Ints
    level: Ints
    within: bool
    enough: int
    is_exact: bool


class BetterList(NamedTuple):
    """A list of nodes, how many were made until then, and below which sum of finishes in slots there is none."""

    order: Ints
    made: int
    proven: int


@dataclass(frozen=True)
class Limits:
    """``seconds``, or ``steps`` whatever time they take; ``is_stopped`` ends both."""

    seconds: float
    steps: int | None
    seed: int
    is_stopped: Callable[[], bool] | None = None


def look(sought: SearchGoal, limits: Limits) -> Iterator[BetterList]:
    """Better and better lists; the last one comes when time is up, it is stopped, or nothing better can be."""
    grid = sought.grid
    size = POPULATION if len(grid.kind) <= LARGE else 6
    hunt = _Hunt(sought, limits)
    population = begin(grid, list(sought.wishes), sought.level, sought.within, limits.seed, size)
    if population.best[0] >= FAR:
        return
    shop = None
    if not sought.within and is_shop(grid):
        start, _ = hunt.dates(population.best_order)
        shop = open_shop(grid, start, limits.seed)
    yield hunt.found(population)
    try:
        yield from hunt.run(population, shop)
    finally:
        hunt.end()


class _Hunt:
    def __init__(self, sought: SearchGoal, limits: Limits) -> None:
        self._sought, self._grid, self._limits = sought, sought.grid, limits
        self._enough = sought.enough
        self._until = time.monotonic() + limits.seconds
        self._made = 0
        self._solver: exact.Solver | None = None

    def found(self, population: Population) -> BetterList:
        return BetterList(population.best_order.copy(), self._made, self._enough)

    def run(self, population: Population, shop: Shop | None) -> Iterator[BetterList]:
        best = (int(population.best[0]), int(population.best[1]))
        told, told_at, chunk, waits = time.monotonic(), self._made, 20, False
        most = self._limits.steps
        self._ask_solver(population)
        while not self._is_over(best):
            began = time.monotonic()
            many = chunk if most is None else min(chunk, most - self._made)
            if shop is not None:
                rearrange(self._grid, shop, 50 * many, self._enough)
                self._take(population, shop.best_start)
            else:
                evolve(self._grid, population, self._sought.level, many, self._sought.within, self._enough)
            self._made += many
            self._hear_solver(population)
            took = time.monotonic() - began
            if most is None:
                chunk = max(1, min(5000, round(chunk * min(2.0, PAUSE / max(took, 1e-4)))))
            reached = (int(population.best[0]), int(population.best[1]))
            waits = waits or reached < best
            best = min(best, reached)
            is_due = (
                time.monotonic() - told >= POLISHED_EVERY if most is None else self._made - told_at >= POLISHED_STEPS
            )
            if waits and is_due:
                told, told_at, waits = time.monotonic(), self._made, False
                yield self.found(population)
        yield self.found(population)  # also where it is no better: how many were made, and what is proven

    def end(self) -> None:
        if self._solver is not None:
            self._solver.stop()

    def _is_over(self, best: tuple[int, int]) -> bool:
        limits = self._limits
        if limits.is_stopped is not None and limits.is_stopped():
            return True
        if best[0] == 0 and (self._sought.within or best[1] // WEIGHT <= self._enough):
            return True
        return self._made >= limits.steps if limits.steps is not None else time.monotonic() >= self._until

    # The solver

    def _ask_solver(self, population: Population) -> None:
        left = self._until - time.monotonic()
        is_timed = self._limits.steps is None and left >= SOLVED_FROM
        if self._sought.within or not is_timed or not exact.is_there() or not exact.is_fit(self._grid):
            return
        if int(population.best[1]) // WEIGHT > self._enough:
            start, _ = self.dates(population.best_order)
            self._solver = exact.Solver(self._grid, start, left)

    def _hear_solver(self, population: Population) -> None:
        if self._solver is None:
            return
        answer = self._solver.answer
        if self._sought.is_exact:
            self._enough = max(self._enough, answer.bound)
        if answer.starts is not None and answer.finish is not None and answer.finish < population.best[1] // WEIGHT:
            self._take(population, answer.starts)

    def _take(self, population: Population, start: Ints) -> None:
        """Somebody else's dates among the population, where they are better than its best."""
        order = np.empty(len(start), dtype=np.int64)
        listed(self._grid, start, order)
        own, finish = np.empty(len(start), dtype=np.int64), np.empty(len(start), dtype=np.int64)
        excess, cost = forward(self._grid, order, self._sought.level, own, finish, self._sought.within)
        if (excess, cost) < (int(population.best[0]), int(population.best[1])):
            population.best[:] = excess, cost
            population.best_order[:], population.best_start[:] = order, own
            population.orders[0] = order
            population.excess[0], population.costs[0] = excess, cost

    def dates(self, order: Ints) -> tuple[Ints, Ints]:
        start, finish = np.empty(len(order), dtype=np.int64), np.empty(len(order), dtype=np.int64)
        forward(self._grid, order, self._sought.level, start, finish, self._sought.within)
        return start, finish
