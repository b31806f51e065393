"""What the work that is left may cost: how often each amount as bars, and how sure each is as a curve."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QPainter, QPen, QPolygonF

from hexapod.desktop.currency import currency
from hexapod.desktop.frame.picture import Picture, rule_across
from hexapod.desktop.theme.style import color, font, scaled
from hexapod.desktop.theme.text import draw_text, width_of
from hexapod.outlook.costs import CostRange
from hexapod.outlook.words import share_words

LEFT, RIGHT, TOP, BOTTOM = 12, 14, 48, 28
BARS = 24
LEAST, CUT = 0.002, 0.998  # of the rounds: a few dear ones would press the others together


class CostPicture(Picture):
    def __init__(self) -> None:
        super().__init__("costPicture")
        self.costs: CostRange | None = None
        self.share = 0.8

    def show_costs(self, costs: CostRange | None, share: float) -> None:
        self.costs, self.share = costs, share
        self.setVisible(costs is not None)
        if costs is not None:
            money = currency()
            sure = money.short(costs.chances.quantile(share))
            said = f"{money.short(costs.planned)} as planned, {share_words(share)} hold {sure}"
            self.setAccessibleName(f"What is left costs {said}")
        self.update()

    def paint(self, painter: QPainter, whole: QRectF) -> None:
        painter.fillRect(whole, color("panel"))
        if self.costs is None:
            return
        box = QRectF(scaled(LEFT), scaled(TOP), whole.width() - scaled(LEFT + RIGHT),
                     whole.height() - scaled(TOP) - scaled(BOTTOM))  # fmt: skip
        chances, planned, money = self.costs.chances, self.costs.planned, currency()
        first, last = min(planned, chances.quantile(LEAST)), max(planned, chances.quantile(CUT)) + 1
        rule_across(painter, box, [(part / 100, "") for part in (0, 25, 50, 75, 100)])
        edges = np.linspace(first, last, BARS + 1)
        counts, _ = np.histogram(chances.finishes, edges)
        most, sure = max(1, int(counts.max())), chances.quantile(self.share)
        wide = box.width() / BARS
        for i, count in enumerate(counts.tolist()):
            tone = QColor(color("amber"))
            tone.setAlphaF(0.42 if edges[i] <= sure else 0.16)
            height = 0.86 * box.height() * count / most
            painter.fillRect(QRectF(box.left() + i * wide + 0.5, box.bottom() - height, wide - 1, height), tone)

        def x(amount: float) -> float:
            return box.left() + box.width() * (amount - first) / (last - first)

        amounts = np.linspace(first, last, 120)
        curve = [QPointF(x(a), box.bottom() - box.height() * chances.chance_by(int(a))) for a in amounts.tolist()]
        painter.setPen(QPen(color("amber"), 2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(QPolygonF(curve))
        for line, (amount, words, tone) in enumerate((
            (planned, f"plan {money.short(planned)}", "ink"),
            (sure, f"{share_words(self.share)} {money.short(sure)}", "amber"),
        )):  # fmt: skip
            painter.setPen(QPen(color(tone), 1.3, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(x(amount), box.top() - 4), QPointF(x(amount), box.bottom()))
            face = font(8.5, QFont.Weight.DemiBold)
            room = width_of(face, words) + 6
            left = min(max(box.left(), x(amount) - room / 2), box.right() - room)
            painter.setPen(color(tone))
            draw_text(painter, face, words, QRectF(left, box.top() - 20 - 15 * line, room, 16))
        painter.setPen(color("muted"))
        face = font(8.5)
        draw_text(painter, face, money.short(first), QRectF(box.left(), box.bottom() + 6, box.width() / 2, 18))
        draw_text(painter, face, money.short(last), QRectF(box.center().x(), box.bottom() + 6, box.width() / 2, 18),
                  right=True)  # fmt: skip
