"""At the side of a row: its approval, or asking for one."""

from __future__ import annotations

from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import label
from hexapod.desktop.telling.approval_part import ApprovalPart


class ApprovalPage(Page):
    def __init__(self, desk: Desk) -> None:
        super().__init__(desk, "Approval")
        self._part = ApprovalPart(self, desk)
        for signal in (desk.changed, desk.past_changed, desk.looked_at_changed):
            signal.connect(self.refresh)

    def fill(self) -> None:
        plan, task = self.desk.plan, self.desk.current
        if task is None or task not in plan.tasks:
            self.box.addWidget(label("Approval", "title"))
            self.box.addWidget(label("Choose a row: who has to agree to it is said here.", "small", wrap=True))
            return
        found = next((a for a in plan.approvals.values() if task in (a.task, a.work)), None)
        if found is None:
            self._part.fill_ask(task)
        else:
            self._part.fill(found)
