"""The round through a project at a date: its questions, and what the answers do."""

from __future__ import annotations

from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QWidget

from hexapod.desktop import dates
from hexapod.desktop.action import Registry
from hexapod.desktop.frame.part import Part
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import ActionButton, label
from hexapod.desktop.track.consequences import Consequences
from hexapod.desktop.track.round_table import RoundTable
from hexapod.errors import HexapodError
from hexapod.system.words import count_of

HOW = "Arrow keys walk it, Space is as planned. Type a date, a length of work left, a per cent, or “no: why”."


class RoundView(Part):
    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__(desk, registry, "round")
        self.work = desk.round
        self.table = RoundTable(desk, self.work)
        self.consequences = Consequences(desk, self.work)
        self._make_tools()
        box = self.column()
        box.insertLayout(0, self._make_question())
        box.addWidget(self._says)
        box.addWidget(self.table, 1)
        box.addWidget(self.consequences)
        self.setFocusProxy(self.table)
        self.main_part = self.table
        self.work.changed.connect(self.refresh)
        self.work.is_watched = self.isVisible

    def showEvent(self, event: QShowEvent) -> None:
        QWidget.showEvent(self, event)
        self.work.follow()

    def _make_tools(self) -> None:
        self._counts = label("", "small")
        self._counts.setObjectName("roundCounts")
        self.lead(self._counts)
        self._scope = self.choice("roundScope", "Whom it asks about", 0, self.work.set_scope)
        self._rest = QPushButton("As planned for the others")
        self._rest.setObjectName("roundRest")
        self._rest.clicked.connect(self.work.rest_as_planned)
        self._take = QPushButton("Take the round")
        self._take.setObjectName("roundTake")
        self._take.setProperty("role", "primary")
        self._take.clicked.connect(self.take)
        for widget in (ActionButton(self._registry, "forms", text="Forms…"), self._rest, self._take):
            self._line.addWidget(widget)

    def _make_question(self) -> QHBoxLayout:
        line = QHBoxLayout()
        line.setSpacing(6)
        line.addWidget(label("Where are we on", "title"))
        self._date = QLineEdit()
        self._date.setObjectName("roundDate")
        self._date.setAccessibleName("The date of the round")
        self._date.setFixedWidth(150)
        self._date.editingFinished.connect(self._set_date)
        line.addWidget(self._date)
        self._when = label("", "muted")
        line.addWidget(self._when)
        line.addStretch(1)
        return line

    def _set_date(self) -> None:
        try:
            at = self._desk.read_date(self._date.text(), ends=True)
            project = self._desk.plan.projects.get(self.work.project)
            status = project.status_date if project is not None else None
            if status is not None and at <= status:
                raise HexapodError(f"The last round was up to {dates.moment(status)}; this one comes later.")
            if project is not None and at < project.start:
                raise HexapodError(f"“{project.name}” starts later than that.")
        except HexapodError as error:
            self._when.setText(str(error))
            return
        self.work.set_date(at)

    def take(self) -> None:
        """Carry the answers out, as one edit."""
        everything = self.work.everything
        answered = sum(q.task in self.work.answers for q in everything)
        left = sum(self.work.answer_of(q.task) is None for q in everything)
        name = self._desk.plan.projects[self.work.project].name
        if self.work.take():
            rest = f" {count_of(left, 'task')} not answered: as told last." if left else ""
            self._desk.told.emit(f"“{name}” is told: {count_of(answered, 'answer')}.{rest}", "", True)

    def refresh(self) -> None:
        work, desk = self.work, self._desk
        asked, left = len(work.asked), len(work.open_questions())
        told = sum(bool((answer := work.answer_of(q.task)) and answer.who) for q in work.asked)
        by_people = f" · {told} told by people" if told else ""
        self._counts.setText(f"{asked - left} of {asked} answered{by_people}")
        self._rest.setText(f"As planned for the other {left}" if asked - left else f"As planned for all {left}")
        self._rest.setEnabled(bool(left) and not desk.is_read_only)
        self._take.setEnabled(work.outlook is not None and not desk.is_read_only)
        if not self._date.hasFocus():
            self._date.setText(dates.typed(work.at))
        self._when.setText(f"{dates.moment(work.at)}?")
        project = desk.plan.projects.get(work.project)
        status = project.status_date if project is not None else None
        since = "" if status is None else f" since the last round, {dates.short_day(status)}"
        self._says.setText(f"Only what should have moved{since}. {HOW}")
        scopes = work.scopes()
        if [self._scope.itemData(i) for i in range(self._scope.count())] != [data for data, _ in scopes]:
            self._scope.clear()
            for data, words in scopes:
                self._scope.addItem(words, data)
        self._scope.setCurrentIndex(next((i for i, (data, _) in enumerate(scopes) if data == work.scope), 0))
