"""Looking before an edit is done: the edit on show, and whether every edit is shown first."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from hexapod.errors import HexapodError
from hexapod.plan.edits import Edit
from hexapod.schedule.schedule import computed_dates

if TYPE_CHECKING:
    from hexapod.desktop.models.desk import Desk
    from hexapod.preparing import Prepared


class Staging(QObject):
    """``changed`` when an edit is put on show or taken off it, or edits are shown first from now on or no longer."""

    changed = pyqtSignal()

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self._desk = desk
        self.asks_first = False
        self.on_show: Prepared | None = None

    def show(self, edit: Edit) -> None:
        """Show what an edit would do before it is taken. ``HexapodError`` if it would be refused."""
        self.on_show = self._desk.session.prepare(edit)
        self._desk.show_ghost(computed_dates(self.on_show.schedule))
        self.changed.emit()

    def take(self) -> None:
        """Carry out what was looked at."""
        shown = self._put_away()
        if shown is not None:
            try:
                self._desk.commit(shown)
            except HexapodError as error:
                self._desk.told.emit(str(error), "trouble", False)

    def drop(self) -> None:
        """Leave the plan as it is."""
        if self._put_away() is not None:
            self._desk.told.emit("Left as it was.", "", False)

    def ask_first(self, asks: bool) -> None:
        """Whether every edit is looked at before it is taken."""
        self.asks_first = asks
        if not asks:
            self._put_away()
        self.changed.emit()

    def forget(self) -> None:
        """The plan is another one; who hears of that hears of this too."""
        self.on_show = None

    def _put_away(self) -> Prepared | None:
        shown, self.on_show = self.on_show, None
        if shown is not None:
            self._desk.show_ghost(None)
            self.changed.emit()
        return shown
