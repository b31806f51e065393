"""A stretch of time to scroll and zoom in, with its axis: what the chart stands on."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QResizeEvent, QWheelEvent
from PyQt6.QtWidgets import QAbstractScrollArea, QWidget

from hexapod.desktop.chart import painter as paint
from hexapod.desktop.chart.timescale import TimeScale
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.theme.measures import HEADER_HEIGHT
from hexapod.plan.records import DAY
from hexapod.schedule.schedule import Schedule, computed_dates
from hexapod.worktime.calendars import Ints
from hexapod.worktime.clock import today

FIRST_ZOOM = 5.3  # pixels a day
MARGIN_DAYS = 14
DAY_OF_A_NEW_PROJECT = 22.0  # pixels: wide enough to see the first tasks as they are typed


class Axis(QWidget):
    """The time axis above the rows."""

    def __init__(self, timeline: Timeline) -> None:
        super().__init__(timeline)
        self._timeline = timeline
        self.setFixedHeight(HEADER_HEIGHT)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        paint.paint_axis(painter, self._timeline.scale, self.width(), self.height())
        painter.end()


class Timeline(QAbstractScrollArea):
    """``scale_changed`` lets other views follow its time axis."""

    scale_changed = pyqtSignal()

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.setFrameShape(QAbstractScrollArea.Shape.NoFrame)
        self.setViewportMargins(0, HEADER_HEIGHT, 0, 0)
        self.setLayoutDirection(Qt.LayoutDirection.LeftToRight)  # time runs to the right, whatever text does
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOn)
        self.axis = Axis(self)
        self.scale = TimeScale(today(), FIRST_ZOOM)
        self._is_fitted = False
        self._extent = (0, DAY)
        self._extent_of: Schedule | None = None
        self._extent_key: tuple[str | None, bool] | None = None
        self._left = 0  # the minute at scroll position 0
        self.horizontalScrollBar().valueChanged.connect(self._on_scrolled)
        desk.looked_at_changed.connect(self._on_project)

    def zoom(self, factor: float, around: float | None = None) -> None:
        """Wider or narrower days, round a point; the middle if none is given."""
        self._set_scale(self.scale.zoomed(factor, self.viewport().width() / 2 if around is None else around))

    def fit(self) -> None:
        """The whole project in the width there is."""
        self._fit(*self.extent())

    def fit_tasks(self, tasks: list[str]) -> None:
        """From the first start to the last finish of some tasks."""
        known = [self.desk.schedule.slots[t] for t in tasks if self.desk.schedule.has(t)]
        if known:
            begin, end = int(self.desk.schedule.start[known].min()), int(self.desk.schedule.finish[known].max())
            self._fit(begin, max(end, begin + DAY))

    def _fit(self, begin: int, end: int) -> None:
        width = max(200, self.viewport().width() - 60 - round(self.room_behind(end)))
        pixels = TimeScale(0, width * DAY / max(DAY, end - begin))
        self._set_scale(TimeScale(begin - round(24 * DAY / pixels.pixels), pixels.pixels).zoomed(1.0, 0))

    def room_behind(self, end: int) -> float:
        """Pixels that what ends last needs behind its end."""
        return 30.0

    def go_to_moment(self, at: int) -> None:
        """A moment a quarter of the width from the left."""
        self._set_scale(TimeScale(at - round(self.viewport().width() / 4 * DAY / self.scale.pixels), self.scale.pixels))

    def go_to_origin(self, at: int) -> None:
        """A moment at the left edge."""
        self._set_scale(TimeScale(at, self.scale.pixels))

    def show_scale(self, scale: TimeScale) -> None:
        """At a zoom and place that were kept."""
        self._is_fitted = True
        self._set_scale(scale)

    def show_task(self, task_id: str | None) -> None:
        """Scroll to a task's bar."""
        if task_id and self.desk.schedule.has(task_id):
            start = self.desk.schedule.dates(task_id).start
            self._set_scale(TimeScale(start - round(60 * DAY / self.scale.pixels), self.scale.pixels))

    def extent(self) -> tuple[int, int]:
        """The first start and the last finish of what is on show, at least some days apart; kept for a schedule."""
        desk = self.desk
        key = (desk.project, desk.on_show.view.everywhere)
        if self._extent_of is not desk.schedule or self._extent_key != key:
            self._extent, self._extent_of, self._extent_key = self._find_extent(), desk.schedule, key
        return self._extent

    def _find_extent(self) -> tuple[int, int]:
        desk = self.desk
        project = desk.plan.projects.get(desk.project or "")
        start = project.start if project else today()
        shown = list(desk.plan.projects) if desk.on_show.view.everywhere else [project.id] if project else []
        known = self._slots_of(shown)
        if not len(known):
            return start, start + 60 * DAY
        begin = int(desk.schedule.start[known].min())
        return begin, max(int(desk.schedule.finish[known].max()), begin + 5 * DAY)

    def _slots_of(self, projects: Sequence[str]) -> Ints:
        """Where what spans these projects has its dates."""
        schedule, plan = computed_dates(self.desk.schedule), self.desk.plan
        if schedule is not None and projects and all(p in schedule.network.projects for p in projects):
            network = schedule.network
            is_shown = np.array([p in projects for p in network.projects], dtype=bool)
            return np.flatnonzero(is_shown[network.tasks.project] & (network.structure.leaf[: network.size] == 1))
        known = (self.desk.schedule.slots.get(t) for p in projects for t in plan.children_of(p, None))
        return np.array([slot for slot in known if slot is not None], dtype=np.int64)

    def _set_scale(self, scale: TimeScale) -> None:
        before, self.scale = self.scale, scale
        self.forget_scaled(before)
        self._set_range()
        self.axis.update()
        self.viewport().update()
        self.scale_changed.emit()

    def _set_range(self) -> None:
        """The scroll bar spans the project with a margin, and what is on screen."""
        begin, end = self.extent()
        margin = MARGIN_DAYS * DAY
        here, width = self.scale.origin, self.viewport().width()
        self._left = min(begin - margin, here)
        right = max(end + margin, self.scale.minute(width))
        bar = self.horizontalScrollBar()
        per_minute = self.scale.pixels / DAY
        bar.blockSignals(True)
        bar.setRange(0, max(0, round((right - self._left) * per_minute) - width))
        bar.setPageStep(width)
        bar.setSingleStep(40)
        bar.setValue(round((here - self._left) * per_minute))
        bar.blockSignals(False)

    def _on_scrolled(self, value: int) -> None:
        before = self.scale
        self.scale = TimeScale(self._left + round(value * DAY / before.pixels), before.pixels)
        self.forget_scaled(before)
        self.axis.update()
        self.viewport().update()
        self.scale_changed.emit()

    def _on_project(self) -> None:
        self._show_start()

    def _show_start(self) -> None:
        self._is_fitted = len(self.desk.rows) > 0
        begin, _ = self.extent()
        pixels = self.scale.pixels if self._is_fitted else max(self.scale.pixels, DAY_OF_A_NEW_PROJECT)
        self._set_scale(TimeScale(begin - 5 * DAY, pixels))

    def forget_scaled(self, before: TimeScale) -> None:
        """Whoever draws on this stretch of time keeps nothing of what was drawn at another scale."""

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.axis.setGeometry(0, 0, self.viewport().width(), HEADER_HEIGHT)
        self.forget_scaled(self.scale)
        self._set_range()
        self.scale_changed.emit()

    def wheelEvent(self, event: QWheelEvent) -> None:
        turned = event.angleDelta().y()
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.zoom(1.2 ** (turned / 120), event.position().x())
        elif event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self.horizontalScrollBar().setValue(self.horizontalScrollBar().value() - turned)
        else:
            super().wheelEvent(event)
