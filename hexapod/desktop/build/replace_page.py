"""Find and replace in names, notes and tags: the rows are shown before anything is changed."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QComboBox, QLineEdit, QPushButton, QVBoxLayout

from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import LineButton, clear, label, narrow
from hexapod.plan import edits
from hexapod.plan.outline import rows
from hexapod.system.words import count_of

MOST_ROWS = 60


class ReplacePage(Page):
    def __init__(self, desk: Desk) -> None:
        super().__init__(desk, "Find and replace")
        desk.changed.connect(lambda _: self.isVisible() and self._show())

    def refresh(self, *_: object) -> None:
        """What is being typed stays."""
        if not self.box.count():
            self.refresh_now()

    def fill(self) -> None:
        self.box.addWidget(label("Find and replace", "title"))
        self._find = self._line("Find", "replaceFind")
        self._put = self._line("Replace with", "replacePut")
        self._where = narrow(QComboBox())
        self._where.setObjectName("replaceWhere")
        self._where.setAccessibleName("Where")
        for name, words in (("name", "In names"), ("notes", "In notes"), ("tags", "In tags")):
            self._where.addItem(words, name)
        self._where.currentIndexChanged.connect(lambda _: self._show())
        self.box.addWidget(self._where)
        self._exact = QCheckBox("Capitals count")
        self._exact.clicked.connect(lambda _: self._show())
        self._selected = QCheckBox("Only in the selected rows")
        self._selected.clicked.connect(lambda _: self._show())
        self.box.addWidget(self._exact)
        self.box.addWidget(self._selected)
        self._button = QPushButton("Replace all")
        self._button.setObjectName("replaceAll")
        self._button.setProperty("role", "primary")
        self._button.clicked.connect(self._replace)
        self.box.addWidget(self._button, 0, Qt.AlignmentFlag.AlignLeft)
        self._found = QVBoxLayout()
        self.box.addLayout(self._found)
        self._show()
        self._find.setFocus()

    def _line(self, name: str, object_name: str) -> QLineEdit:
        made = QLineEdit()
        made.setObjectName(object_name)
        made.setAccessibleName(name)
        made.setPlaceholderText(name)
        made.textChanged.connect(lambda _: self._show())
        self.box.addWidget(made)
        return made

    def _matches(self) -> list[str]:
        desk, text = self.desk, self._find.text()
        if not text or desk.project is None:
            return []
        chosen = set(desk.selected()) if self._selected.isChecked() else None
        here = (row.task for row in rows(desk.plan, desk.project) if chosen is None or row.task in chosen)
        field, pattern = self._where.currentData(), edits.pattern_of(text, exact=self._exact.isChecked())
        return [t for t in here if pattern.search(edits.text_of(desk.plan.tasks[t], field))]

    def _show(self) -> None:
        clear(self._found)
        found = self._matches()
        self._button.setEnabled(bool(found) and not self.desk.is_read_only)
        if self._find.text():
            count = count_of(len(found), "row") if found else "Nothing"
            self._found.addWidget(label(f"{count} found", "muted"))
        for task_id in found[:MOST_ROWS]:
            button = LineButton(self.desk.plan.tasks[task_id].name)
            button.clicked.connect(lambda _, t=task_id: self.desk.go_to(t))
            self._found.addWidget(button)

    def _replace(self) -> None:
        edit = edits.replace_text(
            self.desk.plan,
            self._matches(),
            self._where.currentData(),
            self._find.text(),
            self._put.text(),
            exact=self._exact.isChecked(),
        )
        if self.desk.do(edit):
            self.desk.told.emit(f"{edit.words}.", "", True)
