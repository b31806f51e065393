"""The boxes of cells, drawn once and stamped wherever there is one: a picture takes a tenth of a rounded box's time."""

from __future__ import annotations

from typing import NamedTuple

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QPainter, QPen, QPixmap

from hexapod.desktop.theme.style import color, faded, palette

MARGIN = 1  # pixels round a box, for its edge
ROUND = 3.0
MOST = 60


class Stamp(NamedTuple):
    """A rounded box: the roles of its edge and of what fills it, and how they are drawn."""

    edge: str = ""
    width: float = 0.8
    fill: str = ""
    opacity: int = 255
    hatched: bool = False


_drawn: dict[tuple[object, ...], QPixmap] = {}


def stamp(painter: QPainter, box: QRectF, how: Stamp) -> None:
    """Draw a box; it is at whole pixels."""
    device = painter.device()
    ratio = device.devicePixelRatio() if device is not None else 1.0
    key = (how, box.width(), box.height(), palette().name, ratio)
    picture = _drawn.get(key)
    if picture is None:
        if len(_drawn) >= MOST:
            _drawn.clear()
        picture = _drawn[key] = _draw(how, box, ratio)
    painter.drawPixmap(box.topLeft() - QPointF(MARGIN, MARGIN), picture)


def _draw(how: Stamp, box: QRectF, ratio: float) -> QPixmap:
    picture = QPixmap(round((box.width() + 2 * MARGIN) * ratio), round((box.height() + 2 * MARGIN) * ratio))
    picture.setDevicePixelRatio(ratio)
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QPen(color(how.edge), how.width) if how.edge else Qt.PenStyle.NoPen)
    if how.hatched:
        painter.setBrush(QBrush(color(how.fill), Qt.BrushStyle.BDiagPattern))
    else:
        painter.setBrush(faded(color(how.fill), how.opacity) if how.fill else Qt.BrushStyle.NoBrush)
    painter.drawRoundedRect(QRectF(MARGIN, MARGIN, box.width(), box.height()), ROUND, ROUND)
    painter.end()
    return picture
