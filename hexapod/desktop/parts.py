"""Small widgets and layout helpers that several views share."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QEnterEvent, QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import (
    QAbstractButton,
    QComboBox,
    QFrame,
    QHBoxLayout,
    QLabel,
    QLayout,
    QMenu,
    QPushButton,
    QSizePolicy,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from hexapod.desktop.action import Registry
from hexapod.desktop.theme.style import icon
from hexapod.desktop.theme.tips import plain_tip
from hexapod.plan.plan import Plan
from hexapod.plan.records import ResourceKind

IMPORTS = "Plans and tables (*.csv *.tsv *.xlsx *.xlsm *.ics *.txt *.json *.hexapod);;All files (*)"


def label(text: str, role: str = "", *, wrap: bool = False) -> QLabel:
    """A label in one of the style sheet's roles."""
    made = QLabel(text)
    if role:
        made.setProperty("role", role)
    made.setWordWrap(wrap)
    made.setTextFormat(Qt.TextFormat.PlainText)
    return made


class Sentence(QLabel):
    """A sentence that takes the room there is: of a long one the end is left out."""

    def __init__(self) -> None:
        super().__init__()
        self.setTextFormat(Qt.TextFormat.PlainText)  # sentences hold names
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)

    def paintEvent(self, event: QPaintEvent) -> None:
        shown = self.fontMetrics().elidedText(self.text(), Qt.TextElideMode.ElideRight, self.width())
        painter = QPainter(self)
        painter.setPen(self.palette().color(self.foregroundRole()))
        painter.drawText(self.contentsRect(), Qt.AlignmentFlag.AlignVCenter, shown)
        painter.end()


def heading(text: str) -> QLabel:
    made = label(text, "head")
    made.setIndent(0)
    return made


def card() -> tuple[QFrame, QVBoxLayout]:
    frame = QFrame()
    frame.setProperty("role", "card")
    box = QVBoxLayout(frame)
    box.setContentsMargins(10, 8, 10, 8)
    box.setSpacing(2)
    return frame, box


class LineButton(QPushButton):
    """A line of text that can be pressed; where it is too long for its place, its end is left out."""

    def __init__(self, text: str) -> None:
        super().__init__(text)
        self._whole = text
        self.setProperty("role", "row")
        self.setAccessibleName(text)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)

    def say(self, text: str) -> None:
        """Other words, whatever its width."""
        self._whole = text
        self.setAccessibleName(text)
        self._fit()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()

    def _fit(self) -> None:
        shown = self.fontMetrics().elidedText(self._whole, Qt.TextElideMode.ElideRight, self.width() - 4)
        self.setText(shown)
        self.setToolTip(plain_tip("" if shown == self._whole else self._whole))


def bar_line(bar: QFrame) -> QHBoxLayout:
    """The line in which a bar above a view, which is dressed as one, holds its tools."""
    bar.setObjectName("viewbar")
    bar.setFixedHeight(32)
    line = QHBoxLayout(bar)
    line.setContentsMargins(8, 2, 8, 2)
    line.setSpacing(4)
    return line


def clear(layout: QLayout) -> None:
    """Take everything out of a layout."""
    while layout.count():
        item = layout.takeAt(0)
        assert item is not None
        widget, inner = item.widget(), item.layout()
        if widget is not None:
            widget.hide()
            widget.setProperty("putAway", True)
            widget.deleteLater()
        elif inner is not None:
            clear(inner)


class PaintedButton(QAbstractButton):
    """A button that paints itself, and otherwise where the pointer is over it."""

    def enterEvent(self, event: QEnterEvent) -> None:
        self.update()

    def leaveEvent(self, event: QEvent) -> None:
        self.update()


def menu_heading(menu: QMenu, words: str) -> None:
    """A line that says what the entries below it are about; not every style of Qt shows the name of a section."""
    if menu.actions():
        menu.addSeparator()
    entry = menu.addAction(words)
    entry.setEnabled(False)
    face = entry.font()
    face.setBold(True)
    entry.setFont(face)


def narrow(box: QComboBox) -> QComboBox:
    """A choice that takes the room there is, however long its entries are."""
    box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
    box.setMinimumContentsLength(8)
    return box


def leader_choice(name: str, plan: Plan, chosen: str | None) -> QComboBox:
    """Who answers for a project: one of the people, or None for nobody in particular."""
    box = narrow(QComboBox())
    box.setObjectName(name)
    box.setAccessibleName("Led by")
    box.addItem("Nobody in particular", None)
    for resource in plan.resources_in_order():
        if resource.kind is ResourceKind.PERSON:
            box.addItem(resource.name, resource.id)
    box.setCurrentIndex(max(0, box.findData(chosen)))
    return box


def choice_button(words: str, run: Callable[[], object]) -> QPushButton:
    """One of several that exclude each other, or a switch."""
    button = QPushButton(words)
    button.setProperty("role", "choice")
    button.setCheckable(True)
    button.clicked.connect(lambda: run())
    return button


def icon_button(name: str, tip: str) -> QToolButton:
    """A small flat button with a picture."""
    button = QToolButton()
    button.setIcon(icon(name, "muted", 14))
    button.setToolTip(plain_tip(tip))
    button.setAccessibleName(tip)
    button.setAutoRaise(True)
    return button


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
        said = registry[action_id]
        self.setToolTip(plain_tip(f"{said.text} ({said.shown_keys})" if text else said.shown_keys))
        self._follow()

    def _follow(self) -> None:
        self.setEnabled(self._action.isEnabled())
