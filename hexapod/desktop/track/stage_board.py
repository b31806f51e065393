"""The board: cards in the columns of their stages, dragged or moved by keys, one or many."""

from __future__ import annotations

from typing import NamedTuple

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QContextMenuEvent, QFont, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QAbstractScrollArea, QApplication, QFrame, QMenu

from hexapod.control.stages import Row
from hexapod.desktop.frame.walked import is_command
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.stages import StagesWork
from hexapod.desktop.parts import menu_heading
from hexapod.desktop.theme.style import color, faded, font, scaled
from hexapod.desktop.theme.text import draw_text
from hexapod.desktop.track.stage_card import CARD, card_words, paint_card
from hexapod.plan.records import Stage

GAP, HEADER, LANE = 8, 44, 26  # between cards; the names of stages, and of a row
NARROWEST = 168  # pixels of a column


class Place(NamedTuple):
    """Where a card is: its row, its column, which in that cell, and its upper left corner on the whole board."""

    task: str
    row: int
    column: int
    index: int
    left: float
    top: float


class StageBoard(QAbstractScrollArea):
    """``card_opened`` asks for the bar of a card, ``hours_asked`` for the line in which its hours are logged."""

    card_opened = pyqtSignal(str)
    hours_asked = pyqtSignal(str)

    def __init__(self, desk: Desk, work: StagesWork) -> None:
        super().__init__()
        self.setObjectName("stageBoard")
        self.setAccessibleName("Cards by stage")
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._desk, self._work = desk, work
        self.stages: list[Stage] = []
        self.rows: list[Row] = []
        self.places: list[Place] = []
        self._of: dict[str, Place] = {}
        self.current: str | None = None
        self.chosen: set[str] = set()
        self._pressed: QPointF | None = None
        self._dragged_to: QPointF | None = None
        self._counts: list[int] = []

    def sizeHint(self) -> QSize:
        return QSize(760, 420)

    # What is where

    def refresh(self) -> None:
        self.stages, self.rows = self._work.stages(), self._work.rows()
        self._counts = [sum(len(row.cells[c]) for row in self.rows) for c in range(len(self.stages))]
        before = self._of.get(self.current or "")
        self._lay_out()
        if self.current not in self._of:
            self.current = self._nearest(before)
        self.chosen &= self._of.keys()
        self._tell()
        self.viewport().update()

    def _lay_out(self) -> None:
        wide, top = self._column_width(), float(scaled(HEADER))
        lane, step = scaled(LANE), scaled(CARD + GAP)
        self.places = []
        for r, row in enumerate(self.rows):
            top += lane if row.name else GAP
            for c, cell in enumerate(row.cells):
                left = c * wide + GAP
                self.places += [Place(task, r, c, i, left, top + i * step) for i, task in enumerate(cell)]
            top += row.tallest * step + GAP
        self._of = {place.task: place for place in self.places}
        viewport, width = self.viewport(), wide * len(self.stages)
        self.verticalScrollBar().setRange(0, max(0, round(top - viewport.height())))
        self.verticalScrollBar().setPageStep(viewport.height())
        self.verticalScrollBar().setSingleStep(scaled(CARD))
        self.horizontalScrollBar().setRange(0, max(0, round(width - viewport.width())))
        self.horizontalScrollBar().setPageStep(viewport.width())

    def _column_width(self) -> float:
        return max(scaled(NARROWEST), self.viewport().width() / max(1, len(self.stages)))

    def _nearest(self, before: Place | None) -> str | None:
        if before is None or not self.places:
            return self.places[0].task if self.places else None
        distance = lambda p: (abs(p.row - before.row), abs(p.column - before.column), abs(p.index - before.index))  # noqa: E731
        return min(self.places, key=distance).task

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._lay_out()

    def _shift(self) -> QPointF:
        return QPointF(self.horizontalScrollBar().value(), self.verticalScrollBar().value())

    def box_of(self, task: str) -> QRectF | None:
        """Where a card is in the viewport."""
        place = self._of.get(task)
        return None if place is None else self._box(place, self._shift())

    def _box(self, place: Place, shift: QPointF) -> QRectF:
        wide = self._column_width() - 2 * GAP
        return QRectF(place.left - shift.x(), place.top - shift.y(), wide, scaled(CARD))

    def card_at(self, at: QPointF) -> str | None:
        """The card at a place of the viewport."""
        if at.y() < scaled(HEADER):
            return None
        there, wide, high = at + self._shift(), self._column_width() - 2 * GAP, scaled(CARD)
        for place in self.places:
            if 0 <= there.y() - place.top < high and 0 <= there.x() - place.left < wide:
                return place.task
        return None

    def stage_at(self, x: float) -> Stage | None:
        column = int((x + self._shift().x()) // self._column_width())
        return self.stages[column] if 0 <= column < len(self.stages) else None

    # Choosing

    @property
    def moved(self) -> list[str]:
        """The cards that a key or a drag moves: the chosen ones, in the order of the board, else the current one."""
        chosen = [place.task for place in self.places if place.task in self.chosen]
        if self.current is not None and self.current not in chosen:
            return [self.current]
        return sorted(chosen, key=lambda t: t != self.current)

    def go(self, task: str | None, *, extend: bool = False) -> None:
        """To a card; ``extend`` keeps what is chosen and adds it."""
        if task is None or task not in self._of:
            return
        self.chosen = (self.chosen | {task}) if extend else {task}
        self.current = task
        self._desk.select(self.moved, task)
        shift = self._shift()
        box = self._box(self._of[task], QPointF())
        above, below = box.top() - scaled(HEADER) - scaled(LANE) - shift.y(), box.bottom() + GAP - shift.y()
        if above < 0:
            self.verticalScrollBar().setValue(round(shift.y() + above))
        elif below > self.viewport().height():
            self.verticalScrollBar().setValue(round(shift.y() + below - self.viewport().height()))
        left, right = box.left() - shift.x(), box.right() - shift.x()
        if left < 0 or right > self.viewport().width():
            self.horizontalScrollBar().setValue(round(box.left() - GAP))
        self._tell()
        self.viewport().update()

    def _beside(self, columns: int, cards: int) -> str | None:
        """The card so many columns or cards further."""
        at = self._of.get(self.current or "")
        if at is None:
            return self.places[0].task if self.places else None
        if cards:
            column = [p for p in self.places if p.column == at.column]
            index = column.index(at) + cards
            return column[index].task if 0 <= index < len(column) else None
        column = at.column + columns
        while 0 <= column < len(self.stages):
            there = [p for p in self.places if p.column == column]
            if there:
                return min(there, key=lambda p: (abs(p.row - at.row), abs(p.index - at.index))).task
            column += columns
        return None

    def _tell(self) -> None:
        place = self._of.get(self.current or "")
        if place is None or place.task not in self._desk.plan.tasks:
            self.setAccessibleDescription("")
            return
        row = self.rows[place.row].name
        words = f"{self.stages[place.column].name}: {card_words(self._desk, place.task)}"
        self.setAccessibleDescription(f"{row}, {words}" if row else words)

    # Keys

    def event(self, event: QEvent) -> bool:
        if event.type() == QEvent.Type.ShortcutOverride and isinstance(event, QKeyEvent) and not is_command(event):
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key, held = event.key(), event.modifiers()
        if held & Qt.KeyboardModifier.AltModifier:
            super().keyPressEvent(event)
            return
        steps = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
        if key in steps and held & Qt.KeyboardModifier.ControlModifier and steps[key][0]:
            if not self._desk.is_read_only:
                self._work.step(self.moved, steps[key][0])
        elif key in steps:
            self.go(self._beside(*steps[key]), extend=bool(held & Qt.KeyboardModifier.ShiftModifier))
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.current is not None:
            self.card_opened.emit(self.current)
        elif key == Qt.Key.Key_Space and self.current is not None:
            self.chosen ^= {self.current}
            self.viewport().update()
        elif key == Qt.Key.Key_Home and self.places:
            self.go(self.places[0].task)
        elif key == Qt.Key.Key_End and self.places:
            self.go(self.places[-1].task)
        elif Qt.Key.Key_1 <= key <= Qt.Key.Key_9 and not held & Qt.KeyboardModifier.ControlModifier:
            self._move_to(key - Qt.Key.Key_1)
        else:
            super().keyPressEvent(event)

    def _move_to(self, column: int) -> None:
        if column < len(self.stages) and not self._desk.is_read_only:
            self._work.move(self.moved, self.stages[column].id)

    # The mouse

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() is not Qt.MouseButton.LeftButton:
            return
        self.setFocus()
        task = self.card_at(event.position())
        if task is None:
            return
        more = event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
        if more or task not in self.chosen:
            self.go(task, extend=bool(more))
        else:
            self.current = task
        self._pressed = event.position()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._pressed is None or self._desk.is_read_only:
            return
        far = (event.position() - self._pressed).manhattanLength() >= QApplication.startDragDistance()
        if far or self._dragged_to is not None:
            self._dragged_to = event.position()
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
            self.viewport().update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        dragged, self._pressed, self._dragged_to = self._dragged_to, None, None
        self.unsetCursor()
        if dragged is not None:
            stage = self.stage_at(event.position().x())
            if stage is not None:
                self._work.move(self.moved, stage.id)
            self.viewport().update()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        task = self.card_at(event.position())
        if task is not None:
            self.card_opened.emit(task)

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        """Where the chosen cards can go, and the bar of the current one."""
        is_key = event.reason() is QContextMenuEvent.Reason.Keyboard
        task = self.current if is_key else self.card_at(QPointF(event.pos()))
        if task is None:
            return
        if task not in self.chosen:
            self.go(task)
        box = self.box_of(task) if is_key else None
        at = event.globalPos() if box is None else self.viewport().mapToGlobal(box.center().toPoint())
        self.menu_of(task).exec(at)

    def menu_of(self, task: str) -> QMenu:
        """What can be done with the chosen cards."""
        menu, place = QMenu(self), self._of[task]
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        menu.addAction("Show its bar").triggered.connect(lambda: self.card_opened.emit(task))
        menu.addAction("Log hours…").triggered.connect(lambda: self.hours_asked.emit(task))
        if self._desk.is_read_only:
            return menu
        menu_heading(menu, "Put into")
        for i, stage in enumerate(self.stages):
            action = menu.addAction(stage.name)
            action.setEnabled(i != place.column or len(self.moved) > 1)
            action.triggered.connect(lambda _, column=i: self._move_to(column))
        menu.addSeparator()
        menu.addAction("Off the board").triggered.connect(lambda: self._work.toggle(self.moved))
        return menu

    def cancel(self) -> bool:
        """Leave off dragging; whether there was anything to leave off."""
        was, self._pressed, self._dragged_to = self._dragged_to is not None, None, None
        self.unsetCursor()
        self.viewport().update()
        return was

    # Painting

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self.viewport())
        try:
            self._paint(painter)
        finally:
            painter.end()

    def _paint(self, painter: QPainter) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        view = QRectF(self.viewport().rect())
        painter.fillRect(view, color("paper"))
        shift, wide = self._shift(), self._column_width()
        aimed = None if self._dragged_to is None else self.stage_at(self._dragged_to.x())
        for c, stage in enumerate(self.stages):
            box = QRectF(c * wide - shift.x() + GAP / 2, scaled(HEADER), wide - GAP, view.height() - scaled(HEADER))
            painter.fillRect(box, faded(color("petrol"), 30) if stage is aimed else color("shade"))
        self._paint_lanes(painter, view, shift)
        above, below = shift.y() - scaled(CARD), shift.y() + view.height()
        moved = set(self.moved) if self._dragged_to is not None else set()
        for place in self.places:
            if above < place.top < below and place.task in self._desk.plan.tasks:
                is_at = place.task == self.current and self.hasFocus()
                painter.setOpacity(0.35 if place.task in moved else 1.0)
                paint_card(painter, self._desk, place.task, self._box(place, shift), place.task in self.chosen, is_at)
        painter.setOpacity(1.0)
        self._paint_header(painter, view, shift.x(), wide)
        if self._dragged_to is not None:
            self._paint_dragged(painter)

    def _paint_lanes(self, painter: QPainter, view: QRectF, shift: QPointF) -> None:
        top = float(scaled(HEADER)) - shift.y()
        for row in self.rows:
            if row.name and -scaled(LANE) < top < view.height():
                painter.fillRect(QRectF(0, top, view.width(), scaled(LANE)), color("paper"))
                painter.setPen(color("petrol"))
                count = sum(map(len, row.cells))
                words = f"{row.name} · {count}"
                box = QRectF(GAP + 2, top, view.width() - 2 * GAP, scaled(LANE))
                draw_text(painter, font(9, QFont.Weight.DemiBold), words, box)
            top += (scaled(LANE) if row.name else GAP) + row.tallest * scaled(CARD + GAP) + GAP

    def _paint_header(self, painter: QPainter, view: QRectF, left: float, wide: float) -> None:
        painter.fillRect(QRectF(0, 0, view.width(), scaled(HEADER)), color("paper"))
        for c, stage in enumerate(self.stages):
            box = QRectF(c * wide - left + GAP / 2 + 4, 4, wide - GAP - 8, 20)
            painter.setPen(color("ink"))
            draw_text(painter, font(10, QFont.Weight.DemiBold), stage.name, box)
            percent = "no per cent" if stage.percent is None else f"{stage.percent:g} %"
            is_full = stage.most is not None and self._counts[c] >= stage.most
            count = f"{self._counts[c]} of at most {stage.most}" if stage.most is not None else str(self._counts[c])
            painter.setPen(color("amber" if is_full else "muted"))
            below = box.translated(0, 17)
            weight = QFont.Weight.DemiBold if is_full else QFont.Weight.Normal
            draw_text(painter, font(8.5, weight), count, below)
            painter.setPen(color("muted"))
            draw_text(painter, font(8.5), percent, below, right=True)

    def _paint_dragged(self, painter: QPainter) -> None:
        at, moved = self._dragged_to, self.moved
        if at is None or not moved:
            return
        box = QRectF(at.x() - 20, at.y() - 14, self._column_width() - 2 * GAP, scaled(CARD))
        painter.setPen(QPen(color("petrol"), 1.4, Qt.PenStyle.DashLine))
        painter.setBrush(color("panel"))
        painter.drawRoundedRect(box, 5, 5)
        name = self._desk.plan.tasks[moved[0]].name
        painter.setPen(color("ink"))
        words = name if len(moved) == 1 else f"{name} and {len(moved) - 1} more"
        draw_text(
            painter, font(9, QFont.Weight.DemiBold), words, QRectF(box.left() + 8, box.top() + 4, box.width() - 16, 20)
        )
