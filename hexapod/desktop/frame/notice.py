"""What happened, said for a while at the foot of the window, with a way back."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QObject, QTimer
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QWidget

from hexapod.desktop.action import Registry
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import Sentence, icon_button
from hexapod.desktop.theme.tips import plain_tip

SHOWN_FOR = 9000  # milliseconds
HEIGHT, WIDEST, MARGIN = 34, 640, 10


class Notice(QFrame):
    """Lies above the foot of ``place`` and takes no room from it; trouble stays until it is put away."""

    def __init__(self, desk: Desk, registry: Registry, place: QWidget, floor: Callable[[], int]) -> None:
        super().__init__(place)
        self.setObjectName("noticeBox")
        self._place = place
        self._floor = floor  # down to where it may lie, so that it hides nothing that is read
        self._says = Sentence()
        self._says.setObjectName("notice")
        self._undo = QPushButton("Undo")
        self._undo.setProperty("role", "quiet")
        self._undo.setObjectName("noticeUndo")
        self._undo.clicked.connect(registry.qt("edit.undo").trigger)
        away = icon_button("x", "Put this message away")
        away.clicked.connect(self._clear)
        line = QHBoxLayout(self)
        line.setContentsMargins(12, 2, 6, 2)
        line.setSpacing(6)
        line.addWidget(self._says, 1)
        line.addWidget(self._undo)
        line.addWidget(away)
        self._fade = QTimer(self, singleShot=True, interval=SHOWN_FOR)
        self._fade.timeout.connect(self._clear)
        place.installEventFilter(self)
        self.hide()
        desk.told.connect(self.say)

    def say(self, sentence: str, tone: str, offers_undo: bool) -> None:
        """Show a sentence."""
        self._says.setText(sentence)
        self._says.setToolTip(plain_tip(sentence))
        self._says.setProperty("tone", tone)
        style = self._says.style()
        if style is not None:
            style.polish(self._says)
        self._undo.setVisible(offers_undo)
        if not sentence:
            self._clear()
            return
        self.settle()
        self.show()
        self.raise_()
        if tone == "trouble":
            self._fade.stop()
        else:
            self._fade.start()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() in (QEvent.Type.Resize, QEvent.Type.Move, QEvent.Type.Show):
            self.settle()
        return False

    def lie_above(self, foot: QWidget) -> None:
        """Follow a part of the place that it may lie on, wherever that goes."""
        foot.installEventFilter(self)

    def settle(self) -> None:
        """As wide as the sentence, at the left foot of the place."""
        beside = 60 + (self._undo.sizeHint().width() if self._undo.isVisibleTo(self) else 0)
        wanted = self._says.fontMetrics().horizontalAdvance(self._says.text()) + beside
        wide = max(160, min(wanted, WIDEST, self._place.width() - 2 * MARGIN))
        self.setGeometry(MARGIN, self._floor() - HEIGHT - 2, wide, HEIGHT)

    def _clear(self) -> None:
        self._fade.stop()
        self._says.clear()
        self.hide()
