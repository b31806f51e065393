"""Mouse gestures on the chart: choose, stretch a bar, draw a link, open a menu on a link."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from msgspec.structs import replace
from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt
from PyQt6.QtGui import QFont, QMouseEvent, QPainter, QPen
from PyQt6.QtWidgets import QMenu

from hexapod.desktop import dates
from hexapod.desktop.actions.action import Registry
from hexapod.desktop.chart import geometry as g
from hexapod.desktop.chart import painter as paint
from hexapod.desktop.chart.timescale import snap_of
from hexapod.desktop.theme.style import color, font
from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.records import Link, LinkKey, LinkType
from hexapod.schedule.words import lag_words
from hexapod.worktime.lengths import format_length

if TYPE_CHECKING:
    from hexapod.desktop.chart.chart import Chart

LINK_NAMES = {
    LinkType.FS: "finish to start (FS)",
    LinkType.SS: "start to start (SS)",
    LinkType.FF: "finish to finish (FF)",
    LinkType.SF: "start to finish (SF)",
}


@dataclass
class _Stretch:
    """A bar's end being dragged to another duration."""

    task: str
    duration: int


@dataclass
class _Draw:
    """A link being drawn from one end of a bar."""

    task: str
    from_finish: bool
    at: QPointF
    target: str | None = None
    type: LinkType = LinkType.FS


