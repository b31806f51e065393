"""A year of a calendar at a glance. Days are chosen by dragging over them, or with the arrow keys and Shift."""

from __future__ import annotations

from datetime import date, timedelta

from PyQt6.QtCore import QLocale, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFont, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QToolTip, QWidget

from hexapod.desktop import dates
from hexapod.desktop.theme.style import color, font
from hexapod.desktop.theme.tips import plain_tip
from hexapod.worktime.clock import day_number
from hexapod.worktime.days import Day, DayKind

MONTHS_ACROSS = 4
HEADING, WEEKDAYS = 20, 15
_ARROWS = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1, Qt.Key.Key_Up: -7, Qt.Key.Key_Down: 7}


class YearView(QWidget):
    """``days`` says for each day of the year what it is; ``chosen_changed`` that others are chosen."""

    chosen_changed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("year")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.year = date.today().year
        self.days: dict[int, Day] = {}
        self.anchor: date | None = None
        self.current: date | None = None

    def sizeHint(self) -> QSize:
        return QSize(660, 470)

    def show_days(self, year: int, days: dict[int, Day]) -> None:
        self.year, self.days = year, days
        working = sum(1 for day in days.values() if day.working)
        self.setAccessibleName(f"{year}: {working} working days")
        self.update()

    @property
    def chosen(self) -> list[date]:
        """The days from where the drag began to where it is, in order."""
        if self.anchor is None or self.current is None:
            return []
        first, last = sorted((self.anchor, self.current))
        return [first + timedelta(days=i) for i in range((last - first).days + 1)]

    def choose(self, first: date | None, last: date | None) -> None:
        self.anchor, self.current = first, last
        self.update()
        self.chosen_changed.emit()

    # Geometry

    def _month_rect(self, month: int) -> QRectF:
        across, down = (month - 1) % MONTHS_ACROSS, (month - 1) // MONTHS_ACROSS
        width, height = self.width() / MONTHS_ACROSS, self.height() / (12 // MONTHS_ACROSS)
        return QRectF(across * width + 6, down * height + 4, width - 12, height - 8)

    def cell(self, day: date) -> QRectF:
        """Where a day is painted."""
        box = self._month_rect(day.month)
        first = day.replace(day=1)
        index = first.weekday() + day.day - 1
        width, height = box.width() / 7, (box.height() - HEADING - WEEKDAYS) / 6
        left, top = box.left() + index % 7 * width, box.top() + HEADING + WEEKDAYS + index // 7 * height
        return QRectF(left, top, width, height)

    def day_at(self, at: QPointF) -> date | None:
        for month in range(1, 13):
            if self._month_rect(month).contains(at):
                day = date(self.year, month, 1)
                while day.month == month:
                    if self.cell(day).contains(at):
                        return day
                    day += timedelta(days=1)
        return None

    # Painting

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), color("panel"))
        chosen = set(self.chosen)
        locale = QLocale()
        for month in range(1, 13):
            box = self._month_rect(month)
            painter.setFont(font(9, QFont.Weight.DemiBold))
            painter.setPen(color("ink"))
            heading = QRectF(box.left() + 3, box.top(), box.width(), HEADING)
            painter.drawText(heading, Qt.AlignmentFlag.AlignVCenter, locale.standaloneMonthName(month))
            painter.setFont(font(7.5))
            painter.setPen(color("muted"))
            for i in range(7):
                name = QRectF(box.left() + i * box.width() / 7, box.top() + HEADING, box.width() / 7, WEEKDAYS)
                short = locale.standaloneDayName(i + 1, QLocale.FormatType.NarrowFormat)
                painter.drawText(name, Qt.AlignmentFlag.AlignCenter, short)
            day = date(self.year, month, 1)
            painter.setFont(font(8.5))
            while day.month == month:
                self._paint_day(painter, day, day in chosen)
                day += timedelta(days=1)
        painter.end()

    def _paint_day(self, painter: QPainter, day: date, chosen: bool) -> None:
        box = self.cell(day).adjusted(1, 1, -1, -1)
        found = self.days.get(day_number(day))
        kind = found.kind if found else DayKind.WEEK
        works = bool(found and found.working)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(color("selection" if chosen else "raised" if works else "shade"))
        painter.drawRoundedRect(box, 3, 3)
        if kind is not DayKind.WEEK:  # what is said of the day itself: a bar beneath it, brick for time off
            bar = QRectF(box.left() + 3, box.bottom() - 3.5, box.width() - 6, 2.5)
            painter.fillRect(bar, color("petrol" if works else "muted" if kind is DayKind.HOLIDAY else "brick"))
        if day == self.current:
            painter.setPen(QPen(color("petrol"), 1.4))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(box, 3, 3)
        painter.setPen(color("ink" if works else "faint"))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, str(day.day))

    # Mouse and keys

    def mousePressEvent(self, event: QMouseEvent) -> None:
        day = self.day_at(event.position())
        if day is not None and event.button() == Qt.MouseButton.LeftButton:
            extends = event.modifiers() & Qt.KeyboardModifier.ShiftModifier and self.anchor is not None
            self.choose(self.anchor if extends else day, day)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        day = self.day_at(event.position())
        if day is None:
            return
        if event.buttons() & Qt.MouseButton.LeftButton:
            self.choose(self.anchor or day, day)
        found = self.days.get(day_number(day))
        if found is not None:
            text = f"{dates.long_day(day_number(day) * 1440)}: {found.words()}"
            QToolTip.showText(event.globalPosition().toPoint(), plain_tip(text), self)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in _ARROWS:
            start = self.current or date(self.year, 1, 1)
            day = start + timedelta(days=_ARROWS[Qt.Key(event.key())])
            if day.year == self.year:
                extends = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
                self.choose(self.anchor if extends else day, day)
        else:
            super().keyPressEvent(event)
