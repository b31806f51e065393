"""At the side: hours out to a spreadsheet or a text table, and from one, looked at before they are taken."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QPushButton

from hexapod.control.worked import log_edit
from hexapod.desktop import dates
from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import heading, label
from hexapod.formats.log_tables import ProposedLogs, log_rows, read_logs
from hexapod.formats.tables import write_csv, write_xlsx
from hexapod.plan.edits.hours import hours_words
from hexapod.plan.records import DAY
from hexapod.system.files import write_whole
from hexapod.system.words import count_of
from hexapod.worktime import clock

KINDS = "Spreadsheet (*.xlsx);;Table of text (*.csv)"
READS = "Tables (*.xlsx *.xlsm *.csv *.tsv);;All files (*)"
MOST_SHOWN, MOST_FINDINGS = 20, 30
WHAT = "A table with a day, a person, a task and hours in each row. Nothing is taken before you have seen it."


class LogFilesPage(Page):
    def __init__(self, desk: Desk) -> None:
        super().__init__(desk, "Hours in and out")
        self.proposed: ProposedLogs | None = None
        desk.changed.connect(self.refresh)

    def fill(self) -> None:
        self.box.addWidget(label("Hours in and out", "title"))
        self.box.addWidget(label(WHAT, "small", wrap=True))
        line = QHBoxLayout()
        for words, name, run in (("From a file…", "logsIn", self.choose), ("Into a file…", "logsOut", self.export)):
            button = QPushButton(words)
            button.setObjectName(name)
            button.setEnabled(name == "logsOut" or not self.desk.is_read_only)
            button.clicked.connect(lambda _, run=run: run())
            line.addWidget(button)
        line.addStretch(1)
        self.box.addLayout(line)
        if self.proposed is not None:
            self._fill_proposed(self.proposed)

    def _fill_proposed(self, found: ProposedLogs) -> None:
        plan = self.desk.plan
        self.box.addSpacing(6)
        self.box.addWidget(heading(found.name))
        total = hours_words(sum(log.minutes for log in found.logs))
        said = f"{count_of(len(found.logs), 'log')} to take, {total}." if found.logs else "Nothing in it is new."
        if found.known:
            said += f" {found.known} {'is' if found.known == 1 else 'are'} there already."
        self.box.addWidget(label(said, wrap=True))
        for log in found.logs[:MOST_SHOWN]:
            if log.task in plan.tasks and log.resource in plan.resources:
                who = plan.resources[log.resource]
                words = f"{dates.short_day(log.day * DAY)} · {who.initials or who.name} · {hours_words(log.minutes)}"
                self.box.addWidget(label(f"{words} · {plan.tasks[log.task].name}", "small", wrap=True))
        if len(found.logs) > MOST_SHOWN:
            self.box.addWidget(label(f"… and {len(found.logs) - MOST_SHOWN} more", "small"))
        if found.findings:
            self.box.addSpacing(4)
            self.box.addWidget(heading("Left out"))
            for finding in found.findings[:MOST_FINDINGS]:
                self.box.addWidget(label(finding, "trouble", wrap=True))
            if len(found.findings) > MOST_FINDINGS:
                self.box.addWidget(label(f"… and {len(found.findings) - MOST_FINDINGS} more", "small"))
        line = QHBoxLayout()
        take = QPushButton(f"Take {count_of(len(found.logs), 'log')}")
        take.setObjectName("logsTake")
        take.setProperty("role", "primary")
        take.setEnabled(bool(found.logs) and not self.desk.is_read_only)
        take.clicked.connect(self.take)
        leave = QPushButton("Leave it")
        leave.clicked.connect(self._leave)
        line.addWidget(take)
        line.addWidget(leave)
        line.addStretch(1)
        self.box.addLayout(line)

    def choose(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Hours from a file", "", READS)
        if name:
            self.read(Path(name))

    def read(self, path: Path) -> None:
        """What a file would bring; it is read beside the interface."""
        texts, today = self.desk.columns.texts(), clock.now() // DAY

        def show(found: object) -> None:
            self.proposed = found  # type: ignore[assignment]
            self.refresh()

        in_background(self, lambda: read_logs(texts, path, today), show, self._tell)

    def take(self) -> None:
        found = self.proposed
        if found is None:
            return
        edit = log_edit(self.desk.plan, found.logs).named(f"Take {count_of(len(found.logs), 'log')} from {found.name}")
        if self.desk.do(edit):
            self.proposed = None
            self.desk.told.emit(f"{edit.words}.", "", True)
            self.refresh()

    def _leave(self) -> None:
        self.proposed = None
        self.refresh_now()

    def _tell(self, error: Exception) -> None:
        self.desk.told.emit(str(error), "trouble", False)

    def export(self) -> None:
        here = self.desk.session.workspace.path.with_name("Hours.xlsx")
        name, _ = QFileDialog.getSaveFileName(self, "Hours into a file", str(here), KINDS)
        if name:
            path = Path(name)
            self.write(path if path.suffix.lower() in (".xlsx", ".csv") else path.with_suffix(".xlsx"))

    def write(self, path: Path) -> None:
        """All logs as a table, by the ending; written beside the interface."""
        plan = self.desk.plan

        def work() -> object:
            rows = log_rows(plan)
            write_whole(path, write_csv(rows) if path.suffix.lower() == ".csv" else write_xlsx("Hours", rows))
            return None

        done = f"{count_of(len(plan.logs), 'log')} written to {path.name}."
        in_background(self.desk, work, lambda _: self.desk.told.emit(done, "", False), self._tell)
