"""Likelihood across effect: where each open risk lies, and where its answer takes it."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QPainter, QPen

from hexapod.desktop.chart.geometry import hexagon
from hexapod.desktop.frame.picture import Picture
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.risks import RisksWork
from hexapod.desktop.theme.style import color, font, scaled
from hexapod.desktop.theme.text import draw_text
from hexapod.plan.risks import Risk, effect
from hexapod.worktime.lengths import DAY_OF_WORK

CHANCE_WORDS = ("rare", "unlikely", "possible", "likely", "nearly sure")
LEFT, BOTTOM, TOP, RIGHT = 80, 40, 26, 12
BANDS = len(CHANCE_WORDS)


def band_of(value: float, begins: tuple[float, ...]) -> int:
    """The band that a value lies in."""
    return max(i for i, least in enumerate(begins) if value >= least)


class RiskMatrix(Picture):
    def __init__(self, desk: Desk, work: RisksWork) -> None:
        super().__init__("riskMatrix")
        self._desk, self._work = desk, work
        self._risks: list[Risk] = []
        self._numbers: dict[str, int] = {}

    def show_risks(self, risks: list[Risk], numbers: dict[str, int]) -> None:
        self._risks, self._numbers = [r for r in risks if r.may_happen], numbers
        said = [f"{numbers[r.id]} {r.name}: {CHANCE_WORDS[self.place(r, False)[0]]}" for r in self._risks]
        self.setAccessibleName(f"Likelihood and effect: {'; '.join(said) or 'no open risk'}")
        self.update()

    def place(self, risk: Risk, after: bool) -> tuple[int, int]:
        """Its bands of likelihood and of effect, as it stands or with its answer taken."""
        days = effect(risk, after=after) / DAY_OF_WORK
        scales = self._work.scales
        return band_of(risk.chance_of(after=after), (0.0, *scales.chances)), band_of(days, (0.0, *scales.days))

    def paint(self, painter: QPainter, whole: QRectF) -> None:
        painter.fillRect(whole, color("panel"))
        box = QRectF(scaled(LEFT), scaled(TOP), whole.width() - scaled(LEFT + RIGHT),
                     whole.height() - scaled(TOP + BOTTOM))  # fmt: skip
        wide, high = box.width() / BANDS, box.height() / BANDS
        for across in range(BANDS):
            for up in range(BANDS):
                tone = QColor(color("brick" if across + up >= 6 else "amber" if across + up >= 4 else "petrol"))
                tone.setAlphaF(0.16)
                cell = QRectF(box.left() + across * wide, box.bottom() - (up + 1) * high, wide, high)
                painter.fillRect(cell.adjusted(1, 1, -1, -1), tone)
        painter.setPen(color("muted"))
        draw_text(painter, font(8.5), "how likely", QRectF(6, 4, 120, 18))
        for up, words in enumerate(CHANCE_WORDS):
            top = box.bottom() - (up + 1) * high
            draw_text(painter, font(8.5), words, QRectF(0, top, box.left() - 8, high), right=True)
        for across, days in enumerate((0.0, *self._work.scales.days)):
            words = f"from {days:g} d" if days else "less"
            draw_text(painter, font(8.5), words, QRectF(box.left() + across * wide + 4, box.bottom() + 4, wide - 4, 16))
        draw_text(painter, font(8.5), "what it adds to a task", QRectF(box.left(), box.bottom() + 19, box.width(), 18))
        self._paint_risks(painter, box, wide, high)

    def _paint_risks(self, painter: QPainter, box: QRectF, wide: float, high: float) -> None:
        """Those of one cell side by side; a line leads to where an answer that is not taken yet takes one."""
        cells: dict[tuple[int, int], list[Risk]] = {}
        for risk in self._risks:
            cells.setdefault(self.place(risk, False), []).append(risk)
        radius = min(scaled(11), wide / 4, high / 3)
        centers: dict[str, QPointF] = {}
        for (up, across), risks in cells.items():
            step = min(2.2 * radius, (wide - 2.6 * radius) / max(1, len(risks) - 1))
            for k, risk in enumerate(risks):
                x = box.left() + across * wide + 1.3 * radius + k * step
                centers[risk.id] = QPointF(x, box.bottom() - (up + 0.5) * high)
        for risk in self._risks:
            then = self.place(risk, True)
            if then != self.place(risk, False) and not risk.answered:
                end = QPointF(box.left() + (then[1] + 0.5) * wide, box.bottom() - (then[0] + 0.5) * high)
                painter.setPen(QPen(color("muted"), 1.1, Qt.PenStyle.DashLine))
                painter.drawLine(centers[risk.id], end)
                painter.setBrush(color("panel"))
                painter.drawPolygon(hexagon(end, radius * 0.5))
        for risk in self._risks:
            here, is_chosen = centers[risk.id], risk.id == self._work.editing
            painter.setPen(QPen(color("ink"), 2.2 if is_chosen else 1.2))
            painter.setBrush(color("petrol" if is_chosen else "panel"))
            painter.drawPolygon(hexagon(here, radius))
            painter.setPen(color("panel" if is_chosen else "ink"))
            painter.setFont(font(8, QFont.Weight.DemiBold))
            text = QRectF(here.x() - radius, here.y() - radius, 2 * radius, 2 * radius)
            painter.drawText(text, Qt.AlignmentFlag.AlignCenter, str(self._numbers.get(risk.id, "")))
