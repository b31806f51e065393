"""What the spread of a finish comes from, and which tasks drove it most often: two lists of bars."""

from __future__ import annotations

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QFont, QMouseEvent, QPainter

from hexapod.desktop.frame.walked import ROW, WalkedTable
from hexapod.desktop.models.chances import ChancesWork
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.theme.style import color, font, scaled
from hexapod.desktop.theme.text import draw_text
from hexapod.outlook.spread import Spread
from hexapod.worktime.lengths import format_days

NAME, FIGURE = 2, 66
WITH_CAPACITIES = "With capacities nobody can say: look without them."
BAR_FROM, BAR_WIDE = 0.46, 0.38  # parts of the width


class _Bars(WalkedTable):
    def __init__(self, desk: Desk, work: ChancesWork, name: str, title: str) -> None:
        super().__init__(name, title)
        self._desk, self._work = desk, work

    def edit(self, text: str) -> None:
        """Go to the task in the outline."""
        task = self.task_of(self.current)
        if task and not text:
            self._desk.go_to(task)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self.edit("")

    def chosen(self, row: object) -> None:
        task = self.task_of(row)
        if task:
            self._desk.select((task,), task)

    def why_empty(self, otherwise: str) -> str:
        """What is said where there are no rows."""
        if self._work.chances() is None:
            return "Going the rounds…" if self._work.is_running else "Rounds would say it."
        return WITH_CAPACITIES if self._work.with_capacities else otherwise

    def task_of(self, row: object) -> str:
        raise AssertionError("a list knows its rows")

    def _paint_bar(self, painter: QPainter, top: int, name: str, part: float, figure: str, tone: str) -> None:
        width, height = self.viewport().width(), scaled(ROW)
        painter.setPen(color("ink"))
        draw_text(painter, font(9.5), name, QRectF(scaled(NAME), top, width * BAR_FROM - 12, height))
        bar = QRectF(width * BAR_FROM, top + height / 2 - 6, max(2.0, width * BAR_WIDE * part), 12)
        painter.fillRect(bar, color(tone))
        box = QRectF(width - scaled(FIGURE), top, scaled(FIGURE) - 6, height)
        draw_text(painter, font(9.5, QFont.Weight.DemiBold), figure, box, right=True)


class SpreadList(_Bars):
    def __init__(self, desk: Desk, work: ChancesWork) -> None:
        super().__init__(desk, work, "rangeSpread", "What the spread comes from")

    def refresh(self) -> None:
        found = self._work.spread()
        self.nothing = self.why_empty("Being worked out…" if found is None else "Nothing adds to it alone.")
        self.show_rows(list(found or ()))

    def key_of(self, row: object) -> object:
        return (row.task, row.risk) if isinstance(row, Spread) else row

    def task_of(self, row: object) -> str:
        return row.task if isinstance(row, Spread) else ""

    def figure(self, row: Spread) -> str:
        days = format_days(row.sure, self._desk.units(row.task))
        return f"{'+' if row.sure > 0 else ''}{days}" if row.sure else "–"

    def tell(self) -> None:
        row = self.current
        if isinstance(row, Spread):
            self.setAccessibleDescription(f"{row.name} adds {self.figure(row)} to the date that is sure enough")

    def paint_row(self, painter: QPainter, row: object, top: int) -> None:
        if isinstance(row, Spread):
            most = max((abs(each.sure) for each in self.rows if isinstance(each, Spread)), default=0)
            part = abs(row.sure) / most if most else 0.0
            self._paint_bar(painter, top, row.name, part, self.figure(row), "petrol" if row.sure >= 0 else "amber")


class DrivingList(_Bars):
    def __init__(self, desk: Desk, work: ChancesWork) -> None:
        super().__init__(desk, work, "rangeDriving", "How often it drove the finish")

    def refresh(self) -> None:
        self.nothing = self.why_empty("No task drives the finish.")
        self.show_rows(self._work.driving())

    def key_of(self, row: object) -> object:
        return row[0] if isinstance(row, tuple) else row

    def task_of(self, row: object) -> str:
        return row[0] if isinstance(row, tuple) else ""

    def tell(self) -> None:
        row = self.current
        if isinstance(row, tuple):
            name = self._desk.plan.tasks[row[0]].name
            self.setAccessibleDescription(f"{name}: in {100 * row[1]:.0f} % of the rounds")

    def paint_row(self, painter: QPainter, row: object, top: int) -> None:
        if isinstance(row, tuple) and row[0] in self._desk.plan.tasks:
            name = self._desk.plan.tasks[row[0]].name
            self._paint_bar(painter, top, name, row[1], f"{100 * row[1]:.0f} %", "ink")
