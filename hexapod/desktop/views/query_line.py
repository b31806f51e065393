"""A line to ask the plan in: it completes names and values, and points at a mistake."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QStringListModel, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QCompleter, QLineEdit, QToolTip, QWidget

from hexapod.desktop.models.desk import Desk
from hexapod.desktop.theme.style import color
from hexapod.desktop.theme.tips import plain_tip
from hexapod.errors import BadText
from hexapod.query.asking import Completion, compile_query, completions


class QueryLine(QLineEdit):
    """``asked`` carries a query that can be understood, or an empty text; nothing else leaves the line."""

    asked = pyqtSignal(str)

    def __init__(self, desk: Desk, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._desk = desk
        self.setObjectName("query")
        self.setAccessibleName("Show only rows of which this is true")
        self.setPlaceholderText("Show only… critical and float < 3 d, who contains Rosa")
        self.setClearButtonEnabled(True)
        self.mistake: BadText | None = None
        self._offered: list[Completion] = []
        self._model = QStringListModel(self)
        self._completer = QCompleter(self._model, self)
        self._completer.setCompletionMode(QCompleter.CompletionMode.UnfilteredPopupCompletion)
        self._completer.setWidget(self)
        popup = self._completer.popup()
        assert popup is not None
        popup.setObjectName("completions")
        self._popup = popup
        self._completer.activated[str].connect(self._complete)
        self.textEdited.connect(self._on_edited)
        self.textChanged.connect(lambda text: None if text else self._ask_empty())

    def show_query(self, text: str) -> None:
        """The query of the view on show; a line in which something is being typed is left alone."""
        if not (self.hasFocus() and self.isModified()):
            self.setText(text)
            self.setModified(False)
            self._mark(None)

    def ask(self) -> bool:
        """Take what is typed; False, and a mark at the mistake, if it cannot be understood."""
        text = self.text().strip()
        try:
            if text:
                compile_query(self._desk.plan, text)
        except BadText as error:
            self._mark(error)
            self.point_out()
            return False
        self._mark(None)
        self.setModified(False)
        self.asked.emit(text)
        return True

    def point_out(self) -> None:
        """Say what the mistake is, beneath where it is."""
        if self.mistake is not None:
            place = self.mapToGlobal(QPoint(self._x_of_mistake(), self.height()))
            QToolTip.showText(place, plain_tip(str(self.mistake)), self)

    def _ask_empty(self) -> None:
        if self.isModified() or self.hasFocus():
            self.ask()

    def _on_edited(self, _: str) -> None:
        self._mark(None)
        self._offered = completions(self._desk.plan, self.text()[: self.cursorPosition()])
        self._model.setStringList([c.text for c in self._offered])
        if self._offered and self.text().strip():
            self._completer.complete()
        else:
            self._popup.hide()

    def _complete(self, chosen: str) -> None:
        found = next((c for c in self._offered if c.text == chosen), None)
        if found is not None:
            rest = self.text()[self.cursorPosition() :].lstrip()
            begun = f"{self.text()[: found.at]}{chosen} "
            self.setText(begun + rest)
            self.setCursorPosition(len(begun))
            self.setModified(True)

    def _mark(self, mistake: BadText | None) -> None:
        self.mistake = mistake
        self.setAccessibleDescription(str(mistake) if mistake else "")
        self.update()

    def _x_of_mistake(self) -> int:
        at = min(self.mistake.at or 0, len(self.text())) if self.mistake else 0
        here = self.cursorPosition()
        self.blockSignals(True)
        self.setCursorPosition(at)
        x = self.cursorRect().center().x()
        self.setCursorPosition(here)
        self.blockSignals(False)
        return x

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        if self.mistake is None:
            return
        painter = QPainter(self)
        painter.setPen(QPen(color("brick"), 2))
        x, y = self._x_of_mistake(), self.height() - 4
        end = self.mistake.at or 0
        word = self.text()[end:].split(" ")[0]
        width = max(8, self.fontMetrics().horizontalAdvance(word))
        painter.drawLine(x, y, x + width, y)
        painter.end()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = event.key()
        enters = key in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        if self._popup.isVisible() and (enters or key == Qt.Key.Key_Tab):
            if self._popup.currentIndex().isValid():
                event.ignore()  # the popup takes it: the marked one is meant
                return
            self._popup.hide()
        if enters:
            self.ask()
        elif key == Qt.Key.Key_Escape:
            self.setModified(False)
            self.setText(self._desk.on_show.view.query)
            self._mark(None)
            event.ignore()
        elif key == Qt.Key.Key_Down and not self._popup.isVisible():
            self._on_edited(self.text())
        else:
            super().keyPressEvent(event)
