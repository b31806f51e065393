"""Weeks of everybody at a glance: how much was logged of what each could work, and how the sheets stand."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFont, QMouseEvent, QPainter, QPen

from hexapod.control.weeks import SheetSign, TeamCell, TeamRow
from hexapod.desktop import dates
from hexapod.desktop.frame.walked import ROW, WalkedTable
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.hours import WEEKS, HoursWork
from hexapod.desktop.theme.style import color, font, scaled
from hexapod.desktop.theme.text import draw_text
from hexapod.plan.edits.hours import hours_words
from hexapod.plan.records import DAY
from hexapod.worktime.clock import date_of

NAME, CELL = 20, 142
SIGNS = {  # a mark, its words and its colour
    SheetSign.TO_COME: ("", "", "faint"),
    SheetSign.OPEN: ("○", "this week", "muted"),
    SheetSign.MISSING: ("?", "missing", "brick"),
    SheetSign.AWAY: ("–", "away", "faint"),
    SheetSign.NOTHING: ("", "", "faint"),
    SheetSign.HANDED_IN: ("◐", "handed in", "amber"),
    SheetSign.APPROVED: ("✓", "approved", "petrol"),
    SheetSign.SENT_BACK: ("↩", "sent back", "brick"),
}


class TeamTable(WalkedTable):
    """``col`` is the week that the keyboard is at. ``week_asked`` carries a person and the Monday of a week."""

    top_margin = 30
    week_asked = pyqtSignal(str, int)

    def __init__(self, desk: Desk, work: HoursWork) -> None:
        super().__init__("teamTable", "Weeks of everybody")
        self._desk, self._work = desk, work
        self.col = WEEKS - 1

    def refresh(self) -> None:
        rows = self._work.team()
        self.nothing = "Nobody has work or hours yet." if self._desk.is_computed else "The dates are being computed."
        self.show_rows(list(rows))

    def key_of(self, row: object) -> object:
        return row.person if isinstance(row, TeamRow) else row

    def tell(self) -> None:
        cell, row = self.cell, self.current
        if cell is None or not isinstance(row, TeamRow) or row.person not in self._desk.plan.resources:
            self.setAccessibleDescription("")
            return
        name = self._desk.plan.resources[row.person].name
        week = dates.long_day(cell.monday * DAY)
        said = f"{hours_words(cell.logged)} of {hours_words(round(cell.can))}, {cell.sign.value}"
        self.setAccessibleDescription(f"{name}, week of {week}: {said}")

    @property
    def cell(self) -> TeamCell | None:
        row = self.current
        return row.cells[self.col] if isinstance(row, TeamRow) else None

    # Doing something

    def edit(self, text: str) -> None:
        row, cell = self.current, self.cell
        if isinstance(row, TeamRow) and cell is not None and not text.strip():
            self.week_asked.emit(row.person, cell.monday)

    def approve(self) -> None:
        """Approve the week that the keyboard is at, where it waits for that."""
        row, cell = self.current, self.cell
        if isinstance(row, TeamRow) and cell is not None and not self._desk.is_read_only:
            if cell.sign is SheetSign.HANDED_IN:
                self._work.approve((row.person, cell.monday))
            else:
                self._desk.told.emit("Only a week that is handed in can be approved.", "", False)

    def keys(self) -> dict[int, Callable[[], object]]:
        return {
            Qt.Key.Key_Left: lambda: self.go_to_week(self.col - 1),
            Qt.Key.Key_Right: lambda: self.go_to_week(self.col + 1),
            Qt.Key.Key_Space: self.approve,
        }

    def go_to_week(self, week: int) -> None:
        if 0 <= week < WEEKS:
            self.col = week
            self.tell()
            self.viewport().update()
        else:
            self._work.look_at(monday=self._work.monday + (7 if week > 0 else -7))

    def pressed(self, row: object, event: QMouseEvent) -> None:
        week = int((event.position().x() - self._left_of(0)) // scaled(CELL))
        if 0 <= week < WEEKS:
            self.go_to_week(week)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self.edit("")

    # Painting

    def _left_of(self, week: int) -> int:
        return int(self.viewport().width() - scaled(CELL) * (WEEKS - week))

    def paint_names(self, painter: QPainter) -> None:
        first = self._work.monday - 7 * (WEEKS - 1)
        for week in range(WEEKS):
            monday = first + 7 * week
            words = f"week {date_of(monday).isocalendar().week}, {dates.short_day(monday * DAY)}"
            box = QRectF(self._left_of(week) + 8, 4, scaled(CELL) - 10, 20)
            draw_text(painter, font(8.5), words, box)

    def paint_row(self, painter: QPainter, row: object, top: int) -> None:
        plan = self._desk.plan
        if not isinstance(row, TeamRow) or row.person not in plan.resources:
            return
        height = scaled(ROW)
        painter.setPen(color("ink"))
        room = self._left_of(0) - scaled(NAME) - 8
        draw_text(painter, font(9.5), plan.resources[row.person].name, QRectF(scaled(NAME), top, room, height))
        for week, cell in enumerate(row.cells):
            left = self._left_of(week)
            painter.fillRect(QRectF(left, top, 1, height), color("rule"))
            mark, words, tone = SIGNS[cell.sign]
            hours = f"{_plain(cell.logged)}/{_plain(cell.can)} h"
            painter.setPen(color("ink" if cell.logged else "muted"))
            if cell.logged or cell.sign not in (SheetSign.NOTHING, SheetSign.AWAY, SheetSign.TO_COME):
                draw_text(painter, font(8.5), hours, QRectF(left, top, scaled(58), height), right=True)
            painter.setPen(color(tone))
            draw_text(painter, font(8.5, QFont.Weight.DemiBold), mark, QRectF(left + scaled(66), top, 14, height))
            draw_text(painter, font(8.5), words, QRectF(left + scaled(80), top, scaled(CELL) - scaled(82), height))
        if row is self.current and self.hasFocus():
            painter.setPen(QPen(color("petrol"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(self._left_of(self.col) + 1, top + 2, scaled(CELL) - 3, height - 5))


def _plain(minutes: float) -> str:
    return hours_words(round(minutes)).removesuffix(" h")
