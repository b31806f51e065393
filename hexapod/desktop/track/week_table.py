"""One person's week of hours: days across, tasks down, typed into as a table is."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QRect, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFont, QKeyEvent, QMouseEvent, QPainter, QPen

from hexapod.control.weeks import DAYS, Week, WeekRow
from hexapod.desktop import dates
from hexapod.desktop.frame.walked import ROW, Heading, WalkedTable
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.hours import HoursWork
from hexapod.desktop.theme.style import color, font, scaled
from hexapod.desktop.theme.text import draw_text, width_of
from hexapod.errors import BadText
from hexapod.fields.hours_text import log_words, read_log
from hexapod.plan.edits.hours import CLOSED, hours_words
from hexapod.plan.records import DAY
from hexapod.worktime import clock

NAME, CELL, TOTAL = 20, 84, 84  # where names begin, and how wide a day and the sum are
TIGHT, NAMES = 70, 170  # how wide a day is where names would have less than that many pixels
HINT = "2h, 45m, 1:30, 3h labels cut, 2h 60 %"
LEAVE = "away"


class WeekTable(WalkedTable):
    """``col`` is the day that the keyboard is at, 0 for Monday. ``logs_asked`` asks for the logs of a task."""

    top_margin = 50
    logs_asked = pyqtSignal(str)

    def __init__(self, desk: Desk, work: HoursWork) -> None:
        super().__init__("weekTable", "Hours of a week")
        self._desk, self._work = desk, work
        self.week: Week | None = None
        self.col = min(clock.now() // DAY - work.monday, DAYS - 1)
        self._is_day_known = False

    def refresh(self) -> None:
        self.week = week = self._work.week()
        self.nothing = "The dates are being computed." if not self._desk.is_computed else "There is nobody yet."
        if week is None:
            self.show_rows([])
            return
        if not self._is_day_known:
            self.col = max(0, min(clock.now() // DAY - week.monday, DAYS - 1))
            self._is_day_known = True
        logged = [row for row in week.rows if not row.is_offered]
        offered = [row for row in week.rows if row.is_offered]
        self.nothing = "Nothing is hers this week: add a task above." if not week.rows else ""
        rows: list[object] = [Heading("Logged"), *logged] if logged else []
        self.show_rows([*rows, *([Heading("Offered: what is hers, and what she did last week"), *offered]
                                 if offered else [])])  # fmt: skip

    def key_of(self, row: object) -> object:
        return row.task if isinstance(row, WeekRow) else row

    def chosen(self, row: object) -> None:
        if isinstance(row, WeekRow) and row.task in self._desk.plan.tasks:
            self._desk.select((row.task,), row.task)

    def tell(self) -> None:
        row = self.current
        if not isinstance(row, WeekRow) or self.week is None or row.task not in self._desk.plan.tasks:
            self.setAccessibleDescription("")
            return
        name, day = self._desk.plan.tasks[row.task].name, dates.long_day((self.week.monday + self.col) * DAY)
        self.setAccessibleDescription(f"{name}, {day}: {hours_words(row.minutes[self.col])}")

    # Typing

    def edit(self, text: str) -> None:
        row, week = self.current, self.week
        if not isinstance(row, WeekRow) or week is None or self._editor is not None or self._desk.is_read_only:
            return
        day, texts, today = week.monday + self.col, self._desk.columns.texts(), clock.now() // DAY
        said = text or (hours_words(row.minutes[self.col]) if row.minutes[self.col] else "")
        is_closed = week.state in CLOSED

        def echo(typed: str) -> str:
            if not typed.strip():
                return "" if not row.minutes[self.col] else "nothing on this day"
            try:
                words = log_words(texts, read_log(texts, row.task, typed, today, day=day), today)
            except BadText as error:
                return str(error)
            return f"correct it to {words}" if is_closed and self._work.correcting else words

        task = row.task
        self.open_editor(
            said, hint=HINT, accessible=f"Hours on {self._desk.plan.tasks[task].name}", echo=echo,
            take=lambda typed: self._work.put(task, day, typed),
        )  # fmt: skip

    def clear(self) -> None:
        """Take the hours of a day out."""
        row = self.current
        if isinstance(row, WeekRow) and self.week is not None and row.logs[self.col]:
            self._work.remove([log.id for log in row.logs[self.col]])

    def editor_place(self) -> QRect:
        left = min(self._left_of(self.col), self.viewport().width() - scaled(248))
        return QRect(left, self.top_of(self.at) + 2, scaled(246), scaled(ROW) - 4)

    def keys(self) -> dict[int, Callable[[], object]]:
        return {
            Qt.Key.Key_Left: lambda: self.go_to_day(self.col - 1),
            Qt.Key.Key_Right: lambda: self.go_to_day(self.col + 1),
            Qt.Key.Key_Delete: self.clear,
        }

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Tab, Qt.Key.Key_Backtab):
            self.go_to_day(self.col + (1 if event.key() == Qt.Key.Key_Tab else -1))
            return
        super().keyPressEvent(event)

    def go_to_day(self, day: int) -> None:
        """To another day; over the edge of the week to the one before or behind it."""
        if 0 <= day < DAYS:
            self.col = day
        elif self.week is not None:
            self.col = 0 if day >= DAYS else DAYS - 1
            self._work.look_at(monday=self.week.monday + (DAYS if day >= DAYS else -DAYS))
        self.tell()
        self.viewport().update()

    def pressed(self, row: object, event: QMouseEvent) -> None:
        x = event.position().x()
        day = int((x - self._left_of(0)) // self._cell)
        if 0 <= day < DAYS:
            self.col = day
            self.tell()
            self.viewport().update()
        elif day >= DAYS and isinstance(row, WeekRow):
            self.logs_asked.emit(row.task)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        at = self.row_at(event.position().y())
        row = self.rows[at] if at is not None else None
        if isinstance(row, WeekRow):
            if event.position().x() < self._left_of(0):
                self._desk.go_to(row.task)
            else:
                self.edit("")

    # Painting

    @property
    def _cell(self) -> int:
        """How wide a day is."""
        is_tight = self.viewport().width() < scaled(NAMES + TOTAL + CELL * DAYS)
        return scaled(TIGHT if is_tight else CELL)

    def _left_of(self, day: int) -> int:
        return int(self.viewport().width() - scaled(TOTAL) - self._cell * (DAYS - day))

    def paint_names(self, painter: QPainter) -> None:
        week = self.week
        if week is None:
            return
        today = clock.now() // DAY
        for day in range(DAYS):
            left, on = self._left_of(day), week.monday + day
            is_today = on == today
            painter.setPen(color("petrol" if is_today else "muted"))
            face = font(9, QFont.Weight.DemiBold if is_today else QFont.Weight.Normal)
            box = QRectF(left, 4, self._cell - 8, 20)
            draw_text(painter, face, dates.short_day(on * DAY), box, right=True)
            done, can = week.by_day[day], week.can[day]
            words = LEAVE if week.away[day] else f"{_plain(done)} of {_plain(can)} h" if can else _plain(done)
            is_over = done > can and (can or week.away[day])
            words = f"{_plain(done)} h {LEAVE}" if week.away[day] and done else words
            painter.setPen(color("amber" if is_over else "muted"))
            sign = "▲ " if is_over else ""
            draw_text(painter, font(8.5), f"{sign}{words if can or done or week.away[day] else ''}",
                      QRectF(left - 4, 24, self._cell - 4, 18), right=True)  # fmt: skip
        painter.setPen(color("muted"))
        left = self._left_of(DAYS)
        draw_text(painter, font(9), "in all", QRectF(left, 4, scaled(TOTAL) - 12, 20), right=True)
        painter.setPen(color("ink"))
        words = f"{_plain(week.total)} of {_plain(sum(week.can))} h"
        draw_text(
            painter, font(8.5, QFont.Weight.DemiBold), words, QRectF(left - 8, 24, scaled(TOTAL) - 4, 18), right=True
        )

    def paint_row(self, painter: QPainter, row: object, top: int) -> None:
        week, plan = self.week, self._desk.plan
        if not isinstance(row, WeekRow) or week is None or row.task not in plan.tasks:
            return
        height, first = scaled(ROW), self._left_of(0)
        for day in range(DAYS):
            left = self._left_of(day)
            if not week.can[day]:
                painter.fillRect(QRectF(left, top, self._cell, height - 1), color("shade"))
            painter.fillRect(QRectF(left, top, 1, height), color("rule"))
        task = plan.tasks[row.task]
        painter.setPen(color("muted" if row.is_offered else "ink"))
        room = first - scaled(NAME) - 10
        draw_text(painter, font(9.5), task.name, QRectF(scaled(NAME), top, room, height))
        used = width_of(font(9.5), task.name) + 14
        if room - used > 60:
            painter.setPen(color("faint"))
            draw_text(painter, font(8.5), plan.projects[task.project].name,
                      QRectF(scaled(NAME) + used, top, room - used, height))  # fmt: skip
        for day, minutes in enumerate(row.minutes):
            if minutes:
                painter.setPen(color("ink"))
                noted = any(log.note for log in row.logs[day])
                words = f"{_plain(minutes)}{' ·' if noted else ''}"
                box = QRectF(self._left_of(day), top, self._cell - 8, height)
                draw_text(painter, font(9.5), words, box, right=True)
        if any(row.minutes):
            painter.setPen(color("muted"))
            box = QRectF(self._left_of(DAYS), top, scaled(TOTAL) - 12, height)
            draw_text(painter, font(9.5), f"{_plain(sum(row.minutes))} h", box, right=True)
        if row is self.current and self.hasFocus():
            painter.setPen(QPen(color("petrol"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(self._left_of(self.col) + 1, top + 2, self._cell - 2, height - 5))


def _plain(minutes: float) -> str:
    """Hours without their unit."""
    return hours_words(round(minutes)).removesuffix(" h")
