"""The register as it is on show, and what each risk is worth: worked out beside the interface."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace
from PyQt6.QtCore import pyqtSignal

from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.project_work import ProjectWork
from hexapod.errors import HexapodError
from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Plan
from hexapod.plan.risks import Risk, RiskKind, RiskState, mean_of, weight

if TYPE_CHECKING:
    from hexapod.desktop.models.desk import Desk
    from hexapod.schedule.schedule import Schedule

ROUNDS = 2000
MOST_DRAWN = 4_000_000  # tasks x rounds for each risk


class Scales(Struct, frozen=True):
    """Where the bands of the matrix begin, but for the first: chances 0 to 1, and days that a risk adds to a task."""

    chances: tuple[float, ...]
    days: tuple[float, ...]


USUAL_SCALES = Scales((0.05, 0.2, 0.5, 0.8), (1, 3, 8, 15))
KEPT_AS = "risk_scales"  # with the workspace


@dataclass(frozen=True)
class Worth:
    """What a risk adds to its project's sure date in minutes of work, and what it costs on average, in the smallest
    unit of money: as it stands, and with its answer taken."""

    added: int
    added_after: int
    cost: int
    cost_after: int

    def pays(self, answer_cost: int) -> bool | None:
        """Whether the answer saves more money than it costs; None where it also saves time: that is not ours to say."""
        if self.added_after < self.added:
            return None
        return self.cost - self.cost_after > answer_cost


class RisksWork(ProjectWork):
    """``editing`` is what the form is about; "" a new entry. ``form_asked`` asks for that form."""

    form_asked = pyqtSignal()

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.editing = ""
        self._worth: tuple[Schedule, object, dict[str, Worth]] | None = None
        self._working: tuple[Schedule, object] | None = None

    def rows(self) -> list[Risk]:
        """The entries of the project: open risks first, by what they are likely to add."""
        plan = self._desk.plan
        if not plan.is_whole or self.project is None:
            return []
        mine = [r for r in plan.risks.values() if r.project == self.project]
        kinds = list(RiskKind)
        return sorted(mine, key=lambda r: (r.state is not RiskState.OPEN, kinds.index(r.kind), -weight(r), r.name))

    def look_at(self, risk: str) -> None:
        self.editing = risk
        self.changed.emit()

    @property
    def chosen(self) -> Risk | None:
        return self._desk.plan.risks.get(self.editing) if self._desk.plan.is_whole else None

    @property
    def scales(self) -> Scales:
        """Those of the workspace."""
        found = self._desk.home.workspace.remembered(KEPT_AS, Scales, USUAL_SCALES)
        is_sound = all(len(each) == len(USUAL_SCALES.days) for each in (found.chances, found.days))
        return found if is_sound else USUAL_SCALES

    def set_scales(self, scales: Scales) -> None:
        self._desk.home.workspace.set_state(KEPT_AS, scales)
        self.changed.emit()

    # Edits

    def save(self, risk: Risk) -> None:
        """Add or change an entry. ``HexapodError`` where that is refused."""
        self._desk.attempt(edits.save_risk(self._desk.plan, risk))
        self.look_at(risk.id)

    def remove(self) -> None:
        self._do(lambda plan: edits.remove_risks(plan, [self.editing]))

    def take_answer(self, taken: bool) -> None:
        self._do(lambda plan: edits.take_answer(plan, self.editing, taken))

    def has_happened(self) -> None:
        """The risk is an issue from now on, and its likely delay goes into the plan: one edit."""
        risk = self.chosen
        if risk is not None:
            self._do(lambda plan: edits.risk_came(plan, risk.id))

    def make_task(self) -> None:
        """A row for what an action asks, below the selected one."""
        risk, desk = self.chosen, self._desk
        if risk is None or self.project is None:
            return
        made = edits.new_id()
        project = self.project
        self._do(lambda plan: edits.task_of_action(plan, risk.id, project, made))
        if made in desk.plan.tasks:
            desk.go_to(made)

    def _do(self, make: Callable[[Plan], Edit]) -> None:
        try:
            edit = make(self._desk.plan)
        except HexapodError as error:
            self._desk.told.emit(str(error), "trouble", False)
            return
        if self._desk.do(edit):
            self._desk.told.emit(f"{edit.words}.", "", True)
            self.changed.emit()

    # Worth

    def worth(self) -> dict[str, Worth] | None:
        """By risk of the project; None while it is worked out, or there are no dates yet."""
        from hexapod.schedule.schedule import computed_dates

        known, project = computed_dates(self._desk.schedule), self.project
        if known is None or project is None:
            return None
        chances = self._desk.chances
        share, key = chances.share, (project, chances.share)
        if self._worth is not None and self._worth[0] is known and self._worth[1] == key:
            return self._worth[2]
        if self._working is None or self._working[0] is not known or self._working[1] != key:
            self._working = (known, key)

            def show(found: object) -> None:
                self._worth = (known, key, found)  # type: ignore[assignment]
                self.changed.emit()

            def failed(error: Exception) -> None:
                self._working = None

            in_background(self, lambda: worth_of(known, project, share, lambda: chances.is_past(known)), show, failed)
        return None


def worth_of(dates: Schedule, project: str, share: float, is_stopped: Callable[[], bool]) -> dict[str, Worth]:
    """What each open risk of a project is worth, as it stands and with only its own answer taken."""
    from hexapod.outlook.chances import Outlook, added_by
    from hexapod.outlook.simulation import simulate
    from hexapod.schedule.engine import schedule

    found: dict[str, Worth] = {}
    plan = dates.plan
    rounds = max(200, min(ROUNDS, MOST_DRAWN // max(1, dates.network.size)))
    now = Outlook(simulate(dates, rounds, with_floats=False, is_stopped=is_stopped))
    for risk in plan.risks.values():
        if risk.project != project or not risk.may_happen:
            continue
        added = added_by(now, project, risk=risk.id, part=share, is_stopped=is_stopped)
        costs = [round(risk.chance_of(after=a) * mean_of(risk.cost_of(after=a))) for a in (False, True)]
        left = added
        if not risk.answered and (risk.chance_after is not None or risk.delays_after is not None):
            draft = plan.draft()
            draft.put(replace(risk, answered=True))
            then = Outlook(simulate(schedule(draft.finish()[0]), rounds, with_floats=False, is_stopped=is_stopped))
            left = added_by(then, project, risk=risk.id, part=share, is_stopped=is_stopped)
        found[risk.id] = Worth(added.sure, left.sure, costs[0], costs[1])
    return found
