"""What is on the desk: the session, and what of it is being looked at. Views read here and are told once."""

from __future__ import annotations

import contextlib
from collections.abc import Iterable
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from hexapod.desktop import dates
from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.columns import Columns
from hexapod.desktop.models.dates_kept import DatesKept
from hexapod.desktop.models.file_check import FileCheck
from hexapod.desktop.models.first_dates import FirstDates
from hexapod.desktop.models.gap import RowGap
from hexapod.desktop.models.guard import Guard
from hexapod.desktop.models.levelling import Levelling
from hexapod.desktop.models.load import Counts, Load
from hexapod.desktop.models.looks import Looks
from hexapod.desktop.models.memory import Memory
from hexapod.desktop.models.plans_shown import Past
from hexapod.desktop.models.previews import AT_ONCE, Previews
from hexapod.desktop.models.rows_on_show import RowsOnShow
from hexapod.desktop.models.staging import Staging
from hexapod.desktop.models.works import Works
from hexapod.errors import EditRefused, HexapodError
from hexapod.plan.edits import Edit
from hexapod.plan.partial import NotReadYet
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY, Link
from hexapod.plan.rowlist import Position, RowList
from hexapod.plan.telling import WHOLE
from hexapod.preparing import Prepared
from hexapod.query.views import Finished
from hexapod.schedule.schedule import Dates, Schedule, computed_dates
from hexapod.session import Applied, Session
from hexapod.store.history import HistoryRow
from hexapod.worktime.calendars import Window, find_calendar, units_of
from hexapod.worktime.days import days_of
from hexapod.worktime.lengths import USUAL, Units, format_length

if TYPE_CHECKING:
    from hexapod.scenarios import ScenarioSession

MOVED_SHOWN = 5000  # milliseconds for which rows show by how much they moved


