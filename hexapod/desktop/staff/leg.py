"""The Staff leg: who does it, and can they? Load against capacity, and what is behind each cell of it."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QButtonGroup, QComboBox, QHBoxLayout, QPushButton, QSplitter, QVBoxLayout, QWidget

from hexapod.desktop.actions.action import Registry
from hexapod.desktop.desk import Desk
from hexapod.desktop.panels.side import SidePanel
from hexapod.desktop.parts import ActionButton, choice_button, label, narrow
from hexapod.desktop.staff.behind import Behind
from hexapod.desktop.staff.load_grid import LoadGrid, Show
from hexapod.desktop.staff.periods import Step

SHOWN = {
    Show.HOURS: "Hours",
    Show.ROOM: "Spare or short",
    Show.PERCENT: "Per cent",
    Show.TASKS: "Tasks",
}
STEPS = {Step.DAY: "Day", Step.WEEK: "Week", Step.MONTH: "Month"}


class StaffLeg(QWidget):
    def __init__(self, desk: Desk, registry: Registry, side: SidePanel) -> None:
        super().__init__()
        self._desk = desk
        self.grid = LoadGrid(desk)
        self.behind = Behind(desk, self.grid)
        self.grid.edited.connect(side.show_resource)
        self.grid.opened.connect(self._go_in)
        self.grid.picked.connect(self._look_along)
        self.behind.seat_asked.connect(lambda task, role: (side.show_page("seats"), side.seats.look_for(task, role)))
        head = QHBoxLayout()
        head.setContentsMargins(14, 8, 14, 4)
        head.setSpacing(4)
        head.addWidget(label("Load against capacity", "title"))
        head.addSpacing(10)
        self.measure = narrow(QComboBox())
        self.measure.setObjectName("loadMeasure")
        self.measure.setAccessibleName("What the cells say")
        for show, text in SHOWN.items():
            self.measure.addItem(text, show)
        self.measure.setCurrentIndex(self.measure.findData(self.grid.mode))
        self.measure.activated.connect(lambda i: self.grid.set_mode(self.measure.itemData(i)))
        head.addWidget(self.measure)
        head.addSpacing(8)
        scopes = {
            "All projects": (True, self.grid.set_all_projects),
            "This project": (False, self.grid.set_all_projects),
        }
        self._add_choices(head, scopes, self.grid.all_projects)
        self._add_choices(head, {text: (step, self.grid.set_step) for step, text in STEPS.items()}, self.grid.step)
        head.addStretch(1)
        head.addWidget(ActionButton(registry, "staff.seats"))
        head.addWidget(ActionButton(registry, "staff.add", text="Add to the pool"))
        parts = QSplitter(Qt.Orientation.Vertical)
        parts.setChildrenCollapsible(False)
        parts.addWidget(self.grid)
        parts.addWidget(self.behind)
        parts.setStretchFactor(0, 1)
        parts.setSizes([520, 160])
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(0)
        box.addLayout(head)
        box.addWidget(parts, 1)
        for signal in (desk.changed, desk.computed, desk.load_changed, desk.looked_at_changed, desk.past_changed,
                       desk.proposal_changed):  # fmt: skip
            signal.connect(self.refresh)

    def _add_choices(self, head: QHBoxLayout, choices: dict, chosen: object) -> None:  # type: ignore[type-arg]
        group = QButtonGroup(self)
        for text, (value, run) in choices.items():
            button: QPushButton = choice_button(text, lambda v=value, r=run: r(v))
            button.setCheckable(True)
            button.setChecked(value == chosen)
            group.addButton(button)
            head.addWidget(button)
        head.addSpacing(8)

    def refresh(self, *_: object) -> None:
        """Bring the grid up to date; while the leg is hidden this waits until it is shown."""
        if self.isVisible() and not self._is_looking:
            self.grid.refresh()

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
