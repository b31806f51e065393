"""The Staff leg: who does it, and can they? Load by person, capacity by role, and the board of who does what when."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QPushButton, QSplitter, QStackedWidget, QVBoxLayout, QWidget

from hexapod.desktop.action import Registry
from hexapod.desktop.host import Side
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import ActionButton, choice_button
from hexapod.desktop.staff.behind import Behind
from hexapod.desktop.staff.board import Board
from hexapod.desktop.staff.gap_closing import GapClosing
from hexapod.desktop.staff.load_grid import LoadGrid
from hexapod.desktop.staff.reports_view import ReportsView
from hexapod.desktop.staff.roles_chart import RolesChart
from hexapod.desktop.staff.tools import BoardTools, LoadTools, ReportTools, RolesTools
from hexapod.desktop.staff.trays import Trays

VIEWS = {"load": "Load", "roles": "Roles", "board": "Board", "reports": "Reports"}


class StaffLeg(QWidget):
    side_page = "proposal"  # what stands at its side

    def __init__(self, desk: Desk, registry: Registry, side: Side) -> None:
        super().__init__()
        self._desk = desk
        self.grid, self.roles = LoadGrid(desk), RolesChart(desk)
        self.behind, self.gap = Behind(desk, self.grid), GapClosing(desk, self.roles)
        self.grid.edited.connect(side.show_resource)
        self.grid.opened.connect(self._go_in)
        self.grid.picked.connect(self._look_along)
        for below in (self.behind, self.gap):
            below.seat_asked.connect(lambda *key: side.show_seat(key))
        self.board = Board(desk)
        self.trays = Trays(desk, self.board)
        self.board.opened.connect(side.show_resource)
        self.reports = ReportsView(desk)
        self._stack = QStackedWidget()
        self.tools = {
            "load": LoadTools(desk, self.grid),
            "roles": RolesTools(self.roles),
            "board": BoardTools(desk, self.board, self.trays),
            "reports": ReportTools(self.reports),
        }
        self.parts: dict[str, QWidget] = {
            "load": _above(self.grid, self.behind),
            "roles": _above(self.roles, self.gap),
            "board": _above(self.board, self.trays),
            "reports": self.reports,
        }
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(0)
        self.bar = QWidget()
        self.bar.setLayout(self._head(registry))
        for name, part in self.parts.items():
            box.addWidget(self.tools[name])
            self._stack.addWidget(part)
        box.addWidget(self._stack, 1)
        self.show_view(desk.memory.recall("staff_view", str, "load"))
        for signal in (desk.changed, desk.computed, desk.load_changed, desk.looked_at_changed, desk.past_changed,
                       desk.proposal_changed):  # fmt: skip
            signal.connect(self.refresh)

    def _head(self, registry: Registry) -> QHBoxLayout:
        head = QHBoxLayout()
        head.setContentsMargins(6, 0, 10, 0)
        head.setSpacing(4)
        self._choices = QButtonGroup(self)
        self.buttons: dict[str, QPushButton] = {}
        for name, text in VIEWS.items():
            button = choice_button(text, lambda n=name: self.show_view(n))
            button.setObjectName(f"staff {name}")
            self._choices.addButton(button)
            self.buttons[name] = button
            head.addWidget(button)
        head.addStretch(1)
        self.guard = ActionButton(registry, "staff.guard", text="Guard off")
        self._desk.guard.changed.connect(self._tell_guard)
        self._tell_guard()
        head.addWidget(self.guard)
        head.addWidget(ActionButton(registry, "staff.seats"))
        head.addWidget(ActionButton(registry, "staff.reserve", text="Reserve…"))
        head.addWidget(ActionButton(registry, "staff.add", text="Add to the pool"))
        return head

    def _tell_guard(self) -> None:
        """The switch says whether the guard is on."""
        is_on = self._desk.guard.is_on
        self.guard.setText("Guard on" if is_on else "Guard off")
        self.guard.setProperty("role", "primary" if is_on else "")
        style = self.guard.style()
        if style is not None:
            style.polish(self.guard)

    @property
    def view(self) -> str:
        return self._view

    def show_view(self, name: str) -> None:
        """Another view of the same staff."""
        self._view = name if name in VIEWS else "load"
        self._desk.memory.keep("staff_view", self._view)
        self.buttons[self._view].setChecked(True)
        for other, tools in self.tools.items():
            tools.setVisible(other == self._view)
        self._stack.setCurrentWidget(self.parts[self._view])
        self.refresh()

    @property
    def main_part(self) -> QWidget:
        """Where the keyboard belongs."""
        return {"load": self.grid, "roles": self.roles, "board": self.board, "reports": self.reports.table}[self._view]

    def refresh(self, *_: object) -> None:
        """Bring the view on show up to date; while the leg is hidden this waits until it is shown."""
        if self.isVisible() and not self._is_looking:
            {
                "load": self.grid.refresh,
                "roles": self.roles.refresh,
                "board": self._show_board,
                "reports": self.reports.refresh,
            }[self._view]()

    def _show_board(self) -> None:
        self.board.refresh()
        self.trays.refresh()

    def cancel(self) -> bool:
        """Give up what is dragged."""
        return self.board.cancel()

    _is_looking = False

    def _look_along(self) -> None:
        """The strip and the inspector are about who is looked at here."""
        row = self.grid.current
        if row is not None and row.resource is not None and self.grid.table is not None:
            self._is_looking = True
            self._desk.look_at_resource(row.resource, self.grid.span)
            self._is_looking = False

    def _go_in(self) -> None:
        first = self.behind.first_task
        if first is not None:
            first.setFocus(Qt.FocusReason.TabFocusReason)

    def showEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        super().showEvent(event)
        self.refresh()


def _above(view: QWidget, detail: QWidget) -> QSplitter:
    """A view with what is behind its cells beneath it."""
    parts = QSplitter(Qt.Orientation.Vertical)
    parts.setChildrenCollapsible(False)
    parts.addWidget(view)
    parts.addWidget(detail)
    parts.setStretchFactor(0, 1)
    parts.setSizes([500, 170])
    return parts
