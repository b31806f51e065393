"""How far the selected task is, and telling it: a press, a date, what is left or a per cent."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from hexapod.desktop import dates
from hexapod.desktop.frame.standing import add_standing
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.progress import begin_as_planned
from hexapod.desktop.parts import label
from hexapod.errors import HexapodError
from hexapod.fields import actual
from hexapod.fields import typing as typed_texts
from hexapod.fields.field import Texts
from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.records import Task

Take = Callable[[Texts, list[str], str], Edit]


class HowFar(QWidget):
    """Of a leaf: what is left, when it began and ended, whether it is late. Of a summary how much of it is done."""

    def __init__(self, desk: Desk, task: Task) -> None:
        super().__init__()
        self._desk, self._task = desk, task
        self._box = QVBoxLayout(self)
        self._box.setContentsMargins(0, 0, 0, 0)
        self._box.setSpacing(3)
        if desk.plan.is_summary(task.id):
            self._box.addWidget(label(f"{desk.percent(task.id):.0f} % done"))
            return
        add_standing(self._box, desk, task)
        self._steps()
        if task.actual_start is not None:
            self._details()
        self._says = label("", "trouble", wrap=True)
        self._says.hide()
        self._box.addWidget(self._says)
        self.setEnabled(not desk.is_read_only)

    def _steps(self) -> None:
        """The four things that are told most."""
        desk, task = self._desk, self._task
        is_half = task.is_begun and task.percent == 50 and task.remaining is None
        steps = [
            ("Not begun", "tellNotBegun", task.actual_start is None, edits.take_back(desk.plan, [task.id])),
            ("Begun", "tellBegun", task.is_begun and not is_half, self._begun()),
            ("Half", "tellHalf", is_half, edits.set_percent(desk.plan, [task.id], 50)),
            ("Done", "tellDone", task.is_done, edits.set_percent(desk.plan, [task.id], 100)),
        ]
        if not task.minutes:
            steps = [steps[0], ("Reached", *steps[3][1:])]
        line = QHBoxLayout()
        line.setSpacing(0)
        for words, name, is_now, edit in steps:
            button = QPushButton(words)
            button.setObjectName(name)
            button.setProperty("role", "choice")
            button.setCheckable(True)
            button.setChecked(is_now)
            button.setEnabled(edit is not None)
            button.clicked.connect(lambda _, e=edit, now=is_now: self._tell(e, now))
            line.addWidget(button)
        line.addStretch(1)
        self._box.addLayout(line)

    def _tell(self, edit: Edit, is_now: bool) -> None:
        sender = self.sender()
        if is_now and isinstance(sender, QPushButton):
            sender.setChecked(True)
            return
        self._desk.do(edit)

    def _begun(self) -> Edit | None:
        """Begun, with nothing said of how far; when it began stays, where that is known."""
        plan, task = self._desk.plan, self._task
        if task.is_done:
            return edits.reopen(plan, [task.id])
        return edits.set_percent(plan, [task.id], 0) if task.is_begun else begin_as_planned(self._desk, [task.id])

    def _details(self) -> None:
        """When it began, what is left of it, and when it ended, to be typed."""
        task = self._task
        grid = QGridLayout()
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(2)
        self._field(grid, 0, "Began", "toldBegan", task.actual_start, actual.set_actual_start)
        if task.is_begun and task.minutes:
            left = self._desk.length(task.rest, task.id)
            self._line(grid, 1, "Left", "toldLeft", left, actual.set_remaining)
            self._line(grid, 2, "Per cent", "toldPercent", f"{task.percent:g}", typed_texts.set_percent)
        self._field(grid, 3, "Ended", "toldEnded", task.actual_finish, actual.set_actual_finish)
        self._box.addLayout(grid)

    def _field(self, grid: QGridLayout, row: int, name: str, object_name: str, at: int | None, take: Take) -> None:
        self._line(grid, row, name, object_name, "" if at is None else dates.typed(at), take)

    def _line(self, grid: QGridLayout, row: int, name: str, object_name: str, text: str, take: Take) -> None:
        line = QLineEdit(text)
        line.setObjectName(object_name)
        line.setAccessibleName(name)

        def done() -> None:
            if line.text().strip() == text:
                return
            try:
                self._desk.attempt(take(self._desk.columns.texts(), [self._task.id], line.text()))
            except HexapodError as error:
                self._says.setText(str(error))
                self._says.show()

        line.editingFinished.connect(done)
        grid.addWidget(label(name, "small"), row, 0)
        grid.addWidget(line, row, 1)
