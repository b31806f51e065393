"""The Staff leg: who there is, the load of one of them large, and the tasks behind it."""

from __future__ import annotations

from collections import Counter

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QWheelEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QTableWidget, QTableWidgetItem, QVBoxLayout, QWidget

from hexapod.desktop.actions.action import Registry
from hexapod.desktop.chart.painter import paint_axis
from hexapod.desktop.chart.timescale import TimeScale
from hexapod.desktop.desk import Desk
from hexapod.desktop.panels.side import SidePanel
from hexapod.desktop.parts import ActionButton, label
from hexapod.desktop.strip.canvas import LoadCanvas
from hexapod.desktop.strip.info import LoadInfo
from hexapod.desktop.theme.style import color
from hexapod.plan.records import DAY

HEADINGS = ("Initials", "Name", "Kind", "Capacity", "Overloads")
ALL_TASKS = 12


class _Axis(QWidget):
    """The time axis of the leg, and its scale."""

    def __init__(self) -> None:
        super().__init__()
        self.scale = TimeScale(0, 6.0)
        self.setFixedHeight(42)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        paint_axis(painter, self.scale, self.width(), self.height())
        painter.end()


class StaffLeg(QWidget):
    def __init__(self, desk: Desk, registry: Registry, side: SidePanel) -> None:
        super().__init__()
        self._desk = desk
        self._side = side
        self._axis = _Axis()
        self.canvas = LoadCanvas(desk, self._axis)
        self.canvas.installEventFilter(self)
        self.info = LoadInfo(desk, registry, self.canvas, most=ALL_TASKS)
        self.table = self._make_table()
        head = QHBoxLayout()
        head.addWidget(label("People and equipment", "title"))
        head.addStretch(1)
        head.addWidget(ActionButton(registry, "level.clear"))
        head.addWidget(ActionButton(registry, "staff.add", text="Add a person or equipment"))
        self._empty = QLabel(
            "Nobody is here yet. Add people and equipment, each with what there is of it, then assign them."
        )
        self._empty.setProperty("role", "muted")
        self._empty.setWordWrap(True)
        box = QVBoxLayout(self)
        box.setContentsMargins(14, 10, 14, 10)
        box.setSpacing(8)
        box.addLayout(head)
        box.addWidget(self._empty)
        box.addWidget(self.table, 3)
        box.addWidget(self._axis)
        box.addWidget(self.canvas, 4)
        box.addWidget(self.info, 3)
        for signal in (desk.changed, desk.computed, desk.looked_at_changed):
            signal.connect(self.refresh)

    def _make_table(self) -> QTableWidget:
        table = QTableWidget(0, len(HEADINGS))
        table.setObjectName("resources")
        table.setAccessibleName("People and equipment")
        table.setHorizontalHeaderLabels(HEADINGS)
        table.verticalHeader().hide()
        table.verticalHeader().setDefaultSectionSize(27)
        table.horizontalHeader().setStretchLastSection(True)
        table.horizontalHeader().setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        table.setShowGrid(False)
        table.setSelectionBehavior(QTableWidget.SelectionBehavior.SelectRows)
        table.setSelectionMode(QTableWidget.SelectionMode.SingleSelection)
        table.setEditTriggers(QTableWidget.EditTrigger.NoEditTriggers)
        table.setTabKeyNavigation(False)
        for column, width in enumerate((74, 240, 110, 90)):
            table.setColumnWidth(column, width)
        table.currentCellChanged.connect(self._choose)
        table.cellActivated.connect(lambda row, _: self._open(row))
        table.cellDoubleClicked.connect(lambda row, _: self._open(row))
        return table

    def refresh(self, *_: object) -> None:
        """Bring the table up to date; while the leg is hidden this waits until it is shown."""
        if not self.isVisible():
            return
        resources = self._desk.plan.resources_in_order()
        load = self._desk.load
        counts = Counter(o.resource for o in load.overloads) if load else Counter()
        self._empty.setVisible(not resources)
        self.table.blockSignals(True)
        self.table.setRowCount(len(resources))
        for row, resource in enumerate(resources):
            over = str(counts[resource.id] or "")
            values = (resource.initials, resource.name, resource.kind.value, f"{resource.capacity:g}", over)
            for column, value in enumerate(values):
                item = QTableWidgetItem(value)
                item.setData(Qt.ItemDataRole.UserRole, resource.id)
                if column == 4:
                    item.setForeground(color("brick"))
                self.table.setItem(row, column, item)
            if resource.id == self._desk.resource:
                self.table.setCurrentCell(row, 0)
        self.table.blockSignals(False)
        self.canvas.update()

    def showEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        super().showEvent(event)
        self.refresh()
        self._show_span()

    def _show_span(self) -> None:
        """All projects in the width there is."""
        schedule = self._desk.schedule
        starts = [p.start for p in self._desk.plan.projects.values()]
        if not starts or schedule.last_finish is None:
            return
        begin, end = min(starts) - 7 * DAY, schedule.last_finish + 14 * DAY
        self._set_scale(TimeScale(begin, max(0.5, self.canvas.width() * DAY / max(DAY, end - begin))))

    def _set_scale(self, scale: TimeScale) -> None:
        self._axis.scale = scale
        self._axis.update()
        self.canvas.update()

    def _choose(self, row: int, *_: int) -> None:
        item = self.table.item(row, 0)
        if item is not None:
            self._desk.look_at_resource(item.data(Qt.ItemDataRole.UserRole))

    def _open(self, row: int) -> None:
        item = self.table.item(row, 0)
        if item is not None:
            self._side.show_resource(item.data(Qt.ItemDataRole.UserRole))

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if watched is self.canvas and isinstance(event, QWheelEvent):
            turned = event.angleDelta().y()
            if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
                self._set_scale(self._axis.scale.zoomed(1.2 ** (turned / 120), event.position().x()))
            else:
                self._set_scale(self._axis.scale.moved(-turned / 2))
            return True
        return super().eventFilter(watched, event)
