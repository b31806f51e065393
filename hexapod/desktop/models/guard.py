"""The capacity guard on the desk: with it on, an edit that would overload somebody is held back."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from hexapod.desktop.models.background import in_background
from hexapod.plan.edits import Edit
from hexapod.schedule.schedule import Schedule

if TYPE_CHECKING:
    from hexapod.desktop.models.desk import Desk
    from hexapod.preparing import Prepared
    from hexapod.staffing.guard import Breach, Instead


@dataclass
class Stopped:
    """An edit that was not done, whom it would overload, and what could be done instead, once that is worked out."""

    edit: Edit
    now: Schedule
    after: Schedule
    breaches: tuple[Breach, ...]
    dates: list[Instead] = field(default_factory=list)
    people: list[Instead] = field(default_factory=list)
    is_looking: bool = True


class Guard(QObject):
    """``changed`` when it is turned on or off, or something was stopped or is known about it."""

    changed = pyqtSignal()

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self._desk = desk
        self.is_on = desk.memory.recall("guard", bool, False)
        self.stopped: Stopped | None = None

    def turn(self, on: bool) -> None:
        self.is_on, self.stopped = on, None
        self._desk.memory.keep("guard", on)
        self.changed.emit()

    def stops(self, prepared: Prepared) -> bool:
        """Whether the guard is on and an edit would overload somebody; then it is kept, to be looked at."""
        desk, now, after = self._desk, prepared.before, prepared.schedule
        if not self.is_on or not isinstance(now, Schedule) or not isinstance(after, Schedule):
            return False
        from hexapod.staffing.guard import breaches

        load = desk.load
        found = breaches(now, after, load.demand if load is not None and load.schedule is now else None)
        if not found:
            return False
        self.stopped = Stopped(prepared.edit, now, after, found)
        self._look_for_more(self.stopped)
        self.changed.emit()
        return True

    def _look_for_more(self, stopped: Stopped) -> None:
        from hexapod.staffing.guard import free_dates, people_instead

        def work() -> tuple[list[Instead], list[Instead]]:
            people = people_instead(stopped.now, stopped.after, stopped.edit, stopped.breaches)
            return free_dates(stopped.now, stopped.after, stopped.edit), people

        def show(found: object) -> None:
            stopped.dates, stopped.people = found  # type: ignore[misc]
            stopped.is_looking = False
            self.changed.emit()

        def failed(error: Exception) -> None:
            stopped.is_looking = False
            self._desk.told.emit(str(error), "trouble", False)
            self.changed.emit()

        in_background(self, work, show, failed)

    def take(self, edit: Edit) -> None:
        """Do something else in its place."""
        self.stopped = None
        if self._desk.do(edit):
            self._desk.told.emit(f"{edit.words}.", "", True)
        self.changed.emit()

    def forget(self) -> None:
        """The plan is another one, or nobody wants the edit any more."""
        if self.stopped is not None:
            self.stopped = None
            self.changed.emit()
