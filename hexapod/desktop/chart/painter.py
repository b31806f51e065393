"""Painting of the chart's rows, links and time axis, in the codes of the legend."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QPainter, QPainterPath, QPen, QPolygonF

from hexapod.desktop.chart import geometry as g
from hexapod.desktop.chart.timescale import TimeScale, marks
from hexapod.desktop.theme.style import color, faded, font
from hexapod.desktop.theme.text import draw_text, width_of
from hexapod.schedule.schedule import TaskDates
from hexapod.worktime.lengths import format_days

PALE = 110  # opacity of work that is not done
FLOAT_WIDTH, FLOAT_DOTS = 1.3, 4.4  # of the line that stands for float, and from one of its dots to the next
EVERYWHERE = (-1e9, 1e9)


NOTHING_DONE = g.DonePart(0.0, 0.0)


@dataclass(slots=True)
class RowPicture:
    """All that the painting of one task's row needs to know."""

    dates: TaskDates
    stream: QColor
    is_summary: bool
    label: str = ""
    target: int | None = None
    is_limited: bool = False
    free_start: int | None = None  # before a hold
    moved: int = 0  # working minutes by which the finish moved just now
    ghosts: tuple[TaskDates, ...] = ()  # where the task would be, and where its rest if it is interrupted
    percent: float = 0.0
    done: g.DonePart = NOTHING_DONE
    rest_from: int | None = None  # when the rest of begun work starts, where something holds it back
    is_struck: bool = False
    then: tuple[int, int] | None = None  # start and finish in the baseline
    band: tuple[int, int] | None = None  # where its finish lies in eight of ten rounds
    range: tuple[int, int] | None = None  # its finish at best and at worst, if it starts when it does


def paint_axis(painter: QPainter, scale: TimeScale, width: int, height: int) -> None:
    """The two lines of the time axis."""
    upper, lower = marks(scale, width)
    half = height // 2
    painter.fillRect(QRectF(0, 0, width, height), color("raised"))
    rule, face = color("rule"), font(9, QFont.Weight.DemiBold)
    painter.setPen(color("ink"))
    for mark in upper:
        x = scale.x(mark.minute)
        painter.fillRect(QRectF(x, 0, 1, half), rule)
        left = max(x + 5, 5.0)
        room = scale.x(mark.end) - left - 4
        if room > 18:
            draw_text(painter, face, mark.label, QRectF(left, 2, room, half - 2))
    painter.setPen(color("muted"))
    face = font(8.5)
    for mark in lower:
        x = scale.x(mark.minute)
        painter.fillRect(QRectF(x, half, 1, height - half), rule)
        wide = width_of(face, mark.label) + 2
        if scale.x(mark.end) - x >= wide:
            draw_text(painter, face, mark.label, QRectF(x + 3, half, wide, height - half - 2))
    painter.fillRect(QRectF(0, height - 1, width, 1), rule)


def paint_row(
    painter: QPainter, scale: TimeScale, picture: RowPicture, top: float, span: tuple[float, float] = EVERYWHERE
) -> None:
    """One task: float, bar or hexagon or capsule, target, pins, label; what is not seen in the span is left out."""
    left, right = span
    for ghost in picture.ghosts:
        _paint_ghost(painter, scale, picture, ghost, top)
    if not picture.is_summary:
        _paint_float(painter, scale, picture.dates, top, span)
    if picture.then is not None:
        _paint_then(painter, scale, picture.then, top)
    if picture.band is not None:
        _paint_band(painter, scale, picture.band, top)
    shape = (g.summary_rect if picture.is_summary else g.bar_rect)(scale, picture.dates, top)
    is_seen = shape.left() - g.LABEL_MARGIN <= right and shape.right() + _label_room(picture) >= left
    if is_seen:
        (_paint_summary if picture.is_summary else _paint_work)(painter, scale, picture, top)
        if picture.range is not None:
            _paint_range(painter, scale, picture.range, shape)
    if picture.target is not None:
        missed = picture.dates.finish > picture.target
        painter.setPen(QPen(color("brick" if missed else "muted"), 1.6))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(g.gate_path(scale.x(picture.target), top))
    if is_seen:
        _paint_label(painter, picture, top, shape)


def paint_link(painter: QPainter, path: QPainterPath, *, driving: bool, chosen: bool) -> None:
    """A link; one that drives the finish is ink, so that the driving chain reads as one line."""
    role = "petrol" if chosen else "ink" if driving else "link"
    painter.setPen(QPen(color(role), 1.7 if driving or chosen else 1.0))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPath(path)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(color(role))
    painter.drawEllipse(path.currentPosition(), 2.3, 2.3)


