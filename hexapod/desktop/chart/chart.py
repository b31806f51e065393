"""The chart beside the outline: the same rows, over time."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPainterPath, QPaintEvent, QResizeEvent, QWheelEvent
from PyQt6.QtWidgets import QAbstractScrollArea, QWidget

from hexapod.desktop import dates
from hexapod.desktop.actions.action import Registry
from hexapod.desktop.build.cell_painter import ROW_HEIGHT
from hexapod.desktop.build.coloring import row_color
from hexapod.desktop.build.headers import HEADER_HEIGHT
from hexapod.desktop.chart import geometry as g
from hexapod.desktop.chart import painter as paint
from hexapod.desktop.chart.gestures import Gestures
from hexapod.desktop.chart.timescale import TimeScale
from hexapod.desktop.chart.workdays import idle_spans
from hexapod.desktop.desk import Desk
from hexapod.desktop.theme.style import color
from hexapod.formats.assignment_text import format_assignments
from hexapod.plan.records import DAY, Link, LinkKey
from hexapod.schedule.schedule import Schedule
from hexapod.worktime.clock import today

FIRST_ZOOM = 5.3  # pixels a day
MARGIN_DAYS = 14


class Axis(QWidget):
    """The time axis above the rows."""

    def __init__(self, chart: Chart) -> None:
        super().__init__(chart)
        self._chart = chart
        self.setFixedHeight(HEADER_HEIGHT)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        paint.paint_axis(painter, self._chart.scale, self.width(), self.height())
        painter.end()


class Chart(QAbstractScrollArea):
    """Paints what is on screen and nothing else; ``scale_changed`` lets other views follow its time axis."""

    scale_changed = pyqtSignal()

    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__()
        self.setObjectName("chart")
        self.setAccessibleName("Chart of tasks over time")
        self.desk = desk
        self.setFrameShape(QAbstractScrollArea.Shape.NoFrame)
        self.setViewportMargins(0, HEADER_HEIGHT, 0, 0)
        self.axis = Axis(self)
        self.scale = TimeScale(today(), FIRST_ZOOM)
        self._is_fitted = False
        self._left = 0  # the minute at scroll position 0
        self._driving = np.zeros(0, dtype=bool)
        self._driving_of: Schedule | None = None
        self.viewport().setMouseTracking(True)
        self.viewport().setAutoFillBackground(False)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOn)
        self.horizontalScrollBar().valueChanged.connect(self._on_scrolled)
        self.gestures = Gestures(self, registry)
        for signal in (desk.rows_changed, desk.changed, desk.computed):
            signal.connect(self._on_plan)
        for signal in (desk.selection_changed, desk.proposal_changed, desk.moved_changed):
            signal.connect(self.viewport().update)
        desk.looked_at_changed.connect(self._on_project)

    # Time

    def zoom(self, factor: float, around: float | None = None) -> None:
        """Wider or narrower days, round a point; the middle if none is given."""
        self._set_scale(self.scale.zoomed(factor, self.viewport().width() / 2 if around is None else around))

    def fit(self) -> None:
        """The whole project in the width there is."""
        begin, end = self._extent()
        width = max(200, self.viewport().width() - 90)
        pixels = TimeScale(0, width * DAY / max(DAY, end - begin))
        self._set_scale(TimeScale(begin - round(24 * DAY / pixels.pixels), pixels.pixels).zoomed(1.0, 0))

    def show_task(self, task_id: str | None) -> None:
        """Scroll to a task's bar."""
        if task_id and self.desk.schedule.has(task_id):
            start = self.desk.schedule.dates(task_id).start
            self._set_scale(TimeScale(start - round(60 * DAY / self.scale.pixels), self.scale.pixels))

    def _extent(self) -> tuple[int, int]:
        """The first start and the last finish of the project, at least some days apart."""
        desk = self.desk
        project = desk.plan.projects.get(desk.project or "")
        start = project.start if project else today()
        tops = desk.plan.children_of(project.id, None) if project else ()
        known = [desk.schedule.slots[t] for t in tops if desk.schedule.has(t)]
        if not known:
            return start, start + 60 * DAY
        begin = int(desk.schedule.start[known].min())
        return begin, max(int(desk.schedule.finish[known].max()), begin + 5 * DAY)

    def _set_scale(self, scale: TimeScale) -> None:
        self.scale = scale
        self._set_range()
        self.axis.update()
        self.viewport().update()
        self.scale_changed.emit()

    def _set_range(self) -> None:
        """The scroll bar spans the project with a margin, and what is on screen."""
        begin, end = self._extent()
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
        self.scale = TimeScale(self._left + round(value * DAY / self.scale.pixels), self.scale.pixels)
        self.axis.update()
        self.viewport().update()
        self.scale_changed.emit()

    def _on_plan(self, *_: object) -> None:
        if not self._is_fitted and self.desk.rows and self.desk.schedule.has(self.desk.rows[0].task):
            self._show_start()
        self._set_range()
        self.viewport().update()

    def _on_project(self) -> None:
        self._show_start()

    def _show_start(self) -> None:
        self._is_fitted = bool(self.desk.rows)
        begin, _ = self._extent()
        self._set_scale(TimeScale(begin - 5 * DAY, self.scale.pixels))

    # Rows

    def visible_rows(self) -> range:
        scroll, height = self.verticalScrollBar().value(), self.viewport().height()
        return range(max(0, scroll // ROW_HEIGHT), min(len(self.desk.rows), (scroll + height) // ROW_HEIGHT + 1))

    def bar_of(self, task_id: str) -> QRectF | None:
        """A task's bar in the viewport; None if its row is folded away or it has no dates."""
        row = self.desk.position.get(task_id)
        if row is None or not self.desk.schedule.has(task_id):
            return None
        top = g.row_top(row, self.verticalScrollBar().value())
        dates_ = self.desk.schedule.dates(task_id)
        if self.desk.plan.is_summary(task_id):
            return g.summary_rect(self.scale, dates_, top)
        return g.bar_rect(self.scale, dates_, top)

    def links_on_screen(self) -> list[tuple[Link, QPainterPath]]:
        """Links of the rows on screen with their paths."""
        found: dict[LinkKey, tuple[Link, QPainterPath]] = {}
        plan = self.desk.plan
        for row in self.visible_rows():
            for key in plan.links_at.get(self.desk.rows[row].task, ()):
                if key in found:
                    continue
                before, after = self.bar_of(key[0]), self.bar_of(key[1])
                if before is not None and after is not None:
                    link = plan.links[key]
                    found[key] = (link, g.link_path(link.type, before, after))
        return list(found.values())

    # Painting

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self.viewport())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        width, height = self.viewport().width(), self.viewport().height()
        painter.fillRect(0, 0, width, height, color("panel"))
        self._paint_ground(painter, width, height)
        shown = self.links_on_screen()
        for link, path in sorted(shown, key=lambda pair: self._is_driving(pair[0])):
            chosen = link.key == self.gestures.hovered_link
            if self.desk.load is not None and link.key in self.desk.load.broken_links and not chosen:
                paint.paint_broken_link(painter, path)
                continue
            paint.paint_link(painter, path, driving=self._is_driving(link), chosen=chosen)
        scroll = self.verticalScrollBar().value()
        for row in self.visible_rows():
            task = self.desk.rows[row].task
            if task and self.desk.schedule.has(task):
                paint.paint_row(painter, self.scale, self._picture(task), g.row_top(row, scroll))
        self._paint_status_date(painter, height)
        self.gestures.paint(painter)
        painter.end()

    def _paint_ground(self, painter: QPainter, width: int, height: int) -> None:
        desk = self.desk
        project = desk.plan.projects.get(desk.project or "")
        if project is not None and self.scale.pixels >= 2.2:
            for begin, end in idle_spans(desk.plan, project.calendar, self.scale.minute(0), self.scale.minute(width)):
                x = self.scale.x(begin)
                painter.fillRect(QRectF(x, 0, self.scale.x(end) - x, height), color("shade"))
        chosen = set(desk.selection)
        scroll = self.verticalScrollBar().value()
        for row in self.visible_rows():
            top = g.row_top(row, scroll)
            if desk.rows[row].task in chosen:
                band = color("selection")
                band.setAlpha(190)
                painter.fillRect(QRectF(0, top, width, ROW_HEIGHT), band)
            painter.setPen(color("rule"))
            painter.drawLine(QPointF(0, top + ROW_HEIGHT - 1), QPointF(width, top + ROW_HEIGHT - 1))

    def _picture(self, task_id: str) -> paint.RowPicture:
        desk = self.desk
        task = desk.plan.tasks[task_id]
        schedule = desk.schedule
        ghost = desk.ghost.dates(task_id) if desk.ghost is not None and desk.ghost.has(task_id) else None
        moved = desk.moved.get(schedule.slots[task_id])
        free = schedule.free_start
        return paint.RowPicture(
            dates=schedule.dates(task_id),
            stream=row_color(desk, task_id),
            is_summary=desk.plan.is_summary(task_id),
            label=format_assignments(desk.plan, task_id),
            target=task.target,
            is_limited=bool(task.limits),
            free_start=int(free[schedule.slots[task_id]]) if free is not None and task.hold else None,
            moved=moved[1] or moved[0] if moved else 0,
            ghost=ghost,
        )

    def _is_driving(self, link: Link) -> bool:
        """Whether a link is part of the critical chain: both ends critical and no room between them."""
        schedule = self.desk.schedule
        if not (schedule.has(link.predecessor) and schedule.has(link.successor)):
            return False
        before, after = schedule.dates(link.predecessor), schedule.dates(link.successor)
        if not (before.critical and after.critical):
            return False
        network = schedule.network
        return network is None or bool(self._driving_links()[network.interning.link_slots[link.key]])

    def _driving_links(self) -> np.ndarray:
        """By link slot, whether the link holds its successor where it is; made once for each schedule."""
        schedule = self.desk.schedule
        if self._driving_of is not schedule:
            network = schedule.network
            assert network is not None and schedule.driving is not None
            holding = network.structure.link[schedule.driving == 1]
            self._driving = np.zeros(len(network.links.alive), dtype=bool)
            self._driving[holding[holding >= 0]] = True
            self._driving_of = schedule
        return self._driving

    def _paint_status_date(self, painter: QPainter, height: int) -> None:
        project = self.desk.plan.projects.get(self.desk.project or "")
        if project is not None and project.status_date is not None:
            text = f"status {dates.short_day(project.status_date)}"
            paint.paint_status_line(painter, self.scale.x(project.status_date), height, text)

    # Events

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.axis.setGeometry(0, 0, self.viewport().width(), HEADER_HEIGHT)
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

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.gestures.press(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self.gestures.move(event)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self.gestures.release(event)

    def contextMenuEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        self.gestures.open_menu(QPointF(event.pos()), event.globalPos())

    def scrollContentsBy(self, dx: int, dy: int) -> None:
        self.viewport().update()
