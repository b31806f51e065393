"""What is said after an edit: that it was undone or done again, and what gave way by itself."""

from __future__ import annotations

from PyQt6.QtCore import QObject, QTimer

from hexapod.desktop.models.desk import Desk
from hexapod.session import Applied


class SaidOfEdits(QObject):
    """Follows the desk as long as its window is there."""

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self._desk = desk
        self._held_words = ""
        self._soon = QTimer(self, singleShot=True, interval=0)  # after what the edit itself says
        self._soon.timeout.connect(lambda: desk.told.emit(self._held_words, "", True))
        desk.changed.connect(self._say)

    def _say(self, applied: Applied) -> None:
        if applied.kind == "undo":
            self._desk.told.emit(f"Undone: {applied.words}.", "", False)
        elif applied.kind == "redo":
            self._desk.told.emit(f"Done again: {applied.words}.", "", True)
        else:
            self._say_held(applied)

    def _say_held(self, applied: Applied) -> None:
        """Which of duration, effort and rate gave way."""
        from hexapod.staffing.holding import held_words

        self._held_words = held_words(applied.changes)
        if self._held_words:
            self._soon.start()
