"""Where each milestone was expected, day by day: level is on time, rising is later, on the slope it is reached."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFont, QPainter, QPen, QPolygonF

from hexapod.desktop import dates
from hexapod.desktop.frame.picture import Picture, days_between, rule_across, rule_days
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.drift import DriftWork, Finish
from hexapod.desktop.theme.style import color, font, scaled, stream_color
from hexapod.desktop.theme.text import draw_text, width_of
from hexapod.worktime import clock

LEFT, RIGHT, TOP, BOTTOM = 74, 24, 18, 30  # room round the lines
NAMES, ROOMY = 170, 0.4  # room for names, and how much of it all is still to come where they need none
MOST_LINES = 8


class TrendPicture(Picture):
    def __init__(self, desk: Desk, work: DriftWork) -> None:
        super().__init__("trendPicture")
        self._desk, self._work = desk, work

    def lines(self) -> list[tuple[Finish, list[tuple[int, int]]]]:
        """What is drawn: the milestones that drifted most where there are many, in their order."""
        found = [(row, points) for row, points in self._work.trends() if row.target in self._desk.plan.tasks and points]
        if len(found) <= MOST_LINES:
            return found
        kept = sorted(found, key=lambda line: -abs(line[0].drift or 0))[:MOST_LINES]
        return [line for line in found if line in kept or line[0].target == self._work.target]

    def words(self) -> str:
        """What the picture says, for who cannot see it."""
        said = []
        for row, points in self.lines():
            first, last = points[0], points[-1]
            said.append(f"{row.name}: expected {dates.long_day(first[1])} on {dates.long_day(first[0])}, "
                        f"{dates.long_day(last[1])} now")  # fmt: skip
        return ". ".join(said)

    def refresh(self) -> None:
        self.setAccessibleName(self.words() or "Where each milestone was expected, day by day")
        self.update()

    def paint(self, painter: QPainter, whole: QRectF) -> None:
        painter.fillRect(whole, color("panel"))
        lines = self.lines()
        if not lines:
            painter.setPen(color("muted"))
            part = f" {self._work.part * 100:.0f} %" if self._work.part else ""
            words = f"Replaying the history…{part}" if self._work.is_working else "The history tells of no milestone."
            draw_text(painter, font(10), words, QRectF(20, 14, whole.width() - 40, 24))
            return
        now = clock.now()
        first = min(points[0][0] for _, points in lines)
        finishes = [finish for _, points in lines for _, finish in points]
        last = max(*finishes, now)
        low, high = min(first, *finishes), last
        right = scaled(RIGHT) if last - now > (last - first) * ROOMY else scaled(NAMES)
        wide, high_up = whole.width() - scaled(LEFT) - right, whole.height() - TOP - scaled(BOTTOM)
        box = QRectF(scaled(LEFT), TOP, wide, high_up)
        x = lambda at: box.left() + box.width() * (at - first) / max(1, last - first)  # noqa: E731
        y = lambda at: box.bottom() - box.height() * (at - low) / max(1, high - low)  # noqa: E731
        rule_days(painter, box, first, last, lines=True)
        days = days_between(low, high, int(box.height() // scaled(56)))
        rule_across(painter, box, [((at - low) / max(1, high - low), dates.short_day(at)) for at in days])
        painter.setPen(QPen(color("muted"), 1))
        painter.drawLine(QPointF(x(max(first, low)), y(max(first, low))), QPointF(x(last), y(last)))
        painter.setPen(QPen(color("petrol"), 1, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(x(now), box.top()), QPointF(x(now), box.bottom()))
        taken: list[float] = []
        for i, (row, points) in sorted(enumerate(lines), key=lambda each: each[1][1][-1][1]):
            self._paint_line(
                painter, row, [QPointF(x(at), y(finish)) for at, finish in points], i, taken, whole.right()
            )
        self._paint_slope_words(painter, box, x, y, now, last)

    def _paint_line(
        self, painter: QPainter, row: Finish, points: list[QPointF], i: int, taken: list[float], right: float
    ) -> None:
        shade = stream_color(i)
        is_chosen = row.target == self._work.target
        painter.setPen(QPen(shade, 2.6 if is_chosen else 1.6))
        painter.drawPolyline(QPolygonF(points))
        painter.setBrush(color("panel"))
        for point in points:
            painter.drawEllipse(point, 2.6, 2.6)
        height = 15.0
        at = points[-1].y() - height / 2
        while any(abs(at - other) < height for other in taken):
            at -= 1.0  # names stand above one another, never upon
        taken.append(at)
        painter.setPen(shade if not self._is_faint(i) else color("ink"))
        face = font(8.5, QFont.Weight.DemiBold if is_chosen else QFont.Weight.Normal)
        left = points[-1].x() + 8
        box = QRectF(left, at, right - left - 4, height)
        painter.fillRect(QRectF(left - 2, at, min(box.width(), width_of(face, row.name) + 6), height), color("panel"))
        draw_text(painter, face, row.name, box)

    def _is_faint(self, i: int) -> bool:
        """Streams that are too light for letters on this ground."""
        ground = color("panel").lightnessF()
        return abs(stream_color(i).lightnessF() - ground) < 0.45

    def _paint_slope_words(self, painter: QPainter, box: QRectF, x, y, now: int, last: int) -> None:  # type: ignore[no-untyped-def]
        """What the slope means, along it, in the half that is still to come."""
        import math

        words, face = "reached on the day", font(8)
        wide, long = width_of(face, words), math.hypot(x(last) - x(now), y(last) - y(now))
        if long < 3 * wide:
            return
        angle = math.degrees(math.atan2(y(last) - y(now), x(last) - x(now)))
        painter.save()
        painter.translate(x(now), y(now))
        painter.rotate(angle)
        words_box = QRectF(long * 0.98 - wide, -17, wide + 2, 13)
        painter.fillRect(words_box, color("panel"))
        painter.setPen(color("muted"))
        draw_text(painter, face, words, words_box)
        painter.restore()
