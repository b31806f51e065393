"""Trays beneath the board: work that nobody is named for, and work that nobody has put at any time yet."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QScrollArea, QSizePolicy, QSplitter, QVBoxLayout, QWidget

from hexapod.desktop.chart import painter as paint
from hexapod.desktop.chart.coloring import row_color
from hexapod.desktop.chart.pictures import words_of
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import label
from hexapod.desktop.staff.board import NAMES, Board
from hexapod.desktop.staff.board_drag import BoardDrag
from hexapod.desktop.theme.style import color, faded, font
from hexapod.desktop.theme.text import draw_text
from hexapod.desktop.theme.tips import plain_tip

CHIP, GAP = 22, 5
WIDEST = 210
MOST = 400  # chips of a tray; the rest is said as a number


class Tray(QWidget):
    """Chips of tasks that are dragged onto the board."""

    def __init__(self, desk: Desk, board: Board, name: str) -> None:
        super().__init__()
        self.setObjectName(name)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        self._desk, self._board = desk, board
        self.tasks: list[str] = []
        self.boxes: list[QRectF] = []
        self._pressed: tuple[QPointF, str] | None = None
        for signal in (desk.selection_changed, desk.looks.changed):
            signal.connect(self.update)

    def show_tasks(self, tasks: list[str]) -> None:
        self.tasks = tasks[:MOST]
        self._lay_out()

    def _lay_out(self) -> None:
        x = y = 0.0
        self.boxes = []
        metrics = self.fontMetrics()
        self.tasks = [t for t in self.tasks if t in self._desk.plan.tasks]  # some may be gone since they were shown
        for task in self.tasks:
            wide = min(WIDEST, metrics.horizontalAdvance(self._desk.plan.tasks[task].name) + 16)
            if x and x + wide > self.width():
                x, y = 0.0, y + CHIP + GAP
            self.boxes.append(QRectF(x, y, wide, CHIP))
            x += wide + GAP
        self.setMinimumHeight(round(y + CHIP + 2))
        self.update()

    def resizeEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        super().resizeEvent(event)
        self._lay_out()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for task, box in zip(self.tasks, self.boxes, strict=True):
            if not event.rect().intersects(box.toAlignedRect()):
                continue
            stream, is_current = row_color(self._desk, task), task == self._desk.current
            pen = QPen(color("ink") if is_current else stream, 1.6 if is_current else 1.1, Qt.PenStyle.DashLine)
            painter.setPen(pen)
            painter.setBrush(faded(stream, paint.PALE // 2))
            painter.drawRoundedRect(box.adjusted(1, 1, -1, -1), 4, 4)
            painter.setPen(color("ink"))
            draw_text(painter, font(8.5), self._desk.plan.tasks[task].name, box.adjusted(8, 0, -6, 0))
        painter.end()

    def task_at(self, at: QPointF) -> str | None:
        return next((t for t, box in zip(self.tasks, self.boxes, strict=True) if box.contains(at)), None)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        task = self.task_at(event.position())
        if task is not None and event.button() == Qt.MouseButton.LeftButton:
            self._desk.select((task,), task)
            if not self._desk.is_read_only:
                self._pressed = (event.position(), task)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        at, board = event.position(), self._board
        if self._pressed is None:
            task = self.task_at(at)
            self.setToolTip(
                plain_tip(words_of(self._desk, task) if task else "Drag it to a name, or to a date beside it")
            )
            return
        if board.drag is None and (at - self._pressed[0]).manhattanLength() > 5:
            board.drag = BoardDrag(board, self._pressed[1], None, QPointF())
        if board.drag is not None:
            board.drag.move(board.viewport().mapFromGlobal(event.globalPosition()))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._pressed = None
        self._board.drop()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """The arrows go from chip to chip; who does it is chosen in the inspector."""
        side = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if side is None or not self.tasks:
            event.ignore()
            return
        at = self.tasks.index(self._desk.current) + side if self._desk.current in self.tasks else 0
        task = self.tasks[max(0, min(at, len(self.tasks) - 1))]
        self._desk.select((task,), task)


class Trays(QSplitter):
    def __init__(self, desk: Desk, board: Board) -> None:
        super().__init__(Qt.Orientation.Horizontal)
        self._desk, self._board = desk, board
        self.setObjectName("behind")
        self.nobody = Tray(desk, board, "nobodyTray")
        self.undated = Tray(desk, board, "undatedTray")
        self._titles = [label("", "value"), label("", "value")]
        for tray, title, words in zip((self.nobody, self.undated), self._titles,
                                      ("Nobody is on it yet", "Not scheduled yet"), strict=True):  # fmt: skip
            tray.setAccessibleName(words)
            side = QWidget()
            box = QVBoxLayout(side)
            box.setContentsMargins(14, 6, 10, 6)
            box.setSpacing(4)
            box.addWidget(title)
            scroll = QScrollArea()
            scroll.setWidget(tray)
            scroll.setWidgetResizable(True)
            scroll.setFrameShape(QScrollArea.Shape.NoFrame)
            box.addWidget(scroll, 1)
            self.addWidget(side)
        self.setSizes([3 * NAMES, 2 * NAMES])

    def _start(self, task: str) -> int:
        return self._desk.schedule.dates(task).start if self._desk.schedule.has(task) else 0

    def refresh(self) -> None:
        from hexapod.staffing.board import is_scheduled, nobody_on

        plan = self._desk.plan
        projects = None if self._board.all_projects else {self._desk.project or ""}
        order = {t: i for i, t in enumerate(self._desk.on_show.outline().tasks)}
        found = sorted(nobody_on(plan, projects), key=lambda t: (order.get(t, len(order)), self._start(t), t))
        dated = [t for t in found if is_scheduled(plan, t)]
        undated = [t for t in found if not is_scheduled(plan, t)]
        for tray, title, words, tasks in (
            (self.nobody, self._titles[0], "Nobody is on it yet", dated),
            (self.undated, self._titles[1], "Not scheduled yet", undated),
        ):
            tray.show_tasks(tasks)
            more = f", {MOST} shown" if len(tasks) > MOST else ""
            title.setText(f"{words}: {len(tasks)}{more}" if tasks else f"{words}: nothing")
