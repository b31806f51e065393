"""A task in two parts: how long the first is; the rest follows it, and can be moved by itself."""

from __future__ import annotations

from collections.abc import Callable

from hexapod.desktop.forms import Form
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import label
from hexapod.plan import edits
from hexapod.worktime.calendars import units_of
from hexapod.worktime.lengths import format_length, parse_length


class SplitForm(Form):
    def __init__(self, desk: Desk, leave: Callable[[], None]) -> None:
        super().__init__(desk, "Split a task", leave)
        self.task: str | None = None

    def fill(self) -> None:
        plan = self.desk.plan
        task = plan.tasks.get(self.task or "")
        if task is None:
            self.box.addWidget(label("No task is chosen.", "muted"))
            return
        units = units_of(plan, task.project)
        self.box.addWidget(label(f"Split “{task.name}”", "title", wrap=True))
        self.box.addWidget(label(f"It takes {format_length(task.minutes, units)}.", "muted"))
        self._first = self.line(format_length(task.minutes // 2, units), "splitFirst")
        self.field("First part", self._first, "The rest becomes a task of its own behind it, with the same people")
        self.buttons("Split")
        self._first.setFocus()
        self._first.selectAll()

    def save(self) -> None:
        plan = self.desk.plan
        task = plan.task(self.task or "")
        minutes = parse_length(self._first.text(), units_of(plan, task.project))
        self.desk.attempt(edits.split_task(plan, task.id, minutes))
