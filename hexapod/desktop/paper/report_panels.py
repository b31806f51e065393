"""The parts of a report as panels beside one another: each with its gist, in the colours of the screen."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QPainter, QPen

from hexapod.desktop.paper.report_document import paint_box
from hexapod.desktop.paper.report_layout import PART, Box, Layout, font_of, metrics_of
from hexapod.desktop.theme.style import color
from hexapod.formats.reports.looks import INK, MUTED, RULE
from hexapod.reports.report import Asked, Part, Report, Words

WIDTH, PADDING, TITLE, GAP = 430.0, 14.0, 28.0, 12.0
MOST_SENTENCES, MOST_ROWS = 12, 8
_ROLES = {INK: "ink", MUTED: "muted", RULE: "rule"}


class ReportPanels:
    """A panel a part, laid out for so many pixels across: each goes into the column that is the shortest so far."""

    def __init__(self, report: Report, words: Words, across: float) -> None:
        self.report = report
        self.is_whole = True
        columns = max(1, int((across + GAP) // (WIDTH + GAP)))
        self.wide = (across - GAP * (columns - 1)) / columns
        self._layouts: list[Layout] = []
        self.places: list[QRectF] = []
        heights = [0.0] * columns
        for part in report.parts:
            layout = Layout(report, words, QSizeF(self.wide - 2 * PADDING, 1e7), _tint)
            for _ in layout.part(_gist(part)):
                pass
            self._layouts.append(layout)
            high = layout.height + TITLE + 2 * PADDING
            column = heights.index(min(heights))
            self.places.append(QRectF(column * (self.wide + GAP), heights[column], self.wide, high))
            heights[column] += high + GAP

    @property
    def pages(self) -> int:
        return len(self._layouts)

    @property
    def height(self) -> float:
        return max((place.bottom() for place in self.places), default=0.0)

    def boxes(self, page: int) -> list[Box]:
        return self._layouts[page].pages[0].boxes

    @property
    def text(self) -> str:
        """All that can be read, box by box."""
        titles = (part.title for part in self.report.parts)
        return "\n".join([*titles, *(box.text for i in range(self.pages) for box in self.boxes(i) if box.text)])

    def paint(self, painter: QPainter, page: int) -> None:
        """A panel from its corner, with its frame and its title."""
        place = self.places[page]
        painter.setPen(QPen(color("rule"), 1))
        painter.setBrush(color("panel"))
        painter.drawRoundedRect(QRectF(0.5, 0.5, place.width() - 1, place.height() - 1), 6, 6)
        painter.setPen(color("petrol"))
        painter.setFont(font_of(PART))
        title = metrics_of(PART).elidedText(
            self.report.parts[page].title, Qt.TextElideMode.ElideRight, place.width() - 2 * PADDING
        )
        painter.drawText(QPointF(PADDING, PADDING + metrics_of(PART).ascent()), title)
        painter.save()
        painter.translate(self._corner())
        for box in self.boxes(page):
            paint_box(painter, box)
        painter.restore()

    @staticmethod
    def _corner() -> QPointF:
        return QPointF(PADDING, PADDING + TITLE)

    def asked_at(self, page: int, at: QPointF) -> Asked | None:
        """What lies under a point of a panel."""
        inside = at - self._corner()
        found = (box.asked for box in self.boxes(page) if box.asked is not None and box.place.contains(inside))
        return next(found, None)

    def every_asked(self) -> list[tuple[int, Asked]]:
        """All that can be asked about with its panel, a row of a table once."""
        found = [(page, box.asked) for page in range(self.pages) for box in self.boxes(page) if box.asked is not None]
        return [(page, asked) for page, asked in found if asked.sentence is not None or asked.column == 0]

    def place_of(self, page: int, asked: Asked) -> QRectF:
        """Where it stands in its panel; empty where it does not."""
        for box in self.boxes(page):
            if box.asked == asked:
                return box.place.translated(self._corner())
        return QRectF()


def _gist(part: Part) -> Part:
    """As much of a part as a panel shows: its picture, or else the first rows of its table."""
    table = part.table if part.chart is None else None
    if table is not None:
        table = replace(table, rows=table.rows[:MOST_ROWS], about=table.about[:MOST_ROWS])
    return replace(part, sentences=part.sentences[:MOST_SENTENCES], table=table)


def _tint(named: str) -> str:
    return color(_ROLES[named]).name() if named in _ROLES else named
