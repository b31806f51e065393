"""Money: by week, month or quarter what was budgeted, planned and spent, what is expected, charged and came in."""

from __future__ import annotations

from hexapod.control.money import MoneyTable, Step
from hexapod.desktop.action import Registry
from hexapod.desktop.currency import currency
from hexapod.desktop.frame.part import Part, offer
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import ActionButton
from hexapod.desktop.track.money_picture import MoneyPicture
from hexapod.desktop.track.money_table import MoneyRows

STEPS = {Step.WEEK: "By week", Step.MONTH: "By month", Step.QUARTER: "By quarter"}
HOW = "Enter, or a press, leads from a figure to what it is made of."


class MoneyView(Part):
    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__(desk, registry, "money")
        self.work = desk.money
        self.table, self.picture = MoneyRows(desk, self.work), MoneyPicture()
        self.main_part = self.table
        self._branch = self.choice("moneyBranch", "Of which branch", 150, lambda b: self.work.show(branch=b))
        self._step = self.choice("moneyStep", "By which periods", 0, lambda s: self.work.show(step=s))
        self._line.addWidget(ActionButton(registry, "money.entry", text="New entry…"))
        self._line.addWidget(ActionButton(registry, "money.budget", text="New budget…"))
        self.table.figure_asked.connect(self._show_figure)
        box = self.column()
        box.addWidget(self._title)
        box.addWidget(self._says)
        box.addWidget(self.table, 3)
        box.addWidget(self.picture, 2)
        self.follow(self.work.changed, desk.looked_at_changed)

    def _show_figure(self, days: object, column: str) -> None:
        self.work.look_at(days, column)  # type: ignore[arg-type]
        self._registry.qt("money.figure").trigger()

    def refresh(self) -> None:
        work, plan = self.work, self._desk.plan
        if not plan.is_whole:
            return
        offer(self._branch, [("", "Whole project"), *work.branches()], work.task or "")
        offer(self._step, [(step.value, words) for step, words in STEPS.items()], work.step)
        self.table.refresh()
        table = self.table.table
        self.picture.show_table(table, Step(work.step))
        self._title.setText(self.words(table) if table is not None else "Money")
        self._says.setText(HOW)

    def words(self, table: MoneyTable) -> str:
        """In one sentence whether the money will do."""
        money, said = table.whole, currency()
        plan = self._desk.plan
        name = plan.projects[table.project].name if table.task is None else plan.tasks[table.task].name
        if money.budget is None:
            return f"{name}: {said.short(money.spent)} spent, {said.short(money.expected)} expected in all"
        left = money.left or 0
        ends = f"{said.short(left)} will be left over" if left >= 0 else f"{said.short(-left)} will be lacking"
        return f"{name}: {said.short(money.spent)} spent of {said.short(money.budget)}; {ends}"
