"""One task as its fields are read: the plan, its dates, and what is known of troubles."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from hexapod.expressions.values import Value
from hexapod.plan.plan import Plan
from hexapod.plan.records import Task
from hexapod.schedule.codes import FOREVER
from hexapod.schedule.schedule import Dates, Schedule
from hexapod.worktime.calendars import units_of
from hexapod.worktime.lengths import Units

if TYPE_CHECKING:
    import numpy as np


@dataclass(frozen=True)
class Troubles:
    """Tasks in conflict, tasks that somebody overloaded works on, and in what part of many rounds tasks drove the
    finish."""

    conflicts: Collection[str] = ()
    overloads: Collection[str] = ()
    drives: Mapping[str, float] = field(default_factory=dict)


NO_TROUBLES = Troubles()


@dataclass(slots=True)
class Reading:
    """One task of a plan with its dates.

    ``number`` is its outline number where the reader knows it already; ``independent`` holds the independent float
    by slot once it was counted.
    """

    plan: Plan
    schedule: Dates
    task: Task
    troubles: Troubles = NO_TROUBLES
    computed: dict[str, Value] = field(default_factory=dict)  # fields that were computed already, by name
    number: str = ""
    independent: np.ndarray | None = None

    @property
    def is_summary(self) -> bool:
        return self.plan.is_summary(self.task.id)

    @property
    def units(self) -> Units:
        """How long a day and a week of its project are."""
        return units_of(self.plan, self.task.project)

    def date(self, name: str) -> int | None:
        """One of the schedule's columns, such as ``early_start``; None where the task has no dates yet."""
        if not self.schedule.has(self.task.id):
            return None
        found = int(getattr(self.schedule, name)[self.schedule.slots[self.task.id]])
        return None if found >= FOREVER else found

    @property
    def computed_dates(self) -> Schedule | None:
        """The dates, where they were computed and the task has some."""
        known = isinstance(self.schedule, Schedule) and self.schedule.has(self.task.id)
        return self.schedule if known else None  # type: ignore[return-value]

    def percent(self) -> float:
        """How much is done; of a summary by the durations below it."""
        if not isinstance(self.schedule, Schedule) or not self.is_summary:
            return self.task.percent
        return float(self.schedule.network.percents[self.schedule.slots[self.task.id]])
