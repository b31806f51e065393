"""From when on the projects of a workspace are in doubt, or late."""

from __future__ import annotations

from typing import TYPE_CHECKING

from hexapod.plan.record import Record

if TYPE_CHECKING:
    from hexapod.plan.plan import Plan

THE_ONE = "thresholds"  # the id of the only record
MOST_DAYS = 365.0


class Thresholds(Record, frozen=True):
    """``doubt_days`` before its target a finish is in doubt, ``late_days`` after it a project is late; between the two
    it is in doubt. Both are working days of the project."""

    id: str = THE_ONE
    doubt_days: float = 5.0
    late_days: float = 0.0

    @property
    def key(self) -> str:
        return self.id


USUAL = Thresholds()


def thresholds_of(plan: Plan) -> Thresholds:
    """Those of a plan; the usual ones where nobody set any."""
    return plan.thresholds.get(THE_ONE, USUAL)


def thresholds_trouble(plan: Plan, thresholds: Thresholds) -> str | None:
    """What is wrong with them, in a sentence."""
    if thresholds.id != THE_ONE:
        return "A plan has its thresholds once."
    days = (thresholds.doubt_days, thresholds.late_days)
    if not all(0 <= each <= MOST_DAYS for each in days):
        return f"A threshold is 0 to {MOST_DAYS:.0f} working days."
    return None
