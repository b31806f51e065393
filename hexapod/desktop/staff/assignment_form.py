"""One assignment: how much of somebody, between which days of the task, and where in it most of the work lies."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace
from PyQt6.QtWidgets import QComboBox

from hexapod.desktop import dates
from hexapod.desktop.forms import Form
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import label
from hexapod.fields.assignment_text import share_text, with_share
from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Gone
from hexapod.plan.records import DAY, AssignmentKey, Curve

CURVES = {
    Curve.FLAT: "Evenly",
    Curve.FRONT: "Most of it early",
    Curve.BACK: "Most of it late",
    Curve.CENTRE: "Most of it in the middle",
}


class AssignmentForm(Form):
    def __init__(self, desk: Desk, leave: Callable[[], None]) -> None:
        super().__init__(desk, "Assignment", leave)
        self.key: AssignmentKey | None = None

    def fill(self) -> None:
        plan = self.desk.plan
        found = plan.assignments.get(self.key or ("", ""))
        if found is None:
            self.box.addWidget(label("This assignment is gone.", "muted"))
            return
        who, task = plan.resources[found.resource].name, plan.tasks[found.task].name
        self.box.addWidget(label(f"{who} on “{task}”", "title", wrap=True))
        self._share = self.line(share_text(found).strip() or "100%", "assignmentShare")
        first, last = ("" if day is None else dates.typed(day * DAY) for day in (found.first_day, found.last_day))
        self._first, self._last = self.line(first, "assignmentFrom"), self.line(last, "assignmentTo")
        self._curve = QComboBox()
        for curve, words in CURVES.items():
            self._curve.addItem(words, curve)
        self._curve.setCurrentIndex(self._curve.findData(found.curve))
        self.field("How much", self._share, "50 %, ×2, 3 h a day, or 12 h in all")
        self.field("From", self._first, "Empty: as long as the task")
        self.field("To", self._last)
        self.field("The work lies", self._curve)
        self.buttons("Save")
        self._share.setFocus()

    def save(self) -> None:
        desk, plan = self.desk, self.desk.plan
        found = plan.assignments.get(self.key or ("", ""))
        if found is None:
            raise Gone
        first, last = (desk.read_date(t.text()) // DAY if t.text().strip() else None for t in (self._first, self._last))
        made = replace(
            with_share(found, self._share.text()), first_day=first, last_day=last, curve=self._curve.currentData()
        )
        words = f"Change {plan.resources[found.resource].name} on “{plan.tasks[found.task].name}”"
        others = [a for a in plan.assignments_of(found.task) if a.resource != found.resource]
        desk.attempt(Edit(words, edits.set_assignments(plan, found.task, [*others, made]).change))
