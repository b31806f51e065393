"""The bar of actions above a leg, and the place where everything is said that happened."""

from __future__ import annotations

from PyQt6.QtCore import QSize, Qt, QTimer
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton, QSizePolicy, QToolButton

from hexapod.desktop.action import Registry
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.theme.tips import plain_tip

SHOWN_FOR = 9000  # milliseconds


class Notice(QLabel):
    """A sentence that takes the room there is: a long one never widens the window, its end is left out."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("notice")
        self.setTextFormat(Qt.TextFormat.PlainText)  # sentences hold names
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)

    def paintEvent(self, event: QPaintEvent) -> None:
        shown = self.fontMetrics().elidedText(self.text(), Qt.TextElideMode.ElideRight, self.width())
        painter = QPainter(self)
        painter.setPen(self.palette().color(self.foregroundRole()))
        painter.drawText(self.contentsRect(), Qt.AlignmentFlag.AlignVCenter, shown)
        painter.end()


class ActionBar(QFrame):
    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__()
        self.setObjectName("toolbar")
        self.setFixedHeight(34)
        line = QHBoxLayout(self)
        line.setContentsMargins(8, 2, 10, 2)
        line.setSpacing(1)
        for i, actions in enumerate(registry.toolbar_groups().values()):
            if i:
                line.addSpacing(10)
            for action in actions:
                button = QToolButton()
                button.setDefaultAction(action)
                button.setIconSize(QSize(16, 16))
                button.setAccessibleName(action.text())
                line.addWidget(button)
        line.addSpacing(14)
        self._says = Notice()
        line.addWidget(self._says, 1)
        self._undo = QPushButton("Undo")
        self._undo.setProperty("role", "quiet")
        self._undo.setObjectName("noticeUndo")
        self._undo.clicked.connect(registry.qt("edit.undo").trigger)
        self._undo.hide()
        line.addWidget(self._undo)
        self._fade = QTimer(self, singleShot=True, interval=SHOWN_FOR)
        self._fade.timeout.connect(self._clear)
        desk.told.connect(self.say)

    def say(self, sentence: str, tone: str, offers_undo: bool) -> None:
        """Show a sentence for a while; trouble stays until the next one."""
        self._says.setText(sentence)
        self._says.setToolTip(plain_tip(sentence))
        self._says.setProperty("tone", tone)
        style = self._says.style()
        if style is not None:
            style.polish(self._says)
        self._undo.setVisible(offers_undo)
        if tone == "trouble":
            self._fade.stop()
        else:
            self._fade.start()

    def _clear(self) -> None:
        self._says.clear()
        self._undo.hide()
