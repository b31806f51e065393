"""At the side: something out to a spreadsheet or a text table, and from one, looked at before it is taken."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QPushButton

from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import heading, label
from hexapod.formats.table_rows import Proposed
from hexapod.formats.tables import Cell, write_csv, write_xlsx
from hexapod.plan.edits import Edit
from hexapod.system.files import write_whole
from hexapod.system.words import count_of

KINDS = "Spreadsheet (*.xlsx);;Table of text (*.csv)"
READS = "Tables (*.xlsx *.xlsm *.csv *.tsv);;All files (*)"
MOST_SHOWN, MOST_FINDINGS = 20, 30


class TableFilesPage(Page):
    """Subclasses say what the things are called (``one``), how their parts are named (``key``), the file they go into,
    and ``what`` a table has to hold; and they read, write and take them."""

    title = what = one = key = file = ""

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk, self.title)
        self.proposed: Proposed[Any] | None = None
        desk.changed.connect(self.refresh)

    def reading(self, path: Path) -> Callable[[], Proposed[Any]]:
        """What reads a file, beside the interface."""
        raise AssertionError("a page knows its tables")

    def line_of(self, item: Any) -> str:
        """An item in words; "" for one that is not shown."""
        raise AssertionError("a page knows its items")

    def edit_of(self, items: Sequence[Any]) -> Edit:
        raise AssertionError("a page knows how its items are taken")

    def rows(self) -> Callable[[], list[list[Cell]]]:
        """What makes the table of all there are, beside the interface."""
        raise AssertionError("a page knows its tables")

    def count(self) -> int:
        """How many there are."""
        raise AssertionError("a page knows its items")

    def said_of(self, items: Sequence[Any]) -> str:
        """More about what is to be taken."""
        return ""

    def fill(self) -> None:
        self.box.addWidget(label(self.title, "title"))
        self.box.addWidget(label(self.what, "small", wrap=True))
        line = QHBoxLayout()
        for words, name, run in (("From a file…", "In", self.choose), ("Into a file…", "Out", self.export)):
            button = QPushButton(words)
            button.setObjectName(f"{self.key}{name}")
            button.setEnabled(name == "Out" or not self.desk.is_read_only)
            button.clicked.connect(lambda _, run=run: run())
            line.addWidget(button)
        line.addStretch(1)
        self.box.addLayout(line)
        if self.proposed is not None:
            self._fill_proposed(self.proposed)

    def _fill_proposed(self, found: Proposed[Any]) -> None:
        self.box.addSpacing(6)
        self.box.addWidget(heading(found.name))
        count, more = count_of(len(found.items), self.one), self.said_of(found.items)
        said = f"{count} to take{f', {more}' if more else ''}." if found.items else "Nothing in it is new."
        if found.known:
            said += f" {found.known} {'is' if found.known == 1 else 'are'} there already."
        self.box.addWidget(label(said, wrap=True))
        for words in filter(None, map(self.line_of, found.items[:MOST_SHOWN])):
            self.box.addWidget(label(words, "small", wrap=True))
        self._fill_more(len(found.items) - MOST_SHOWN)
        if found.findings:
            self.box.addSpacing(4)
            self.box.addWidget(heading("Left out"))
            for finding in found.findings[:MOST_FINDINGS]:
                self.box.addWidget(label(finding, "trouble", wrap=True))
            self._fill_more(len(found.findings) - MOST_FINDINGS)
        line = QHBoxLayout()
        take = QPushButton(f"Take {count}")
        take.setObjectName(f"{self.key}Take")
        take.setProperty("role", "primary")
        take.setEnabled(bool(found.items) and not self.desk.is_read_only)
        take.clicked.connect(self.take)
        leave = QPushButton("Leave it")
        leave.clicked.connect(self._leave)
        line.addWidget(take)
        line.addWidget(leave)
        line.addStretch(1)
        self.box.addLayout(line)

    def _fill_more(self, count: int) -> None:
        if count > 0:
            self.box.addWidget(label(f"… and {count} more", "small"))

    def choose(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, f"{self.file} from a file", "", READS)
        if name:
            self.read(Path(name))

    def read(self, path: Path) -> None:
        """What a file would bring; it is read beside the interface."""

        def show(found: object) -> None:
            self.proposed = found  # type: ignore[assignment]
            self.refresh()

        in_background(self, self.reading(path), show, self._tell)

    def take(self) -> None:
        found = self.proposed
        if found is None:
            return
        words = f"Take {count_of(len(found.items), self.one)} from {found.name}"
        if self.desk.do(self.edit_of(found.items).named(words)):
            self.proposed = None
            self.desk.told.emit(f"{words}.", "", True)
            self.refresh()

    def _leave(self) -> None:
        self.proposed = None
        self.refresh_now()

    def _tell(self, error: Exception) -> None:
        self.desk.told.emit(str(error), "trouble", False)

    def export(self) -> None:
        here = self.desk.session.workspace.path.with_name(f"{self.file}.xlsx")
        name, _ = QFileDialog.getSaveFileName(self, f"{self.file} into a file", str(here), KINDS)
        if name:
            path = Path(name)
            self.write(path if path.suffix.lower() in (".xlsx", ".csv") else path.with_suffix(".xlsx"))

    def write(self, path: Path) -> None:
        """All of them as a table, by the ending; written beside the interface."""
        make, title = self.rows(), self.file

        def work() -> object:
            rows = make()
            write_whole(path, write_csv(rows) if path.suffix.lower() == ".csv" else write_xlsx(title, rows))
            return None

        done = f"{count_of(self.count(), self.one)} written to {path.name}."
        in_background(self.desk, work, lambda _: self.desk.told.emit(done, "", False), self._tell)
