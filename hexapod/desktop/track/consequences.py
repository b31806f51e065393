"""What the answers of a round do, below it at all times: finish, target, what is critical, late, overloaded."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QGridLayout

from hexapod.desktop import dates
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.round import RoundWork
from hexapod.desktop.parts import label
from hexapod.schedule.schedule import Schedule, computed_dates
from hexapod.schedule.slip import working_minutes
from hexapod.worktime.lengths import DAY_OF_WORK

NAMES = ("Finish", "To target", "Critical", "Late", "Overloads")


class Consequences(QFrame):
    """Now, and with the answers: each figure before and after, the after in brick where it is worse."""

    def __init__(self, desk: Desk, work: RoundWork) -> None:
        super().__init__()
        self.setProperty("role", "card")
        self.setObjectName("consequences")
        self._desk, self._work = desk, work
        grid = QGridLayout(self)
        grid.setContentsMargins(14, 8, 14, 8)
        grid.setHorizontalSpacing(18)
        grid.setVerticalSpacing(1)
        self._names = {}
        self._values = {}
        for i, name in enumerate(NAMES):
            self._names[name], self._values[name] = label(name, "small"), label("…", "value")
            self._values[name].setObjectName(f"round.{name}")
            self._values[name].setTextFormat(Qt.TextFormat.PlainText)
            grid.addWidget(self._names[name], 0, i)
            grid.addWidget(self._values[name], 1, i)
            grid.setColumnStretch(i, 3 if i < 2 else 2)
        work.changed.connect(self.refresh)
        desk.load_changed.connect(self.refresh)

    def refresh(self) -> None:
        project, before = self._desk.plan.projects.get(self._work.project), computed_dates(self._desk.schedule)
        outlook = self._work.outlook
        if project is None or before is None or outlook is None:
            for value in self._values.values():
                value.setText("…")
            return
        after = outlook.after
        if after.project_finish[project.id] is None:  # it has no tasks
            self._values["Finish"].setText("–")
        else:
            self._show("Finish", before, after, lambda s: s.project_finish[project.id] or 0, dates.long_day)
        target = project.target_finish
        by = "" if target is None else f", {dates.short_day(target)}"
        self._names["To target"].setText(f"To target{by}")
        if target is None:
            self._values["To target"].setText("none set")
        else:
            self._show("To target", before, after, lambda s: self._beyond(s, project.id, target), _target_words)
        self._show("Critical", before, after, lambda s: _count(s, project.id, s.critical), str)
        self._show("Late", before, after, lambda s: _count(s, project.id, s.standing.late >= 0), str)
        self._show_overloads(after)

    def _show(
        self,
        name: str,
        before: Schedule,
        after: Schedule,
        figure: Callable[[Schedule], int],
        words: Callable[[int], str],
    ) -> None:
        self._say(name, figure(before), figure(after), words)

    def _say(self, name: str, was: int, now: int, words: Callable[[int], str]) -> None:
        text = words(now) if was == now else f"{words(was)} → {words(now)}"
        value = self._values[name]
        value.setText(text)
        role = "trouble" if now > was else "value"
        if value.property("role") != role:
            value.setProperty("role", role)
            value.style().polish(value)

    def _show_overloads(self, after: Schedule) -> None:
        now = self._desk.load
        then = self._desk.load_of(after) if now is not None else None
        if now is None or then is None:
            self._values["Overloads"].setText("…" if now is None else str(len(now.overloads)))
            return
        self._say("Overloads", len(now.overloads), len(then.overloads), str)

    def _beyond(self, schedule: Schedule, project: str, target: int) -> int:
        """Working days by which the finish lies after the target; before it is less than none."""
        finish = schedule.project_finish[project]
        calendar = schedule.plan.projects[project].calendar
        minutes = 0 if finish is None else working_minutes(schedule, calendar, target, finish)
        return -(-minutes // DAY_OF_WORK)


def _target_words(days: int) -> str:
    return f"{days} d late" if days > 0 else f"{-days} d to spare" if days else "met"


def _count(schedule: Schedule, project: str, flags: np.ndarray) -> int:
    network = schedule.network
    mine = (network.tasks.project == network.projects.index(project)) & (network.structure.leaf[: network.size] == 1)
    return int((mine & (np.asarray(flags[: network.size]) > 0)).sum())
