"""The arrays of a network: one entry a slot, and which slot a task or link has."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import chain, count
from typing import NamedTuple, TypeVar, overload

import numpy as np

from hexapod.plan.records import Gap, LagOn, LinkKey
from hexapod.worktime.calendars import Ints

LINK_TYPES = {"FS": 0, "SS": 1, "FF": 2, "SF": 3}
LAGS_ON = {LagOn.SUCCESSOR: 0, LagOn.PREDECESSOR: 1, LagOn.PROJECT: 2, LagOn.ELAPSED: 3}
GAPS = {Gap.USE: 0, Gap.KEEP: 1, Gap.WARN: 2}
T = TypeVar("T")
PERCENT = 1000  # of our units in one per cent


class TaskArrays(NamedTuple):
    """One entry a slot; times and lengths in minutes."""

    alive: Ints
    parent: Ints  # slot, or -1
    project: Ints
    calendar: Ints  # index in the timing's pool
    crew: Ints  # index in the timing's crews, 0 where the calendar says it all
    duration: Ints
    hold: Ints
    base: Ints  # not before: the project's start or its status date
    start_from: Ints
    finish_from: Ints
    start_until: Ints
    finish_until: Ints
    span: Ints  # 1 where it stretches between its links
    late: Ints  # 1 where it is to be as late as possible
    percent: Ints  # millionths of a per cent that are done
    target: Ints  # FOREVER where there is none
    effort: Ints  # minutes of work in all; 0 where nobody said
    progress: Ints  # NOT_BEGUN, REST_WAITS, REST_GOES_ON or DONE; of a summary it says nothing
    actual_start: Ints
    actual_finish: Ints
    rest: Ints  # working minutes that are left of what is begun
    as_of: Ints  # when that was told; NEVER where nothing is said
    rest_from: Ints  # the rest is not worked before; NEVER: from where the done part ends


class LinkArrays(NamedTuple):
    """One entry a link slot."""

    alive: Ints
    predecessor: Ints
    successor: Ints
    type: Ints  # index in LINK_TYPES
    lag: Ints
    lag_on: Ints  # as in LAGS_ON
    percent: Ints  # thousandths of a per cent of the predecessor's duration
    gap: Ints  # as in GAPS
    kept: Ints  # of a link that keeps its gap: how much, in working minutes of the successor


NO_LINK: LinkKey = ("", "", "")


def longer(column: Ints, size: int) -> Ints:
    """The same column with 0 in the slots behind it."""
    return np.concatenate((column, np.zeros(size - len(column), dtype=np.int64)))


@dataclass(frozen=True)
class Slots:
    """Which slot each task and each link has. It never changes: one that holds more is another one.

    ``tasks[of_task[t]] == t``, and the same of links, by their keys. Behind those in use some are spare, with empty
    names, so that a few more need no longer arrays.
    """

    of_task: Mapping[str, int]
    tasks: Names[str]
    of_link: Mapping[LinkKey, int]
    links: Names[LinkKey]

    @staticmethod
    def of(tasks: Iterable[str], links: Iterable[LinkKey], *, with_spare: bool = False) -> Slots:
        names, keys = tuple(tasks), tuple(links)
        of_task, of_link = dict(zip(names, count())), dict(zip(keys, count()))
        few, few_links = (("",) * _spare(len(names)), (NO_LINK,) * _spare(len(keys))) if with_spare else ((), ())
        return Slots(of_task, Names(names, few), of_link, Names(keys, few_links))

    def in_order(self, old: Ints) -> Slots:
        """The same tasks in another order, ``old[i]`` in slot i, and the same links; with spare slots."""
        names = tuple(map(self.tasks[:].__getitem__, old.tolist()))
        return Slots(
            dict(zip(names, count())), Names(names, ("",) * _spare(len(names))),
            self.of_link, Names(self.links[:], (NO_LINK,) * _spare(len(self.links))),
        )  # fmt: skip

    def of_tasks(self, tasks: Iterable[str]) -> Ints:
        """The slots of some tasks."""
        return np.array(list(map(self.of_task.__getitem__, tasks)), dtype=np.int64)

    def of_links(self, links: Iterable[LinkKey]) -> Ints:
        """The slots of some links, by their keys."""
        return np.array(list(map(self.of_link.__getitem__, links)), dtype=np.int64)

    def including(self, tasks: Iterable[str], links: Iterable[LinkKey]) -> Slots:
        """A table that also has slots for the tasks and links that have none yet; known ones keep theirs."""
        new_tasks = [t for t in dict.fromkeys(tasks) if t not in self.of_task]
        new_links = [k for k in dict.fromkeys(links) if k not in self.of_link]
        found = self
        if new_tasks:
            of_task = dict(self.of_task)
            of_task.update(zip(new_tasks, count(len(of_task))))
            found = replace(found, of_task=of_task, tasks=self.tasks.including(new_tasks, len(self.of_task), ""))
        if new_links:
            of_link = Grown.of(self.of_link, new_links)
            found = replace(found, of_link=of_link, links=self.links.including(new_links, len(self.of_link), NO_LINK))
        return found

    def continues(self, other: Slots) -> bool:
        """Whether this table grew from another: everything in that one has the same slot here."""
        used = len(other.of_task)
        return self.tasks.alike(other.tasks, used) == used

    def tasks_in(self, other: Slots) -> Ints:
        """By slot of a task here its slot in another table; -1 where it has none there."""
        return places_of(self.tasks, other.of_task, other.tasks)


class Names(Sequence[T]):
    """A long tuple of names with a few more behind it. To add one copies only the few, and not the long tuple."""

    __slots__ = ("_few", "_many")
    MOST = 4000  # of the few

    def __init__(self, many: tuple[T, ...], few: tuple[T, ...]) -> None:
        self._many, self._few = many, few

    def including(self, new: Sequence[T], used: int, blank: T) -> Names[T]:
        """Put new names into the spare places behind the ``used`` ones. Where these are too few, more are made."""
        begin = used - len(self._many)
        if begin < 0:
            return Names((*self[:used], *new), (blank,) * _spare(used + len(new)))
        few = (*self._few[:begin], *new, *self._few[begin + len(new) :])
        if len(few) > len(self._few):
            few += (blank,) * _spare(used + len(new))
        return Names(self._many, few) if len(few) <= Names.MOST else Names((*self._many, *few), ())

    def alike(self, other: Names[T], most: int) -> int:
        """How many of the first ``most`` names are surely the same in both: those that both were made from."""
        if self._many is other._many:
            many = len(self._many)
            of_few = max(0, min(most, len(self), len(other)) - many)
            return min(most, many) if self._few[:of_few] != other._few[:of_few] else min(most, many + of_few)
        most = min(most, len(self), len(other))
        return most if self[:most] == other[:most] else 0

    @overload
    def __getitem__(self, at: int) -> T: ...
    @overload
    def __getitem__(self, at: slice) -> tuple[T, ...]: ...
    def __getitem__(self, at: int | slice) -> T | tuple[T, ...]:
        if isinstance(at, slice):
            return (self._many + self._few)[at]
        many = len(self._many)
        return self._many[at] if at < many else self._few[at - many]

    def __iter__(self) -> Iterator[T]:
        return chain(self._many, self._few)

    def __len__(self) -> int:
        return len(self._many) + len(self._few)


class Grown(Mapping[LinkKey, int]):
    """A large map of link slots with a few more beside it. To add one copies only the few, and not the large map."""

    __slots__ = ("_few", "_many")
    MOST = 1000  # of the few

    def __init__(self, many: dict[LinkKey, int], few: dict[LinkKey, int]) -> None:
        self._many, self._few = many, few

    @staticmethod
    def of(known: Mapping[LinkKey, int], new: Sequence[LinkKey]) -> Grown:
        numbered = dict(zip(new, count(len(known))))
        if not isinstance(known, Grown):
            return Grown(dict(known), numbered)
        few = {**known._few, **numbered}
        return Grown(known._many, few) if len(few) <= Grown.MOST else Grown({**known._many, **few}, {})

    def __getitem__(self, key: LinkKey) -> int:
        found = self._few.get(key)
        return self._many[key] if found is None else found

    def __iter__(self) -> Iterator[LinkKey]:
        return chain(self._many, self._few)

    def __len__(self) -> int:
        return len(self._many) + len(self._few)


def places_of(names: Names[str], slots: Mapping[str, int], others: Names[str] | None = None) -> Ints:
    """For each name its slot; -1 where there is none. ``others`` are the names in the order of ``slots``, if known:
    tables that grew from one another begin alike, and that much is found at once."""
    alike = 0 if others is None else names.alike(others, len(slots))
    found = np.arange(len(names), dtype=np.int64)
    rest = names[alike:]
    found[alike:] = np.fromiter((slots.get(name, -1) for name in rest), dtype=np.int64, count=len(rest))
    return found


def _spare(size: int) -> int:
    return 64 + size // 100
