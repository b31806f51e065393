"""Planning back: a task and the date it must be done by, and when the work before it would have to begin."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QVBoxLayout

from hexapod.desktop import dates
from hexapod.desktop.forms import Form
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import LineButton, card, clear, heading, label
from hexapod.errors import HexapodError
from hexapod.plan import edits
from hexapod.system.words import count_of
from hexapod.worktime.clock import today

MOST_ROWS = 40


class PlanningBackPage(Form):
    def __init__(self, desk: Desk, leave: Callable[[], None]) -> None:
        super().__init__(desk, "Plan back from a date", leave)
        self.task: str | None = None

    def fill(self) -> None:
        task = self.desk.plan.tasks.get(self.task or "")
        self.box.addWidget(label("Plan back from a date", "title"))
        if task is None or not self.desk.is_computed:
            self.box.addWidget(label("Select the milestone or task that a date is set for.", "muted", wrap=True))
            return
        self.box.addWidget(label(task.name, "value", wrap=True))
        at = task.target if task.target is not None else self.desk.schedule.dates(task.id).finish
        self._at = self.line(dates.typed(at), "backDate")
        self._at.returnPressed.disconnect()
        self._at.returnPressed.connect(self._show)
        self._at.editingFinished.connect(self._show)
        self.field("Done by", self._at, "2027-03-12, end of oct, in 12 weeks")
        self._answer = QVBoxLayout()
        self.box.addLayout(self._answer)
        self.buttons("Plan back from this date")
        self._show()

    def _moment(self) -> int:
        return self.desk.read_date(self._at.text(), ends=True)

    def _show(self) -> None:
        from hexapod.schedule.planning_back import demanded_start

        clear(self._answer)
        if self.task not in self.desk.plan.tasks:
            return
        try:
            found = demanded_start(self.desk.worked_out, self.task, self._moment())
        except HexapodError as error:
            self._answer.addWidget(label(str(error), "trouble", wrap=True))
            return
        frame, box = card()
        box.addWidget(label("Work must begin by", "small"))
        start = label(dates.long_day(found.start), "value")
        start.setObjectName("backStart")
        box.addWidget(start)
        if found.too_late_by:
            late = self.desk.length(found.too_late_by)
            box.addWidget(label(f"As things are planned it is done {late} too late.", "trouble", wrap=True))
        else:
            box.addWidget(label("As things are planned it can be done in time.", "muted", wrap=True))
        if found.start < today():
            days = (today() - found.start) // 1440
            box.addWidget(label(f"That was {count_of(days, 'day')} ago.", "trouble", wrap=True))
        self._answer.addWidget(frame)
        self._answer.addWidget(heading("Begins at the latest"))
        for latest in found.chain[:MOST_ROWS]:
            name = self.desk.plan.tasks[latest.task].name
            button = LineButton(f"{dates.short_day(latest.start)}  {name}")
            button.clicked.connect(lambda _, t=latest.task: self.desk.go_to(t))
            self._answer.addWidget(button)

    def save(self) -> None:
        from hexapod.schedule.planning_back import demanded_start

        assert self.task is not None
        found = demanded_start(self.desk.worked_out, self.task, self._moment())
        plan = self.desk.plan
        chain = [*(latest.task for latest in found.chain), *found.beside]
        self.desk.attempt(edits.plan_back(plan, self.task, found.at, chain))
        self.desk.told.emit(
            f"“{plan.tasks[self.task].name}” must finish by {dates.short_day(found.at)}; "
            f"what comes before it is as late as that allows, from {dates.short_day(found.start)} on.",
            "trouble" if found.too_late_by else "",
            True,
        )
