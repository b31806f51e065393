"""Export: what is on the screen with its columns and order, a project, or everything; in which format."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QComboBox, QFileDialog

from hexapod.desktop.forms import Form
from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import label
from hexapod.formats.exporting import ALL, all_rows
from hexapod.formats.files import written
from hexapod.formats.plan_json import write_plan
from hexapod.plan import edits
from hexapod.plan.outline import Row, rows
from hexapod.system.files import write_whole

FORMATS = {
    ".xlsx": "Spreadsheet (XLSX)",
    ".csv": "Table of text (CSV)",
    ".ics": "Calendar (iCalendar)",
    ".txt": "Indented text",
    ".json": "Plan JSON",
}
SCREEN, PROJECT, EVERYTHING = "screen", "project", "everything"


class ExportPage(Form):
    def __init__(self, desk: Desk, leave: Callable[[], None]) -> None:
        super().__init__(desk, "Export", leave)

    def fill(self) -> None:
        self.box.addWidget(label("Export", "title"))
        self._what = QComboBox()
        self._what.setObjectName("exportWhat")
        if self.desk.project is not None:
            self._what.addItem("What is on the screen", SCREEN)
            self._what.addItem("The whole project", PROJECT)
        self._what.addItem("Every project", EVERYTHING)
        self._format = QComboBox()
        self._format.setObjectName("exportFormat")
        for suffix, words in FORMATS.items():
            self._format.addItem(words, suffix)
        self.field("What", self._what, "On the screen: the rows that are unfolded, and the columns as they stand")
        self.field("As", self._format)
        self.buttons("Export…")

    def rows(self) -> list[Row]:
        desk, what = self.desk, self._what.currentData()
        if what == SCREEN:
            return [row for row in desk.rows if row.task]
        return rows(desk.plan, desk.project) if what == PROJECT and desk.project else all_rows(desk.plan)

    def save(self) -> None:
        suffix = self._format.currentData()
        here = self.desk.session.workspace.path
        name, _ = QFileDialog.getSaveFileName(self, "Export", str(here.with_suffix(suffix)), f"*{suffix}")
        if name:
            self.write(Path(name) if name.lower().endswith(suffix) else Path(name + suffix))

    def write(self, path: Path) -> None:
        """Write the file beside the interface, and say so when it is there."""
        desk, suffix = self.desk, self._format.currentData()
        plan, dates, shown = desk.plan, desk.schedule, self.rows()
        on_screen = self._what.currentData() == SCREEN
        columns = [c.id for c in desk.columns.shown()] if on_screen else ALL
        whole = self._what.currentData() == EVERYTHING or desk.project is None
        project = desk.project or ""

        def work() -> object:
            if suffix == ".json":
                write_whole(path, write_plan(plan if whole else edits.fragment_of_project(plan, project)))
            else:
                write_whole(path, written(plan, suffix, path.stem, dates, shown, columns))
            return None

        desk.told.emit(f"Writing {path.name}…", "", False)
        in_background(
            desk,
            work,
            lambda _: desk.told.emit(f"Exported to {path.name}.", "", False),
            lambda error: desk.told.emit(str(error), "trouble", False),
        )
