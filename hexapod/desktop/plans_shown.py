"""Plans that are shown without being the plan: one of an earlier day, and one that an edit would make."""

from __future__ import annotations

from dataclasses import dataclass

from hexapod.plan.edits import Edit
from hexapod.plan.plan import Plan
from hexapod.schedule.schedule import Schedule
from hexapod.store.workspace import HistoryRow


@dataclass(frozen=True)
class Staged:
    """An edit that waits to be looked at, and the dates that it would give."""

    edit: Edit
    after: Schedule


@dataclass(frozen=True)
class Past:
    """The plan and its dates as they were after a row of the history."""

    row: HistoryRow
    plan: Plan
    schedule: Schedule

    @property
    def words(self) -> str:
        return self.row.at.replace("T", " ")[:16]