def paint_broken_link(painter: QPainter, path: QPainterPath) -> None:
    """A link that only warns, and is not kept: brick, with a gap at the middle between two strokes."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    pen = QPen(color("brick"), 1.7)
    length = max(path.length(), 1.0)
    half = max((length - 8) / 2, 1.0) / 1.7
    pen.setDashPattern([half, 8 / 1.7, half, 1.0])
    pen.setCapStyle(Qt.PenCapStyle.FlatCap)
    painter.setPen(pen)
    painter.drawPath(path)
    painter.setPen(QPen(color("brick"), 1.7))
    for part in (0.5 - 4 / length, 0.5 + 4 / length):
        at = path.pointAtPercent(max(0.0, min(1.0, part)))
        painter.drawLine(QPointF(at.x() - 3, at.y() - 3), QPointF(at.x() + 3, at.y() + 3))


def paint_handle(painter: QPainter, at: QPointF) -> None:
    """Where a link can be drawn from."""
    painter.setPen(QPen(color("petrol"), 1.5))
    painter.setBrush(color("panel"))
    painter.drawEllipse(at, g.HANDLE_RADIUS, g.HANDLE_RADIUS)


def paint_status_line(
    painter: QPainter, x: float, height: int, text: str, taken: Sequence[tuple[float, float]]
) -> None:
    """The status date with its tag; not over bars and letters, which are ``taken``, from one height to another."""
    painter.setPen(QPen(color("petrol"), 1.4, Qt.PenStyle.DashLine))
    for top, bottom in g.outside(0, height, taken):
        painter.drawLine(QLineF(x, top, x, bottom))
    painter.setFont(font(7.5, QFont.Weight.DemiBold))
    width = painter.fontMetrics().horizontalAdvance(text) + 10
    paint_tag(painter, QRectF(x - width / 2, height - 16, width, 15), text)


def paint_tag(painter: QPainter, box: QRectF, text: str) -> None:
    """Words on a petrol ground, in the painter's face."""
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(color("petrol"))
    painter.drawRoundedRect(box, 3, 3)
    painter.setPen(color("on_petrol"))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)


def _is_milestone(dates: TaskDates) -> bool:
    return dates.duration == 0 and dates.start == dates.finish


def _paint_summary(painter: QPainter, scale: TimeScale, picture: RowPicture, top: float) -> None:
    rect = g.summary_rect(scale, picture.dates, top)
    painter.setPen(QPen(color("muted"), 1.2))
    painter.setBrush(color("panel"))
    painter.drawRoundedRect(rect, g.SUMMARY_HEIGHT / 2, g.SUMMARY_HEIGHT / 2)
    if picture.percent > 0:
        inner = rect.adjusted(2, 2, -2, -2)
        inner.setWidth(max(3.0, inner.width() * picture.percent / 100))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(color("muted"))
        painter.drawRoundedRect(inner, inner.height() / 2, inner.height() / 2)
    if picture.dates.critical:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(color("ink"))
        painter.drawRect(QRectF(rect.left() + 3, rect.bottom() + 1.5, max(2.0, rect.width() - 6), 1.5))


