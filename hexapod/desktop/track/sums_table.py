"""Planned and logged hours added up: each row with a bar that fills, and what is left, or over."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFont, QMouseEvent, QPainter, QPen

from hexapod.control.hours import By, Hours, HoursRow
from hexapod.desktop.frame.walked import ROW, Heading, WalkedTable
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.hours import HoursWork
from hexapod.desktop.theme.style import color, font, scaled
from hexapod.desktop.theme.text import draw_text
from hexapod.plan.edits.hours import hours_words

NAME, INDENT, COLUMN, BAR = 20, 16, 84, 190
COLUMNS = ("Planned", "Logged", "To go", "Forecast")


def hours_bar(painter: QPainter, hours: Hours, box: QRectF) -> None:
    """A capsule as long as what is planned, full as far as it is logged; what is over is hatched, behind an edge."""
    most = max(hours.planned, hours.logged, 1)
    planned = box.width() * hours.planned / most
    used = box.width() * min(hours.logged, hours.planned) / most
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(color("load"))
    painter.drawRoundedRect(QRectF(box.left(), box.top(), used, box.height()), 2, 2)
    if hours.over:
        over = QRectF(box.left() + planned, box.top(), box.width() - planned, box.height())
        painter.fillRect(over, color("panel"))
        painter.setBrush(color("brick"))
        brush = painter.brush()
        brush.setStyle(Qt.BrushStyle.BDiagPattern)
        painter.fillRect(over, brush)
        painter.fillRect(QRectF(over.left(), box.top() - 2, 2, box.height() + 4), color("brick"))
    painter.setPen(QPen(color("link"), 1))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRoundedRect(box.adjusted(0.5, 0.5, -0.5, -0.5), 2, 2)


def standing_words(hours: Hours) -> str:
    """``4 h left``, ``▲ 3 h over``; with a sign, so that it is not colour alone."""
    if hours.over:
        return f"▲ {hours_words(hours.over)} over"
    if hours.will_be_over:
        return f"△ {hours_words(hours.will_be_over)} over at the end"
    if not hours.planned and not hours.logged:
        return ""
    return f"{hours_words(hours.left)} {'left' if hours.rest else 'not used'}"


class SumsTable(WalkedTable):
    """``logs_asked`` carries a task, ``week_asked`` a person."""

    top_margin = 30
    logs_asked = pyqtSignal(str)
    person_asked = pyqtSignal(str)

    def __init__(self, desk: Desk, work: HoursWork) -> None:
        super().__init__("sumsTable", "Planned and logged hours")
        self._desk, self._work = desk, work

    def refresh(self) -> None:
        self.nothing = "Nothing is planned or logged." if self._desk.is_computed else "The dates are being computed."
        rows: list[object] = []
        project, plan = "", self._desk.plan
        for row in self._work.sums():
            home = plan.tasks[row.key].project if row.key in plan.tasks else ""
            if home != project:
                rows.append(Heading(plan.projects[home].name))
                project = home
            rows.append(row)
        self.show_rows(rows)

    def key_of(self, row: object) -> object:
        return row.key if isinstance(row, HoursRow) else row

    def chosen(self, row: object) -> None:
        if isinstance(row, HoursRow) and row.key in self._desk.plan.tasks:
            self._desk.select((row.key,), row.key)

    def tell(self) -> None:
        row = self.current
        if isinstance(row, HoursRow):
            said = f"{hours_words(row.hours.logged)} of {hours_words(row.hours.planned)}"
            self.setAccessibleDescription(f"{row.name}: {said}, {standing_words(row.hours)}")

    def edit(self, text: str) -> None:
        row = self.current
        if not isinstance(row, HoursRow) or text.strip():
            return
        if row.key in self._desk.plan.tasks:
            self.logs_asked.emit(row.key)
        elif row.key in self._desk.plan.resources:
            self.person_asked.emit(row.key)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self.edit("")

    # Painting

    def _left_of(self, column: int) -> int:
        return int(self.viewport().width() - scaled(BAR) - scaled(COLUMN) * (len(COLUMNS) - column))

    def paint_names(self, painter: QPainter) -> None:
        for i, words in enumerate(COLUMNS):
            draw_text(painter, font(9), words, QRectF(self._left_of(i), 4, scaled(COLUMN) - 14, 20), right=True)

    def paint_row(self, painter: QPainter, row: object, top: int) -> None:
        if not isinstance(row, HoursRow):
            return
        height, hours = scaled(ROW), row.hours
        indent = scaled(NAME) + scaled(INDENT) * min(row.level, 8)
        is_top = row.level == 0 and self._work.by == By.BRANCH.value
        painter.setPen(color("ink"))
        face = font(9.5, QFont.Weight.DemiBold if is_top else QFont.Weight.Normal)
        draw_text(painter, face, row.name or "No stream", QRectF(indent, top, self._left_of(0) - indent, height))
        for i, minutes in enumerate((hours.planned, hours.logged, hours.rest, hours.forecast)):
            painter.setPen(color("ink" if i == 1 else "muted"))
            box = QRectF(self._left_of(i), top, scaled(COLUMN) - 14, height)
            draw_text(painter, font(9), hours_words(minutes) if minutes else "–", box, right=True)
        left = self._left_of(len(COLUMNS))
        hours_bar(painter, hours, QRectF(left, top + height / 2 - 4, scaled(62), 8))
        tone = "brick" if hours.over else "amber" if hours.will_be_over else "muted"
        painter.setPen(color(tone))
        box = QRectF(left + scaled(70), top, scaled(BAR) - scaled(72), height)
        draw_text(painter, font(8.5), standing_words(hours), box)
