"""The page for people without the program: exactly what goes into it, and the file."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QCheckBox, QFileDialog, QPushButton

from hexapod.desktop.action import Registry
from hexapod.desktop.frame.part import Part, offer
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.scopes import scopes_of
from hexapod.desktop.models.wording import words
from hexapod.desktop.telling.report_preview import ReportPreview
from hexapod.errors import HexapodError
from hexapod.system.files import write_whole

SUFFIX = ".html"
WAITING = "What goes into the page is being gathered…"


class PageView(Part):
    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__(desk, registry, "page")
        self.work = desk.page
        self.preview = ReportPreview("pagePreview")
        self.main_part = self.preview
        self._scope = self.choice("pageScope", "Of what", 190, lambda scope: self.work.narrow(scope=scope))
        self._line.removeWidget(self._scope)
        self.lead(self._scope)
        self._outside = QCheckBox("For people outside")
        self._outside.setObjectName("pageOutside")
        self._outside.toggled.connect(lambda on: self.work.narrow(outside=on))
        self.lead(self._outside)
        self._file = QPushButton("Write the page…")
        self._file.setObjectName("pageFile")
        self._file.clicked.connect(self.choose_file)
        self._line.addWidget(self._file)
        box = self.column()
        box.addWidget(self._says)
        box.addWidget(self.preview, 1)
        self.follow(self.work.changed)

    @property
    def sentence(self) -> str:
        return self._says.text()

    def refresh(self) -> None:
        work = self.work
        work.look()
        offer(self._scope, scopes_of(self._desk.plan), work.scope)
        self._outside.setChecked(work.is_outside)
        who = "Only what is marked for people outside goes" if work.is_outside else "All of this goes"
        self._says.setText(f"{who} into the page, exactly as it stands here. There it folds, zooms, filters and finds.")
        self.preview.show_report(work.preview, words(), work.trouble or WAITING)
        self._file.setEnabled(work.content is not None)

    def choose_file(self) -> None:
        name = self.work.content.title if self.work.content is not None else "Page"
        plain = "".join(c if c.isalnum() or c in " -_" else " " for c in name)[:80].strip() or "Page"
        here = self._desk.reports.folder / f"{plain}{SUFFIX}"
        chosen, _ = QFileDialog.getSaveFileName(self, "The page to read", str(here), f"*{SUFFIX}")
        if chosen:
            self.write(Path(chosen) if chosen.lower().endswith(SUFFIX) else Path(chosen + SUFFIX))

    def write(self, path: Path) -> None:
        data = self.work.data()
        if data is None:
            return
        try:
            write_whole(path, data)
        except HexapodError as error:
            self._desk.told.emit(str(error), "trouble", False)
        else:
            self._desk.told.emit(f"The page is in {path.name}, in {path.parent}.", "", False)
