"""Looking for better lists than those of the priority rules: from the network to a grid, and from what is found there
back to priorities by slot."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np

from hexapod.schedule.codes import NEVER
from hexapod.staffing.levelling.bound import Bound, by_search
from hexapod.staffing.levelling.grid import Grid, Gridded, Wanted, gridded
from hexapod.staffing.levelling.placing import Ground, urgency_of
from hexapod.staffing.levelling.pursuit import Limits, SearchGoal, look
from hexapod.staffing.levelling.scheme import room_for
from hexapod.staffing.levelling.worker import look_beside
from hexapod.worktime.calendars import Ints

ROOM = 1.05  # of the first answer's length: how far the grid reaches
FIRST_STEPS, FIRST_NODES = 200, 24_000  # of a first answer that need not wait
SLOTS_AT_ONCE = 3_000  # up to which there is time for them


@dataclass(frozen=True)
class SearchBudget:
    """So many seconds, or so many steps, whatever time they take; neither: a few steps where there is time for them at
    once. ``is_stopped`` ends them all; ``beside``: in a process of their own."""

    seconds: float
    steps: int | None
    seed: int
    is_stopped: Callable[[], bool] | None = None
    beside: bool = False

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
        effort: SearchBudget,
    ) -> None:
        """``finish`` is that of the first answer, ``least`` how early each project could end at best."""
        self.bound = bound
        self.made = 0
        self._effort, self._began = effort, time.monotonic()
        self._size = ground.network.size
        self._most_steps = effort.most_steps(len(ground.network.structure.order))
        self._gridded = _grid_of(ground, finish)
        grid = self._gridded.grid
        self._grid: Grid = grid
        self._is_single = len(least) == 1
        enough = self._slots_of([bound.at] if bound is not None and self._is_single else least)
        rows = np.array([self._on_grid(wish) for wish in wishes])
        self._sought = SearchGoal(grid, rows, room_for(grid), ground.within_float, enough, self._gridded.is_exact)

    def run(self) -> Iterator[list[tuple[float, ...]]]:
        """Better and better lists; the last one comes when time is up, it is stopped, or nothing better can be."""
        effort = self._effort
        if not len(self._grid.ask_resource) or (not effort.is_any and self._grid.slots > SLOTS_AT_ONCE):
            return
        left = max(0.0, effort.seconds - (time.monotonic() - self._began))
        limits = Limits(left, self._most_steps, effort.seed, effort.is_stopped)
        last: Ints | None = None
        for found in (look_beside if effort.beside else look)(self._sought, limits):
            self.made = found.made
            if found.proven > self._sought.enough and self._is_single:
                self.bound = by_search(self._gridded.minute(found.proven), self.bound)
            if last is None or not np.array_equal(found.order, last):
                last = found.order
                yield self._priority(found.order)

    # Between the grid and the network

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
    network = ground.rests
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
