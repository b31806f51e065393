"""A report on screen, as it will be on paper or as panels, and what of it is pointed at."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QAbstractScrollArea

from hexapod.desktop.paper.report_document import ReportDocument
from hexapod.desktop.paper.report_panels import ReportPanels
from hexapod.desktop.theme.style import color, light_for_paper, scaled
from hexapod.reports.report import Asked, Report, Words

EDGE = 10  # pixels around it
SLICE = 0.012  # seconds of laying out between two looks at what else is to be done
LARGEST = 1.35  # times the size of paper


class ReportPreview(QAbstractScrollArea):
    """``asked`` says that somebody points at something, ``entered`` that they want to go there."""

    asked = pyqtSignal(object)
    entered = pyqtSignal(object)

    def __init__(self, name: str) -> None:
        super().__init__()
        self.setObjectName(name)
        self.setAccessibleName("The report; arrow keys go from sentence to sentence")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setFrameShape(QAbstractScrollArea.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.document: ReportDocument | ReportPanels | None = None
        self.says = ""  # in place of a report
        self.chosen: tuple[int, Asked] | None = None
        self._as_panels = False
        self._shown: tuple[Report, Words, bool | None] | None = None
        self._soon = QTimer(self, singleShot=True, interval=0)
        self._soon.timeout.connect(self._lay_out)

    def show_report(
        self,
        report: Report | None,
        words: Words,
        says: str,
        *,
        landscape: bool | None = None,
        as_panels: bool = False,
    ) -> None:
        """Another report, from its beginning; the same one stays where it is. ``landscape`` turns its pages."""
        self.says = says
        is_same = self.document is not None and self.document.report is report and self._as_panels == as_panels
        if report is not None and is_same:
            return
        is_alike = report is not None and self.document is not None and report.title == self.document.report.title
        kept = self.verticalScrollBar().value() if is_alike and self._as_panels == as_panels else 0
        self._as_panels, self.chosen = as_panels, None
        self._shown = None if report is None else (report, words, landscape)
        self._make()
        self.verticalScrollBar().setValue(kept)
        self.viewport().update()

    def _make(self) -> None:
        """Lay out what is shown for the room that there is."""
        if self._shown is None:
            self.document = None
        elif self._as_panels:
            report, words, _ = self._shown
            self.document = ReportPanels(report, words, max(200.0, self.viewport().width() - 2 * EDGE))
        else:
            report, words, landscape = self._shown
            self.document = ReportDocument(report, words, landscape=landscape)
            self.document.go_on(SLICE)
            self._soon.start()
        self._measure()

    def _lay_out(self) -> None:
        if isinstance(self.document, ReportDocument) and not self.document.go_on(SLICE):
            self._soon.start()
        self._measure()
        self.viewport().update()

    # Places

    @property
    def zoom(self) -> float:
        if not isinstance(self.document, ReportDocument):
            return 1.0
        return min(LARGEST, max(0.2, (self.viewport().width() - 2 * EDGE) / self.document.size.width()))

    def page_place(self, page: int) -> QRectF:
        """Where a page or a panel lies in the view."""
        assert self.document is not None
        place, zoom = self.document.places[page], self.zoom
        left = EDGE
        if isinstance(self.document, ReportDocument):
            left = max(EDGE, round((self.viewport().width() - place.width() * zoom) / 2))
        corner = QPointF(left + place.left() * zoom, EDGE + place.top() * zoom - self.verticalScrollBar().value())
        return QRectF(corner, QSizeF(place.width() * zoom, place.height() * zoom))

    def _measure(self) -> None:
        bar = self.verticalScrollBar()
        if self.document is None:
            bar.setRange(0, 0)
            return
        whole = self.document.height * self.zoom + 2 * EDGE
        bar.setPageStep(self.viewport().height())
        bar.setSingleStep(scaled(40))
        bar.setRange(0, max(0, round(whole - self.viewport().height())))

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        if self._as_panels:
            self._make()
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
        seen = QRectF(self.viewport().rect())
        for page in range(self.document.pages):
            place = self.page_place(page)
            if place.intersects(seen):
                painter.save()
                painter.translate(place.topLeft())
                painter.scale(self.zoom, self.zoom)
                self._paint_page(painter, page)
                painter.restore()

    def _paint_page(self, painter: QPainter, page: int) -> None:
        assert self.document is not None
        if isinstance(self.document, ReportPanels):
            self.document.paint(painter, page)
            self._paint_chosen(painter, page)
            return
        with light_for_paper():
            painter.fillRect(QRectF(QPointF(0, 0), self.document.size), color("panel"))
            self._paint_chosen(painter, page)
            self.document.paint(painter, page)

    def _paint_chosen(self, painter: QPainter, page: int) -> None:
        """What is pointed at: filled on paper, framed on a panel."""
        if self.chosen is None or self.chosen[0] != page:
            return
        assert self.document is not None
        place = self.document.place_of(*self.chosen).adjusted(-4, -2, 4, 2)
        if not self._as_panels:
            painter.fillRect(place, color("selection"))
        painter.setPen(QPen(color("petrol"), 1.2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(place)

    # Pointing

    def asked_at(self, at: QPointF) -> tuple[int, Asked] | None:
        """What lies under a point of the view, with its page."""
        if self.document is None:
            return None
        for page in range(self.document.pages):
            place = self.page_place(page)
            if place.contains(at):
                found = self.document.asked_at(page, (at - place.topLeft()) / self.zoom)
                return None if found is None else (page, found)
        return None

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
        place, inside = self.page_place(page), self.document.place_of(page, asked)
        top = place.top() + inside.top() * self.zoom
        bottom = top + inside.height() * self.zoom
        bar, high = self.verticalScrollBar(), self.viewport().height()
        if top < 20:
            bar.setValue(round(bar.value() + top - 40))
        elif bottom > high - 20:
            bar.setValue(round(bar.value() + bottom - high + 40))
