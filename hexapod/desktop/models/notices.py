"""Notices, made beside the interface while a window is open and somebody wants them: a quiet minute after an edit, and
from time to time for what the clock brings."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec.structs import replace
from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from hexapod.desktop.models.background import in_background
from hexapod.notifying import WANTED, Made, Told, identity_of, make_notices
from hexapod.plan import edits
from hexapod.plan.notice_kinds import NoticeKind, NoticeWhen
from hexapod.plan.records import Resource
from hexapod.schedule.schedule import computed_dates
from hexapod.services.mail import Letter, Outbox, outbox_folder
from hexapod.system.files import shown
from hexapod.worktime import clock

if TYPE_CHECKING:
    from hexapod.desktop.models.desk import Desk

QUIET = 60_000  # milliseconds after an edit: what is undone at once is not told
FROM_TIME_TO_TIME = 30 * 60_000


class NoticesWork(QObject):
    """``changed`` says that there are other mails, or that notices are wanted or not."""

    changed = pyqtSignal()

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self._desk = desk
        self.last: Made | None = None
        self._is_working = False
        self._quiet = QTimer(self, singleShot=True, interval=QUIET)
        self._quiet.timeout.connect(self.make)
        self._often = QTimer(self, interval=FROM_TIME_TO_TIME)
        self._often.timeout.connect(self.make)
        self._often.start()
        desk.changed.connect(lambda _: self._quiet.start())
        desk.computed.connect(self._quiet.start)

    @property
    def wanted(self) -> bool:
        return self._desk.home.workspace.remembered(WANTED, bool, False)

    def want(self, on: bool) -> None:
        self._desk.home.workspace.set_state(WANTED, on)
        self.changed.emit()
        if on:
            self.make()

    @property
    def outbox(self) -> Outbox:
        session = self._desk.home
        return Outbox(outbox_folder(identity_of(session.identity(), session.workspace.path)))

    def letters(self) -> list[Letter]:
        return self.outbox.letters()

    def make(self, *, asked: bool = False) -> None:
        """Make what is due, where notices are wanted or somebody ``asked``."""
        desk = self._desk
        known = computed_dates(desk.home.schedule)
        if self._is_working or known is None or desk.home.workspace.read_only or not (asked or self.wanted):
            return
        self._is_working = True
        session, outbox, now = desk.home, self.outbox, clock.now()
        name = shown(session.workspace.path.stem)
        told = Told(known, tuple(session.history), session.plan_after, name, session.identity())

        def done(made: object) -> None:
            self._is_working = False
            assert isinstance(made, Made)
            self.last = made
            if asked or made.mails:
                count = len(made.mails)
                desk.told.emit(f"{count or 'No'} new notice{'' if count == 1 else 's'} in the outbox.", "", False)
            self.changed.emit()

        def failed(error: Exception) -> None:
            self._is_working = False
            desk.told.emit(str(error), "trouble", False)

        in_background(self, lambda: make_notices(told, outbox, outbox.folder, now), done, failed)

    def choose(self, person: Resource, kind: NoticeKind, when: NoticeWhen) -> None:
        """When somebody wants to be told of a kind."""
        others = tuple((k, w) for k, w in person.notices if k is not kind)
        kept = others if when is NoticeWhen.AT_ONCE else (*others, (kind, when))
        self._desk.do(edits.save_resource(self._desk.plan, replace(person, notices=kept)))

    def choose_days(self, person: Resource, days: int) -> None:
        """How many days ahead somebody is told of what is due."""
        self._desk.do(edits.save_resource(self._desk.plan, replace(person, due_days=days)))