def _paint_float(painter: QPainter, scale: TimeScale, dates: TaskDates, top: float, span: tuple[float, float]) -> None:
    if dates.total_float is None or dates.total_float <= 0:
        return
    y = top + g.BAR_TOP + g.BAR_HEIGHT / 2
    x1, x2 = scale.x(dates.finish), scale.x(dates.late_finish)
    if x2 - x1 < 3:
        return
    left, right = span
    x1 += 1 + max(0, (left - x1) // FLOAT_DOTS) * FLOAT_DOTS  # so that the dots do not move
    if x1 < min(x2, right):
        painter.setPen(_float_pen(color("muted").rgba()))
        painter.drawLine(QLineF(x1, y, min(x2, right), y))
    painter.fillRect(QRectF(x2 - 0.65, y - 4, 1.3, 8), color("muted"))


@cache
def _float_pen(colour: int) -> QPen:
    pen = QPen(QColor.fromRgba(colour), FLOAT_WIDTH)
    pen.setDashPattern([1.0, FLOAT_DOTS / FLOAT_WIDTH - 1])
    return pen


def _paint_work(painter: QPainter, scale: TimeScale, picture: RowPicture, top: float) -> QRectF:
    """The bar or hexagon; its box."""
    dates = picture.dates
    rect = g.bar_rect(scale, dates, top)
    if picture.free_start is not None and picture.free_start < dates.start:
        _paint_hold(painter, scale.x(picture.free_start), rect)
    pale = faded(picture.stream, PALE)
    if _is_milestone(dates):
        painter.setPen(QPen(color("ink") if dates.critical else picture.stream, 2.0 if dates.critical else 1.6))
        painter.setBrush(picture.stream if picture.percent >= 100 else color("panel"))
        painter.drawPolygon(g.hexagon(rect.center(), g.HEXAGON))
    else:
        rest = rect if picture.rest_from is None else _paint_pause(painter, scale.x(picture.rest_from), rect, picture)
        painter.setPen(QPen(picture.stream, 0.8))
        painter.setBrush(pale)
        painter.drawRoundedRect(rest.adjusted(0.4, 0.4, -0.4, -0.4), 2, 2)
        if picture.done.share > 0:
            done = QRectF(rect.left(), rect.top(), rect.width() * picture.done.share, rect.height())
            painter.fillRect(done.adjusted(0.4, 0.4, 0, -0.4), picture.stream)
        if dates.critical:
            keel = QRectF(rect.left(), rect.bottom() + g.KEEL_GAP, rect.width(), g.KEEL_HEIGHT)
            painter.fillRect(keel, color("ink"))
    if picture.is_limited:
        painter.setPen(QPen(color("ink"), 1.4))
        painter.setBrush(color("amber"))
        painter.drawLine(QLineF(rect.left(), rect.top() - 1, rect.left(), rect.top() + 6))
        painter.drawEllipse(QPointF(rect.left(), rect.top() - 1), 2.6, 2.6)
    return rect


def _paint_pause(painter: QPainter, x: float, bar: QRectF, picture: RowPicture) -> QRectF:
    """The line from the done part of begun work to its rest, which waits; the box of the rest."""
    done = bar.left() + bar.width() * picture.done.share
    painter.setPen(QPen(picture.stream, 1.2))
    painter.drawLine(QLineF(done, bar.center().y(), x, bar.center().y()))
    return QRectF(min(x, bar.right() - 2), bar.top(), max(2.0, bar.right() - x), bar.height())


def _paint_hold(painter: QPainter, x: float, bar: QRectF) -> None:
    """The wedge before a bar: how long levelling holds it back."""
    path = QPainterPath(QPointF(x, bar.center().y()))
    path.lineTo(bar.left(), bar.top() + 2)
    path.lineTo(bar.left(), bar.bottom() - 2)
    path.closeSubpath()
    wedge = faded(color("amber"), 150)
    painter.fillPath(path, wedge)


def _paint_ghost(painter: QPainter, scale: TimeScale, picture: RowPicture, ghost: TaskDates, top: float) -> None:
    """Where the task would be: a dashed outline."""
    pen = QPen(color("petrol"), 1.4, Qt.PenStyle.DashLine)
    painter.setPen(pen)
    fill = faded(color("petrol"), 36)
    painter.setBrush(fill)
    if picture.is_summary:
        painter.drawRoundedRect(g.summary_rect(scale, ghost, top), 4, 4)
    elif _is_milestone(ghost):
        painter.drawPolygon(g.hexagon(g.bar_rect(scale, ghost, top).center(), g.HEXAGON))
    else:
        painter.drawRoundedRect(g.bar_rect(scale, ghost, top).adjusted(0.5, -1.5, -0.5, 1.5), 3, 3)


def _paint_then(painter: QPainter, scale: TimeScale, then: tuple[int, int], top: float) -> None:
    """Where the baseline had the row: a thin line at its foot, the outline of a small hexagon for a moment."""
    left, right = scale.x(then[0]), scale.x(then[1])
    y = top + g.THEN_TOP
    if then[0] == then[1]:
        painter.setPen(QPen(color("link"), 1.2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolygon(g.hexagon(QPointF(left, y), g.THEN_RADIUS))
    else:
        painter.fillRect(QRectF(left, y - 1, max(2.0, right - left), 2), color("link"))


def _paint_band(painter: QPainter, scale: TimeScale, band: tuple[int, int], top: float) -> None:
    """Where the finish lies in most rounds: a soft ground behind the bar."""
    left, right = scale.x(band[0]), scale.x(band[1])
    tone = QColor(color("petrol"))
    tone.setAlphaF(0.18)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(tone)
    painter.drawRoundedRect(QRectF(left, top + g.BAR_TOP - 3, max(2.0, right - left), g.BAR_HEIGHT + 6), 4, 4)


def _paint_range(painter: QPainter, scale: TimeScale, found: tuple[int, int], shape: QRectF) -> None:
    """From the best to the worst finish: a fine line above the bar's end, where it crosses no words."""
    left, right = scale.x(found[0]), scale.x(found[1])
    y = shape.top() - 2.5
    painter.setPen(QPen(color("muted"), 1.0))
    painter.drawLine(QLineF(left, y, right, y))
    for x in (left, right):
        painter.drawLine(QLineF(x, y - 2, x, y + 2))


def _label_room(picture: RowPicture) -> float:
    """How far behind its shape the words of a task reach at most."""
    moved = 80 if picture.moved else 0
    return moved + (width_of(font(8, strike=picture.is_struck), picture.label) + 20 if picture.label else 20)


def _paint_label(painter: QPainter, picture: RowPicture, top: float, shape: QRectF) -> None:
    """Who is assigned: inside the bar where there is room, else behind it, as behind what stands for a summary. Before
    it, how far it just moved."""
    x = shape.right() + 6
    if picture.moved:
        text = f"{'+' if picture.moved > 0 else ''}{format_days(picture.moved)}"
        x = _paint_text(painter, font(8.5, QFont.Weight.DemiBold), text, x, top, "amber")
    if not picture.label:
        return
    face = font(8, strike=picture.is_struck)
    wide = width_of(face, picture.label)
    is_bar = not picture.is_summary and not _is_milestone(picture.dates)
    if is_bar and wide + 12 <= shape.width():
        _paint_inside(painter, picture, shape)
    else:
        _paint_text(painter, face, picture.label, x, top, "ink")


def _paint_inside(painter: QPainter, picture: RowPicture, shape: QRectF) -> None:
    """A label on its bar: all of it on the done part, or all of it behind that; else on a patch, so that the end of
    the done part does not run through letters."""
    face = font(8, strike=picture.is_struck)
    wide = width_of(face, picture.label)
    done = shape.width() * picture.done.share
    left, on = g.inside_label(shape.width(), wide, done)
    box = QRectF(shape.left() + left, shape.top(), shape.width() - left, shape.height())
    if on is g.On.PATCH:
        patch = QRectF(box.left() - 2, shape.top() + 1, wide + 4, shape.height() - 2)
        painter.fillRect(patch, faded(color("panel"), 225))
    painter.setPen(color(on_stream(picture.stream) if on is g.On.DONE else "ink"))
    draw_text(painter, face, picture.label, box)


def on_stream(stream: QColor) -> str:
    """The role of text on a full stream colour: whichever of panel and ink stands out more from it."""
    return max(("panel", "ink"), key=lambda role: contrast(color(role), stream))


def contrast(one: QColor, other: QColor) -> float:
    """The ratio of WCAG 2.2 (relative luminance, success criterion 1.4.3)."""
    a, b = sorted((_luminance(one), _luminance(other)))
    return (b + 0.05) / (a + 0.05)


def _luminance(colour: QColor) -> float:
    parts = (colour.redF(), colour.greenF(), colour.blueF())
    r, g_, b = (c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in parts)
    return 0.2126 * r + 0.7152 * g_ + 0.0722 * b


def paint_lane(painter: QPainter, scale: TimeScale, pictures: Sequence[RowPicture], top: float) -> None:
    """Several tasks on one row, with the labels for which there is room."""
    face = font(8)
    bars = [g.bar_rect(scale, p.dates, top) for p in pictures]
    boxes = g.placed_labels(bars, [width_of(face, p.label) for p in pictures])
    for picture, bar, box in zip(pictures, bars, boxes, strict=True):
        for ghost in picture.ghosts:
            _paint_ghost(painter, scale, picture, ghost, top)
        _paint_work(painter, scale, picture, top)
        if box is None:
            continue
        if box.right() <= bar.right():
            _paint_inside(painter, picture, bar)
        else:
            painter.setPen(color("ink"))
            draw_text(painter, face, picture.label, box.adjusted(0, 0, 2, 0))


def paint_grip(painter: QPainter, at: QPointF) -> None:
    """What is dragged to say how much is done."""
    painter.setPen(QPen(color("petrol"), 1.2))
    painter.setBrush(color("panel"))
    painter.drawPolygon(QPolygonF([at, QPointF(at.x() - 4, at.y() + 6), QPointF(at.x() + 4, at.y() + 6)]))


def _paint_text(painter: QPainter, face: QFont, text: str, x: float, top: float, role: str) -> float:
    """Text on a patch of the panel, so that lines beneath do not run through it; where it ends."""
    wide = width_of(face, text)
    box = QRectF(x, top + g.BAR_TOP, wide, g.BAR_HEIGHT)
    painter.fillRect(box.adjusted(-2, 0, 2, 0), faded(color("panel"), 215))
    painter.setPen(color(role))
    draw_text(painter, face, text, box.adjusted(0, 0, 2, 0))
    return x + wide + 7
