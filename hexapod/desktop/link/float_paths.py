"""Float paths: the chain that drives the finish, and the ones that would drive it next."""

from __future__ import annotations

from hexapod.desktop import dates
from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import LineButton, heading, label
from hexapod.plan.outline import rows
from hexapod.plan.records import Project

PATHS = 3
MOST_LISTED = 60
NAMES = ("Drives the finish", "Next to drive it", "Third")


class FloatPathsPage(Page):
    def __init__(self, desk: Desk) -> None:
        super().__init__(desk, "Float paths")
        for signal in (desk.changed, desk.computed, desk.looked_at_changed):
            signal.connect(self.refresh)

    def fill(self) -> None:
        desk = self.desk
        self.box.addWidget(label("Float paths", "title"))
        if not desk.is_computed or desk.project is None:
            self.box.addWidget(label("There are no dates yet.", "muted"))
            return
        from hexapod.schedule.float_paths import float_paths

        for name, path in zip(NAMES, float_paths(desk.worked_out, desk.project, PATHS), strict=False):
            room = f", {desk.length(path.room)} of room" if path.room else ""
            self.box.addWidget(heading(f"{name}{room}"))
            for task_id in path.tasks:
                start = dates.short_day(desk.schedule.dates(task_id).start)
                button = LineButton(f"{start}  {desk.plan.tasks[task_id].name}")
                button.clicked.connect(lambda _, t=task_id: desk.go_to(t))
                self.box.addWidget(button)
        near = self._near_critical(desk.plan.projects[desk.project])
        self.box.addWidget(heading(f"Nearly critical: {len(near)}"))
        for task_id in near[:MOST_LISTED]:
            room = desk.length(desk.schedule.dates(task_id).total_float)
            button = LineButton(f"{desk.plan.tasks[task_id].name}, {room}")
            button.clicked.connect(lambda _, t=task_id: desk.go_to(t))
            self.box.addWidget(button)

    def _near_critical(self, project: Project) -> list[str]:
        """Tasks of a project that are not critical, and have little more float; the least first."""
        plan, schedule = self.desk.plan, self.desk.schedule
        here = [r.task for r in rows(plan, project.id) if schedule.has(r.task) and not plan.is_summary(r.task)]
        found = [(schedule.dates(t), t) for t in here]
        known = [(d.total_float, t) for d, t in found if not d.critical and d.total_float is not None]
        near = [(room, t) for room, t in known if room <= project.near_critical_float]
        return [t for _, t in sorted(near)]