class Gestures:
    def __init__(self, chart: Chart, registry: Registry) -> None:
        self._chart = chart
        self._desk = chart.desk
        self._registry = registry
        self._drag: _Stretch | _Draw | None = None
        self._hovered: str | None = None
        self.hovered_link: LinkKey | None = None

    # Where the pointer is

    def task_at(self, at: QPointF) -> str | None:
        """The task of the row under a point."""
        from hexapod.desktop.build.cell_painter import ROW_HEIGHT

        row = int((at.y() + self._chart.verticalScrollBar().value()) // ROW_HEIGHT)
        rows = self._desk.rows
        return rows[row].task or None if 0 <= row < len(rows) else None

    def link_at(self, at: QPointF) -> Link | None:
        for link, path in self._chart.links_on_screen():
            if g.is_near(path, at):
                return link
        return None

    def _handle_at(self, at: QPointF) -> tuple[str, bool] | None:
        """(task, whether its finish) if the point is on a link handle."""
        task = self._hovered
        bar = self._chart.bar_of(task) if task else None
        if task is None or bar is None or self._is_read_only():
            return None
        for handle, is_finish in ((g.finish_handle(bar), True), (g.start_handle(bar), False)):
            if (handle - at).manhattanLength() <= g.HANDLE_REACH:
                return task, is_finish
        return None

    def _end_at(self, at: QPointF) -> str | None:
        """The task whose bar's right end is under the point."""
        task = self.task_at(at)
        bar = self._chart.bar_of(task) if task else None
        if task is None or bar is None or self._desk.plan.is_summary(task) or self._is_read_only():
            return None
        reach = min(g.END_REACH, bar.width() / 3)  # the middle of a short bar is not its end
        is_near = -reach <= at.x() - bar.right() <= g.END_REACH and bar.top() - 2 <= at.y() <= bar.bottom() + 4
        return task if is_near and self._desk.is_computed else None

    def _is_read_only(self) -> bool:
        return self._desk.is_read_only

    # Mouse

    def press(self, event: QMouseEvent) -> None:
        at = event.position()
        if event.button() != Qt.MouseButton.LeftButton:
            return
        handle = self._handle_at(at)
        if handle:
            self._drag = _Draw(handle[0], handle[1], at)
            return
        end = self._end_at(at)
        if end:
            self._drag = _Stretch(end, self._desk.plan.tasks[end].minutes)
            self._desk.select((end,), end)
            return
        task = self.task_at(at)
        if task:
            more = event.modifiers() & Qt.KeyboardModifier.ControlModifier
            chosen = (*(t for t in self._desk.selection if t != task), task) if more else (task,)
            self._desk.select(chosen, task)

    def move(self, event: QMouseEvent) -> None:
        at = event.position()
        if isinstance(self._drag, _Stretch):
            self._stretch(self._drag, at)
        elif isinstance(self._drag, _Draw):
            self._draw(self._drag, at)
        else:
            self._hover(at)
        self._chart.viewport().update()

    def release(self, event: QMouseEvent) -> None:
        drag, self._drag = self._drag, None
        self._desk.show_ghost(None)
        if isinstance(drag, _Stretch):
            edit = self._stretching(drag)
            if drag.duration != self._desk.plan.tasks[drag.task].duration and self._desk.do(edit):
                self._desk.told.emit(f"{edit.words}: {format_length(drag.duration)}.", "", True)
        elif isinstance(drag, _Draw) and drag.target:
            edit = edits.link(self._desk.plan, *self._ends(drag), drag.type)
            if self._desk.do(edit):
                self._desk.told.emit(f"{edit.words}.", "", True)
        self._chart.viewport().update()

    def cancel(self) -> bool:
        """Esc: all as it was. Whether there was a drag."""
        drag, self._drag = self._drag, None
        self._desk.show_ghost(None)
        self._chart.viewport().update()
        return drag is not None

    def _hover(self, at: QPointF) -> None:
        if self._handle_at(at):
            self._chart.viewport().setCursor(Qt.CursorShape.CrossCursor)
            return
        self._hovered = self.task_at(at)
        link = self.link_at(at)
        self.hovered_link = link.key if link else None
        if self._end_at(at):
            self._chart.viewport().setCursor(Qt.CursorShape.SizeHorCursor)
        elif link:
            self._chart.viewport().setCursor(Qt.CursorShape.PointingHandCursor)
            plan = self._desk.plan
            words = f"{plan.tasks[link.predecessor].name} → {plan.tasks[link.successor].name}"
            self._chart.viewport().setToolTip(f"{words}, {LINK_NAMES[link.type]}{lag_words(link)}")
        else:
            self._chart.viewport().unsetCursor()
            self._chart.viewport().setToolTip("")

    def _stretch(self, drag: _Stretch, at: QPointF) -> None:
        from hexapod.worktime.arithmetic import worked

        schedule = self._desk.schedule
        network = schedule.network
        assert network is not None
        slot = schedule.slots[drag.task]
        pool, calendar = network.timing.pool, int(network.tasks.calendar[slot])
        start = int(schedule.start[slot])
        minutes = worked(pool, calendar, self._chart.scale.minute(at.x())) - worked(pool, calendar, start)
        step = snap_of(self._chart.scale)
        duration = max(step, round(minutes / step) * step)
        if duration != drag.duration:
            drag.duration = duration
            self._desk.show_ghost(self._desk.preview(self._stretching(drag)))

    def _stretching(self, drag: _Stretch) -> Edit:
        return edits.set_durations(self._desk.plan, [drag.task], drag.duration)

    def _draw(self, drag: _Draw, at: QPointF) -> None:
        drag.at = at
        task = self.task_at(at)
        drag.target = task if task and task != drag.task else None
        bar = self._chart.bar_of(task) if drag.target and task else None
        at_finish = bar is not None and bar.width() > 24 and at.x() > bar.right() - 8
        if drag.from_finish:
            drag.type = LinkType.FF if at_finish else LinkType.FS
        else:
            drag.type = LinkType.SF if at_finish else LinkType.SS

    def _ends(self, drag: _Draw) -> tuple[str, str]:
        assert drag.target is not None
        return drag.task, drag.target

    # Menu

    def open_menu(self, at: QPointF, where: QPoint) -> None:
        link = self.link_at(at)
        menu = QMenu(self._chart)
        if link is not None and not self._is_read_only():
            self._fill_link_menu(menu, link)
        else:
            task = self.task_at(at)
            if task and task not in self._desk.selection:
                self._desk.select((task,), task)
            self._registry.fill(menu, "row" if task else "chart")
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        menu.popup(where)

    def _fill_link_menu(self, menu: QMenu, link: Link) -> None:
        plan = self._desk.plan
        heading = menu.addAction(f"{plan.tasks[link.predecessor].name} → {plan.tasks[link.successor].name}")
        heading.setEnabled(False)
        menu.addSeparator()
        for type_ in LinkType:
            choice = menu.addAction(LINK_NAMES[type_].capitalize())
            choice.setCheckable(True)
            choice.setChecked(type_ is link.type)
            choice.triggered.connect(lambda _, t=type_: self._retype(link, t))
        menu.addSeparator()
        remove = menu.addAction("Remove the link")
        remove.setObjectName("removeLink")
        remove.triggered.connect(lambda: self._remove(link))

    def _retype(self, link: Link, type_: LinkType) -> None:
        if type_ is not link.type:
            plan = self._desk.plan
            edit = edits.change_link(plan, link.key, replace(link, type=type_))
            if self._desk.do(edit):
                self._desk.told.emit(f"{edit.words}.", "", True)

    def _remove(self, link: Link) -> None:
        edit = edits.unlink(self._desk.plan, [link.key])
        if self._desk.do(edit):
            self._desk.told.emit(f"{edit.words}.", "", True)

    # Painting

    def paint(self, painter: QPainter) -> None:
        """Handles of the bar under the pointer, and what a drag would do."""
        if self._drag is None and self._hovered and not self._is_read_only():
            bar = self._chart.bar_of(self._hovered)
            if bar is not None:
                paint.paint_handle(painter, g.finish_handle(bar))
                paint.paint_handle(painter, g.start_handle(bar))
        if isinstance(self._drag, _Draw):
            bar = self._chart.bar_of(self._drag.task)
            if bar is not None:
                start = g.finish_handle(bar) if self._drag.from_finish else g.start_handle(bar)
                painter.setPen(QPen(color("petrol"), 1.8))
                painter.drawLine(start, self._drag.at)
                self._paint_tip(painter, self._drag.at, self._draw_words(self._drag))
        elif isinstance(self._drag, _Stretch) and self._desk.ghost is not None:
            ghost = self._desk.ghost.dates(self._drag.task)
            bar = self._chart.bar_of(self._drag.task)
            if bar is not None:
                at = QPointF(self._chart.scale.x(ghost.finish), bar.center().y())
                words = f"{format_length(self._drag.duration)}, to {dates.short_day(ghost.finish)}"
                self._paint_tip(painter, at, words)

    def _draw_words(self, drag: _Draw) -> str:
        plan = self._desk.plan
        if drag.target is None:
            return f"{plan.tasks[drag.task].name} → …"
        return f"{plan.tasks[drag.task].name} → {plan.tasks[drag.target].name}, {drag.type.value}"

    def _paint_tip(self, painter: QPainter, at: QPointF, words: str) -> None:
        painter.setFont(font(8.5, QFont.Weight.Medium))
        width = painter.fontMetrics().horizontalAdvance(words) + 14
        view = self._chart.viewport()
        left = min(at.x() + 12, view.width() - width - 4)
        top = at.y() + 14 if at.y() + 40 < view.height() else at.y() - 34
        paint.paint_tag(painter, QRectF(left, top, width, 21), words)
