"""Value: what was planned, earned and spent, what that says of the end, in one sentence, as curves and as figures."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout, QStackedWidget, QWidget

from hexapod.control.planned_value import Measure
from hexapod.control.value_words import sentence
from hexapod.desktop.action import Registry
from hexapod.desktop.frame.part import Part, offer
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.works import EVERY_PROJECT
from hexapod.desktop.parts import ActionButton, choice_button
from hexapod.desktop.theme.style import scaled
from hexapod.desktop.track.value_picture import ValuePicture
from hexapod.desktop.track.value_table import FiguresTable, ProjectsTable, Saying

MEASURES = {Measure.MONEY: "In money", Measure.HOURS: "In hours"}
FIGURES_WIDTH = 340
WHOLE_PROJECT = "-"


class ValueView(Part):
    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__(desk, registry, "value")
        self.work = desk.value
        self.figures, self.picture = FiguresTable(desk, self.work), ValuePicture(desk, self.work)
        self.projects = ProjectsTable(desk, self.work)
        self._measures = {}
        for measure, words in MEASURES.items():
            button = choice_button(words, lambda m=measure: self.work.show(measure=m.value))
            button.setObjectName(f"value.{measure.value}")
            self._measures[measure.value] = button
            self.lead(button)
        self._branch = self.choice("valueBranch", "Of what", 170, lambda b: self.work.show(branch=b))
        self._line.addWidget(ActionButton(registry, "drift.baselines", text="Baselines…"))
        self.figures.figure_asked.connect(self._show_figure)
        self.projects.project_asked.connect(self._show_project)
        one, line = QWidget(), QHBoxLayout()
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(14)
        line.addWidget(self.picture, 1)
        self.figures.setFixedWidth(scaled(FIGURES_WIDTH))
        line.addWidget(self.figures)
        one.setLayout(line)
        self._stack = QStackedWidget()
        self._stack.addWidget(one)
        self._stack.addWidget(self.projects)
        box = self.column()
        box.addWidget(self._title)
        box.addWidget(self._stack, 1)
        self.follow(self.work.changed, desk.looked_at_changed)

    @property
    def main_part(self) -> QWidget:
        return self.projects if self.work.everything else self.figures

    def _show_figure(self, key: str) -> None:
        self.work.show(figure=key)
        self._registry.qt("value.figure").trigger()

    def _show_project(self, project: str) -> None:
        self._desk.look_at_project(project)
        self.work.show(branch=WHOLE_PROJECT)

    def refresh(self) -> None:
        work, plan = self.work, self._desk.plan
        if not plan.is_whole:
            return
        for measure, button in self._measures.items():
            button.setChecked(measure == work.measure)
        name = "The project" if work.project is None else plan.projects[work.project].name
        branches = [(WHOLE_PROJECT, name), *((t, f"… {words}") for t, words in work.branches())]
        chosen = EVERY_PROJECT if work.everything else work.task or WHOLE_PROJECT
        offer(self._branch, [*branches, (EVERY_PROJECT, "Every project")], chosen)
        self._stack.setCurrentIndex(1 if work.everything else 0)
        if work.everything:
            self._title.setText("Earned value of every project, each at its own status date")
            self.projects.show_values(work.values())
            return
        value = work.value()
        say = Saying(self._desk, work.measure)
        self._title.setText("Earned value" if value is None else sentence(value, say))
        self.figures.show_value(value)
        self.picture.show_value(value, work.curves() if value is not None else None)
