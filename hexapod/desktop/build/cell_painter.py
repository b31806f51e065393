"""How the rows of the outline are drawn: a row at a time, with texts that were laid out before."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from PyQt6.QtCore import QPointF, QRect, QRectF, QSize, Qt
from PyQt6.QtGui import QFont, QPainter, QPen, QPixmap, QPolygonF
from PyQt6.QtWidgets import QTableView

from hexapod.desktop.build.model import NEW_ROW, RowsModel
from hexapod.desktop.chart.coloring import DRIVES, row_color
from hexapod.desktop.models.columns import NAME
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.theme.allowance import Allowance
from hexapod.desktop.theme.measures import row_height
from hexapod.desktop.theme.style import color, font, palette
from hexapod.desktop.theme.text import draw_text, width_of
from hexapod.fields.typing import ASSUMED
from hexapod.plan.outline import Row
from hexapod.worktime.lengths import format_days

MOST_PICTURES = 300  # rows that are kept as they were drawn
Place = tuple[int, int, int]  # a column, where it is and how wide
MOST_SAID = 20_000  # texts of cells that are kept
INDENT = 14
TEXT_LEFT = 22  # of a top-level name, behind the fold mark and the stream stripe


class Line(NamedTuple):
    """A row with a task, and what its cells need of it: its slot in the schedule, -1 without dates."""

    row: Row
    slot: int
    is_summary: bool


def name_left(level: int) -> int:
    """Where a name begins in its cell."""
    return TEXT_LEFT + level * INDENT


def fold_mark(cell: QRect, level: int) -> QRectF:
    """The mark that folds a summary."""
    return QRectF(cell.left() + 4 + level * INDENT, cell.top() + cell.height() / 2 - 6, 12, 12)


def shortened(number: str, fits: Callable[[str], bool]) -> str:
    """An outline number without its first parts where there is no room for them: the last ones tell rows apart."""
    shown, rest = number, number
    while not fits(shown) and "." in rest:
        rest = rest.partition(".")[2]
        shown = f"…{rest}"
    return shown


def room_of_marks(desk: Desk, task: str) -> int:
    """Pixels behind a number for the mark of a conflict, which would run through its letters."""
    return 10 if desk.load is not None and task in desk.load.in_conflict else 0


class RowPainter:
    """Draws the rows of a view that shows the grid's columns; what cells say is kept until the plan is another."""

    def __init__(self, model: RowsModel) -> None:
        self._model = model
        self._said: dict[tuple[str, str], str] = {}
        self._pictures: dict[tuple[object, ...], QPixmap] = {}
        self.hints_new_row = True
        desk = model.desk
        for signal in (desk.looks.changed, desk.looked_at_changed, desk.past_changed, desk.load_changed):
            signal.connect(self.forget)
        desk.chances.changed.connect(self._follow_chances)
        model.told_anew.connect(self.forget)
        for signal in (desk.moved_changed, desk.on_show.view_changed):
            signal.connect(lambda *_: self._pictures.clear())

    def _follow_chances(self) -> None:
        """A column may say how often a task drove the finish."""
        is_coloured = self._model.desk.looks.color_by == DRIVES
        if is_coloured or any(column.id == "criticality" for column in self._model.columns):
            self.forget()

    def forget(self, tasks: object = None) -> None:
        """Draw these rows anew when they are next seen; all of them if it is not said which."""
        if isinstance(tasks, set):
            self._said = {key: text for key, text in self._said.items() if key[0] not in tasks}
            self._pictures = {key: picture for key, picture in self._pictures.items() if key[0] not in tasks}
        else:
            self._said.clear()
            self._pictures.clear()

    def paint(self, view: QTableView, painter: QPainter, region: QRect, allowance: Allowance) -> None:
        """The rows that lie in a part of the view's port; of those that are new, as many as the frame allows whole."""
        first = view.rowAt(max(0, region.top()))
        if first < 0:
            return
        header = view.horizontalHeader()
        columns = [i for i in range(header.count()) if not view.isColumnHidden(i)]
        places = [(i, view.columnViewportPosition(i), view.columnWidth(i)) for i in columns]
        places = [p for p in places if p[1] < region.right() + 1 and p[1] + p[2] > region.left()]
        current, focused = view.currentIndex(), view.hasFocus()
        chosen = self._model.desk.selected_set()
        chosen_columns = {i for i in columns if view.is_chosen(i)}
        top = view.rowViewportPosition(first)
        width = places[-1][1] + places[-1][2] - places[0][1] if places else 0
        sign = (tuple(places), palette().name, view.devicePixelRatioF())
        allowance.begin()
        for row in range(first, self._model.rowCount()):
            if top > region.bottom() or not places:
                break
            task = self._model.task_at(row)
            is_selected = bool(task) and task in chosen
            band = QRect(places[0][1], top, width, row_height())
            at = current.column() if focused and row == current.row() else -1
            if not task or (is_selected and chosen_columns) or at >= 0:
                self._paint_row(painter, band, places, row, task, is_selected, chosen_columns, at)
            elif (picture := self._pictures.get(key := self._key(task, is_selected, sign))) is not None:
                painter.drawPixmap(band.topLeft(), picture)
            elif allowance.is_left():
                picture = self._draw(band.size(), places, row, task, is_selected, view.devicePixelRatioF())
                if len(self._pictures) >= MOST_PICTURES:
                    del self._pictures[next(iter(self._pictures))]
                self._pictures[key] = picture
                painter.drawPixmap(band.topLeft(), picture)
            else:
                least = [p for p in places if p[0] == NAME] if allowance.is_left_for_the_least() else []
                self._paint_row(painter, band, least, row, task, is_selected, set(), -1)
                allowance.lacks()
            top += row_height()

    def _key(self, task: str, is_selected: bool, sign: tuple[object, ...]) -> tuple[object, ...]:
        """A row's picture may be drawn again as long as this is the same."""
        desk = self._model.desk
        matching = desk.on_show.matching
        return (task, is_selected, task in desk.folded, matching is None or task in matching, desk.rows.flat, sign)

    def _draw(self, size: QSize, places: list[Place], row: int, task: str, is_selected: bool, ratio: float) -> QPixmap:
        picture = QPixmap(size * ratio)
        picture.setDevicePixelRatio(ratio)
        inner = QPainter(picture)
        moved = [(column, left - places[0][1], wide) for column, left, wide in places]
        self._paint_row(inner, QRect(0, 0, size.width(), row_height()), moved, row, task, is_selected, set(), -1)
        inner.end()
        return picture

    def _paint_row(
        self,
        painter: QPainter,
        band: QRect,
        places: list[Place],
        row: int,
        task: str | None,
        is_selected: bool,
        chosen_columns: set[int],
        at: int,
    ) -> None:
        painter.fillRect(band, color("selection" if is_selected else "panel"))
        line = self._line(row, task) if task and places else None
        for column, left, wide in places:
            cell = QRect(left, band.top(), wide, row_height())
            if is_selected and column in chosen_columns:
                painter.fillRect(cell.adjusted(1, 1, -1, -1), color("shade"))
            if column == at:
                painter.setPen(QPen(color("petrol"), 1.4))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRect(cell.adjusted(1, 1, -2, -2))
            if line is None:
                self._paint_hint(painter, cell, row, column)
            elif column == NAME:
                self._paint_name(painter, cell, line)
            else:
                self._paint_value(painter, cell, line, column)
        painter.fillRect(band.left(), band.bottom(), band.width(), 1, color("rule"))

    def _line(self, row: int, task: str) -> Line:
        desk = self._model.desk
        slot = desk.schedule.slots.get(task, -1) if desk.schedule.has(task) else -1
        return Line(desk.rows[row], slot, desk.plan.is_summary(task))

    def _text(self, row: Row, column: int) -> str:
        spec = self._model.columns[column]
        key = (row.task, spec.id)
        found = self._said.get(key)
        if found is None:
            if len(self._said) > MOST_SAID:
                self._said.clear()
            found = self._said[key] = self._model.desk.columns.says(spec, row)
        return found

    def _paint_hint(self, painter: QPainter, rect: QRect, row: int, column: int) -> None:
        rows = self._model.desk.rows
        shown = rows[row] if row < len(rows) else None
        box = QRectF(rect.adjusted(name_left(0), 0, -4, 0))
        if shown is None:
            if column == NAME and self.hints_new_row:
                painter.setPen(color("faint"))
                draw_text(painter, font(9, italic=True), NEW_ROW, box)
        elif shown.heading:
            painter.fillRect(rect.adjusted(0, 0, 0, -1), color("raised"))
            if column == NAME:
                painter.setPen(color("petrol"))
                draw_text(painter, font(9, QFont.Weight.DemiBold), shown.heading, QRectF(rect.adjusted(8, 0, -4, 0)))
        elif shown.tasks and column == NAME:
            painter.setPen(color("muted"))
            names = ", ".join(self._model.desk.plan.tasks[t].name for t in shown.tasks[:8])
            draw_text(painter, font(9), names, box)

    def _paint_name(self, painter: QPainter, rect: QRect, line: Line) -> None:
        desk, (row, _, is_summary) = self._model.desk, line
        for level in range(row.level):
            painter.fillRect(rect.left() + 10 + level * INDENT, rect.top(), 1, rect.height(), color("rule"))
        mark = fold_mark(rect, row.level)
        if is_summary:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(color("muted"))
            c = mark.center()
            points = [(-3, -4), (4, 0), (-3, 4)] if row.task in desk.folded else [(-4, -3), (4, -3), (0, 4)]
            painter.drawPolygon(QPolygonF([QPointF(c.x() + x, c.y() + y) for x, y in points]))
            painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        else:
            painter.fillRect(QRectF(mark.left() + 6, rect.top() + 7, 3, rect.height() - 14), row_color(desk, row.task))
        is_struck = desk.is_struck(row.task)
        matching = desk.on_show.matching
        is_context = matching is not None and row.task not in matching
        face = font(9, QFont.Weight.DemiBold if is_summary else QFont.Weight.Normal, strike=is_struck)
        painter.setPen(color("muted" if is_struck or is_context else "ink"))
        box = QRectF(rect.adjusted(name_left(row.level), 0, -4, 0))
        draw_text(painter, face, desk.plan.tasks[row.task].name, box)

    def _paint_value(self, painter: QPainter, rect: QRect, line: Line, at: int) -> None:
        desk, (row, slot, is_summary) = self._model.desk, line
        spec = self._model.columns[at]
        column, text = spec.id, self._text(row, at)
        face = font(9)
        role = "muted" if column == "number" or is_summary else "ink"
        if column == "duration" and text.startswith(ASSUMED):
            role = "amber"
        if column in ("float", "free_float") and slot >= 0 and desk.schedule.total_float[slot] < 0:
            role = "brick"
        moved = desk.moved.get(row.task) if column in ("start", "finish") else None
        by = moved[0 if column == "start" else 1] if moved else 0
        box = QRectF(rect.adjusted(6, 0, -6, 0))
        if by:
            role, face = "amber", font(9, QFont.Weight.DemiBold)
            moved_by = f"{'+' if by > 0 else ''}{format_days(by)}"
            whole = f"{moved_by}  {text}"
            text = whole if width_of(face, whole) <= box.width() else moved_by
        if column == "number":
            box.setRight(box.right() - room_of_marks(desk, row.task))
            text = shortened(text, lambda shown: width_of(face, shown) <= box.width())
        painter.setPen(color(role))
        draw_text(painter, face, text, box, right=spec.is_right)
        if column == "number":
            self._paint_marks(painter, rect, line)

    def _paint_marks(self, painter: QPainter, rect: QRect, line: Line) -> None:
        """The broken link of a conflict, and the keel of critical work."""
        desk, (row, slot, is_summary) = self._model.desk, line
        if room_of_marks(desk, row.task):
            painter.setPen(QPen(color("brick"), 1.7))
            right, middle = rect.right() - 5, rect.center().y()
            for x in (right - 6, right - 1):
                painter.drawLine(x - 2, middle + 4, x + 2, middle - 4)
        if slot >= 0 and not is_summary and desk.schedule.critical[slot]:
            painter.fillRect(QRect(rect.left() + 6, rect.bottom() - 4, 18, 3), color("ink"))
