"""Money by period as a picture: what was budgeted as an outline, what is spent full, what is to come hatched."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QBrush, QPainter, QPen

from hexapod.control.money import MoneyTable, Step
from hexapod.desktop.currency import currency
from hexapod.desktop.frame.picture import Picture, amount_marks, rule_across
from hexapod.desktop.theme.style import color, font, scaled
from hexapod.desktop.theme.text import draw_text
from hexapod.desktop.track.money_table import period_name

LEFT, TOP, BOTTOM = 76, 30, 26
LEAST = 10_000  # of the axis, in the smallest unit


class MoneyPicture(Picture):
    def __init__(self) -> None:
        super().__init__("moneyPicture")
        self.table: MoneyTable | None = None
        self.step = Step.MONTH
        self.setMinimumHeight(scaled(150))

    def show_table(self, table: MoneyTable | None, step: Step) -> None:
        self.table, self.step = table, step
        said = []
        for period in table.periods if table is not None else ():
            money, budget = period.money, period.money.budget
            of = f" of {currency().short(budget)}" if budget is not None else ""
            expected = currency().short(money.expected)
            said.append(
                f"{period_name(step, period.days)}: {currency().short(money.spent)} spent, {expected}{of} expected"
            )
        self.setAccessibleName(". ".join(said) or "Money by period")
        self.update()

    def paint(self, painter: QPainter, whole: QRectF) -> None:
        painter.fillRect(whole, color("panel"))
        table = self.table
        if table is None or not table.periods:
            return
        amounts = [m for p in table.periods for m in (p.money.budget or 0, p.money.planned, p.money.expected)]
        most = max(LEAST, *amounts)
        box = QRectF(scaled(LEFT), scaled(TOP), whole.width() - scaled(LEFT) - 14,
                     whole.height() - scaled(TOP) - scaled(BOTTOM))  # fmt: skip
        rule_across(painter, box, amount_marks(most, 100, currency().short))
        wide = box.width() / len(table.periods)
        bar = min(scaled(54), wide * 0.6)
        for i, period in enumerate(table.periods):
            left = box.left() + wide * i + (wide - bar) / 2
            height = lambda amount: box.height() * amount / most  # noqa: E731
            money = period.money
            spent, expected = height(max(0, money.spent)), height(max(0, money.expected))
            painter.setPen(Qt.PenStyle.NoPen)
            painter.fillRect(QRectF(left, box.bottom() - spent, bar, spent), color("load"))
            to_come = QRectF(left, box.bottom() - expected, bar, expected - spent)
            painter.fillRect(to_come, QBrush(color("load"), Qt.BrushStyle.BDiagPattern))
            if money.budget is not None:
                top = box.bottom() - height(money.budget)
                over = max(spent, expected) - height(money.budget)
                if over > 0:
                    burst = QRectF(left, top - over, bar, over)
                    painter.fillRect(burst, QBrush(color("brick"), Qt.BrushStyle.BDiagPattern))
                painter.setPen(QPen(color("ink"), 1.6))
                painter.drawLine(int(left - 5), int(top), int(left + bar + 5), int(top))
            planned = box.bottom() - height(money.planned)
            painter.setPen(QPen(color("muted"), 1, Qt.PenStyle.DotLine))
            painter.drawLine(int(left - 5), int(planned), int(left + bar + 5), int(planned))
            painter.setPen(color("muted"))
            if wide > scaled(46) or i % (1 + int(scaled(60) // max(1, wide))) == 0:
                name = period_name(self.step, period.days).split(",")[0]
                draw_text(
                    painter, font(8.5), name, QRectF(box.left() + wide * i + 2, box.bottom() + 5, max(wide, 60), 18)
                )
        self._paint_legend(painter, box)

    def _paint_legend(self, painter: QPainter, box: QRectF) -> None:
        left, top = box.left(), 6.0
        for words, paint in (
            ("spent", lambda r: painter.fillRect(r, color("load"))),
            ("to come", lambda r: painter.fillRect(r, QBrush(color("load"), Qt.BrushStyle.BDiagPattern))),
            ("beyond the budget", lambda r: painter.fillRect(r, QBrush(color("brick"), Qt.BrushStyle.BDiagPattern))),
            ("budget", lambda r: painter.fillRect(QRectF(r.left(), r.center().y(), r.width(), 2), color("ink"))),
            ("planned", lambda r: _dotted(painter, r)),
        ):
            paint(QRectF(left, top + 3, 16, 10))
            painter.setPen(color("muted"))
            used = draw_text(painter, font(8.5), words, QRectF(left + 22, top - 1, 140, 18))
            left += 22 + used + 16


def _dotted(painter: QPainter, box: QRectF) -> None:
    painter.setPen(QPen(color("muted"), 1, Qt.PenStyle.DotLine))
    painter.drawLine(box.topLeft() + (box.bottomLeft() - box.topLeft()) / 2,
                     box.topRight() + (box.bottomRight() - box.topRight()) / 2)  # fmt: skip
