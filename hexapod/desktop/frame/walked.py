"""A list under headings that is walked by the arrow keys, typed into and pressed: it paints itself, row by row."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Callable, Sequence
from itertools import accumulate

from PyQt6.QtCore import QEvent, QRect, QRectF, QSize, Qt
from PyQt6.QtGui import QFont, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QAbstractScrollArea, QFrame

from hexapod.desktop.frame.cell_editor import NEXT_ROW, PREVIOUS_ROW, STAY, CellEditor
from hexapod.desktop.theme.style import color, font, scaled
from hexapod.desktop.theme.text import draw_text
from hexapod.errors import HexapodError

ROW, HEADING = 30, 36


class Heading:
    """The words above some rows."""

    def __init__(self, words: str) -> None:
        self.words = words


class WalkedTable(QAbstractScrollArea):
    """``rows`` are headings and what stands below them, in order; ``at`` is the row that the keyboard is at.

    Subclasses say by which key a row is known, paint it, and do what a key or a press means.
    """

    top_margin = 0  # for names of columns that stay above the rows
    nothing = "There is nothing here."

    def __init__(self, name: str, title: str) -> None:
        super().__init__()
        self.setObjectName(name)
        self.setAccessibleName(title)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.rows: list[object] = []
        self._headings = [0]  # how many are above each row, and above the end
        self.at = -1
        self._editor: CellEditor | None = None

    def sizeHint(self) -> QSize:
        return QSize(760, 420)

    # For subclasses

    def key_of(self, row: object) -> object:
        """What tells a row from the others when they are shown anew."""
        return row

    def paint_row(self, painter: QPainter, row: object, top: int) -> None:
        raise AssertionError("a table paints its rows")

    def paint_names(self, painter: QPainter) -> None:
        """The names of columns, within ``top_margin``."""

    def tell(self) -> None:
        """Say to a screen reader where the keyboard is."""

    def chosen(self, row: object) -> None:
        """The keyboard went to a row."""

    def pressed(self, row: object, event: QMouseEvent) -> None:
        """The mouse was pressed on the row that the keyboard is at now."""

    def edit(self, text: str) -> None:
        """Open a field for the row that the keyboard is at, which begins with a text."""

    def keys(self) -> dict[int, Callable[[], object]]:
        """What other plain keys do."""
        return {}

    # Rows

    def show_rows(self, rows: Sequence[object]) -> None:
        """Other rows: the keyboard stays at the same one, or at the place where it was."""
        current, place = self.current, self.at
        key = None if current is None else self.key_of(current)
        self.rows = list(rows)
        self._headings = list(accumulate((isinstance(row, Heading) for row in rows), initial=0))
        self.at = self._found(key, place)
        self._fit()
        self.tell()
        self.viewport().update()

    def _found(self, key: object | None, place: int) -> int:
        """The row of a key, else the one at a place or behind it, else the last one; -1 where there is none."""
        headings = self._headings
        there = [i for i in range(len(self.rows)) if headings[i] == headings[i + 1]]
        if key is not None:
            for i in there:
                if self.key_of(self.rows[i]) == key:
                    return i
        if not there:
            return -1
        at = bisect_left(there, place) if place >= 0 else 0
        return there[min(at, len(there) - 1)]

    @property
    def current(self) -> object | None:
        """The row that the keyboard is at."""
        row = self.rows[self.at] if 0 <= self.at < len(self.rows) else None
        return None if isinstance(row, Heading) else row

    def top_of(self, row: int) -> int:
        headings = self._headings[row]
        rows = scaled(HEADING) * headings + scaled(ROW) * (row - headings)
        return scaled(self.top_margin) + rows - self.verticalScrollBar().value()

    def _fit(self) -> None:
        height = self.top_of(len(self.rows)) + self.verticalScrollBar().value()
        self.verticalScrollBar().setRange(0, max(0, height - self.viewport().height()))
        self.verticalScrollBar().setPageStep(self.viewport().height())
        self.verticalScrollBar().setSingleStep(scaled(ROW))

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()
        if self._editor is not None:
            self._editor.move(self.editor_place().x(), self._editor.y())

    def scrollContentsBy(self, dx: int, dy: int) -> None:
        self.viewport().scroll(dx, dy)  # an editor stays at its row
        self.viewport().update()

    def go(self, row: int) -> None:
        """To a row, or to the next one in that direction that is no heading."""
        step = 1 if row >= self.at else -1
        while 0 <= row < len(self.rows) and isinstance(self.rows[row], Heading):
            row += step
        if not 0 <= row < len(self.rows):
            return
        self.at = row
        top, bar = self.top_of(row), self.verticalScrollBar()
        above = scaled(self.top_margin) + scaled(HEADING)  # the names, and the heading of the first row
        if top < above:
            bar.setValue(bar.value() + top - above)
        elif top + scaled(ROW) > self.viewport().height():
            bar.setValue(bar.value() + top + scaled(ROW) - self.viewport().height())
        self.chosen(self.rows[row])
        self.tell()
        self.viewport().update()

    def row_at(self, y: float) -> int | None:
        row = bisect_right(range(len(self.rows) + 1), y, key=self.top_of) - 1
        return row if 0 <= row < len(self.rows) else None

    # Typing

    def editor_place(self) -> QRect:
        """Where the field of the row that the keyboard is at lies."""
        return QRect(0, self.top_of(self.at) + 2, scaled(260), scaled(ROW) - 4)

    def open_editor(
        self, text: str, *, hint: str, accessible: str, echo: Callable[[str], str], take: Callable[[str], object]
    ) -> None:
        """A field at the row. ``take`` carries out what was typed; what it refuses stays, with the reason beneath."""
        self.go(self.at)
        editor = CellEditor(self.viewport(), self.editor_place(), text, hint=hint, accessible=accessible)
        editor.setObjectName("answerEditor")
        editor.echo_by(echo)
        editor.finished.connect(lambda said, then: self._finish(said, then, take))
        editor.left.connect(self.close_editor)
        self._editor = editor
        editor.show()
        editor.setFocus()
        editor.end(False)

    def _finish(self, said: str, then: str, take: Callable[[str], object]) -> None:
        editor, place = self._editor, self.at
        if editor is None:
            return
        self._editor = None  # what is taken shows other rows at once
        try:
            take(said)
        except HexapodError as error:
            if then != STAY:
                self._editor = editor
                editor.show_reason(str(error))
                return
        self._editor = editor
        self.close_editor()
        if then == NEXT_ROW:
            self.go(place + 1)
        elif then == PREVIOUS_ROW:
            self.go(place - 1)

    def close_editor(self) -> None:
        editor, self._editor = self._editor, None
        if editor is not None:
            editor.close_editor()
            self.setFocus()

    # Keys and presses

    def event(self, event: QEvent) -> bool:
        """Plain keys belong to the rows: none of them is a shortcut here, least of all the one that deletes."""
        if event.type() == QEvent.Type.ShortcutOverride and not is_command(event):
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        page = max(1, self.viewport().height() // scaled(ROW) - 1)
        moves: dict[int, Callable[[], object]] = {
            Qt.Key.Key_Down: lambda: self.go(self.at + 1),
            Qt.Key.Key_Up: lambda: self.go(self.at - 1),
            Qt.Key.Key_Home: lambda: self.go(1),  # the first is a heading
            Qt.Key.Key_End: lambda: self.go(len(self.rows) - 1),
            Qt.Key.Key_PageDown: lambda: self.go(min(len(self.rows) - 1, self.at + page)),
            Qt.Key.Key_PageUp: lambda: self.go(max(1, self.at - page)),
            Qt.Key.Key_Return: lambda: self.edit(""),
            Qt.Key.Key_Enter: lambda: self.edit(""),
            Qt.Key.Key_F2: lambda: self.edit(""),
            **self.keys(),
        }
        plain = not event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
        if plain and event.key() in moves:
            moves[event.key()]()
        elif plain and event.text().isprintable() and event.text():
            self.edit(event.text())
        else:
            super().keyPressEvent(event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.close_editor()
        row = self.row_at(event.position().y())
        if row is None or isinstance(self.rows[row], Heading):
            return
        self.setFocus()
        self.go(row)
        self.pressed(self.rows[row], event)

    # Painting

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self.viewport())
        try:
            self._paint(painter)
        finally:
            painter.end()  # also where a row cannot be painted: Qt does not outlive a painter that is left open

    def _paint(self, painter: QPainter) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.viewport().rect(), color("paper"))
        first = max(0, bisect_right(range(len(self.rows) + 1), scaled(self.top_margin), key=self.top_of) - 1)
        for i in range(first, len(self.rows)):
            top, row = self.top_of(i), self.rows[i]
            if top > self.viewport().height():
                break
            if isinstance(row, Heading):
                self._paint_heading(painter, row, top)
            else:
                self._paint_ground(painter, i, top)
                self.paint_row(painter, row, top)
        if not self.rows:
            painter.setPen(color("muted"))
            top = scaled(self.top_margin) + 12
            draw_text(painter, font(10), self.nothing, QRectF(scaled(20), top, self.viewport().width() - 40, 24))
        if self.top_margin:
            width, height = self.viewport().width(), scaled(self.top_margin)
            painter.fillRect(QRectF(0, 0, width, height), color("paper"))
            painter.fillRect(QRectF(0, height - 1, width, 1), color("rule"))
            painter.setPen(color("muted"))
            self.paint_names(painter)

    def _paint_heading(self, painter: QPainter, heading: Heading, top: int) -> None:
        painter.setPen(color("petrol"))
        box = QRectF(scaled(12), top + 10, self.viewport().width(), scaled(HEADING) - 12)
        draw_text(painter, font(9.5, QFont.Weight.DemiBold), heading.words, box)

    def _paint_ground(self, painter: QPainter, row: int, top: int) -> None:
        """What lies below a row: whether the keyboard is at it, and the line to the next."""
        width, height = self.viewport().width(), scaled(ROW)
        if row == self.at:
            painter.fillRect(QRectF(0, top, width, height), color("selection"))
        if row == self.at and self.hasFocus():
            painter.setPen(QPen(color("petrol"), 1.6))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(1, top + 1, width - 2, height - 3))
        painter.fillRect(QRectF(0, top + height - 1, width, 1), color("rule"))


def is_command(event: QKeyEvent) -> bool:
    held = event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
    is_function_key = Qt.Key.Key_F1 <= event.key() <= Qt.Key.Key_F12 and event.key() != Qt.Key.Key_F2
    return bool(held) or is_function_key
