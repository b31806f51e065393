"""How a box of the network is drawn: its name, when it can be, when it must be, and the room between the two."""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QPainter, QPainterPath, QPen

from hexapod.desktop import dates
from hexapod.desktop.chart.geometry import hexagon
from hexapod.desktop.theme.style import color, faded, font
from hexapod.schedule.schedule import TaskDates
from hexapod.worktime.lengths import DAY_OF_WORK, format_length

WIDTH, HEIGHT = 176.0, 56.0
COLUMN, ROW = 248.0, 76.0  # from one layer, or one box, to the next
FULL, NAMED = 0.7, 0.36  # zoom from which on a box shows its dates, or its name
LONGEST_TRAIL = 52.0
TRAIL_OF_DAY = 3.2  # pixels that a day of float is long


@dataclass(frozen=True)
class BoxPicture:
    name: str
    dates: TaskDates
    stream: QColor
    is_milestone: bool
    is_summary: bool
    percent: float
    is_chosen: bool
    then: TaskDates | None = None  # as the plan has it, where a scenario has it otherwise


def trail_length(total_float: int | None) -> float:
    """How far the room of a task reaches to the right of its box; what is done has none."""
    return (
        0.0
        if total_float is None or total_float <= 0
        else min(LONGEST_TRAIL, 6.0 + TRAIL_OF_DAY * total_float / DAY_OF_WORK)
    )


def paint_box(painter: QPainter, box: QRectF, picture: BoxPicture, zoom: float) -> None:
    """In diagram pixels; what cannot be read at this zoom is left out."""
    found = picture.dates
    painter.setPen(QPen(color("petrol") if picture.is_chosen else color("link"), 2.4 if picture.is_chosen else 1.0))
    painter.setBrush(color("panel"))
    painter.drawRoundedRect(box, 5, 5)
    if picture.then is not None:
        _paint_then(painter, box, picture.then, zoom)
    stripe = QColor(picture.stream)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(stripe)
    path = QPainterPath()
    path.addRoundedRect(QRectF(box.left(), box.top(), 12, box.height()), 5, 5)
    painter.save()
    painter.setClipRect(QRectF(box.left(), box.top(), 6, box.height()), Qt.ClipOperation.IntersectClip)
    painter.drawPath(path)
    painter.restore()
    if found.critical:
        painter.fillRect(QRectF(box.left() + 6, box.bottom() - 3.5, box.width() - 12, 3), color("ink"))
    if picture.percent > 0:
        done = faded(picture.stream, 60)
        painter.fillRect(QRectF(box.left() + 6, box.top() + 1, (box.width() - 7) * picture.percent / 100, 21), done)
    if zoom >= NAMED:
        _paint_name(painter, box, picture, zoom)
    if zoom >= FULL:
        _paint_dates(painter, box, picture)
    _paint_trail(painter, box, found.total_float, zoom)


def _paint_then(painter: QPainter, box: QRectF, then: TaskDates, zoom: float) -> None:
    """A dashed line round what a scenario moves, with when the plan has it."""
    pen = QPen(color("amber"), 1.5)
    pen.setDashPattern([4.0, 3.0])
    painter.save()
    painter.setPen(pen)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRoundedRect(box.adjusted(-3, -3, 3, 3), 7, 7)
    if zoom >= FULL:
        painter.setFont(font(7))
        painter.setPen(color("amber"))
        words = f"in the plan {dates.short_day(then.start)} – {dates.short_day(then.finish)}"
        painter.drawText(QRectF(box.left(), box.top() - 17, box.width(), 13), Qt.AlignmentFlag.AlignLeft, words)
    painter.restore()
    painter.setBrush(color("panel"))


def _paint_name(painter: QPainter, box: QRectF, picture: BoxPicture, zoom: float) -> None:
    left = box.left() + 14
    if picture.is_milestone:
        painter.setPen(QPen(color("ink"), 1.4))
        painter.setBrush(picture.stream if picture.percent >= 100 else color("panel"))
        painter.drawPolygon(hexagon(QPointF(left + 4, box.top() + 12), 5.5))
        left += 15
    painter.setPen(color("ink"))
    room = box.right() - 8 - left
    if zoom >= FULL:
        painter.setFont(font(9, QFont.Weight.DemiBold))
        text = painter.fontMetrics().elidedText(picture.name, Qt.TextElideMode.ElideRight, int(room))
        painter.drawText(QRectF(left, box.top() + 1, room, 22), Qt.AlignmentFlag.AlignVCenter, text)
        return
    painter.setFont(font(min(18.0, 7.6 / zoom), QFont.Weight.DemiBold))  # as large on screen as it was
    place = QRectF(left, box.top() + 2, room, box.height() - 6)
    flags = Qt.AlignmentFlag.AlignVCenter | Qt.TextFlag.TextWordWrap
    painter.save()
    painter.setClipRect(place, Qt.ClipOperation.IntersectClip)
    painter.drawText(place, flags, picture.name)
    painter.restore()


def _paint_dates(painter: QPainter, box: QRectF, picture: BoxPicture) -> None:
    """When it is put, over when it must be finished at the latest and how long it takes."""
    found = picture.dates
    line = QRectF(box.left() + 14, box.top() + 21, box.width() - 22, 15)
    painter.setFont(font(8))
    painter.setPen(color("ink"))
    ends = "" if found.start == found.finish else f" – {dates.short_day(found.finish)}"
    painter.drawText(line, Qt.AlignmentFlag.AlignVCenter, f"{dates.short_day(found.start)}{ends}")
    painter.setPen(color("brick" if (found.total_float or 0) < 0 else "muted"))
    late = "done" if found.total_float is None else f"latest {dates.short_day(found.late_finish)}"
    painter.drawText(line.translated(0, 14), Qt.AlignmentFlag.AlignVCenter, late)
    if found.duration:
        right = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        painter.setPen(color("ink"))
        painter.drawText(line.translated(0, 14), right, format_length(found.duration))


def _paint_trail(painter: QPainter, box: QRectF, total_float: int | None, zoom: float) -> None:
    """The room of a task, to the right of it, as in the chart; negative float is said in brick."""
    length = trail_length(total_float)
    y = box.bottom() - 10
    if length:
        pen = QPen(color("muted"), 1.3)
        pen.setDashPattern([1.0, 2.4])
        painter.setPen(pen)
        painter.drawLine(QLineF(box.right() + 1, y, box.right() + length, y))
        painter.setPen(QPen(color("muted"), 1.3))
        painter.drawLine(QLineF(box.right() + length, y - 4, box.right() + length, y + 4))
    if zoom >= FULL and total_float:
        painter.setFont(font(7.5))
        painter.setPen(color("brick" if total_float < 0 else "muted"))
        painter.drawText(
            QRectF(box.right() + 4, y - 15, 56, 13), Qt.AlignmentFlag.AlignLeft, format_length(total_float)
        )
