"""The whole plan as a thin strip: where the work lies, and which part of it the chart shows."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap
from PyQt6.QtWidgets import QSizePolicy, QWidget

from hexapod.desktop.chart.chart import Chart
from hexapod.desktop.chart.timescale import TimeScale
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.theme.style import color, faded
from hexapod.plan.records import DAY
from hexapod.schedule.schedule import Dates, computed_dates

HEIGHT = 24
MARGIN = 14 * DAY


class Overview(QWidget):
    """Drag or press to move the chart there; the arrows do it by the keyboard."""

    def __init__(self, desk: Desk, chart: Chart) -> None:
        super().__init__()
        self.setObjectName("overview")
        self.setAccessibleName("The whole plan: drag to move in it")
        self.setToolTip("The whole plan. Drag to move the chart along it.")
        self.setFixedHeight(HEIGHT)
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self._desk, self._chart = desk, chart
        self._counts: tuple[NDArray[np.int64], NDArray[np.int64]] | None = None
        self._counted: tuple[str | None, bool, int] | None = None
        self._counted_of: Dates | None = None
        self._drawn: QPixmap | None = None
        self._drawn_for: tuple[object, ...] | None = None
        chart.scale_changed.connect(self.update)
        for signal in (desk.changed, desk.computed, desk.looked_at_changed):
            signal.connect(self.update)

    def scale(self) -> TimeScale:
        """The whole extent over the width."""
        begin, end = self._chart.extent()
        begin, end = begin - MARGIN, end + MARGIN
        return TimeScale(begin, max(1e-6, self.width() * DAY / max(DAY, end - begin)))

    def window(self) -> QRectF:
        """The part that the chart shows."""
        scale, shown = self.scale(), self._chart.scale
        left = scale.x(shown.minute(0))
        right = scale.x(shown.minute(self._chart.viewport().width()))
        return QRectF(left, 1, max(8.0, right - left), self.height() - 3)

    def counts(self) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
        """How many tasks, and how many critical ones, are under way at each pixel; kept for a schedule."""
        desk = self._desk
        key = (desk.project, desk.on_show.view.everywhere, self.width())
        if self._counts is None or self._counted != key or self._counted_of is not desk.schedule:
            self._counts, self._counted, self._counted_of = self._count(), key, desk.schedule
        return self._counts

    def _count(self) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
        desk, scale, width = self._desk, self.scale(), self.width()
        schedule = computed_dates(desk.schedule)
        nothing = np.zeros(width, dtype=np.int64)
        if schedule is None or desk.project not in schedule.network.projects:
            return nothing, nothing
        network = schedule.network
        leaves = network.structure.leaf == 1
        if not desk.on_show.view.everywhere:
            leaves &= network.tasks.project == network.projects.index(desk.project)

        def under_way(which: NDArray[np.bool_]) -> NDArray[np.int64]:
            slots = np.flatnonzero(which)
            first = np.clip(((schedule.start[slots] - scale.origin) * scale.pixels / DAY).astype(np.int64), 0, width)
            last = np.clip(((schedule.finish[slots] - scale.origin) * scale.pixels / DAY).astype(np.int64), 0, width)
            edges = np.bincount(first, minlength=width + 2) - np.bincount(last + 1, minlength=width + 2)[: width + 2]
            return np.cumsum(edges)[:width]

        return under_way(leaves), under_way(leaves & (schedule.critical == 1))

    def _picture(self) -> QPixmap:
        """The work over time, drawn once for a schedule."""
        key = (self.counts()[0].ctypes.data, color("load").name(), self.devicePixelRatioF())
        if self._drawn is None or self._drawn_for != key:
            self._drawn, self._drawn_for = self._draw(), key
        return self._drawn

    def _draw(self) -> QPixmap:
        ratio = self.devicePixelRatioF()
        picture = QPixmap(round(self.width() * ratio), round(self.height() * ratio))
        picture.setDevicePixelRatio(ratio)
        picture.fill(Qt.GlobalColor.transparent)
        painter = QPainter(picture)
        tasks, critical = self.counts()
        most, room = max(1, int(tasks.max(initial=1))), self.height() - 6
        for counts, role in ((tasks, "load"), (critical, "ink")):
            for x in np.flatnonzero(counts).tolist():
                high = max(1, round(room * int(counts[x]) / most))
                painter.fillRect(x, self.height() - 2 - high, 1, high, color(role))
        painter.end()
        return picture

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), color("raised"))
        painter.drawPixmap(0, 0, self._picture())
        window = self.window()
        wash = faded(color("petrol"), 34)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(color("petrol"), 2 if self.hasFocus() else 1.2))
        painter.setBrush(wash)
        painter.drawRoundedRect(window, 3, 3)
        painter.end()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._move_to(event.position().x())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if event.buttons() & Qt.MouseButton.LeftButton:
            self._move_to(event.position().x())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        side = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if side is None:
            event.ignore()
            return
        bar = self._chart.horizontalScrollBar()
        bar.setValue(bar.value() + side * bar.pageStep() // 4)

    def _move_to(self, x: float) -> None:
        """The middle of the chart goes to where the pointer is."""
        middle = self.scale().minute(x)
        half = self._chart.viewport().width() / 2 * DAY / self._chart.scale.pixels
        self._chart.go_to_origin(round(middle - half))
