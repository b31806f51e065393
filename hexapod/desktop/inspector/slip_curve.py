"""If it slips: how far the finish moves for every delay of a task, as a small curve that can be read off."""

from __future__ import annotations

import math
from collections.abc import Callable
from itertools import pairwise

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from hexapod.desktop.theme.style import color, font
from hexapod.schedule.schedule import Schedule
from hexapod.worktime.lengths import DAY_OF_WORK, format_days

POINTS = 8
LEAST_SPAN = 20  # working days that the curve spans at least
HEIGHT, BOTTOM, LEFT = 88, 16, 30
Points = list[tuple[int, int]]  # delay and move of the finish, in minutes of work


def slip_points(schedule: Schedule, task_id: str, goes_on: Callable[[], bool] = lambda: True) -> Points:
    """The moves of the finish for delays to well beyond the task's float; each is a schedule of its own."""
    from hexapod.schedule.slip import slip

    room = (schedule.dates(task_id).total_float or 0) / DAY_OF_WORK
    step = math.ceil(max(LEAST_SPAN, 1.6 * room) / POINTS)
    found = [(0, 0)]
    for i in range(1, POINTS + 1):
        if not goes_on():
            break
        delay = i * step * DAY_OF_WORK
        found.append((delay, slip(schedule, task_id, delay).finish_moves))
    return found


class SlipCurve(QWidget):
    """Left and Right, or the pointer, read it off."""

    def __init__(self, said: Callable[[int, int], None]) -> None:
        super().__init__()
        self.setObjectName("slipCurve")
        self.setAccessibleName("How far the finish moves for each delay")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.points: Points = []
        self._said = said
        self._at = -1

    def sizeHint(self) -> QSize:
        return QSize(200, HEIGHT)

    def show_points(self, points: Points) -> None:
        self.points = points
        words = ", ".join(f"{format_days(d)} late: {format_days(f)}" for d, f in points[1:])
        self.setAccessibleDescription(f"The finish moves by: {words}")
        self.update()

    def _place(self, point: tuple[int, int]) -> QPointF:
        most_delay = max(1, self.points[-1][0])
        most = max(most_delay, *(f for _, f in self.points))
        width, height = self.width() - LEFT - 8, HEIGHT - BOTTOM - 8
        return QPointF(LEFT + width * point[0] / most_delay, 6 + height * (1 - point[1] / most))

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        base = HEIGHT - BOTTOM - 2
        painter.setPen(QPen(color("rule"), 1))
        painter.drawLine(QPointF(LEFT, base), QPointF(self.width() - 8, base))
        if len(self.points) > 1:
            self._paint_curve(painter)
        if self.hasFocus():
            painter.setPen(QPen(color("petrol"), 1, Qt.PenStyle.DotLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.rect().adjusted(0, 0, -1, -1))
        painter.end()

    def _paint_curve(self, painter: QPainter) -> None:
        base = HEIGHT - BOTTOM - 2
        places = [self._place(p) for p in self.points]
        most = max(f for _, f in self.points)
        painter.setFont(font(7.5))
        painter.setPen(color("muted"))
        right = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        if most:
            painter.drawText(QRectF(0, places[-1].y() - 7, LEFT - 4, 14), right, format_days(most))
        last = format_days(self.points[-1][0])
        painter.drawText(QRectF(self.width() - 68, base + 2, 60, 13), right, f"{last} late")
        painter.setPen(QPen(color("petrol"), 1.8))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for a, b in pairwise(places):
            painter.drawLine(a, b)
        painter.setBrush(color("panel"))
        for i, place in enumerate(places):
            painter.setBrush(color("petrol") if i == self._at else color("panel"))
            painter.drawEllipse(place, 2.8, 2.8)

    def _read(self, at: int) -> None:
        if 0 <= at < len(self.points) and at != self._at:
            self._at = at
            self._said(*self.points[at])
            self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self.points:
            x = event.position().x()
            self._read(min(range(len(self.points)), key=lambda i: abs(self._place(self.points[i]).x() - x)))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        side = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if side is None:
            event.ignore()
        else:
            self._read(max(0, min(self._at + side, len(self.points) - 1)))
