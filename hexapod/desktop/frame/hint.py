"""A hint for what is likely next: a card at the foot of the window that waits until it is put away."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QObject, Qt, QTimer
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from hexapod.desktop.models import hints
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import icon_button, label

AFTER = 1500  # milliseconds without an edit
WIDTH, MARGIN = 300, 12


class HintCard(QFrame):
    """Lies at the right of ``place`` and takes no keyboard.

    ``foot`` is how far down it may lie; None where the view on show is no place for it.
    """

    def __init__(self, desk: Desk, place: QWidget, foot: Callable[[], int | None]) -> None:
        super().__init__(place)
        self.setObjectName("hintCard")
        self._desk, self._place, self._foot = desk, place, foot
        self.says = label("", wrap=True)
        self.says.setObjectName("hint")
        away = icon_button("x", "Put this hint away")
        away.clicked.connect(self.hide)
        self._enough = QPushButton("No more hints")
        self._enough.setObjectName("hintEnough")
        self._enough.setProperty("role", "quiet")
        self._enough.clicked.connect(self._stop)
        head = QHBoxLayout()
        head.addWidget(label("A hint", "muted"), 1)
        head.addWidget(away)
        box = QVBoxLayout(self)
        box.setContentsMargins(12, 4, 6, 6)
        box.setSpacing(2)
        box.addLayout(head)
        box.addWidget(self.says)
        box.addWidget(self._enough, 0, Qt.AlignmentFlag.AlignLeft)
        self._soon = QTimer(self, singleShot=True, interval=AFTER)
        self._soon.timeout.connect(self.look)
        for signal in (desk.changed, desk.computed, desk.load_changed):
            signal.connect(lambda *_: self._soon.start())
        place.installEventFilter(self)
        self.hide()

    def look(self) -> None:
        """Say what is due, if anything is; one at a time."""
        if self.isVisible() or self._foot() is None:
            return
        hint = hints.next_hint(self._desk)
        if hint is not None:
            self.says.setText(hint.text)
            self._settle()
            self.show()
            self.raise_()

    def _stop(self) -> None:
        hints.want(False)
        self.hide()
        self._desk.told.emit("No more hints. The Help menu turns them on again.", "", False)

    def follow(self) -> None:
        """Another view is on show, or its foot lies elsewhere."""
        if self.isVisible():
            self._settle()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() in (QEvent.Type.Resize, QEvent.Type.Move):
            self.follow()
        return False

    def _settle(self) -> None:
        foot = self._foot()
        if foot is None:
            self.hide()
            return
        height = self.layout().heightForWidth(WIDTH) if self.layout().hasHeightForWidth() else self.sizeHint().height()
        self.setGeometry(self._place.width() - WIDTH - MARGIN, foot - height - MARGIN, WIDTH, height)
