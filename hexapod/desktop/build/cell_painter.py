"""How a cell of the outline is drawn."""

from __future__ import annotations

from PyQt6.QtCore import QModelIndex, QPointF, QRect, QRectF, QSize, Qt
from PyQt6.QtGui import QFont, QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QStyle, QStyledItemDelegate, QStyleOptionViewItem

from hexapod.desktop.build.coloring import row_color
from hexapod.desktop.build.columns import NAME
from hexapod.desktop.build.model import RowsModel
from hexapod.desktop.theme.style import color, font
from hexapod.plan.outline import Row
from hexapod.worktime.lengths import format_days

ROW_HEIGHT = 27
INDENT = 14
TEXT_LEFT = 22  # of a top-level name, behind the fold mark and the stream stripe


def name_left(level: int) -> int:
    """Where a name begins in its cell."""
    return TEXT_LEFT + level * INDENT


def fold_mark(cell: QRect, level: int) -> QRectF:
    """The mark that folds a summary."""
    return QRectF(cell.left() + 4 + level * INDENT, cell.top() + cell.height() / 2 - 6, 12, 12)


class CellPainter(QStyledItemDelegate):
    def __init__(self, model: RowsModel) -> None:
        super().__init__()
        self._model = model
        self._plain = font(9)
        self._strong = font(9, QFont.Weight.DemiBold)
        self._hint = font(9, italic=True)

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return QSize(40, ROW_HEIGHT)

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        rect = option.rect
        selected = bool(option.state & QStyle.StateFlag.State_Selected)
        painter.fillRect(rect, color("selection" if selected else "panel"))
        painter.setPen(color("rule"))
        painter.drawLine(rect.bottomLeft(), rect.bottomRight())
        view = option.widget
        if selected and view is not None and view.is_chosen(index.column()):
            painter.fillRect(rect.adjusted(1, 1, -1, -1), color("shade"))
        if selected and view is not None and view.currentIndex() == index and view.hasFocus():
            painter.setPen(QPen(color("petrol"), 1.4))
            painter.drawRect(rect.adjusted(1, 1, -2, -2))
        task = self._model.task_at(index.row())
        if not task:
            self._paint_hint(painter, rect, index)
            return
        row = self._model.desk.rows[index.row()]
        if index.column() == NAME:
            self._paint_name(painter, rect, row)
        else:
            self._paint_value(painter, rect, row, index)

    def _paint_hint(self, painter: QPainter, rect: QRect, index: QModelIndex) -> None:
        rows = self._model.desk.rows
        row = rows[index.row()] if index.row() < len(rows) else None
        heading = row.heading if row else ""
        if row and row.tasks and index.column() == NAME:
            painter.setFont(self._plain)
            painter.setPen(color("muted"))
            names = ", ".join(self._model.desk.plan.tasks[t].name for t in row.tasks[:8])
            shown = painter.fontMetrics().elidedText(names, Qt.TextElideMode.ElideRight, rect.width() - 26)
            painter.drawText(rect.adjusted(name_left(0), 0, -4, 0), Qt.AlignmentFlag.AlignVCenter, shown)
        if heading:
            painter.fillRect(rect.adjusted(0, 0, 0, -1), color("raised"))
        if heading and index.column() == NAME:
            painter.setFont(self._strong)
            painter.setPen(color("petrol"))
            shown = painter.fontMetrics().elidedText(heading, Qt.TextElideMode.ElideRight, rect.width() - 12)
            painter.drawText(rect.adjusted(8, 0, -4, 0), Qt.AlignmentFlag.AlignVCenter, shown)
        if index.column() == NAME and index.row() >= len(self._model.desk.rows):
            painter.setFont(self._hint)
            painter.setPen(color("faint"))
            box = rect.adjusted(name_left(0), 0, -4, 0)
            painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, index.data())

    def _paint_name(self, painter: QPainter, rect: QRect, row: Row) -> None:
        desk = self._model.desk
        task = desk.plan.tasks[row.task]
        is_summary = desk.plan.is_summary(row.task)
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for level in range(row.level):
            x = rect.left() + 10 + level * INDENT
            painter.setPen(color("rule"))
            painter.drawLine(x, rect.top(), x, rect.bottom())
        mark = fold_mark(rect, row.level)
        if is_summary:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(color("muted"))
            c = mark.center()
            points = [(-3, -4), (4, 0), (-3, 4)] if row.task in desk.folded else [(-4, -3), (4, -3), (0, 4)]
            painter.drawPolygon(QPolygonF([QPointF(c.x() + x, c.y() + y) for x, y in points]))
        else:
            painter.fillRect(QRectF(mark.left() + 6, rect.top() + 7, 3, rect.height() - 14), row_color(desk, row.task))
        painter.restore()
        is_struck = desk.is_struck(row.task)
        face = QFont(self._strong if is_summary else self._plain)
        face.setStrikeOut(is_struck)
        painter.setFont(face)
        matching = desk.on_show.matching
        is_context = matching is not None and row.task not in matching
        painter.setPen(color("muted" if is_struck or is_context else "ink"))
        box = rect.adjusted(name_left(row.level), 0, -4, 0)
        text = painter.fontMetrics().elidedText(task.name, Qt.TextElideMode.ElideRight, box.width())
        painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, text)

    def _paint_value(self, painter: QPainter, rect: QRect, row: Row, index: QModelIndex) -> None:
        desk = self._model.desk
        spec = self._model.columns[index.column()]
        column = spec.id
        text = spec.show(desk, row)
        is_summary = desk.plan.is_summary(row.task)
        dates = desk.schedule.dates(row.task) if desk.schedule.has(row.task) else None
        painter.setFont(self._plain)
        role = "muted" if column == "number" or is_summary else "ink"
        if column == "duration" and text.endswith("?"):
            role = "amber"
        if column in ("float", "free_float") and dates is not None and dates.total_float < 0:
            role = "brick"
        moved = desk.moved.get(desk.schedule.slots.get(row.task, -1)) if column in ("start", "finish") else None
        by = moved[0 if column == "start" else 1] if moved else 0
        if by:
            role = "amber"
            text = f"{'+' if by > 0 else ''}{format_days(by)}  {text}"
            painter.setFont(self._strong)
        painter.setPen(color(role))
        box = rect.adjusted(6, 0, -6, 0)
        if by and painter.fontMetrics().horizontalAdvance(text) > box.width():
            text = text.split("  ")[0]
        side = Qt.AlignmentFlag.AlignRight if spec.right else Qt.AlignmentFlag.AlignLeft
        shown = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, box.width())
        painter.drawText(box, side | Qt.AlignmentFlag.AlignVCenter, shown)
        if column == "number" and desk.load is not None and row.task in desk.load.in_conflict:
            painter.setPen(QPen(color("brick"), 1.7))
            right, middle = rect.right() - 5, rect.center().y()
            for x in (right - 6, right - 1):  # the two strokes of a broken link
                painter.drawLine(x - 2, middle + 4, x + 2, middle - 4)
        if column == "number" and dates is not None and dates.critical and not is_summary:
            painter.fillRect(QRect(rect.left() + 6, rect.bottom() - 4, 18, 3), color("ink"))
