"""The time in which a calendar does not work, as lines of pixels that are kept while one scrolls sideways."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPixmap

from hexapod.desktop.chart.timescale import TimeScale
from hexapod.desktop.chart.workdays import Idleness
from hexapod.desktop.theme.style import color

SHADED_DAYS, SHADED_HOURS = 2.2, 120.0  # pixels a day from which on idle days, and idle hours, are shaded


class Shades:
    """Each line reaches a width beyond what is on screen, to either side."""

    def __init__(self) -> None:
        self._lines: dict[str, QPixmap] = {}
        self._scale = TimeScale(0, 1.0)  # of the lines: their first pixel is at its origin
        self._key: tuple[object, ...] = ()
        self._idle: Idleness | None = None

    def paint(self, painter: QPainter, scale: TimeScale, idle: Idleness, calendar: str, box: QRectF) -> None:
        """Shade a box as high as the rows that follow a calendar, as finely as this zoom shows."""
        if scale.pixels < SHADED_DAYS:
            return
        width = round(box.width())
        key = (scale.pixels, width, color("shade").name())
        left = self._scale.x(scale.origin)
        if self._key != key or self._idle is not idle or not 0 <= left <= 2 * width:
            self._lines, self._key, self._idle = {}, key, idle
            self._scale = scale.moved(-width)
            left = self._scale.x(scale.origin)
        line = self._lines.get(calendar)
        if line is None:
            line = self._lines[calendar] = self._line(idle, calendar, 3 * width)
        painter.drawTiledPixmap(box, line, QPointF(left, 0))  # a third of the time that stretching it takes

    def _line(self, idle: Idleness, calendar: str, width: int) -> QPixmap:
        line = QPixmap(max(1, width), 1)
        line.fill(Qt.GlobalColor.transparent)
        painter = QPainter(line)
        scale = self._scale
        find = idle.hours if scale.pixels >= SHADED_HOURS else idle.days
        for begin, end in find(calendar, scale.minute(0), scale.minute(width)):
            x = scale.x(begin)
            painter.fillRect(QRectF(x, 0, scale.x(end) - x, 1), color("shade"))
        painter.end()
        return line
