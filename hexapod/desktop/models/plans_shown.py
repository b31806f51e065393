"""A plan that is shown without being the plan: one of an earlier day."""

from __future__ import annotations

from dataclasses import dataclass

from hexapod.plan.plan import Plan
from hexapod.schedule.schedule import Schedule
from hexapod.store.history import HistoryRow


@dataclass(frozen=True)
class Past:
    """The plan and its dates as they were after a row of the history."""

    row: HistoryRow
    plan: Plan
    schedule: Schedule

    @property
    def words(self) -> str:
        return self.row.at.replace("T", " ")[:16]
