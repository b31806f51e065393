"""The arrays of a network: one entry a slot, and which slot a task or link has."""

from __future__ import annotations

from typing import NamedTuple

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


class Interning(NamedTuple):
    """Which slot a task or link has; only ever grows, and is shared by all networks of a session."""

    slots: dict[str, int]
    ids: list[str]
    link_slots: dict[LinkKey, int]
    link_keys: list[LinkKey]

    def slot(self, task_id: str) -> int:
        found = self.slots.setdefault(task_id, len(self.ids))
        if found == len(self.ids):
            self.ids.append(task_id)
        return found

    def link_slot(self, key: LinkKey) -> int:
        found = self.link_slots.setdefault(key, len(self.link_keys))
        if found == len(self.link_keys):
            self.link_keys.append(key)
        return found
