"""What an edit would do, worked out while the pointer still moves: the newest question is answered first."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject

from hexapod.desktop.models.background import in_background
from hexapod.errors import HexapodError

if TYPE_CHECKING:
    from hexapod.desktop.models.desk import Desk
    from hexapod.plan.edits import Edit
    from hexapod.schedule.schedule import Schedule

AT_ONCE = 3000  # tasks that are rescheduled within a frame


class Previews(QObject):
    """Shows the dates that an edit would give as ghosts; in a large plan they follow the pointer by moments."""

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self._desk = desk
        self._wanted: Edit | None = None
        self._is_busy = False
        self._number = 0
        self.refusal: str = ""  # why the last edit asked about would be refused

    def ask(self, edit: Edit | None) -> None:
        """Show what ``edit`` would do; None shows the plan as it is."""
        self._number += 1
        self.refusal = ""
        if edit is None:
            self._wanted = None
            self._desk.show_ghost(None)
        elif len(self._desk.plan.tasks) <= AT_ONCE:
            self._show(self._try(edit))
        else:
            self._wanted = edit
            if not self._is_busy:
                self._work()

    def _try(self, edit: Edit) -> Schedule | str | None:
        try:
            return self._desk.preview(edit)
        except HexapodError as error:
            return str(error)

    def _show(self, found: object) -> None:
        if isinstance(found, str):
            self.refusal = found
            self._desk.show_ghost(None)
        else:
            self._desk.show_ghost(found)  # type: ignore[arg-type]

    def _work(self) -> None:
        edit, self._wanted = self._wanted, None
        assert edit is not None
        self._is_busy = True
        asked = self._number

        def done(found: object) -> None:
            self._is_busy = False
            if self._wanted is not None:
                self._work()
            if asked == self._number or self._wanted is not None:
                self._show(found)

        in_background(self, lambda: self._tried_beside(edit), done, lambda error: done(str(error)))

    def _tried_beside(self, edit: Edit) -> Schedule | str | None:
        found = self._try(edit)
        return found if found is None or isinstance(found, str) else found.shown()
