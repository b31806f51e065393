"""The network on screen: boxes in layers, panned and zoomed; links are drawn, changed and removed where they are."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QLineF, QPoint, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen, QWheelEvent
from PyQt6.QtWidgets import QMenu, QWidget

from hexapod.desktop.actions.action import Registry
from hexapod.desktop.build.coloring import row_color
from hexapod.desktop.chart import geometry as g
from hexapod.desktop.chart import painter as paint
from hexapod.desktop.chart.link_menu import LinkMenu, words_of_link
from hexapod.desktop.chart.pictures import words_of
from hexapod.desktop.desk import Desk
from hexapod.desktop.network.boxes import COLUMN, FULL, HEIGHT, NAMED, ROW, WIDTH, BoxPicture, paint_box
from hexapod.desktop.network.graph import Graph
from hexapod.desktop.network.layers import Layout
from hexapod.desktop.theme.style import color, font
from hexapod.plan import edits
from hexapod.plan.records import LinkType

CLOSEST, WIDEST, READABLE = 1.6, 0.02, 0.9
MARGIN = 40.0
SMOOTH_UP_TO = 900  # links on screen that are drawn as smooth curves


class Diagram(QWidget):
    """``show_network`` gives it what to draw; ``wanted`` says that a layout is missing."""

    zoomed = pyqtSignal()

    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__()
        self.setObjectName("network")
        self.setAccessibleName("Network of tasks")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.desk, self._registry = desk, registry
        self.graph = Graph((), (), ())
        self.layout_: Layout | None = None
        self.lanes: tuple[str, ...] = ()
        self.index: dict[str, int] = {}
        self.left: NDArray[np.float64] = np.zeros(0)
        self.top: NDArray[np.float64] = np.zeros(0)
        self.zoom = 0.85
        self.origin = QPointF(-MARGIN, -MARGIN)  # the diagram's point at the widget's corner
        self._pan: QPointF | None = None
        self._from: tuple[int, bool] | None = None  # the box and end that a link is drawn from
        self._at = QPointF()
        self._target: tuple[int, bool] | None = None
        self._hovered: int | None = None
        self._hovered_link: int | None = None
        for signal in (desk.selection_changed, desk.changed, desk.moved_changed):
            signal.connect(self.update)
        desk.selection_changed.connect(self._tell_box)

    # What is drawn

    def show_network(self, graph: Graph, layout: Layout, lanes: tuple[str, ...] = ()) -> None:
        """A new drawing; the current task stays where it is on screen if it was there."""
        current = self.desk.current or ""
        before = self.to_screen(self.box(self.index[current])).topLeft() if current in self.index else None
        self.graph, self.layout_, self.lanes = graph, layout, lanes
        self.index = {t: i for i, t in enumerate(graph.tasks)}
        self.left, self.top = layout.layer * COLUMN, layout.y * ROW
        if current in self.index and before is not None:
            at = self.box(self.index[current]).topLeft()
            self.origin = QPointF(at.x() - before.x() / self.zoom, at.y() - before.y() / self.zoom)
        else:
            self.fit()
        self.update()

    def box(self, i: int) -> QRectF:
        return QRectF(float(self.left[i]), float(self.top[i]), WIDTH, HEIGHT)

    def to_screen(self, box: QRectF) -> QRectF:
        z = self.zoom
        return QRectF(
            (box.left() - self.origin.x()) * z, (box.top() - self.origin.y()) * z, box.width() * z, box.height() * z
        )

    def to_diagram(self, at: QPointF) -> QPointF:
        return QPointF(at.x() / self.zoom + self.origin.x(), at.y() / self.zoom + self.origin.y())

    def bounds(self) -> QRectF:
        """All boxes with the room behind them, and the bends of links."""
        if not len(self.left) or self.layout_ is None:
            return QRectF(0, 0, 400, 300)
        bends = [y * ROW for chain in self.layout_.bends for _, y in chain]
        top = min(float(self.top.min()), *bends) if bends else float(self.top.min())
        bottom = max(float(self.top.max()), *bends) if bends else float(self.top.max())
        left, right = float(self.left.min()), float(self.left.max()) + WIDTH + 60
        return QRectF(left, top - 4, right - left, bottom + HEIGHT - top + 8)

    def visible(self) -> list[int]:
        """The boxes on screen."""
        a = self.to_diagram(QPointF(0, 0))
        b = self.to_diagram(QPointF(self.width(), self.height()))
        inside = (
            (self.left < b.x()) & (self.left + WIDTH + 60 > a.x()) & (self.top < b.y()) & (self.top + HEIGHT > a.y())
        )
        return np.flatnonzero(inside).tolist()  # type: ignore[no-any-return]

    # Moving about

    def fit(self) -> None:
        """All of it, as far as its names can still be read; else what is round the current box, or its beginning."""
        box = self.bounds().adjusted(-MARGIN, -MARGIN, MARGIN, MARGIN)
        whole = min(self.width() / box.width(), self.height() / box.height())
        self.zoom = max(READABLE, min(1.0, whole))
        center = box.center()
        if whole < READABLE:
            first = self.index.get(self.desk.current or "")
            if first is not None:
                center = self.box(first).center()
            half = QPointF(self.width(), self.height()) / 2 / self.zoom
            center = QPointF(_kept(center.x(), box.left() + half.x(), box.right() - half.x()),
                             _kept(center.y(), box.top() + half.y(), box.bottom() - half.y()))  # fmt: skip
        self.center_on(center)
        self.zoomed.emit()

    def show_whole(self) -> None:
        """All of it, however small."""
        box = self.bounds().adjusted(-MARGIN, -MARGIN, MARGIN, MARGIN)
        self.zoom = max(WIDEST, min(1.0, self.width() / box.width(), self.height() / box.height()))
        self.center_on(box.center())
        self.zoomed.emit()

    def center_on(self, at: QPointF) -> None:
        self.origin = QPointF(at.x() - self.width() / 2 / self.zoom, at.y() - self.height() / 2 / self.zoom)
        self.update()

    def zoom_by(self, factor: float, around: QPointF | None = None) -> None:
        around = around or QPointF(self.width() / 2, self.height() / 2)
        kept = self.to_diagram(around)
        self.zoom = max(WIDEST, min(CLOSEST, self.zoom * factor))
        self.origin = QPointF(kept.x() - around.x() / self.zoom, kept.y() - around.y() / self.zoom)
        self.zoomed.emit()
        self.update()

    def reveal(self, task: str) -> None:
        """Bring a box on screen, moving as little as it takes."""
        i = self.index.get(task)
        if i is None:
            return
        box = self.to_screen(self.box(i))
        dx = min(0.0, box.left() - 20) + max(0.0, box.right() + 20 - self.width())
        dy = min(0.0, box.top() - 20) + max(0.0, box.bottom() + 20 - self.height())
        self.origin += QPointF(dx / self.zoom, dy / self.zoom)
        self.update()

    # Where things are

    def box_at(self, at: QPointF) -> int | None:
        p = self.to_diagram(at)
        inside = (
            (self.left <= p.x()) & (p.x() <= self.left + WIDTH) & (self.top <= p.y()) & (p.y() <= self.top + HEIGHT)
        )
        found = np.flatnonzero(inside)
        return int(found[-1]) if len(found) else None

    def link_at(self, at: QPointF) -> int | None:
        p = self.to_diagram(at)
        reach = 5 / self.zoom
        for arc in self._arcs_on_screen(self.visible()):
            if g.is_near(self.path_of(arc), p, reach):
                return arc
        return None

    def path_of(self, arc: int) -> QPainterPath:
        """From the right of the one box to the left of the other, through the arc's bends."""
        tail, head = self.graph.arcs[arc]
        a, b = self.box(tail), self.box(head)
        points = [QPointF(a.right(), a.center().y())]
        assert self.layout_ is not None
        for layer, y in self.layout_.bends[arc]:
            middle = y * ROW + HEIGHT / 2
            points += [QPointF(layer * COLUMN, middle), QPointF(layer * COLUMN + WIDTH, middle)]
        points.append(QPointF(b.left(), b.center().y()))
        path = QPainterPath(points[0])
        for i in range(1, len(points)):
            p, q = points[i - 1], points[i]
            if i % 2 == 0:
                path.lineTo(q)  # past the boxes of a layer
            else:
                half = max(18.0, abs(q.x() - p.x()) / 2)
                path.cubicTo(QPointF(p.x() + half, p.y()), QPointF(q.x() - half, q.y()), q)
        return path

    def _arcs_on_screen(self, boxes: list[int]) -> Iterator[int]:
        shown = set(boxes)
        for i, (tail, head) in enumerate(self.graph.arcs):
            if tail in shown or head in shown:
                yield i

    def _is_driving(self, arc: int) -> bool:
        links = self.desk.plan.links
        return any(k in links and self.desk.is_driving(links[k]) for k in self.graph.links[arc])

    # Painting

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

    def paint_all(self, painter: QPainter, *, whole: bool = False) -> None:
        """Everything but gestures; ``whole`` for paper, where nothing is off screen."""
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.scale(self.zoom, self.zoom)
        painter.translate(-self.origin)
        boxes = list(range(len(self.left))) if whole else self.visible()
        self._paint_lanes(painter)
        self._paint_links(painter, boxes)
        if self.zoom >= 0.16 or len(boxes) < 200:
            chosen = set(self.desk.selection)
            for i in boxes:
                if self.desk.schedule.has(self.graph.tasks[i]):
                    paint_box(painter, self.box(i), self._picture(self.graph.tasks[i], chosen), self.zoom)
        else:
            self._paint_far(painter, boxes)
        painter.restore()

    def _picture(self, task: str, chosen: set[str]) -> BoxPicture:
        desk = self.desk
        found = desk.schedule.dates(task)
        return BoxPicture(
            desk.plan.tasks[task].name,
            found,
            row_color(desk, task),
            found.start == found.finish,
            desk.plan.is_summary(task),
            desk.percent(task),
            task in chosen,
        )

    def _paint_far(self, painter: QPainter, boxes: list[int]) -> None:
        """From afar a box is a patch of its stream's colour, and a dark one where it is critical."""
        by_colour: dict[str, list[QRectF]] = {}
        schedule, chosen = self.desk.schedule, set(self.desk.selection)
        for i in boxes:
            task = self.graph.tasks[i]
            if not schedule.has(task):
                continue
            critical = schedule.critical[schedule.slots[task]]
            name = "petrol" if task in chosen else "ink" if critical else row_color(self.desk, task).name()
            by_colour.setdefault(name, []).append(self.box(i))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        painter.setPen(Qt.PenStyle.NoPen)
        for name, rects in by_colour.items():
            painter.setBrush(color(name) if not name.startswith("#") else QColor(name))
            painter.drawRects(rects)

    def _paint_links(self, painter: QPainter, boxes: list[int]) -> None:
        arcs = list(self._arcs_on_screen(boxes))
        driving = [a for a in arcs if self._is_driving(a)]
        rest = set(arcs) - set(driving)
        if len(arcs) > SMOOTH_UP_TO:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
            painter.setPen(QPen(color("rule"), 0))
            painter.drawLines([self._chord(a) for a in rest])
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        else:
            for arc in sorted(rest):
                chosen = arc == self._hovered_link
                paint.paint_link(painter, self.path_of(arc), driving=False, chosen=chosen)
        for arc in driving:
            painter.setPen(QPen(color("petrol" if arc == self._hovered_link else "ink"), max(2.2, 1.2 / self.zoom)))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPath(self.path_of(arc))

    def _chord(self, arc: int) -> QLineF:
        tail, head = self.graph.arcs[arc]
        a, b = self.box(tail), self.box(head)
        return QLineF(a.right(), a.center().y(), b.left(), b.center().y())

    def _paint_lanes(self, painter: QPainter) -> None:
        if not self.lanes or self.layout_ is None:
            return
        view = QRectF(self.to_diagram(QPointF(0, 0)), self.to_diagram(QPointF(self.width(), self.height())))
        for name, (top, bottom) in zip(self.lanes, self.layout_.bands, strict=False):
            band = QRectF(view.left(), top * ROW - 14, view.width(), (bottom - top) * ROW + 6)
            painter.setPen(QPen(color("rule"), 1))
            painter.drawLine(band.topLeft(), band.topRight())
            painter.setFont(font(10 / max(self.zoom, 0.5), QFont.Weight.DemiBold))
            painter.setPen(color("petrol"))
            place = QRectF(view.left() + 8, band.top() + 2, 400, 24 / max(self.zoom, 0.5))
            painter.drawText(place, Qt.AlignmentFlag.AlignTop, name)

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
        self._hovered_link = self.link_at(at) if self._hovered is None else None
        if self._hovered is not None:
            task = self.graph.tasks[self._hovered]
            self.setToolTip(words_of(self.desk, task))
            self.setCursor(Qt.CursorShape.CrossCursor if near else Qt.CursorShape.PointingHandCursor)
        elif self._hovered_link is not None:
            links = [self.desk.plan.links.get(k) for k in self.graph.links[self._hovered_link]]
            self.setToolTip("\n".join(words_of_link(self.desk, x) for x in links if x is not None))
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
        near = [(not self._is_driving(i), abs(float(self.top[b] - self.top[a])), b if onward else a)
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

    def _tell_box(self) -> None:
        current = self.desk.current
        self.setAccessibleDescription(words_of(self.desk, current) if current in self.desk.plan.tasks else "")


_ARROWS = (Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down)
assert NAMED < FULL


def _kept(value: float, least: float, most: float) -> float:
    """Within bounds; in their middle where they leave no room."""
    return (least + most) / 2 if least > most else max(least, min(most, value))
