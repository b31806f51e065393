"""How many cards each stage held over time, as bands above one another, and how long cards stayed in each."""

from __future__ import annotations

from itertools import pairwise

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFont, QPainter, QPaintEvent, QPolygonF
from PyQt6.QtWidgets import QWidget

from hexapod.control.stages import StageHistory, stage_history
from hexapod.desktop import dates
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.one_at_a_time import OneAtATime
from hexapod.desktop.theme.style import color, font, scaled, stream_color
from hexapod.desktop.theme.text import draw_text
from hexapod.plan.changes import Changes
from hexapod.plan.records import DAY
from hexapod.plan.telling import WHOLE
from hexapod.session import Session
from hexapod.worktime import clock

LEFT, RIGHT, TOP, BOTTOM = 40, 250, 16, 34  # room round the bands


class StagePicture(QWidget):
    """Read from the history beside the interface; ``history`` is None until that is done."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.setObjectName("stagePicture")
        self._desk = desk
        self.history: StageHistory | None = None
        self._working = OneAtATime(self, self.refresh)

    def refresh(self) -> None:
        session, now = self._desk.session, clock.now()
        plan = session.plan

        def work() -> object:
            return stage_history(plan, _past(session), now)

        self._working.start(work, self._show, self._failed)

    def _show(self, found: object) -> None:
        self.history = found if isinstance(found, StageHistory) else None
        self.setAccessibleName(" ".join(self.words()))
        self.update()

    def _failed(self, error: Exception) -> None:
        self._desk.told.emit(str(error), "trouble", False)

    def words(self) -> list[str]:
        """What the picture says, stage by stage, the last one first as they lie."""
        if self.history is None or not self.history.moments:
            return ["No card was on the board yet."]
        counts = self.history.moments[-1].counts
        found = []
        for stage, count, days in zip(self.history.stages, counts, self.history.days, strict=True):
            stays = "" if days is None else f", left after {days:.1f} d on average"
            found.append(f"{stage.name}: {count} now{stays}")
        return found[::-1]

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), color("paper"))
        history = self.history
        if history is None or not history.moments:
            painter.setPen(color("muted"))
            words = "The history is being read." if history is None else self.words()[0]
            draw_text(painter, font(10), words, QRectF(20, 12, self.width() - 40, 24))
            return
        first, last = history.moments[0].at, max(clock.now(), history.moments[-1].at + 60)
        most = max(1, max(sum(m.counts) for m in history.moments))
        box = QRectF(scaled(LEFT), TOP, self.width() - scaled(LEFT + RIGHT), self.height() - TOP - scaled(BOTTOM))
        x = lambda at: box.left() + box.width() * (at - first) / max(1, last - first)  # noqa: E731
        y = lambda count: box.bottom() - box.height() * count / most  # noqa: E731
        self._paint_axes(painter, box, first, last, most)
        steps = [*((m.at, m.counts) for m in history.moments), (last, history.moments[-1].counts)]
        for band in range(len(history.stages)):
            upper, lower = QPolygonF(), QPolygonF()
            for (at, counts), (until, _) in pairwise(steps):
                below = sum(counts[band + 1 :])  # what is done lies at the bottom
                for moment in (at, until):
                    upper.append(QPointF(x(moment), y(below + counts[band])))
                    lower.append(QPointF(x(moment), y(below)))
            shape = QPolygonF([*(upper.at(i) for i in range(upper.count())),
                               *(lower.at(i) for i in reversed(range(lower.count())))])  # fmt: skip
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(stream_color(band))
            painter.drawPolygon(shape)
        self._paint_legend(painter, box)

    def _paint_axes(self, painter: QPainter, box: QRectF, first: int, last: int, most: int) -> None:
        painter.setPen(color("muted"))
        step = max(1, most // 5)
        for count in range(0, most + 1, step):
            y = box.bottom() - box.height() * count / most
            painter.fillRect(QRectF(box.left(), y, box.width(), 1), color("rule"))
            draw_text(painter, font(8.5), str(count), QRectF(0, y - 9, box.left() - 8, 18), right=True)
        span = max(1, last - first)
        labels = max(1, int(box.width() // scaled(110)))
        apart = max(DAY, -(-span // labels // DAY) * DAY)
        at = first
        while at <= last:
            x = box.left() + box.width() * (at - first) / span
            if x + scaled(70) <= box.right() + scaled(60):
                draw_text(painter, font(8.5), dates.short_day(at), QRectF(x, box.bottom() + 8, scaled(90), 18))
            at += apart

    def _paint_legend(self, painter: QPainter, box: QRectF) -> None:
        assert self.history is not None
        left, top = box.right() + 18, box.top()
        shown = list(zip(self.history.stages, self.history.moments[-1].counts, self.history.days, strict=True))
        for i, (stage, count, days) in enumerate(shown):
            painter.fillRect(QRectF(left, top + 4, 11, 11), stream_color(i))
            painter.setPen(color("ink"))
            box_of = QRectF(left + 18, top, self.width() - left - 26, 19)
            draw_text(painter, font(9.5, QFont.Weight.DemiBold), f"{stage.name} · {count}", box_of)
            painter.setPen(color("muted"))
            ends = "" if stage.percent == WHOLE else "no card left it yet"  # what is done stays there
            stays = ends if days is None else f"left after {days:.1f} d on average"
            draw_text(painter, font(8.5), stays, box_of.translated(0, 17))
            top += scaled(46)


def _past(session: Session) -> list[tuple[int, Changes]]:
    """What each row of the history changed of tasks, the latest first, with when."""
    return [(row.moment, found) for row, found in session.past() if found.tasks]
