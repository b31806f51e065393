"""The computed dates kept in the file while nothing else happens, so that the next window paints from them."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QTimer

from hexapod.desktop.models.background import in_background
from hexapod.errors import HexapodError
from hexapod.schedule.schedule import Schedule
from hexapod.store.dates import DatesToWrite, dates_to_write

if TYPE_CHECKING:
    from hexapod.desktop.models.desk import Desk

AFTER = 3000  # milliseconds without an edit
AT_ONCE = 500  # rows that are written in a part of a frame


class DatesKept(QObject):
    """What differs is found beside the interface, and written a piece at a time."""

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self._desk = desk
        self._writing: Iterator[None] | None = None
        self._is_over = False
        self._soon = QTimer(self, singleShot=True, interval=AFTER)
        self._soon.timeout.connect(self._find)
        self._next = QTimer(self, singleShot=True, interval=20)
        self._next.timeout.connect(self._write_on)

    def later(self) -> None:
        """The dates are others."""
        self._soon.start()

    def finish(self) -> None:
        """Write what was begun to its end; the session is about to be closed and keeps the rest."""
        self._soon.stop()
        self._is_over = True
        while self._writing is not None:
            self._write_on()

    def _find(self) -> None:
        session = self._desk.home
        if session.workspace.read_only:
            return
        if self._writing is not None:
            self._soon.start()
            return
        known, schedule = session.workspace.known_dates, session.schedule
        if not isinstance(schedule, Schedule):
            return

        def write(found: object) -> None:
            assert isinstance(found, DatesToWrite)
            if schedule is session.schedule and not self._is_over:
                self._writing = session.workspace.writing_dates(found, AT_ONCE)
                self._write_on()

        in_background(self, lambda: dates_to_write(known, schedule), write, lambda error: None)

    def _write_on(self) -> None:
        self._next.stop()
        assert self._writing is not None
        try:
            next(self._writing)
            self._next.start()
        except StopIteration:
            self._writing = None
        except HexapodError as error:
            self._writing = None
            self._desk.told.emit(str(error), "trouble", False)
