"""The grid's headings: their widths are remembered, and dragging one moves its column."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QHeaderView

from hexapod.desktop.theme.measures import HEADER_HEIGHT, ROW_HEIGHT
from hexapod.desktop.theme.style import scaled

if TYPE_CHECKING:
    from hexapod.desktop.build.grid import Grid


class Headers:
    def __init__(self, grid: Grid) -> None:
        self._grid = grid
        self._is_sizing = False
        vertical = grid.verticalHeader()
        vertical.hide()
        vertical.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        vertical.setDefaultSectionSize(ROW_HEIGHT)
        vertical.setMinimumSectionSize(ROW_HEIGHT)
        horizontal = grid.horizontalHeader()
        horizontal.setFixedHeight(HEADER_HEIGHT)
        horizontal.setHighlightSections(False)
        horizontal.setSectionsClickable(False)
        horizontal.setSectionsMovable(True)
        horizontal.setFirstSectionMovable(False)
        horizontal.sectionMoved.connect(self._on_moved)
        horizontal.sectionResized.connect(self._on_resized)
        grid.rows.modelReset.connect(self.size)
        self.size()

    def size(self) -> None:
        """Every column as wide as it was made, or as its text needs."""
        widths = self._grid.desk.looks.column_widths
        self._is_sizing = True
        for i, column in enumerate(self._grid.rows.columns):
            self._grid.setColumnWidth(i, widths.get(column.id, scaled(column.width)))
        self._is_sizing = False

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
