"""Rows dragged by their number: between rows a line shows where they would go, and sideways on which level; on a row
they become its parts."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QMouseEvent, QPainter, QPen

from hexapod.desktop.build.cell_painter import INDENT, name_left
from hexapod.desktop.models.columns import NAME
from hexapod.desktop.models.gap import RowGap, deepest_level, place_in_gap
from hexapod.desktop.theme.measures import row_height
from hexapod.desktop.theme.style import color
from hexapod.plan import edits

if TYPE_CHECKING:
    from hexapod.desktop.build.grid import Grid


class RowDrag:
    def __init__(self, grid: Grid) -> None:
        self._grid = grid
        self._rows: tuple[str, ...] = ()
        self._to: RowGap | None = None
        self._onto: str | None = None  # the row that they are dropped on

    def begin(self) -> None:
        """The selected rows are held."""
        desk = self._grid.desk
        is_open = not desk.is_read_only and desk.on_show.is_typed
        self._rows = self._grid.desk.selected() if is_open else ()
        self._to = None

    def move(self, event: QMouseEvent) -> bool:
        """Follow the pointer; False if nothing is held."""
        if not self._rows or not event.buttons() & Qt.MouseButton.LeftButton:
            return False
        self._onto = self._row_at(event.position())
        self._to = None if self._onto else self._gap_at(event.position())
        self._grid.viewport().update()
        return True

    def _row_at(self, at: QPointF) -> str | None:
        """The row whose middle is under the pointer, if what is held can be put under it."""
        row = self._grid.rowAt(int(at.y()))
        within = (at.y() + self._grid.verticalOffset()) % row_height() / row_height()
        desk = self._grid.desk
        task = desk.rows.task(row) if 0 <= row < len(desk.rows) else ""
        if not task or not 0.3 < within < 0.7 or {task, *desk.plan.ancestors(task)} & set(self._rows):
            return None
        return task

    def _gap_at(self, at: QPointF) -> RowGap:
        rows = self._grid.desk.rows
        row = self._grid.rowAt(int(at.y() + row_height() / 2))
        row = len(rows) if row < 0 else min(row, len(rows))
        shown = rows.without_gaps()
        indent = int((at.x() - self._grid.columnViewportPosition(NAME) - name_left(0)) // INDENT)
        least = shown[row].level if row < len(shown) else 0
        return RowGap(row, max(least, min(indent, deepest_level(shown, row))))

    def drop(self) -> None:
        """Move what is held to where the line is, or under the row that it is on."""
        gap, onto, rows, desk = self._to, self._onto, self._rows, self._grid.desk
        self._to, self._onto, self._rows = None, None, ()
        self._grid.viewport().update()
        if desk.project is None:
            return
        if onto is not None:
            self._move(rows, onto, None)
        elif gap is not None:
            parent, before = place_in_gap(desk.plan, desk.project, desk.rows.without_gaps(), gap, rows)
            if parent is not None and {parent, *desk.plan.ancestors(parent)} & set(rows):
                desk.told.emit("A row cannot go below itself.", "trouble", False)
                return
            self._move(rows, parent, before)

    def _move(self, rows: tuple[str, ...], parent: str | None, before: str | None) -> None:
        desk = self._grid.desk
        assert desk.project is not None
        edit = edits.move_to(desk.plan, rows, desk.project, parent, before)
        if desk.do(edit):
            desk.select(rows, rows[0])
            desk.told.emit(f"{edit.words}.", "", True)

    def paint(self) -> None:
        if self._onto is not None:
            self._paint_onto()
        if self._to is None:
            return
        y = self._to.index * row_height() - self._grid.verticalOffset()
        x = self._grid.columnViewportPosition(NAME) + name_left(self._to.level)
        painter = QPainter(self._grid.viewport())
        painter.setPen(QPen(color("petrol"), 2))
        painter.drawLine(x, y, self._grid.viewport().width(), y)
        painter.drawEllipse(QPointF(x, y), 3, 3)
        painter.end()

    def _paint_onto(self) -> None:
        """A frame round the row that what is held would be a part of."""
        row = self._grid.desk.position.get(self._onto or "")
        if isinstance(row, int):
            y = row * row_height() - self._grid.verticalOffset()
            painter = QPainter(self._grid.viewport())
            painter.setPen(QPen(color("petrol"), 2))
            painter.drawRect(2, y + 1, self._grid.viewport().width() - 4, row_height() - 3)
            painter.end()
