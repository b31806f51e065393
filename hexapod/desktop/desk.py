"""What is on the desk: the session, and what of it is being looked at. Views read here and are told once."""

from __future__ import annotations

from collections.abc import Iterable
from functools import cached_property

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from hexapod.desktop.background import in_background
from hexapod.desktop.gap import Gap
from hexapod.errors import HexapodError
from hexapod.plan.changes import Changes
from hexapod.plan.edits import Edit
from hexapod.plan.outline import Row, rows
from hexapod.plan.plan import Plan
from hexapod.schedule.schedule import Schedule
from hexapod.session import Applied, Session

MOVED_SHOWN = 5000  # milliseconds for which rows show by how much they moved


class Desk(QObject):
    """The state that views share. Every change of the plan goes through ``do`` or ``attempt``."""

    changed = pyqtSignal(object)  # Applied: the plan and its dates are new
    computed = pyqtSignal()  # the dates have been computed for the first time
    rows_changed = pyqtSignal()
    selection_changed = pyqtSignal()
    looked_at_changed = pyqtSignal()  # project, resource, period
    proposal_changed = pyqtSignal()
    moved_changed = pyqtSignal()
    told = pyqtSignal(str, str, bool)  # sentence, tone, whether undo is offered

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.folded: set[str] = set(session.workspace.state("folded") or ())
        self.project: str | None = self._first_project(session.workspace.state("project"))
        self.resource: str | None = None
        self.period: tuple[int, int] | None = None
        self.gap: Gap | None = None  # a row being typed between others
        self.rows: list[Row] = []
        self.position: dict[str, int] = {}
        self.selection: tuple[str, ...] = ()
        self.current: str | None = None
        self.proposal = None  # Proposal | None; its module brings numba, which may not be loaded yet
        self.ghost: Schedule | None = None
        self.moved: dict[int, tuple[int, int]] = {}
        self._load: _Load | None = None
        self._fade = QTimer(self, singleShot=True, interval=MOVED_SHOWN)
        self._fade.timeout.connect(self._forget_moved)
        self._keep = QTimer(self, singleShot=True, interval=3000)
        self._keep.timeout.connect(self._keep_dates)
        session.listen(self._on_applied)
        self._lay_out_rows()
        self.resource = next((r.id for r in self.plan.resources_in_order()), None)
        self._select_first()

    # Reading

    @property
    def plan(self) -> Plan:
        return self.session.plan

    @property
    def schedule(self) -> Schedule:
        return self.session.schedule

    @property
    def is_computed(self) -> bool:
        return self.session.is_computed

    @property
    def load(self) -> _Load | None:
        """Demand and overloads of the present dates; None until they are computed."""
        if not self.is_computed:
            return None
        if self._load is None or self._load.schedule is not self.schedule:
            self._load = _Load(self.schedule, self.plan, self._load)
        return self._load

    def selected(self) -> tuple[str, ...]:
        """Selected tasks that still exist, in the order of the screen."""
        return tuple(t for t in self.selection if t in self.plan.tasks)

    # The way to the door

    def attempt(self, edit: Edit) -> Applied | None:
        """Carry out an edit; a ``HexapodError`` is the caller's to show."""
        return self.session.apply(edit)

    def do(self, edit: Edit) -> bool:
        """Carry out an edit; a refusal is said where everything is said."""
        try:
            return self.session.apply(edit) is not None
        except HexapodError as error:
            self.told.emit(str(error), "trouble", False)
            return False

    def undo(self) -> None:
        self._again(self.session.undo)

    def redo(self) -> None:
        self._again(self.session.redo)

    def _again(self, step: object) -> None:
        try:
            step()  # type: ignore[operator]
        except HexapodError as error:
            self.told.emit(str(error), "trouble", False)

    def preview(self, edit: Edit) -> Schedule | None:
        """The dates as an edit would make them; None if it would be refused."""
        if not self.is_computed:
            return None
        from hexapod.schedule.engine import reschedule

        draft = self.plan.draft()
        try:
            edit.change(draft)
            plan, changes = draft.finish()
            return reschedule(self.schedule, plan, changes) if changes else self.schedule
        except HexapodError:
            return None

    # What is looked at

    def look_at_project(self, project: str | None) -> None:
        if project != self.project:
            self.project = project
            self.session.workspace.set_state("project", project)
            self._lay_out_rows()
            self.selection, self.current = (), None
            self._select_first()
            self.looked_at_changed.emit()
            self.selection_changed.emit()

    def look_at_resource(self, resource: str | None, period: tuple[int, int] | None = None) -> None:
        if (resource, period) != (self.resource, self.period):
            self.resource, self.period = resource, period
            self.looked_at_changed.emit()

    def select(self, tasks: Iterable[str], current: str | None) -> None:
        chosen = tuple(tasks)
        if (chosen, current) != (self.selection, self.current):
            self.selection, self.current = chosen, current
            self.selection_changed.emit()

    def go_to(self, task_id: str) -> None:
        """Select a task wherever it is: its project is shown and the summaries above it are unfolded."""
        task = self.plan.tasks.get(task_id)
        if task is None:
            return
        self.look_at_project(task.project)
        above = set(self.plan.ancestors(task_id)) & self.folded
        if above:
            self._set_folded(self.folded - above)
        self.select((task_id,), task_id)

    def open_gap(self, gap: Gap | None) -> None:
        """Make room for a row that is not there yet, or close it up again."""
        if gap != self.gap:
            self.gap = gap
            self._lay_out_rows()

    def fold(self, task_id: str, folded: bool) -> None:
        if self.plan.is_summary(task_id):
            self._set_folded(self.folded | {task_id} if folded else self.folded - {task_id})

    def fold_all(self, folded: bool) -> None:
        here = {row.task for row in rows(self.plan, self.project)} if self.project else set()
        summaries = {t for t in here if self.plan.is_summary(t)}
        self._set_folded(self.folded | summaries if folded else self.folded - summaries)

    def _set_folded(self, folded: set[str]) -> None:
        self.folded = folded
        self.session.workspace.set_state("folded", sorted(folded & set(self.plan.tasks)))
        self._lay_out_rows()

    # Levelling

    def propose(self, within_float: bool) -> None:
        """Look for a levelling proposal without blocking; it is shown when it is there."""
        if not self.is_computed:
            return
        now = self.schedule

        def work() -> object:
            from hexapod.staffing.levelling import level

            return level(now, within_float=within_float)

        def show(proposal: object) -> None:
            if now is self.schedule:
                self.show_proposal(proposal)

        in_background(self, work, show, lambda error: self.told.emit(str(error), "trouble", False))

    def show_proposal(self, proposal) -> None:  # type: ignore[no-untyped-def]
        self.proposal = proposal
        self.ghost = proposal.schedule if proposal is not None else None
        self.proposal_changed.emit()

    def show_ghost(self, ghost: Schedule | None) -> None:
        """Dates to show beside the present ones, as while dragging."""
        if ghost is not self.ghost:
            self.ghost = ghost
            self.moved_changed.emit()

    # Being told

    def compute(self) -> None:
        """Compute the dates without blocking; what the file remembered is shown until then."""

        def done(_: object) -> None:
            self.computed.emit()
            self._keep.start()

        in_background(self, self.session.compute, done, lambda e: self.told.emit(str(e), "trouble", False))

    def _on_applied(self, applied: Applied) -> None:
        is_elsewhere = self.project not in self.plan.projects
        if is_elsewhere:
            self.project = self._first_project(None)
        if self.resource not in self.plan.resources:
            self.resource = next((r.id for r in self.plan.resources_in_order()), None)
        if self.proposal is not None or self.ghost is not None:
            self.show_proposal(None)
        self.moved = applied.shift().by_slot()
        if is_elsewhere or _moves_rows(applied.changes):
            self._lay_out_rows()
        if is_elsewhere:
            self.looked_at_changed.emit()
        self.changed.emit(applied)
        self._fade.start()
        self._keep.start()

    def _lay_out_rows(self) -> None:
        self.rows = rows(self.plan, self.project, self.folded) if self.project else []
        if self.gap is not None:
            self.rows.insert(self.gap.index, Row("", self.gap.level, ""))
        self.position = {row.task: i for i, row in enumerate(self.rows)}
        self.rows_changed.emit()

    def _forget_moved(self) -> None:
        self.moved = {}
        self.moved_changed.emit()

    def _keep_dates(self) -> None:
        try:
            self.session.workspace.write_dates(self.schedule)
        except HexapodError as error:
            self.told.emit(str(error), "trouble", False)

    def _select_first(self) -> None:
        """Begin at the first row, so that the keyboard has somewhere to be."""
        if self.rows:
            self.selection, self.current = (self.rows[0].task,), self.rows[0].task

    def _first_project(self, wanted: object) -> str | None:
        projects = [p.id for p in self.session.plan.projects_in_order()]
        return wanted if wanted in projects else next(iter(projects), None)  # type: ignore[return-value]


class _Load:
    """Demand and overloads of one schedule."""

    def __init__(self, schedule: Schedule, plan: Plan, before: _Load | None) -> None:
        from hexapod.staffing.demand import Demand

        self.schedule = schedule
        self.demand = Demand.of(schedule, plan, before.demand if before else None)

    @cached_property
    def overloads(self) -> list:  # type: ignore[type-arg]
        from hexapod.staffing.overloads import overloads

        return overloads(self.schedule, self.demand)


def _moves_rows(changes: Changes) -> bool:
    """Whether rows came, went, or have another place or level."""
    return bool(changes.projects) or any(
        before is None
        or after is None
        or (before.parent, before.rank, before.project) != (after.parent, after.rank, after.project)
        for before, after in changes.tasks
    )
