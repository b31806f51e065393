"""The bar of one begun task alone."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from hexapod.desktop.chart.coloring import row_color
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.theme.style import color, faded
from hexapod.plan.records import Task
from hexapod.schedule.schedule import computed_dates


class DoneBar(QWidget):
    """The task alone: the done part, the rest, and the status date between them."""

    HEIGHT = 34

    def __init__(self, desk: Desk, task: Task) -> None:
        super().__init__()
        self._desk, self._task = desk, task
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(f"{desk.length(task.rest, task.id)} left")

    def sizeHint(self) -> QSize:
        return QSize(200, self.HEIGHT)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        known = computed_dates(self._desk.schedule)
        if known is None or not known.has(self._task.id):
            return
        found, stream = known.dates(self._task.id), row_color(self._desk, self._task.id)
        until, rest_from = known.done_until(self._task.id)
        status = self._desk.plan.projects[self._task.project].status_date
        last = max(found.finish, status or 0, found.start + 1)
        scale = (self.width() - 2) / (last - found.start)

        def x(moment: int) -> float:
            return 1 + (min(max(moment, found.start), last) - found.start) * scale

        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(stream, 0.8))
        painter.setBrush(faded(stream, 110))
        painter.drawRoundedRect(QRectF(x(rest_from), 6, max(2.0, x(found.finish) - x(rest_from)), 13), 2, 2)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(stream)
        painter.drawRect(QRectF(x(found.start), 6, max(2.0, x(min(until, rest_from)) - x(found.start)), 13))
        if status is not None and status >= found.start:
            painter.setPen(QPen(color("petrol"), 1.4, Qt.PenStyle.DashLine))
            painter.drawLine(round(x(status)), 0, round(x(status)), self.HEIGHT - 8)
