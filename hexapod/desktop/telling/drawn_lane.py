"""A lane of tasks on a scale of time: where each bar and its name lie, and how they are drawn."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from hexapod.desktop.chart.geometry import LABEL_MARGIN, hexagon, placed_labels
from hexapod.desktop.chart.timescale import TimeScale
from hexapod.desktop.theme.style import color, faded, font, scaled
from hexapod.desktop.theme.text import draw_text, width_of
from hexapod.plan.records import TaskKind
from hexapod.schedule.schedule import Schedule

BAR, MARK, REACH = 15, 5.5, 4


class DrawnLane:
    """``tasks`` lie side by side, from left to right, in a box whose left edge is the beginning of the scale."""

    def __init__(self, dates: Schedule, tasks: Sequence[str], scale: TimeScale, box: QRectF) -> None:
        self._dates, self._plan, self._box = dates, dates.plan, box
        self.tasks: list[str] = []
        self.bars: list[QRectF] = []
        high = scaled(BAR)
        for task in tasks:
            if not dates.has(task) or task not in self._plan.tasks:
                continue
            found = dates.dates(task)
            left, right = box.left() + scale.x(found.start), box.left() + scale.x(found.finish)
            if right < box.left() - scaled(MARK) or left > box.right() + scaled(MARK):
                continue
            bar = QRectF(left, box.top() + (box.height() - high) / 2 - 1, max(2.0, right - left), high)
            if self._is_milestone(task):
                bar = QRectF(right - scaled(MARK), bar.top(), 2 * scaled(MARK), high)
            self.tasks.append(task)
            self.bars.append(bar)

    def _is_milestone(self, task: str) -> bool:
        found = self._dates.dates(task)
        return self._plan.tasks[task].kind is TaskKind.MILESTONE or found.start == found.finish

    def task_at(self, x: float) -> str:
        """The task at a place, give or take; nothing where there is none."""
        near = [(abs(bar.center().x() - x), t) for t, bar in zip(self.tasks, self.bars, strict=True)
                if bar.left() - REACH <= x <= bar.right() + REACH]  # fmt: skip
        return min(near)[1] if near else ""

    def paint(self, painter: QPainter, tone: QColor, looked_at: str) -> None:
        """Bars with their done part and keel, and the names for which there is room; a done one's is struck."""
        faces = [font(8, strike=self._plan.tasks[task].is_done) for task in self.tasks]
        names = [self._plan.tasks[task].name for task in self.tasks]
        marks = [self._is_milestone(task) for task in self.tasks]
        widths = [width_of(face, name) for face, name in zip(faces, names, strict=True)]
        places = placed_labels([bar.intersected(self._box) for bar in self.bars], widths)
        for i, (task, bar) in enumerate(zip(self.tasks, self.bars, strict=True)):
            if marks[i]:
                self._paint_milestone(painter, task, bar, tone)
            else:
                self._paint_work(painter, task, bar, tone)
            if task == looked_at:
                painter.setPen(QPen(color("petrol"), 1.6))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRect(bar.adjusted(-2, -3, 2, 3))
        for i, place in enumerate(places):
            if place is None or place.right() > self._box.right():
                continue
            is_done = self._plan.tasks[self.tasks[i]].is_done
            ground = color("paper") if place.left() > self.bars[i].right() else color("panel")
            painter.fillRect(place.adjusted(-2, 1, 2, -1), faded(ground, 225))
            painter.setPen(color("muted" if is_done else "ink"))
            draw_text(painter, faces[i], names[i], place.adjusted(0, 0, LABEL_MARGIN, 0))

    def _paint_work(self, painter: QPainter, task: str, bar: QRectF, tone: QColor) -> None:
        record, dates = self._plan.tasks[task], self._dates
        painter.setPen(QPen(color("brick"), 1.4) if dates.late_of(task) is not None else Qt.PenStyle.NoPen)
        painter.setBrush(faded(tone, 90))
        painter.drawRoundedRect(bar, 2, 2)
        done = 1.0 if record.is_done else min(1.0, record.percent / 100)
        if done > 0:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(faded(tone, 140) if record.is_done else tone)
            painter.drawRoundedRect(QRectF(bar.left(), bar.top(), bar.width() * done, bar.height()), 2, 2)
        if dates.dates(task).critical and not record.is_done:
            painter.fillRect(QRectF(bar.left(), bar.bottom() + 2, bar.width(), 2), color("ink"))

    def _paint_milestone(self, painter: QPainter, task: str, bar: QRectF, tone: QColor) -> None:
        is_late = self._dates.late_of(task) is not None
        painter.setPen(QPen(color("brick") if is_late else tone, 1.4))
        painter.setBrush(tone if self._plan.tasks[task].is_done else color("panel"))
        painter.drawPolygon(hexagon(QPointF(bar.center().x(), bar.center().y()), scaled(MARK)))
