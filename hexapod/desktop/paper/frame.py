"""What is round a drawing on paper: title block, legend, page number and page map."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QPainter, QPen

from hexapod.desktop.chart import geometry as g
from hexapod.desktop.paper.paper import FOOT, LEGEND, TITLE, Paper, Tile
from hexapod.desktop.theme.style import color, faded, font, stream_color

LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
MOST_CELLS = 40  # of the page map, each way


@dataclass(frozen=True)
class Title:
    """``name`` of what is drawn, ``below`` it what of it, and ``right`` what is to be known of it."""

    name: str
    below: str
    right: tuple[str, str]


def paint_frame(painter: QPainter, paper: Paper, title: Title, pages: Sequence[Tile], number: int) -> None:
    """Everything but the drawing of page ``number``, counted from 0."""
    sheet = paper.sheet()
    if paper.title:
        _paint_title(painter, sheet, title)
    if paper.legend:
        top = sheet.bottom() - FOOT - LEGEND
        paint_legend(painter, QRectF(sheet.left(), top, sheet.width(), LEGEND))
    foot = QRectF(sheet.left(), sheet.bottom() - FOOT, sheet.width(), FOOT)
    painter.setPen(color("rule"))
    painter.drawLine(foot.topLeft(), foot.topRight())
    painter.setFont(font(8))
    painter.setPen(color("muted"))
    painter.drawText(foot, LEFT, f"Page {number + 1} of {len(pages)}")
    if len(pages) > 1:
        _paint_map(painter, foot, pages, pages[number])


def _paint_title(painter: QPainter, sheet: QRectF, title: Title) -> None:
    half = sheet.width() * 0.62
    painter.setPen(color("ink"))
    painter.setFont(font(13, QFont.Weight.DemiBold))
    name = painter.fontMetrics().elidedText(title.name, Qt.TextElideMode.ElideRight, int(half))
    painter.drawText(QRectF(0, 0, half, 22), LEFT, name)
    painter.setFont(font(8.5))
    painter.setPen(color("muted"))
    below = painter.fontMetrics().elidedText(title.below, Qt.TextElideMode.ElideRight, int(half))
    painter.drawText(QRectF(0, 21, half, 16), LEFT, below)
    painter.drawText(QRectF(half, 21, sheet.width() - half, 16), RIGHT, title.right[1])
    painter.setPen(color("ink"))
    painter.setFont(font(9, QFont.Weight.DemiBold))
    painter.drawText(QRectF(half, 2, sheet.width() - half, 18), RIGHT, title.right[0])
    painter.setPen(QPen(color("ink"), 1.4))
    painter.drawLine(QLineF(0, TITLE - 5, sheet.width(), TITLE - 5))


def _paint_map(painter: QPainter, foot: QRectF, pages: Sequence[Tile], here: Tile) -> None:
    """The pages as they lie beside and below each other, with this one filled."""
    across, down = max(p.across for p in pages) + 1, max(p.down for p in pages) + 1
    if across > MOST_CELLS or down > MOST_CELLS:
        place = f"column {here.across + 1} of {across}, row {here.down + 1} of {down}"
        painter.drawText(foot, RIGHT, place)
        return
    size = min(8.0, (foot.height() - 6) / down, foot.width() / 3 / across)
    left, top = foot.right() - across * size - 1, foot.center().y() - down * size / 2
    painter.setPen(QPen(color("link"), 0.6))
    for page in pages:
        painter.setBrush(color("petrol") if page is here else Qt.BrushStyle.NoBrush)
        painter.drawRect(QRectF(left + page.across * size, top + page.down * size, size, size))
    painter.setBrush(Qt.BrushStyle.NoBrush)


def paint_legend(painter: QPainter, box: QRectF) -> None:
    """The codes in one line."""
    painter.save()
    painter.setClipRect(box, Qt.ClipOperation.IntersectClip)
    x, y = box.left(), box.center().y()
    stream = stream_color(2)
    pale = faded(stream, 110)
    painter.setFont(font(8))
    for words, draw in _CODES:
        draw(painter, x, y, stream, pale)
        painter.setPen(color("ink"))
        wide = painter.fontMetrics().horizontalAdvance(words)
        painter.drawText(QRectF(x + 34, box.top(), wide + 4, box.height()), LEFT, words)
        x += 34 + wide + 18
    painter.restore()


def _task(painter: QPainter, x: float, y: float, stream: QColor, pale: QColor) -> None:
    painter.setPen(QPen(stream, 0.8))
    painter.setBrush(pale)
    painter.drawRoundedRect(QRectF(x, y - 5, 28, 10), 2, 2)
    painter.fillRect(QRectF(x, y - 5, 12, 10), stream)


def _critical(painter: QPainter, x: float, y: float, stream: QColor, pale: QColor) -> None:
    painter.setPen(QPen(stream, 0.8))
    painter.setBrush(pale)
    painter.drawRoundedRect(QRectF(x, y - 6, 28, 9), 2, 2)
    painter.fillRect(QRectF(x, y + 4.5, 28, 2.5), color("ink"))


def _float(painter: QPainter, x: float, y: float, stream: QColor, pale: QColor) -> None:
    pen = QPen(color("muted"), 1.3)
    pen.setDashPattern([1.0, 2.4])
    painter.setPen(pen)
    painter.drawLine(QLineF(x, y, x + 27, y))
    painter.setPen(QPen(color("muted"), 1.3))
    painter.drawLine(QLineF(x + 27, y - 4, x + 27, y + 4))


def _milestone(painter: QPainter, x: float, y: float, stream: QColor, pale: QColor) -> None:
    painter.setPen(QPen(color("ink"), 1.6))
    painter.setBrush(color("panel"))
    painter.drawPolygon(g.hexagon(QPointF(x + 18, y), 6.5))


def _summary(painter: QPainter, x: float, y: float, stream: QColor, pale: QColor) -> None:
    painter.setPen(QPen(color("muted"), 1.2))
    painter.setBrush(color("panel"))
    painter.drawRoundedRect(QRectF(x, y - 4.5, 28, 9), 4.5, 4.5)


def _target(painter: QPainter, x: float, y: float, stream: QColor, pale: QColor) -> None:
    painter.setPen(QPen(color("muted"), 1.6))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPath(g.gate_path(x + 18, y - g.BAR_TOP - g.BAR_HEIGHT / 2))


def _limit(painter: QPainter, x: float, y: float, stream: QColor, pale: QColor) -> None:
    painter.setPen(QPen(color("ink"), 1.4))
    painter.setBrush(color("amber"))
    painter.drawLine(QLineF(x + 18, y - 3, x + 18, y + 5))
    painter.drawEllipse(QPointF(x + 18, y - 4), 2.6, 2.6)


_CODES = (
    ("task, with its done part", _task), ("critical", _critical), ("float", _float), ("milestone", _milestone),
    ("summary", _summary), ("target date", _target), ("limit", _limit),
)  # fmt: skip
