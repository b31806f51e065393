"""The range of another scenario, or of the plan, over the one that is looked at: rounds of its own."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from hexapod.desktop.models.background import in_background
from hexapod.errors import HexapodError

if TYPE_CHECKING:
    from hexapod.desktop.models.desk import Desk
    from hexapod.outlook.chances import Chances, Outlook
    from hexapod.session import Session

NOTHING = "-"
THE_PLAN = ""
ROUNDS = 2000
MOST_DRAWN = 10_000_000  # tasks x rounds


class BesideWork(QObject):
    """``of`` is the id of the scenario that is laid over, ``THE_PLAN``, or ``NOTHING``."""

    changed = pyqtSignal()

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self._desk = desk
        self._of = NOTHING
        self._found: tuple[object, Outlook] | None = None
        self._asked: object = None
        for signal in (desk.past_changed, desk.home_changed):
            signal.connect(self.changed)

    def choices(self) -> list[tuple[str, str]]:
        """What can be laid over: all but what is open."""
        opened = self._desk.scenario
        found = [(NOTHING, "Nothing beside it")]
        if opened is not None:
            found.append((THE_PLAN, "The plan beside it"))
        return found + [
            (s.id, f"{s.name} beside it") for s in self._desk.scenarios.listed()
            if opened is None or s.id != opened.scenario
        ]  # fmt: skip

    @property
    def of(self) -> str:
        return self._of if self._of in dict(self.choices()) else NOTHING

    def look_at(self, of: str) -> None:
        self._of = of
        self.changed.emit()

    def _session(self) -> Session:
        return self._desk.home if self.of == THE_PLAN else self._desk.scenarios.opened(self.of)

    @property
    def name(self) -> str:
        if self.of == THE_PLAN:
            return "the plan"
        return next((s.name for s in self._desk.scenarios.listed() if s.id == self.of), "")

    @property
    def colour(self) -> int:
        """The number of its colour; the plan has the first."""
        return next((s.colour for s in self._desk.scenarios.listed() if s.id == self.of), 0)

    def chances(self) -> Chances | None:
        """Of what is looked at, in the other plan; None where nothing is chosen, or it is being worked out."""
        if self.of == NOTHING or not self._desk.home.is_computed:
            return None
        try:
            session = self._session()
        except HexapodError:
            return None
        key = (*session.mark, session.last_number)
        if self._found is None or self._found[0] != key:
            self._ask(session, key)
            return None
        work, outlook = self._desk.chances, self._found[1]
        if work.target:
            return outlook.of_task(work.target)
        return None if work.project is None else outlook.of_project(work.project)

    def _ask(self, session: Session, key: object) -> None:
        if self._asked == key:
            return
        self._asked = key

        def work() -> object:
            from hexapod.outlook.chances import Outlook
            from hexapod.outlook.simulation import simulate

            dates = session.compute()
            rounds = max(100, min(ROUNDS, MOST_DRAWN // max(1, dates.network.size)))
            return Outlook(simulate(dates, rounds, 1, threads=1))

        def show(found: object) -> None:
            self._asked = None
            self._found = (key, found)  # type: ignore[assignment]
            self.changed.emit()

        def fail(error: Exception) -> None:
            self._desk.told.emit(str(error), "trouble", False)

        in_background(self, work, show, fail)
