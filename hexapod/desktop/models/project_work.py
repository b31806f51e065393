"""What is on show of the project that is looked at: all of it, or one of its branches."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

if TYPE_CHECKING:
    from hexapod.desktop.models.desk import Desk


class ProjectWork(QObject):
    """``changed`` says that something else is looked at, or that more is known."""

    changed = pyqtSignal()

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self._desk = desk
        self.branch = ""

    @property
    def project(self) -> str | None:
        return self._desk.project if self._desk.project in self._desk.plan.projects else None

    @property
    def task(self) -> str | None:
        """The branch, None for the whole project."""
        task = self._desk.plan.tasks.get(self.branch)
        return None if task is None or task.project != self.project else task.id

    def branches(self) -> list[tuple[str, str]]:
        """What can be looked at alone: the top rows of the project that have rows below them, with their names."""
        plan, project = self._desk.plan, self.project
        tops = () if project is None else plan.children_of(project, None)
        return [(t, plan.tasks[t].name) for t in tops if plan.is_summary(t)]
