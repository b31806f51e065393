"""The menu of what the list of projects shows: kept views, keeping one, and which columns."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QLineEdit, QMenu, QWidget, QWidgetAction

from hexapod.desktop.action import Registry
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.portfolio import PortfolioWork
from hexapod.desktop.models.project_columns import OWN
from hexapod.plan.bounds import LONGEST_NAME

MOST_VIEWS, MOST_COLUMNS = 9, 12  # that are offered in one menu
MONEY, WHOSE = ("cost", "budget", "hours", "hours_budget"), ("lead", "department", "stream", "priority")


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
        own = [key for key in work.offered if key.startswith(OWN)]
        apart = {"Money and hours": MONEY, "Whose and what": WHOSE, "Own fields": own}
        self._offer(columns, [key for key in work.offered if key not in {k for some in apart.values() for k in some}])
        for words, keys in apart.items():
            if keys:
                below = columns.addMenu(words)
                assert below is not None
                self._offer(below, keys)
        columns.addSeparator()
        columns.addAction(self._registry.qt("projects.field"))
        self.addAction(self._registry.qt("projects.thresholds"))

    def _offer(self, menu: QMenu, keys: Sequence[str]) -> None:
        """Columns to be turned on and off, in menus that are not too long."""
        shown = self._work.columns
        for key in keys[:MOST_COLUMNS]:
            action = self._check(menu, self._work.offered[key].title.replace("&", "&&"), key in shown)
            action.triggered.connect(lambda on, k=key: self._turn(k, on))
        if keys[MOST_COLUMNS:]:
            more = menu.addMenu("More")
            assert more is not None
            self._offer(more, keys[MOST_COLUMNS:])

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
