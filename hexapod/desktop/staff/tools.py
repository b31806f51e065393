"""The line above each view of the Staff leg: what its cells say, how people are listed, and by which periods."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QButtonGroup,
    QCheckBox,
    QComboBox,
    QHBoxLayout,
    QMenu,
    QPushButton,
    QSizePolicy,
    QWidget,
    QWidgetAction,
)

from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import choice_button, icon_button, label, narrow
from hexapod.desktop.staff.board import Board
from hexapod.desktop.staff.load_grid import LoadGrid, Show
from hexapod.desktop.staff.periods import Step
from hexapod.desktop.staff.reports_view import NAMES, RANGES, ReportsView
from hexapod.desktop.staff.roles_chart import RolesChart
from hexapod.desktop.staff.trays import Trays
from hexapod.plan.records import ResourceKind
from hexapod.staffing.grouping import Grouping

SHOWN = {
    Show.HOURS: "Hours",
    Show.ROOM: "Spare or short",
    Show.PERCENT: "Per cent",
    Show.TASKS: "Tasks",
    Show.RESERVED: "Assigned of reserved",
}
GROUPINGS = {Grouping.ROLE: "By role", Grouping.TEAM: "By team", Grouping.SECTION: "By section"}
STEPS = {Step.DAY: "Day", Step.WEEK: "Week", Step.MONTH: "Month"}
ROOM_OF_A_BOX = 46  # pixels of a box of choices besides its text


class Tools(QWidget):
    """A line of choices."""

    def __init__(self) -> None:
        super().__init__()
        self.line = QHBoxLayout(self)
        self.line.setContentsMargins(14, 2, 14, 4)
        self.line.setSpacing(4)

    def box(self, name: str, words: str, entries: Mapping, chosen: object, take: Callable) -> QComboBox:  # type: ignore[type-arg]
        made = narrow(QComboBox())
        made.setObjectName(name)
        made.setAccessibleName(words)
        for value, text in entries.items():
            made.addItem(text, value)
        made.setCurrentIndex(made.findData(chosen))
        made.activated.connect(lambda i: take(made.itemData(i)))
        made.setMaximumWidth(made.fontMetrics().horizontalAdvance(max(entries.values(), key=len)) + ROOM_OF_A_BOX)
        made.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)  # up to its longest entry
        self.line.addWidget(made, 1)
        return made

    def choices(self, entries: Mapping, chosen: object, take: Callable) -> QButtonGroup:  # type: ignore[type-arg]
        """Some that exclude each other."""
        group = QButtonGroup(self)
        self.line.addSpacing(8)
        for value, text in entries.items():
            button = choice_button(text, lambda v=value: take(v))
            button.setChecked(value == chosen)
            group.addButton(button)
            self.line.addWidget(button)
        return group


class LoadTools(Tools):
    def __init__(self, desk: Desk, grid: LoadGrid) -> None:
        super().__init__()
        self.measure = self.box("loadMeasure", "What the cells say", SHOWN, grid.mode, grid.set_mode)
        self.grouping = self.box(
            "loadGrouping", "What people are listed under", GROUPINGS, grid.grouping, grid.set_grouping
        )
        self._desk, self._grid = desk, grid
        scopes = {True: "All projects", False: "This project"}
        group = self.choices(scopes, grid.all_projects, grid.set_all_projects)
        self.some = choice_button("Some…", self._choose_some)
        self.some.setObjectName("someProjects")
        group.addButton(self.some)
        self.line.addWidget(self.some)
        self.choices(STEPS, grid.step, grid.set_step)
        self.line.addStretch(1)

    def _choose_some(self) -> None:
        """A menu of the projects, each with a tick; it stays until one presses elsewhere."""
        menu = QMenu(self)
        menu.setObjectName("someProjectsMenu")
        chosen = self._grid.projects
        for project in self._desk.plan.projects_in_order():
            entry = QCheckBox(project.name)
            entry.setObjectName(f"project {project.id}")
            entry.setChecked(chosen is None or project.id in chosen)
            entry.toggled.connect(lambda _, m=menu: self._take_some(m))
            action = QWidgetAction(menu)
            action.setDefaultWidget(entry)
            menu.addAction(action)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        menu.popup(self.some.mapToGlobal(self.some.rect().bottomLeft()))

    def _take_some(self, menu: QMenu) -> None:
        ticked = [b.objectName().removeprefix("project ") for b in menu.findChildren(QCheckBox) if b.isChecked()]
        self._grid.set_some(frozenset(ticked))


class RolesTools(Tools):
    def __init__(self, chart: RolesChart) -> None:
        super().__init__()
        self.line.addWidget(label("Wanted and there, in hours: filled, open (dashed), too much (hatched)", "muted"))
        self.choices({Step.WEEK: "Week", Step.MONTH: "Month"}, chart.step, chart.set_step)
        self.line.addStretch(1)


class BoardTools(Tools):
    def __init__(self, desk: Desk, board: Board, trays: Trays) -> None:
        super().__init__()
        roles = {r.id: r.name for r in desk.plan.resources_in_order() if r.kind is ResourceKind.ROLE}
        self.role = self.box("boardRole", "Whose lanes are shown", {None: "Everybody", **roles}, None, board.set_role)
        self._desk, self._roles = desk, roles
        desk.changed.connect(self._follow)

        def choose(all_projects: bool) -> None:
            board.set_all_projects(all_projects)
            trays.refresh()

        self.choices({True: "All projects", False: "This project"}, board.all_projects, choose)
        self.line.addSpacing(8)
        for icon, words, factor in (("zoom-in", "Zoom in", 1.25), ("zoom-out", "Zoom out", 0.8)):
            button = icon_button(icon, words)
            button.clicked.connect(lambda _, f=factor: board.zoom(f))
            self.line.addWidget(button)
        fit = icon_button("maximize", "Everything in the width there is")
        fit.clicked.connect(board.fit)
        self.line.addWidget(fit)
        self.line.addStretch(1)

    def _follow(self, *_: object) -> None:
        """Roles come and go with the pool."""
        roles = {r.id: r.name for r in self._desk.plan.resources_in_order() if r.kind is ResourceKind.ROLE}
        if roles != self._roles:
            chosen, self._roles = self.role.currentData(), roles
            self.role.clear()
            for role, name in {None: "Everybody", **roles}.items():
                self.role.addItem(name, role)
            self.role.setCurrentIndex(max(0, self.role.findData(chosen)))


class ReportTools(Tools):
    def __init__(self, view: ReportsView) -> None:
        super().__init__()
        self.box("reportKind", "Which report", NAMES, view.kind, view.show_kind)
        self.box("reportRange", "Over which time", RANGES, view.range, view.show_range)
        self.line.addStretch(1)
        for name, text, run in (("reportPdf", "PDF…", view.choose_pdf), ("reportTable", "Table…", view.choose_table)):
            button = QPushButton(text)
            button.setObjectName(name)
            button.clicked.connect(lambda _, r=run: r())
            self.line.addWidget(button)
