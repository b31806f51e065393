"""The columns of the load strip, on the time axis of a chart."""

from __future__ import annotations

from typing import Protocol

import numpy as np
from PyQt6.QtCore import QLineF, QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QBrush, QFont, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from hexapod.desktop.chart.timescale import TimeScale
from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.load import COUNTED_AT_ONCE
from hexapod.desktop.strip.periods import WEEK, Period, hours, period_edges, periods_of
from hexapod.desktop.theme.style import color, faded, font
from hexapod.plan.records import DAY

TOP, BOTTOM = 26, 8
RESTS_AFTER = 120  # milliseconds
PIECE = 26  # periods that are worked out together
LEAST = 0.1  # hours that are seen


class TimeAxis(Protocol):
    """Whatever has a time scale, as the chart has."""

    scale: TimeScale


class LoadCanvas(QWidget):
    """``picked`` carries the period that was clicked."""

    picked = pyqtSignal(int, int)

    def __init__(self, desk: Desk, axis: TimeAxis) -> None:
        super().__init__()
        self.setObjectName("loadCanvas")
        self.setAccessibleName("Load against capacity")
        self.setMinimumHeight(90)
        self.desk = desk
        self._axis = axis
        self.length = WEEK
        self._missing: dict[int, np.ndarray] = {}
        self._at_rest = QTimer(self, singleShot=True, interval=RESTS_AFTER)
        self._at_rest.timeout.connect(self._find_missing)
        self._kept: dict[int, list[Period]] = {}  # periods by the piece of time that they lie in
        self._kept_of: tuple[object, object] = (None, None)
        self._kept_for: tuple[str, int] | None = None
        for signal in (desk.changed, desk.computed, desk.looked_at_changed, desk.load_changed):
            signal.connect(self.update)
        for signal in (desk.proposal_changed, desk.looks.changed):
            signal.connect(self.update)

    def show_by(self, length: int) -> None:
        """By day or by week."""
        self.length = length
        self.desk.period = None
        self.update()

    def periods(self) -> list[Period]:
        length = self.length if self._axis.scale.pixels * self.length / DAY >= 3 else WEEK
        edges = period_edges(self._axis.scale, self.width(), length)
        load = self.desk.load
        if not self.desk.resource or load is None or len(edges) < 2:
            return []
        of, wanted = (load, self.desk.beside), (self.desk.resource, length)
        if self._kept_of[0] is not of[0] or self._kept_of[1] is not of[1] or self._kept_for != wanted:
            self._kept, self._kept_of, self._kept_for = {}, of, wanted
            self._missing = {}
        found: list[Period] = []
        piece, shift = PIECE * length, 4 * DAY if length == WEEK else 0  # 1970 began on a Thursday
        for begin in range((int(edges[0]) - shift) // piece, (int(edges[-1]) - 1 - shift) // piece + 1):
            if begin not in self._kept:
                self._find(begin, begin * piece + shift, length)
            found += self._kept.get(begin, ())
        return [p for p in found if p.end > edges[0] and p.begin < edges[-1]]

    def _find(self, begin: int, first: int, length: int) -> None:
        """The periods of a piece of time; in a large plan they are worked out beside the interface."""
        desk, resource, kept = self.desk, self.desk.resource or "", self._kept
        edges = first + np.arange(PIECE + 1) * length
        if len(desk.plan.tasks) <= COUNTED_AT_ONCE:
            kept[begin] = periods_of(desk, resource, edges)
            return
        self._missing[begin] = edges
        self._at_rest.start()

    def _find_missing(self) -> None:
        """Once the axis rests: work done beside the interface would slow down its movement."""
        desk, resource, kept = self.desk, self.desk.resource or "", self._kept
        missing, self._missing = self._missing, {}

        def show(found: object) -> None:
            kept.update(found)  # type: ignore[call-overload]
            self.update()

        def work() -> dict[int, list[Period]]:
            return {begin: periods_of(desk, resource, edges) for begin, edges in missing.items()}

        in_background(self, work, show, lambda error: None)

    def column_of(self, period: Period, most: float) -> tuple[QRectF, QRectF]:
        """The boxes of the load within capacity and of the excess over it."""
        left, right = self._axis.scale.x(period.begin) + 1, self._axis.scale.x(period.end) - 1
        room = self.height() - TOP - BOTTOM
        within = min(period.load, period.capacity)
        h, over = room * within / most, room * max(0.0, period.load - period.capacity) / most
        base = self.height() - BOTTOM
        return QRectF(left, base - h, right - left, h), QRectF(left, base - h - over, right - left, over)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), color("raised"))
        found = self.periods()
        most = max([1.0, *(max(p.load, p.capacity, p.then or 0.0) for p in found)])
        for period in found:
            self._paint_column(painter, period, most)
        self._paint_capacity(painter, found, most)
        self._paint_then(painter, found, most)
        if not self.desk.resource:
            painter.setPen(color("faint"))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, "Add people or equipment to see their load")
        painter.end()

    def _paint_column(self, painter: QPainter, period: Period, most: float) -> None:
        within, excess = self.column_of(period, most)
        painter.fillRect(within, color("load"))
        if period.is_over:
            box = excess if excess.height() >= 1 else within.adjusted(0, 0, 0, min(0.0, 8 - within.height()))
            hatch = QBrush(color("brick"), Qt.BrushStyle.BDiagPattern)
            wash = faded(color("brick"), 38)
            painter.fillRect(box, wash)
            painter.fillRect(box, hatch)
            painter.setPen(QPen(color("brick"), 1.2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(box)
            nets_out = period.load <= period.capacity + 1e-9
            self._paint_number(painter, box, f"peak {period.peak:g}" if nets_out else hours(period.load), within)
        if self.desk.period == (period.begin, period.end):
            painter.setPen(QPen(color("ink"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            whole = within.united(excess) if period.load else QRectF(within.left(), TOP, within.width(), self.height())
            painter.drawRoundedRect(whole.adjusted(-1, -1, 1, 1), 2, 2)

    def _paint_number(self, painter: QPainter, box: QRectF, text: str, within: QRectF) -> None:
        painter.setFont(font(8, QFont.Weight.DemiBold))
        wide = painter.fontMetrics().horizontalAdvance(text)
        if wide > max(within.width() + 6, 18):
            text = text.removesuffix(" h")
            wide = painter.fontMetrics().horizontalAdvance(text)
        if wide <= within.width() + 8:
            painter.setPen(color("brick"))
            spot = QRectF(box.center().x() - wide / 2 - 2, box.top() - 15, wide + 4, 14)
            painter.drawText(spot, Qt.AlignmentFlag.AlignCenter, text)

    def _paint_capacity(self, painter: QPainter, found: list[Period], most: float) -> None:
        room = self.height() - TOP - BOTTOM
        painter.setPen(QPen(color("ink"), 1.3))
        last = None
        for period in found:
            y = self.height() - BOTTOM - room * period.capacity / most
            x1, x2 = self._axis.scale.x(period.begin), self._axis.scale.x(period.end)
            painter.drawLine(QLineF(x1, y, x2, y))
            if last is not None and last != y:
                painter.drawLine(QLineF(x1, last, x1, y))
            last = y
        if last is not None:
            painter.setFont(font(8))
            y = min((self.height() - BOTTOM - room * p.capacity / most) for p in found[-3:])
            painter.drawText(QRectF(self.width() - 70, y - 16, 62, 14), Qt.AlignmentFlag.AlignRight, "capacity")

    def _paint_then(self, painter: QPainter, found: list[Period], most: float) -> None:
        """A dashed box where the plan asks for more or less than the scenario that is open."""
        pen = QPen(color("petrol"), 1.4)
        pen.setDashPattern([3.0, 2.5])
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        room, base = self.height() - TOP - BOTTOM, self.height() - BOTTOM
        for period in found:
            if period.then is not None and abs(period.then - period.load) >= LEAST:
                left, right = self._axis.scale.x(period.begin) + 2.5, self._axis.scale.x(period.end) - 2.5
                painter.drawRect(
                    QRectF(left, base - room * period.then / most, right - left, room * period.then / most)
                )

    def mousePressEvent(self, event: QMouseEvent) -> None:
        at = self._axis.scale.minute(event.position().x())
        for period in self.periods():
            if period.begin <= at < period.end:
                self.desk.look_at_resource(self.desk.resource, (period.begin, period.end))
                self.picked.emit(period.begin, period.end)
                return
