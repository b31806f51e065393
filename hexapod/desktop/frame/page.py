"""A page of the side panel: a column that scrolls and is filled anew when what it shows has changed."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QApplication, QLabel, QLineEdit, QScrollArea, QVBoxLayout, QWidget

from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import clear, label
from hexapod.errors import HexapodError

WAIT = 40  # milliseconds until it is asked again whether the mouse is free


class Page(QScrollArea):
    """Subclasses fill ``box`` in ``fill``; ``refresh`` calls it once, however many signals come."""

    def __init__(self, desk: Desk, title: str) -> None:
        super().__init__()
        self.desk = desk
        self.setAccessibleName(title)
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFrameShape(QScrollArea.Shape.NoFrame)
        inner = QWidget()
        self.box = QVBoxLayout(inner)
        self.box.setContentsMargins(14, 12, 12, 12)
        self.box.setSpacing(3)
        self.setWidget(inner)
        self._soon = QTimer(self, singleShot=True, interval=0)
        self._soon.timeout.connect(self._refresh_if_free)
        self._place = 0  # of the page, to go back to once it is laid out
        self._stay = QTimer(self, singleShot=True, interval=0)
        self._stay.timeout.connect(lambda: self.verticalScrollBar().setValue(self._place))

    def refresh(self, *_: object) -> None:
        if self.isVisible():
            self._soon.start()

    def _refresh_if_free(self) -> None:
        """Not while the mouse is pressed: what is dragged must not wait, and nothing may move away under a click."""
        if QApplication.mouseButtons() == Qt.MouseButton.NoButton:
            self._soon.setInterval(0)
            self.refresh_now()
        else:
            self._soon.start(WAIT)

    def refresh_now(self) -> None:
        """Fill the page anew; the part of it that has the keyboard has it again, and stays where it is on screen."""
        self._place = self.verticalScrollBar().value()
        focused = QApplication.focusWidget()
        name = focused.objectName() if focused is not None and self.isAncestorOf(focused) else ""
        clear(self.box)
        self.fill()
        self.box.addStretch(1)
        if name:
            self.focus_part(name)
            self._stay.start()

    def focus_part(self, name: str) -> None:
        """Give the keyboard to a part of the page by its object name; what was put away does not count."""
        parts = [w for w in self.findChildren(QWidget, name) if not w.property("putAway")]
        if parts:
            parts[-1].show()
            parts[-1].setFocus()

    def showEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        super().showEvent(event)
        if self.box.count():
            self.refresh()
        else:
            self.refresh_now()  # nobody is shown an empty page first

    def input_line(self, text: str, name: str, accessible: str, hint: str = "") -> QLineEdit:
        """Something to type into, unless the plan is only read."""
        made = QLineEdit(text)
        made.setObjectName(name)
        made.setAccessibleName(accessible)
        made.setPlaceholderText(hint)
        made.setEnabled(not self.desk.is_read_only)
        return made

    def reason(self, name: str) -> QLabel:
        """Where ``attempt`` says why something was refused; made anew for each filling."""
        self._says = label("", "trouble", wrap=True)
        self._says.setObjectName(name)
        return self._says

    def attempt(self, run: Callable[[], object]) -> bool:
        """Whether it could be done; a refusal is said, and what was typed stays."""
        try:
            run()
        except HexapodError as error:
            self._says.setText(str(error))
            return False
        self._says.setText("")
        return True

    def fill(self) -> None:
        raise AssertionError("a page fills itself")
