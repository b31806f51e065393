"""Drift as it is on show: from which baseline, of which finish, and what made it; the history is replayed beside."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from PyQt6.QtCore import pyqtSignal

from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.project_work import ProjectWork
from hexapod.errors import EditRefused, HexapodError
from hexapod.plan import edits
from hexapod.plan.accounts import Baseline
from hexapod.schedule.drifting import minutes_between, reference_of
from hexapod.schedule.schedule import Schedule, computed_dates
from hexapod.session import Session
from hexapod.worktime import clock

if TYPE_CHECKING:
    from hexapod.control.drift import DriftPart, Replay
    from hexapod.desktop.models.desk import Desk


@dataclass(frozen=True)
class Finish:
    """A finish then and now: of a milestone, or of the whole project, whose ``target`` is its own id. ``drift`` is
    working minutes; what is not in the baseline has no ``then``."""

    target: str
    name: str
    then: int | None
    now: int
    drift: int | None


class DriftWork(ProjectWork):
    """``progressed`` says how much of the history is replayed, 0 to 1."""

    progressed = pyqtSignal(float)

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.target = ""
        self.replay: Replay | None = None
        self._known: object = None  # of what the replay was made
        self._goes_on = False
        self.progressed.connect(self.changed)  # not by a lambda, which would outlive it
        self.part = 0.0

    # What is looked at

    @property
    def baseline(self) -> Baseline | None:
        """What the project is measured against."""
        plan = self._desk.plan
        return None if self.project is None or not plan.is_whole else reference_of(plan, self.project)

    def finishes(self) -> list[Finish]:
        """The project's finish first, then its milestones in order."""
        from hexapod.control.baselines import finish_of, project_drift
        from hexapod.control.drift import milestones_of

        known, baseline, project = computed_dates(self._desk.schedule), self.baseline, self.project
        if known is None or project is None:
            return []
        plan = known.plan
        rows = {} if baseline is None else {row.task: row for row in baseline.tasks}
        found = []
        finish = known.project_finish.get(project)
        if finish is not None:
            then = None if baseline is None else finish_of(baseline)
            drift = None if baseline is None else project_drift(known, baseline)
            found.append(Finish(project, plan.projects[project].name, then, finish, drift))
        for task in milestones_of(plan, project):
            now = int(known.finish[known.slots[task]])
            row = rows.get(task)
            moved = known.drifts.get(task)
            then = None if row is None else row.finish
            found.append(Finish(task, plan.tasks[task].name, then, now, None if moved is None else moved.finish))
        return found

    def look_at(self, target: str) -> None:
        self.target = target
        self.changed.emit()

    def chosen(self) -> Finish | None:
        """The finish that is looked at: the project's, where it is none of these."""
        rows = self.finishes()
        return next((row for row in rows if row.target == self.target), rows[0] if rows else None)

    # What made it

    def parts(self) -> list[DriftPart] | None:
        """The edits that made the drift of the finish that is looked at; None as long as the history is replayed."""
        from hexapod.control.drift import drift_parts

        row, found, known = self.chosen(), self.replay, computed_dates(self._desk.schedule)
        if row is None or found is None or known is None or row.then is None or row.target not in found.targets:
            return None
        return drift_parts(known, found, row.target, row.then)

    def trends(self) -> list[tuple[Finish, list[tuple[int, int]]]]:
        """Where each milestone was expected, day by day."""
        from hexapod.control.drift import trend

        found = self.replay
        if found is None:
            return []
        return [(row, trend(found, row.target)) for row in self.finishes() if row.target in found.targets]

    def look(self) -> None:
        """Replay the history beside the interface, unless it is known already."""
        session, project = self._desk.session, self.project
        if project is None or not self._desk.is_computed or self._goes_on or self._desk.past is not None:
            return
        targets = [row.target for row in self.finishes()]
        known = (project, session.mark, self.baseline, tuple(targets))
        if known == self._known:
            return
        self._goes_on, self.part = True, 0.0
        plan, baseline = session.plan, self.baseline

        def report(part: float) -> bool:
            if self._goes_on:
                self.part = part
                self.progressed.emit(part)
            return self._goes_on

        def work() -> object:
            from hexapod.control.drift import replay

            return replay(plan, _past(session), targets, since=baseline, goes_on=report)

        def show(found: object) -> None:
            self._goes_on, self._known = False, known
            self.replay = found  # type: ignore[assignment]
            self.changed.emit()

        def failed(error: Exception) -> None:
            self._goes_on = False
            self._known = known  # not again before something changed
            if isinstance(error, HexapodError):
                self.changed.emit()
            self._desk.told.emit(str(error), "", False)

        in_background(self, work, show, failed)

    @property
    def is_working(self) -> bool:
        return self._goes_on

    def stop(self) -> None:
        """Do not wait for the history any longer."""
        self._goes_on = False

    def measured(self, target: str, begin: int, end: int) -> int:
        """Working minutes between two finishes of a target."""
        import numpy as np

        from hexapod.control.drift import calendar_of

        known = self._desk.worked_out
        found = minutes_between(known, np.array([calendar_of(known, target)]), np.array([begin]), np.array([end]))
        return int(found[0])

    # Baselines

    def keep(self, name: str) -> None:
        """Keep the plan of today. ``HexapodError`` where that is refused."""
        from hexapod.control.baselines import baseline_of

        if self.project is None:
            raise EditRefused("There is no project to keep a baseline of.")
        baseline = baseline_of(self._desk.worked_out, self.project, edits.new_id(), name, clock.now())
        self._desk.attempt(edits.keep_baseline(self._desk.plan, baseline))

    def keep_of(self, day_end: int, name: str) -> None:
        """Keep the plan as it was at the end of an earlier day, out of the history; worked out beside the interface."""
        session, project = self._desk.session, self.project
        before = [row for row in session.history if row.moment < day_end]
        if project is None or not before:
            raise EditRefused("The history begins later than that.")
        row = before[-1]

        def work() -> object:
            from hexapod.control.baselines import baseline_of
            from hexapod.schedule.engine import schedule

            plan = session.plan_after(row.number)
            if project not in plan.projects:
                raise EditRefused("The project was not there yet on that day.")
            found: Schedule = schedule(plan)
            return baseline_of(found, project, edits.new_id(), name, row.moment)

        def keep(found: object) -> None:
            self._desk.do(edits.keep_baseline(self._desk.plan, found))  # type: ignore[arg-type]

        in_background(self, work, keep, lambda error: self._desk.told.emit(str(error), "trouble", False))

    def measure_from(self, baseline: str | None) -> None:
        if self.project is not None:
            self._desk.do(edits.measure_from(self._desk.plan, self.project, baseline))


def _past(session: Session):  # type: ignore[no-untyped-def]
    return ((row, row.moment, changes) for row, changes in session.past())
