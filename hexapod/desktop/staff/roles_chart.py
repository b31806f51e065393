"""Capacity against demand by role and month, as bars: filled and open need against the line of what there is."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QFont, QMouseEvent, QPainter, QPaintEvent, QPen

from hexapod.desktop.models.counting import Counting
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.staff.cells import Cells, Sizes
from hexapod.desktop.staff.periods import Step, edges_of, long_name, short_name
from hexapod.desktop.strip.periods import hours
from hexapod.desktop.theme.style import color, faded, font
from hexapod.desktop.theme.text import draw_text, width_of

if TYPE_CHECKING:
    from hexapod.staffing.roles import RoleRow, RoleTable

NAMES, CELL, ROW, HEAD = 190, 92, 76, 30
TEXT = 17  # the lines of numbers above and below the bars
GAP = 3.0
SHORT = 0.05  # hours from which on there are too few


class RolesChart(Cells):
    def __init__(self, desk: Desk) -> None:
        super().__init__(desk, Sizes(NAMES, CELL, ROW, HEAD, GAP), "Capacity against demand by role")
        self.setObjectName("rolesChart")
        self.step = desk.memory.recall("roles_step", Step, Step.MONTH)
        self.table: RoleTable | None = None
        self._counting = Counting(self, desk)

    # What is shown

    def set_step(self, step: Step) -> None:
        self.step = step
        self._desk.memory.keep("roles_step", step.value)
        self.table = None
        self.refresh()

    @property
    def current(self) -> RoleRow | None:
        rows = self.table.rows if self.table is not None else ()
        return rows[self.row] if self.row < len(rows) else None

    @property
    def when(self) -> str:
        """The period that is looked at, in words."""
        assert self.table is not None
        return long_name(self.step, int(self.table.edges[self.period]))

    def refresh(self) -> None:
        """Count what there is and what is wanted; of a large plan beside the interface."""
        desk, load = self._desk, self._desk.load
        if load is None:
            return
        from hexapod.staffing.reserved import span_of
        from hexapod.staffing.roles import role_table

        schedule, plan = desk.worked_out, desk.plan
        edges = edges_of(self.step, *span_of(schedule, plan))
        self._counting.count(lambda: role_table(schedule, plan, load.demand, edges), self._take)

    def _take(self, table: RoleTable) -> None:
        is_first = self.table is None
        self.table = table
        self.row = min(self.row, max(0, len(table.rows) - 1))
        self.period = min(self.period, len(table.edges) - 2)
        if is_first and table.rows:
            worst = [(-row.short(p), r, p) for r, row in enumerate(table.rows) for p in range(len(row.have))]
            _, self.row, self.period = min(worst)
        self.reveal()
        self._tell()
        self.viewport().update()
        self.picked.emit()

    # Painting

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self.viewport())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.viewport().rect(), color("panel"))
        if self.table is None or not self.table.rows:
            painter.setPen(color("muted"))
            says = (
                "Counting…" if self._desk.load is None else "No roles yet. Add them to the pool, and give people one."
            )
            painter.drawText(self.viewport().rect(), Qt.AlignmentFlag.AlignCenter, says)
            painter.end()
            return
        rows, periods = self.on_screen()
        painter.setPen(color("muted"))
        face = font(8.5, QFont.Weight.DemiBold)
        draw_text(painter, face, "Role", QRectF(14, 0, NAMES, HEAD))
        for period in periods:
            box = self.cell_rect(rows.start, period)
            name = short_name(self.step, int(self.table.edges[period]))
            draw_text(painter, face, name, QRectF(box.center().x() - width_of(face, name) / 2, 0, CELL, HEAD))
        for row in rows:
            self._paint_row(painter, row, periods)
        painter.end()

    def _paint_row(self, painter: QPainter, index: int, periods: range) -> None:
        assert self.table is not None
        row = self.table.rows[index]
        y = self.top_of(index)
        painter.setPen(color("rule"))
        painter.drawLine(QPointF(0, y - 0.5), QPointF(self.viewport().width(), y - 0.5))
        painter.setPen(color("ink"))
        draw_text(painter, font(9.5, QFont.Weight.DemiBold), row.title, QRectF(14, y, NAMES - 20, ROW / 2 + 6))
        painter.setPen(color("muted"))
        count = sum(r.role == row.role for r in self._desk.plan.resources.values())
        members = "nobody has it" if not count else "1 has it" if count == 1 else f"{count} have it"
        draw_text(painter, font(8), members, QRectF(14, y + ROW / 2 - 4, NAMES - 20, ROW / 2))
        most = max(float(row.have.max()), float(row.need.max()), 1.0)
        for period in periods:
            self._paint_cell(painter, row, period, self.cell_rect(index, period), most)
            if (index, period) == (self.row, self.period):
                painter.setPen(QPen(color("ink"), 2.0 if self.hasFocus() else 1.2))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRoundedRect(self.cell_rect(index, period).adjusted(-1, -1, 1, 1), 4, 4)

    def _paint_cell(self, painter: QPainter, row: RoleRow, period: int, box: QRectF, most: float) -> None:
        filled, unfilled = float(row.filled[:, period].sum()), float(row.open[:, period].sum())
        have, need = float(row.have[period]), filled + unfilled
        is_short = row.short(period) > SHORT
        bars = box.adjusted(0, TEXT, 0, -TEXT)
        scale = bars.height() / most
        left, wide = bars.left() + bars.width() * 0.22, bars.width() * 0.56
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(faded(color("petrol"), 120))
        painter.drawRect(QRectF(left, bars.bottom() - filled * scale, wide, filled * scale))
        if unfilled > 0:
            painter.setPen(QPen(color("petrol"), 1.0, Qt.PenStyle.DashLine))
            painter.setBrush(faded(color("petrol"), 35))
            painter.drawRect(QRectF(left, bars.bottom() - need * scale, wide, unfilled * scale))
        if is_short:
            painter.setPen(QPen(color("brick"), 1.0))
            painter.setBrush(QBrush(color("brick"), Qt.BrushStyle.BDiagPattern))
            painter.drawRect(QRectF(left, bars.bottom() - need * scale, wide, (need - have) * scale))
        painter.setPen(QPen(color("ink"), 1.6))
        at = bars.bottom() - have * scale
        painter.drawLine(QPointF(bars.left() + 6, at), QPointF(bars.right() - 6, at))
        self._paint_numbers(painter, box, have, need, is_short)

    def _paint_numbers(self, painter: QPainter, box: QRectF, have: float, need: float, is_short: bool) -> None:
        if not have and not need:
            return
        gap = f"{_amount(abs(need - have))} h {'short' if is_short else 'spare'}"
        face = font(8, QFont.Weight.DemiBold if is_short else QFont.Weight.Normal)
        painter.setPen(color("brick" if is_short else "muted"))
        _centred(painter, face, gap, QRectF(box.left(), box.top(), box.width(), TEXT))
        painter.setPen(color("ink"))
        said = f"{_amount(need)} of {_amount(have)} h"
        _centred(painter, font(8), said, QRectF(box.left(), box.bottom() - TEXT, box.width(), TEXT))

    # Hands

    def _tell(self) -> None:
        """What a screen reader says of what is looked at."""
        row = self.current
        if row is not None and self.table is not None:
            need, have, short = float(row.need[self.period]), float(row.have[self.period]), row.short(self.period)
            gap = f"{hours(round(abs(short), 1))} {'short' if short > SHORT else 'to spare'}"
            self.setAccessibleDescription(
                f"{row.title}, {self.when}: {hours(round(need, 1))} wanted, {hours(round(have, 1))} there, {gap}"
            )

    def mousePressEvent(self, event: QMouseEvent) -> None:
        found = self.place_at(event.position())
        if found is not None:
            self.look_at(found[0], found[1] if found[1] >= 0 else self.period)


def _centred(painter: QPainter, face: QFont, text: str, box: QRectF) -> None:
    wide = width_of(face, text)
    draw_text(painter, face, text, QRectF(box.center().x() - wide / 2, box.top(), wide + 2, box.height()))


def _amount(number: float) -> str:
    """Whole hours where there are many."""
    return f"{number:.0f}" if number >= 100 else f"{number:.1f}".rstrip("0").rstrip(".")
