"""Attention: what needs somebody, and how many notices went to whom."""

from __future__ import annotations

from PyQt6.QtWidgets import QSpinBox

from hexapod.control.money import OverBudget
from hexapod.desktop.action import Registry
from hexapod.desktop.frame.part import Part, offer
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.works import EVERY_PROJECT
from hexapod.desktop.parts import ActionButton
from hexapod.desktop.track.attention_table import AttentionTable
from hexapod.system.words import count_of

HOW = "Space says that it is done, Enter opens a field: “3d” for what is left, a per cent, or a date."
MOST_DAYS = 60


class AttentionView(Part):
    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__(desk, registry, "attention")
        self.work = desk.attention
        self.table = AttentionTable(desk, self.work)
        self.main_part = self.table
        self.table.bar_asked.connect(self.bar_asked)
        self.table.why_asked.connect(self.why_asked)
        self.table.money_asked.connect(self._show_money)
        self.table.range_asked.connect(registry.qt("trying.range").trigger)
        self.table.risk_asked.connect(registry.qt("risks.form").trigger)
        self._make_tools()
        self._says.setText(HOW)
        box = self.column()
        box.addWidget(self._title)
        box.addWidget(self._says)
        box.addWidget(self.table, 1)
        self.follow(desk.load_changed, self.work.changed, desk.chances.changed)

    def _make_tools(self) -> None:
        work = self.work
        self._project = self.choice("attentionProject", "Of which project", 150, lambda p: work.narrow(project=p))
        self._days = QSpinBox()
        self._days.setObjectName("attentionDays")
        self._days.setAccessibleName("What is due within so many days")
        self._days.setRange(0, MOST_DAYS)
        self._days.setPrefix("due within ")
        self._days.setSuffix(" d")
        self._days.setValue(self.work.days)
        self._days.valueChanged.connect(lambda days: self.work.narrow(days=days))
        self._line.addWidget(self._days)
        self._line.addWidget(ActionButton(self._registry, "notices", text="Notices…"))

    def _show_money(self, over: OverBudget) -> None:
        """The figure that burst a budget, and what it is made of."""
        self._desk.look_at_project(over.project)
        self._desk.money.show(branch=over.task or "", step="month")
        self._desk.money.look_at(over.days, "spent" if over.is_burst else "expected")
        self._registry.qt("money.figure").trigger()

    def refresh(self) -> None:
        plan = self._desk.plan
        if self.work.project not in plan.projects:
            self.work.project = EVERY_PROJECT
        offer(self._project, self.projects(), self.work.project)
        self.table.refresh()
        count = len(self.table.needs)
        said = f"{count_of(count, 'thing')} need{'s' if count == 1 else ''} somebody"
        self._title.setText(said if count else "What needs somebody")
