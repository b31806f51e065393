"""Then and now: the finish of the project and of each milestone, with its drift; and what made one of them drift."""

from __future__ import annotations

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QFont, QMouseEvent, QPainter

from hexapod.control.drift import DriftPart
from hexapod.desktop import dates
from hexapod.desktop.frame.walked import ROW, WalkedTable
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.drift import DriftWork, Finish
from hexapod.desktop.theme.style import color, font, scaled
from hexapod.desktop.theme.text import draw_text

NAME, DATE, DRIFT = 12, 98, 74
ALONE = "now"  # of what no baseline knows


def drift_words(desk: Desk, minutes: int | None, task: str = "") -> str:
    """``+3 d``, ``−1 d``, a dash for none."""
    if minutes is None:
        return ""
    if not minutes:
        return "–"
    return f"{'+' if minutes > 0 else ''}{desk.length(minutes, task)}"


def drift_tone(minutes: int | None) -> str:
    return "muted" if not minutes else "brick" if minutes > 0 else "petrol"


class DriftTable(WalkedTable):
    top_margin = 28

    def __init__(self, desk: Desk, work: DriftWork) -> None:
        super().__init__("driftTable", "Milestones then and now")
        self._desk, self._work = desk, work

    def refresh(self) -> None:
        self.nothing = "The dates are being computed." if not self._desk.is_computed else "There is no milestone."
        self.show_rows(list(self._work.finishes()))

    def key_of(self, row: object) -> object:
        return row.target if isinstance(row, Finish) else row

    def chosen(self, row: object) -> None:
        if isinstance(row, Finish):
            if row.target in self._desk.plan.tasks:
                self._desk.select((row.target,), row.target)
            self._work.look_at(row.target)

    def tell(self) -> None:
        row = self.current
        if isinstance(row, Finish):
            then = "" if row.then is None else f"then {dates.long_day(row.then)}, "
            drift = drift_words(self._desk, row.drift, row.target)
            self.setAccessibleDescription(f"{row.name}: {then}now {dates.long_day(row.now)}, {drift}")

    def edit(self, text: str) -> None:
        row = self.current
        if isinstance(row, Finish) and row.target in self._desk.plan.tasks and not text:
            self._desk.go_to(row.target)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self.edit("")

    def paint_names(self, painter: QPainter) -> None:
        for i, words in enumerate(("then", "now", "drift")):
            left, wide = self._column(i)
            draw_text(painter, font(9), words, QRectF(left, 4, wide, 20), right=True)

    def _column(self, i: int) -> tuple[float, float]:
        width = self.viewport().width()
        left = width - scaled(DRIFT) - scaled(DATE) * (2 - i) if i < 2 else width - scaled(DRIFT)
        return left, scaled(DATE if i < 2 else DRIFT) - 10

    def paint_row(self, painter: QPainter, row: object, top: int) -> None:
        if not isinstance(row, Finish):
            return
        height = scaled(ROW)
        is_whole = row.target in self._desk.plan.projects
        painter.setPen(color("ink"))
        face = font(9.5, QFont.Weight.DemiBold if is_whole else QFont.Weight.Normal)
        draw_text(painter, face, row.name, QRectF(scaled(NAME), top, self._column(0)[0] - scaled(NAME), height))
        texts = (
            ("" if row.then is None else dates.short_day(row.then), "muted"),
            (dates.short_day(row.now), "ink"),
            (drift_words(self._desk, row.drift, row.target), drift_tone(row.drift)),
        )
        for i, (words, tone) in enumerate(texts):
            left, wide = self._column(i)
            painter.setPen(color(tone))
            face = font(9.5, QFont.Weight.DemiBold if i == 2 else QFont.Weight.Normal)
            draw_text(painter, face, words, QRectF(left, top, wide, height), right=True)


class PartsTable(WalkedTable):
    """The edits that made a drift, in order; each bar begins where the one before ended."""

    def __init__(self, desk: Desk, work: DriftWork) -> None:
        super().__init__("driftParts", "Which edits made the drift")
        self._desk, self._work = desk, work

    def refresh(self) -> None:
        parts = self._work.parts()
        if self._work.baseline is None:
            self.nothing = "Keep a baseline, at the side, to measure from."
        elif parts is None:
            self.nothing = "Replaying the history…" if self._work.is_working else "The history was not replayed."
        else:
            self.nothing = "Nothing moved it since the baseline."
        self.show_rows(list(parts or ()))

    def key_of(self, row: object) -> object:
        return (row.at, row.edit and row.edit.number) if isinstance(row, DriftPart) else row

    def words(self, part: DriftPart) -> str:
        return "Before the history begins" if part.edit is None else part.edit.words

    def by(self, part: DriftPart) -> str:
        return "" if part.edit is None else f"{dates.short_day(part.at)} · {part.edit.who}"

    def tell(self) -> None:
        row = self.current
        if isinstance(row, DriftPart):
            moved = drift_words(self._desk, row.minutes, self._work.target)
            self.setAccessibleDescription(f"{self.words(row)}, {self.by(row)}: {moved}")

    def edit(self, text: str) -> None:
        """Look at the plan as it was after that edit."""
        row = self.current
        if isinstance(row, DriftPart) and row.edit is not None and not text:
            self._desk.look_back(row.edit)  # type: ignore[arg-type]

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self.edit("")

    def paint_row(self, painter: QPainter, row: object, top: int) -> None:
        if not isinstance(row, DriftPart):
            return
        height, width = scaled(ROW), self.viewport().width()
        parts = [part for part in self.rows if isinstance(part, DriftPart)]
        before = sum(part.minutes for part in parts[: parts.index(row)])
        lows, total = [0], 0
        for part in parts:
            total += part.minutes
            lows.append(total)
        least, most = min(lows), max(lows)
        bar_left, bar_wide = width * 0.52, width * 0.27
        scale = bar_wide / max(1, most - least)
        words_wide = bar_left - scaled(NAME) - 10
        painter.setPen(color("ink"))
        box = QRectF(scaled(NAME), top, words_wide, height * 0.56)
        draw_text(painter, font(9), self.words(row), box)
        painter.setPen(color("muted"))
        box = QRectF(scaled(NAME), top + height * 0.46, words_wide, height * 0.5)
        draw_text(painter, font(8), self.by(row), box)
        first, last = sorted((before, before + row.minutes))
        bar = QRectF(bar_left + (first - least) * scale, top + height / 2 - 6, max(2.0, (last - first) * scale), 12)
        painter.fillRect(QRectF(bar_left - least * scale, top, 1, height), color("rule"))
        painter.fillRect(bar, color(drift_tone(row.minutes)))
        painter.setPen(color(drift_tone(row.minutes)))
        moved = drift_words(self._desk, row.minutes, self._work.target)
        box = QRectF(bar_left + bar_wide + 8, top, width - bar_left - bar_wide - 14, height)
        draw_text(painter, font(9, QFont.Weight.DemiBold), moved, box, right=True)
