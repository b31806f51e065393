"""Money as it is on show: of which project and branch, by which periods, and what one of its figures is made of."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from PyQt6.QtCore import pyqtSignal

from hexapod.desktop.models.project_work import ProjectWork
from hexapod.plan import edits
from hexapod.plan.accounts import Budget, MoneyEntry
from hexapod.plan.records import DAY
from hexapod.worktime import clock

if TYPE_CHECKING:
    from hexapod.control.money import Costing, Days, MoneyTable, OverBudget
    from hexapod.desktop.models.desk import Desk

ALL_TIME = None


class MoneyWork(ProjectWork):
    """``figure_changed`` says that another figure is looked at."""

    figure_changed = pyqtSignal()

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.step = desk.memory.recall("money_step", str, "month")
        self.days: Days | None = ALL_TIME  # of the figure that is looked at
        self.column = "spent"
        self.editing = ""  # the entry or the budget that a form changes
        self._costing: Costing | None = None

    def show(self, *, branch: str | None = None, step: str | None = None) -> None:
        self.branch = self.branch if branch is None else branch
        self.step = self.step if step is None else step
        self._desk.memory.keep("money_step", self.step)
        self.changed.emit()

    def look_at(self, days: Days | None, column: str) -> None:
        """One figure: of some days, None for all of them."""
        self.days, self.column = days, column
        self.figure_changed.emit()

    def costing(self) -> Costing | None:
        """What the table is made from; None while there are no dates. Made once for a plan and a project."""
        from hexapod.control.money import Costing

        desk, project = self._desk, self.project
        efforts = desk.hours.efforts
        if efforts is None or project is None or not desk.plan.is_whole:
            return None
        known = self._costing
        if known is None or known.project != project or known.efforts is not efforts:
            self._costing = Costing.of(efforts, desk.hours.ledger, project, self.today)
        return self._costing

    @property
    def today(self) -> int:
        return clock.now() // DAY

    def table(self) -> MoneyTable | None:
        from hexapod.control.money import Step

        costing = self.costing()
        return None if costing is None else costing.table(Step(self.step), self.today, self.task)

    def over(self) -> list[OverBudget]:
        """The budgets of the project that are burst or will be."""
        from hexapod.control.money import over_budgets

        costing = self.costing()
        return [] if costing is None else over_budgets(costing, self.today)

    # Changing

    def save_entry(self, entry: MoneyEntry) -> None:
        self._desk.attempt(edits.save_entry(self._desk.plan, entry))

    def save_budget(self, budget: Budget) -> None:
        """``HexapodError`` where it is refused. One beneath what is spent is taken, and said."""
        self._desk.attempt(edits.save_budget(self._desk.plan, budget))
        from hexapod.control.money import Step

        costing = self.costing()
        if costing is None or budget.amount is None:
            return
        if budget.first_day is None or budget.last_day is None:
            spent = costing.table(Step.MONTH, self.today, budget.task).whole.spent
        else:
            spent = costing.money_in((budget.first_day, budget.last_day), self.today, budget.task).spent
        if spent > budget.amount:
            from hexapod.desktop.currency import currency

            over = currency().words(spent - budget.amount)
            self._desk.told.emit(f"{over} more than that is spent already.", "", True)

    def remove_entries(self, entries: Sequence[str]) -> None:
        self._desk.do(edits.remove_entries(self._desk.plan, entries))

    def remove_budget(self, budget: str) -> None:
        self._desk.do(edits.remove_budgets(self._desk.plan, [budget]))
