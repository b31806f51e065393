"""Rows dragged by their number: a line shows where they would go, and sideways on which level."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QMouseEvent, QPainter, QPen

from hexapod.desktop.build.cell_painter import INDENT, ROW_HEIGHT, name_left
from hexapod.desktop.build.columns import NAME
from hexapod.desktop.gap import Gap, deepest_level, place_in_gap
from hexapod.desktop.theme.style import color
from hexapod.plan import edits

if TYPE_CHECKING:
    from hexapod.desktop.build.grid import Grid


class RowDrag:
    def __init__(self, grid: Grid) -> None:
        self._grid = grid
        self._rows: tuple[str, ...] = ()
        self._to: Gap | None = None

    def begin(self) -> None:
        """The selected rows are held."""
        is_open = not self._grid.desk.is_read_only
        self._rows = self._grid.desk.selected() if is_open else ()
        self._to = None

    def move(self, event: QMouseEvent) -> bool:
        """Follow the pointer; False if nothing is held."""
        if not self._rows or not event.buttons() & Qt.MouseButton.LeftButton:
            return False
        self._to = self._gap_at(event.position())
        self._grid.viewport().update()
        return True

    def _gap_at(self, at: QPointF) -> Gap:
        rows = self._grid.desk.rows
        row = self._grid.rowAt(int(at.y() + ROW_HEIGHT / 2))
        row = len(rows) if row < 0 else min(row, len(rows))
        shown = rows.without_gaps()
        indent = int((at.x() - self._grid.columnViewportPosition(NAME) - name_left(0)) // INDENT)
        least = shown[row].level if row < len(shown) else 0
        return Gap(row, max(least, min(indent, deepest_level(shown, row))))

    def drop(self) -> None:
        """Move what is held to where the line is."""
        gap, rows, desk = self._to, self._rows, self._grid.desk
        self._to, self._rows = None, ()
        self._grid.viewport().update()
        if gap is None or desk.project is None:
            return
        parent, before = place_in_gap(desk.plan, desk.project, desk.rows.without_gaps(), gap, rows)
        if parent is not None and {parent, *desk.plan.ancestors(parent)} & set(rows):
            desk.told.emit("A row cannot go below itself.", "trouble", False)
            return
        edit = edits.move_to(desk.plan, rows, desk.project, parent, before)
        if desk.do(edit):
            desk.select(rows, rows[0])
            desk.told.emit(f"{edit.words}.", "", True)

    def paint(self) -> None:
        if self._to is None:
            return
        y = self._to.index * ROW_HEIGHT - self._grid.verticalOffset()
        x = self._grid.columnViewportPosition(NAME) + name_left(self._to.level)
        painter = QPainter(self._grid.viewport())
        painter.setPen(QPen(color("petrol"), 2))
        painter.drawLine(x, y, self._grid.viewport().width(), y)
        painter.drawEllipse(QPointF(x, y), 3, 3)
        painter.end()
