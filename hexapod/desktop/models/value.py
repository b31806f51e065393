"""Earned value as it is on show: of which project or branch, in hours or money, and what a figure is made of."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from PyQt6.QtCore import QTimer

from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.project_work import ProjectWork
from hexapod.desktop.models.works import EVERY_PROJECT
from hexapod.plan.records import DAY
from hexapod.worktime import clock

if TYPE_CHECKING:
    from hexapod.control.value import Value, Valuing
    from hexapod.desktop.models.desk import Desk
    from hexapod.plan.plan import Plan

MOST_POINTS = 60  # of the planned curve
READ_AFTER = 200  # milliseconds: the figures are on show before the history, which is large, is read beside them


@dataclass(frozen=True)
class Curves:
    """Points (moment, amount) of what was planned, earned and spent, and where it may end."""

    planned: tuple[tuple[int, int], ...]
    earned: tuple[tuple[int, int], ...]
    spent: tuple[tuple[int, int], ...]
    at: int
    end: int


class ValueWork(ProjectWork):
    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.measure = desk.memory.recall("value_in", str, "money")
        self.everything = False
        self.figure = "spi"
        self._valuing: tuple[Plan, str, Valuing] | None = None  # made once for a plan and a project
        self._value: tuple[Plan, object, Value] | None = None  # the last one, of which plan and of what
        self._told: dict[object, list] = {}  # by project and length of the history: what was earned by earlier dates
        self._is_reading = False
        self._soon = QTimer(self, singleShot=True, interval=READ_AFTER)
        self._soon.timeout.connect(self._read_earlier)

    def show(self, *, measure: str | None = None, branch: str | None = None, figure: str | None = None) -> None:
        if measure is not None:
            self.measure = measure
            self._desk.memory.keep("value_in", measure)
        if branch is not None:
            self.everything = branch == EVERY_PROJECT
            self.branch = "" if self.everything else branch
        self.figure = self.figure if figure is None else figure
        self.changed.emit()

    def at(self, project: str) -> int:
        """The status date of a project, else the end of today."""
        status = self._desk.plan.projects[project].status_date
        return (clock.now() // DAY + 1) * DAY if status is None else status

    def _valued(self, project: str) -> Valuing:
        from hexapod.control.value import Valuing

        plan, ledger = self._desk.plan, self._desk.hours.ledger
        if self._valuing is None or self._valuing[0] is not plan or self._valuing[1] != project:
            last = max(self.at(project), clock.now() + 366 * DAY)
            self._valuing = (plan, project, Valuing.of(plan, project, ledger, last))
        return self._valuing[2]

    def value(self) -> Value | None:
        """Of the project on show, or of its branch."""
        from hexapod.control.planned_value import Measure
        from hexapod.control.value import of_branch

        project, plan = self.project, self._desk.plan
        if project is None or not plan.is_whole:
            return None
        at, key = self.at(project), (project, self.measure, self.task)
        known = self._value
        if known is None or known[0] is not plan or known[1] != (*key, at):
            valuing = self._valued(project)
            found = valuing.at(at, Measure(self.measure), valuing.parts())
            found = found if self.task is None else of_branch(plan, found, self.task)
            self._value = known = (plan, (*key, at), found)
        return known[2]

    def values(self) -> list[Value]:
        """Of every project that has a baseline, each at its own status date."""
        from hexapod.control.planned_value import Measure
        from hexapod.control.value import Valuing

        plan, ledger, measure = self._desk.plan, self._desk.hours.ledger, Measure(self.measure)
        found = []
        for project in (p.id for p in plan.projects_in_order() if not p.archived):
            at = self.at(project)
            valuing = Valuing.of(plan, project, ledger, at)
            found.append(valuing.at(at, measure, valuing.parts()))
        return found

    # Curves

    def curves(self) -> Curves | None:
        """Of the project on show or its branch; what was earned before comes when the history was read."""
        from hexapod.control.planned_value import Measure

        value, project, plan = self.value(), self.project, self._desk.plan
        if value is None or project is None:
            return None
        valuing, measure, task = self._valued(project), Measure(self.measure), self.task
        planned = valuing.planned
        inside = None if task is None else set(plan.branch(task))
        if planned is not None and inside is not None:
            planned = planned.among(inside)
        if planned is None or planned.end is None:
            return None
        begin = min(planned.begin, int(planned.start.min()))
        end = max(planned.end, value.at, value.finish or 0)
        step = max(DAY, -(-(end - begin) // MOST_POINTS // DAY) * DAY)
        moments = sorted({*range(begin // DAY * DAY, end, step), planned.end, end})
        pv = tuple((m, planned.total(m, measure)) for m in moments)
        until_now = [*(m for m in moments if m < value.at), value.at]
        spent = list(zip(until_now, valuing.spent_totals(until_now, measure, inside), strict=True))
        earned = [(begin, 0)]
        for moment, parts in self._earlier(project):
            if moment < value.at:
                earned.append((moment, valuing.earned_total(moment, measure, parts, inside)))
        if value.whole.ev is not None:
            earned.append((value.at, value.whole.ev))
        return Curves(pv, tuple(earned), tuple(spent), value.at, end)

    @property
    def has_read(self) -> bool:
        """Whether what was earned before is known."""
        return bool(self._told) and not self._is_reading

    def _earlier(self, project: str) -> list[tuple[int, dict[str, int]]]:
        """Status dates with the earned parts that were told then; read from the history beside the interface."""
        session = self._desk.session
        key = (project, session.mark)
        if key in self._told:
            return self._told[key]
        if not self._is_reading and self._desk.past is None:
            self._is_reading = True
            self._soon.start()
        return []

    def _read_earlier(self) -> None:
        """What was earned by earlier dates, of the project on show now."""
        project, session = self.project, self._desk.session
        if project is None or self._desk.past is not None:
            self._is_reading = False
            return
        key = (project, session.mark)
        plan, valuing = session.plan, self._valued(project)

        def work() -> object:
            from hexapod.control.value_history import told_plans

            past = ((row.moment, found) for row, found in session.past())
            return [(at, valuing.parts(was)) for at, was in told_plans(plan, project, past)]

        def show(found: object) -> None:
            self._is_reading = False
            self._told = {key: found}  # type: ignore[dict-item]
            self.changed.emit()

        in_background(self, work, show, lambda error: setattr(self, "_is_reading", False))
