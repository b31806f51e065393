"""The figures of earned value, and the same of every project; each leads to what it is made of."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, pyqtSignal
from PyQt6.QtGui import QFont, QFontMetrics, QMouseEvent, QPainter

from hexapod.control.ledger import HOUR
from hexapod.control.planned_value import Measure
from hexapod.control.value import Figures, Value
from hexapod.control.value_words import FIGURES, FigureName, said
from hexapod.desktop import dates
from hexapod.desktop.currency import currency
from hexapod.desktop.frame.walked import ROW, WalkedTable
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.value import ValueWork
from hexapod.desktop.theme.style import color, font, scaled
from hexapod.desktop.theme.text import draw_text
from hexapod.worktime.lengths import format_days

WORSE = {"sv", "cv", "vac", "sv_t"}  # less than nothing is bad
AT_LEAST_ONE = {"spi", "cpi", "spi_t"}  # less than one is bad
BAD_SIGN = "▲"


class Saying:
    """Amounts in hours or in money, as the reader's locale writes them."""

    def __init__(self, desk: Desk, measure: str) -> None:
        self._desk, self._measure = desk, measure

    def amount(self, amount: int) -> str:
        if self._measure == Measure.HOURS.value:
            return f"{amount / HOUR:,.1f}".removesuffix(".0").replace("-", "−") + " h"
        return currency().short(amount)

    def time(self, minutes: float) -> str:
        return format_days(minutes, self._desk.units())

    def day(self, at: int) -> str:
        return dates.last_day(at)


def is_bad(value: Value, key: str) -> bool:
    """Whether a figure says that it goes worse than planned."""
    found = getattr(value if key in ("es", "spi_t", "sv_t", "finish") else value.whole, key)
    if found is None:
        return False
    if key in AT_LEAST_ONE:
        return bool(found < 1)
    if key == "tcpi":
        return bool(found > 1.1 or found < 0)
    return key in WORSE and found < 0


class FiguresTable(WalkedTable):
    figure_asked = pyqtSignal(str)

    def __init__(self, desk: Desk, work: ValueWork) -> None:
        super().__init__("valueFigures", "Figures of earned value")
        self._desk, self._work = desk, work
        self.value: Value | None = None

    def show_value(self, value: Value | None) -> None:
        self.value = value
        self.nothing = "There is no project."
        self.show_rows([] if value is None else list(FIGURES))

    def key_of(self, row: object) -> object:
        return row.key if isinstance(row, FigureName) else row

    def tell(self) -> None:
        row = self.current
        if isinstance(row, FigureName) and self.value is not None:
            words = said(self.value, row.key, Saying(self._desk, self._work.measure)) or self.why(row.key)
            self.setAccessibleDescription(f"{row.words}, {row.short}: {words}")

    def why(self, key: str) -> str:
        """Why a figure has no value."""
        missing = self.value.missing if self.value is not None else {}
        return missing.get(key) or missing.get("ev") or missing.get("es" if key.endswith("_t") else "", "")

    def edit(self, text: str) -> None:
        row = self.current
        if isinstance(row, FigureName) and not text.strip():
            self.figure_asked.emit(row.key)

    def pressed(self, row: object, event: QMouseEvent) -> None:
        self.edit("")

    def paint_row(self, painter: QPainter, row: object, top: int) -> None:
        value = self.value
        if not isinstance(row, FigureName) or value is None:
            return
        height, width = scaled(ROW), self.viewport().width()
        words = said(value, row.key, Saying(self._desk, self._work.measure))
        bad = is_bad(value, row.key)
        face = font(9.5, QFont.Weight.DemiBold if row.key in ("spi", "cpi", "spi_t", "eac") else QFont.Weight.Normal)
        number = f"{BAD_SIGN} {words}" if bad else words or "–"
        wide = QFontMetrics(face).horizontalAdvance(number) + scaled(8)
        painter.setPen(color("brick" if bad else "ink" if words else "faint"))
        draw_text(painter, face, number, QRectF(width - wide - 10, top, wide, height), right=True)
        painter.setPen(color("muted"))
        short = font(8.5, QFont.Weight.DemiBold)
        draw_text(painter, short, row.short, QRectF(scaled(10), top, scaled(46), height))
        painter.setPen(color("ink"))
        draw_text(painter, font(9), row.words, QRectF(scaled(58), top, width - wide - scaled(62) - 10, height))


COLUMNS = ("pv", "ev", "ac", "spi", "cpi", "bac", "eac", "vac", "spi_t", "finish")
HEADS = ("PV", "EV", "AC", "SPI", "CPI", "BAC", "EAC", "VAC", "SPI(t)", "Finish")


class ProjectsTable(WalkedTable):
    """A row a project, and all of them together."""

    top_margin = 28
    project_asked = pyqtSignal(str)

    def __init__(self, desk: Desk, work: ValueWork) -> None:
        super().__init__("valueProjects", "Earned value of every project")
        self._desk, self._work = desk, work

    def show_values(self, values: list[Value]) -> None:
        known = [v for v in values if v.whole.pv is not None]
        rows = list(values)
        if len(known) > 1:
            whole = Figures(0, 0, 0, 0)
            for value in known:
                whole = whole.plus(value.whole)
            rows.append(Value("", "All with a baseline", max(v.at for v in known), known[0].measure, whole, {}))
        self.show_rows(rows)

    def key_of(self, row: object) -> object:
        return row.project if isinstance(row, Value) else row

    def edit(self, text: str) -> None:
        row = self.current
        if isinstance(row, Value) and row.project and not text.strip():
            self.project_asked.emit(row.project)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self.edit("")

    def tell(self) -> None:
        row = self.current
        if isinstance(row, Value):
            say = Saying(self._desk, self._work.measure)
            parts = [f"{head} {said(row, key, say) or 'none'}" for key, head in zip(COLUMNS, HEADS, strict=True)]
            self.setAccessibleDescription(f"{row.name}: {', '.join(parts)}")

    def _column(self, i: int) -> tuple[float, float]:
        wide = min(scaled(84), (self.viewport().width() - scaled(160)) / len(COLUMNS))
        return self.viewport().width() - wide * (len(COLUMNS) - i), wide

    def paint_names(self, painter: QPainter) -> None:
        for i, title in enumerate(HEADS):
            left, wide = self._column(i)
            draw_text(painter, font(9), title, QRectF(left, 4, wide - 8, 20), right=True)

    def paint_row(self, painter: QPainter, row: object, top: int) -> None:
        if not isinstance(row, Value):
            return
        height, say = scaled(ROW), Saying(self._desk, self._work.measure)
        painter.setPen(color("ink"))
        face = font(9.5, QFont.Weight.Normal if row.project else QFont.Weight.DemiBold)
        draw_text(painter, face, row.name, QRectF(12, top, self._column(0)[0] - 16, height))
        for i, key in enumerate(COLUMNS):
            left, wide = self._column(i)
            bad = is_bad(row, key)
            words = said(row, key, say)
            painter.setPen(color("brick" if bad else "ink" if words else "faint"))
            words = f"{BAD_SIGN} {words}" if bad else words or "–"
            draw_text(painter, font(9), words, QRectF(left, top, wide - 8, height), right=True)
