"""A report on screen as it will be on paper: its pages below one another, and what of it is pointed at."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QAbstractScrollArea

from hexapod.desktop.paper.report_document import ReportDocument
from hexapod.desktop.theme.style import color, light_for_paper, scaled
from hexapod.reports.report import Asked, Report, Words

BETWEEN, EDGE = 14, 10  # pixels between pages, and around them
SLICE = 0.012  # seconds of laying out between two looks at what else is to be done
LARGEST = 1.35  # times the size of paper


class ReportPreview(QAbstractScrollArea):
    """``asked`` says that somebody points at something, ``entered`` that they want to go there."""

    asked = pyqtSignal(object)
    entered = pyqtSignal(object)

    def __init__(self, name: str) -> None:
        super().__init__()
        self.setObjectName(name)
        self.setAccessibleName("The report as on paper; arrow keys go from sentence to sentence")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setFrameShape(QAbstractScrollArea.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.document: ReportDocument | None = None
        self.says = ""  # in place of a report
        self.chosen: tuple[int, Asked] | None = None
        self._soon = QTimer(self, singleShot=True, interval=0)
        self._soon.timeout.connect(self._lay_out)

    def show_report(self, report: Report | None, words: Words, says: str, *, landscape: bool | None = None) -> None:
        """Another report, from its beginning; the same one stays where it is. ``landscape`` turns its pages."""
        self.says = says
        if report is not None and self.document is not None and self.document.report is report:
            return
        is_alike = report is not None and self.document is not None and report.title == self.document.report.title
        kept = self.verticalScrollBar().value() if is_alike else 0
        self.document = None if report is None else ReportDocument(report, words, landscape=landscape)
        self.chosen = None
        if self.document is not None:
            self.document.go_on(SLICE)
            self._soon.start()
        self._measure()
        self.verticalScrollBar().setValue(kept)
        self.viewport().update()

    def _lay_out(self) -> None:
        if self.document is not None and not self.document.go_on(SLICE):
            self._soon.start()
        self._measure()
        self.viewport().update()

    # Places

    @property
    def zoom(self) -> float:
        if self.document is None:
            return 1.0
        return min(LARGEST, max(0.2, (self.viewport().width() - 2 * EDGE) / self.document.size.width()))

    def _page_high(self) -> float:
        assert self.document is not None
        return self.document.size.height() * self.zoom + BETWEEN

    def _left(self) -> float:
        assert self.document is not None
        return max(EDGE, (self.viewport().width() - self.document.size.width() * self.zoom) / 2)

    def _measure(self) -> None:
        bar = self.verticalScrollBar()
        if self.document is None:
            bar.setRange(0, 0)
            return
        whole = self.document.pages * self._page_high() + EDGE
        bar.setPageStep(self.viewport().height())
        bar.setSingleStep(scaled(40))
        bar.setRange(0, max(0, round(whole - self.viewport().height())))

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._measure()

    def scrollContentsBy(self, dx: int, dy: int) -> None:
        self.viewport().update()

    # Painting

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self.viewport())
        painter.fillRect(self.viewport().rect(), color("shade"))
        if self.document is None:
            painter.setPen(color("muted"))
            box = self.viewport().rect().adjusted(24, 24, -24, -24)
            painter.drawText(box, int(Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap), self.says)
            return
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        high, top = self._page_high(), self.verticalScrollBar().value()
        first = max(0, int((top - EDGE) // high))
        last = min(self.document.pages - 1, int((top + self.viewport().height()) // high))
        with light_for_paper():
            for page in range(first, last + 1):
                painter.save()
                painter.translate(self._left(), EDGE + page * high - top)
                painter.scale(self.zoom, self.zoom)
                self._paint_page(painter, page)
                painter.restore()

    def _paint_page(self, painter: QPainter, page: int) -> None:
        assert self.document is not None
        painter.fillRect(QRectF(QPointF(0, 0), self.document.size), color("panel"))
        if self.chosen is not None and self.chosen[0] == page:
            place = self.document.place_of(*self.chosen).adjusted(-4, -2, 4, 2)
            painter.fillRect(place, color("selection"))
            painter.setPen(QPen(color("petrol"), 1.2))
            painter.drawRect(place)
        self.document.paint(painter, page)

    # Pointing

    def asked_at(self, at: QPointF) -> tuple[int, Asked] | None:
        """What lies under a point of the view, with its page."""
        if self.document is None:
            return None
        y = at.y() + self.verticalScrollBar().value() - EDGE
        page = int(y // self._page_high())
        if not 0 <= page < self.document.pages:
            return None
        inside = QPointF((at.x() - self._left()) / self.zoom, (y - page * self._page_high()) / self.zoom)
        found = self.document.asked_at(page, inside)
        return None if found is None else (page, found)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus()
        self.choose(self.asked_at(event.position()))

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        if self.chosen is not None:
            self.entered.emit(self.chosen[1])

    def choose(self, chosen: tuple[int, Asked] | None) -> None:
        self.chosen = chosen
        self.asked.emit(None if chosen is None else chosen[1])
        self.viewport().update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}
        sideways = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1}
        if event.key() in steps:
            self._go(steps[Qt.Key(event.key())])
        elif event.key() in sideways and self.chosen is not None:
            self._go_sideways(sideways[Qt.Key(event.key())])
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.chosen is not None:
            self.entered.emit(self.chosen[1])
        else:
            bars = {
                Qt.Key.Key_PageDown: self.verticalScrollBar().pageStep(),
                Qt.Key.Key_PageUp: -self.verticalScrollBar().pageStep(),
                Qt.Key.Key_Home: -self.verticalScrollBar().maximum(),
                Qt.Key.Key_End: self.verticalScrollBar().maximum(),
            }
            if event.key() not in bars:
                super().keyPressEvent(event)
                return
            self.verticalScrollBar().setValue(self.verticalScrollBar().value() + bars[Qt.Key(event.key())])

    def _go(self, step: int) -> None:
        """To the next sentence or row, or back to the one before."""
        if self.document is None:
            return
        every = self.document.every_asked()
        if not every:
            return
        place = -1
        if self.chosen is not None:
            page, asked = self.chosen
            first = asked if asked.sentence is not None else asked._replace(column=0)
            place = next((i for i, each in enumerate(every) if each == (page, first)), -1)
        self.choose(every[min(len(every) - 1, max(0, place + step))])
        self._show_chosen()

    def _go_sideways(self, step: int) -> None:
        """To the next figure of a row."""
        assert self.chosen is not None and self.document is not None
        page, asked = self.chosen
        if asked.sentence is not None:
            return
        columns = sorted(
            box.asked.column for box in self.document.boxes(page)
            if box.asked is not None and box.asked.part is asked.part and box.asked.row == asked.row
        )  # fmt: skip
        place = columns.index(asked.column) + step
        if 0 <= place < len(columns):
            self.choose((page, asked._replace(column=columns[place])))

    def _show_chosen(self) -> None:
        """Scroll to what is pointed at."""
        assert self.chosen is not None and self.document is not None
        page, asked = self.chosen
        place = self.document.place_of(page, asked)
        top = EDGE + page * self._page_high() + place.top() * self.zoom
        bottom = top + place.height() * self.zoom
        bar, high = self.verticalScrollBar(), self.viewport().height()
        if top < bar.value() + 20:
            bar.setValue(round(top - 40))
        elif bottom > bar.value() + high - 20:
            bar.setValue(round(bottom - high + 40))
