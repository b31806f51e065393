"""The pool in and out: from a file or the directory with a look at what it brings, and to a file."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QCheckBox, QFileDialog, QHBoxLayout, QLineEdit, QPushButton

from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import card, heading, label
from hexapod.errors import HexapodError
from hexapod.formats.pool_table import Outcome, PoolProposal, from_directory, from_sheet, pool_rows
from hexapod.formats.tables import read_table, write_csv, write_xlsx
from hexapod.services.directory import Directory, Person, StandIn
from hexapod.system.files import write_whole
from hexapod.system.words import count_of

TABLES = "Tables (*.xlsx *.csv *.tsv *.xlsm);;All files (*)"
MOST = 60
SAID = {
    Outcome.ADD: "new",
    Outcome.CHANGE: "changed",
    Outcome.SAME: "as it is",
    Outcome.LEFT_OUT: "left out",
}


class PoolPage(Page):
    """``proposal`` is what a file or the directory would bring, until it is taken or left."""

    def __init__(self, desk: Desk, directory: Directory | None = None) -> None:
        super().__init__(desk, "People in and out")
        self.directory: Directory = directory or StandIn()
        self.proposal: PoolProposal | None = None
        self._found: list[Person] | None = None
        self._chosen: set[str] = set()
        self._text = ""
        desk.changed.connect(self._when_changed)

    def _when_changed(self, *_: object) -> None:
        self.proposal = None  # it was made of another pool
        self.refresh()

    def fill(self) -> None:
        self.box.addWidget(label("People in and out", "title"))
        if self.proposal is not None:
            self._fill_proposal(self.proposal)
            return
        count = len(self.desk.plan.resources)
        self.box.addWidget(label(f"{count} in the pool" if count else "Nobody is in the pool yet.", "muted"))
        for name, text, run in (
            ("poolImport", "From a table…", self._choose_file),
            ("poolExport", "To a table…", self._choose_target),
        ):
            button = QPushButton(text)
            button.setObjectName(name)
            button.setEnabled(name == "poolExport" or not self.desk.is_read_only)
            button.clicked.connect(lambda _, r=run: r())
            self.box.addWidget(button)
        says = "A row each, with a column Name, and whatever there is of: initials, kind, role, team, capacity, leave…"
        self.box.addWidget(label(says, "small", wrap=True))
        self._fill_directory()

    # The directory

    def _fill_directory(self) -> None:
        self.box.addWidget(heading("From the directory"))
        self.box.addWidget(label(self.directory.name, "small", wrap=True))
        line = QLineEdit(self._text)
        line.setObjectName("directorySearch")
        line.setAccessibleName("Search the directory")
        line.setPlaceholderText("Name, role, section or skill")
        line.returnPressed.connect(lambda: self.search(line.text()))
        self.box.addWidget(line)
        look = QPushButton("Search")
        look.setObjectName("directoryLook")
        look.clicked.connect(lambda: self.search(line.text()))
        self.box.addWidget(look)
        if self._found is None:
            return
        if not self._found:
            self.box.addWidget(label("Nobody like that.", "muted"))
        for person in self._found[:MOST]:
            self._fill_person(person)
        if len(self._found) > MOST:
            self.box.addWidget(label(f"and {len(self._found) - MOST} more; say more to find fewer", "small", wrap=True))
        if self._found:
            add = QPushButton("Look at what that brings")
            add.setObjectName("directoryAdd")
            add.setProperty("role", "primary")
            add.setEnabled(not self.desk.is_read_only)
            add.clicked.connect(self._propose_chosen)
            self.box.addWidget(add)

    def _fill_person(self, person: Person) -> None:
        frame, box = card()
        line = QHBoxLayout()
        take = QCheckBox(person.name)
        take.setObjectName(f"person {person.name}")
        take.setChecked(person.name in self._chosen)
        take.toggled.connect(lambda on, n=person.name: self._chosen.add(n) if on else self._chosen.discard(n))
        line.addWidget(take, 1)
        box.addLayout(line)
        known = any(r.name.casefold() == person.name.casefold() for r in self.desk.plan.resources.values())
        said = " · ".join(part for part in (person.title, person.section, "in the pool" if known else "") if part)
        box.addWidget(label(said, "small", wrap=True))
        self.box.addWidget(frame)

    def search(self, text: str) -> None:
        """Ask the directory; the answer is shown when it is there."""
        self._text, directory = text.strip(), self.directory

        def show(found: object) -> None:
            self._found = found  # type: ignore[assignment]
            self._chosen = set()
            self.refresh()

        in_background(self, lambda: directory.search(self._text), show, self._say)

    def _say(self, error: Exception) -> None:
        self.desk.told.emit(str(error), "trouble", False)

    def _propose_chosen(self) -> None:
        chosen = [p for p in self._found or () if p.name in self._chosen]
        if not chosen:
            self.desk.told.emit("Tick whom you want first.", "", False)
            return
        self.show_proposal(from_directory(self.desk.plan, chosen, f"Add {len(chosen)} from the directory"))

    # Files

    def _choose_file(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "People from a table", str(Path.home()), TABLES)
        if name:
            self.read(Path(name))

    def read(self, path: Path) -> None:
        """What a table would bring, worked out beside the interface."""
        plan = self.desk.plan

        def work() -> object:
            return from_sheet(plan, read_table(path)[0], f"Import people from “{path.name}”")

        def show(found: object) -> None:
            if plan is self.desk.plan:
                self.show_proposal(found)  # type: ignore[arg-type]

        in_background(self, work, show, self._say)

    def _choose_target(self) -> None:
        here = self.desk.session.workspace.path
        name, chosen = QFileDialog.getSaveFileName(
            self, "People to a table", str(here.with_name("People.xlsx")), "Spreadsheet (*.xlsx);;CSV (*.csv)"
        )
        if name:
            suffix = ".csv" if "csv" in chosen else ".xlsx"
            path = Path(name) if Path(name).suffix.lower() in (".xlsx", ".csv") else Path(name + suffix)
            self.write(path)

    def write(self, path: Path) -> None:
        rows = pool_rows(self.desk.plan)
        try:
            write_whole(path, write_csv(rows) if path.suffix.lower() == ".csv" else write_xlsx("People", rows))
        except HexapodError as error:
            self._say(error)
        else:
            self.desk.told.emit(f"{path.name} holds {count_of(len(rows) - 1, 'row')}: people and things.", "", False)

    # What it brings

    def show_proposal(self, proposal: PoolProposal) -> None:
        self.proposal = proposal
        self.refresh()

    def _fill_proposal(self, proposal: PoolProposal) -> None:
        counts = [f"{proposal.count(o)} {SAID[o]}" for o in Outcome if proposal.count(o)]
        said = label(", ".join(counts) if counts else "There is nothing in it.", "value", wrap=True)
        said.setObjectName("poolCounts")
        self.box.addWidget(said)
        if proposal.made:
            self.box.addWidget(label(f"With the roles and teams {', '.join(proposal.made)}.", "small", wrap=True))
        line = QHBoxLayout()
        take, leave = QPushButton("Take them"), QPushButton("Leave it")
        take.setObjectName("poolTake")
        take.setProperty("role", "primary")
        take.setEnabled(proposal.edit is not None)
        take.clicked.connect(self._take)
        leave.setObjectName("poolLeave")
        leave.clicked.connect(self._leave_it)
        line.addWidget(take)
        line.addWidget(leave)
        self.box.addLayout(line)
        rows = sorted(
            proposal.rows, key=lambda r: (r.outcome is not Outcome.LEFT_OUT, r.outcome is Outcome.SAME, r.row)
        )
        for row in rows[:MOST]:
            frame, box = card()
            box.addWidget(label(f"{row.name or '(no name)'}  ·  {SAID[row.outcome]}", "value", wrap=True))
            if row.trouble:
                box.addWidget(label(f"Row {row.row}, {row.trouble}", "trouble", wrap=True))
            self.box.addWidget(frame)
        if len(rows) > MOST:
            self.box.addWidget(label(f"and {len(rows) - MOST} more", "small"))

    def _take(self) -> None:
        proposal = self.proposal
        if proposal is not None and proposal.edit is not None and self.desk.do(proposal.edit):
            self.desk.told.emit(f"{proposal.edit.words}.", "", True)
            self._chosen = set()

    def _leave_it(self) -> None:
        self.proposal = None
        self.refresh()
