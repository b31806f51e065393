"""The legend and the keys: pages built from the codes and the registry."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QBrush, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QComboBox, QGridLayout, QWidget

from hexapod.desktop.chart import painter as paint
from hexapod.desktop.chart.coloring import keys, ways
from hexapod.desktop.chart.routing import Ends, link_path
from hexapod.desktop.chart.timescale import TimeScale
from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import heading, label, narrow
from hexapod.desktop.theme.style import color, stream_color
from hexapod.plan.records import DAY, LinkType
from hexapod.schedule.schedule import TaskDates


def _dates(start: float, finish: float, late: float, *, critical: bool = False, duration: int = 480) -> TaskDates:
    a, b, c = (round(x * DAY) for x in (start, finish, late))
    return TaskDates(a, b, a, b, a + c - b, c, c - b, c - b, critical, critical, duration)


def _entries() -> list[tuple[str, paint.RowPicture | str]]:
    stream = stream_color(0)
    work = _dates(1, 5, 5)
    return [
        ("Task, in the colour of its stream", paint.RowPicture(work, stream, False, label="MO")),
        ("Critical: an ink keel under the bar", paint.RowPicture(_dates(1, 5, 5, critical=True), stream, False)),
        ("Float: up to its late finish", paint.RowPicture(_dates(1, 3.4, 5.6), stream, False)),
        ("Milestone; with an ink edge if critical", paint.RowPicture(
            _dates(3, 3, 3, critical=True, duration=0), stream, False)),
        ("Summary of the rows below it", paint.RowPicture(work, stream, True)),
        ("Target date, in brick once missed", paint.RowPicture(work, stream, False, target=round(4.2 * DAY))),
        ("Limit on the dates", paint.RowPicture(work, stream, False, is_limited=True)),
        ("Levelling hold: the wedge before the bar", paint.RowPicture(
            _dates(2.6, 5.6, 5.6), stream, False, free_start=DAY)),
        ("Baseline: a thin line at the foot", paint.RowPicture(
            _dates(2, 5.6, 5.6), stream, False, then=(round(0.6 * DAY), round(4.2 * DAY)))),
        ("Moved just now, by how much", paint.RowPicture(_dates(1, 3.4, 3.4), stream, False, moved=960)),
        ("Where it would be", paint.RowPicture(_dates(0.4, 2.4, 2.4), stream, False, ghosts=(_dates(3.4, 5.4, 5.4),))),
        ("Link; in ink where it drives the finish", "link"),
        ("Conflict: a link that only warns, and is broken", "broken"),
        ("Load, and overload with its number", "load"),
        ("Time in which nobody works", "idle"),
    ]  # fmt: skip


class _Sample(QWidget):
    """One code, drawn by the code that draws the chart."""

    def __init__(self, picture: paint.RowPicture | str) -> None:
        super().__init__()
        self._picture = picture
        self.setFixedSize(QSize(84, 27))

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if isinstance(self._picture, paint.RowPicture):
            paint.paint_row(painter, TimeScale(0, 13.0), self._picture, 0)
        elif self._picture == "link":
            before, after = QRectF(2, 2, 26, 8), QRectF(48, 18, 26, 8)
            path = link_path(LinkType.FS, Ends(before, after, 0, 1, lambda row: 14), lambda row: ())
            paint.paint_link(painter, path, driving=True, chosen=False)
        elif self._picture == "broken":
            ends = Ends(QRectF(4, 2, 26, 8), QRectF(48, 18, 26, 8), 0, 1, lambda row: 14)
            path = link_path(LinkType.FS, ends, lambda row: ())
            paint.paint_broken_link(painter, path)
        elif self._picture == "load":
            painter.fillRect(QRectF(12, 14, 22, 12), color("load"))
            painter.fillRect(QRectF(38, 14, 22, 12), color("load"))
            painter.fillRect(QRectF(38, 4, 22, 10), QBrush(color("brick"), Qt.BrushStyle.BDiagPattern))
            painter.setPen(QPen(color("ink"), 1.3))
            painter.drawLine(QPointF(6, 14), QPointF(66, 14))
        else:
            painter.fillRect(QRectF(20, 0, 30, 27), color("shade"))
        painter.end()


class Legend(Page):
    def __init__(self, desk: Desk) -> None:
        super().__init__(desk, "Legend")
        for signal in (desk.changed, desk.looked_at_changed, desk.looks.changed):
            signal.connect(self.refresh)

    def fill(self) -> None:
        self.box.addWidget(label("Legend", "title"))
        grid = QGridLayout()
        grid.setVerticalSpacing(4)
        for i, (words, picture) in enumerate(_entries()):
            grid.addWidget(_Sample(picture), i, 0)
            grid.addWidget(label(words, wrap=True), i, 1)
        grid.setColumnStretch(1, 1)
        self.box.addLayout(grid)
        self._fill_colours()

    def _fill_colours(self) -> None:
        """What the colours of the rows mean, and what they go by."""
        self.box.addWidget(heading("Colour of the rows"))
        by = narrow(QComboBox())
        by.setObjectName("colorBy")
        by.setAccessibleName("Rows are coloured by")
        for way, words in ways(self.desk).items():
            by.addItem(words, way)
        by.setCurrentIndex(max(0, by.findData(self.desk.looks.color_by)))
        by.activated.connect(lambda i: self.desk.looks.set_color_by(by.itemData(i)))
        self.box.addWidget(by)
        grid = QGridLayout()
        for i, key in enumerate(keys(self.desk)):
            swatch = QWidget()
            swatch.setFixedSize(14, 14)
            number = self.desk.looks.color_index(key, lambda: keys(self.desk))
            swatch.setStyleSheet(f"background: {stream_color(number).name()}; border-radius: 3px;")
            grid.addWidget(swatch, i, 0)
            grid.addWidget(label(key, wrap=True), i, 1)
        grid.setColumnStretch(1, 1)
        self.box.addLayout(grid)
