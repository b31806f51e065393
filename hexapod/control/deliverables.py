"""How deliverables stand: what is still to be handed over, by when, and what was."""

from __future__ import annotations

from collections.abc import Collection
from typing import NamedTuple

from hexapod.plan.deliverables import Deliverable, DeliverableState, by_deliverable, state_of
from hexapod.plan.outline import is_worked
from hexapod.schedule.codes import FOREVER
from hexapod.schedule.schedule import Schedule


class Handover(NamedTuple):
    """``at`` is when it was handed over, or else when its task is to end (minutes); None while that has no dates."""

    deliverable: Deliverable
    project: str
    state: DeliverableState
    at: int | None
    is_work_done: bool

    @property
    def is_owed(self) -> bool:
        return self.state.is_owed

    def is_overdue(self, now: int) -> bool:
        """Its work is done, or was to be by now, and nobody has it."""
        return self.is_owed and (self.is_work_done or (self.at is not None and self.at < now))


def handovers(schedule: Schedule, projects: Collection[str]) -> list[Handover]:
    """The deliverables of some projects, by when they are due."""
    plan = schedule.plan
    asked = by_deliverable(plan.approvals.values())
    found = []
    for deliverable in plan.deliverables.values():
        task = plan.tasks[deliverable.task]
        if task.project not in projects:
            continue
        finish = int(schedule.finish[schedule.slots[task.id]]) if schedule.has(task.id) else FOREVER
        at = deliverable.handed if deliverable.handed is not None else (finish if finish < FOREVER else None)
        state = state_of(deliverable, asked.get(deliverable.id))
        found.append(Handover(deliverable, task.project, state, at, is_worked(plan, task.id)))
    return sorted(found, key=lambda h: (h.at is None, h.at or 0, h.deliverable.rank, h.deliverable.id))
