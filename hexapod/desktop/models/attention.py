"""The list of what needs somebody, as it is on show. Yesterday's plan is worked out once a day, in the background."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from hexapod.control.attention import Need, needs
from hexapod.desktop.models.past_finishes import PastFinishes
from hexapod.desktop.models.works import EVERY_PROJECT
from hexapod.plan.records import DAY
from hexapod.schedule.schedule import computed_dates
from hexapod.worktime import clock

if TYPE_CHECKING:
    from hexapod.control.money import OverBudget
    from hexapod.desktop.models.desk import Desk

DAYS = 5


class AttentionWork(QObject):
    """``changed`` says that the list, or how it is narrowed, is another."""

    changed = pyqtSignal()

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self._desk = desk
        self.project = EVERY_PROJECT
        self.days = desk.memory.recall("due_days", int, DAYS)
        self._yesterday = PastFinishes(self, 0, self.changed.emit)

    def narrow(self, *, project: str | None = None, days: int | None = None) -> None:
        self.project = self.project if project is None else project
        if days is not None:
            self.days = days
            self._desk.memory.keep("due_days", days)
        self.changed.emit()

    def needs(self) -> list[Need]:
        known = computed_dates(self._desk.schedule)
        if known is None:
            return []
        self._yesterday.look(self._desk.session)
        load = self._desk.load
        conflicts = load.conflicts if load is not None else []
        found = needs(known, clock.now(), self.days, conflicts, self._yesterday.found, self._budgets(),
                      self._desk.chances.doubts())  # fmt: skip
        return found if not self.project else [need for need in found if need.project == self.project]

    def _budgets(self) -> list[OverBudget]:
        """Budgets of all projects that are burst or will be."""
        from hexapod.control.money import Costing, over_budgets

        desk = self._desk
        efforts = desk.hours.efforts
        if efforts is None or not desk.plan.is_whole:
            return []
        today = clock.now() // DAY
        projects = dict.fromkeys(b.project for b in desk.plan.budgets.values() if b.amount is not None)
        made = (Costing.of(efforts, desk.hours.ledger, project, today) for project in projects)
        return [over for costing in made for over in over_budgets(costing, today)]
