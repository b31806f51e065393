"""The first start: what an empty workspace offers, in the middle of the window."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QMimeData, Qt, pyqtSignal
from PyQt6.QtGui import QGuiApplication, QKeyEvent, QKeySequence
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from hexapod.desktop import dates
from hexapod.desktop.action import Registry
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.recent import recent_files
from hexapod.desktop.parts import IMPORTS, heading, label
from hexapod.desktop.theme.tips import plain_tip
from hexapod.errors import HexapodError
from hexapod.plan import edits
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import Project
from hexapod.system.files import shown
from hexapod.worktime.clock import today

WIDTH = 560
RECENT = 5
WHOLE_PLANS = (".json", ".hexapod")
USUAL_NAME = "New project"


class FirstLine(QLineEdit):
    """Several lines that are pasted are notes."""

    pasted = pyqtSignal(str)

    def insertFromMimeData(self, source: QMimeData) -> None:
        text = source.text()
        if "\n" in text.strip():
            self.pasted.emit(text)
        else:
            self.insert(text)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        clipboard = QGuiApplication.clipboard()
        if event.matches(QKeySequence.StandardKey.Paste) and clipboard is not None:
            self.insertFromMimeData(clipboard.mimeData())
        else:
            super().keyPressEvent(event)


class StartView(QWidget):
    """Leaves as soon as there is a project. ``typed`` with the first row, ``noted`` with pasted lines, once the
    project for them is there."""

    typed = pyqtSignal(str)
    noted = pyqtSignal(str)
    import_asked = pyqtSignal(object)  # the path of the file
    museum_asked = pyqtSignal()

    def __init__(self, desk: Desk, registry: Registry, open_path: Callable[[Path], None]) -> None:
        super().__init__()
        self.setObjectName("start")
        self.desk = desk
        self._registry = registry
        self._open_path = open_path
        self._lay_out()

    def _lay_out(self) -> None:
        column = QWidget()
        column.setMaximumWidth(WIDTH)
        box = QVBoxLayout(column)
        box.addWidget(label("What is to be done?", "title"))
        words = "One line may say its length, people and dates too. Several lines can be pasted, with their levels."
        box.addWidget(label(f"Type the first task. {words}", "muted", wrap=True))
        self.project = QLineEdit(USUAL_NAME)
        self.project.setObjectName("startProject")
        self.project.setAccessibleName("Name of the project")
        self.project.setMaximumWidth(190)
        self.line = FirstLine()
        self.line.setObjectName("startLine")
        self.line.setAccessibleName("First task")
        self.line.setPlaceholderText("Order glass 3w by 12 dec")
        self.line.returnPressed.connect(self._begin)
        self.line.pasted.connect(self._take_notes)
        both = QHBoxLayout()
        for words, field in (("Project", self.project), ("First task", self.line)):
            part = QVBoxLayout()
            part.addWidget(label(words, "small"))
            part.addWidget(field)
            both.addLayout(part, 1 if field is self.line else 0)
        box.addLayout(both)
        box.addWidget(heading("Or begin with what is there"))
        self._offer(box, "Import a spreadsheet, a calendar or a plan…", "startImport", self._import)
        self._offer(box, "Start from a template…", "startTemplate", self._registry.qt("template.start").trigger)
        self._offer(box, "Open a workspace…", "startOpen", self._registry.qt("workspace.open").trigger)
        box.addWidget(heading("Or look round"))
        self._offer(box, "The museum: three projects that share one staff", "startMuseum", self.museum_asked.emit)
        self._offer(box, "First steps, in the guide (F1)", "startGuide", self._registry.qt("help.guide").trigger)
        self._recent = QVBoxLayout()
        box.addLayout(self._recent)
        box.addStretch(1)
        across = QHBoxLayout()
        across.addStretch(1)
        across.addWidget(column, 8)
        across.addStretch(1)
        outer = QVBoxLayout(self)
        outer.addStretch(1)
        outer.addLayout(across, 8)

    def _offer(self, box: QVBoxLayout, words: str, name: str, act: Callable[[], object]) -> QPushButton:
        button = QPushButton(words)
        button.setObjectName(name)
        button.setProperty("role", "row")
        button.setCursor(Qt.CursorShape.PointingHandCursor)
        button.clicked.connect(lambda: act())
        box.addWidget(button)
        return button

    def refresh(self) -> None:
        """The workspaces of late, without this one."""
        while (item := self._recent.takeAt(0)) is not None:
            if item.widget() is not None:
                item.widget().deleteLater()
        here = self.desk.session.workspace.path.absolute()
        found = [path for path in recent_files() if path != here][:RECENT]
        if found:
            self._recent.addWidget(heading("Opened lately"))
        for path in found:
            button = self._offer(self._recent, shown(path.stem), "startRecent", lambda p=path: self._open_path(p))
            button.setToolTip(plain_tip(str(path)))

    def _begin(self) -> None:
        line = self.line.text().strip()
        if line and self.make_project():
            self.line.clear()
            self.typed.emit(line)

    def _take_notes(self, text: str) -> None:
        if self.make_project():
            self.noted.emit(text)

    def _import(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Import", str(Path.home()), IMPORTS)
        if name:
            self.import_file(Path(name))

    def import_file(self, path: Path) -> None:
        """A table needs a project that its rows go into; a plan brings its own."""
        if path.suffix.lower() in WHOLE_PLANS or self.make_project():
            self.import_asked.emit(path)

    def make_project(self) -> bool:
        """The project that everything else is put into; it begins today, or on the next day of work."""
        name = self.project.text().strip() or USUAL_NAME
        project = Project(edits.new_id(), name, today() + dates.DAY_BEGINS, ranks_between(None, None, 1)[0])
        try:
            self.desk.attempt(edits.save_project(self.desk.plan, project))
        except HexapodError as error:
            self.desk.told.emit(str(error), "trouble", False)
            return False
        self.desk.look_at_project(project.id)
        return self.desk.project == project.id
