"""Chosen milestones and tasks on one line, with the gates of their target dates: the plan as leaders ask for it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QFont, QGuiApplication, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from hexapod.desktop import dates
from hexapod.desktop.chart import geometry as g
from hexapod.desktop.chart.coloring import row_color
from hexapod.desktop.chart.pictures import words_of
from hexapod.desktop.chart.timescale import TimeScale, marks
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import icon_button
from hexapod.desktop.theme.style import color, faded, font
from hexapod.desktop.theme.tips import plain_tip
from hexapod.plan.outline import rows
from hexapod.plan.records import DAY

HEIGHT = 92
LINE = 46.0
LEVELS = (26.0, 8.0, 58.0, 74.0)  # tops of the places for labels: nearest above and below first
ORDER = (0, 2, 1, 3)
LABEL_HEIGHT = 15.0
MOST = 200  # on one line


@dataclass(frozen=True)
class Item:
    task: str
    start: int
    finish: int
    target: int | None
    text: str


def staggered(centers: Sequence[float], widths: Sequence[float], width: float) -> list[QRectF | None]:
    """A place for each label near its moment, on one of four levels; None where it would lie on another one."""
    taken: dict[int, list[QRectF]] = {level: [] for level in ORDER}
    found: list[QRectF | None] = []
    for center, wide in zip(centers, widths, strict=True):
        left = max(2.0, min(center - wide / 2, width - wide - 2))
        place = None
        for level in ORDER:
            box = QRectF(left, LEVELS[level], wide, LABEL_HEIGHT)
            if not any(box.adjusted(-4, 0, 4, 0).intersects(other) for other in taken[level]):
                place = box
                taken[level].append(box)
                break
        found.append(place)
    return found


class MilestoneStrip(QWidget):
    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.setObjectName("milestoneStrip")
        self.setAccessibleName("Milestones and targets")
        self.setFixedHeight(HEIGHT)
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setMouseTracking(True)
        self._desk = desk
        remembered = desk.memory.recall
        self._chosen: dict[str, list[str]] = remembered("strip", dict[str, list[str]], {})
        self._copy = icon_button("copy", "Copy this line as a picture")
        self._copy.setParent(self)
        self._copy.clicked.connect(self.copy)
        for signal in (desk.changed, desk.computed, desk.looked_at_changed, desk.moved_changed, desk.selection_changed,
                       desk.looks.changed):  # fmt: skip
            signal.connect(self.update)
        if not remembered("strip_shown", bool, False):  # else it shows with the window that it is put into
            self.hide()

    # What is on it

    def tasks(self) -> list[str]:
        """Those chosen in this project; as long as nobody chose, its milestones and all that has a target."""
        desk = self._desk
        if desk.project is None:
            return []
        if desk.project in self._chosen:
            return [t for t in self._chosen[desk.project] if t in desk.plan.tasks]
        here = [row.task for row in rows(desk.plan, desk.project)]
        tasks = desk.plan.tasks
        leaves = [t for t in here if not desk.plan.is_summary(t)]
        return [t for t in leaves if tasks[t].minutes == 0 or tasks[t].target is not None][:MOST]

    def put(self, tasks: Sequence[str]) -> bool:
        """Put tasks on the line; all of them being on it, take them off. Whether they are on it now."""
        desk = self._desk
        if desk.project is None:
            return False
        now = self.tasks()
        on = not all(t in now for t in tasks)
        self._chosen[desk.project] = [*(t for t in now if t not in tasks), *(tasks if on else ())][:MOST]
        desk.memory.keep("strip", self._chosen)
        self.update()
        return on

    def toggle(self) -> None:
        """Show the line or put it away."""
        self.setVisible(self.isHidden())
        self._desk.memory.keep("strip_shown", not self.isHidden())

    def items(self) -> list[Item]:
        desk, found = self._desk, []
        for task in self.tasks():
            if desk.schedule.has(task):
                d = desk.schedule.dates(task)
                text = f"{desk.plan.tasks[task].name}, {dates.short_day(d.finish)}"
                found.append(Item(task, d.start, d.finish, desk.plan.tasks[task].target, text))
        return sorted(found, key=lambda i: i.finish)

    def scale(self) -> TimeScale:
        """The whole project over the width."""
        items, desk = self.items(), self._desk
        project = desk.plan.projects.get(desk.project or "")
        begin = min([i.start for i in items] + ([project.start] if project else [0]))
        ends = [max(i.finish, i.target or 0) for i in items]
        end = max([*ends, begin + 20 * DAY])
        pixels = (self.width() - 120) * DAY / (end - begin)
        return TimeScale(begin - round(50 * DAY / max(pixels, 1e-6)), max(pixels, 1e-6))

    # Painting

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        self.paint_all(painter)
        painter.end()

    def paint_all(self, painter: QPainter) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), color("panel"))
        items, scale = self.items(), self.scale()
        painter.setPen(color("rule"))
        painter.drawLine(0, self.height() - 1, self.width(), self.height() - 1)
        if not items:
            painter.setPen(color("muted"))
            said = "Milestones stand here. Put any task on this line from its menu."
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, said)
            return
        upper, _ = marks(scale, self.width())
        painter.setPen(QPen(color("link"), 1.4))
        painter.drawLine(QPointF(20, LINE), QPointF(self.width() - 20, LINE))
        for mark in upper:
            x = scale.x(mark.minute)
            painter.setPen(QPen(color("rule"), 1))
            painter.drawLine(QPointF(x, LINE - 5), QPointF(x, LINE + 5))
        painter.setFont(font(8, QFont.Weight.DemiBold))  # the widest that a label can get
        metrics = painter.fontMetrics()
        places = staggered(
            [scale.x(i.finish) for i in items], [metrics.horizontalAdvance(i.text) + 2 for i in items], self.width()
        )
        for item, place in zip(items, places, strict=True):
            self._paint_item(painter, item, place, scale)
        if self.hasFocus():
            painter.setPen(QPen(color("petrol"), 1, Qt.PenStyle.DotLine))
            painter.drawRect(self.rect().adjusted(1, 1, -2, -2))

    def _paint_item(self, painter: QPainter, item: Item, place: QRectF | None, scale: TimeScale) -> None:
        desk, x = self._desk, scale.x(item.finish)
        found = desk.schedule.dates(item.task)
        stream = row_color(desk, item.task)
        missed = item.target is not None and item.finish > item.target
        if place is not None:
            near = place.bottom() if place.bottom() < LINE else place.top()
            painter.setPen(QPen(color("rule"), 1))
            painter.drawLine(QPointF(x, near), QPointF(x, LINE))
        if item.target is not None:
            painter.setPen(QPen(color("brick" if missed else "muted"), 1.6))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPath(g.gate_path(scale.x(item.target), LINE - g.BAR_TOP - g.BAR_HEIGHT / 2))
        if item.start < item.finish:
            bar = QRectF(scale.x(item.start), LINE - 4, max(3.0, x - scale.x(item.start)), 8)
            painter.setPen(QPen(stream, 0.8))
            pale = faded(row_color(desk, item.task), 130)
            painter.setBrush(pale)
            painter.drawRoundedRect(bar, 2, 2)
        else:
            painter.setPen(QPen(color("ink") if found.critical else stream, 1.8))
            painter.setBrush(stream if desk.percent(item.task) >= 100 else color("panel"))
            painter.drawPolygon(g.hexagon(QPointF(x, LINE), 7))
        if place is not None:
            chosen = item.task in desk.selection
            painter.setFont(font(8, QFont.Weight.DemiBold if chosen else QFont.Weight.Normal))
            painter.setPen(color("brick" if missed else "ink"))
            painter.drawText(place.adjusted(0, 0, 8, 0), Qt.AlignmentFlag.AlignVCenter, item.text)

    # Out and about

    def picture(self, times: float = 2.0) -> QImage:
        """The line as a picture, so many times as fine as on screen."""
        image = QImage(QSize(round(self.width() * times), round(HEIGHT * times)), QImage.Format.Format_RGB32)
        image.setDevicePixelRatio(times)
        painter = QPainter(image)
        self.paint_all(painter)
        painter.end()
        return image

    def copy(self) -> None:
        clipboard = QGuiApplication.clipboard()
        if clipboard is not None:
            clipboard.setImage(self.picture())
            self._desk.told.emit("The milestone strip is copied as a picture.", "", False)

    def item_at(self, x: float) -> str | None:
        scale = self.scale()
        near = [(abs(scale.x(i.finish) - x), i.task) for i in self.items()]
        return min(near)[1] if near and min(near)[0] < 12 else None

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        task = self.item_at(event.position().x())
        self.setToolTip(plain_tip(words_of(self._desk, task) if task else ""))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        task = self.item_at(event.position().x())
        if task:
            self._desk.go_to(task)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        side = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        order = [i.task for i in self.items()]
        if side is None or not order:
            event.ignore()
            return
        at = order.index(self._desk.current) + side if self._desk.current in order else 0
        self._desk.go_to(order[max(0, min(at, len(order) - 1))])

    def resizeEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        super().resizeEvent(event)
        self._copy.setGeometry(self.width() - 26, 4, 22, 22)
