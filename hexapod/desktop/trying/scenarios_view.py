"""Scenarios: the plan and what is tried out beside it, column by column, and what the one that is looked at changes."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QWidget

from hexapod.control.mine import is_milestone
from hexapod.desktop.action import Registry
from hexapod.desktop.frame.part import Part
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.scenarios import THE_PLAN
from hexapod.desktop.parts import ActionButton, choice_button, heading
from hexapod.desktop.trying.side_by_side import SideBySide
from hexapod.desktop.trying.steps_table import StepsTable

if TYPE_CHECKING:
    from hexapod.outlook.side_by_side import Row, RowKey, RowKind

MOST_LISTED = 30  # milestones
LEAST = 220  # pixels that the table may take, however little there is in it


class ScenariosView(Part):
    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__(desk, registry, "scenarios")
        self.work = desk.scenarios
        self.table, self.steps = SideBySide(desk, self.work), StepsTable(desk, self.work)
        self.table.asked.connect(self._go_to_source)
        self.table.entered.connect(self._enter)
        self._differ = choice_button("Differences", self.work.turn_differences)
        self._differ.setObjectName("scenarioDifferences")
        self._rows = QPushButton("Rows…")
        self._rows.setObjectName("scenarioRows")
        self._rows.setAccessibleName("Which rows are shown")
        self._rows_menu = QMenu(self._rows)
        self._rows.setMenu(self._rows_menu)
        self._rows_menu.aboutToShow.connect(self._fill_rows)
        for action, words in (("scenario.new", "New from today's plan"), ("scenario.ways", "What would it take…")):
            self._line.addWidget(ActionButton(registry, action, text=words))
        head = QHBoxLayout()
        head.setSpacing(6)
        head.addWidget(self._title, 1)
        head.addWidget(self._differ)
        head.addWidget(self._rows)
        self.below = heading("")
        box = self.column()
        box.addLayout(head)
        box.addWidget(self._says)
        box.addSpacing(4)
        box.addWidget(self.table, 6)
        box.addWidget(self.below)
        box.addWidget(self.steps, 1)
        self.follow(self.work.changed, desk.home_changed, desk.chances.changed)

    @property
    def picture(self) -> SideBySide:
        """What goes onto paper."""
        return self.table

    @property
    def main_part(self) -> QWidget:
        return self.table

    def refresh(self) -> None:
        home = self._desk.home
        if not home.plan_so_far.is_whole:
            return
        columns = self.work.columns()
        rows = self._chosen_rows(self.work.rows(columns))
        self._title.setText(self._headline(len(columns) - 1))
        self._says.setText("The best of each row is marked. Enter on a figure leads to what it comes from.")
        self._differ.setChecked(self.work.differences)
        self.table.show_columns(columns, rows)
        self.table.setMaximumHeight(max(LEAST, self.table.whole_height))
        scenario = self.work.scenario
        self.below.setVisible(scenario is not None)
        self.steps.setVisible(scenario is not None)
        if scenario is not None:
            self.below.setText(f"{scenario.name}: what it changes in the plan")
            self.steps.refresh()

    def _headline(self, count: int) -> str:
        if not count:
            return "Nothing is tried out yet: make a scenario from today's plan, and change it as you like."
        opened = self._desk.scenario
        if opened is not None and opened.record is not None:
            return f"“{opened.record.name}” is open: every leg works in it."
        return "One way through" if count == 1 else f"{count} ways, side by side"

    # Rows

    def _chosen_rows(self, rows: list[Row]) -> list[Row]:
        from hexapod.outlook.side_by_side import usual_rows

        kinds, own = set(self.work.rows_chosen), set(self.work.milestones)
        usual = set(usual_rows(rows)) if not kinds else set()
        return [row for row in rows if row.key in usual or row.key.kind.value in kinds or row.key.of in own]

    def _fill_rows(self) -> None:
        """What can be shown, ticked where it is."""
        from hexapod.outlook.side_by_side import RowKind

        self._rows_menu.clear()
        usual = self._rows_menu.addAction("The usual ones")
        usual.setCheckable(True)
        usual.setChecked(not self.work.rows_chosen)
        usual.triggered.connect(lambda: self.work.choose_rows([]))
        self._rows_menu.addSeparator()
        shown = {row.key.kind for row in self.table.rows}
        for kind in RowKind:
            entry = self._rows_menu.addAction(KIND_WORDS[kind.value])
            entry.setCheckable(True)
            entry.setChecked(kind in shown)
            entry.triggered.connect(lambda on, k=kind: self._turn_row(k, on, shown))
        self._rows_menu.addSeparator()
        self._fill_milestones(self._rows_menu.addMenu("Single milestones"))

    def _fill_milestones(self, menu: QMenu) -> None:
        """Milestones of the plan, each of which may have a row of its own."""
        plan, dates = self._desk.home.plan, self._desk.home.schedule
        found = [t for t in plan.tasks.values() if is_milestone(t) and not t.is_done and dates.has(t.id)]
        for task in sorted(found, key=lambda t: dates.dates(t.id).finish)[:MOST_LISTED]:
            entry = menu.addAction(task.name)
            entry.setCheckable(True)
            entry.setChecked(task.id in self.work.milestones)
            entry.triggered.connect(lambda _, t=task.id: self.work.turn_milestone(t))

    def _turn_row(self, kind: RowKind, on: bool, shown: set[RowKind]) -> None:
        kinds = shown | {kind} if on else shown - {kind}
        self.work.choose_rows(sorted(k.value for k in kinds))

    # What figures come from

    def _enter(self, scenario: str) -> None:
        if scenario == THE_PLAN:
            self.work.leave()
        else:
            self.work.enter(scenario)

    def _go_to_source(self, scenario: str, key: RowKey) -> None:
        """Show what a figure comes from, in the plan or the scenario that it is of."""
        if scenario == THE_PLAN:
            self.work.leave()
            self._show_source(key)
        else:
            self.work.enter(scenario, lambda: self._show_source(key))

    def _show_source(self, key: RowKey) -> None:
        kind = key.kind.value
        if kind == "finish" and key.of in self._desk.plan.projects:
            self.why_asked.emit(key.of)
        elif kind == "milestone" and key.of in self._desk.plan.tasks:
            self.bar_asked.emit(key.of)
        elif kind == "sure" and key.of in self._desk.plan.projects:
            self._desk.look_at_project(key.of)
            self._registry.qt("trying.range").trigger()
        elif kind in ("short", "overload", "overloads"):
            if key.of:
                self._desk.look_at_resource(key.of)
            self._registry.qt("look.staff").trigger()
        elif kind in ("cost", "cost_in", "hours"):
            self._registry.qt("track.money").trigger()
        elif kind == "targets":
            self._registry.qt("track.attention").trigger()
        else:
            self._registry.qt("look.build").trigger()


KIND_WORDS = {
    "finish": "Finish of each project",
    "milestone": "Milestones",
    "sure": "The date that is sure enough",
    "targets": "Targets met",
    "float": "Least float beside what is critical",
    "overloads": "Overloads",
    "overload": "Hours overloaded",
    "short": "Roles short, by month",
    "hours": "Hours left to do",
    "cost": "Cost of it all",
    "cost_in": "Cost by month",
    "moved": "Tasks that move",
}
