"""When something may finish: how often on each day as bars, and how sure each day is as a curve."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QMouseEvent, QPainter, QPen, QPolygonF

from hexapod.desktop import dates
from hexapod.desktop.frame.picture import Picture, rule_across, rule_days
from hexapod.desktop.theme.style import color, font, scaled
from hexapod.desktop.theme.text import draw_text, width_of
from hexapod.outlook.chances import Chances
from hexapod.outlook.words import share_words
from hexapod.plan.accounts import monday_of
from hexapod.plan.records import DAY

LEFT, RIGHT, TOP, BOTTOM = 46, 16, 48, 28
MOST_DAYS = 110  # that have a bar each
CUT = 0.998  # of the rounds are on show: a few long ones would press the others together


class RangePicture(Picture):
    """``marks`` are moments with their words and tones: the target, the plan, half, sure enough."""

    def __init__(self) -> None:
        super().__init__("rangePicture")
        self.chances: Chances | None = None
        self.share = 0.8
        self.marks: list[tuple[int, str, str]] = []
        self.pointed: int | None = None  # the moment under the mouse
        self.beside: tuple[Chances, str, QColor] | None = None  # of another plan, its name, and its colour
        self.setMouseTracking(True)

    def show_chances(
        self, chances: Chances | None, share: float, planned: int | None, target: int | None, nothing: str
    ) -> None:
        self.chances, self.share, self.marks, self._nothing = chances, share, [], nothing
        self.pointed = None
        if chances is not None:
            half, sure = chances.quantile(0.5), chances.quantile(share)
            if target is not None:
                self.marks.append((target, f"target {dates.short_day(target)}", "brick"))
            if planned is not None:
                self.marks.append((planned, f"plan {dates.short_day(planned)}", "ink"))
            self.marks.append((half, f"half {dates.short_day(half)}", "petrol"))
            self.marks.append((sure, f"{share_words(share)} {dates.short_day(sure)}", "petrol"))
        if self.beside is not None and chances is not None:
            sure = self.beside[0].quantile(share)
            self.marks.append((sure, f"{self.beside[1]} {dates.short_day(sure)}", ""))
        words = ", ".join(words for _, words, _ in self.marks)
        self.setAccessibleName(f"When it may finish: {words}" if words else nothing)
        self.update()

    def span(self) -> tuple[int, int]:
        """From the first to the last moment on show: whole days."""
        assert self.chances is not None
        inside = [at for at, *_ in self.marks if abs(at - self.chances.quantile(0.5)) < 20 * self._width()]
        first = min(self.chances.quantile(0.001), *inside)
        last = max(self.chances.quantile(CUT), *inside)
        return first // DAY * DAY, (last // DAY + 2) * DAY

    def _width(self) -> int:
        assert self.chances is not None
        return max(DAY, self.chances.quantile(0.9) - self.chances.quantile(0.1))

    def box(self, whole: QRectF) -> QRectF:
        return QRectF(scaled(LEFT), scaled(TOP), whole.width() - scaled(LEFT + RIGHT),
                      whole.height() - scaled(TOP) - scaled(BOTTOM))  # fmt: skip

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self.point_at(event.position().x())

    def leaveEvent(self, event: QEvent) -> None:
        self.pointed = None
        self.update()

    def point_at(self, x: float) -> None:
        """Read off how sure the day under ``x`` is."""
        if self.chances is None:
            return
        box, (first, last) = self.box(QRectF(self.rect())), self.span()
        part = (x - box.left()) / max(1.0, box.width())
        moment = first + round(part * (last - first))
        self.pointed = (moment // DAY + 1) * DAY if 0 <= part <= 1 else None
        self.update()

    def paint(self, painter: QPainter, whole: QRectF) -> None:
        painter.fillRect(whole, color("panel"))
        chances = self.chances
        if chances is None:
            painter.setPen(color("muted"))
            draw_text(painter, font(10), self._nothing, QRectF(20, 14, whole.width() - 40, 24))
            return
        box, (first, last) = self.box(whole), self.span()
        x = lambda at: box.left() + box.width() * (at - first) / max(1, last - first)  # noqa: E731
        rule_across(painter, box, [(part / 100, f"{part} %") for part in (0, 25, 50, 75, 100)])
        rule_days(painter, box, first, last)
        self._paint_bars(painter, box, first, last)
        painter.setPen(QPen(color("petrol"), 2.2))
        moments = np.linspace(first, last, 200).astype(np.int64)
        points = [QPointF(x(int(at)), box.bottom() - box.height() * chances.chance_by(int(at))) for at in moments]
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(QPolygonF(points))
        self._paint_beside(painter, box, x, moments)
        self._paint_marks(painter, box, x)
        if self.pointed is not None:
            self._paint_pointed(painter, box, x)

    def _paint_beside(self, painter: QPainter, box: QRectF, x, moments) -> None:  # type: ignore[no-untyped-def]
        """The curve of another plan, dashed and in its colour."""
        if self.beside is None:
            return
        chances, _, tone = self.beside
        pen = QPen(tone, 2)
        pen.setDashPattern([4.0, 2.5])
        painter.setPen(pen)
        points = [QPointF(x(int(at)), box.bottom() - box.height() * chances.chance_by(int(at))) for at in moments]
        painter.drawPolyline(QPolygonF(points))

    def _tone(self, name: str) -> QColor:
        """The colour of a mark; that of another plan has its own."""
        return self.beside[2] if not name and self.beside is not None else color(name or "ink")

    def _paint_bars(self, painter: QPainter, box: QRectF, first: int, last: int) -> None:
        """How many rounds end in each stretch of days; paler behind the day that is sure enough."""
        assert self.chances is not None
        days = (last - first) // DAY
        wide = 1 if days <= MOST_DAYS else 7 * max(1, -(-days // (7 * MOST_DAYS)))  # days, or whole weeks from a Monday
        begin = first if wide == 1 else monday_of(first // DAY) * DAY
        edges = np.arange(begin, last + wide * DAY, wide * DAY)
        counts, _ = np.histogram(self.chances.finishes - 1, edges)  # what ends at midnight ends the day before
        most, sure = max(1, int(counts.max())), self.chances.quantile(self.share)
        for begin, count in zip(edges.tolist(), counts.tolist(), strict=False):
            if not count:
                continue
            left = max(box.left(), box.left() + box.width() * (begin - first) / max(1, last - first))
            right = min(box.right(), box.left() + box.width() * (begin + wide * DAY - first) / max(1, last - first))
            height = 0.86 * box.height() * count / most
            tone = QColor(color("petrol"))
            tone.setAlphaF(0.42 if begin <= sure else 0.16)
            painter.fillRect(QRectF(left + 0.5, box.bottom() - height, max(1.5, right - left - 1), height), tone)

    def _paint_marks(self, painter: QPainter, box: QRectF, x) -> None:  # type: ignore[no-untyped-def]
        """The marked moments: their words stand above, on as many lines as they need."""
        taken: list[tuple[int, float]] = []  # line and right edge
        for at, words, tone in sorted(self.marks):
            place = x(at)
            if not box.left() - 1 <= place <= box.right() + 1:
                continue
            painter.setPen(
                QPen(self._tone(tone), 1.3, Qt.PenStyle.SolidLine if tone == "brick" else Qt.PenStyle.DashLine)
            )
            painter.drawLine(QPointF(place, box.top() - 4), QPointF(place, box.bottom()))
            face = font(8.5, QFont.Weight.DemiBold)
            wide = width_of(face, words) + 6
            left = min(max(box.left(), place - wide / 2), box.right() - wide)
            line = next(n for n in range(4) if all(n != m or right < left for m, right in taken))
            taken.append((line, left + wide + 4))
            painter.setPen(self._tone(tone))
            draw_text(painter, face, words, QRectF(left, box.top() - 20 - 15 * min(line, 2), wide, 16))

    def _paint_pointed(self, painter: QPainter, box: QRectF, x) -> None:  # type: ignore[no-untyped-def]
        assert self.chances is not None and self.pointed is not None
        chance = self.chances.chance_by(self.pointed)
        place, height = x(self.pointed), box.bottom() - box.height() * chance
        painter.setPen(QPen(color("ink"), 1))
        painter.drawLine(QPointF(place, height), QPointF(place, box.bottom()))
        painter.setBrush(color("panel"))
        painter.drawEllipse(QPointF(place, height), 3.5, 3.5)
        words = f"by {dates.short_day(self.pointed - 1)}: {100 * chance:.0f} %"
        face = font(9, QFont.Weight.DemiBold)
        wide = width_of(face, words) + 14
        left = min(place + 8, box.right() - wide)
        painter.fillRect(QRectF(left, height - 26, wide, 20), color("panel"))
        draw_text(painter, face, words, QRectF(left + 6, height - 26, wide, 20))
