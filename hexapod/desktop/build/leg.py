"""The Build leg: outline and chart on one row, the load strip beneath, their columns aligned."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QSizePolicy, QSplitter, QVBoxLayout, QWidget

from hexapod.desktop import dates
from hexapod.desktop.action import Registry
from hexapod.desktop.build.grid import Grid
from hexapod.desktop.chart.chart import Chart
from hexapod.desktop.chart.milestone_strip import MilestoneStrip
from hexapod.desktop.chart.overview import HEIGHT, Overview
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.strip.canvas import LoadCanvas
from hexapod.desktop.strip.info import LoadInfo
from hexapod.desktop.views.bar import ViewBar
from hexapod.plan.records import DAY

STRIP_HEIGHT = 168
GRID_WIDTH = 560


class BuildLeg(QWidget):
    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__()
        self.grid = Grid(desk, registry)
        self.chart = Chart(desk, registry)
        self.canvas = LoadCanvas(desk, self.chart)
        self.info = LoadInfo(desk, registry, self.canvas)
        self.chart.scale_changed.connect(self.canvas.update)
        self._share_rows()
        self.splitter = splitter = QSplitter(Qt.Orientation.Horizontal)
        splitter.setHandleWidth(1)
        splitter.setChildrenCollapsible(False)
        self.overview = Overview(desk, self.chart)
        extent = Extent(desk)
        for upper, between, lower in (
            (self.grid, extent, self.info), (self.chart, self.overview, self.canvas),
        ):  # fmt: skip
            column = QWidget()
            box = QVBoxLayout(column)
            box.setContentsMargins(0, 0, 0, 0)
            box.setSpacing(0)
            box.addWidget(upper, 1)
            box.addWidget(between)
            lower.setFixedHeight(STRIP_HEIGHT)
            box.addWidget(lower)
            splitter.addWidget(column)
        splitter.setStretchFactor(0, 0)
        splitter.setStretchFactor(1, 1)
        splitter.setSizes([GRID_WIDTH, 600])
        self.strip = MilestoneStrip(desk)
        self.bar = ViewBar(desk, registry)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(0)
        box.addWidget(self.bar)
        box.addWidget(self.strip)
        box.addWidget(splitter, 1)

    def _share_rows(self) -> None:
        """Grid and chart scroll as one."""
        left, right = self.grid.verticalScrollBar(), self.chart.verticalScrollBar()
        left.rangeChanged.connect(right.setRange)
        left.valueChanged.connect(right.setValue)
        right.valueChanged.connect(left.setValue)
        right.setSingleStep(27)
        left.setSingleStep(27)


class Extent(QLabel):
    """From when to when the project goes, beside the strip that shows it whole."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.setObjectName("extent")
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setProperty("role", "small")
        self.setFixedHeight(HEIGHT)
        self.setIndent(10)
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self._desk = desk
        for signal in (desk.changed, desk.computed, desk.looked_at_changed):
            signal.connect(self._show)
        self._show()

    def _show(self, *_: object) -> None:
        desk = self._desk
        project = desk.plan.projects.get(desk.project or "")
        finish = desk.schedule.project_finish.get(project.id) if project else None
        if project is None or finish is None:
            self.setText("")
            return
        start = desk.schedule.project_start.get(project.id, project.start)
        weeks = (finish - start) / (7 * DAY)
        self.setText(f"{dates.long_day(start)} to {dates.long_day(finish)} · {weeks:.0f} weeks")
