"""The side panel: one page at a time, the inspector unless something else was asked for."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QFrame, QStackedWidget, QVBoxLayout, QWidget

from hexapod.desktop.actions.action import Registry
from hexapod.desktop.desk import Desk
from hexapod.desktop.panels.forms import ProjectForm, ResourceForm
from hexapod.desktop.panels.inspector import Inspector
from hexapod.desktop.panels.page import Page
from hexapod.desktop.panels.proposal import ProposalPage
from hexapod.desktop.panels.sheets import HistoryPage, Keys, Legend

WIDTH = 268


class SidePanel(QFrame):
    """``left`` says that a form was left and the keyboard is free to go back to the leg."""

    left = pyqtSignal()

    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.setFixedWidth(WIDTH)
        self._desk = desk
        self.project_form = ProjectForm(desk, self._leave)
        self.resource_form = ResourceForm(desk, self._leave)
        self.pages: dict[str, Page] = {
            "inspector": Inspector(desk, registry),
            "proposal": ProposalPage(desk, registry),
            "project": self.project_form,
            "resource": self.resource_form,
            "history": HistoryPage(desk),
            "legend": Legend(desk),
            "keys": Keys(desk, registry),
        }
        self.home = "inspector"
        self._stack = QStackedWidget()
        for page in self.pages.values():
            self._stack.addWidget(page)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self._stack)
        desk.proposal_changed.connect(self._on_proposal)

    @property
    def shown(self) -> str:
        """The name of the page on show."""
        return next(name for name, page in self.pages.items() if page is self._stack.currentWidget())

    def first_field(self) -> QWidget:
        """What takes the keyboard when the panel does: its first part that can."""
        page = self.pages[self.shown]
        wanted = Qt.FocusPolicy.TabFocus.value
        fields = [w for w in page.findChildren(QWidget) if w.focusPolicy().value & wanted and w.isVisible()]
        return fields[0] if fields else page

    def show_page(self, name: str) -> None:
        """Show a page; asking for the one on show again leads home, except home itself."""
        if name == self.shown and name in ("history", "legend", "keys"):
            name = self.home
        self._stack.setCurrentWidget(self.pages[name])
        self.pages[name].refresh()

    def show_project(self, project: str | None) -> None:
        self.project_form.project = project
        self.show_page("project")
        self.project_form.refresh_now()

    def show_resource(self, resource: str | None) -> None:
        self.resource_form.resource = resource
        self.show_page("resource")
        self.resource_form.refresh_now()

    def go_home(self, name: str) -> None:
        """What is shown when nothing else is asked for: the inspector in Build, the proposal in Staff."""
        self.home = name
        self.show_page(name)

    def _leave(self) -> None:
        self.show_page(self.home)
        self.left.emit()

    def _on_proposal(self) -> None:
        if self._desk.proposal is not None:
            self.show_page("proposal")
