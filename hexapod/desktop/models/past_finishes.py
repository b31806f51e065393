"""When projects would have finished as the plan was some days ago: worked out once a day, beside the interface."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from PyQt6.QtCore import QObject

from hexapod.desktop.models.background import in_background
from hexapod.errors import HexapodError
from hexapod.plan.records import DAY
from hexapod.session import Session
from hexapod.worktime import clock


class PastFinishes:
    """``ago`` is in days, 0 for the end of yesterday. ``found`` is None until it is known, and where the plan was not
    there yet; ``changed`` is called once it is known."""

    def __init__(self, owner: QObject, ago: int, changed: Callable[[], object]) -> None:
        self._owner, self._ago, self._changed = owner, ago, changed
        self.found: Mapping[str, int | None] | None = None
        self._known_on: int | None = None

    def look(self, session: Session) -> None:
        """Work it out, if that was not done today."""
        today = clock.now() // DAY
        if self._known_on == today:
            return
        self._known_on = today

        def show(found: object) -> None:
            self.found = found  # type: ignore[assignment]
            self._changed()

        moment = (today - self._ago) * DAY
        in_background(self._owner, lambda: finishes_before(session, moment), show, lambda error: None)


def finishes_before(session: Session, moment: int) -> dict[str, int | None] | None:
    """When projects would have finished as the plan was at a moment; None where it was not there, or had no dates."""
    before = [row for row in session.history if row.moment < moment]
    if not before:
        return None
    from hexapod.schedule.engine import schedule

    try:
        return dict(schedule(session.plan_after(before[-1].number)).project_finish)
    except HexapodError:
        return None
