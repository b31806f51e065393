"""Small widgets and layout helpers that several views share."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QLabel, QLayout, QPushButton, QVBoxLayout, QWidget

from hexapod.desktop.actions.action import Registry


def label(text: str, role: str = "", *, wrap: bool = False) -> QLabel:
    """A label in one of the style sheet's roles."""
    made = QLabel(text)
    if role:
        made.setProperty("role", role)
    made.setWordWrap(wrap)
    made.setTextFormat(Qt.TextFormat.PlainText)
    return made


def heading(text: str) -> QLabel:
    return label(text, "head")


def card() -> tuple[QFrame, QVBoxLayout]:
    frame = QFrame()
    frame.setProperty("role", "card")
    box = QVBoxLayout(frame)
    box.setContentsMargins(10, 8, 10, 8)
    box.setSpacing(2)
    return frame, box


def link_button(text: str, name: str = "") -> QPushButton:
    """A line of text that can be pressed."""
    button = QPushButton(text)
    button.setProperty("role", "row")
    button.setCursor(Qt.CursorShape.PointingHandCursor)
    if name:
        button.setObjectName(name)
    return button


def clear(layout: QLayout) -> None:
    """Take everything out of a layout."""
    while layout.count():
        item = layout.takeAt(0)
        assert item is not None
        widget, inner = item.widget(), item.layout()
        if widget is not None:
            widget.hide()
            widget.deleteLater()
        elif inner is not None:
            clear(inner)


class ActionButton(QPushButton):
    """A push button that is an action of the registry: its text, state and effect."""

    def __init__(
        self,
        registry: Registry,
        action_id: str,
        *,
        primary: bool = False,
        text: str = "",
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(text or registry[action_id].text, parent)
        self.setObjectName(f"button.{action_id}")
        if primary:
            self.setProperty("role", "primary")
        self._action = registry.qt(action_id)
        self.clicked.connect(self._action.trigger)
        self._action.changed.connect(self._follow)
        self.setToolTip(registry[action_id].shown_keys)
        self._follow()

    def _follow(self) -> None:
        self.setEnabled(self._action.isEnabled())
