"""Reports of the staff on screen: the gist in words, the figures beneath, and both as PDF or a spreadsheet."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QFileDialog,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from hexapod.desktop import dates
from hexapod.desktop.models.counting import Counting
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import clear, label
from hexapod.desktop.staff.periods import Step, edges_of, long_name
from hexapod.errors import HexapodError
from hexapod.worktime.clock import today

if TYPE_CHECKING:
    from hexapod.staffing.reports import StaffReport

DAY = 1440
RANGES = {"all": "All of it", "4": "The next 4 weeks", "13": "The next 3 months"}
NAMES = {
    "over": "Who is over, who is free",
    "reserved": "Assigned against reserved",
    "roles": "Capacity against demand by role",
    "hours": "Planned and logged by owner and phase",
}
MOST_ROWS = 5000
ROOM = 18  # pixels between columns


class ReportsView(QWidget):
    """``report`` is what is on show; None until it is there."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self._desk = desk
        self.kind, self.range = "over", "all"
        self.report: StaffReport | None = None
        self._counting = Counting(self, desk)
        self._title = label("", "title")
        self._gist = QVBoxLayout()
        self._gist.setSpacing(2)
        self.table = QTableWidget()
        self.table.setObjectName("reportTable")
        self.table.setAccessibleName("Figures of the report")
        self.table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.table.setShowGrid(False)
        self.table.setSortingEnabled(False)
        numbers = self.table.verticalHeader()
        assert numbers is not None
        numbers.hide()
        box = QVBoxLayout(self)
        box.setContentsMargins(14, 8, 14, 8)
        box.addWidget(self._title)
        box.addLayout(self._gist)
        box.addSpacing(6)
        box.addWidget(self.table, 1)

    def show_kind(self, kind: str) -> None:
        self.kind = kind
        self.refresh()

    def show_range(self, chosen: str) -> None:
        self.range = chosen
        self.refresh()

    def refresh(self) -> None:
        """Count it anew; of a large plan beside the interface."""
        desk, load = self._desk, self._desk.load
        if load is None:
            return
        from hexapod.control.hours_report import TITLE, planned_and_logged
        from hexapod.staffing.reports import REPORTS, StaffFacts

        begin, end = self._span()
        step = Step.WEEK if self.range == "4" else Step.MONTH
        edges = edges_of(step, begin, end)
        facts = StaffFacts(desk.worked_out, desk.plan, load.demand, tuple(load.overloads), edges,
                      lambda at: long_name(step, at), dates.short_day)  # fmt: skip
        make = {**REPORTS, TITLE: planned_and_logged}[NAMES[self.kind]]
        self._counting.count(lambda: make(facts), self._take)

    def _span(self) -> tuple[int, int]:
        from hexapod.staffing.reserved import span_of

        desk = self._desk
        if self.range != "all":
            begin = today() // DAY * DAY
            return begin, begin + int(self.range) * 7 * DAY - 1
        return span_of(desk.worked_out, desk.plan)

    def _take(self, report: StaffReport) -> None:
        self.report = report
        self._title.setText(report.title)
        clear(self._gist)
        for sentence in report.gist:
            self._gist.addWidget(label(sentence, wrap=True))
        self.table.clear()
        self.table.setColumnCount(len(report.headings))
        self.table.setHorizontalHeaderLabels(list(report.headings))
        shown = report.rows[:MOST_ROWS]
        self.table.setRowCount(len(shown))
        for r, row in enumerate(shown):
            for c, value in enumerate(row):
                item = QTableWidgetItem(value if isinstance(value, str) else f"{value:,.1f}".removesuffix(".0") + " h")
                if not isinstance(value, str):
                    item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                self.table.setItem(r, c, item)
        self.table.resizeColumnsToContents()
        for column in range(self.table.columnCount()):
            self.table.setColumnWidth(column, self.table.columnWidth(column) + ROOM)

    # Out of the screen

    def choose_pdf(self) -> None:
        self._choose(".pdf", "PDF (*.pdf)")

    def choose_table(self) -> None:
        self._choose(".xlsx", "Spreadsheet (*.xlsx)")

    def _choose(self, suffix: str, kinds: str) -> None:
        if self.report is None:
            return
        here = self._desk.session.workspace.path.with_name(self.report.title + suffix)
        name, _ = QFileDialog.getSaveFileName(self, self.report.title, str(here), kinds)
        if name:
            self.write(Path(name) if name.lower().endswith(suffix) else Path(name + suffix))

    def write(self, path: Path) -> None:
        """The report on show as a PDF or a spreadsheet, by the ending."""
        report = self.report
        if report is None:
            return
        from hexapod.desktop.models.wording import words
        from hexapod.desktop.paper.report_pages import write_report
        from hexapod.reports.parts.staff import part_of
        from hexapod.reports.report import Report

        where = f"{self._desk.session.workspace.path.stem}, {dates.long_day(today())}"
        part = part_of(self.kind, report, "")
        try:
            write_report(Report(report.title, where, (part,), made=today()), words(), path)
        except HexapodError as error:
            self._desk.told.emit(str(error), "trouble", False)
        else:
            self._desk.told.emit(f"The report is in {path.name}.", "", False)
