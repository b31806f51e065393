"""Planned, earned and spent as curves, with the three usual forecasts of what it will take."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QPainter, QPen, QPolygonF

from hexapod.control.value import Value
from hexapod.desktop.frame.picture import Picture, amount_marks, rule_across, rule_days
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.value import Curves, ValueWork
from hexapod.desktop.theme.style import color, font, scaled
from hexapod.desktop.theme.text import draw_text, width_of
from hexapod.desktop.track.value_table import Saying

LEFT, RIGHT, TOP, BOTTOM = 80, 96, 46, 28
FORECASTS = (("eac", "at this pace"), ("eac_as_planned", "rest as planned"), ("eac_with_both", "with delay"))


class ValuePicture(Picture):
    def __init__(self, desk: Desk, work: ValueWork) -> None:
        super().__init__("valuePicture")
        self._desk, self._work = desk, work
        self.value: Value | None = None
        self.curves: Curves | None = None

    def show_value(self, value: Value | None, curves: Curves | None) -> None:
        self.value, self.curves = value, curves
        say = Saying(self._desk, self._work.measure)
        words = "Planned, earned and spent"
        if curves is not None and value is not None:
            points = (("planned", curves.planned), ("earned", curves.earned), ("spent", curves.spent))
            ends = [f"{name} {say.amount(line[-1][1])} by {say.day(line[-1][0])}" for name, line in points if line]
            words = f"Curves: {', '.join(ends)}"
        self.setAccessibleName(words)
        self.update()

    def paint(self, painter: QPainter, whole: QRectF) -> None:
        painter.fillRect(whole, color("panel"))
        curves, value = self.curves, self.value
        if curves is None or value is None:
            painter.setPen(color("muted"))
            words = "Keep a baseline, and what was planned is drawn here." if value is not None else ""
            draw_text(painter, font(10), words, QRectF(20, 14, whole.width() - 40, 24))
            return
        forecasts = [(name, found) for key, name in FORECASTS if (found := getattr(value.whole, key)) is not None]
        amounts = [a for line in (curves.planned, curves.earned, curves.spent) for _, a in line]
        most = max(1, *amounts, *(found for _, found in forecasts))
        first, last = curves.planned[0][0], curves.end
        box = QRectF(scaled(LEFT), scaled(TOP), whole.width() - scaled(LEFT + RIGHT),
                     whole.height() - scaled(TOP) - scaled(BOTTOM))  # fmt: skip
        x = lambda at: box.left() + box.width() * (at - first) / max(1, last - first)  # noqa: E731
        y = lambda amount: box.bottom() - box.height() * amount / most  # noqa: E731
        say = Saying(self._desk, self._work.measure)
        rule_across(painter, box, amount_marks(most, 60 if self._work.measure == "hours" else 100, say.amount))
        rule_days(painter, box, first, last)
        painter.setPen(QPen(color("petrol"), 1.2, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(x(curves.at), box.top()), QPointF(x(curves.at), box.bottom()))
        lines = (
            (curves.planned, color("muted"), 1.6, Qt.PenStyle.SolidLine),
            (curves.earned, color("petrol"), 2.6, Qt.PenStyle.SolidLine),
            (curves.spent, color("brick"), 2.0, Qt.PenStyle.SolidLine),
        )
        for points, tone, wide, style in lines:
            painter.setPen(QPen(tone, wide, style))
            painter.drawPolyline(QPolygonF([QPointF(x(at), y(amount)) for at, amount in points]))
        painter.setBrush(color("panel"))
        painter.setPen(QPen(color("petrol"), 1.6))
        for at, amount in curves.earned[1:]:
            painter.drawEllipse(QPointF(x(at), y(amount)), 2.8, 2.8)
        self._paint_forecasts(painter, box, x, y, forecasts)
        self._paint_legend(painter, box)

    def _paint_forecasts(self, painter: QPainter, box: QRectF, x, y, forecasts: list[tuple[str, int]]) -> None:  # type: ignore[no-untyped-def]
        """From what is spent now to each forecast: dashed, with its name where it ends."""
        assert self.curves is not None and self.value is not None
        say = Saying(self._desk, self._work.measure)
        begin = QPointF(x(self.curves.at), y(self.value.whole.ac))
        taken: list[float] = []
        end = min(self.value.finish or self.curves.end, self.curves.end)
        for name, amount in sorted(forecasts, key=lambda each: each[1]):
            to = QPointF(x(end), y(amount))
            painter.setPen(QPen(color("brick"), 1.1, Qt.PenStyle.DotLine))
            painter.drawLine(begin, to)
            at = to.y() - 14
            while any(abs(at - other) < 27 for other in taken):
                at -= 1
            taken.append(at)
            left = box.right() + 6
            painter.setPen(color("brick"))
            draw_text(
                painter, font(8.5, QFont.Weight.DemiBold), say.amount(amount), QRectF(left, at, scaled(RIGHT) - 8, 14)
            )
            painter.setPen(color("muted"))
            draw_text(painter, font(8), name, QRectF(left, at + 12, scaled(RIGHT) - 8, 14))

    def _paint_legend(self, painter: QPainter, box: QRectF) -> None:
        left = box.left()
        entries: tuple[tuple[str, QColor], ...] = (
            ("planned (PV)", color("muted")), ("earned (EV)", color("petrol")), ("spent (AC)", color("brick")),
            ("forecasts (EAC)", color("brick")),
        )  # fmt: skip
        for i, (words, tone) in enumerate(entries):
            painter.setPen(QPen(tone, 2, Qt.PenStyle.DotLine if i == 3 else Qt.PenStyle.SolidLine))
            painter.drawLine(QPointF(left, 14), QPointF(left + 18, 14))
            painter.setPen(color("muted"))
            draw_text(painter, font(8.5), words, QRectF(left + 24, 5, 160, 18))
            left += 24 + width_of(font(8.5), words) + 18
