"""The Build leg: outline and chart on one row, the load strip beneath, their columns aligned."""

from __future__ import annotations

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton, QSizePolicy, QSplitter, QVBoxLayout, QWidget

from hexapod.desktop import dates
from hexapod.desktop.action import Registry
from hexapod.desktop.build.grid import Grid
from hexapod.desktop.chart.chart import Chart
from hexapod.desktop.chart.milestone_strip import MilestoneStrip
from hexapod.desktop.chart.overview import HEIGHT, Overview
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.strip.canvas import LoadCanvas
from hexapod.desktop.strip.info import LoadInfo
from hexapod.desktop.theme.measures import row_height
from hexapod.desktop.theme.tips import plain_tip
from hexapod.desktop.views.bar import ViewBar
from hexapod.plan.records import DAY
from hexapod.system.words import count_of

STRIP_HEIGHT = 112
CHART_WIDTH = 560  # at least, while the outline keeps the room for a name and a date
GRID_WIDTH, LEAST_GRID = 530, 380
MOST_OF_WIDTH = 0.5  # for the outline


class BuildLeg(QWidget):
    """``bar`` belongs beside the actions of the window."""

    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__()
        self._desk = desk
        self.grid = Grid(desk, registry)
        self.chart = Chart(desk, registry)
        self.canvas = LoadCanvas(desk, self.chart)
        self.info = LoadInfo(desk, registry, self.canvas)
        self.chart.scale_changed.connect(self.canvas.update)
        self._share_rows()
        self.splitter = splitter = QSplitter(Qt.Orientation.Horizontal)
        splitter.setHandleWidth(1)
        splitter.setChildrenCollapsible(False)
        self.overview = Overview(desk, self.chart)
        self.foot = Foot(desk)
        self.foot.turned.connect(self._turn_strip)
        for upper, between, lower in (
            (self.grid, self.foot, self.info), (self.chart, self.overview, self.canvas),
        ):  # fmt: skip
            column = QWidget()
            box = QVBoxLayout(column)
            box.setContentsMargins(0, 0, 0, 0)
            box.setSpacing(0)
            box.addWidget(upper, 1)
            box.addWidget(between)
            lower.setFixedHeight(STRIP_HEIGHT)
            box.addWidget(lower)
            splitter.addWidget(column)
        splitter.setStretchFactor(0, 0)
        splitter.setStretchFactor(1, 1)
        self._is_split_by_hand = False
        self._is_to_be_shared = True  # once it is known how much room the texts of this project need
        desk.looked_at_changed.connect(self._share_soon)
        self.grid.measured.connect(self._share_once)
        splitter.splitterMoved.connect(self._note_split)
        self.strip = MilestoneStrip(desk)
        self.bar = ViewBar(desk, registry)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(0)
        box.addWidget(self.strip)
        box.addWidget(splitter, 1)
        self._wish = desk.memory.recall("load_strip", bool | None, None)  # open or not, if somebody said so
        self._shown_worst: str | None = None
        for signal in (desk.changed, desk.computed, desk.load_changed, desk.looked_at_changed):
            signal.connect(self._follow_load)
        self._follow_load()
        self._fit_soon = QTimer(self, singleShot=True, interval=0)
        self._fit_soon.timeout.connect(self._share_width)
        for signal in (desk.computed, desk.looked_at_changed):  # not as it is typed: the chart would move about
            signal.connect(self._fit_soon.start)

    def _share_rows(self) -> None:
        """Grid and chart scroll as one."""
        left, right = self.grid.verticalScrollBar(), self.chart.verticalScrollBar()
        left.rangeChanged.connect(right.setRange)
        left.valueChanged.connect(right.setValue)
        right.valueChanged.connect(left.setValue)
        self.lay_rows()

    def lay_rows(self) -> None:
        """Rows of the outline and the chart as close as was chosen."""
        for bar in (self.grid.verticalScrollBar(), self.chart.verticalScrollBar()):
            bar.setSingleStep(row_height())
        self.grid.lay_rows()
        self.chart.forget_drawn()
        self.chart.viewport().update()

    # How the width is shared

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._share_width()

    def _share_soon(self) -> None:
        self._is_to_be_shared = True
        self.grid.headers.measure_soon()

    def _share_once(self) -> None:
        """Not again with each edit: the chart would move under the hand."""
        if self._is_to_be_shared:
            self._is_to_be_shared = False
            self._share_width()

    def _share_width(self) -> None:
        """The outline as wide as its first columns need, as long as the chart has no less."""
        if self._is_split_by_hand:
            return
        most = min(self.width() - CHART_WIDTH, max(GRID_WIDTH, round(self.width() * MOST_OF_WIDTH)))
        outline = max(LEAST_GRID, min(max(GRID_WIDTH, self.grid.headers.wanted_width() + 2), most))
        self.splitter.setSizes([outline, self.width() - outline])

    def split(self, sizes: list[int]) -> None:
        """As somebody left it."""
        self._is_split_by_hand = True
        self.splitter.setSizes(sizes)

    @property
    def split_by_hand(self) -> list[int] | None:
        """How somebody shared the width; None where nobody did."""
        return self.splitter.sizes() if self._is_split_by_hand else None

    def _note_split(self) -> None:
        self._is_split_by_hand = True

    # The load strip: one line, until there is an overload or it is opened

    @property
    def is_strip_open(self) -> bool:
        return not self.canvas.isHidden()

    def _turn_strip(self) -> None:
        self._wish = not self.is_strip_open
        self._desk.memory.keep("load_strip", self._wish)
        self._follow_load()

    def _follow_load(self, *_: object) -> None:
        load = self._desk.load
        overloads = load.overloads if load is not None else ()
        is_open = bool(overloads) if self._wish is None else self._wish
        self.foot.show_load(None if load is None else len(overloads), is_open)
        if is_open != self.is_strip_open:
            self.info.setVisible(is_open)
            self.canvas.setVisible(is_open)
        if overloads and self._shown_worst != self._desk.project:
            self._shown_worst = self._desk.project
            worst = max(overloads, key=lambda o: o.excess)
            self._desk.look_at_resource(worst.resource)


