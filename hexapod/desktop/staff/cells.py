"""A field of cells, a row each for somebody or something and a column a period."""

from __future__ import annotations

from collections.abc import Sized
from typing import NamedTuple, Protocol

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QResizeEvent
from PyQt6.QtWidgets import QAbstractScrollArea

from hexapod.desktop.models.desk import Desk


class Sizes(NamedTuple):
    """In pixels: what stands left of the cells, a cell, a row, what stands above, and the gap round a cell."""

    names: int
    cell: int
    row: int
    head: int
    gap: float


class Table(Protocol):
    """Rows against periods; ``edges`` are the periods' bounds, one more than there are periods."""

    @property
    def rows(self) -> Sized: ...

    @property
    def edges(self) -> Sized: ...


class Cells(QAbstractScrollArea):
    """``picked`` when another cell is looked at. Subclasses count their ``table``, and paint it."""

    picked = pyqtSignal()
    table: Table | None = None

    def __init__(self, desk: Desk, sizes: Sizes, name: str) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.setFrameShape(QAbstractScrollArea.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._desk, self.sizes = desk, sizes
        self.row, self.period = 0, 0
        for bar in (self.verticalScrollBar(), self.horizontalScrollBar()):
            bar.valueChanged.connect(self.viewport().update)

    @property
    def rows(self) -> int:
        return len(self.table.rows) if self.table is not None else 0

    @property
    def periods(self) -> int:
        return len(self.table.edges) - 1 if self.table is not None else 0

    def _tell(self) -> None:
        """What a screen reader says of the cell that is looked at."""

    # Places

    def _columns(self) -> int:
        return max(1, (self.viewport().width() - self.sizes.names) // self.sizes.cell)

    def _lines(self) -> int:
        return max(1, (self.viewport().height() - self.sizes.head) // self.sizes.row)

    def on_screen(self) -> tuple[range, range]:
        """Rows and periods of which something is to be seen."""
        top, first = self.verticalScrollBar().value(), self.horizontalScrollBar().value()
        return (
            range(top, min(self.rows, top + self._lines() + 1)),
            range(first, min(self.periods, first + self._columns() + 1)),
        )

    def top_of(self, row: int) -> int:
        return self.sizes.head + (row - self.verticalScrollBar().value()) * self.sizes.row

    def cell_rect(self, row: int, period: int) -> QRectF:
        """Where a cell is in the viewport."""
        names, cell, high, _, gap = self.sizes
        x = names + (period - self.horizontalScrollBar().value()) * cell
        return QRectF(x, self.top_of(row), cell, high).adjusted(gap, gap, -gap, -gap)

    def place_at(self, at: QPointF) -> tuple[int, int] | None:
        """Row, and period or -1 for what stands left of the cells, under a point."""
        row = int((at.y() - self.sizes.head) // self.sizes.row) + self.verticalScrollBar().value()
        if at.y() < self.sizes.head or row >= self.rows:
            return None
        if at.x() < self.sizes.names:
            return row, -1
        return row, int((at.x() - self.sizes.names) // self.sizes.cell) + self.horizontalScrollBar().value()

    def set_ranges(self) -> None:
        """The scroll bars reach over all there is."""
        across, down = self.horizontalScrollBar(), self.verticalScrollBar()
        across.setRange(0, max(0, self.periods - self._columns()))
        across.setPageStep(self._columns())
        down.setRange(0, max(0, self.rows - self._lines()))
        down.setPageStep(self._lines())

    def reveal(self) -> None:
        """Scroll as little as it takes to see the cell that is looked at."""
        self.set_ranges()
        across, down = self.horizontalScrollBar(), self.verticalScrollBar()
        across.setValue(max(min(across.value(), self.period), self.period - self._columns() + 1))
        down.setValue(max(min(down.value(), self.row), self.row - self._lines() + 1))

    # Hands

    def look_at(self, row: int, period: int) -> None:
        """Another cell."""
        if not self.rows or not self.periods:
            return
        self.row = max(0, min(row, self.rows - 1))
        self.period = max(0, min(period, self.periods - 1))
        self.reveal()
        self._tell()
        self.viewport().update()
        self.picked.emit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {
            Qt.Key.Key_Left: (0, -1), Qt.Key.Key_Right: (0, 1), Qt.Key.Key_Up: (-1, 0), Qt.Key.Key_Down: (1, 0),
            Qt.Key.Key_PageUp: (-self._lines(), 0), Qt.Key.Key_PageDown: (self._lines(), 0),
            Qt.Key.Key_Home: (0, -10_000), Qt.Key.Key_End: (0, 10_000),
        }  # fmt: skip
        found = steps.get(Qt.Key(event.key()))
        if found is None or event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            event.ignore()
        else:
            self.look_at(self.row + found[0], self.period + found[1])

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.set_ranges()

    def scrollContentsBy(self, dx: int, dy: int) -> None:
        self.viewport().update()
