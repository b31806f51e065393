"""A run of time in which more is asked of somebody than there is, and many of them as columns."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple, overload

import numpy as np
from numpy.typing import NDArray

from hexapod.staffing.capacity import PARTS
from hexapod.worktime.calendars import Ints


class Overload(NamedTuple):
    """A run of working time in which demand exceeds capacity.

    ``peak`` is the highest demand in units, ``excess`` the work in minutes beyond what there is.
    """

    resource: str
    begin: int
    end: int
    peak: float
    excess: float
    tasks: tuple[str, ...]


@dataclass(frozen=True, eq=False)
class Overloads(Sequence[Overload]):
    """Sorted by resource and time. A plan may have thousands, and few of them are ever asked for one by one: the
    records are made when the first one is.

    ``columns`` has a row each for the index of the resource, begin, end, peak and excess, both in millionths. The tasks
    at work in the i-th have the slots ``slots[into[i] : into[i + 1]]``.
    """

    resources: tuple[str, ...]
    columns: Ints
    into: Ints
    slots: Ints
    ids: Sequence[str]  # of tasks, by slot

    @cached_property
    def _records(self) -> list[Overload]:
        names = [self.ids[slot] for slot in self.slots.tolist()]
        into = self.into.tolist()
        return [
            Overload(self.resources[r], begin, end, peak / PARTS, excess / PARTS, tuple(names[into[i] : into[i + 1]]))
            for i, (r, begin, end, peak, excess) in enumerate(zip(*self.columns.tolist(), strict=True))
        ]

    def __len__(self) -> int:
        return self.columns.shape[1]

    @overload
    def __getitem__(self, at: int) -> Overload: ...
    @overload
    def __getitem__(self, at: slice) -> list[Overload]: ...
    def __getitem__(self, at: int | slice) -> Overload | list[Overload]:
        return self._records[at]

    def __iter__(self) -> Iterator[Overload]:
        return iter(self._records)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Overloads) and self._records == other._records

    __hash__ = None  # type: ignore[assignment]

    @property
    def total_excess(self) -> float:
        """Minutes of work beyond what there is."""
        return float(self.columns[4].sum()) / PARTS

    def tasks_in(self, places: NDArray[np.int64]) -> Ints:
        """The slots of the tasks at work in some of them."""
        count = np.diff(self.into)[places]
        ends = np.cumsum(count)
        found: Ints = self.slots[np.repeat(self.into[places] - ends + count, count) + np.arange(count.sum())]
        return found

    def by_resource(self) -> dict[int, slice]:
        """Where those of each resource are, by its index."""
        who, first = np.unique(self.columns[0], return_index=True)
        ends = np.append(first, len(self))[1:]
        return {r: slice(i, end) for r, i, end in zip(who.tolist(), first.tolist(), ends.tolist(), strict=True)}

    def replaced(self, resources: NDArray[np.int64], by: Overloads) -> Overloads:
        """Those of some resources, by their indices, in place of what they were."""
        kept = np.flatnonzero(~np.isin(self.columns[0], resources))
        columns = np.concatenate((self.columns[:, kept], by.columns), axis=1)
        first = np.concatenate((self.into[:-1][kept], by.into[:-1] + len(self.slots)))
        count = np.concatenate((np.diff(self.into)[kept], np.diff(by.into)))
        order = np.argsort(columns[0], kind="stable")  # those of one resource are by time already
        into = np.concatenate(([0], np.cumsum(count[order])))
        places = np.repeat(first[order] - into[:-1], count[order]) + np.arange(into[-1])
        slots = np.concatenate((self.slots, by.slots))[places]
        return Overloads(self.resources, np.ascontiguousarray(columns[:, order]), into, slots, self.ids)