class Foot(QFrame):
    """From when to when the project goes, beside the strip that shows it whole; and the switch of the load strip."""

    turned = pyqtSignal()

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.setObjectName("foot")
        self.setFixedHeight(HEIGHT)
        self._desk = desk
        self._texts: tuple[str, ...] = ("",)
        self._extent = QLabel()
        self._extent.setObjectName("extent")
        self._extent.setTextFormat(Qt.TextFormat.PlainText)
        self._extent.setProperty("role", "small")
        self._extent.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self._load = QPushButton()
        self._load.setObjectName("loadSwitch")
        self._load.setProperty("role", "quiet")
        self._load.setToolTip("Open or close the load of one resource, week by week")
        self._load.clicked.connect(self.turned)
        line = QHBoxLayout(self)
        line.setContentsMargins(10, 0, 6, 0)
        line.addWidget(self._extent, 1)
        line.addWidget(self._load)
        for signal in (desk.changed, desk.computed, desk.looked_at_changed):
            signal.connect(self._show)
        self._show()

    def show_load(self, overloads: int | None, is_open: bool) -> None:
        """How many overloads there are, None while they are counted, and whether the strip is open."""
        said = (
            "Load" if overloads is None else f"Load: {count_of(overloads, 'overload')}" if overloads else "Load: fits"
        )
        self._load.setText(f"{said}  {'▾' if is_open else '▴'}")
        self._load.setAccessibleName(f"{said}. {'Close' if is_open else 'Open'} the load strip")

    def _show(self, *_: object) -> None:
        desk = self._desk
        project = desk.plan.projects.get(desk.project or "")
        finish = desk.schedule.project_finish.get(project.id) if project else None
        if project is None or finish is None:
            self._say("")
            return
        start = desk.schedule.project_start.get(project.id, project.start)
        long, short = (f"{day(start)} to {day(finish)}" for day in (dates.long_day, dates.short_day))
        self._say(f"{long} · {_how_long(finish - start)}", long, f"{short} · {_how_long(finish - start)}", short)

    def _say(self, *texts: str) -> None:
        """The first of the texts that there is room for."""
        self._texts = texts
        width_of = self._extent.fontMetrics().horizontalAdvance
        self._extent.setText(next((t for t in texts if width_of(t) < self._extent.width()), texts[-1]))
        self._extent.setToolTip(plain_tip(texts[0]))

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._say(*self._texts)


def _how_long(minutes: int) -> str:
    """In weeks; in days, begun ones among them, where that is less than two."""
    days = -(-minutes // DAY)
    return count_of(days, "day") if days < 14 else count_of(round(days / 7), "week")
