"""Range: when something may finish and how sure that is, in a sentence, as a picture, and what it comes from."""

from __future__ import annotations

from PyQt6.QtWidgets import QCheckBox, QComboBox, QGridLayout, QHBoxLayout, QPushButton, QWidget

from hexapod.control.mine import is_milestone
from hexapod.desktop import dates
from hexapod.desktop.action import Registry
from hexapod.desktop.frame.part import Part, offer
from hexapod.desktop.models.beside import THE_PLAN
from hexapod.desktop.models.chances import SHARES
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import ActionButton, heading, narrow
from hexapod.desktop.theme.style import color, scaled, stream_color
from hexapod.desktop.trying.cost_picture import CostPicture
from hexapod.desktop.trying.range_lists import DrivingList, SpreadList
from hexapod.desktop.trying.range_picture import RangePicture
from hexapod.desktop.trying.range_words import headline, reasons
from hexapod.outlook.words import share_words

WHOLE_PROJECT = ""
LISTS_HEIGHT = 232
NO_RANGE = (
    "Every length is certain so far. Type a range where a length stands, such as 3-8 d, or give whole streams one: "
    "then the finish is a range too."
)


class RangeView(Part):
    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__(desk, registry, "range")
        self.work = desk.chances
        self.picture, self.costs, self.beside = RangePicture(), CostPicture(), desk.range_beside
        self.spread, self.driving = SpreadList(desk, self.work), DrivingList(desk, self.work)
        self._beside = narrow(QComboBox())
        self._beside.setMinimumContentsLength(18)
        self._beside.setObjectName("rangeBeside")
        self._beside.setAccessibleName("Another plan beside it")
        self._beside.activated.connect(lambda i: self.beside.look_at(self._beside.itemData(i)))
        self._target = self.choice("rangeOf", "Of what", 200, lambda t: self.work.look_at(t))
        self._share = self.choice("rangeShare", "How sure is sure enough", 100, lambda s: self.work.set_share(s))
        self._itself = QCheckBox("By itself")
        self._itself.setObjectName("rangeItself")
        self._itself.setToolTip("Go the rounds whenever the plan has rested")
        self._itself.clicked.connect(self.work.go_by_itself)
        self._levelled = QCheckBox("With capacities")
        self._levelled.setObjectName("rangeLevelled")
        self._levelled.setToolTip("Each round waits for people who are busy, as levelling does")
        self._levelled.clicked.connect(self.work.level_rounds)
        self._again = QPushButton("Run again")
        self._again.setObjectName("rangeAgain")
        self._again.clicked.connect(lambda: self.work.run_again())
        estimates = ActionButton(registry, "range.spread", text="Estimates…")
        for tool in (self._levelled, self._itself, estimates, self._again):
            self._line.addWidget(tool)
        box = self.column()
        head = QHBoxLayout()
        head.setSpacing(8)
        head.addWidget(self._title, 1)
        head.addWidget(self._beside)
        pictures = QHBoxLayout()
        pictures.setSpacing(8)
        pictures.addWidget(self.picture, 5)
        pictures.addWidget(self.costs, 2)
        box.addLayout(head)
        box.addWidget(self._says)
        box.addLayout(pictures, 1)
        box.addWidget(self._make_lists())
        self.follow(self.work.changed, self.beside.changed, desk.looked_at_changed)

    def _make_lists(self) -> QWidget:
        lists, grid = QWidget(), QGridLayout()
        grid.setContentsMargins(0, 8, 0, 0)
        grid.setHorizontalSpacing(28)
        for i, (words, table) in enumerate((("What the spread comes from", self.spread),
                                            ("How often it drove the finish", self.driving))):  # fmt: skip
            grid.addWidget(heading(words), 0, i)
            grid.addWidget(table, 1, i)
            grid.setColumnStretch(i, 1)
        lists.setLayout(grid)
        lists.setFixedHeight(scaled(LISTS_HEIGHT))
        return lists

    @property
    def main_part(self) -> QWidget:
        return self.spread

    def refresh(self) -> None:
        work, plan = self.work, self._desk.plan
        if not plan.is_whole:
            return
        offer(self._target, self._targets(), work.target)
        offer(self._share, [(share, share_words(share)) for share in SHARES], work.share)  # type: ignore[misc]
        self._itself.setChecked(work.goes_by_itself)
        self._levelled.setChecked(work.with_capacities)
        self._again.setText("Run more" if work.can_go_more else "Run again")
        self._again.setEnabled(not work.is_running and self._desk.is_computed)
        chances = work.chances()
        name = self._name()
        if chances is None:
            has = work.has_ranges
            self._title.setText(work.trouble or (f"How sure is “{name}”?" if has else "How sure are the dates?"))
            self._says.setText("Going the rounds…" if has and work.is_running else "" if has else NO_RANGE)
        else:
            self._title.setText(headline(name, chances, work.planned(), work.wanted_by()))
            self._says.setText(reasons(work, chances))
        nothing = "Going the rounds…" if work.is_running else "Press Run again." if work.has_ranges else ""
        choices = self.beside.choices()
        offer(self._beside, choices, self.beside.of)
        self._beside.setVisible(len(choices) > 1 and chances is not None)
        other = self.beside.chances() if chances is not None else None
        tone = stream_color(self.beside.colour) if self.beside.of != THE_PLAN else color("muted")
        self.picture.beside = None if other is None else (other, self.beside.name, tone)
        self.costs.show_costs(work.costs() if not work.target else None, work.share)
        self.picture.show_chances(chances, work.share, work.planned(), work.wanted_by(), nothing)
        self.spread.refresh()
        self.driving.refresh()

    def _name(self) -> str:
        plan, work = self._desk.plan, self.work
        if work.target in plan.tasks:
            return plan.tasks[work.target].name
        return plan.projects[work.project].name if work.project is not None else "the project"

    def _targets(self) -> list[tuple[str, str]]:
        """The project, its milestones, and the row that is selected."""
        plan, work, desk = self._desk.plan, self.work, self._desk
        if work.project is None:
            return [(WHOLE_PROJECT, "The project")]
        rows = [t for t in plan.tasks.values() if t.project == work.project and desk.schedule.has(t.id)]
        found = {t.id: t.name for t in rows if is_milestone(t) and not plan.is_summary(t.id) and not t.is_done}
        for task in (desk.current, work.target):
            if task in plan.tasks and plan.tasks[task].project == work.project:
                found.setdefault(task, plan.tasks[task].name)
        order = sorted(found, key=lambda t: int(desk.schedule.dates(t).finish) if desk.schedule.has(t) else 0)
        return [(WHOLE_PROJECT, f"Finish of {plan.projects[work.project].name}"), *((t, found[t]) for t in order)]

    def said(self) -> str:
        """The date that is sure enough, in words."""
        chances = self.work.chances()
        return "" if chances is None else dates.long_day(chances.quantile(self.work.share))
