"""What it would take to have something by a date: looked for beside the interface, with progress and stop."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from hexapod.desktop.models.background import in_background
from hexapod.errors import EditRefused, HexapodError
from hexapod.schedule.schedule import computed_dates
from hexapod.worktime import clock

if TYPE_CHECKING:
    from hexapod.desktop.models.desk import Desk
    from hexapod.outlook.ways import Answer, Way, Wish
    from hexapod.schedule.schedule import Schedule


class WaysWork(QObject):
    """``changed`` when there is an answer, or none any more; ``progressed`` with how far the search is, 0 to 1."""

    changed = pyqtSignal()
    progressed = pyqtSignal(float)

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self._desk = desk
        self.wish: Wish | None = None
        self.answer: Answer | None = None
        self.trouble = ""
        self._of: Schedule | None = None
        self._goes_on = False
        self.is_looking = False
        for signal in (desk.changed, desk.home_changed, desk.past_changed):
            signal.connect(self._follow)

    def _follow(self, *_: object) -> None:
        """The plan is another one: what was found is of no use."""
        if self._of is not None and self._of is not computed_dates(self._desk.session.schedule):
            self.stop()
            self.answer, self._of, self.trouble = None, None, ""
            self.changed.emit()

    def stop(self) -> None:
        self._goes_on = False

    def look(self, wish: Wish) -> None:
        """Look for ways in what is open, the plan or a scenario. ``HexapodError`` for a wish that cannot be."""
        from hexapod.outlook.ways import look_for_ways

        now = computed_dates(self._desk.session.schedule)
        if now is None:
            raise EditRefused("The dates are being computed; try again in a moment.")
        if wish.by < clock.now():
            raise EditRefused("That day is past: nothing can be had by then any more.")
        if self.is_looking:
            return
        self.wish, self.answer, self.trouble, self._of = wish, None, "", now
        self.is_looking = self._goes_on = True

        def report(part: float) -> bool:
            if self._goes_on:
                self.progressed.emit(part)
            return self._goes_on

        def show(found: object) -> None:
            self.is_looking = False
            if self._of is now:
                self.answer = found  # type: ignore[assignment]
                self.trouble = "" if found is not None or not self._goes_on else "It has no date to begin with."
            self.changed.emit()

        def fail(error: Exception) -> None:
            self.is_looking = False
            self.trouble = str(error) if isinstance(error, HexapodError) else "The search broke off; look again."
            self.changed.emit()

        in_background(self, lambda: look_for_ways(now, wish, report), show, fail)
        self.changed.emit()

    def make_scenario(self, way: Way) -> None:
        """A scenario in which a way is taken. ``HexapodError`` if it is refused."""
        desk = self._desk
        names = {s.name.casefold() for s in desk.home.plan.scenarios.values()}
        name, number = way.edit.words, 2
        while name.casefold() in names:
            name, number = f"{way.edit.words} ({number})", number + 1
        opened = desk.scenario
        made = desk.scenarios.make(name, source="" if opened is None else opened.scenario)
        desk.scenarios.carry_out(made.id, way.edit)
        desk.told.emit(f"“{name}” stands beside the plan now.", "", False)
