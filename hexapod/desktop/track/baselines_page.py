"""At the side: the baselines of a project. Which one it is measured from, keeping today as one, or an earlier day."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QRadioButton

from hexapod.desktop import dates
from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import card, heading, icon_button, label
from hexapod.plan import edits
from hexapod.plan.accounts import Baseline
from hexapod.plan.records import DAY
from hexapod.system.words import count_of
from hexapod.worktime import clock

WHAT = "How the project was planned at a moment: dates, effort and cost. Drift and earned value are measured from one."


class BaselinesPage(Page):
    def __init__(self, desk: Desk) -> None:
        super().__init__(desk, "Baselines")
        desk.changed.connect(self.refresh)
        desk.looked_at_changed.connect(self.refresh)

    def fill(self) -> None:
        desk, work = self.desk, self.desk.drift
        self.box.addWidget(label("Baselines", "title"))
        self.box.addWidget(label(WHAT, "small", wrap=True))
        reason = self.reason("baselineReason")
        project = work.project
        if project is None or not desk.plan.is_whole:
            return
        kept = desk.plan.baselines_of(project)
        for baseline in kept:
            self._fill_one(baseline)
        if not kept:
            self.box.addWidget(label("None is kept yet.", "muted"))
        self.box.addSpacing(8)
        self.box.addWidget(heading("Keep one"))
        self._name = self.input_line(
            "", "baselineName", "The name of the new baseline", f"Plan of {dates.short_day(clock.now())}"
        )
        self.box.addWidget(self._name)
        today = QPushButton("Keep today as one")
        today.setObjectName("baselineToday")
        today.setEnabled(not desk.is_read_only and desk.is_computed)
        today.clicked.connect(lambda: self.attempt(self._keep_today))
        self.box.addWidget(today)
        day = self.input_line("", "baselineDay", "Or the plan as it was on a day", "or an earlier day: 1 oct, Enter")
        day.returnPressed.connect(lambda: self.attempt(lambda: self._keep_day(day.text())))
        self.box.addWidget(day)
        self.box.addWidget(reason)

    def _fill_one(self, baseline: Baseline) -> None:
        desk = self.desk
        frame, box = card()
        line = QHBoxLayout()
        chosen = QRadioButton()
        chosen.setObjectName(f"baselineOf.{baseline.id}")
        chosen.setAccessibleName(f"Measure from {baseline.name}")
        chosen.setChecked(desk.plan.projects[baseline.project].baseline == baseline.id)
        chosen.setEnabled(not desk.is_read_only)
        chosen.clicked.connect(lambda: desk.drift.measure_from(baseline.id))
        name = self.input_line(baseline.name, f"baselineNamed.{baseline.id}", f"The name of {baseline.name}")
        name.editingFinished.connect(lambda: self._rename(baseline, name))
        remove = icon_button("x", f"Delete {baseline.name}")
        remove.setEnabled(not desk.is_read_only)
        remove.clicked.connect(lambda: self._remove(baseline))
        line.addWidget(chosen)
        line.addWidget(name, 1)
        line.addWidget(remove)
        box.addLayout(line)
        gone = sum(1 for row in baseline.tasks if row.task not in desk.plan.tasks)
        said = f"{dates.moment(baseline.at)} · {count_of(len(baseline.tasks), 'row')}"
        box.addWidget(label(f"{said}, {gone} of them gone since" if gone else said, "small", wrap=True))
        self.box.addWidget(frame)

    def _keep_today(self) -> None:
        self.desk.drift.keep(self._name.text().strip() or self._name.placeholderText())

    def _keep_day(self, text: str) -> None:
        day = dates.read(text) // DAY * DAY
        name = self._name.text().strip() or f"Plan of {dates.short_day(day)}"
        self.desk.drift.keep_of(day + DAY, name)

    def _rename(self, baseline: Baseline, line: QLineEdit) -> None:
        if line.isModified() and line.text().strip() != baseline.name:
            self.attempt(
                lambda: self.desk.attempt(edits.rename_baseline(self.desk.plan, baseline.id, line.text().strip()))
            )

    def _remove(self, baseline: Baseline) -> None:
        edit = edits.remove_baseline(self.desk.plan, baseline.id)
        if self.desk.do(edit):
            self.desk.told.emit(f"{edit.words}.", "", True)
