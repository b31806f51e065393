"""The arrays of a network: one entry a slot, and which slot a task or link has."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import count
from typing import Any, NamedTuple

import numpy as np

from hexapod.plan.records import Gap, LagOn, LinkKey
from hexapod.worktime.calendars import Ints

LINK_TYPES = {"FS": 0, "SS": 1, "FF": 2, "SF": 3}
LAGS_ON = {LagOn.SUCCESSOR: 0, LagOn.PREDECESSOR: 1, LagOn.PROJECT: 2, LagOn.ELAPSED: 3}
GAPS = {Gap.USE: 0, Gap.KEEP: 1, Gap.WARN: 2}
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
    percent: Ints  # hundredths of a per cent that are done


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


@dataclass(frozen=True)
class Slots:
    """Which slot each task and each link has. It never changes: one that holds more is another one.

    ``tasks[of_task[t]] == t``, and the same of links, by their keys.
    """

    of_task: Mapping[str, int]
    tasks: Sequence[str]
    of_link: Mapping[LinkKey, int]
    links: Sequence[LinkKey]

    @staticmethod
    def of(tasks: Iterable[str], links: Iterable[LinkKey]) -> Slots:
        names, keys = tuple(tasks), tuple(links)
        return Slots(dict(zip(names, count())), names, dict(zip(keys, count())), keys)

    def including(self, tasks: Iterable[str], links: Iterable[LinkKey]) -> Slots:
        """The same with slots for what has none yet, behind the others."""
        new_tasks = [t for t in dict.fromkeys(tasks) if t not in self.of_task]
        new_links = [k for k in dict.fromkeys(links) if k not in self.of_link]
        found = self
        if new_tasks:
            added = zip(new_tasks, count(len(self.tasks)))
            found = replace(found, of_task={**self.of_task, **dict(added)}, tasks=(*self.tasks, *new_tasks))
        if new_links:
            numbered = zip(new_links, count(len(self.links)))
            found = replace(found, of_link={**self.of_link, **dict(numbered)}, links=(*self.links, *new_links))
        return found

    def continues(self, other: Slots) -> bool:
        """Whether all that has a slot in another table has the same one here."""
        return self.tasks is other.tasks or self.tasks[: len(other.tasks)] == other.tasks

    def tasks_in(self, other: Slots) -> Ints:
        """By slot of a task here its slot in another table; -1 where it has none there."""
        return places_of(self.tasks, other.of_task, other.tasks)

    def links_in(self, other: Slots) -> Ints:
        """The same of links."""
        return places_of(self.links, other.of_link, other.links)


def places_of(names: Sequence[Any], slots: Mapping[Any, int], others: Sequence[Any] = ()) -> Ints:
    """For each name its slot; -1 where there is none. ``others`` are the names in the order of ``slots``, if known:
    tables that grew from one another begin alike, and that much is found at once."""
    alike = min(len(names), len(others))
    if names is not others and names[:alike] != others[:alike]:
        alike = 0
    found = np.arange(len(names), dtype=np.int64)
    found[alike:] = np.fromiter((slots.get(n, -1) for n in names[alike:]), dtype=np.int64, count=len(names) - alike)
    return found
