"""A report in pages: the same on screen and on paper. What lies under a point can be asked where it comes from."""

from __future__ import annotations

import time
from functools import lru_cache

from PyQt6.QtCore import QByteArray, QPointF, QRectF, Qt
from PyQt6.QtGui import QPageLayout, QPageSize, QPainter, QPen
from PyQt6.QtSvg import QSvgRenderer

from hexapod.desktop.paper.report_layout import SMALL, Box, Layout, font_of
from hexapod.desktop.theme.style import color
from hexapod.reports.report import Asked, Report, Words

DPI = 96
MARGIN, FOOT = 56.0, 26.0  # pixels
BETWEEN = 14.0  # pages on screen
WIDE_FROM = 8  # columns of a table that turn the page


class ReportDocument:
    """``size`` is that of a page in pixels of 1/96 inch. It is laid out as far as ``go_on`` was called."""

    def __init__(self, report: Report, words: Words, *, landscape: bool | None = None) -> None:
        self.report = report
        widest = max((len(p.table.columns) for p in report.parts if p.table is not None), default=0)
        self.landscape = widest >= WIDE_FROM if landscape is None else landscape
        self.size = self.layout().fullRectPixels(DPI).size().toSizeF()
        self.body = QRectF(MARGIN, MARGIN, self.size.width() - 2 * MARGIN, self.size.height() - 2 * MARGIN - FOOT)
        self._layout = Layout(report, words, self.body.size())
        self._steps = self._layout.steps()
        self.is_whole = False

    def layout(self) -> QPageLayout:
        """The page for Qt, without margins: the document has its own."""
        turned = QPageLayout.Orientation.Landscape if self.landscape else QPageLayout.Orientation.Portrait
        page = QPageLayout()
        page.setPageSize(QPageSize(QPageSize.PageSizeId.A4))
        page.setOrientation(turned)
        page.setUnits(QPageLayout.Unit.Millimeter)
        return page

    def go_on(self, seconds: float = float("inf")) -> bool:
        """Lay out more of it, for about so long; whether all of it is laid out now."""
        until = time.perf_counter() + seconds
        while not self.is_whole:
            self.is_whole = next(self._steps, self) is self
            if time.perf_counter() > until:
                break
        return self.is_whole

    @property
    def pages(self) -> int:
        return len(self._layout.pages)

    @property
    def places(self) -> list[QRectF]:
        """Where each page lies, one below the other."""
        high = self.size.height() + BETWEEN
        return [QRectF(QPointF(0, page * high), self.size) for page in range(self.pages)]

    @property
    def height(self) -> float:
        return self.pages * (self.size.height() + BETWEEN)

    def boxes(self, page: int) -> list[Box]:
        return self._layout.pages[page].boxes

    @property
    def text(self) -> str:
        """All that can be read, box by box."""
        return "\n".join(box.text for page in range(self.pages) for box in self.boxes(page) if box.text)

    def paint(self, painter: QPainter, page: int) -> None:
        """A page with its foot, from its corner."""
        body = self.body
        painter.save()
        painter.translate(body.topLeft())
        for box in self.boxes(page):
            paint_box(painter, box)
        painter.restore()
        foot = QRectF(body.left(), body.bottom() + 8, body.width(), FOOT - 8)
        painter.setPen(color("muted"))
        painter.setFont(font_of(SMALL))
        left = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
        right = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        title = painter.fontMetrics().elidedText(self.report.title, Qt.TextElideMode.ElideRight, int(body.width() / 2))
        painter.drawText(foot, left, title)
        painter.drawText(foot, right, f"Page {page + 1} of {self.pages}{'' if self.is_whole else '…'}")

    # Asking where something comes from

    def asked_at(self, page: int, at: QPointF) -> Asked | None:
        """What lies under a point of a page."""
        inside = at - self.body.topLeft()
        found = (box.asked for box in self.boxes(page) if box.asked is not None and box.place.contains(inside))
        return next(found, None)

    def every_asked(self) -> list[tuple[int, Asked]]:
        """All that can be asked about with its page, a row of a table once, in the order of reading."""
        found: list[tuple[int, Asked]] = []
        for page in range(self.pages):
            for box in self.boxes(page):
                asked = box.asked
                if asked is not None and (asked.sentence is not None or asked.column == 0):
                    found.append((page, asked))
        return found

    def place_of(self, page: int, asked: Asked) -> QRectF:
        """Where it stands on its page; empty where it does not."""
        for box in self.boxes(page):
            if box.asked == asked:
                return box.place.translated(self.body.topLeft())
        return QRectF()


def paint_box(painter: QPainter, box: Box) -> None:
    """Text, a chart or a line at its place."""
    if box.svg:
        _renderer(box.svg).render(painter, box.place)
    elif box.is_line:
        painter.setPen(QPen(color("ink"), 0.8))
        painter.drawLine(box.place.topLeft(), box.place.topRight())
    else:
        painter.setPen(color(box.color))
        painter.setFont(font_of(box.face))
        painter.drawText(box.place, box.flags, box.text)


@lru_cache(maxsize=64)
def _renderer(svg: str) -> QSvgRenderer:
    return QSvgRenderer(QByteArray(svg.encode()))
