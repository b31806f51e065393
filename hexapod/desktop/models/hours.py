"""Hours as they are on show: whose week, which one, how they are added up; logging them, and the clock that runs."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from msgspec.structs import replace
from PyQt6.QtCore import QObject, pyqtSignal

from hexapod.control.worked import RunningClock, is_forgotten, log_edit, outside_words, stopped
from hexapod.desktop.models.works import EVERY_PROJECT
from hexapod.errors import BadText, HexapodError
from hexapod.fields.hours_text import TypedLog, read_log, read_minutes
from hexapod.plan import edits
from hexapod.plan.accounts import Log, WeekKey, monday_of
from hexapod.plan.edits import Edit
from hexapod.plan.edits.hours import CLOSED
from hexapod.plan.records import DAY, ResourceKind
from hexapod.schedule.schedule import computed_dates
from hexapod.session import Applied
from hexapod.worktime import clock

if TYPE_CHECKING:
    from hexapod.control.efforts import Efforts
    from hexapod.control.hours import HoursRow
    from hexapod.control.ledger import Ledger
    from hexapod.control.weeks import TeamRow, Week
    from hexapod.desktop.models.desk import Desk

WEEK, TEAM, SPENT = "week", "team", "spent"
WEEKS = 5  # of a team at a glance


class HoursWork(QObject):
    """``changed`` says that another week, person or sum is looked at, ``clock_changed`` that a clock began or ended."""

    changed = pyqtSignal()
    clock_changed = pyqtSignal()

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self._desk = desk
        self.way = WEEK
        self.person = ""
        self.monday = monday_of(clock.now() // DAY)
        self.by = desk.memory.recall("hours_by", str, "branch")
        self.project = EVERY_PROJECT
        self.correcting = False  # what is typed in a closed week is a correction
        self.added: dict[WeekKey, list[str]] = {}  # rows that somebody put into a week that has no hours on them yet
        self._ledger: Ledger | None = None
        self._efforts: Efforts | None = None
        self._clocks: dict[str, RunningClock | None] = {}  # as the workspace has them, by the name they are kept under
        self._people: tuple[tuple[object, ...], list[str]] | None = None  # of what they were listed, and who they are
        desk.changed.connect(self._follow)

    def _follow(self, applied: Applied) -> None:
        if self._ledger is not None:
            self._ledger = self._ledger.after(self._desk.plan, applied.changes)

    # What is looked at

    def people(self) -> list[str]:
        """Whose weeks can be looked at: people, those with hours first."""
        from hexapod.control.weeks import people_who_log

        plan = self._desk.plan
        logging = self.ledger.people
        known = (logging, plan.sheet_of, plan.resources, plan.used_by)
        if self._people is None or any(a is not b for a, b in zip(self._people[0], known, strict=True)):
            first = people_who_log(plan, logging)
            others = [r.id for r in plan.resources_in_order() if r.kind is ResourceKind.PERSON and r.id not in first]
            self._people = (known, [*first, *others])
        return self._people[1]

    def whose(self) -> str:
        """The person whose week is on show; "" where there is nobody."""
        if self.person not in self._desk.plan.resources:
            me = self._desk.mine.me
            self.person = me if me in self._desk.plan.resources else next(iter(self.people()), "")
        return self.person

    def look_at(self, person: str | None = None, monday: int | None = None, way: str | None = None) -> None:
        self.person = self.person if person is None else person
        self.monday = self.monday if monday is None else monday
        self.way = self.way if way is None else way
        self.correcting = False
        self.changed.emit()

    def add_up(self, *, by: str | None = None, project: str | None = None) -> None:
        self.by = self.by if by is None else by
        self.project = self.project if project is None else project
        self._desk.memory.keep("hours_by", self.by)
        self.changed.emit()

    @property
    def ledger(self) -> Ledger:
        from hexapod.control.ledger import Ledger

        if self._ledger is None or self._ledger.plan is not self._desk.plan:
            self._ledger = Ledger.of(self._desk.plan)
        return self._ledger

    @property
    def efforts(self) -> Efforts | None:
        """What tasks are planned to take; None until the dates are there."""
        from hexapod.control.efforts import Efforts

        known = computed_dates(self._desk.schedule)
        if known is None:
            return None
        if self._efforts is None or self._efforts.schedule is not known:
            demand = None if self._efforts is None else self._efforts.demand
            self._efforts = Efforts.of(known, demand)
        return self._efforts

    def week(self) -> Week | None:
        """The week on show; None while there is nobody, or no dates."""
        from hexapod.control.weeks import WeekRow, week_of

        known, person = computed_dates(self._desk.schedule), self.whose()
        if known is None or not person:
            return None
        found = week_of(known, person, self.monday)
        there = {row.task for row in found.rows}
        more = [t for t in self.added.get((person, self.monday), ()) if t in known.plan.tasks and t not in there]
        if not more:
            return found
        from dataclasses import replace as with_fields

        return with_fields(found, rows=(*found.rows, *(WeekRow(t, ((),) * 7) for t in more)))

    def team(self) -> list[TeamRow]:
        from hexapod.control.weeks import people_who_log, team_weeks

        known = computed_dates(self._desk.schedule)
        if known is None:
            return []
        return team_weeks(known, people_who_log(known.plan, self.ledger.people), self.monday, WEEKS, clock.now() // DAY)

    def sums(self) -> list[HoursRow]:
        from hexapod.control.hours import By, hours_rows

        efforts = self.efforts
        if self.project not in self._desk.plan.projects:
            self.project = EVERY_PROJECT
        return [] if efforts is None else hours_rows(efforts, self.ledger, By(self.by), self.project)

    # Logging

    def add_row(self, task: str) -> None:
        """A task is put into the week on show, to log hours on."""
        rows = self.added.setdefault((self.whose(), self.monday), [])
        if task not in rows:
            rows.append(task)
        self.changed.emit()

    def log(self, task: str, person: str, typed: TypedLog) -> None:
        """Log hours as somebody. ``HexapodError`` where that is refused; what is odd is said and done."""
        plan = self._desk.plan
        if person not in plan.resources:
            raise BadText("Choose who worked: there is nobody with that name.")
        log = Log(edits.new_id(), task, person, typed.day, typed.minutes, typed.note, typed.percent, typed.remaining)
        plan.task(task)
        words = outside_words(plan, task, person, typed.day)
        if self._desk.attempt(log_edit(plan, [log], is_correction=typed.minutes < 0)) is not None and words:
            self._desk.told.emit(words, "", True)

    def put(self, task: str, day: int, text: str) -> None:
        """What was typed into a day of the week on show: the hours of that day in all, and perhaps a note.

        Nothing typed takes them out. ``HexapodError`` where it is refused.
        """
        plan, person = self._desk.plan, self.whose()
        plan.task(task)
        sheet = plan.sheet_in((person, self.monday))
        there = [plan.logs[x] for x in plan.logs_in.get((person, self.monday), ())]
        there = sorted((x for x in there if x.task == task and x.day == day), key=lambda x: x.id)
        typed = None if not text.strip() else self._read(task, day, text)
        if self.correcting and sheet is not None and sheet.state in CLOSED:
            by = (0 if typed is None else typed.minutes) - sum(x.minutes for x in there)
            note = "" if typed is None else typed.note
            if by:
                self._attempt(task, [Log(edits.new_id(), task, person, day, by, note)], is_correction=True)
        elif typed is None:
            if there:
                self._desk.attempt(edits.remove_logs(plan, [x.id for x in there]))
        elif typed.day != day or not there:
            said = (typed.minutes, typed.note, typed.percent, typed.remaining)
            self._attempt(task, [Log(edits.new_id(), task, person, typed.day, *said)])
        else:
            last = there[-1]
            minutes = last.minutes + typed.minutes - sum(x.minutes for x in there)
            if minutes <= 0:
                raise BadText(f"There are {len(there)} logs on that day; change them at the side, one by one.")
            said_of = {"percent": typed.percent, "remaining": typed.remaining}
            self._attempt(task, [replace(last, minutes=minutes, note=typed.note or last.note, **said_of)])

    def _read(self, task: str, day: int, text: str) -> TypedLog | None:
        try:
            if read_minutes(text) == 0:
                return None
        except BadText:
            pass
        return read_log(self._desk.columns.texts(), task, text, clock.now() // DAY, day=day)

    def _attempt(self, task: str, logs: list[Log], *, is_correction: bool = False) -> None:
        plan = self._desk.plan
        words = outside_words(plan, task, logs[0].resource, logs[0].day)
        is_new = logs[0].id not in plan.logs
        if self._desk.attempt(log_edit(plan, logs, is_correction=is_correction)) is not None and words and is_new:
            self._desk.told.emit(words, "", True)

    def remove(self, logs: Sequence[str]) -> None:
        self._do(lambda: edits.remove_logs(self._desk.plan, logs))

    # Sheets

    def hand_in(self) -> None:
        self._do(lambda: edits.hand_in(self._desk.plan, self._week, self._desk.session.who))

    def take_back(self) -> None:
        self._do(lambda: edits.take_sheet_back(self._desk.plan, self._week, self._desk.session.who))

    def approve(self, week: WeekKey | None = None) -> None:
        self._do(lambda: edits.approve(self._desk.plan, week or self._week, self._desk.session.who))

    def send_back(self, word: str) -> None:
        self._do(lambda: edits.send_back(self._desk.plan, self._week, self._desk.session.who, word))

    @property
    def _week(self) -> WeekKey:
        return (self.whose(), self.monday)

    def _do(self, make: object) -> None:
        try:
            edit: Edit = make()  # type: ignore[operator]
        except HexapodError as error:
            self._desk.told.emit(str(error), "trouble", False)
        else:
            self.correcting = False
            if self._desk.do(edit):
                self._desk.told.emit(f"{edit.words}.", "", True)

    # The clock

    @property
    def running(self) -> RunningClock | None:
        """My clock, if one runs; it goes on while the program is closed."""
        name = self._clock
        if name not in self._clocks:
            self._clocks[name] = self._desk.session.workspace.remembered(name, RunningClock | None, None)
        found = self._clocks[name]
        return found if found is None or found.task in self._desk.plan.tasks else None

    @property
    def _clock(self) -> str:
        return f"clock.{self._desk.mine.me}"

    def _keep_clock(self, running: RunningClock | None) -> None:
        self._clocks[self._clock] = running
        self._desk.session.workspace.set_state(self._clock, running)

    def start_clock(self, task: str) -> None:
        """Begin to count the time on a task; a clock that ran before is stopped, and its time is logged."""
        desk, me = self._desk, self._desk.mine.me
        if not me:
            desk.told.emit("Say first who you are: Mine, at the right above.", "trouble", False)
            return
        before = self.running
        if before is not None and before.task == task:
            desk.told.emit(f"The clock on “{desk.plan.tasks[task].name}” runs already.", "", False)
            return
        if before is not None and is_forgotten(before, clock.now()):
            name = desk.plan.tasks[before.task].name
            desk.told.emit(f"Another clock still runs, on “{name}”: say first how long that was.", "trouble", False)
            return
        if before is not None:
            self.stop_clock()
        self._keep_clock(RunningClock(task, clock.now()))
        self.clock_changed.emit()

    def stop_clock(self, minutes: int | None = None) -> None:
        """Stop my clock and log its time, or so many ``minutes``; 0 logs nothing."""
        desk, running = self._desk, self.running
        if running is None:
            return
        logs = stopped(desk.plan, desk.mine.me, running, clock.now(), minutes)
        try:
            if logs:
                desk.attempt(log_edit(desk.plan, logs))
        except HexapodError as error:
            desk.told.emit(str(error), "trouble", False)
            return  # it runs on: no minute is lost
        self._keep_clock(None)
        self.clock_changed.emit()
        if not logs:
            desk.told.emit("The clock is stopped; nothing was logged.", "", False)
