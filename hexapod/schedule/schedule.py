"""The dates of a plan: what every view reads and nothing writes."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from hexapod.worktime.calendars import Ints

if TYPE_CHECKING:
    from hexapod.schedule.network import Network


class TaskDates(NamedTuple):
    """Times in minutes, floats in working minutes. A summary has its span and its least floats."""

    early_start: int
    early_finish: int
    late_start: int
    late_finish: int
    total_float: int
    free_float: int
    critical: bool
    longest_path: bool
    duration: int


@dataclass(frozen=True)
class Schedule:
    """Arrays by slot; ``slots`` finds a task's. ``network`` is None when the dates were read from a file."""

    slots: Mapping[str, int]
    early_start: Ints
    early_finish: Ints
    late_start: Ints
    late_finish: Ints
    total_float: Ints
    free_float: Ints
    critical: Ints
    longest_path: Ints
    duration: Ints
    project_finish: Mapping[str, int | None]
    network: Network | None = None
    free_start: Ints | None = None  # the early start before a levelling hold
    driving: Ints | None = None  # by arc
    cause: Ints | None = None

    def dates(self, task_id: str) -> TaskDates:
        i = self.slots[task_id]
        return TaskDates(
            int(self.early_start[i]),
            int(self.early_finish[i]),
            int(self.late_start[i]),
            int(self.late_finish[i]),
            int(self.total_float[i]),
            int(self.free_float[i]),
            bool(self.critical[i]),
            bool(self.longest_path[i]),
            int(self.duration[i]),
        )

    def has(self, task_id: str) -> bool:
        """False for a task that is not in the plan that these dates are of."""
        slot = self.slots.get(task_id)
        if slot is None or slot >= len(self.early_start):
            return False
        return self.network is None or bool(self.network.tasks.alive[slot])

    @property
    def finish(self) -> int | None:
        """The latest finish of all projects."""
        return max((f for f in self.project_finish.values() if f is not None), default=None)


EMPTY = Schedule({}, *(np.zeros(0, dtype=np.int64),) * 9, project_finish={})
