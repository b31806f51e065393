"""The round that is under way: its date, its answers, and what they do. What is not taken yet is kept with the file."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import TYPE_CHECKING, NamedTuple

import msgspec
from PyQt6.QtCore import QObject, pyqtSignal

from hexapod.control.round import AS_PLANNED, Answer, Question, What, questions, round_edit
from hexapod.desktop.models.one_at_a_time import OneAtATime
from hexapod.desktop.models.outlook import Effect, Outlook, Round, outlook_of
from hexapod.errors import HexapodError
from hexapod.plan.changes import Changes
from hexapod.plan.edits import together
from hexapod.plan.outline import stream_of
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY, Project, Task
from hexapod.plan.telling import told_of
from hexapod.schedule.schedule import computed_dates
from hexapod.worktime import clock
from hexapod.worktime.calendars import Window, find_calendar
from hexapod.worktime.days import days_of

if TYPE_CHECKING:
    from hexapod.control.winning_back import Way
    from hexapod.desktop.models.desk import Desk

AT_ONCE = 3000  # tasks of which an answer is worked out within a frame
WEEK = 7 * DAY
MOST_ROWS = 500  # of the history that are looked at for what was told
EVERYBODY = ("all", "")
NOTHING_TOLD = (0.0, None, None, None)


class Draft(msgspec.Struct, omit_defaults=True):
    """What is kept of a round. One that was ``taken`` is shown again only when that is undone."""

    at: int
    answers: dict[str, Answer] = {}
    taken: bool = False


class RoundWork(QObject):
    """``changed`` says that a question, an answer or what they do is another."""

    changed = pyqtSignal()

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self._desk = desk
        self.project = ""
        self._status: int | None = None  # up to when the project was told
        self.at = 0
        self.scope = EVERYBODY
        self.answers: dict[str, Answer] = {}
        self.asked: list[Question] = []
        self._round: Round | None = None  # all of the project, whoever is asked
        self.told: dict[str, Answer] = {}  # what people told since the last round
        self.outlook: Outlook | None = None
        self.ways: list[Way] = []  # to win time back, carried out with the round
        self._working = OneAtATime(self, self._work)
        self.is_watched: Callable[[], bool] = lambda: False  # until then it waits
        self._taking = ""  # the words of the edit that takes it, until that is carried out
        self._told_in: dict[int, Telling] = {}  # by row of the history
        for signal in (desk.changed, desk.computed, desk.looked_at_changed):
            signal.connect(lambda *_: self._on_change())

    def _on_change(self) -> None:
        last = self._desk.last
        if self._taking and last is not None and last.words == self._taking:
            self._is_taken()
        if self.is_watched():
            self.follow()

    # What is asked

    def follow(self) -> None:
        """The plan or the project on show is another."""
        desk = self._desk
        shown = desk.plan.projects.get(desk.project or "")
        status = None if shown is None else shown.status_date
        if (desk.project or "") != self.project:
            self.project, self.scope = desk.project or "", EVERYBODY
            self._status = status
            self._recall()
        elif status != self._status:
            self._status = status
            self._recall()
        self._ask()

    def set_date(self, at: int) -> None:
        if at != self.at:
            self.at = at
            self._ask()
            self._keep()

    def set_scope(self, scope: tuple[str, str]) -> None:
        """Of whom, of which stream or of which branch it asks: a kind and a name, an id."""
        self.scope = scope
        self._ask()

    def scopes(self) -> list[tuple[tuple[str, str], str]]:
        """What a round may be limited to, and what it is called."""
        plan = self._desk.plan
        mine = [t for t in plan.tasks.values() if t.project == self.project]
        people = dict.fromkeys(r for t in mine for r in plan.assigned.get(t.id, ()))
        streams = sorted({stream_of(plan, t.id) for t in mine} - {""})
        branches = [t for t in plan.children_of(self.project, None) if plan.is_summary(t)] if self.project else []
        named = sorted((plan.resources[r].name, r) for r in people)
        return [
            (EVERYBODY, "Everybody"),
            *((("person", r), name) for name, r in named),
            *((("stream", s), s) for s in streams),
            *((("branch", t), plan.tasks[t].name) for t in branches),
        ]

    def _among(self) -> set[str] | None:
        plan, (kind, name) = self._desk.plan, self.scope
        if kind == "person":
            return {t for t in plan.tasks if name in plan.assigned.get(t, ())}
        if kind == "stream":
            return {t for t in plan.tasks if stream_of(plan, t) == name}
        return set(plan.branch(name)) if kind == "branch" and name in plan.tasks else None

    def _ask(self) -> None:
        if self.scope != EVERYBODY and self.scope not in dict(self.scopes()):
            self.scope = EVERYBODY  # whom or what it was limited to is gone
        known = computed_dates(self._desk.schedule)
        if known is None or self.project not in known.network.projects:
            self.asked, self.outlook, self._round = [], None, None
            self.changed.emit()
            return
        desk, among = self._desk, self._among()
        self.told = self._told_since()
        by_people = {*self.told, *(t for t, answer in self.answers.items() if answer.who)}
        everything = questions(known, self.project, self.at, by_people)
        self.asked = [q for q in everything if among is None or q.task in among]
        self.answers = {t: a for t, a in self.answers.items() if t in desk.plan.tasks}
        now = max(self.at, clock.now())
        self._round = Round(
            desk.plan, known, self.project, self.at, tuple(everything), frozenset(self.told), desk.session.who, now
        )
        self.outlook, self.ways = None, []
        self._work()

    # Answers

    def answer_of(self, task: str) -> Answer | None:
        """What is answered of a task, or what its people told."""
        return self.answers.get(task) or self.told.get(task)

    def answer(self, task: str, answer: Answer | None) -> None:
        """Answer of a task; None takes the answer back."""
        if answer is None:
            self.answers.pop(task, None)
        else:
            self.answers[task] = answer
        self.ways = []  # they were found for other answers
        self._keep()
        self._work()

    def lay(self, told: Mapping[str, Answer], *, over: bool = False) -> list[str]:
        """Put before the planner what people told, in the rounds of their tasks' projects. What the planner answered
        otherwise stays, unless it is laid ``over`` that; those tasks are returned."""
        workspace, plan = self._desk.session.workspace, self._desk.session.plan
        kept: list[str] = []
        for project in dict.fromkeys(plan.tasks[t].project for t in told):
            draft = self.draft_of(project)
            for task, answer in told.items():
                before = draft.answers.get(task)
                if plan.tasks[task].project != project or before == answer:
                    continue
                if before is not None and before.who != answer.who and not over:
                    kept.append(task)
                else:
                    draft.answers[task] = answer
            workspace.set_state(f"round.{project}", draft)
            if project == self.project:
                self.answers, self.ways = draft.answers, []
                self._ask()
        return kept

    def drop(self, task: str) -> None:
        """What was laid of a task is settled: it is not answered any more."""
        project = self._desk.plan.tasks[task].project
        if project == self.project:
            self.answer(task, None)
            return
        draft = self.draft_of(project)
        draft.answers.pop(task, None)
        self._desk.session.workspace.set_state(f"round.{project}", draft)

    def draft_of(self, project: str) -> Draft:
        """What is answered of a project so far."""
        if project == self.project:
            return Draft(self.at, dict(self.answers))
        found = self._desk.session.workspace.remembered(f"round.{project}", Draft, Draft(0))
        return Draft(0) if found.taken else found

    def turn(self, way: Way) -> None:
        """Take a way to win time back with the round, or not."""
        others = [each for each in self.ways if each.means is not way.means]
        self.ways = others if len(others) < len(self.ways) else [*others, way]
        self._work()

    @property
    def everything(self) -> tuple[Question, ...]:
        """What is asked of the whole project, whomever the round is limited to."""
        return () if self._round is None else self._round.asked

    def open_questions(self) -> list[Question]:
        return [q for q in self.asked if self.answer_of(q.task) is None]

    def rest_as_planned(self) -> None:
        """All that is open goes as planned."""
        for question in self.open_questions():
            self.answers[question.task] = AS_PLANNED
        self._keep()
        self._work()

    def take(self) -> bool:
        """Carry out the answers as one edit, which moves the status date."""
        desk = self._desk
        if self._round is None:
            return False
        asked = self._round.asked
        edit = round_edit(desk.plan, self.project, self.at, asked, self.answers, desk.session.who, clock.now())
        if self.ways:
            edit = together(edit.words, [edit, *(way.edit for way in self.ways)])
        self._taking = edit.words
        return desk.do(edit)  # it may have to be looked at first

    def _is_taken(self) -> None:
        self._desk.session.workspace.set_state(self._name, Draft(self.at, self.answers, taken=True))
        self._taking, self.answers, self.ways = "", {}, []

    def _told_since(self) -> dict[str, Answer]:
        """What was told of tasks since the status date was set, with the initials of who told it."""
        plan, session = self._desk.plan, self._desk.session
        found: dict[str, Answer] = {}
        for row in reversed(session.history[-MOST_ROWS:]):
            if row.number not in self._told_in:
                self._told_in[row.number] = _telling_of(session.workspace.read_changes(row.number))
            telling = self._told_in[row.number]
            if self.project in telling.dated:
                break
            for task_id, told in telling.told.items():
                task = plan.tasks.get(task_id)
                if task is not None and task.project == self.project and task_id not in found and told_of(task) == told:
                    found[task_id] = _as_answer(task, _initials(plan, row.who, session.who))
        return found

    # Kept until it is taken

    @property
    def _name(self) -> str:
        return f"round.{self.project}"

    def _keep(self) -> None:
        if self._desk.scenario is not None:
            return  # what is answered in a scenario is of no plan
        self._desk.session.workspace.set_state(self._name, Draft(self.at, self.answers))

    def _recall(self) -> None:
        draft = self._desk.session.workspace.remembered(self._name, Draft, Draft(0))
        status = self._status
        is_ahead = bool(draft.at) and (status is None or draft.at > status)
        kept = {t: a for t, a in draft.answers.items() if t in self._desk.plan.tasks}
        self.answers = kept if is_ahead or not draft.taken else {}
        self.at = draft.at if is_ahead else _next_date(self._desk, status)

    # What the answers do

    def _work(self) -> None:
        """Worked out at once in a small plan, beside the interface in a large one; the latest answers count."""
        desk = self._desk
        if self._round is None:
            self.changed.emit()
            return
        asked, answers, known = self._round, dict(self.answers), self.outlook
        ways = [way.edit for way in self.ways]
        if len(desk.plan.tasks) <= AT_ONCE:
            try:
                self.outlook = outlook_of(asked, answers, known, ways)
            except HexapodError as error:
                desk.told.emit(str(error), "trouble", False)
            self.changed.emit()
            return
        self.changed.emit()
        self._working.start(lambda: outlook_of(asked, answers, known, ways), self._found, self._failed)

    def _found(self, outlook: object) -> None:
        if isinstance(outlook, Outlook) and outlook.planned.base is self._desk.plan:
            self.outlook = outlook
        self._say_so()

    def _failed(self, error: Exception) -> None:
        self._desk.told.emit(str(error), "trouble", False)
        self._say_so()

    def _say_so(self) -> None:
        if not self._working.is_asked_again:  # else it is out of date already
            self.changed.emit()

    def effect_of(self, task: str) -> int | None:
        """By how many working minutes the answer of a task moves the finish; None where that is not known."""
        effect = self.effect(task)
        return None if effect is None else effect.finish

    def effect(self, task: str) -> Effect | None:
        """What the answer of a task does alone; None where that is not known."""
        answer = self.answers.get(task)
        if self.outlook is None or answer is None:
            return None
        return Effect(0) if answer == AS_PLANNED else self.outlook.effects.get((task, answer))


def _next_date(desk: Desk, status: int | None) -> int:
    """When the next round is likely to be: a week after the last one, at most the last day that was worked, and not
    before the project starts."""
    project = desk.plan.projects.get(desk.project or "")
    last = _last_worked(desk.plan, project, desk.read_date("today", ends=True))
    if status is None:
        return last if project is None else max(last, project.start)
    return min(status + WEEK, last) if last > status else status + WEEK


def _last_worked(plan: Plan, project: Project | None, today: int) -> int:
    """The same hour of the last day that a project's calendar works, up to today."""
    if project is None:
        return today
    last, calendar = today // DAY, find_calendar(plan.calendars, project.calendar)
    found = days_of(plan.calendars, calendar, Window(last - 13, last + 1))
    worked = [day for day, hours in found.items() if hours.working]
    return today if not worked else max(worked) * DAY + today % DAY


class Telling(NamedTuple):
    """What a row of the history told: of tasks, and of which projects it set the status date."""

    told: dict[str, tuple[float, int | None, int | None, int | None]]
    dated: frozenset[str]


def _telling_of(changes: Changes) -> Telling:
    told = {
        new.id: told_of(new)
        for old, new in changes.tasks
        if new is not None and (told_of(old) if old is not None else NOTHING_TOLD) != told_of(new)
    }
    dated = (new.id for old, new in changes.projects if old and new and old.status_date != new.status_date)
    return Telling(told, frozenset(dated))


def _as_answer(task: Task, who: str) -> Answer:
    if task.actual_finish is not None:
        return Answer(What.DONE, at=task.actual_finish, who=who)
    if task.actual_start is not None:
        return Answer(What.LEFT, amount=task.rest, who=who)
    return Answer(What.NOT_BEGUN, who=who)


def _initials(plan: Plan, who: str, me: str) -> str:
    """Of who told it; nothing where it was whoever takes the round."""
    if who == me:
        return ""
    known = next((r.initials for r in plan.resources.values() if who and who in (r.name, r.initials)), "")
    return known or "".join(word[0] for word in who.split())[:3].upper()
