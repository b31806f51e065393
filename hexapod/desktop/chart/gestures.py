"""Mouse and keyboard on the chart: choose, drag, link, and what a press on a link opens."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt
from PyQt6.QtGui import QFont, QKeyEvent, QMouseEvent, QPainter
from PyQt6.QtWidgets import QMenu

from hexapod.desktop.action import Registry
from hexapod.desktop.chart import geometry as g
from hexapod.desktop.chart import painter as paint
from hexapod.desktop.chart.drags import DragDone, DrawLink, MoveBar, StretchEnd, StretchStart
from hexapod.desktop.chart.link_menu import LinkMenu, words_of_link
from hexapod.desktop.chart.timescale import snap_of
from hexapod.desktop.theme.style import font
from hexapod.desktop.theme.tips import plain_tip
from hexapod.errors import HexapodError
from hexapod.plan import edits
from hexapod.plan.records import Link, LinkKey

if TYPE_CHECKING:
    from hexapod.desktop.chart.chart import Chart

HELD = 4.0  # pixels that a press may wander and still be a click


class Gestures:
    def __init__(self, chart: Chart, registry: Registry) -> None:
        self._chart = chart
        self._desk = chart.desk
        self._registry = registry
        self.drag: MoveBar | StretchEnd | StretchStart | DragDone | DrawLink | None = None
        self._pressed: tuple[QPointF, str] | None = None  # a bar that may be moved
        self._hovered: str | None = None
        self.hovered_link: LinkKey | None = None
        chart.desk.changed.connect(self._forget_what_is_gone)

    def _forget_what_is_gone(self, *_: object) -> None:
        """An edit by key while a bar is dragged may take its row away."""
        held = self.drag.task if self.drag is not None else self._pressed[1] if self._pressed is not None else None
        if held is not None and held not in self._desk.plan.tasks:
            self.cancel()

    # Where the pointer is

    def link_at(self, at: QPointF) -> Link | None:
        on_sheet = QPointF(at.x(), at.y() + self._chart.verticalScrollBar().value())
        for link, path, _ in self._chart.links_on_screen():
            if g.is_near(path, on_sheet):
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

    def _part_at(self, at: QPointF) -> tuple[str, str] | None:
        """(task, ``start``, ``finish``, ``done`` or ``bar``) if the point is on something of a bar."""
        task = self._chart.task_at(at)
        bar = self._chart.bar_of(task) if task else None
        if task is None or bar is None or self._is_read_only() or not self._desk.is_computed:
            return None
        if not bar.adjusted(-g.END_REACH, -2, g.END_REACH, 8).contains(at):
            return None
        if self._desk.plan.is_summary(task):
            return (task, "bar") if bar.contains(at) else None
        is_moment = self._desk.schedule.dates(task).duration == 0
        grip = g.progress_grip(bar, self._chart.done_part(task))
        if not is_moment and at.y() > bar.bottom() - 1 and abs(at.x() - grip.x()) <= g.GRIP_REACH:
            return task, "done"
        reach = min(g.END_REACH, bar.width() / 3)  # the middle of a short bar is not its end
        if bar.bottom() + 4 < at.y():
            return None
        if not is_moment and -reach <= at.x() - bar.right() <= g.END_REACH:
            return task, "finish"
        if not is_moment and -g.END_REACH <= at.x() - bar.left() <= reach:
            return task, "start"
        return (task, "bar") if bar.contains(at) else None

    def _is_read_only(self) -> bool:
        return self._desk.is_read_only

    # Mouse

    def press(self, event: QMouseEvent) -> None:
        at = event.position()
        if event.button() != Qt.MouseButton.LeftButton:
            return
        handle = self._handle_at(at)
        if handle:
            self.drag = DrawLink(self._chart, handle[0], handle[1], at)
            return
        part = self._part_at(at)
        more = event.modifiers() & Qt.KeyboardModifier.ControlModifier
        if part and not more:
            task, what = part
            self._desk.select((task,), task)
            kinds = {"finish": StretchEnd, "start": StretchStart, "done": DragDone}
            if what in kinds:
                self.drag = kinds[what](self._chart, task, at)
            else:
                self._pressed = (at, task)
            return
        link = self.link_at(at)
        if link is not None and not self._is_read_only():
            self._open(LinkMenu(self._desk, link, self._chart), event.globalPosition().toPoint())
            return
        task_here = self._chart.task_at(at)
        if task_here:
            chosen = (*(t for t in self._desk.selection if t != task_here), task_here) if more else (task_here,)
            self._desk.select(chosen, task_here)

    def move(self, event: QMouseEvent) -> None:
        at = event.position()
        if self._pressed is not None and abs(at.x() - self._pressed[0].x()) > HELD:
            self.drag, self._pressed = MoveBar(self._chart, self._pressed[1], self._pressed[0]), None
        if self.drag is None:
            if self._pressed is None:
                self._hover(at)
        elif self.drag.move(at):
            self._desk.previews.ask(self.drag.edit())
        self._chart.viewport().update()

    def release(self, event: QMouseEvent) -> None:
        drag, self.drag, self._pressed = self.drag, None, None
        if drag is not None:
            words = drag.words()
            edit = drag.edit()
            refusal = drag.refusal
            self._desk.previews.ask(None)
            if edit is not None and self._desk.do(edit):
                said = f": {words}" if isinstance(drag, StretchEnd | StretchStart) else ""
                self._desk.told.emit(f"{edit.words}{said}.", "", True)
            elif refusal:
                self._desk.told.emit(refusal, "trouble", False)
        self._chart.viewport().update()

    def cancel(self) -> bool:
        """Esc: all as it was. Whether there was a drag."""
        drag, self.drag, self._pressed = self.drag, None, None
        self._desk.previews.ask(None)
        self._chart.viewport().update()
        return drag is not None

    def _hover(self, at: QPointF) -> None:
        view = self._chart.viewport()
        if self._handle_at(at):
            view.setCursor(Qt.CursorShape.CrossCursor)
            return
        self._hovered = self._chart.task_at(at)
        part = self._part_at(at)
        link = None if part else self.link_at(at)
        self.hovered_link = link.key if link else None
        if part and part[1] in ("start", "finish", "done"):
            view.setCursor(Qt.CursorShape.SizeHorCursor)
        elif part:
            view.setCursor(Qt.CursorShape.OpenHandCursor)
        elif link:
            view.setCursor(Qt.CursorShape.PointingHandCursor)
        else:
            view.unsetCursor()
        view.setToolTip(
            plain_tip(self._chart.words_of(part[0]) if part else words_of_link(self._desk, link) if link else "")
        )

    # Keyboard: the current bar is moved, stretched and left as the mouse would

    def key(self, event: QKeyEvent) -> bool:
        """Whether the key meant something."""
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()))
        if step is not None:
            self._go(step)
            return True
        side = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        task = self._desk.current
        if side is None or task is None or not self._desk.schedule.has(task) or self._is_read_only():
            return False
        try:
            edit = self._nudged(task, side, bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier))
        except HexapodError as error:
            self._desk.told.emit(str(error), "trouble", False)
            return True
        if self._desk.do(edit):
            self._chart.reveal(task)
            self._desk.told.emit(self._chart.words_of(task) + ".", "", True)
        return True

    def _go(self, step: int) -> None:
        rows = self._desk.rows
        at = self._desk.position.get(self._desk.current or "")
        row = (at if isinstance(at, int) else -1) + step
        while 0 <= row < len(rows) and not rows.task(row):
            row += step
        if 0 <= row < len(rows):
            self._desk.select((rows.task(row),), rows.task(row))
            self._chart.reveal(rows.task(row))

    def _nudged(self, task: str, side: int, stretches: bool) -> edits.Edit:
        from hexapod.schedule.shifting import moved_to

        schedule, step = self._desk.worked_out, snap_of(self._chart.scale)
        if stretches:
            duration = max(step, self._desk.plan.tasks[task].minutes + side * step)
            return edits.set_durations(self._desk.plan, [task], duration)
        from hexapod.worktime.arithmetic import shifted

        network = schedule.network
        slot = schedule.slots[task]
        at = int(
            shifted(network.timing.pool, int(network.tasks.calendar[slot]), int(schedule.start[slot]), side * step)
        )
        return moved_to(schedule, task, at)

    # Menus

    def open_menu(self, at: QPointF, where: QPoint) -> None:
        link = None if self._part_at(at) else self.link_at(at)
        if link is not None and not self._is_read_only():
            self._open(LinkMenu(self._desk, link, self._chart), where)
            return
        menu = QMenu(self._chart)
        task = self._chart.task_at(at)
        if task and task not in self._desk.selection:
            self._desk.select((task,), task)
        self._registry.fill(menu, "row" if task else "chart")
        self._open(menu, where)

    @staticmethod
    def _open(menu: QMenu, where: QPoint) -> None:
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        menu.popup(where)

    # Painting

    def paint(self, painter: QPainter) -> None:
        """Handles of the bar under the pointer, and what a drag would do."""
        if self.drag is None:
            self._paint_handles(painter)
            return
        if isinstance(self.drag, DrawLink):
            self.drag.paint(painter)
        if isinstance(self.drag, DragDone):
            bar = self._chart.bar_of(self.drag.task)
            if bar is not None:
                paint.paint_grip(
                    painter, g.progress_grip(bar, self._chart.done_part(self.drag.task), self.drag.percent)
                )
        self._paint_tip(painter, self.drag.spot(), self.drag.words())

    def _paint_handles(self, painter: QPainter) -> None:
        task = self._hovered
        bar = self._chart.bar_of(task) if task and not self._is_read_only() else None
        if task is None or bar is None:
            return
        paint.paint_handle(painter, g.finish_handle(bar))
        paint.paint_handle(painter, g.start_handle(bar))
        if not self._desk.plan.is_summary(task) and self._desk.schedule.dates(task).duration:
            paint.paint_grip(painter, g.progress_grip(bar, self._chart.done_part(task)))

    def _paint_tip(self, painter: QPainter, at: QPointF, words: str) -> None:
        painter.setFont(font(8.5, QFont.Weight.Medium))
        width = painter.fontMetrics().horizontalAdvance(words) + 14
        view = self._chart.viewport()
        left = max(4.0, min(at.x() + 12, view.width() - width - 4))
        top = at.y() + 14 if at.y() + 40 < view.height() else at.y() - 34
        paint.paint_tag(painter, QRectF(left, top, width, 21), words)
