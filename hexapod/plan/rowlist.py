"""The rows of the screen as one flat list that is quick at a hundred thousand: folding and filtering mask it.

An ``Outline`` is a plan's rows whole, made once for each change of the outline. A ``RowList`` says which of
them are shown, in what order, and with what between them; its rows are made as they are looked at.
"""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping, Sequence
from functools import cached_property
from itertools import repeat
from typing import overload

import numpy as np
from numpy.typing import NDArray

from hexapod.plan.outline import Row, number_of
from hexapod.plan.plan import Plan

Ints = NDArray[np.int32]
MOST_MADE = 4000  # rows that are kept once they were looked at


class Outline:
    """Every row of some projects: ``tasks`` from top to bottom, their ``levels``, and where each branch ends."""

    def __init__(self, plan: Plan, projects: Sequence[str]) -> None:
        self.plan = plan
        self.projects = tuple(projects)
        self.tasks: list[str] = []
        levels: list[int] = []
        ends: list[int] = []
        above = {parent for _, parent in plan.children}
        for project in projects:
            self._go_through(project, None, 0, levels, ends, above)
        self.levels: Ints = np.array(levels, dtype=np.int32)
        self.ends: Ints = np.array(ends, dtype=np.int32)
        self.index = dict(zip(self.tasks, range(len(self.tasks)), strict=True))

    def _go_through(
        self, project: str, parent: str | None, level: int, levels: list[int], ends: list[int], above: set[str | None]
    ) -> None:
        """What is below a row, and where the branch of each ends; no deeper than validity lets an outline be."""
        tasks, here = self.tasks, self.plan.children.get((project, parent), ())
        if above.isdisjoint(here):
            levels.extend([level] * len(here))
            ends.extend(range(len(tasks) + 1, len(tasks) + len(here) + 1))
            tasks.extend(here)
            return
        for task in here:
            at = len(tasks)
            tasks.append(task)
            levels.append(level)
            ends.append(at + 1)
            if task in above:  # as good as asking for its place, and much quicker
                self._go_through(project, task, level + 1, levels, ends, above)
                ends[at] = len(tasks)

    def __len__(self) -> int:
        return len(self.tasks)

    @property
    def summaries(self) -> NDArray[np.int64]:
        """Which rows have others below them."""
        return np.flatnonzero(self.ends > np.arange(1, len(self) + 1))

    @cached_property
    def summary_tasks(self) -> frozenset[str]:
        """The tasks that have others below them."""
        return frozenset(map(self.tasks.__getitem__, self.summaries.tolist()))

    @property
    def leaves(self) -> NDArray[np.int64]:
        """Which rows have none below them."""
        return np.flatnonzero(self.ends == np.arange(1, len(self) + 1))

    def unfolded(self, folded: Collection[str]) -> NDArray[np.bool_]:
        """Which rows lie below no folded one."""
        if len(folded) >= len(self.summary_tasks) and self.summary_tasks <= set(folded):
            return self.levels == 0
        at = np.fromiter(map(self.index.get, folded, repeat(-1)), np.int64, len(folded))
        at = at[at >= 0]
        count = len(self) + 1
        edges = np.bincount(at + 1, minlength=count) - np.bincount(self.ends[at], minlength=count)
        return np.cumsum(edges[: len(self)], dtype=np.int32) == 0

    def with_ancestors(self, kept: NDArray[np.bool_]) -> NDArray[np.bool_]:
        """The rows that are kept or have one that is below them."""
        counts = np.concatenate(([0], np.cumsum(kept)))
        found: NDArray[np.bool_] = counts[self.ends] > counts[np.arange(len(self))]
        return found


