"""Months in a row, each with how many milestones it has; one of them can be chosen."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QFont, QKeyEvent, QMouseEvent, QPainter, QPen

from hexapod.desktop import dates
from hexapod.desktop.frame.picture import Picture
from hexapod.desktop.theme.style import color, faded, font, scaled
from hexapod.desktop.theme.text import draw_text, width_of
from hexapod.plan.records import DAY

HEIGHT, NAMES, LEAST = 74, 20, 44


class MonthsStrip(Picture):
    """``chosen`` with the day on which a month begins. Left and Right go along, Space or Enter chooses."""

    chosen = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__("monthsStrip")
        self.setAccessibleName("Milestones by month")
        self.setFixedHeight(scaled(HEIGHT))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.months: list[tuple[int, int]] = []
        self._month: int | None = None
        self._at = 0

    def show_months(self, months: Sequence[tuple[int, int]], chosen: int | None) -> None:
        self.months, self._month = list(months), chosen
        self._at = max(0, min(self._at, len(self.months) - 1))
        self._tell()
        self.update()

    def _tell(self) -> None:
        if self.months:
            month, count = self.months[self._at]
            self.setAccessibleDescription(f"{dates.month_name(month * DAY)}: {count}")

    def _shown(self) -> tuple[int, int]:
        """The first month on show, and how many there is room for."""
        room = max(1, int(self.width() // scaled(LEAST)))
        first = max(0, min(self._at - room // 2, len(self.months) - room))
        return first, min(room, len(self.months) - first)

    def box_of(self, month: int) -> QRectF:
        """Where a month lies, by its place among them."""
        first, count = self._shown()
        wide = self.width() / max(1, count)
        return QRectF((month - first) * wide, 0, wide, self.height())

    def paint(self, painter: QPainter, whole: QRectF) -> None:
        most = max((count for _, count in self.months), default=1)
        first, shown = self._shown()
        for i in range(first, first + shown):
            (month, count), box = self.months[i], self.box_of(i)
            if month == self._month:
                painter.fillRect(box, color("selection"))
            bar = (box.height() - scaled(NAMES) * 2) * count / most
            left, bottom = box.left() + box.width() * 0.2, box.bottom() - scaled(NAMES)
            painter.fillRect(QRectF(left, bottom - bar, box.width() * 0.6, bar), faded(color("petrol"), 120))
            for text, face, top in (
                (str(count), font(8.5), bottom - bar - scaled(NAMES) + 3),
                (dates.month_name(month * DAY)[:3], font(8.5, QFont.Weight.DemiBold if month == self._month
                                                         else QFont.Weight.Normal), bottom + 1),
            ):  # fmt: skip
                painter.setPen(color("muted"))
                wide = width_of(face, text) + 2
                draw_text(painter, face, text, QRectF(box.center().x() - wide / 2, top, wide, scaled(NAMES) - 3))
            if i == self._at and self.hasFocus():
                painter.setPen(QPen(color("petrol"), 1.6))
                painter.drawRect(box.adjusted(1, 1, -1, -2))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        for i in range(len(self.months)):
            if self.box_of(i).contains(event.position()):
                self._at = i
                self.chosen.emit(self.months[i][0])
                return

    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}
        if event.key() in steps:
            self._at = max(0, min(len(self.months) - 1, self._at + steps[Qt.Key(event.key())]))
            self._tell()
            self.update()
        elif event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.months:
            self.chosen.emit(self.months[self._at][0])
        else:
            super().keyPressEvent(event)

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        self.update()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        self.update()
