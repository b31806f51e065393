"""Looking for a levelling proposal beside the interface: an answer at once, better ones while it goes on, and of a
proposal only the moves that are wanted."""

from __future__ import annotations

import threading
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from hexapod.desktop.background import in_background

if TYPE_CHECKING:
    from hexapod.desktop.desk import Desk
    from hexapod.staffing.levelling import Proposal

LOOKED_ON = 60.0  # seconds at most


class Levelling(QObject):
    """``whole`` is the proposal with all its moves, ``left_out`` the tasks whose moves are not wanted."""

    changed = pyqtSignal()
    _better = pyqtSignal(object, int)  # from the thread that looks: a proposal, and which search it is of

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self._desk = desk
        self.whole: Proposal | None = None
        self.left_out: frozenset[str] = frozenset()
        self.is_looking = False
        self.only_this_project = False
        self._stopped = threading.Event()
        self._number = 0
        self._better.connect(self._show)

    def propose(self, within_float: bool, seconds: float = 0.0) -> None:
        """Look for a proposal; with ``seconds`` it goes on for that long, or until it is stopped."""
        desk = self._desk
        if not desk.is_computed:
            return
        self.stop()
        now, stopped = desk.schedule, threading.Event()
        self._stopped, self.is_looking = stopped, True
        self._number += 1
        number = self._number
        projects = {desk.project} if self.only_this_project and desk.project else None

        def work() -> object:
            from hexapod.staffing.levelling import level
            from hexapod.staffing.placing import Scope

            return level(
                now,
                within_float=within_float,
                seconds=seconds,
                scope=Scope(projects=projects),
                better=lambda found: self._better.emit(found, number),
                is_stopped=stopped.is_set,
            )

        def show(found: object) -> None:
            if number == self._number:
                self.is_looking = False
                if now is desk.schedule:
                    self._show(found, number)
                self.changed.emit()

        def failed(error: Exception) -> None:
            self.is_looking = False
            desk.told.emit(str(error), "trouble", False)
            self.changed.emit()

        in_background(self, work, show, failed)
        self.changed.emit()

    def look_on(self) -> None:
        """Go on from where the proposal on show is."""
        if self.whole is not None:
            self.propose(self.whole.within_float, LOOKED_ON)

    def stop(self) -> None:
        """Keep the best that is there."""
        self._stopped.set()

    def forget(self) -> None:
        """The plan is another, or nobody wants the proposal."""
        self.stop()
        self._number += 1
        self.is_looking = False
        self.whole, self.left_out = None, frozenset()

    def leave_out(self, task: str, is_left_out: bool) -> None:
        """Do without a move, or with it again; what that leaves is counted anew."""
        from hexapod.staffing.levelling import without

        if self.whole is None:
            return
        self.stop()
        self.left_out = self.left_out | {task} if is_left_out else self.left_out - {task}
        found = without(self._desk.schedule, self.whole, self.left_out) if self.left_out else self.whole
        self._desk.show_proposal(found)

    def _show(self, found: object, number: int) -> None:
        if number != self._number or found is None:
            return
        self.whole, self.left_out = found, frozenset()  # type: ignore[assignment]
        self._desk.show_proposal(found)
