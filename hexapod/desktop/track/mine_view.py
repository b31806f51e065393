"""Own work: who I am, what is to be done and when, errands and milestones beside it; and what others have to do."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from hexapod.desktop import dates
from hexapod.desktop.action import Registry
from hexapod.desktop.frame.part import Part, offer
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.mine import NOBODY
from hexapod.desktop.models.works import EVERY_PROJECT
from hexapod.desktop.parts import LineButton, heading
from hexapod.desktop.theme.style import scaled
from hexapod.desktop.theme.tips import plain_tip
from hexapod.desktop.track.errands import ErrandLine, ErrandList
from hexapod.desktop.track.mine_table import MineTable
from hexapod.desktop.track.own_milestones import OwnMilestones
from hexapod.errors import HexapodError
from hexapod.worktime import clock

BESIDE = 292  # pixels for errands and milestones
HOW = "Space ticks it off. Type “3d” for what is left, a per cent or a date, a note behind a colon; “+2h” logs hours."
WHO = "Choose at the right above who you are."
NOBODYS = "These are tasks to which nobody is assigned."


class MineView(Part):
    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__(desk, registry, "mine")
        self.work = desk.mine
        self.table = MineTable(desk, self.work)
        self.errands, self.milestones = ErrandList(desk, self.work), OwnMilestones(desk, self.work)
        self.line = ErrandLine(desk, self.work)
        self.main_part = self.table
        self._make_tools()
        self._lay_out()
        self.follow(self.work.changed, desk.forms.changed)

    def _lay_out(self) -> None:
        left, right = QVBoxLayout(), QVBoxLayout()
        left.setSpacing(4)
        left.addWidget(self._title)
        left.addWidget(self._says)
        left.addWidget(self.table, 1)
        right.setSpacing(4)
        self._own = QWidget()
        own = QVBoxLayout(self._own)
        own.setContentsMargins(0, 0, 0, 0)
        own.setSpacing(4)
        own.addWidget(heading("Errands"))
        own.addWidget(self.line)
        own.addWidget(self.errands, 1)
        right.addWidget(self._own, 3)
        self._reviews = LineButton("")
        self._reviews.setObjectName("mineReviews")
        self._reviews.clicked.connect(self._registry.qt("trying.risks").trigger)
        own.addWidget(self._reviews)
        right.addWidget(heading("Milestones"))
        right.addWidget(self.milestones, 2)
        self._away = LineButton("")
        self._away.setObjectName("mineAway")
        self._away.clicked.connect(self.work.bring_back_all)
        right.addWidget(self._away)
        beside = QWidget()
        beside.setLayout(right)
        right.setContentsMargins(0, 0, 0, 0)
        beside.setFixedWidth(scaled(BESIDE))
        halves = QHBoxLayout()
        halves.setSpacing(16)
        halves.addLayout(left, 1)
        halves.addWidget(beside)
        self.column().addLayout(halves, 1)

    def _make_tools(self) -> None:
        self._be = QPushButton("This is me")
        self._be.setObjectName("mineBe")
        self._be.clicked.connect(lambda: self.work.be(self.work.whose))
        self._line.addWidget(self._be)
        self._whose = self.choice("mineWhose", "Whose work", scaled(236), self.work.look_at)
        self._project = self.choice("mineProject", "Of which project", 0, lambda p: self.work.narrow(project=p))
        self._find = self.finder("mineFind", "Words in its name, its project or its tags", "Find in it…",
                                 lambda text: self.work.narrow(text=text))  # fmt: skip
        self._until = QLineEdit()
        self._until.setObjectName("mineUntil")
        self._until.setAccessibleName("Up to which date")
        self._until.setPlaceholderText("up to…")
        self._until.setFixedWidth(scaled(96))
        self._until.editingFinished.connect(self._set_until)
        self._find.setMaximumWidth(scaled(180))
        self._line.addWidget(self._find)
        self._line.addWidget(self._until)

    def _set_until(self) -> None:
        text = self._until.text().strip()
        try:
            self.work.narrow_until(self._desk.read_date(text, ends=True) if text else None)
        except HexapodError as error:
            self._desk.told.emit(str(error), "trouble", False)

    def refresh(self) -> None:
        work, plan = self.work, self._desk.plan
        if work.whose and work.whose not in plan.resources:
            work.whose = NOBODY
        self._fill_choices()
        who = plan.resources.get(work.whose)
        today = dates.long_day(clock.now())
        self._title.setText(f"{who.name}, {today}" if who is not None else f"What nobody has, {today}")
        self._says.setText(self._load_words() if who is not None else NOBODYS if work.me else f"{WHO} {NOBODYS}")
        self._be.setVisible(who is not None and work.whose != work.me)
        self._own.setVisible(who is not None)
        self.line.setEnabled(not self._desk.is_read_only)
        self.table.refresh()
        self.errands.refresh()
        self.milestones.refresh()
        reviews = work.reviews()
        self._reviews.setVisible(bool(reviews))
        names = ", ".join(risk.name for risk in reviews)
        self._reviews.setText(f"△ To look at again: {names}")
        self._reviews.setToolTip(plain_tip(names))
        away = len(work.put_away.tasks) if who is not None else 0
        self._away.setVisible(bool(away))
        self._away.setText(f"{away} put away: show them again")

    def _load_words(self) -> str:
        weeks = [f"{name} {load.asked / 60:.0f} h of {load.can / 60:.0f} h"
                 for name, load in zip(("This week", "next week"), self.work.load(), strict=False)]  # fmt: skip
        return f"{', '.join(weeks)}. {HOW}" if weeks else HOW

    def _fill_choices(self) -> None:
        plan, work = self._desk.plan, self.work
        people = [(p, plan.resources[p].name + (", me" if p == work.me else "")) for p in work.people()]
        people.sort(key=lambda pair: pair[0] != work.me)
        offer(self._whose, [*people, (NOBODY, "Nobody")], work.whose)
        if work.project not in plan.projects:
            work.project = EVERY_PROJECT
        offer(self._project, self.projects(), work.project)
