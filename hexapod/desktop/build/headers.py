"""The grid's headings: their widths are remembered, and dragging one moves its column."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QFont
from PyQt6.QtWidgets import QHeaderView, QTableView

from hexapod.desktop.build.cell_painter import name_left, room_of_marks
from hexapod.desktop.build.fitting import Wish, fitted
from hexapod.desktop.models.columns import NAME
from hexapod.desktop.theme.measures import HEADER_HEIGHT, row_height
from hexapod.desktop.theme.style import font, scaled
from hexapod.desktop.theme.text import width_of
from hexapod.fields.field import PlanField
from hexapod.plan.outline import Row

if TYPE_CHECKING:
    from hexapod.desktop.build.grid import Grid


FIRST = 6  # columns, up to who does it, that are in sight before others
LEAST_NAME, WIDEST_NAME = 190, 380  # pixels
MOST = 2.2  # times its usual width, for a column of long texts
CELL_MARGIN = 7
FIT_AFTER = 30  # milliseconds after an edit


class Headers:
    def __init__(self, grid: Grid) -> None:
        self._grid = grid
        self._is_sizing = False
        vertical = grid.verticalHeader()
        vertical.hide()
        vertical.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        vertical.setDefaultSectionSize(row_height())
        vertical.setMinimumSectionSize(row_height())
        horizontal = grid.horizontalHeader()
        horizontal.setFixedHeight(HEADER_HEIGHT)
        horizontal.setHighlightSections(False)
        horizontal.setSectionsClickable(False)
        horizontal.setSectionsMovable(True)
        horizontal.setFirstSectionMovable(False)
        horizontal.sectionMoved.connect(self._on_moved)
        horizontal.sectionResized.connect(self._on_resized)
        self._needed: dict[str, int] = {}  # as it was last measured, by column
        self._soon = QTimer(grid, singleShot=True, interval=FIT_AFTER)
        self._soon.timeout.connect(self._measure)
        grid.rows.modelReset.connect(self.size)
        for signal in (grid.rows.modelReset, grid.desk.changed, grid.desk.computed, grid.desk.load_changed):
            signal.connect(lambda *_: self.measure_soon())
        self.size()

    def lay_rows(self, frozen: QTableView) -> None:
        """Rows as close as was chosen, in the frozen columns too."""
        for view in (self._grid, frozen):
            view.verticalHeader().setMinimumSectionSize(row_height())
            view.verticalHeader().setDefaultSectionSize(row_height())

    def size(self) -> None:
        """Every column as wide as somebody made it, else as its texts need while there is room."""
        if not self._grid.rows.columns:
            return
        self._is_sizing = True
        widths = fitted(self._wishes(), self._grid.viewport().width(), NAME, FIRST)
        for i, width in enumerate(widths):
            if self._grid.columnWidth(i) != width:
                self._grid.setColumnWidth(i, width)
        self._is_sizing = False

    def _wishes(self) -> list[Wish]:
        by_hand = self._grid.desk.looks.column_widths
        if any(column.id not in self._needed for column in self._grid.rows.columns):
            self._needed = self._measured()
        found = []
        for column in self._grid.rows.columns:
            made = by_hand.get(column.id)
            if made is not None:
                found.append(Wish(made, made))
                continue
            usual = scaled(column.width)
            needed = self._needed[column.id]
            is_name = column.id == "name"
            least = scaled(LEAST_NAME) if is_name else usual
            found.append(Wish(least, min(needed, scaled(WIDEST_NAME) if is_name else round(MOST * usual))))
        return found

    def measure_soon(self) -> None:
        self._soon.start()

    def _measure(self) -> None:
        """See how much room the texts on show need, and give it to them; of a hidden grid once it is shown."""
        if not self._grid.isVisible():
            return
        found = self._measured()
        if found != self._needed:
            self._needed = found
            self.size()
        self._grid.measured.emit()

    def _measured(self) -> dict[str, int]:
        rows = self._rows_to_fit()
        return {c.id: max((self._width_of(c, row) for row in rows), default=0) for c in self._grid.rows.columns}

    def wanted_width(self) -> int:
        """Of the first columns together, with nothing cut off."""
        return sum(max(wish) for wish in self._wishes()[:FIRST])

    def _width_of(self, column: PlanField, row: Row) -> int:
        desk = self._grid.desk
        if not row.task:
            return 0
        face = font(9, QFont.Weight.DemiBold if desk.plan.is_summary(row.task) else QFont.Weight.Normal)
        text = desk.columns.says(column, row)
        before = name_left(row.level) if column.id == "name" else CELL_MARGIN
        behind = room_of_marks(desk, row.task) if column.id == "number" else 0
        return round(width_of(face, text)) + before + CELL_MARGIN + behind

    def _rows_to_fit(self) -> list[Row]:
        """Those that are on show."""
        grid = self._grid
        first = grid.verticalScrollBar().value() // row_height()
        return list(grid.desk.rows[first : first + grid.viewport().height() // row_height() + 1])

    def _on_resized(self, section: int, _: int, width: int) -> None:
        if not self._is_sizing and section < len(self._grid.rows.columns):
            self._grid.desk.looks.set_column_width(self._grid.rows.columns[section].id, width)

    def _on_moved(self, section: int, before: int, after: int) -> None:
        """The model takes the new order on, and the header has its own again."""
        header, columns = self._grid.horizontalHeader(), self._grid.rows.columns
        order = [columns[header.logicalIndex(i)].id for i in range(len(columns))]
        header.blockSignals(True)
        header.moveSection(after, before)
        header.blockSignals(False)
        self._grid.desk.looks.set_columns(order)
