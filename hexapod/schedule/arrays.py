"""The arrays of a network: one entry a slot, and which slot a task or link has."""

from __future__ import annotations

from typing import NamedTuple

from hexapod.plan.records import LinkKey
from hexapod.worktime.calendars import Ints


class TaskArrays(NamedTuple):
    """One entry a slot; times and lengths in minutes."""

    alive: Ints
    parent: Ints  # slot, or -1
    project: Ints
    calendar: Ints  # index in the timing's pool
    duration: Ints
    hold: Ints
    base: Ints  # not before: the project's start or its status date
    start_from: Ints
    finish_from: Ints
    start_until: Ints
    finish_until: Ints


class LinkArrays(NamedTuple):
    """One entry a link slot."""

    alive: Ints
    predecessor: Ints
    successor: Ints
    type: Ints  # index in LINK_TYPES
    lag: Ints


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
