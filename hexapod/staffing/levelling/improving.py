"""Looking for better lists as long as one may: on the grid by crossing or by moving tasks on critical blocks, with
constraint programming beside it."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np

from hexapod.schedule.codes import NEVER
from hexapod.staffing.levelling import exact
from hexapod.staffing.levelling.bound import Bound, by_search
from hexapod.staffing.levelling.grid import Grid, Gridded, Wanted, gridded
from hexapod.staffing.levelling.placing import Ground, urgency_of
from hexapod.staffing.levelling.scheme import FAR, WEIGHT, forward, listed, room_for
from hexapod.staffing.levelling.search import POPULATION, Population, begin, evolve
from hexapod.staffing.levelling.shop import Shop, is_shop, open_shop, rearrange
from hexapod.worktime.calendars import Ints

ROOM = 1.05  # of the first answer's length: how far the grid reaches
PAUSE = 0.25  # seconds of searching between two looks at the clock
SOLVED_FROM = 2.0  # seconds for which the solver is worth being loaded
FIRST_STEPS, FIRST_NODES = 200, 24_000  # of a first answer that need not wait
SLOTS_AT_ONCE = 3_000  # up to which there is time for them
LARGE = 3_000  # nodes beyond which the population is small
POLISHED_EVERY = 0.5  # seconds at least between two answers that are placed to the minute


@dataclass(frozen=True)
class Effort:
    """So many seconds, or so many steps, whatever time they take; neither: a few steps where there is time for them at
    once. ``is_stopped`` ends them all."""

    seconds: float
    steps: int | None
    seed: int
    is_stopped: Callable[[], bool] | None = None

    @property
    def is_any(self) -> bool:
        """Whether more is wanted than the answer that is there at once."""
        return self.seconds > 0 or self.steps is not None

    def most_steps(self, nodes: int) -> int | None:
        """Where they are counted; at first the more, the fewer tasks there are."""
        return self.steps if self.is_any else max(FIRST_STEPS, FIRST_NODES // max(1, nodes))


class Improver:
    """``run`` yields priorities by slot that are worth being placed; ``bound`` and ``made`` tell what is known then."""

    def __init__(
        self,
        ground: Ground,
        wishes: list[list[tuple[float, ...]]],
        finish: int,
        bound: Bound | None,
        least: list[int],
        effort: Effort,
    ) -> None:
        """``finish`` is that of the first answer, ``least`` how early each project could end at best."""
        self.bound = bound
        self.made = 0
        self._effort = effort
        self._until = time.monotonic() + effort.seconds
        self._within = ground.within_float
        self._size = ground.network.size
        self._most_steps = effort.most_steps(len(ground.network.structure.order))
        self._gridded = _grid_of(ground, finish)
        grid = self._gridded.grid
        self._grid: Grid = grid
        self._level = room_for(grid)
        self._is_single = len(least) == 1
        self._enough = self._slots_of([bound.at] if bound is not None and self._is_single else least)
        self._wishes = [self._on_grid(wish) for wish in wishes]
        self._solver: exact.Solver | None = None

    def run(self) -> Iterator[list[tuple[float, ...]]]:
        """Better and better lists; the last one comes when time is up, it is stopped, or nothing better can be."""
        if not len(self._grid.ask_resource) or (not self._effort.is_any and self._grid.slots > SLOTS_AT_ONCE):
            return
        size = POPULATION if len(self._grid.kind) <= LARGE else 6
        population = begin(self._grid, self._wishes, self._level, self._within, self._effort.seed, size)
        if population.best[0] >= FAR:
            return
        shop = None
        if not self._within and is_shop(self._grid):
            start, _ = self._dates(population.best_order)
            shop = open_shop(self._grid, start, self._effort.seed)
        yield self._priority(population.best_order)
        try:
            yield from self._search(population, shop)
        finally:
            if self._solver is not None:
                self._solver.stop()

    def _search(self, population: Population, shop: Shop | None) -> Iterator[list[tuple[float, ...]]]:
        best = (int(population.best[0]), int(population.best[1]))
        told, chunk, waits = time.monotonic(), 20, False
        most = self._most_steps
        self._ask_solver(population)
        while not self._is_over(best):
            began = time.monotonic()
            many = chunk if most is None else min(chunk, most - self.made)
            if shop is not None:
                rearrange(self._grid, shop, 50 * many, self._enough)
                self._take(population, shop.best_start)
            else:
                evolve(self._grid, population, self._level, many, self._within, self._enough)
            self.made += many
            self._hear_solver(population)
            took = time.monotonic() - began
            if most is None:
                chunk = max(1, min(5000, round(chunk * min(2.0, PAUSE / max(took, 1e-4)))))
            found = (int(population.best[0]), int(population.best[1]))
            waits = waits or found < best
            best = min(best, found)
            if waits and time.monotonic() - told >= POLISHED_EVERY and most is None:
                told, waits = time.monotonic(), False
                yield self._priority(population.best_order)
        if waits:
            yield self._priority(population.best_order)

    def _is_over(self, best: tuple[int, int]) -> bool:
        effort = self._effort
        if effort.is_stopped is not None and effort.is_stopped():
            return True
        if best[0] == 0 and (self._within or best[1] // WEIGHT <= self._enough):
            return True
        most = self._most_steps
        return self.made >= most if most is not None else time.monotonic() >= self._until

    # The solver

    def _ask_solver(self, population: Population) -> None:
        left = self._until - time.monotonic()
        if self._within or self._most_steps is not None or left < SOLVED_FROM or not exact.is_fit(self._grid):
            return
        if int(population.best[1]) // WEIGHT > self._enough:
            start, _ = self._dates(population.best_order)
            self._solver = exact.Solver(self._grid, start, left)

    def _hear_solver(self, population: Population) -> None:
        if self._solver is None:
            return
        answer = self._solver.answer
        if answer.bound > self._enough and self._gridded.is_exact:
            self._enough = answer.bound
            if self._is_single:
                self.bound = by_search(self._gridded.minute(answer.bound), self.bound)
        if answer.starts is not None and answer.finish is not None and answer.finish < population.best[1] // WEIGHT:
            self._take(population, answer.starts)

    def _take(self, population: Population, start: Ints) -> None:
        """Somebody else's dates among the population, where they are better than its best."""
        order = np.empty(len(start), dtype=np.int64)
        listed(self._grid, start, order)
        own, finish = np.empty(len(start), dtype=np.int64), np.empty(len(start), dtype=np.int64)
        excess, cost = forward(self._grid, order, self._level, own, finish, self._within)
        if (excess, cost) < (int(population.best[0]), int(population.best[1])):
            population.best[:] = excess, cost
            population.best_order[:], population.best_start[:] = order, own
            population.orders[0] = order
            population.excess[0], population.costs[0] = excess, cost

    # Between the grid and the network

    def _dates(self, order: Ints) -> tuple[Ints, Ints]:
        start, finish = np.empty(len(order), dtype=np.int64), np.empty(len(order), dtype=np.int64)
        forward(self._grid, order, self._level, start, finish, self._within)
        return start, finish

    def _priority(self, order: Ints) -> list[tuple[float, ...]]:
        """By slot of the network, its place in a list of the grid's nodes."""
        place = np.full(2 * self._size, float(len(order)))
        place[self._gridded.nodes[order]] = np.arange(len(order))
        return [(p,) for p in place[: self._size].tolist()]

    def _on_grid(self, wish: list[tuple[float, ...]]) -> Ints:
        """A rule's values by node, in slots; nodes without work of their own come when they can."""
        nodes, n = self._gridded.nodes, self._size
        values = np.array([row[1] for row in wish])
        found = np.where(nodes < n, values[np.minimum(nodes, n - 1)], NEVER)
        known = found > NEVER
        low = found[known].min() if known.any() else 0
        return np.where(known, (found - low) // max(1, self._gridded.step), 0).astype(np.int64)

    def _slots_of(self, finishes: list[int]) -> int:
        """The sum of these finishes as slots; 0 where the grid is too coarse to tell."""
        return sum(map(self._gridded.slot, finishes)) if self._gridded.is_exact else 0


def _grid_of(ground: Ground, finish: int) -> Gridded:
    network = ground.network
    leaves = np.flatnonzero(network.structure.leaf)
    begin = int(network.tasks.base[leaves].min()) if len(leaves) else 0
    wanted = Wanted(
        ground.movable,
        ground.asks,
        urgency_of(ground),
        ground.rank,
        ground.lags,
        ground.lag_calendars,
        ground.late_start if ground.within_float else None,
        ground.capacity,
    )
    return gridded(network, wanted, begin + round((finish - begin) * ROOM) + 1)
