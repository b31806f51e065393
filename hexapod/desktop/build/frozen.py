"""The number and the name, kept in view while the other columns are scrolled under them."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QEvent, QObject, QPointF, Qt
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTableView

from hexapod.desktop.models.columns import FIXED
from hexapod.desktop.theme.allowance import Allowance
from hexapod.desktop.theme.measures import row_height
from hexapod.desktop.theme.style import color

if TYPE_CHECKING:
    from hexapod.desktop.build.grid import Grid

_MOUSE = (
    QEvent.Type.MouseButtonPress,
    QEvent.Type.MouseMove,
    QEvent.Type.MouseButtonRelease,
    QEvent.Type.MouseButtonDblClick,
)


class FrozenColumns(QTableView):
    """Lies over the grid, on the same rows and selection; what the mouse does here is done to the grid."""

    def __init__(self, grid: Grid) -> None:
        super().__init__(grid)
        self._grid = grid
        self._allowance = Allowance(self, self.viewport().update)
        self.setObjectName("frozen")
        self.setModel(grid.rows)
        self.setSelectionModel(grid.selectionModel())
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setShowGrid(False)
        self.setLayoutDirection(Qt.LayoutDirection.LeftToRight)  # beside the chart, whose time runs that way
        self.verticalHeader().hide()
        self.verticalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        self.verticalHeader().setDefaultSectionSize(row_height())
        self.horizontalHeader().setFixedHeight(grid.horizontalHeader().height())
        self.horizontalHeader().setSectionsClickable(False)
        self.viewport().setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.viewport().installEventFilter(self)
        grid.verticalScrollBar().valueChanged.connect(self.verticalScrollBar().setValue)
        grid.horizontalScrollBar().valueChanged.connect(lambda _: self.follow())
        grid.horizontalHeader().sectionResized.connect(lambda *_: self.follow())
        grid.rows.modelReset.connect(self.follow)
        self.follow()

    def follow(self) -> None:
        """Take the grid's place and widths; shown only while something is scrolled under it."""
        width = 0
        for column in range(self.model().columnCount()):
            self.setColumnHidden(column, column >= FIXED)
            if column < FIXED:
                self.setColumnWidth(column, self._grid.columnWidth(column))
                width += self._grid.columnWidth(column)
        header = self._grid.horizontalHeader().height()
        self.horizontalHeader().setFixedHeight(header)
        self.setGeometry(0, 0, width + 1, header + self._grid.viewport().height())
        self.verticalScrollBar().setValue(self._grid.verticalScrollBar().value())
        self.setVisible(self._grid.horizontalScrollBar().value() > 0)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self.viewport())
        painter.fillRect(event.rect(), color("panel"))
        self._grid.painter.paint(self, painter, event.rect(), self._allowance)
        painter.end()

    def reset(self) -> None:
        """Qt clears the selection model of a view whose model begins anew; it is the grid's."""
        super().reset()
        self._grid.restore_selection()

    def hasFocus(self) -> bool:
        """The current cell is marked as in the grid."""
        return self._grid.hasFocus()

    def is_chosen(self, column: int) -> bool:
        return self._grid.is_chosen(column)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Hand the mouse on, at the place that it would have if nothing were scrolled."""
        if isinstance(event, QMouseEvent) and event.type() in _MOUSE and watched is self.viewport():
            moved = event.position() - QPointF(self._grid.horizontalScrollBar().value(), 0)
            again = QMouseEvent(
                event.type(), moved, event.globalPosition(), event.button(), event.buttons(), event.modifiers()
            )
            self._grid.take_mouse(again)
            return True
        return super().eventFilter(watched, event)
