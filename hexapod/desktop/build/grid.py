"""The outline grid: rows that are typed as fast as text."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QItemSelection, QItemSelectionModel, QModelIndex, Qt, pyqtSignal
from PyQt6.QtGui import (
    QContextMenuEvent,
    QKeyEvent,
    QKeySequence,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QResizeEvent,
    QShowEvent,
)
from PyQt6.QtWidgets import QAbstractItemView, QMenu, QTableView

from hexapod.desktop.action import Registry
from hexapod.desktop.build.cell_painter import RowPainter, fold_mark
from hexapod.desktop.build.cell_typing import CellTyping
from hexapod.desktop.build.frozen import FrozenColumns
from hexapod.desktop.build.headers import Headers
from hexapod.desktop.build.model import RowsModel
from hexapod.desktop.build.row_drag import RowDrag
from hexapod.desktop.models.columns import FIXED, NAME, NUMBER
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.theme.allowance import Allowance
from hexapod.desktop.theme.measures import row_height
from hexapod.desktop.theme.style import color
from hexapod.fields.field import PlanField


class Grid(QTableView):
    """Shows the desk's rows; typing, pasting and keys become edits. ``measured`` when it is known how much room texts
    need."""

    measured = pyqtSignal()

    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__()
        self.setObjectName("grid")
        self.setAccessibleName("Outline of tasks")
        self.desk = desk
        self.registry = registry
        self.rows = RowsModel(desk)
        self.setModel(self.rows)
        self.painter = RowPainter(self.rows)
        self._allowance = Allowance(self, self.viewport().update)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setHorizontalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOn)
        self.setShowGrid(False)
        self.setLayoutDirection(Qt.LayoutDirection.LeftToRight)  # beside the chart, whose time runs that way
        self.setTabKeyNavigation(False)
        self.setWordWrap(False)
        self.viewport().setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)  # nothing is drawn under it in vain
        self._frozen: FrozenColumns | None = None
        self.range_from: int | None = None
        self._anchor = 0  # the row from which Shift and an arrow select
        self._drag = RowDrag(self)
        self.headers = Headers(self)
        self.typing = CellTyping(self)
        self._is_syncing = False
        self.rows.modelReset.connect(self.restore_selection)
        desk.selection_changed.connect(self.restore_selection)
        desk.looked_at_changed.connect(self.typing.forget)
        for signal in (desk.moved_changed, desk.load_changed):
            signal.connect(self.viewport().update)
        self.selectionModel().selectionChanged.connect(self._tell_selection)
        self.selectionModel().currentChanged.connect(self._tell_selection)
        self.restore_selection()
        self._frozen = FrozenColumns(self)

    def take_mouse(self, event: QMouseEvent) -> None:
        """What the mouse does over the frozen columns."""
        kinds = QEvent.Type
        handlers = {kinds.MouseButtonPress: self.mousePressEvent, kinds.MouseMove: self.mouseMoveEvent,
                    kinds.MouseButtonRelease: self.mouseReleaseEvent,
                    kinds.MouseButtonDblClick: self.mouseDoubleClickEvent}  # fmt: skip
        self.setFocus()
        handlers[event.type()](event)

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.headers.measure_soon()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.headers.size()
        if self._frozen is not None:
            self._frozen.follow()

    def hint_new_row(self, is_hinted: bool) -> None:
        """Whether the last row says what can be typed there: not while an editor, which may be indented, says it."""
        self.painter.hints_new_row = is_hinted
        self.viewport().update()

    def lay_rows(self) -> None:
        """Rows as close as was chosen."""
        self.headers.lay_rows(self if self._frozen is None else self._frozen)
        self.painter.forget()

    # Selection, shared through the desk

    def restore_selection(self) -> None:
        if self._is_syncing:
            return
        self._is_syncing = True
        chosen = QItemSelection()
        for task in self.desk.selection:
            row = self.desk.position.get(task)
            if row is not None:
                chosen.select(self.rows.index(row, 0), self.rows.index(row, len(self.rows.columns) - 1))
        model = self.selectionModel()
        current = self.desk.position.get(self.desk.current or "")
        column = max(self.currentIndex().column(), NAME)
        if current is not None:
            at = self.rows.index(current, column)
            if self.currentIndex() != at:
                model.setCurrentIndex(at, QItemSelectionModel.SelectionFlag.NoUpdate)
                self.reveal(at)
        model.select(chosen, QItemSelectionModel.SelectionFlag.ClearAndSelect)
        if len(self.desk.selection) < 2 and current is not None:
            self._anchor = current
        self._is_syncing = False
        self.viewport().update()

    def _tell_selection(self, *_: object) -> None:
        if self._is_syncing:
            return
        self._is_syncing = True
        picked = sorted({i.row() for i in self.selectionModel().selectedRows()})
        if len(picked) < 2 and self.currentIndex().row() in picked:
            self._anchor = picked[0]
        tasks = [t for row in picked if (t := self.rows.task_at(row))]
        self.desk.select(tasks, self.rows.task_at(self.currentIndex().row()) or None)
        self._is_syncing = False
        self.viewport().update()

    def reveal(self, index: QModelIndex) -> None:
        """Scroll to a cell, by whole rows."""
        self.scrollTo(index)
        bar = self.verticalScrollBar()
        bar.setValue(-(-bar.value() // row_height()) * row_height())

    def show_current(self) -> None:
        """Bring the current row into view and take the keyboard."""
        self.restore_selection()
        self.setFocus()
        if self.currentIndex().isValid():
            self.reveal(self.currentIndex())

    def go(self, row: int, column: int | None = None) -> None:
        """Make a cell the current one and select its row."""
        column = self.currentIndex().column() if column is None else column
        index = self.rows.index(max(0, min(row, self.rows.rowCount() - 1)), max(column, NAME))
        flags = QItemSelectionModel.SelectionFlag.ClearAndSelect | QItemSelectionModel.SelectionFlag.Rows
        self.selectionModel().setCurrentIndex(index, flags)
        self.reveal(index)

    # Cells

    def chosen_columns(self) -> tuple[PlanField, ...]:
        """The columns of the chosen cells: from where Shift and an arrow began to where they are."""
        at = max(self.currentIndex().column(), NAME)
        first, last = sorted((self.range_from if self.range_from is not None else at, at))
        return self.rows.columns[first : last + 1]

    def is_chosen(self, column: int) -> bool:
        """Whether the cells of a column belong to a range of chosen cells."""
        if self.range_from is None:
            return False
        first, last = sorted((self.range_from, self.currentIndex().column()))
        return first <= column <= last

    # Typing

    def edit_current(self, text: str | None = None) -> None:
        """Open the current cell to type in: with what it holds, or with what was typed already."""
        index = self.currentIndex()
        if index.isValid():
            self.typing.open(index.row(), max(index.column(), NAME), text)

    def type_row(self, line: str) -> None:
        """A last row as if it had been typed, and the next one to type into."""
        self.typing.type_row(line)

    def begin_row(self, *, above: bool) -> None:
        """Make room for a row at the current one and type its name."""
        self.typing.begin_row(above=above)

    def finish_typing(self) -> None:
        """Take what is being typed, as if the cell was left."""
        self.typing.finish()

    # Keys and mouse

    def event(self, event: QEvent | None) -> bool:
        """Tab is for levels and cells here; F6 leads to the next part of the window."""
        is_press = isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress
        if is_press and event.key() in (Qt.Key.Key_Tab, Qt.Key.Key_Backtab):
            current = self.currentIndex()
            self._tab(current.row(), current.column(), back=event.key() == Qt.Key.Key_Backtab)
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key, modifiers = event.key(), event.modifiers()
        row, column = self.currentIndex().row(), self.currentIndex().column()
        plain = modifiers in (Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ShiftModifier)
        shift_only = modifiers == Qt.KeyboardModifier.ShiftModifier
        if key in (Qt.Key.Key_Left, Qt.Key.Key_Right) and shift_only:
            self._extend(column, 1 if key == Qt.Key.Key_Right else -1)
            return
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down) and shift_only:
            self._extend_rows(row + (1 if key == Qt.Key.Key_Down else -1), column)
            return
        if key not in (Qt.Key.Key_Shift, Qt.Key.Key_Control, Qt.Key.Key_Alt):
            keeps = modifiers & Qt.KeyboardModifier.ControlModifier
            self.range_from = self.range_from if keeps else None
            self.viewport().update()
        if event.matches(QKeySequence.StandardKey.Copy):
            self.registry.qt("edit.copy").trigger()
        elif event.matches(QKeySequence.StandardKey.Paste):
            self.registry.qt("edit.paste").trigger()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and plain:
            self._enter(row, column, back=bool(modifiers))
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right) and modifiers == Qt.KeyboardModifier.NoModifier:
            self._sideways(row, column, 1 if key == Qt.Key.Key_Right else -1)
        elif plain and event.text().isprintable() and event.text().strip():
            self.edit_current(event.text())
        else:
            super().keyPressEvent(event)

    def _enter(self, row: int, column: int, *, back: bool) -> None:
        if not self.rows.task_at(row) and not back:
            self.typing.open(row, NAME, None)
        else:
            self.go(row + (-1 if back else 1), column)

    def _tab(self, row: int, column: int, *, back: bool) -> None:
        if column <= NAME and self.rows.task_at(row):
            self.registry.qt("row.outdent" if back else "row.indent").trigger()
        elif not (back and column == FIXED):
            self.go(row, column + (-1 if back else 1))
        else:
            self.go(row, NAME)

    def _extend_rows(self, row: int, column: int) -> None:
        """Select from the row where this began to another one."""
        if not 0 <= row < len(self.desk.rows):
            return
        first, last = sorted((self._anchor, row))
        flags = QItemSelectionModel.SelectionFlag
        chosen = QItemSelection(self.rows.index(first, 0), self.rows.index(last, len(self.rows.columns) - 1))
        self._is_syncing = True  # the anchor stays
        self.selectionModel().setCurrentIndex(self.rows.index(row, column), flags.NoUpdate)
        self._is_syncing = False
        self.selectionModel().select(chosen, flags.ClearAndSelect)
        self.reveal(self.rows.index(row, column))

    def _extend(self, column: int, by: int) -> None:
        """Choose cells to the side, with the rows that are selected."""
        if NAME <= column + by < len(self.rows.columns):
            if self.range_from is None:
                self.range_from = column
            index = self.rows.index(self.currentIndex().row(), column + by)
            self.selectionModel().setCurrentIndex(index, QItemSelectionModel.SelectionFlag.NoUpdate)
            self.reveal(index)
            self.viewport().update()

    def _sideways(self, row: int, column: int, by: int) -> None:
        task = self.rows.task_at(row)
        if column == NAME and task and self.desk.plan.is_summary(task):
            is_folded = task in self.desk.folded
            if (by < 0 and not is_folded) or (by > 0 and is_folded):
                self.desk.fold(task, by < 0)
                return
        if NAME <= column + by < len(self.rows.columns):
            index = self.rows.index(row, column + by)
            self.selectionModel().setCurrentIndex(index, QItemSelectionModel.SelectionFlag.NoUpdate)
            self.reveal(index)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.finish_typing()
        if event.button() == Qt.MouseButton.LeftButton:
            extends = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            before = self.currentIndex().column()
            self.range_from = (before if self.range_from is None else self.range_from) if extends else None
        index = self.indexAt(event.position().toPoint())
        task = self.rows.task_at(index.row()) if index.isValid() else None
        if task and index.column() == NAME and event.button() == Qt.MouseButton.LeftButton:
            mark = fold_mark(self.visualRect(index), self.desk.rows[index.row()].level)
            if self.desk.plan.is_summary(task) and mark.adjusted(-2, -4, 2, 4).contains(event.position()):
                self.desk.fold(task, task not in self.desk.folded)
                return
        super().mousePressEvent(event)
        if task and index.column() == NUMBER:
            self._drag.begin()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if not self._drag.move(event):
            super().mouseMoveEvent(event)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self.viewport())
        painter.fillRect(event.rect(), color("panel"))
        self.painter.paint(self, painter, event.rect(), self._allowance)
        painter.end()
        self._drag.paint()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._drag.drop()
        super().mouseReleaseEvent(event)
        index = self.indexAt(event.position().toPoint())
        if index.isValid() and not self.rows.task_at(index.row()) and event.button() == Qt.MouseButton.LeftButton:
            self.typing.open(index.row(), NAME, None)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        index = self.indexAt(event.position().toPoint())
        if index.isValid():
            self.typing.open(index.row(), index.column(), None)

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        """What can be done with the rows: at the mouse, or by key below the current cell."""
        at, current = event.globalPos(), self.currentIndex()
        if event.reason() is QContextMenuEvent.Reason.Keyboard and current.isValid():
            self.reveal(current)
            at = self.viewport().mapToGlobal(self.visualRect(current).bottomLeft())
        menu = QMenu(self)
        self.registry.fill(menu, "row")
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        menu.popup(at)

    def scrollContentsBy(self, dx: int, dy: int) -> None:
        super().scrollContentsBy(dx, dy)
        self.typing.follow()
