"""The field in which a cell is typed. What cannot be understood stays in it, with the reason beneath."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QRect, QStringListModel, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QCompleter, QLineEdit, QWidget

from hexapod.desktop.parts import label
from hexapod.desktop.theme.style import palette
from hexapod.errors import HexapodError

NEXT_ROW, PREVIOUS_ROW, DEEPER, HIGHER, STAY = "next", "previous", "deeper", "higher", "stay"


class CellEditor(QLineEdit):
    """``finished`` carries the text and where to go from here; ``left`` says that Esc was pressed."""

    finished = pyqtSignal(str, str)
    left = pyqtSignal()

    def __init__(self, parent: QWidget, place: QRect, text: str, *, hint: str, accessible: str) -> None:
        super().__init__(text, parent)
        self.setObjectName("cellEditor")
        self.setAccessibleName(accessible)
        self.setPlaceholderText(hint)
        self.setGeometry(place)
        self.setStyleSheet(
            f"border: 2px solid {palette().petrol}; border-radius: 0; padding: 0 3px; background: {palette().panel};"
        )
        self._reason = label("")
        self._reason.setParent(parent)
        self._reason.setObjectName("cellReason")
        self._reason.setWordWrap(True)
        self._reason.hide()
        self._is_done = False
        self._echo: Callable[[str], str] | None = None
        self._completer: QCompleter | None = None
        self.textEdited.connect(self._show_echo)

    def echo_by(self, echo: Callable[[str], str]) -> None:
        """While typing, show beneath what the text is understood as."""
        self._echo = echo

    def _show_echo(self, text: str) -> None:
        self._reason.hide()
        if self._echo is not None and text.strip():
            try:
                self._show_beneath(f"= {self._echo(text)}", palette().petrol)
            except HexapodError:
                return  # half a word is not a mistake yet

    def complete_from(self, choices: list[str], separators: str) -> None:
        """Offer choices for the piece behind the last separator."""
        completer = QCompleter(QStringListModel(choices, self), self)
        completer.setFilterMode(Qt.MatchFlag.MatchContains)
        completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        completer.setWidget(self)
        completer.popup().setObjectName("completions")

        def piece() -> tuple[str, str]:
            text = self.text()
            at = max(text.rfind(s) for s in separators) + 1
            return text[:at], text[at:].lstrip()

        def offer(_: str) -> None:
            typed = piece()[1]
            completer.setCompletionPrefix(typed)
            if len(typed) < 2 or typed[0].isdecimal() or not completer.completionCount():
                completer.popup().hide()
            else:
                completer.complete(QRect(0, 0, 280, self.height()))

        def take(choice: str) -> None:
            before, _ = piece()
            choice = choice.split("   ")[0]
            quoted = f"“{choice}”" if any(s in choice for s in separators) else choice
            self.setText(f"{before}{' ' if before.strip() else ''}{quoted}")

        self.textEdited.connect(offer)
        completer.activated.connect(take)
        self._completer = completer

    def show_reason(self, sentence: str) -> None:
        """Say why the text cannot be taken; it stays to be mended."""
        self._show_beneath(sentence, palette().brick)

    def _show_beneath(self, sentence: str, colour: str) -> None:
        self._reason.setText(sentence)
        self._reason.setStyleSheet(
            f"background: {palette().raised}; color: {colour}; border: 1px solid {colour}; border-radius: 4px;"
            "padding: 5px 8px;"
        )
        width = max(260, self.width())
        left = min(self.x(), max(0, self.parentWidget().width() - width - 4))
        height = self._reason.heightForWidth(width)
        below = self.y() + self.height() + 2
        top = below if below + height < self.parentWidget().height() else self.y() - height - 2
        self._reason.setGeometry(left, top, width, height)
        self._reason.show()
        self._reason.raise_()

    def close_editor(self) -> None:
        if not self._is_done:
            self._is_done = True
            self._reason.hide()
            self._reason.deleteLater()
            self.hide()
            self.deleteLater()

    def event(self, event: QEvent) -> bool:
        if event.type() == QEvent.Type.KeyPress and event.key() in (Qt.Key.Key_Tab, Qt.Key.Key_Backtab):
            self.finished.emit(self.text(), DEEPER if event.key() == Qt.Key.Key_Tab else HIGHER)
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = event.key()
        popup = self._completer.popup() if self._completer is not None else None
        if popup is not None and popup.isVisible() and key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            if popup.currentIndex().isValid():
                event.ignore()  # the popup takes it: the marked name is meant
                return
            popup.hide()
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            back = event.modifiers() & Qt.KeyboardModifier.ShiftModifier
            self.finished.emit(self.text(), PREVIOUS_ROW if back else NEXT_ROW)
        elif key == Qt.Key.Key_Escape:
            self.left.emit()
        else:
            super().keyPressEvent(event)

    def focusOutEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        super().focusOutEvent(event)
        if not self._is_done and event.reason() not in (
            Qt.FocusReason.PopupFocusReason,
            Qt.FocusReason.ActiveWindowFocusReason,
        ):
            self.finished.emit(self.text(), STAY)
