"""Attention: what needs somebody, and how many notices went to whom."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QSpinBox, QVBoxLayout, QWidget

from hexapod.desktop.action import Registry
from hexapod.desktop.models.attention import EVERYTHING
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import ActionButton, label, narrow
from hexapod.desktop.track.attention_table import AttentionTable
from hexapod.desktop.track.choosing import offer
from hexapod.system.words import count_of

HOW = "Space says that it is done, Enter opens a field: “3d” for what is left, a per cent, or a date."
MOST_DAYS = 60


class AttentionView(QWidget):
    """``bar_asked`` asks for the bar of a task, ``why_asked`` why a project finishes when it does."""

    bar_asked = pyqtSignal(str)
    why_asked = pyqtSignal(str)

    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__()
        self._desk, self._registry = desk, registry
        self.work = desk.attention
        self.table = AttentionTable(desk, self.work)
        self.main_part = self.table
        self.table.bar_asked.connect(self.bar_asked)
        self.table.why_asked.connect(self.why_asked)
        self.tools = self._make_tools()
        self._title, self._says = label("", "title"), label(HOW, "small", wrap=True)
        self._title.setObjectName("attentionTitle")
        box = QVBoxLayout(self)
        box.setContentsMargins(14, 8, 14, 10)
        box.setSpacing(4)
        box.addWidget(self._title)
        box.addWidget(self._says)
        box.addWidget(self.table, 1)
        for signal in (desk.changed, desk.computed, desk.past_changed, desk.load_changed, self.work.changed):
            signal.connect(lambda *_: self._follow())

    def _make_tools(self) -> QWidget:
        tools = QWidget()
        line = QHBoxLayout(tools)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(6)
        self._project = narrow(QComboBox())
        self._project.setObjectName("attentionProject")
        self._project.setAccessibleName("Of which project")
        self._project.setMinimumWidth(150)
        self._project.activated.connect(lambda i: self.work.narrow(project=self._project.itemData(i)))
        self._days = QSpinBox()
        self._days.setObjectName("attentionDays")
        self._days.setAccessibleName("What is due within so many days")
        self._days.setRange(0, MOST_DAYS)
        self._days.setPrefix("due within ")
        self._days.setSuffix(" d")
        self._days.setValue(self.work.days)
        self._days.valueChanged.connect(lambda days: self.work.narrow(days=days))
        line.addStretch(1)
        line.addWidget(self._project)
        line.addWidget(self._days)
        line.addWidget(ActionButton(self._registry, "notices", text="Notices…"))
        return tools

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.refresh()

    def _follow(self) -> None:
        """At once: nothing is painted of a plan that is no more."""
        if self.isVisible():
            self.refresh()

    def refresh(self) -> None:
        plan = self._desk.plan
        projects = [(p.id, p.name) for p in plan.projects_in_order() if not p.archived]
        if self.work.project not in plan.projects:
            self.work.project = EVERYTHING
        offer(self._project, [(EVERYTHING, "Every project"), *projects], self.work.project)
        self.table.refresh()
        count = len(self.table.needs)
        self._title.setText(f"{count_of(count, 'thing')} need{'s' if count == 1 else ''} somebody")
