"""From when on a project is in doubt, and late: for all projects of the workspace."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QLineEdit

from hexapod.desktop.forms import Form
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import label
from hexapod.errors import BadText
from hexapod.plan import edits
from hexapod.plan.thresholds import MOST_DAYS, thresholds_of
from hexapod.worktime.lengths import USUAL, format_days, parse_length


class ThresholdsForm(Form):
    def __init__(self, desk: Desk, leave: Callable[[], None]) -> None:
        super().__init__(desk, "When projects are late", leave)

    def fill(self) -> None:
        known = thresholds_of(self.desk.plan)
        self.box.addWidget(label("When projects are late", "title"))
        what = "It holds for all projects of this file. Each counts in its own working days."
        self.box.addWidget(label(what, "muted", wrap=True))
        self._doubt = self.line(format_days(round(known.doubt_days * USUAL.day), USUAL), "thresholdDoubt")
        self._late = self.line(format_days(round(known.late_days * USUAL.day), USUAL), "thresholdLate")
        self.field("In doubt from so long before its target", self._doubt)
        self.field("Late from more than so long after it", self._late, "Up to then it is in doubt.")
        self.buttons("Set it")

    @property
    def first_line(self) -> QLineEdit:
        return self._doubt

    def save(self) -> None:
        doubt, late = (_days(field.text()) for field in (self._doubt, self._late))
        self.desk.attempt(edits.set_thresholds(self.desk.plan, doubt, late))


def _days(text: str) -> float:
    """Working days, as they were typed. ``BadText`` where they are none that a threshold can have."""
    found = parse_length(text, USUAL) / USUAL.day
    if not 0 <= found <= MOST_DAYS:
        raise BadText(f"A threshold is 0 to {MOST_DAYS:.0f} working days.")
    return found
