"""Is the plan sound: each check with its threshold and source, and its rows a press away."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout

from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import LineButton, heading, label

MOST_ROWS = 30  # of one finding


class SoundnessPage(Page):
    """Worked out beside the interface whenever the plan changes while it is on show."""

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk, "Soundness")
        self.opened: set[str] = set()
        self._found: list = []  # type: ignore[type-arg]  # Finding; its module brings numba
        self._of: object = None
        for signal in (desk.changed, desk.computed, desk.looked_at_changed):
            signal.connect(self.refresh)

    def fill(self) -> None:
        self.box.addWidget(label("Soundness", "title"))
        project = self.desk.project
        if not self.desk.is_computed or project is None:
            self.box.addWidget(label("There is nothing to check yet.", "muted"))
            return
        schedule = self.desk.worked_out
        if self._of != (id(schedule), project):
            self.box.addWidget(label("Checking…", "muted"))

            def work() -> object:
                from hexapod.control.soundness import soundness

                return soundness(schedule, project)

            def show(found: object) -> None:
                self._found, self._of = found, (id(schedule), project)  # type: ignore[assignment]
                self.refresh_now()

            in_background(self, work, show, lambda error: self.desk.told.emit(str(error), "trouble", False))
            return
        failed = [f for f in self._found if not f.passed]
        count = f"{len(failed)} of {len(self._found)} checks ask for a look" if failed else "Every check passes"
        self.box.addWidget(label(f"{count}.", "muted", wrap=True))
        for finding in failed:
            self._fill_failed(finding)
        self.box.addWidget(heading("In order"))
        for finding in self._found:
            if finding.passed:
                self.box.addWidget(label(f"{finding.title}: {finding.outcome}", "muted", wrap=True))

    def _fill_failed(self, finding) -> None:  # type: ignore[no-untyped-def]
        line = QHBoxLayout()
        title = LineButton(f"{finding.title}: {finding.figure or finding.count}")
        title.setObjectName(f"finding.{finding.check}")
        title.clicked.connect(lambda: self._toggle(finding.check))
        line.addWidget(title, 1)
        self.box.addSpacing(6)
        self.box.addLayout(line)
        self.box.addWidget(label(finding.why, wrap=True))
        self.box.addWidget(label(f"Allowed: {finding.threshold}. {finding.source}.", "small", wrap=True))
        if finding.check in self.opened:
            for task_id in finding.tasks[:MOST_ROWS]:
                task = self.desk.plan.tasks.get(task_id)
                if task is not None:
                    row = LineButton(f"   {task.name}")
                    row.clicked.connect(lambda _, t=task_id: self.desk.go_to(t))
                    self.box.addWidget(row)
            if len(finding.tasks) > MOST_ROWS:
                self.box.addWidget(label(f"and {len(finding.tasks) - MOST_ROWS} more", "muted"))

    def _toggle(self, check: str) -> None:
        """Show a finding's rows, and select them in the outline."""
        self.opened ^= {check}
        if check in self.opened:
            rows = next(f.tasks for f in self._found if f.check == check)
            here = [t for t in rows if t in self.desk.position]
            if here:
                self.desk.select(here, here[0])
        self.refresh_now()
