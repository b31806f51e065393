"""Where things are on the chart: pure functions of dates, scale and row. Painting and hit-testing share them."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from enum import Enum
from math import cos, pi, sin
from typing import NamedTuple

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainterPath, QPolygonF

from hexapod.desktop.chart.timescale import TimeScale
from hexapod.desktop.theme.measures import lift, row_height
from hexapod.schedule.schedule import TaskDates

BAR_TOP, BAR_HEIGHT = 5.0, 14.0
KEEL_GAP, KEEL_HEIGHT = 1.5, 3.0
THEN_TOP, THEN_RADIUS = 24.0, 3.0  # of what the baseline had, below the keel
SUMMARY_TOP, SUMMARY_HEIGHT = 8.0, 9.0
HEXAGON = 7.5  # radius
LEAST_WIDTH = 3.0
HANDLE_OFF, HANDLE_RADIUS, HANDLE_REACH = 11.0, 4.0, 6.0
LABEL_MARGIN = 6.0
GRIP_REACH = 5.0
END_REACH = 4.0  # how near to a bar's end counts as on it


def row_top(row: int, scroll: int) -> float:
    return row * row_height() - scroll


def bars_top(row: int, scroll: int) -> float:
    """From where the bars of a row are measured: where its top would be if it were roomy, its bars in the middle."""
    return row_top(row, scroll) - lift()


def bar_rect(scale: TimeScale, dates: TaskDates, top: float) -> QRectF:
    """A task's bar; for a milestone the box round its hexagon."""
    left = scale.x(dates.start)
    if dates.duration == 0 and dates.start == dates.finish:
        return QRectF(left - HEXAGON, top + BAR_TOP + BAR_HEIGHT / 2 - HEXAGON, 2 * HEXAGON, 2 * HEXAGON)
    width = max(LEAST_WIDTH, scale.x(dates.finish) - left)
    return QRectF(left, top + BAR_TOP, width, BAR_HEIGHT)


def summary_rect(scale: TimeScale, dates: TaskDates, top: float) -> QRectF:
    left = scale.x(dates.start)
    return QRectF(left, top + SUMMARY_TOP, max(8.0, scale.x(dates.finish) - left), SUMMARY_HEIGHT)


def hexagon(center: QPointF, radius: float) -> QPolygonF:
    """Six corners, one pointing up."""
    return QPolygonF(
        [QPointF(center.x() + radius * sin(k * pi / 3), center.y() - radius * cos(k * pi / 3)) for k in range(6)]
    )


def is_near(path: QPainterPath, at: QPointF, reach: float = 4.0) -> bool:
    """Whether a point is on a path, give or take."""
    if not path.controlPointRect().adjusted(-reach, -reach, reach, reach).contains(at):
        return False
    steps = max(8, int(path.length() / 3))
    return any((path.pointAtPercent(k / steps) - at).manhattanLength() <= reach * 1.4 for k in range(steps + 1))


def gate_path(x: float, top: float) -> QPainterPath:
    """The gate at a target date: a double bracket that closes to the right."""
    path = QPainterPath()
    for off in (0.0, 3.5):
        path.moveTo(x - 4 + off, top + BAR_TOP - 1)
        path.lineTo(x + off, top + BAR_TOP - 1)
        path.lineTo(x + off, top + BAR_TOP + BAR_HEIGHT + 1)
        path.lineTo(x - 4 + off, top + BAR_TOP + BAR_HEIGHT + 1)
    return path


class DonePart(NamedTuple):
    """Of a bar: up to which part of its width it is done, and how many per cent of the work that is.

    Time and work are two things: of nine days five may be done although ten have passed.
    """

    share: float  # 0 to 1
    percent: float


def progress_grip(bar: QRectF, done: DonePart, percent: float | None = None) -> QPointF:
    """Where the done part of a bar ends, or would with another per cent: what is dragged to say how much is done."""
    share, known = done
    if percent is not None and percent <= known:
        share = share * percent / known if known else 0.0
    elif percent is not None:
        share += (1 - share) * (percent - known) / (100 - known)
    return QPointF(bar.left() + bar.width() * share, bar.bottom())


def percent_at(bar: QRectF, x: float, done: DonePart) -> float:
    """How much is done if the done part ends at ``x``, in steps of five, or of one on a wide bar."""
    step = 1 if bar.width() > 300 else 5
    part, (share, known) = (x - bar.left()) / max(1.0, bar.width()), done
    if part <= share:
        percent = known * part / share if share else 0.0
    else:
        percent = known + (100 - known) * (part - share) / (1 - share) if share < 1 else 100.0
    return float(max(0, min(100, round(percent / step) * step)))


def placed_labels(bars: Sequence[QRectF], widths: Sequence[float], hollow: Sequence[bool] = ()) -> list[QRectF | None]:
    """Where the labels of bars on one row go: inside a bar that has room, else behind it; None where neither is free.

    ``bars`` from left to right. No label touches another one, nor a bar that is not its own, and none goes into what is
    ``hollow``, a summary: how far that is done would run through the letters.
    """
    found: list[QRectF | None] = []
    for i, (bar, width) in enumerate(zip(bars, widths, strict=True)):
        if width <= 0:
            found.append(None)
        elif width + 2 * LABEL_MARGIN <= bar.width() and not any(hollow[i : i + 1]):
            found.append(QRectF(bar.left() + LABEL_MARGIN, bar.top(), width, bar.height()))
        else:
            box = QRectF(bar.right() + LABEL_MARGIN, bar.top(), width, bar.height())
            others = [*bars[:i], *bars[i + 1 :], *(f for f in found if f is not None)]
            found.append(None if any(other.intersects(box) for other in others) else box)
    return found


def outside(begin: float, end: float, taken: Iterable[tuple[float, float]]) -> list[tuple[float, float]]:
    """The parts of a line from ``begin`` to ``end`` that lie in none of the stretches that are ``taken``."""
    found, at = [], begin
    for first, last in sorted(taken):
        if first > at:
            found.append((at, min(first, end)))
        at = max(at, last)
        if at >= end:
            return found
    return [*found, (at, end)]


class On(Enum):
    """What the label of a bar lies on."""

    DONE = "done"
    REST = "rest"
    PATCH = "patch"


def inside_label(width: float, label: float, done: float) -> tuple[float, On]:
    """How far behind a bar's left end its label begins, and what it lies on; ``done`` is how wide the done part is."""
    if done <= 0:
        return LABEL_MARGIN, On.REST
    if LABEL_MARGIN + label + 2 <= done:
        return LABEL_MARGIN, On.DONE
    if done + 4 + label + 2 <= width:
        return max(LABEL_MARGIN, done + 4), On.REST
    return LABEL_MARGIN, On.PATCH


def finish_handle(bar: QRectF) -> QPointF:
    return QPointF(bar.right() + HANDLE_OFF, bar.center().y())


def start_handle(bar: QRectF) -> QPointF:
    return QPointF(bar.left() - HANDLE_OFF, bar.center().y())
