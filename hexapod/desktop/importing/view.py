"""The preview of an import: the file's columns and what they are taken for, and row by row what would happen."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from pathlib import Path

from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QHBoxLayout,
    QHeaderView,
    QProgressBar,
    QPushButton,
    QSpinBox,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from hexapod.desktop import dates
from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import label, narrow
from hexapod.desktop.theme.style import color
from hexapod.formats.files import JSON, WORKSPACE, load, sheets_of
from hexapod.formats.import_columns import ColumnMap, ImportedField, guess, title_of
from hexapod.formats.importing import Action, ImportProposal, Outcome, propose
from hexapod.formats.merging import merge
from hexapod.formats.tables import Cell, Sheet
from hexapod.plan.kept import TASKS
from hexapod.plan.plan import Plan
from hexapod.system.words import count_of

SAMPLE = 6  # rows of the file that are shown
SHOWN = 500  # outcomes that are listed
WORDS = {
    Action.ADD: "is added",
    Action.CHANGE: "is changed",
    Action.SAME: "stays as it is",
    Action.UNREADABLE: "cannot be read",
}


class ImportView(QWidget):
    """Nothing is changed until Import is pressed; then it is one edit, which can be undone."""

    def __init__(self, desk: Desk, leave: Callable[[], None]) -> None:
        super().__init__()
        self.desk = desk
        self._leave = leave
        self.sheets: list[Sheet] = []
        self.proposal: ImportProposal | None = None
        self._name = ""
        self._mapping = ColumnMap(-1, ())
        self._progress = [0, 0, 1]  # read, in all, goes on
        self._run = 0
        self._lay_out()
        self._poll = QTimer(self, interval=80)
        self._poll.timeout.connect(self._show_progress)
        self._again = QTimer(self, singleShot=True, interval=0)
        self._again.timeout.connect(self._propose)

    def _lay_out(self) -> None:
        box = QVBoxLayout(self)
        self._title = label("", "title")
        self._says = label("", wrap=True)
        self._says.setObjectName("importSays")
        choices = QHBoxLayout()
        self._sheet = narrow(QComboBox())
        self._sheet.setObjectName("importSheet")
        self._sheet.setAccessibleName("Sheet")
        self._sheet.activated.connect(self._choose_sheet)
        self._header = QSpinBox()
        self._header.setObjectName("importHeader")
        self._header.setAccessibleName("Row of the headings")
        self._header.setRange(0, 99)
        self._header.setSpecialValueText("none")
        self._header.valueChanged.connect(self._choose_header)
        choices.addWidget(label("Sheet", "small"))
        choices.addWidget(self._sheet)
        choices.addWidget(label("Row of the headings", "small"))
        choices.addWidget(self._header)
        choices.addStretch(1)
        self.sample = QTableWidget()
        self.sample.setObjectName("importSample")
        self.sample.setAccessibleName("Columns of the file")
        self.sample.verticalHeader().hide()
        self.sample.horizontalHeader().hide()
        self.sample.setEditTriggers(QTableWidget.EditTrigger.NoEditTriggers)
        self.sample.setFixedHeight(30 * (SAMPLE + 2))
        self._only = QCheckBox("Only what needs a look")
        self._only.setObjectName("importOnly")
        self._only.clicked.connect(lambda _: self._show_outcomes())
        self.outcomes = QTableWidget(0, 4)
        self.outcomes.setObjectName("importOutcomes")
        self.outcomes.setAccessibleName("What each row does")
        self.outcomes.setHorizontalHeaderLabels(["Row", "Task", "What happens", "What cannot be read"])
        self.outcomes.verticalHeader().hide()
        self.outcomes.setEditTriggers(QTableWidget.EditTrigger.NoEditTriggers)
        header = self.outcomes.horizontalHeader()
        header.setSectionResizeMode(3, QHeaderView.ResizeMode.Stretch)
        self._bar = QProgressBar()
        self._bar.setTextVisible(False)
        self._bar.hide()
        self._stop = QPushButton("Stop")
        self._stop.setObjectName("importStop")
        self._stop.clicked.connect(self._ask_stop)
        self._stop.hide()
        self.take_button = QPushButton("Import")
        self.take_button.setObjectName("importTake")
        self.take_button.setProperty("role", "primary")
        self.take_button.clicked.connect(self.take)
        cancel = QPushButton("Cancel")
        cancel.setObjectName("importCancel")
        cancel.clicked.connect(self._leave)
        line = QHBoxLayout()
        for widget in (self.take_button, cancel, self._bar, self._stop):
            line.addWidget(widget)
        line.addStretch(1)
        box.addWidget(self._title)
        box.addLayout(choices)
        box.addWidget(self.sample)
        box.addWidget(self._says)
        box.addWidget(self._only)
        box.addWidget(self.outcomes, 1)
        box.addLayout(line)

    # Reading

    def open_file(self, path: Path) -> None:
        """Read a file beside the interface, and show what it would do."""
        self._name = path.name
        self._title.setText(f"Import {path.name}")
        self._says.setText("Reading…")
        self.sheets, self.proposal = [], None
        self.sample.setRowCount(0)
        self._show_outcomes()
        is_plan = path.suffix.lower() in (WORKSPACE, JSON)

        def work() -> object:
            return load(str(path)) if is_plan else sheets_of(path)

        in_background(self, work, self._have_plan if is_plan else self._have_sheets, self._failed)

    def _failed(self, error: Exception) -> None:
        self._poll.stop()
        self._bar.hide()
        self._stop.hide()
        self._says.setText(str(error))
        self.take_button.setEnabled(False)

    def _have_plan(self, other: object) -> None:
        assert isinstance(other, Plan)
        self._sheet.clear()
        self._show(merge(self.desk.plan, other, self._name))

    def _have_sheets(self, sheets: object) -> None:
        self.sheets = sheets  # type: ignore[assignment]
        self._sheet.clear()
        for sheet in self.sheets:
            self._sheet.addItem(f"{sheet.name}, {count_of(len(sheet.rows), 'row')}")
        widest = max(range(len(self.sheets)), key=lambda i: len(self.sheets[i].rows))
        self._sheet.setCurrentIndex(widest)
        self._choose_sheet()

    @property
    def sheet(self) -> Sheet:
        return self.sheets[max(0, self._sheet.currentIndex())]

    def _choose_sheet(self, *_: object) -> None:
        if not self.sheets:
            return
        self._mapping = guess(self.sheet, self.desk.plan)
        self._header.blockSignals(True)
        self._header.setValue(self._mapping.header + 1)
        self._header.blockSignals(False)
        self._show_sample()
        self._again.start()

    def _choose_header(self, row: int) -> None:
        if not self.sheets:  # a file that could not be read has no headings
            return
        self._mapping = ColumnMap(row - 1, self._mapping.parts)
        self._show_sample()
        self._again.start()

    # Columns

    def _show_sample(self) -> None:
        rows = self.sheet.rows[max(self._mapping.header, 0) :][: SAMPLE + 1]
        width = len(self._mapping.parts)
        self.sample.clear()
        self.sample.setRowCount(len(rows) + 1)
        self.sample.setColumnCount(width)
        choices = [*ImportedField, *(f.name for f in self.desk.plan.fields_of(TASKS) if not f.formula)]
        for column in range(width):
            box = QComboBox()
            box.setObjectName(f"importPart{column}")
            box.setAccessibleName(f"Column {column + 1} is")
            for part in choices:
                box.addItem(title_of(part), str(part))
            box.setCurrentIndex(max(0, box.findData(str(self._mapping.parts[column]))))
            box.activated.connect(lambda _, c=column, b=box: self.set_part(c, b.currentData()))
            self.sample.setCellWidget(0, column, box)
            self.sample.setColumnWidth(column, 132)
            for r, row in enumerate(rows, 1):
                text = _shown(row[column]) if column < len(row) else ""
                self.sample.setItem(r, column, QTableWidgetItem(text))

    def set_part(self, column: int, part: str) -> None:
        """Take a column for something else; whatever was that before is nothing now."""
        parts = [
            ImportedField.NOTHING.value if p == part and part != ImportedField.NOTHING else str(p)
            for p in self._mapping.parts
        ]
        parts[column] = part
        self._mapping = ColumnMap(self._mapping.header, tuple(parts))
        for at, said in enumerate(parts):
            box = self.sample.cellWidget(0, at)
            if isinstance(box, QComboBox) and box.currentData() != said:
                box.setCurrentIndex(max(0, box.findData(said)))
        self._again.start()

    # Proposing

    def _propose(self) -> None:
        if not self.sheets:
            return
        if ImportedField.NAME not in self._mapping.parts or self.desk.project is None:
            self._says.setText("Say which column is the name.")
            self.take_button.setEnabled(False)
            return
        plan, project, sheet, mapping = self.desk.plan, self.desk.project, self.sheet, self._mapping
        self._progress = progress = [0, len(sheet.rows), 1]
        self._run += 1
        run = self._run

        def watch(read: int, total: int) -> bool:
            progress[0] = read
            return bool(progress[2])

        def work() -> object:
            return propose(plan, project, sheet, mapping, dates.reader(), watch)

        def show(found: object) -> None:
            if run == self._run:
                self._show(found)  # type: ignore[arg-type]

        self._poll.start()
        in_background(self, work, show, self._failed)

    def _show_progress(self) -> None:
        read, total, _ = self._progress
        self._bar.setRange(0, max(total, 1))
        self._bar.setValue(read)
        self._bar.setVisible(total > 1000)
        self._stop.setVisible(total > 1000)

    def _ask_stop(self) -> None:
        self._progress[2] = 0

    def _show(self, proposal: ImportProposal) -> None:
        self._poll.stop()
        self._bar.hide()
        self._stop.hide()
        self.proposal = proposal
        counts = [f"{n} {WORDS[a].replace('is ', 'are ', 1).replace('stays', 'stay').replace('it is', 'they are')}"
                  for a in Action if (n := proposal.count(a))]  # fmt: skip
        people = ", ".join(proposal.resources[:8]) + (" …" if len(proposal.resources) > 8 else "")
        troubled = sum(1 for o in proposal.outcomes if o.troubles and o.action is not Action.UNREADABLE)
        words = f"Rows: {', '.join(counts)}." if counts else "There are no rows."
        if troubled:
            words += f" In {troubled} something cannot be read and is left out."
        if people:
            words += f" New among the staff: {people}."
        self._says.setText(words)
        self.take_button.setEnabled(proposal.edit is not None and not self.desk.is_read_only)
        self._show_outcomes()

    def _show_outcomes(self) -> None:
        found = self.proposal.outcomes if self.proposal else []
        if self._only.isChecked():
            found = [o for o in found if o.troubles]
        found = sorted(found, key=lambda o: not o.troubles)[:SHOWN]
        self.outcomes.setRowCount(len(found))
        for r, outcome in enumerate(found):
            for c, text in enumerate(_line(outcome)):
                item = QTableWidgetItem(text)
                if outcome.troubles:
                    item.setForeground(QColor(color("brick")))
                self.outcomes.setItem(r, c, item)
        self.outcomes.setColumnWidth(0, 52)
        self.outcomes.setColumnWidth(1, 280)
        self.outcomes.setColumnWidth(2, 130)

    def take(self) -> None:
        """Make the edit and go back to the plan."""
        if self.proposal is not None and self.proposal.edit is not None and self.desk.do(self.proposal.edit):
            self.desk.told.emit(f"{self.proposal.edit.words}.", "", True)
            self._leave()


def _line(outcome: Outcome) -> tuple[str, str, str, str]:
    return str(outcome.row), outcome.name or "–", WORDS[outcome.action], "; ".join(outcome.troubles)


def _shown(cell: Cell) -> str:
    if isinstance(cell, datetime):
        return f"{cell:%Y-%m-%d %H:%M}"
    return "" if cell is None else str(cell)
