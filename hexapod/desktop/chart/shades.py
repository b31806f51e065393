"""The time in which a calendar does not work, as lines of pixels that are kept while one scrolls sideways."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QImage, QPainter, QPixmap

from hexapod.desktop.chart.timescale import TimeScale
from hexapod.desktop.chart.workdays import Idleness
from hexapod.desktop.theme.style import color
from hexapod.plan.records import DAY

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
        scale, width = self._scale, max(1, width)
        find = idle.hours if scale.pixels >= SHADED_HOURS else idle.days
        spans = np.array(find(calendar, scale.minute(0), scale.minute(width)), dtype=np.int64).reshape(-1, 2)
        edges = np.clip(np.rint((spans - scale.origin) * (scale.pixels / DAY)), 0, width).astype(np.int64)
        steps = np.bincount(edges[:, 0], minlength=width + 1) - np.bincount(edges[:, 1], minlength=width + 1)
        pixels = np.where(np.cumsum(steps[:width]) > 0, color("shade").rgba(), 0).astype(np.uint32)
        line = QImage(pixels.tobytes(), width, 1, QImage.Format.Format_ARGB32_Premultiplied)
        return QPixmap.fromImage(line.copy())  # which owns its pixels
