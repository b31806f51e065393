"""Reports: made from the plan, on screen as they will be on paper, and as PDF, slides, spreadsheet or page."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QCheckBox, QFileDialog, QHBoxLayout, QPushButton

from hexapod.desktop import dates
from hexapod.desktop.action import Registry
from hexapod.desktop.frame.part import Part, offer
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.reports import SPANS
from hexapod.desktop.models.wording import words
from hexapod.desktop.telling.report_preview import ReportPreview
from hexapod.errors import HexapodError
from hexapod.formats.reports.files import ENDINGS, PAGE, PDF, SHEETS, SLIDES
from hexapod.plan.records import DAY
from hexapod.reports.report import Asked, Report

OWN = 0  # in place of a number of days: days that somebody typed
SHOWN_ENDINGS = {PDF: "PDF…", SLIDES: "Slides…", SHEETS: "Sheets…", PAGE: "Page…"}
WAITING = "The report is being made…"


class ReportsView(Part):
    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__(desk, registry, "reports")
        self.work = desk.reports
        self.preview, self.earlier = ReportPreview("reportPages"), ReportPreview("reportEarlier")
        self.main_part = self.preview
        for preview in (self.preview, self.earlier):
            preview.asked.connect(self.work.ask)
            preview.entered.connect(self._go_there)
        self._kind = self.choice("reportKind", "Which report", 190, self.work.choose)
        self._scope = self.choice("reportScope", "Of what", 170, self.work.choose_scope)
        self._days = self.choice("reportDays", "Of which days", 150, self._choose_days)
        for widget in (self._kind, self._scope, self._days):
            self._line.removeWidget(widget)
            self.lead(widget)
        self._beside = QCheckBox("Days before")
        self._beside.setObjectName("reportBeside")
        self._beside.toggled.connect(self.work.show_beside)
        self.lead(self._beside)
        self._panels = QCheckBox("As panels")
        self._panels.setObjectName("reportPanels")
        self._panels.toggled.connect(self.work.show_panels)
        self.lead(self._panels)
        self._buttons = {ending: self._file_button(ending, text) for ending, text in SHOWN_ENDINGS.items()}
        box = self.column()
        line = QHBoxLayout()
        line.setSpacing(8)
        line.addWidget(self.preview, 1)
        line.addWidget(self.earlier, 1)
        box.addLayout(line, 1)
        self.follow(self.work.changed)

    def _file_button(self, ending: str, text: str) -> QPushButton:
        button = QPushButton(text)
        button.setObjectName(f"report{ending}")
        button.setAccessibleName(f"{ENDINGS[ending]} of the report")
        button.clicked.connect(lambda: self.choose_file(ending))
        self._line.addWidget(button)
        return button

    @property
    def sentence(self) -> str:
        report = self.work.report
        return self.work.trouble or WAITING if report is None else f"{report.title}: {report.below}"

    def _choose_days(self, days: int) -> None:
        if days in SPANS:
            self.work.choose_days(days)

    def refresh(self) -> None:
        work = self.work
        work.look()
        offer(self._kind, work.choices(), work.chosen)
        offer(self._scope, work.scopes(), work.scope)
        is_usual = work.wish.until is None and work.wish.days in SPANS
        spans = SPANS if is_usual else {**SPANS, OWN: "typed days"}
        offer(self._days, list(spans.items()), work.wish.days if is_usual else OWN)  # type: ignore[arg-type]
        self._beside.setChecked(work.is_beside)
        self._panels.setChecked(work.as_panels)
        self.preview.show_report(work.report, words(), work.trouble or WAITING, as_panels=work.as_panels)
        self.earlier.setVisible(work.is_beside)
        if work.is_beside:
            end = work.wish.before().until
            assert end is not None
            waiting = f"The report of the days to {dates.long_day(end - DAY)} is being made…"
            turned = getattr(self.preview.document, "landscape", None)  # both alike
            self.earlier.show_report(
                work.earlier, words(), work.earlier_trouble or waiting, landscape=turned, as_panels=work.as_panels
            )
        for button in self._buttons.values():
            button.setEnabled(work.report is not None)

    def _go_there(self, asked: object) -> None:
        """To the project, task or risk that a row or a sentence is about."""
        about = about_of(asked)
        plan = self._desk.plan
        found = next((key for key in about if key in plan.tasks or key in plan.projects), None)
        if found is None:
            return
        if found in plan.tasks:
            self.bar_asked.emit(found)
        else:
            self._desk.portfolio.look_at(found)
            self._registry.qt("projects.open").trigger()

    # Files

    def choose_file(self, ending: str) -> None:
        """Ask where it goes; the folder of the last time is offered."""
        here = self.work.folder / self.work.file_name(ending)
        name, _ = QFileDialog.getSaveFileName(self, f"{ENDINGS[ending]} of the report", str(here), f"*{ending}")
        if name:
            self.write(Path(name) if name.lower().endswith(ending) else Path(name + ending))

    def write(self, path: Path) -> None:
        """The report on show, by the ending of the file."""
        report: Report | None = self.work.report
        if report is None:
            return
        from hexapod.desktop.paper.report_pages import write_report

        try:
            write_report(report, words(), path)
        except HexapodError as error:
            self._desk.told.emit(str(error), "trouble", False)
        else:
            self.work.wrote(path)
            self._desk.told.emit(f"The report is in {path.name}, in {path.parent}.", "", False)


def about_of(asked: object) -> tuple[str, ...]:
    """The keys of what a sentence or a row is about."""
    assert isinstance(asked, Asked)
    if asked.sentence is not None:
        return asked.sentence.fact.about
    table = asked.part.table
    return () if table is None else tuple(filter(None, (table.about_of(asked.row),)))
