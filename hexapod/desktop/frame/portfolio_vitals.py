"""The vitals of all projects, in Tell: how many are late and in doubt, overloads, and what waits for an answer."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from hexapod.desktop.frame.vitals import Vital
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.portfolio import Only


class PortfolioVitals(QWidget):
    """``asked`` says which part of Tell a figure leads to."""

    asked = pyqtSignal(str)

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self._desk = desk
        self.projects, self.late = Vital("projects", "Projects"), Vital("allLate", "Late")
        self.doubt, self.overdue = Vital("allDoubt", "In doubt"), Vital("allOverdue", "Overdue")
        self.waiting = Vital("waiting", "To answer")
        leads = {
            self.projects: lambda: self._narrow(Only.ALL), self.late: lambda: self._narrow(Only.LATE),
            self.doubt: lambda: self._narrow(Only.IN_DOUBT), self.overdue: lambda: self._narrow(Only.OVERDUE),
            self.waiting: lambda: self.asked.emit("requests"),
        }  # fmt: skip
        line = QHBoxLayout(self)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(3)
        for vital, lead in leads.items():
            vital.setMenu(None)
            vital.clicked.connect(lambda _, lead=lead: lead())
            line.addWidget(vital)
        for signal in (desk.changed, desk.computed, desk.portfolio.changed, desk.requests.changed):
            signal.connect(lambda *_: self.isVisible() and self.refresh())

    def _narrow(self, only: Only) -> None:
        if self._desk.portfolio.only is not only:
            self._desk.portfolio.narrow(only=only)
        self.asked.emit("projects")

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.refresh()

    def refresh(self) -> None:
        work, requests = self._desk.portfolio, self._desk.requests
        work.look()
        waiting = sum(r.is_open for r in requests.rows()) + len(requests.approvals())
        self.waiting.show_value(str(waiting), bool(waiting))
        if work.summary is None:
            return
        counts = work.counts()
        self.projects.show_value(f"{len(work.rows()):,}", False)
        for vital, only in ((self.late, Only.LATE), (self.doubt, Only.IN_DOUBT), (self.overdue, Only.OVERDUE)):
            vital.show_value(str(counts[only]), bool(counts[only]))
