"""Milestones: those of all projects, by month on a strip and as a list, and as a file for calendars."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QPushButton

from hexapod.control.mine import Reach
from hexapod.desktop.action import Registry
from hexapod.desktop.frame.part import Part, offer
from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.telling.milestones_table import MilestonesTable
from hexapod.desktop.telling.months_strip import MonthsStrip
from hexapod.plan.outline import Row, number_of
from hexapod.schedule.schedule import computed_dates
from hexapod.system.files import write_whole
from hexapod.system.words import count_of

SUFFIX = ".ics"


class MilestonesView(Part):
    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__(desk, registry, "milestones")
        self.work = desk.milestones
        self.table, self.strip = MilestonesTable(desk, self.work), MonthsStrip()
        self.main_part = self.table
        self.table.bar_asked.connect(self.bar_asked)
        self.strip.chosen.connect(self.work.look_at_month)
        self.lead(self.finder("milestonesFind", "Only milestones that hold a text", "Milestone or project",
                              lambda text: self.work.narrow(text=text)))  # fmt: skip
        self._whose = self.choice("milestonesWhose", "Whose milestones", 170, lambda key: self.work.narrow(whose=key))
        self._file = QPushButton("Calendar file…")
        self._file.setObjectName("milestonesFile")
        self._file.clicked.connect(self.choose_file)
        self._line.addWidget(self._file)
        self._says.setText("Enter leads to its bar, Delete puts it away. A month on the strip shows that month alone.")
        box = self.column()
        box.addWidget(self._title)
        box.addWidget(self._says)
        box.addWidget(self.strip)
        box.addWidget(self.table, 1)
        self.follow(self.work.changed, desk.chances.changed)

    def refresh(self) -> None:
        self.work.look()
        offer(self._whose, self.work.choices(), self.work.whose)
        rows = self.work.rows()
        self.table.show_milestones(rows)
        self.strip.show_months(self.work.months(), self.work.month)
        self._file.setEnabled(bool(rows))
        counts = {reach: sum(row.found.reach is reach for row in rows) for reach in Reach}
        said = f"{count_of(counts[Reach.COMING], 'milestone')} to come, {counts[Reach.OVERDUE]} overdue"
        self._title.setText(f"{said}, {counts[Reach.REACHED]} reached" if self.work.is_known else "Milestones")

    def choose_file(self) -> None:
        here = self._desk.session.workspace.path.with_name(f"Milestones{SUFFIX}")
        name, _ = QFileDialog.getSaveFileName(self, "Milestones into a calendar file", str(here), f"*{SUFFIX}")
        if name:
            self.write_file(Path(name) if Path(name).suffix.lower() == SUFFIX else Path(f"{name}{SUFFIX}"))

    def write_file(self, path: Path) -> None:
        """Those on show as events; written beside the interface."""
        known, tasks = computed_dates(self._desk.schedule), [row.found.task for row in self.work.rows()]
        if known is None:
            return
        plan = known.plan

        def work() -> object:
            from hexapod.formats.icalendar_files import write_icalendar

            shown = [Row(task, 0, number_of(plan, task)) for task in tasks if task in plan.tasks]
            write_whole(path, write_icalendar(plan, known, shown, events=True))
            return None

        done = f"{count_of(len(tasks), 'milestone')} written to {path.name}."
        told = self._desk.told.emit
        in_background(self._desk, work, lambda _: told(done, "", False), lambda e: told(str(e), "trouble", False))