class Position(Mapping[str, int]):
    """At which row of the list a task is."""

    def __init__(self, rows: RowList) -> None:
        self._rows = rows
        self._index = rows.outline.index

    @cached_property
    def _at(self) -> Ints:
        """For each row of the outline; -1 for those that are not shown. Made when it is first asked for."""
        rows, entries = self._rows, self._rows.entries
        at = np.full(len(rows.outline), -1, dtype=np.int32)
        own = entries >= 0
        at[entries[own][::-1]] = np.flatnonzero(own)[::-1]  # where a task stands in several groups, the first counts
        for row in np.flatnonzero(~own).tolist():
            for task in rows.specials[-1 - entries[row]].tasks:
                at[self._index[task]] = row
        return at

    def __getitem__(self, task: str) -> int:
        found = self._row_of(self._index[task])
        if found < 0:
            raise KeyError(task)
        return found

    def _row_of(self, at: int) -> int:
        rows = self._rows
        if not rows.is_in_order:
            return int(self._at[at])
        row = int(np.searchsorted(rows.entries, np.int32(at)))
        return row if row < len(rows.entries) and rows.entries[row] == at else -1

    def get(self, task: object, default: object = None) -> object:  # type: ignore[override]
        at = self._index.get(task)  # type: ignore[call-overload]
        row = -1 if at is None else self._row_of(at)
        return default if row < 0 else row

    def __contains__(self, task: object) -> bool:
        return self.get(task) is not None

    def __iter__(self) -> Iterator[str]:
        return (self._rows.outline.tasks[i] for i in np.flatnonzero(self._at >= 0))

    def __len__(self) -> int:
        return len(self._rows) if self._rows.is_in_order else int((self._at >= 0).sum())


class RowList(Sequence[Row]):
    """``entries`` are rows of the outline, or -1-k for the k-th of the ``specials``: headings, lanes, gaps.

    ``flat`` rows stand side by side, whatever their level in the outline. Rows that are neither flat nor special
    are in the order of the outline, so that one is found by halving.
    """

    def __init__(self, outline: Outline, entries: Ints, specials: Sequence[Row] = (), *, flat: bool = False) -> None:
        self.outline, self.entries, self.specials, self.flat = outline, entries, tuple(specials), flat
        self.is_in_order = not flat and not self.specials
        self.position = Position(self)
        self._made: dict[int, Row] = {}

    @staticmethod
    def of(plan: Plan, project: str | None, folded: Collection[str] = ()) -> RowList:
        """A project's outline without what is folded away."""
        outline = Outline(plan, [project] if project else [])
        return RowList(outline, np.flatnonzero(outline.unfolded(folded)).astype(np.int32))

    def with_gap(self, index: int, level: int) -> RowList:
        """The same with room for a row that is not there yet."""
        gap = np.int32(-1 - len(self.specials))
        entries = np.insert(self.entries, index, gap)
        return RowList(self.outline, entries, (*self.specials, Row("", level, "")), flat=self.flat)

    def without_gaps(self) -> RowList:
        """The same without room for rows that are not there yet."""
        gaps = [-1 - k for k, row in enumerate(self.specials) if not (row.heading or row.tasks)]
        if not gaps:
            return self
        return RowList(self.outline, self.entries[~np.isin(self.entries, gaps)], self.specials, flat=self.flat)

    def __len__(self) -> int:
        return len(self.entries)

    @overload
    def __getitem__(self, at: int) -> Row: ...
    @overload
    def __getitem__(self, at: slice) -> list[Row]: ...
    def __getitem__(self, at: int | slice) -> Row | list[Row]:
        if isinstance(at, slice):
            return [self._row(int(entry)) for entry in self.entries[at]]
        return self._row(int(self.entries[at]))

    def __iter__(self) -> Iterator[Row]:
        return (self._row(entry) for entry in self.entries.tolist())

    def task(self, at: int) -> str:
        """The task of a row, empty for a heading, a lane or a gap."""
        entry = int(self.entries[at])
        return self.outline.tasks[entry] if entry >= 0 else ""

    def tasks(self) -> list[str]:
        """The tasks on show, from top to bottom, those of lanes too."""
        found: list[str] = []
        for entry in self.entries.tolist():
            found.extend((self.outline.tasks[entry],) if entry >= 0 else self.specials[-1 - entry].tasks)
        return found

    def _row(self, entry: int) -> Row:
        if entry < 0:
            return self.specials[-1 - entry]
        found = self._made.get(entry)
        if found is None:
            task = self.outline.tasks[entry]
            level = 0 if self.flat else int(self.outline.levels[entry])
            if len(self._made) >= MOST_MADE:
                self._made.clear()
            found = self._made[entry] = Row(task, level, number_of(self.outline.plan, task))
        return found
