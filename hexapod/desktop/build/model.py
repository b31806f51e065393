"""The rows of the desk as a table that Qt's view can show, with one more row to type into."""

from __future__ import annotations

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt, pyqtSignal

from hexapod.desktop import dates
from hexapod.desktop.models.columns import NAME
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.touched import touched_tasks
from hexapod.desktop.theme.tips import plain_tip
from hexapod.fields.field import PlanField
from hexapod.schedule.words import limit_words
from hexapod.session import Applied

NOWHERE = QModelIndex()
NEW_ROW = "Type a task, then Enter"
MANY = 200  # rows that are told one by one


class RowsModel(QAbstractTableModel):
    """The last row is no task yet: typing into it makes one.

    ``told_anew`` with the tasks whose rows show something else, None for all, before the views hear of it.
    """

    told_anew = pyqtSignal(object)

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self._rows = 0
        self._moved: set[str] = set()  # those that were shown as moved after the last edit
        self._in_conflict: set[str] = set()  # those that were shown as in conflict then
        self.columns: tuple[PlanField, ...] = desk.columns.shown()
        desk.looks.changed.connect(self.choose_columns)
        desk.rows_changed.connect(self.lay_out)
        desk.changed.connect(self.refresh)
        desk.computed.connect(self.refresh)
        self.lay_out()

    def lay_out(self) -> None:
        self.beginResetModel()
        desk = self.desk
        can_type = desk.project is not None and not desk.is_read_only and desk.on_show.is_typed
        self._rows = len(self.desk.rows) + (1 if can_type else 0)
        self.endResetModel()

    def choose_columns(self) -> None:
        """Show other columns, or the same in another order."""
        self.beginResetModel()
        self.columns = self.desk.columns.shown()
        self.told_anew.emit(None)
        self.endResetModel()

    def refresh(self, applied: Applied | None = None) -> None:
        if applied is not None and applied.changes.fields:
            self.choose_columns()
        elif not self._rows:
            self.told_anew.emit(None)
        else:
            touched, load = None if applied is None else touched_tasks(applied), self.desk.load
            in_conflict = load.in_conflict if load is not None else set()
            self._tell(None if touched is None else touched | self._moved | (self._in_conflict ^ in_conflict))
            self._moved, self._in_conflict = set(self.desk.moved), in_conflict

    def _tell(self, tasks: set[str] | None) -> None:
        """These rows show something else; None for all."""
        last = len(self.columns) - 1
        rows = None if tasks is None or len(tasks) > MANY else [self.desk.position.get(t) for t in tasks]
        if rows is None:
            self.told_anew.emit(None)
            self.dataChanged.emit(self.index(0, 0), self.index(self._rows - 1, last))
            return
        self.told_anew.emit(tasks)
        for row in sorted(row for row in rows if row is not None):
            self.dataChanged.emit(self.index(row, 0), self.index(row, last))

    def task_at(self, row: int) -> str | None:
        """None for the row to type into."""
        return self.desk.rows.task(row) if 0 <= row < len(self.desk.rows) else None

    def rowCount(self, parent: QModelIndex = NOWHERE) -> int:
        return 0 if parent.isValid() else self._rows

    def columnCount(self, parent: QModelIndex = NOWHERE) -> int:
        return 0 if parent.isValid() else len(self.columns)

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        task = self.task_at(index.row())
        column = self.columns[index.column()]
        if role == Qt.ItemDataRole.DisplayRole:
            if task is None:
                return NEW_ROW if index.column() == NAME else ""
            if not task:
                return self.desk.rows[index.row()].heading if index.column() == NAME else ""
            return self.desk.columns.says(column, self.desk.rows[index.row()])
        if role == Qt.ItemDataRole.ToolTipRole and task:
            said = self._limits_said(task) if column.id in ("start", "finish") else ""
            if said:
                return plain_tip(said)
            text = self.desk.columns.says(column, self.desk.rows[index.row()])
            return plain_tip(text) if len(text) > 14 else column.hint or None
        if role == Qt.ItemDataRole.AccessibleTextRole and task:
            return f"{column.title}: {self.desk.columns.says(column, self.desk.rows[index.row()])}"
        if role == Qt.ItemDataRole.TextAlignmentRole:
            side = Qt.AlignmentFlag.AlignRight if column.is_right else Qt.AlignmentFlag.AlignLeft
            return side | Qt.AlignmentFlag.AlignVCenter
        return None

    def _limits_said(self, task_id: str) -> str:
        """The limits of a row: who set them, and how they are lifted."""
        lines = []
        for limit in self.desk.plan.tasks[task_id].limits:
            by = f", set by {limit.by}" if limit.by else ""
            lines.append(f"{limit_words(limit.kind).capitalize()} {dates.long_day(limit.at)}{by}.")
        return "\n".join([*lines, "Lift it with Ctrl+Shift+D, or by emptying the cell."]) if lines else ""

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        if orientation == Qt.Orientation.Horizontal:
            if role == Qt.ItemDataRole.DisplayRole:
                return self.columns[section].title
            if role == Qt.ItemDataRole.TextAlignmentRole:
                side = Qt.AlignmentFlag.AlignRight if self.columns[section].is_right else Qt.AlignmentFlag.AlignLeft
                return side | Qt.AlignmentFlag.AlignVCenter
            if role == Qt.ItemDataRole.ToolTipRole:
                return plain_tip(self.columns[section].hint) or None
        return None

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        return Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
