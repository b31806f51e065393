"""Plans side by side, painted: a column for the plan and each scenario, a row a figure, the need by month below."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFont, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QAbstractScrollArea, QFrame

from hexapod.desktop import dates
from hexapod.desktop.currency import currency
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.scenarios import THE_PLAN, Column, ScenariosWork
from hexapod.desktop.theme.style import color, faded, font, scaled, stream_color
from hexapod.desktop.theme.text import draw_text, width_of
from hexapod.system.words import count_of
from hexapod.worktime.lengths import format_days

if TYPE_CHECKING:
    from hexapod.outlook.side_by_side import Row

NAMES, LEAST_NAMES, COLUMN, GAP = 218, 150, 138, 8
HEAD, ROW, PICTURE = 46, 29, 76
BOLD = QFont.Weight.DemiBold
TOO_LITTLE = 0.5  # hours


class SideBySide(QAbstractScrollArea):
    """``at`` is the cell that the keyboard is at: column and row, row -1 the head. ``asked`` asks for what a figure
    comes from, ``entered`` to work in a scenario."""

    asked = pyqtSignal(str, object)  # scenario, key of the row
    entered = pyqtSignal(str)

    def __init__(self, desk: Desk, work: ScenariosWork) -> None:
        super().__init__()
        self.setObjectName("sideBySide")
        self.setAccessibleName("Plans side by side")
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.viewport().setAutoFillBackground(False)
        self.setStyleSheet("#sideBySide { background: transparent; }")
        self._desk, self._work = desk, work
        self.columns: list[Column] = []
        self.rows: list[Row] = []
        self.at = (0, -1)
        self._paper: QRectF | None = None  # where it is drawn, if not on the screen

    def show_columns(self, columns: list[Column], rows: list[Row]) -> None:
        self.columns, self.rows = columns, rows
        place = next((i for i, c in enumerate(columns) if c.id == self._work.chosen), 0)
        self.at = (place, min(self.at[1], len(rows) - 1))
        self._fit()
        self._tell()
        self.viewport().update()

    # Where things are

    @property
    def _width(self) -> float:
        return self.viewport().width() if self._paper is None else self._paper.width()

    @property
    def _names(self) -> int:
        wide = scaled(NAMES)
        room = round(self._width - len(self.columns) * (scaled(COLUMN) + GAP))
        return max(scaled(LEAST_NAMES), min(wide, room)) if room < wide else wide

    @property
    def _column(self) -> float:
        """How wide a column is: they share what there is, and scroll where that is too little."""
        count = max(1, len(self.columns))
        room = (self._width - self._names) / count - GAP
        if self._paper is not None:
            return room
        return max(float(scaled(COLUMN)), min(room, 1.35 * scaled(COLUMN)))

    def _left(self, column: int) -> float:
        moved = self.horizontalScrollBar().value() if self._paper is None else 0
        return self._names + column * (self._column + GAP) + GAP - moved

    def _top(self, row: int) -> int:
        moved = self.verticalScrollBar().value() if self._paper is None else 0
        return scaled(HEAD) + row * scaled(ROW) - moved

    @property
    def _height(self) -> int:
        return scaled(HEAD) + len(self.rows) * scaled(ROW) + scaled(PICTURE)

    def _fit(self) -> None:
        bar, across = self.verticalScrollBar(), self.horizontalScrollBar()
        bar.setRange(0, max(0, self._height + 2 - self.viewport().height()))
        bar.setPageStep(self.viewport().height())
        bar.setSingleStep(scaled(ROW))
        wide = self._names + len(self.columns) * (self._column + GAP)
        across.setRange(0, max(0, round(wide - self.viewport().width())))
        across.setPageStep(self.viewport().width())
        across.setSingleStep(scaled(COLUMN) // 2)

    @property
    def whole_height(self) -> int:
        """What it takes to be seen whole."""
        return self._height + 4

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()

    def scrollContentsBy(self, dx: int, dy: int) -> None:
        self.viewport().update()

    # Words

    def words(self, row: Row, column: int) -> str:
        from hexapod.outlook.side_by_side import RowKind

        value = row.values[column]
        if column in row.held:
            return "on hold"
        if value is None:
            return "–"
        if self._work.differences and column and row.key.kind is not RowKind.MOVED:
            return self._difference(row, column)
        return self._plain(row, value, column)

    def _plain(self, row: Row, value: float, column: int) -> str:
        from hexapod.outlook.side_by_side import Measure, RowKind

        match row.measure:
            case Measure.DATE:
                return dates.last_day(int(value))
            case Measure.LENGTH:
                return format_days(value, self._desk.units())
            case Measure.HOURS:
                return f"{value:,.0f} h"
            case Measure.MONEY:
                return currency().short(int(value))
        return f"{value} of {row.outs[column]}" if row.key.kind is RowKind.TARGETS else f"{value}"

    def _difference(self, row: Row, column: int) -> str:
        from hexapod.outlook.side_by_side import Measure

        by = row.difference(column)
        if by is None:
            return "–"
        shown = round(by) if row.measure is Measure.HOURS else round(by / 100) if row.measure is Measure.MONEY else by
        if not shown:
            return "the same"
        sign = "+" if by > 0 else "−"
        match row.measure:
            case Measure.DATE:
                return f"{sign}{count_of(round(abs(by) / 1440) or 1, 'day')}"
            case Measure.LENGTH:
                return f"{sign}{format_days(abs(by), self._desk.units())}"
            case Measure.HOURS:
                return f"{sign}{abs(by):,.0f} h"
            case Measure.MONEY:
                return f"{sign}{currency().short(abs(int(by)))}"
        return f"{sign}{abs(by)}"

    def under(self, column: Column) -> str:
        """What stands below the name of a column."""
        if column.id == THE_PLAN:
            return "the plan of today"
        if column.id in self._work.trouble:
            return "cannot be read"
        if column.scenario is not None and column.scenario.taken_over is not None:
            return f"taken over on {dates.short_day(column.scenario.taken_over)}"
        if column.behind:
            asked = f", {column.asked} to answer" if column.asked else ""
            return f"{count_of(column.behind, 'edit')} behind{asked}"
        return "on the plan of today" if column.figures is not None else "being worked out…"

    # Painting

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self.viewport())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._paint_names(painter)
        painter.setClipRect(QRectF(self._names, 0, self.viewport().width(), self.viewport().height()))
        for i, column in enumerate(self.columns):
            if self._left(i) < self.viewport().width() and self._left(i) + self._column > self._names:
                self._paint_column(painter, i, column)
        painter.end()

    def paint(self, painter: QPainter, whole: QRectF) -> None:
        """All of it, into some room on paper."""
        self._paper = whole
        try:
            painter.save()
            painter.translate(whole.topLeft())
            smaller = min(1.0, whole.height() / self._height)
            painter.scale(smaller, smaller)
            self._paint_names(painter)
            for i, column in enumerate(self.columns):
                self._paint_column(painter, i, column)
            painter.restore()
        finally:
            self._paper = None

    def _paint_names(self, painter: QPainter) -> None:
        for i, row in enumerate(self.rows):
            top = self._top(i)
            painter.setPen(QPen(color("rule"), 1))
            painter.drawLine(QPointF(0, top), QPointF(self._names, top))
            painter.setPen(color("ink"))
            draw_text(painter, font(9.5), row.words, QRectF(2, top, self._names - 8, scaled(ROW)))
        top = self._top(len(self.rows))
        painter.setPen(QPen(color("rule"), 1))
        painter.drawLine(QPointF(0, top), QPointF(self._names, top))
        if self._months:
            painter.setPen(color("muted"))
            words = ("Need against what there is,", f"all roles, {self._month_words}")
            for line, said in enumerate(words):
                draw_text(painter, font(8.5), said, QRectF(2, top + 14 + 16 * line, self._names - 8, 16))

    def _paint_column(self, painter: QPainter, i: int, column: Column) -> None:
        left, wide = self._left(i), self._column
        box = QRectF(left + 0.5, self._top(0) - scaled(HEAD) + 0.5, wide - 1, self._height - 1)
        is_chosen = column.id == self._work.chosen
        tone = stream_color(column.scenario.colour) if column.scenario is not None else color("ink")
        painter.setPen(QPen(tone if is_chosen else color("rule"), 1.6 if is_chosen else 1))
        painter.setBrush(color("shade") if column.id == THE_PLAN else color("panel"))
        painter.drawRoundedRect(box, 4, 4)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        head = QRectF(left + 10, box.top() + 5, wide - 18, 19)
        if column.scenario is not None:
            painter.fillRect(QRectF(left + 2, box.top() + 1, wide - 4, 3), tone)
        painter.setPen(color("ink"))
        draw_text(painter, font(9.5, BOLD), column.name, head)
        painter.setPen(color("brick" if column.asked else "muted"))
        draw_text(painter, font(8.5), self.under(column), head.translated(0, 18))
        for r, row in enumerate(self.rows):
            self._paint_cell(painter, QRectF(left, self._top(r), wide, scaled(ROW)), row, r, i, column)
        top = self._top(len(self.rows))
        painter.setPen(QPen(color("rule"), 1))
        painter.drawLine(QPointF(left + 1, top), QPointF(left + wide - 1, top))
        if column.figures is not None:
            self._paint_need(painter, QRectF(left + 10, top + 8, wide - 20, scaled(PICTURE) - 16), column)
        if self._is_at(i, -1):
            self._paint_focus(painter, QRectF(left + 3, box.top() + 4, wide - 6, scaled(HEAD) - 6))

    def _paint_cell(self, painter: QPainter, box: QRectF, row: Row, r: int, i: int, column: Column) -> None:
        painter.setPen(QPen(color("rule"), 1))
        painter.drawLine(QPointF(box.left() + 1, box.top()), QPointF(box.right() - 1, box.top()))
        if column.figures is None:
            painter.setPen(color("faint"))
            draw_text(painter, font(9.5), "…", box.adjusted(10, 0, -10, 0), right=True)
            return
        painter.setPen(color(self._tone(row, i)))
        face = font(9.5, BOLD) if i in row.best or i in row.held else font(9.5)
        draw_text(painter, face, self.words(row, i), box.adjusted(10, 0, -10, 0), right=True)
        if i in row.best:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(color("petrol"))
            wide = width_of(face, self.words(row, i))
            painter.drawEllipse(QPointF(box.right() - 18 - wide, box.center().y()), 2.6, 2.6)
            painter.setBrush(Qt.BrushStyle.NoBrush)
        if self._is_at(i, r):
            self._paint_focus(painter, box.adjusted(3, 2, -3, -2))

    def _is_at(self, column: int, row: int) -> bool:
        return self._paper is None and self.hasFocus() and self.at == (column, row)

    def _paint_focus(self, painter: QPainter, box: QRectF) -> None:
        painter.setPen(QPen(color("petrol"), 1.5))
        painter.drawRoundedRect(box, 3, 3)

    def _tone(self, row: Row, column: int) -> str:
        from hexapod.outlook.side_by_side import RowKind

        if column in row.held:
            return "brick"
        value = row.values[column]
        if row.key.kind is RowKind.SHORT and (value or 0) >= TOO_LITTLE and column not in row.best:
            return "brick"
        return "ink" if column in row.best or value is not None else "muted"

    # The picture of need and capacity

    @property
    def _months(self) -> list[int]:
        found = {m for c in self.columns if c.figures is not None for n in c.figures.needs.values() for m in n}
        return sorted(found)

    @property
    def _month_words(self) -> str:
        months = self._months
        first, last = (dates.month_name(m * dates.DAY).split()[0][:3] for m in (months[0], months[-1]))
        return f"{first} to {last}"

    def _paint_need(self, painter: QPainter, box: QRectF, column: Column) -> None:
        """By month the parts of what roles need that there is, and what they are short of, on top."""
        months = self._months
        if not months or column.figures is None:
            return
        needs = column.figures.needs.values()
        have = [sum(n[m].have for n in needs if m in n) for m in months]
        need = [sum(n[m].need - n[m].short for n in needs if m in n) for m in months]
        short = [sum(n[m].short for n in needs if m in n) for m in months]
        most = max((max(n + s, h) for n, s, h in zip(need, short, have, strict=True)), default=0.0)
        most_short = max((s for c in self.columns for s in self._shorts(c, months)), default=0.0)
        if not most:
            return
        line, top = box.bottom() - (box.height() - 18), box.bottom()
        step = box.width() / len(months)
        for i in range(len(months)):
            left, wide = box.left() + i * step + 1, max(2.0, step - 3)
            share = need[i] / have[i] if have[i] else 0.0
            height = (box.height() - 18) * min(1.0, share)
            painter.fillRect(QRectF(left, top - height, wide, height), color("load"))
            if short[i] >= TOO_LITTLE:
                over = max(3.0, 16 * short[i] / most_short) if most_short else 3.0
                painter.setPen(QPen(color("brick"), 1.2))
                painter.setBrush(faded(color("brick"), 40))
                painter.drawRect(QRectF(left, line - over, wide, over))
                painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(color("ink"), 1))
        painter.drawLine(QPointF(box.left(), line), QPointF(box.right(), line))

    @staticmethod
    def _shorts(column: Column, months: list[int]) -> list[float]:
        if column.figures is None:
            return []
        needs = column.figures.needs.values()
        return [sum(n[m].short for n in needs if m in n) for m in months]

    # Keys and mouse

    def keyPressEvent(self, event: QKeyEvent) -> None:
        column, row = self.at
        match event.key():
            case Qt.Key.Key_Left:
                self._go(column - 1, row)
            case Qt.Key.Key_Right:
                self._go(column + 1, row)
            case Qt.Key.Key_Up:
                self._go(column, row - 1)
            case Qt.Key.Key_Down:
                self._go(column, row + 1)
            case Qt.Key.Key_Home:
                self._go(0, row)
            case Qt.Key.Key_End:
                self._go(len(self.columns) - 1, row)
            case Qt.Key.Key_Return | Qt.Key.Key_Enter:
                self._open()
            case _:
                super().keyPressEvent(event)

    def _go(self, column: int, row: int) -> None:
        if not self.columns:
            return
        column, row = max(0, min(column, len(self.columns) - 1)), max(-1, min(row, len(self.rows) - 1))
        self.at = (column, row)
        across, left = self.horizontalScrollBar(), self._left(column)
        if left < self._names:
            across.setValue(round(across.value() + left - self._names - GAP))
        elif left + self._column > self.viewport().width():
            across.setValue(round(across.value() + left + self._column - self.viewport().width()))
        bar, top = self.verticalScrollBar(), self._top(row)
        if top < scaled(HEAD):
            bar.setValue(bar.value() + top - scaled(HEAD))
        elif top + scaled(ROW) > self.viewport().height():
            bar.setValue(bar.value() + top + scaled(ROW) - self.viewport().height())
        self._work.look_at(self.columns[column].id)
        self._tell()
        self.viewport().update()

    def _open(self) -> None:
        column, row = self.at
        if not 0 <= column < len(self.columns):
            return
        if row < 0:
            self.entered.emit(self.columns[column].id)
        elif row < len(self.rows):
            self.asked.emit(self.columns[column].id, self.rows[row].key)

    def _cell(self, at: QPointF) -> tuple[int, int] | None:
        if at.x() < self._names:
            return None
        column = next((i for i in range(len(self.columns)) if 0 <= at.x() - self._left(i) < self._column), None)
        row = int((at.y() - self._top(0)) // scaled(ROW))
        return None if column is None else (column, max(-1, min(row, len(self.rows) - 1)))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        cell = self._cell(event.position())
        if cell is not None and event.button() == Qt.MouseButton.LeftButton:
            self.setFocus()
            self._go(*cell)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        if self._cell(event.position()) is not None:
            self._open()

    def focusInEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        super().focusInEvent(event)
        self.viewport().update()

    def focusOutEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        super().focusOutEvent(event)
        self.viewport().update()

    def _tell(self) -> None:
        """Say to a screen reader where the keyboard is."""
        column, row = self.at
        if not 0 <= column < len(self.columns):
            return
        shown = self.columns[column]
        if row < 0 or row >= len(self.rows) or shown.figures is None:
            self.setAccessibleDescription(f"{shown.name}: {self.under(shown)}")
        else:
            best = ", the best" if column in self.rows[row].best else ""
            words = self.words(self.rows[row], column)
            self.setAccessibleDescription(f"{shown.name}, {self.rows[row].words}: {words}{best}")
