"""The tasks of projects on as few lanes as their dates allow: which projects are opened so, and what lies where."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING

from hexapod.control.status import leaves_by_project
from hexapod.desktop.dates import last_day, short_day
from hexapod.plan.records import Task
from hexapod.query.arranging import lanes
from hexapod.schedule.schedule import computed_dates

if TYPE_CHECKING:
    from hexapod.desktop.models.desk import Desk
    from hexapod.schedule.schedule import Schedule


class Tasks(StrEnum):
    """Of which projects the tasks are on show."""

    NONE = "none"  # of those that somebody opened
    ALL = "all"
    OPEN = "open"  # of all projects, what is not done


@dataclass(frozen=True)
class Lane:
    """Some tasks of a project side by side, from left to right."""

    project: str
    number: int
    tasks: tuple[str, ...]
    is_last: bool


class ProjectLanes:
    """``changed`` is called when other lanes are on show; ``task`` is the one that is looked at."""

    def __init__(self, desk: Desk, changed: Callable[[], object]) -> None:
        self._desk, self._changed = desk, changed
        self.shown = desk.memory.recall("projects_tasks", Tasks, Tasks.NONE)
        self.task = ""
        self._turned: set[str] = set()  # projects that are not as the others are
        self._known: dict[str, list[Lane]] = {}
        self._leaves: dict[str, list[Task]] = {}
        self._of: Schedule | None = None

    @property
    def dates(self) -> Schedule | None:
        """Those by which the lanes were packed."""
        return self._of

    def show(self, tasks: Tasks) -> None:
        self.shown = tasks
        self._turned.clear()
        self._known.clear()
        self._desk.memory.keep("projects_tasks", tasks.value)
        self._changed()

    def is_open(self, project: str) -> bool:
        return (self.shown is not Tasks.NONE) is not (project in self._turned)

    def turn(self, project: str) -> None:
        """Open or fold the tasks of one project."""
        self._turned ^= {project}
        self._changed()

    def look_at(self, task: str) -> None:
        if task != self.task:
            self.task = task
            self._changed()

    def of(self, project: str) -> list[Lane]:
        """The lanes of a project that is opened; none while no dates are known."""
        if not self.is_open(project):
            return []
        dates = computed_dates(self._desk.schedule)
        if self._of is not dates:
            self._of, self._known = dates, {}
            self._leaves = {} if dates is None else leaves_by_project(dates.plan)
        if dates is None:
            return []
        if project not in self._known:
            leaves = self._leaves.get(project, ())
            some = [t.id for t in leaves if not t.is_done or self.shown is not Tasks.OPEN]
            found = lanes(dates, some)
            self._known[project] = [
                Lane(project, i, tuple(tasks), i == len(found) - 1) for i, tasks in enumerate(found)
            ]
        return self._known[project]

    def words(self, task_id: str, *, brief: bool = False) -> str:
        """A task with its dates, where it is still there: ``Cases built · Mon 5 Oct to Fri 16 Oct · 60 %``; in brief
        ``Cases built · Fri 16 Oct``."""
        task, dates = self._desk.plan.tasks.get(task_id), self._of
        if task is None or dates is None or not dates.has(task_id):
            return ""
        found, done = (
            dates.dates(task_id),
            "done" if task.is_done else f"{round(task.percent)} %" if task.percent else "",
        )
        begin, end = short_day(found.start), last_day(found.finish)
        if brief:
            return f"{task.name} · {end}"
        return " · ".join(filter(None, (task.name, end if begin == end else f"{begin} to {end}", done)))
