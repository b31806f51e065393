"""At the side of a row: its approval, or asking for one."""

from __future__ import annotations

from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import LineButton, heading, label
from hexapod.desktop.telling.approval_part import STATES, ApprovalPart
from hexapod.plan.approvals import Approval


class ApprovalPage(Page):
    def __init__(self, desk: Desk) -> None:
        super().__init__(desk, "Approval")
        self._part = ApprovalPart(self, desk)
        self._asks_more: str | None = None  # the row of which something else is asked about
        for signal in (desk.changed, desk.past_changed, desk.looked_at_changed):
            signal.connect(self.refresh)

    def fill(self) -> None:
        plan, task = self.desk.plan, self.desk.current
        if task is None or task not in plan.tasks:
            self.box.addWidget(label("Approval", "title"))
            self.box.addWidget(label("Choose a row: who has to agree to it is said here.", "small", wrap=True))
            return
        found = [a for a in plan.approvals.values() if task == a.task]
        found = found or [a for a in plan.approvals.values() if task == a.work]
        more = self._part.subjects(task)
        if more and (not found or self._asks_more == task):
            self._part.fill_ask(task)
            return
        self._asks_more = None
        if len(found) == 1:
            self._part.fill(found[0])
        else:
            self._fill_several(sorted(found, key=lambda a: (a.asked, a.id)))
        if more:
            ask = LineButton("Ask about something else that it hands over…")
            ask.setObjectName("approvalMore")
            ask.setEnabled(not self.desk.is_read_only)
            ask.clicked.connect(lambda: self._ask_more(task))
            self.box.addWidget(ask)

    def _ask_more(self, task: str) -> None:
        self._asks_more = task
        self.refresh_now()

    def _fill_several(self, approvals: list[Approval]) -> None:
        """Each in a line, which leads to its milestone."""
        self.box.addWidget(heading("To be agreed to"))
        for approval in approvals:
            line = LineButton(f"{self.desk.plan.tasks[approval.task].name}: {STATES[approval.state].lower()}")
            line.clicked.connect(lambda _, t=approval.task: self.desk.go_to(t))
            self.box.addWidget(line)
