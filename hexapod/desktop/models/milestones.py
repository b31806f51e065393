"""The milestones of all projects as they are on show: whose, of which month, and which were put away."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from hexapod.control.mine import MyMilestone, Reach
from hexapod.control.status import ProjectState
from hexapod.desktop.models.portfolio import month_of
from hexapod.desktop.models.put_away import PutAway
from hexapod.plan.records import Project
from hexapod.schedule.schedule import computed_dates

if TYPE_CHECKING:
    from hexapod.desktop.models.desk import Desk

EVERY, MINE, AWAY, DEPARTMENT = "every", "mine", "away", "department:"


@dataclass(frozen=True)
class MilestoneRow:
    """``drift`` is in working minutes since the baseline, None where it is not in one."""

    found: MyMilestone
    drift: int | None
    target: int | None


class MilestonesWork(QObject):
    """``changed`` says that others are on show. ``whose`` is one of the constants above, or one of them and a name."""

    changed = pyqtSignal()

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self._desk = desk
        self.whose, self.text = EVERY, ""
        self.month: int | None = None  # the day on which it begins
        self._away = PutAway(desk, "telling.away")
        desk.portfolio.changed.connect(self.changed)

    @property
    def is_known(self) -> bool:
        return self._desk.portfolio.summary is not None

    def look(self) -> None:
        """Those of the plan, where they are others now: they come with what is known of projects."""
        self._desk.portfolio.look()

    # What is on show

    def narrow(self, *, whose: str | None = None, text: str | None = None) -> None:
        self.whose = self.whose if whose is None else whose
        self.text = self.text if text is None else text
        self.changed.emit()

    def look_at_month(self, month: int | None) -> None:
        """Only those of a month; once more, and all of them are back."""
        self.month = None if month == self.month else month
        self.changed.emit()

    def choices(self) -> list[tuple[str, str]]:
        """Whose milestones can be asked for."""
        departments = sorted(
            {p.department for p in self._desk.plan.projects.values() if p.department}, key=str.casefold
        )
        return [(EVERY, "Every project"), (MINE, "Those that I lead"),
                *((f"{DEPARTMENT}{name}", name) for name in departments), (AWAY, "Put away")]  # fmt: skip

    def rows(self) -> list[MilestoneRow]:
        """Those on show: overdue, coming, and reached ones, the latest first."""
        return [self._row(m) for m in self._wanted() if self.month is None or month_of(m.at) == self.month]

    def months(self) -> list[tuple[int, int]]:
        """How many there are in each month from the first to the last: on which day it begins, and how many."""
        counts: dict[int, int] = {}
        for each in self._wanted():
            month = month_of(each.at)
            counts[month] = counts.get(month, 0) + 1
        return sorted(counts.items())

    def put(self, task: str, away: bool) -> None:
        """Shown no more, or again; the plan has it still."""
        self._away.put(task, away)
        self.changed.emit()

    def _wanted(self) -> list[MyMilestone]:
        """Those that were asked for, of every month; nobody waits for what is on hold."""
        tasks, away = self._desk.plan.tasks, self._away.tasks
        rows = (r for r in self._desk.portfolio.rows() if r.status.state is not ProjectState.ON_HOLD)
        found = (m for row in rows for m in row.marks if m.task in tasks and self._is_wanted(m.task, away))
        return sorted(found, key=lambda m: m.order)

    def _is_wanted(self, task_id: str, away: set[str]) -> bool:
        plan = self._desk.plan
        task, project = plan.tasks[task_id], plan.projects[plan.tasks[task_id].project]
        if (task_id in away) is not (self.whose == AWAY):
            return False
        if self.text and self.text.casefold() not in f"{task.name} {project.name}".casefold():
            return False
        return self._is_whose(project)

    def _is_whose(self, project: Project) -> bool:
        if self.whose == MINE:
            return bool(project.led_by) and project.led_by == self._desk.mine.me
        return not self.whose.startswith(DEPARTMENT) or project.department == self.whose.removeprefix(DEPARTMENT)

    def sure(self, row: MilestoneRow) -> int | None:
        """The date that is sure enough, where rounds say so; nothing of what was reached."""
        chances = self._desk.chances
        if chances.outlook is None or row.found.reach is Reach.REACHED:
            return None
        found = chances.outlook.of_task(row.found.task)
        return None if found is None else int(found.quantile(chances.share))

    def _row(self, found: MyMilestone) -> MilestoneRow:
        known = computed_dates(self._desk.schedule)
        drift = None if known is None else known.drifts.get(found.task)
        return MilestoneRow(found, None if drift is None else drift.finish, self._desk.plan.tasks[found.task].target)
