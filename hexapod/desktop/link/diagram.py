"""The network on screen: links are drawn, changed and removed where they are; keys walk along them."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt
from PyQt6.QtGui import QFont, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QWheelEvent
from PyQt6.QtWidgets import QMenu

from hexapod.desktop.action import Registry
from hexapod.desktop.chart import painter as paint
from hexapod.desktop.chart.link_menu import LinkMenu, words_of_link
from hexapod.desktop.chart.pictures import tell_current, words_of
from hexapod.desktop.link.boxes import FULL, NAMED
from hexapod.desktop.link.plane import Plane
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.theme.style import color, font
from hexapod.desktop.theme.tips import plain_tip
from hexapod.plan import edits
from hexapod.plan.records import LinkType


class Diagram(Plane):
    """The plane under the pointer and the keyboard."""

    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__(desk)
        self.setObjectName("network")
        self.setAccessibleName("Network of tasks")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self._registry = registry
        self._pan: QPointF | None = None
        self._from: tuple[int, bool] | None = None  # the box and end that a link is drawn from
        self._at = QPointF()
        self._target: tuple[int, bool] | None = None
        self._hovered: int | None = None
        for signal in (desk.selection_changed, desk.changed, desk.moved_changed, desk.looks.changed):
            signal.connect(self.update)
        desk.selection_changed.connect(lambda: tell_current(self, desk))

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), color("panel"))
        self.paint_all(painter)
        self._paint_gesture(painter)
        if not self.graph.tasks:
            painter.setPen(color("muted"))
            said = "Nothing is linked yet. Tasks appear here as boxes; draw a link from one box to another."
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, said)
        painter.end()

    def _paint_gesture(self, painter: QPainter) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self._from is not None:
            box = self.to_screen(self.box(self._from[0]))
            start = QPointF(box.right() if self._from[1] else box.left(), box.center().y())
            painter.setPen(QPen(color("petrol"), 1.8))
            painter.drawLine(start, self._at)
            painter.setFont(font(8.5, QFont.Weight.Medium))
            words = self._link_words()
            width = painter.fontMetrics().horizontalAdvance(words) + 14
            paint.paint_tag(painter, QRectF(self._at.x() + 12, self._at.y() + 10, width, 21), words)
        elif self._hovered is not None and self._hovered < len(self.left) and self._can_link():
            for handle, _ in self._handles(self._hovered):
                paint.paint_handle(painter, handle)
        if self.hasFocus() and self.desk.current in self.index:
            box = self.to_screen(self.box(self.index[self.desk.current or ""])).adjusted(-3, -3, 3, 3)
            painter.setPen(QPen(color("petrol"), 1, Qt.PenStyle.DotLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(box, 6, 6)

    def _can_link(self) -> bool:
        return self.zoom >= NAMED and not self.desk.is_read_only

    def _handles(self, i: int) -> list[tuple[QPointF, bool]]:
        box = self.to_screen(self.box(i))
        y = box.center().y()
        return [(QPointF(box.right(), y), True), (QPointF(box.left(), y), False)]

    # Linking

    def _type(self) -> LinkType:
        assert self._from is not None
        at_finish = self._target is not None and self._target[1]
        if self._from[1]:
            return LinkType.FF if at_finish else LinkType.FS
        return LinkType.SF if at_finish else LinkType.SS

    def _link_words(self) -> str:
        plan, tasks = self.desk.plan, self.graph.tasks
        assert self._from is not None
        name = plan.tasks[tasks[self._from[0]]].name
        if self._target is None:
            return f"{name} → …"
        return f"{name} → {plan.tasks[tasks[self._target[0]]].name}, {self._type().value}"

    def cancel(self) -> bool:
        """Esc: no link is drawn. Whether one was."""
        was, self._from, self._pan = self._from is not None, None, None
        self.update()
        return was

    # Events

    def mousePressEvent(self, event: QMouseEvent) -> None:
        at = event.position()
        if event.button() != Qt.MouseButton.LeftButton:
            return
        if self._hovered is not None and self._can_link():
            for handle, is_finish in self._handles(self._hovered):
                if (handle - at).manhattanLength() <= 10:
                    self._from, self._at, self._target = (self._hovered, is_finish), at, None
                    return
        box = self.box_at(at)
        if box is not None:
            task = self.graph.tasks[box]
            self.desk.select((task,), task)
            return
        arc = self.link_at(at)
        if arc is not None:
            self._open_link(arc, event.globalPosition().toPoint())
            return
        self._pan = at

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        at = event.position()
        if self._from is not None:
            self._at, box = at, self.box_at(at)
            self._target = None
            if box is not None and box != self._from[0]:
                shown = self.to_screen(self.box(box))
                self._target = (box, at.x() > shown.left() + shown.width() * 0.66)
        elif self._pan is not None:
            self.origin -= (at - self._pan) / self.zoom
            self._pan = at
        else:
            self._hover(at)
        self.update()

    def _hover(self, at: QPointF) -> None:
        near = [i for i in ([self._hovered] if self._hovered is not None and self._hovered < len(self.left) else [])
                if any((h - at).manhattanLength() <= 12 for h, _ in self._handles(i))]  # fmt: skip
        self._hovered = near[0] if near else self.box_at(at)
        self.hovered_link = self.link_at(at) if self._hovered is None else None
        if self._hovered is not None:
            task = self.graph.tasks[self._hovered]
            self.setToolTip(plain_tip(words_of(self.desk, task)))
            self.setCursor(Qt.CursorShape.CrossCursor if near else Qt.CursorShape.PointingHandCursor)
        elif self.hovered_link is not None:
            links = [self.desk.plan.links.get(k) for k in self.graph.links[self.hovered_link]]
            self.setToolTip(plain_tip("\n".join(words_of_link(self.desk, x) for x in links if x is not None)))
            self.setCursor(Qt.CursorShape.PointingHandCursor)
        else:
            self.setToolTip("")
            self.unsetCursor()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        begun, target = self._from, self._target
        if begun is not None and target is not None:
            tasks = self.graph.tasks
            edit = edits.link(self.desk.plan, tasks[begun[0]], tasks[target[0]], self._type())
            self._from = None
            if self.desk.do(edit):
                self.desk.told.emit(f"{edit.words}.", "", True)
        self._from, self._pan, self._target = None, None, None
        self.update()

    def _open_link(self, arc: int, where: QPoint) -> None:
        links = [self.desk.plan.links[k] for k in self.graph.links[arc] if k in self.desk.plan.links]
        if not links or self.desk.is_read_only:
            return
        if len(links) == 1:
            menu: QMenu = LinkMenu(self.desk, links[0], self)
        else:
            menu = QMenu(self)
            for link in links:
                inner = LinkMenu(self.desk, link, menu)
                inner.setTitle(words_of_link(self.desk, link))
                menu.addMenu(inner)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        menu.popup(where)

    def contextMenuEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        at = QPointF(event.pos())
        box = self.box_at(at)
        if box is None:
            arc = self.link_at(at)
            if arc is not None:
                self._open_link(arc, event.globalPos())
            return
        task = self.graph.tasks[box]
        self.desk.select((task,), task)
        menu = QMenu(self)
        self._registry.fill(menu, "row")
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        menu.popup(event.globalPos())

    def wheelEvent(self, event: QWheelEvent) -> None:
        turned = event.angleDelta()
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.zoom_by(1.2 ** (turned.y() / 120), event.position())
        else:
            sideways = event.modifiers() & Qt.KeyboardModifier.ShiftModifier
            dx, dy = (turned.y(), 0) if sideways else (turned.x(), turned.y())
            self.origin -= QPointF(dx, dy) / self.zoom
            self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """The arrows walk: left and right along links, the driving one first; up and down within a layer."""
        key = Qt.Key(event.key())
        if key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal, Qt.Key.Key_Minus):
            self.zoom_by(0.8 if key == Qt.Key.Key_Minus else 1.25)
            return
        current = self.index.get(self.desk.current or "")
        found = None
        if current is None:
            found = 0 if len(self.left) and key in _ARROWS else None
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            found = self._along(current, key == Qt.Key.Key_Right)
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            found = self._beside(current, key == Qt.Key.Key_Down)
        if found is None:
            if key not in _ARROWS:
                event.ignore()
            return
        task = self.graph.tasks[found]
        self.desk.select((task,), task)
        self.reveal(task)

    def _along(self, box: int, onward: bool) -> int | None:
        near = [(not self.is_driving(i), abs(float(self.top[b] - self.top[a])), b if onward else a)
                for i, (a, b) in enumerate(self.graph.arcs) if (a if onward else b) == box]  # fmt: skip
        return min(near)[2] if near else None

    def _beside(self, box: int, down: bool) -> int | None:
        assert self.layout_ is not None
        same = np.flatnonzero(self.layout_.layer == self.layout_.layer[box])
        side = 1 if down else -1
        near = [
            (side * float(self.top[i] - self.top[box]), int(i))
            for i in same
            if (self.top[i] - self.top[box]) * side > 0
        ]
        return min(near)[1] if near else None


_ARROWS = (Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down)
assert NAMED < FULL