class Desk(Works, QObject):
    """The state that views share. Every change of the plan goes through ``do`` or ``attempt``."""

    changed = pyqtSignal(object)  # Applied: the plan and its dates are new
    computed = pyqtSignal()  # the dates have been computed for the first time
    rows_changed = pyqtSignal()
    selection_changed = pyqtSignal()
    past_changed = pyqtSignal()
    home_changed = pyqtSignal()  # the plan, while a scenario is open
    looked_at_changed = pyqtSignal()  # project, resource, period
    proposal_changed = pyqtSignal()
    moved_changed = pyqtSignal()
    ghost_changed = pyqtSignal()
    link_asked = pyqtSignal(object)  # LinkKey: to be shown and changed
    load_changed = pyqtSignal()  # of a large plan: overloads and conflicts are known now
    told = pyqtSignal(str, str, bool)  # sentence, tone, whether undo is offered

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.home = session  # of the plan
        self.session = session  # of what is worked on: the plan, or a scenario of it
        if len(session.plan_so_far.tasks) <= AT_ONCE:
            _ = session.plan  # all of it is read within a frame
        self.memory = Memory(session)
        self.looks = Looks(self)
        self.columns = Columns(self)
        self.past: Past | None = None  # an earlier plan that is looked at
        self._project: str | None = self._first_project(self.memory.recall("project", str, ""))
        self.resource: str | None = None
        self.period: tuple[int, int] | None = None
        self.on_show = RowsOnShow(self)
        self.on_show.changed.connect(self.rows_changed)
        self.selection: tuple[str, ...] = ()
        self._selected: frozenset[str] = frozenset()
        self._selected_of: tuple[str, ...] | None = None
        self.current: str | None = None
        self.proposal = None  # Proposal | None; its module brings numba, which may not be loaded yet
        self.levelling = Levelling(self)
        self.guard = Guard(self)
        self.ghost: Schedule | None = None
        self.previews = Previews(self)
        self._counts = Counts(self)
        self.first_dates = FirstDates(self)
        self.staging = Staging(self)
        self.last: Applied | None = None
        self.moved: dict[str, tuple[int, int]] = {}
        self._fade = QTimer(self, singleShot=True, interval=MOVED_SHOWN)
        self._fade.timeout.connect(self._forget_moved)
        self.dates_kept = DatesKept(self)
        self._file_check = FileCheck(self)
        self.listen_to(session)
        self.on_show.search()
        self.resource = next((r.id for r in self.plan.resources_in_order()), None)
        self._select_first()

    def close(self) -> None:
        """Keep what waits to be kept, and close the session: that last, whatever goes wrong before."""
        with contextlib.ExitStack() as steps:
            steps.callback(self.home.close)
            steps.callback(self.on_show.keep)
            steps.callback(self.dates_kept.finish)
            steps.callback(self._file_check.finish)
            steps.callback(self.levelling.stop)
            steps.callback(self.stop_works)
            self.first_dates.finish()

    # Plan and scenarios

    @property
    def scenario(self) -> ScenarioSession | None:
        """The scenario that is open; None while it is the plan."""
        return None if self.session is self.home else self.session  # type: ignore[return-value]

    def listen_to(self, session: Session) -> None:
        """Follow the edits of a session, whether it is the one that is worked on or another."""
        session.listen(lambda applied: self._on_applied(applied) if session is self.session else self._on_home(session))

    def _on_home(self, session: Session) -> None:
        if session is self.home:
            self.home_changed.emit()

    def work_in(self, session: Session) -> None:
        """Everything is about another session from now on: the plan, or a scenario whose dates are computed."""
        for each in (self.staging, self.guard, self.levelling):
            each.forget()
        self.session = session
        self._show_past(None)

    @property
    def beside(self) -> Schedule | None:
        """The dates of the plan, to be drawn beside those of the scenario that is open."""
        if self.scenario is None or self.past is not None or not self.looks.shows_differences:
            return None
        return computed_dates(self.home.schedule)

    def sign_as(self, name: str) -> None:
        """Whose edits they are from now on."""
        self.home.who = self.session.who = name

    # Reading

    @property
    def plan(self) -> Plan:
        """What is known of the plan: of a large one links and assignments are read after the first picture."""
        return self.session.plan_so_far if self.past is None else self.past.plan

    @property
    def schedule(self) -> Dates:
        return self.session.schedule if self.past is None else self.past.schedule

    @property
    def worked_out(self) -> Schedule:
        """The dates with what they rest on, for what is only offered once they are computed; ``NotReadYet`` before."""
        found = computed_dates(self.schedule)
        if found is None:
            raise NotReadYet
        return found

    @property
    def rows(self) -> RowList:
        """What the screen shows, row by row."""
        return self.on_show.rows

    @property
    def position(self) -> Position:
        """At which row a task is."""
        return self.on_show.rows.position

    @property
    def folded(self) -> set[str]:
        return self.on_show.folded

    @property
    def gap(self) -> RowGap | None:
        return self.on_show.gap

    @property
    def is_read_only(self) -> bool:
        """Whether nothing can be changed: the file is open to read, or an earlier day is looked at."""
        return self.session.workspace.read_only or self.past is not None

    @property
    def is_computed(self) -> bool:
        return self.past is not None or self.session.is_computed

    @property
    def load(self) -> Load | None:
        """Demand and overloads of the present dates; None until they are computed, of a large plan until counted."""
        return self._counts.load() if self.is_computed else None

    def load_of(self, ghost: Schedule) -> Load | None:
        """Overloads and conflicts as a change would make them; None where counting them takes longer than a frame."""
        return self._counts.load_of(ghost)

    def is_driving(self, link: Link) -> bool:
        """Whether a link is part of the critical chain: both ends critical and no room between them."""
        return self._counts.is_driving(link)

    def percent(self, task_id: str) -> float:
        """How much of a task is done; of a summary by what is below it, once the dates are computed."""
        slot = self.schedule.slots.get(task_id)
        if not isinstance(self.schedule, Schedule) or slot is None or not self.plan.is_summary(task_id):
            return self.plan.tasks[task_id].percent
        return float(self.schedule.network.percents[slot])

    def is_struck(self, task_id: str) -> bool:
        """Whether a row is done and the view strikes such rows through."""
        return self.on_show.view.finished is Finished.STRUCK and self.percent(task_id) >= WHOLE

    def selected(self) -> tuple[str, ...]:
        """Selected tasks that still exist, in the order of the screen."""
        return tuple(t for t in self.selection if t in self.plan.tasks)

    def selected_set(self) -> frozenset[str]:
        """The selected tasks, to look up many; made once for each selection."""
        if self._selected_of is not self.selection:
            self._selected, self._selected_of = frozenset(self.selection), self.selection
        return self._selected

    def read_date(self, text: str, *, ends: bool = False) -> int:
        """A date as it was typed: its day's beginning, or (``ends``) when work ends on it in the project's calendar."""
        at = dates.read(text)
        project = self.plan.projects.get(self.project or "")
        if not ends or at % DAY or ":" in text:
            return at
        if project is None:
            return dates.read(text, ends=True)
        calendar = find_calendar(self.plan.calendars, project.calendar)
        day = days_of(self.plan.calendars, calendar, Window(at // DAY, at // DAY + 1))[at // DAY]
        return at + min(day.working[-1][1], DAY - 1) if day.working else at + dates.DAY_ENDS

    def length(self, minutes: int | None, task_id: str = "") -> str:
        """A length of work in days and hours of a task's project, or of the one on show; a dash for none."""
        return "–" if minutes is None else format_length(minutes, self.units(task_id))

    def units(self, task_id: str = "") -> Units:
        """How long a day and a week are in a task's project, or in the one on show."""
        task = self.plan.tasks.get(task_id)
        project = task.project if task is not None else self.project
        return units_of(self.plan, project) if project in self.plan.projects else USUAL

    # The way to the door

    def attempt(self, edit: Edit) -> Applied | None:
        """Carry out an edit; a ``HexapodError`` is the caller's to show. None if it waits to be looked at."""
        self._refuse_in_the_past()
        if self.first_dates.hold(edit):
            return None
        if self.staging.asks_first and self.is_computed:
            self.staging.show(edit)
            return None
        return self.commit(self.session.prepare(edit))

    def commit(self, prepared: Prepared) -> Applied | None:
        """Carry out an edit that is worked out already; None where the capacity guard stops it."""
        return None if self.guard.stops(prepared) else self.session.commit(prepared)

    def do(self, edit: Edit) -> bool:
        """Carry out an edit; a refusal is said where everything is said."""
        try:
            return self.attempt(edit) is not None
        except HexapodError as error:
            self.told.emit(str(error), "trouble", False)
            return False

    def _refuse_in_the_past(self) -> None:
        if self.past is not None:
            raise EditRefused(f"This is the plan of {self.past.words}. Go back to today to change it.")

    def undo(self) -> None:
        self._again(self.session.undo)

    def redo(self) -> None:
        self._again(self.session.redo)

    def _again(self, step: object) -> None:
        try:
            self._refuse_in_the_past()
            step()  # type: ignore[operator]
        except HexapodError as error:
            self.told.emit(str(error), "trouble", False)

    def preview(self, edit: Edit) -> Schedule | None:
        """The dates as an edit would make them; None as long as there are none. ``HexapodError`` if it would be
        refused."""
        if not self.is_computed:
            return None
        return computed_dates(self.session.prepare(edit).schedule)

    # What is looked at

    @property
    def project(self) -> str | None:
        """The project on show; None where the plan on show, which may be an earlier one, has not got it."""
        return self._project if self._project in self.plan.projects else None

    def look_at_project(self, project: str | None) -> None:
        if project != self.project:
            self._project = project
            self.memory.keep("project", project)
            self.on_show.look_elsewhere()
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
        if not self.on_show.view.everywhere:
            self.look_at_project(task.project)
        if task_id not in self.position and self.on_show.is_narrowed:
            self.on_show.widen()
        above = set(self.plan.ancestors(task_id)) & self.folded
        if above:
            self.on_show.set_folded(self.folded - above)
        self.select((task_id,), task_id)

    def open_gap(self, gap: RowGap | None) -> None:
        """Make room for a row that is not there yet, or close it up again."""
        self.on_show.open_gap(gap)

    def fold(self, task_id: str, folded: bool) -> None:
        if self.plan.is_summary(task_id):
            self.on_show.set_folded(self.folded | {task_id} if folded else self.folded - {task_id})

    def fold_all(self, folded: bool) -> None:
        here = self.on_show.outline().summary_tasks
        self.on_show.set_folded(self.folded | here if folded else self.folded - here)

    # The past

    def look_back(self, row: HistoryRow) -> None:
        """Look at the plan as it was after a row of the history; today's dates are shown beside it, as ghosts."""
        session = self.session

        def work() -> object:
            from hexapod.schedule.engine import schedule

            plan = session.plan_after(row.number)
            return Past(row, plan, schedule(plan))

        in_background(self, work, self._show_past, lambda error: self.told.emit(str(error), "trouble", False))

    def look_at_today(self) -> None:
        self._show_past(None)

    def _show_past(self, past: object) -> None:
        self.past = past  # type: ignore[assignment]
        self.proposal, self.moved = None, {}
        self.ghost = computed_dates(self.session.schedule) if past is not None else None
        if self.project not in self.plan.projects:
            self._project = self._first_project(None)
        self.on_show.look_elsewhere()
        self.select([t for t in self.selection if t in self.plan.tasks], self.current)
        for signal in (self.looked_at_changed, self.selection_changed, self.moved_changed, self.past_changed):
            signal.emit()

    # Levelling

    def propose(self, within_float: bool) -> None:
        """Look for a levelling proposal without blocking; it is shown when it is there."""
        self.levelling.propose(within_float)

    def show_proposal(self, proposal) -> None:  # type: ignore[no-untyped-def]
        if proposal is None:
            self.levelling.forget()
        self.proposal = proposal
        self.ghost = proposal.schedule if proposal is not None else None
        self.proposal_changed.emit()

    def show_ghost(self, ghost: Schedule | None) -> None:
        """Dates to show beside the present ones, as while dragging."""
        if ghost is not self.ghost:
            self.ghost = ghost
            self.ghost_changed.emit()

    # Being told

    def tell_error(self, error: Exception) -> None:
        self.told.emit(str(error), "trouble", False)

    def _on_applied(self, applied: Applied) -> None:
        is_elsewhere = self.project not in self.plan.projects
        if is_elsewhere:
            self._project = self._first_project(None)
        if self.resource not in self.plan.resources:
            self.resource = next((r.id for r in self.plan.resources_in_order()), None)
        if self.proposal is not None or self.ghost is not None:
            self.show_proposal(None)
        self.moved = applied.moved()
        self.last = applied
        self.staging.forget()
        self.guard.forget()
        if is_elsewhere:
            self.on_show.look_elsewhere()
            self.looked_at_changed.emit()
        else:
            self.on_show.on_applied(applied.changes)
        self.changed.emit(applied)
        self._fade.start()
        self.dates_kept.later()

    def _forget_moved(self) -> None:
        self.moved = {}
        self.moved_changed.emit()

    def _select_first(self) -> None:
        """Begin at the first row, so that the keyboard has somewhere to be."""
        first = next(iter(self.rows.tasks()[:1]), None) if len(self.rows) < 1000 else self.rows.task(0)
        if first:
            self.selection, self.current = (first,), first

    def _first_project(self, wanted: object) -> str | None:
        projects = [p.id for p in self.plan.projects_in_order()]
        return wanted if wanted in projects else next(iter(projects), None)  # type: ignore[return-value]
