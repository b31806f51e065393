"""Calendar files that follow the plan: of whom, in which folder; written beside the interface a while after an edit."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from hexapod.desktop.models.one_at_a_time import OneAtATime
from hexapod.errors import HexapodError
from hexapod.formats.calendar_folder import CalendarKind, write_calendars
from hexapod.schedule.schedule import Schedule, computed_dates

if TYPE_CHECKING:
    from hexapod.desktop.models.desk import Desk

LATER = 1500  # milliseconds after the last edit
FOLDER, KINDS = "calendar_folder", "calendar_kinds"


class CalendarFolder(QObject):
    """``trouble`` is why the last time failed; ``changed`` says that something of this is another."""

    changed = pyqtSignal()

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self._desk = desk
        self.folder = desk.memory.recall(FOLDER, str, "")
        kept = desk.memory.recall(KINDS, list[str], [])
        self.kinds = frozenset(kind for kind in CalendarKind if kind.value in kept)
        self.trouble = ""
        self._of: Schedule | None = None
        self._writing = OneAtATime(self, self.write)
        self._later = QTimer(self, singleShot=True, interval=LATER)
        self._later.timeout.connect(self.write)
        for signal in (desk.changed, desk.computed):
            signal.connect(self._soon)

    def _soon(self, *_: object) -> None:
        if self.folder and self.kinds:
            self._later.start()

    def set_folder(self, folder: str) -> None:
        self.folder = folder.strip()
        self._desk.memory.keep(FOLDER, self.folder)
        self._begin()

    def choose(self, kind: CalendarKind, wanted: bool) -> None:
        self.kinds = self.kinds | {kind} if wanted else self.kinds - {kind}
        self._desk.memory.keep(KINDS, sorted(each.value for each in self.kinds))
        self._begin()

    def _begin(self) -> None:
        self._of, self.trouble = None, ""
        self._soon()
        self.changed.emit()

    def write(self) -> None:
        """What is another now; not of a scenario."""
        known = computed_dates(self._desk.schedule)
        if known is None or known is self._of or self._desk.scenario is not None:
            return
        folder, kinds = Path(self.folder).expanduser(), self.kinds
        if self._writing.start(lambda: write_calendars(known, folder, kinds), self._done, self._failed):
            self._of = known

    def _done(self, _: object) -> None:
        if self.trouble:
            self.trouble = ""
            self.changed.emit()

    def _failed(self, error: Exception) -> None:
        said = str(error) if isinstance(error, HexapodError) else "The calendar files could not be written."
        if said != self.trouble:  # once, and not after each edit
            self.trouble = said
            self._desk.told.emit(said, "trouble", False)
            self.changed.emit()
