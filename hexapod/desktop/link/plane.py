"""The plane of the network: boxes in layers, panned and zoomed, drawn as finely as can be read."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QPainter, QPainterPath, QPen
from PyQt6.QtWidgets import QWidget

from hexapod.desktop.chart import geometry as g
from hexapod.desktop.chart import painter as paint
from hexapod.desktop.chart.coloring import row_color
from hexapod.desktop.chart.routing import rounded
from hexapod.desktop.link.boxes import COLUMN, HEIGHT, ROW, WIDTH, BoxPicture, paint_box
from hexapod.desktop.link.graph import Graph
from hexapod.desktop.link.layers import Layout
from hexapod.desktop.link.tracks import Tracks
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.theme.style import color, font
from hexapod.schedule.schedule import TaskDates

CLOSEST, WIDEST, READABLE = 1.6, 0.02, 0.9
MARGIN = 40.0
WHOLE_UP_TO = 900  # links on screen that are drawn with their corners
UPRIGHT = (42.0, 66.0)  # pixels behind a box in which links run up and down: behind what says its float


class Plane(QWidget):
    """``show_network`` gives it what to draw."""

    zoomed = pyqtSignal()

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.graph = Graph((), (), ())
        self.layout_: Layout | None = None
        self.tracks: Tracks | None = None
        self.lanes: tuple[str, ...] = ()
        self.index: dict[str, int] = {}
        self.left: NDArray[np.float64] = np.zeros(0)
        self.top: NDArray[np.float64] = np.zeros(0)
        self.zoom = 0.85
        self.origin = QPointF(-MARGIN, -MARGIN)  # the diagram's point at the widget's corner
        self.hovered_link: int | None = None

    # What is drawn

    def show_network(self, graph: Graph, layout: Layout, lanes: tuple[str, ...] = ()) -> None:
        """A new drawing; the current task stays where it is on screen if it was there."""
        current = self.desk.current or ""
        before = self.to_screen(self.box(self.index[current])).topLeft() if current in self.index else None
        self.graph, self.layout_, self.lanes = graph, layout, lanes
        self.index = {t: i for i, t in enumerate(graph.tasks)}
        self.tracks = Tracks(layout, graph.arcs, UPRIGHT)
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
        """From the right of the one box to the left of the other, straight, with rounded corners in the gaps."""
        tail, head = self.graph.arcs[arc]
        a, b = self.box(tail), self.box(head)
        assert self.tracks is not None
        corners = [QPointF(a.right(), a.center().y())]
        for hop in self.tracks.hops(arc):
            right = hop.layer * COLUMN + WIDTH
            one, two = UPRIGHT if hop.is_level else (self.tracks.x(hop),) * 2
            corners += [
                QPointF(right + one, hop.begin * ROW + HEIGHT / 2),
                QPointF(right + two, hop.end * ROW + HEIGHT / 2),
            ]
        corners.append(QPointF(b.left(), b.center().y()))
        return rounded(corners)

    def _arcs_on_screen(self, boxes: list[int]) -> Iterator[int]:
        shown = set(boxes)
        for i, (tail, head) in enumerate(self.graph.arcs):
            if tail in shown or head in shown:
                yield i

    def is_driving(self, arc: int) -> bool:
        """Whether an arc is part of the critical chain."""
        links = self.desk.plan.links
        return any(k in links and self.desk.is_driving(links[k]) for k in self.graph.links[arc])

    # Painting

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
            self._then(task, found),
        )

    def _then(self, task: str, found: TaskDates) -> TaskDates | None:
        """When the plan has a task that the scenario has at another time."""
        beside = self.desk.beside
        if beside is None or not beside.has(task):
            return None
        then = beside.dates(task)
        return None if (then.start, then.finish) == (found.start, found.finish) else then

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
        driving = [a for a in arcs if self.is_driving(a)]
        rest = set(arcs) - set(driving)
        if len(arcs) > WHOLE_UP_TO:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
            painter.setPen(QPen(color("rule"), 0))
            painter.drawLines([self._chord(a) for a in rest])
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        else:
            picked = {self.index[t] for t in self.desk.selection if t in self.index}
            touching = {arc for arc in rest if arc == self.hovered_link or picked.intersection(self.graph.arcs[arc])}
            for arc in (*sorted(rest - touching), *sorted(touching)):  # those of the selection over the pale ones
                paint.paint_link(painter, self.path_of(arc), driving=False, chosen=arc in touching)
        for arc in driving:
            painter.setPen(QPen(color("petrol" if arc == self.hovered_link else "ink"), max(2.2, 1.2 / self.zoom)))
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


def _kept(value: float, least: float, most: float) -> float:
    """Within bounds; in their middle where they leave no room."""
    return (least + most) / 2 if least > most else max(least, min(most, value))
