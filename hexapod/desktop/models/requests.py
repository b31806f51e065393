"""Requests as they are on show: taken in from a folder, looked at, answered with a word back, tried out beforehand."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from hexapod.desktop.models.watched_folder import WatchedFolder
from hexapod.errors import BadText, HexapodError
from hexapod.fields.field import Texts
from hexapod.plan import edits
from hexapod.plan.approvals import Approval, ApprovalState
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Plan
from hexapod.plan.requests import Request, requests_in_order
from hexapod.system.words import count_of
from hexapod.worktime import clock

if TYPE_CHECKING:
    from hexapod.desktop.models.desk import Desk
    from hexapod.formats.templates import Template


class RequestsWork(QObject):
    """``chosen`` is the request that is looked at, "" for none; ``is_new`` says that one is being typed. ``findings``
    are sentences about files of the folder that cannot be read. ``changed`` says that something of this is another."""

    changed = pyqtSignal()
    asked = pyqtSignal()  # the page at the side is wanted

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self._desk = desk
        self.chosen, self.is_new = "", False
        self.findings: list[str] = []
        self._folder = WatchedFolder(self, desk, "requests_folder")
        self._folder.wanted.connect(self.look)
        for signal in (desk.changed, desk.past_changed):
            signal.connect(self.changed)
        self._folder.watch()

    # What is on show

    def rows(self) -> list[Request]:
        return requests_in_order(self._desk.plan.requests.values())

    @property
    def request(self) -> Request | None:
        return self._desk.plan.requests.get(self.chosen)

    def look_at(self, request: str) -> None:
        if request != self.chosen:
            self.chosen, self.is_new = request, False
            self.changed.emit()

    def begin_new(self) -> None:
        """An empty form at the side."""
        self.chosen, self.is_new = "", True
        self.changed.emit()
        self.asked.emit()

    def approvals(self) -> list[Approval]:
        """Those that somebody still has to agree to, sent back ones first."""
        waiting = [a for a in self._desk.plan.approvals.values() if a.state is not ApprovalState.GIVEN]
        return sorted(waiting, key=lambda a: (a.state is not ApprovalState.SENT_BACK, a.asked, a.id))

    @property
    def approval(self) -> Approval | None:
        return self._desk.plan.approvals.get(self.chosen)

    def name_of(self, row: Request | Approval) -> str:
        """What a row of the list is called."""
        plan = self._desk.plan
        if isinstance(row, Approval):
            task = plan.tasks.get(row.task)
            return "" if task is None else f"{task.name} · {plan.projects[task.project].name}"
        became = self.project_of(row)
        return f"{row.name} · became “{became}”" if became and became != row.name else row.name

    def waits_for(self, approval: Approval) -> str:
        """Whose answer is waited for, or who said no."""
        refused = next((a.name for a in approval.answers if not a.yes), "")
        if refused:
            return f"no from {refused}"
        names = [self._desk.plan.resources[p].name for p in approval.turn]
        return ", ".join(names) or "nobody is left"

    def project_of(self, request: Request) -> str:
        """The name of the project that it became."""
        project = self._desk.plan.projects.get(request.project or "")
        return "" if project is None else project.name

    # The folder

    @property
    def folder(self) -> str:
        return self._folder.path

    def set_folder(self, folder: str) -> None:
        if self._folder.choose(folder):
            self.findings = []
            self.changed.emit()

    def write_forms(self) -> None:
        """A page and a table to ask by, in the folder."""
        from hexapod.formats.requests import PAGE, TABLE, request_page, request_table
        from hexapod.system.files import make_folder, write_whole

        folder = self._folder.place
        try:
            make_folder(folder)
            write_whole(folder / PAGE, request_page(self._desk.session.workspace.path.stem))
            write_whole(folder / TABLE, request_table())
        except HexapodError as error:
            self._desk.told.emit(str(error), "trouble", False)
            return
        self._folder.watch()
        self._desk.told.emit(f"“{PAGE}” and “{TABLE}” are in {folder}. Pass them on.", "", False)

    def look(self) -> None:
        """Take in what is new in the folder."""
        desk = self._desk
        if not self.folder or desk.is_read_only or desk.scenario is not None:
            return
        from hexapod.formats.requests import read_folder

        folder, now = self._folder.place, clock.now()
        known = {r.source for r in desk.plan.requests.values() if r.source}
        texts = Texts(desk.plan, desk.columns.dates)
        self._folder.read(lambda: read_folder(texts, folder, known, now), self._take, self._failed)

    def _failed(self, error: Exception) -> None:
        self.findings = [str(error) if isinstance(error, HexapodError) else "The folder could not be read."]
        self.changed.emit()

    def _take(self, found: object) -> None:
        fresh, self.findings = found  # type: ignore[misc]
        there = {r.source for r in self._desk.plan.requests.values()}
        fresh = [r for r in fresh if r.source not in there]
        if fresh and self._desk.do(edits.save_requests(self._desk.plan, fresh)):
            self._desk.told.emit(f"{count_of(len(fresh), 'request')} came in.", "", True)
        self.changed.emit()

    # Answering

    def save(self, request: Request) -> bool:
        """A request that was typed, or typed over."""
        done = self._desk.do(edits.save_requests(self._desk.plan, [request]))
        if done:
            self.look_at(request.id)
        return done

    def remove(self) -> None:
        if self.request is not None:
            self._desk.do(edits.remove_requests(self._desk.plan, [self.chosen]))

    def begin_to_look(self) -> None:
        self._answer(lambda who: edits.look_at_request(self._desk.plan, self.chosen, who))

    def decline(self, word: str) -> bool:
        plan, chosen = self._desk.plan, self.chosen
        if not self._answer(lambda who: edits.decline_request(plan, chosen, who, word, clock.now())):
            return False
        self._send_word()
        return True

    def accept(self, word: str, start: int, template: Plan | None) -> bool:
        """It becomes a project; whoever asked hears of it."""
        plan, chosen = self._desk.plan, self.chosen
        made = self._answer(
            lambda who: edits.accept_request(plan, chosen, who, word, clock.now(), start, template)[1]
        )  # fmt: skip
        if made:
            self._send_word()
        return made

    def try_out(self, start: int, template: Plan | None) -> bool:
        """Lay the wish against capacity: a scenario with the project that it would become."""
        desk, request = self._desk, self.request
        if request is None or desk.scenario is not None:
            return False
        try:
            note = f"What the request of {request.who or 'somebody'} would ask for."
            made = desk.scenarios.make(f"With “{request.name[:80]}”", note)
            plan = desk.scenarios.opened(made.id).plan
            desk.scenarios.carry_out(made.id, edits.project_of_request(plan, request, start, template)[1])
        except HexapodError as error:
            desk.told.emit(str(error), "trouble", False)
            return False
        return True

    def templates(self) -> list[Template]:
        """Those that a request can become a project of."""
        from hexapod.formats.templates import own_library, templates

        return [t for t in templates(own_library()) if t.plan is not None]

    def _answer(self, make: Callable[[str], Edit]) -> bool:
        try:
            edit = make(self._desk.session.who)
        except HexapodError as error:
            self._desk.told.emit(str(error), "trouble", False)
            return False
        return self._desk.do(edit)

    def _send_word(self) -> None:
        """Tell whoever asked, where there is an address, by the outbox."""
        request, desk = self.request, self._desk
        if request is None:
            return
        if not request.email:
            desk.told.emit(f"“{request.name}” is {request.state.value}. There is no address to say so.", "", True)
            return
        from hexapod.formats.mails import mail_with, recipients
        from hexapod.services.mail import Outbox, outbox_folder

        text = f"You asked for “{request.name}”. It is {request.state.value}.\n\n{request.word}\n\n{request.by}"
        try:
            identity = desk.session.identity()
            to, subject = recipients(desk.plan, request.email), f"Your request: {request.name}"
            mail = mail_with(to, subject, text, (), identity, datetime.now())
            Outbox(outbox_folder(identity)).send(mail)
        except BadText:
            desk.told.emit(f"“{request.name}” is {request.state.value}. “{request.email}” is no address.", "", True)
        except HexapodError as error:
            desk.told.emit(str(error), "trouble", False)
        else:
            desk.told.emit(f"“{request.name}” is {request.state.value}; the word back is in the outbox.", "", True)
