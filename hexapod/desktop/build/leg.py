"""The Build leg: outline and chart on one row, the load strip beneath, their columns aligned."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QSplitter, QVBoxLayout, QWidget

from hexapod.desktop.actions.action import Registry
from hexapod.desktop.build.grid import Grid
from hexapod.desktop.chart.chart import Chart
from hexapod.desktop.desk import Desk
from hexapod.desktop.strip.canvas import LoadCanvas
from hexapod.desktop.strip.info import LoadInfo

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
        splitter = QSplitter(Qt.Orientation.Horizontal)
        splitter.setHandleWidth(1)
        splitter.setChildrenCollapsible(False)
        for upper, lower in ((self.grid, self.info), (self.chart, self.canvas)):
            column = QWidget()
            box = QVBoxLayout(column)
            box.setContentsMargins(0, 0, 0, 0)
            box.setSpacing(0)
            box.addWidget(upper, 1)
            lower.setFixedHeight(STRIP_HEIGHT)
            box.addWidget(lower)
            splitter.addWidget(column)
        splitter.setStretchFactor(0, 0)
        splitter.setStretchFactor(1, 1)
        splitter.setSizes([GRID_WIDTH, 600])
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(splitter)

    def _share_rows(self) -> None:
        """Grid and chart scroll as one."""
        left, right = self.grid.verticalScrollBar(), self.chart.verticalScrollBar()
        left.rangeChanged.connect(right.setRange)
        left.valueChanged.connect(right.setValue)
        right.valueChanged.connect(left.setValue)
        right.setSingleStep(27)
        left.setSingleStep(27)
