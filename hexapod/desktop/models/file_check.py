"""A quiet look at every row of the file, once nothing else is to be done after it was opened."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QTimer

from hexapod.desktop.models.background import in_background

if TYPE_CHECKING:
    from hexapod.desktop.models.desk import Desk

AFTER = 5000  # milliseconds after the dates are there


class FileCheck(QObject):
    """Tells what a disk made of the file; what it says was mended already."""

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self._desk = desk
        self._is_over = False
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(AFTER)
        self._soon.timeout.connect(self.look)
        desk.computed.connect(self._soon.start)

    def finish(self) -> None:
        """The session is about to be closed."""
        self._soon.stop()
        self._is_over = True

    def look(self) -> None:
        session = self._desk.home

        def show(words: object) -> None:
            if words and not self._is_over:
                self._desk.told.emit(str(words), "trouble", False)

        in_background(self, lambda: session.look_over(lambda: not self._is_over), show, lambda error: None)
