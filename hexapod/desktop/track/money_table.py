"""Money by period: each figure leads to what it is made of."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFont, QMouseEvent, QPainter, QPen

from hexapod.control.money import Days, Money, MoneyTable, Period, Step
from hexapod.desktop import dates
from hexapod.desktop.currency import currency
from hexapod.desktop.frame.walked import ROW, WalkedTable
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.money import MoneyWork
from hexapod.desktop.theme.style import color, font, scaled
from hexapod.desktop.theme.text import draw_text
from hexapod.plan.records import DAY
from hexapod.worktime.clock import date_of

NAME, CELL = 12, 96
COLUMNS = (  # of what they are made, and their headings
    ("budget", "Budget"),
    ("planned", "Planned"),
    ("spent", "Spent"),
    ("expected", "Expected"),
    ("left", "Left over"),
    ("invoiced", "Charged"),
    ("to_invoice", "To charge"),
    ("promised", "Income due"),
    ("came", "Income came"),
)


def period_name(step: Step, days: Days) -> str:
    """``week 41, Mon 5 Oct``, ``October 2026``, ``4th quarter 2026``."""
    on = date_of(days[0])
    if step is Step.WEEK:
        return f"week {on.isocalendar().week}, {dates.short_day(days[0] * DAY)}"
    if step is Step.MONTH:
        return dates.month_name(days[0] * DAY)
    return f"{('1st', '2nd', '3rd', '4th')[(on.month - 1) // 3]} quarter {on.year}"


class MoneyRows(WalkedTable):
    """``col`` is the figure that the keyboard is at; ``figure_asked`` carries its days, None for all, and its name."""

    top_margin = 28
    figure_asked = pyqtSignal(object, str)

    def __init__(self, desk: Desk, work: MoneyWork) -> None:
        super().__init__("moneyTable", "Money by period")
        self._desk, self._work = desk, work
        self.table: MoneyTable | None = None
        self.col = 2

    def refresh(self) -> None:
        self.table = self._work.table()
        self.nothing = "The dates are being computed." if not self._desk.is_computed else "There is no project."
        if self.table is None:
            self.show_rows([])
            return
        self.show_rows([*self.table.periods, Period((0, -1), self.table.whole)])

    def key_of(self, row: object) -> object:
        return row.days if isinstance(row, Period) else row

    def name_of(self, row: Period) -> str:
        return "In all" if self._is_whole(row) else period_name(Step(self._work.step), row.days)

    def _is_whole(self, row: Period) -> bool:
        return row.days[1] < row.days[0]

    def tell(self) -> None:
        row = self.current
        if isinstance(row, Period):
            key, title = COLUMNS[self.col]
            self.setAccessibleDescription(f"{self.name_of(row)}, {title}: {self.text_of(row, key) or 'none'}")

    def text_of(self, row: Period, key: str) -> str:
        amount = getattr(row.money, key)
        if key == "to_invoice" and self.table is not None and not self._is_whole(row):
            amount = self.table.to_invoice_after(row) if row.money.invoiced else 0
        if amount is None or (not amount and key != "budget"):
            return ""
        return currency().short(amount)

    # Doing something

    def edit(self, text: str) -> None:
        row = self.current
        if isinstance(row, Period) and not text.strip():
            self.figure_asked.emit(None if self._is_whole(row) else row.days, COLUMNS[self.col][0])

    def keys(self) -> dict[int, Callable[[], object]]:
        return {
            Qt.Key.Key_Left: lambda: self.go_to_figure(self.col - 1),
            Qt.Key.Key_Right: lambda: self.go_to_figure(self.col + 1),
        }

    def go_to_figure(self, column: int) -> None:
        if 0 <= column < len(COLUMNS):
            self.col = column
            self.tell()
            self.viewport().update()

    def pressed(self, row: object, event: QMouseEvent) -> None:
        for i in range(len(COLUMNS)):
            left, wide = self._column(i)
            if left <= event.position().x() < left + wide:
                self.go_to_figure(i)
                self.edit("")

    # Painting

    def _column(self, i: int) -> tuple[float, float]:
        wide = min(scaled(CELL), (self.viewport().width() - scaled(150)) / len(COLUMNS))
        return self.viewport().width() - wide * (len(COLUMNS) - i), wide

    def paint_names(self, painter: QPainter) -> None:
        for i, (_, title) in enumerate(COLUMNS):
            left, wide = self._column(i)
            draw_text(painter, font(9), title, QRectF(left, 4, wide - 10, 20), right=True)

    def paint_row(self, painter: QPainter, row: object, top: int) -> None:
        if not isinstance(row, Period):
            return
        height, money = scaled(ROW), row.money
        is_whole = self._is_whole(row)
        first, last = row.days
        is_now = first <= self._work.today <= last
        painter.setPen(color("petrol" if is_now else "ink"))
        weight = QFont.Weight.DemiBold if is_whole or is_now else QFont.Weight.Normal
        if is_whole:
            painter.fillRect(QRectF(0, top, self.viewport().width(), 1), color("ink"))
        box = QRectF(scaled(NAME), top, self._column(0)[0] - scaled(NAME), height)
        draw_text(painter, font(9.5, weight), self.name_of(row), box)
        for i, (key, _) in enumerate(COLUMNS):
            left, wide = self._column(i)
            painter.setPen(color(self._tone(money, key)))
            words = self.text_of(row, key)
            if key == "spent" and money.is_over:
                words = f"▲ {words}"
            elif key == "expected" and money.will_be_over and not money.is_over:
                words = f"△ {words}"
            face = font(9.5, QFont.Weight.DemiBold if is_whole else QFont.Weight.Normal)
            draw_text(painter, face, words, QRectF(left, top, wide - 10, height), right=True)
        if row is self.current and self.hasFocus():
            left, wide = self._column(self.col)
            painter.setPen(QPen(color("petrol"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(left + 1, top + 2, wide - 3, height - 5))

    def _tone(self, money: Money, key: str) -> str:
        if key == "spent" and money.is_over:
            return "brick"
        if key in ("expected", "left") and money.will_be_over:
            return "brick" if money.is_over else "amber"
        return "ink" if key in ("spent", "expected", "budget") else "muted"
