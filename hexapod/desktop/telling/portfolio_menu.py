"""The menu of what the list of projects shows: kept views, keeping one, and which columns."""

from __future__ import annotations

from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QLineEdit, QMenu, QWidget, QWidgetAction

from hexapod.desktop.action import Registry
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.portfolio import PortfolioWork
from hexapod.desktop.models.project_columns import COLUMNS
from hexapod.plan.bounds import LONGEST_NAME

MOST_VIEWS = 9  # that are offered in one menu


class PortfolioMenu(QMenu):
    def __init__(self, parent: QWidget, desk: Desk, registry: Registry, work: PortfolioWork) -> None:
        super().__init__(parent)
        self._desk, self._registry, self._work = desk, registry, work
        self.aboutToShow.connect(self.fill)

    def fill(self) -> None:
        """As the views and columns are now."""
        self.clear()
        work = self._work
        views = work.views()
        for view in views[:MOST_VIEWS]:
            action = self._check(self, view.name.replace("&", "&&"), view.name == work.name)
            action.triggered.connect(lambda _, v=view: work.show_view(v))
        if views:
            self.addSeparator()
        self._add_name()
        forget = self.addAction(f"Forget “{work.name}”".replace("&", "&&") if work.name else "Forget this view")
        assert forget is not None
        forget.setEnabled(bool(work.name) and not self._desk.is_read_only)
        forget.triggered.connect(work.forget_view)
        self.addSeparator()
        columns = self.addMenu("Columns")
        assert columns is not None
        for key, column in COLUMNS.items():
            action = self._check(columns, column.title, key in work.columns)
            action.triggered.connect(lambda on, k=key: self._turn(k, on))
        self.addAction(self._registry.qt("projects.thresholds"))

    def _add_name(self) -> None:
        """A line to keep what is on show under a name."""
        field = QLineEdit(self._work.name)
        field.setObjectName("portfolioKeep")
        field.setAccessibleName("Keep what is on show as")
        field.setPlaceholderText("Keep this view as…")
        field.setMaxLength(LONGEST_NAME)
        field.setEnabled(not self._desk.is_read_only)
        field.returnPressed.connect(lambda: self._keep(field.text()))
        action = QWidgetAction(self)
        action.setDefaultWidget(field)
        self.addAction(action)

    def _keep(self, name: str) -> None:
        if name.strip() and self._work.keep_view(name):
            self._desk.told.emit(f"The view “{name.strip()}” is kept.", "", False)
            self.close()

    def _turn(self, key: str, on: bool) -> None:
        shown = set(self._work.columns)
        self._work.show_columns(shown | {key} if on else shown - {key})

    @staticmethod
    def _check(menu: QMenu, words: str, on: bool) -> QAction:
        action = menu.addAction(words)
        assert action is not None
        action.setCheckable(True)
        action.setChecked(on)
        return action
