"""What is said about a task: notes, tags, files and pages, and comments with who said them and when."""

from __future__ import annotations

import re
from datetime import datetime
from pathlib import Path

from PyQt6.QtCore import QEvent, Qt, QUrl
from PyQt6.QtGui import QDesktopServices, QFocusEvent, QKeyEvent
from PyQt6.QtWidgets import (
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QPlainTextEdit,
    QPushButton,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from hexapod.desktop import dates
from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import LineButton, heading, icon_button, label
from hexapod.desktop.theme.tips import plain_tip
from hexapod.formats.attached import WEB, copy_along, folder_of, is_missing, name_copies, path_of, strays
from hexapod.plan import edits
from hexapod.plan.records import Task
from hexapod.system.words import count_of
from hexapod.worktime.clock import minutes_of

_WEB = re.compile(r"https?://\S+", re.IGNORECASE)


class NotesField(QPlainTextEdit):
    """Text that is kept when it is left, or with Ctrl+Enter."""

    def __init__(self, text: str, name: str, keep) -> None:  # type: ignore[no-untyped-def]
        super().__init__(text)
        self.setObjectName(name)
        self.setTabChangesFocus(True)
        self._keep = keep

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        self._keep(self.toPlainText())

    def event(self, event: QEvent) -> bool:
        """Ctrl+Enter is ours while this has the keyboard, whatever it does elsewhere."""
        if event.type() == QEvent.Type.ShortcutOverride and _keeps(event):  # type: ignore[arg-type]
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if _keeps(event):
            self._keep(self.toPlainText())
        else:
            super().keyPressEvent(event)


def _keeps(event: QKeyEvent) -> bool:
    is_enter = event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
    return is_enter and bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)


class TaskTalk(QWidget):
    def __init__(self, desk: Desk, task: Task) -> None:
        super().__init__()
        self._desk, self._task = desk, task
        self._box = QVBoxLayout(self)
        self._box.setContentsMargins(0, 0, 0, 0)
        self._box.setSpacing(3)
        can_edit = not desk.is_read_only
        self._notes()
        self._tags()
        self._attachments(can_edit)
        self._comments(can_edit)

    def _notes(self) -> None:
        self._box.addWidget(heading("Notes"))
        notes = NotesField(self._task.notes, "taskNotes", self._keep_notes)
        notes.setAccessibleName("Notes")
        notes.setFixedHeight(96)
        notes.setReadOnly(self._desk.is_read_only)
        self._box.addWidget(notes)

    def _keep_notes(self, text: str) -> None:
        task = self._desk.plan.tasks.get(self._task.id)
        if task is not None and task.notes != text:
            self._desk.do(edits.set_task(self._desk.plan, task.id, f"Note on “{task.name}”", notes=text))

    def _tags(self) -> None:
        self._box.addWidget(heading("Tags"))
        line = QLineEdit(", ".join(self._task.tags))
        line.setObjectName("taskTags")
        line.setAccessibleName("Tags")
        line.setPlaceholderText("Words, parted by commas")

        def take() -> None:
            task = self._desk.plan.tasks.get(self._task.id)
            if task is not None and line.text() != ", ".join(task.tags):
                self._desk.do(edits.set_tags(self._desk.plan, [task.id], line.text().split(",")))

        line.editingFinished.connect(take)
        self._box.addWidget(line)

    def _attachments(self, can_edit: bool) -> None:
        self._box.addWidget(heading("Files and pages"))
        workspace = self._desk.session.workspace.path
        for place in self._task.attachments:
            line = QHBoxLayout()
            gone = " · not there" if is_missing(workspace, place) else ""
            button = LineButton(place if WEB.match(place) else f"{Path(place).name}{gone}")
            button.setToolTip(plain_tip(place))
            button.clicked.connect(lambda _, p=place: self._open(p))
            line.addWidget(button, 1)
            remove = icon_button("x", "Detach")
            remove.setEnabled(can_edit)
            remove.clicked.connect(lambda _, p=place: self._desk.do(edits.detach(self._desk.plan, self._task.id, p)))
            line.addWidget(remove)
            self._box.addLayout(line)
        field = QLineEdit()
        field.setObjectName("attachPlace")
        field.setAccessibleName("File or web page to attach")
        field.setPlaceholderText("A path, or https://…")
        field.returnPressed.connect(lambda: self._attach(field.text().strip()))
        choose = QToolButton()
        choose.setText("…")
        choose.setToolTip("Choose a file")
        choose.setAccessibleName("Choose a file")
        choose.clicked.connect(self._choose)
        line = QHBoxLayout()
        line.addWidget(field, 1)
        line.addWidget(choose)
        self._box.addLayout(line)
        if can_edit and strays(workspace, self._task.attachments):
            along = QPushButton("Take the files along")
            along.setObjectName("attachAlong")
            along.setToolTip(plain_tip(f"Copy them into “{folder_of(workspace).name}”, beside the workspace"))
            along.clicked.connect(self._take_along)
            self._box.addWidget(along)

    def _take_along(self) -> None:
        """Copy them beside the workspace, off the interface's thread, and name the copies."""
        desk, workspace, places = self._desk, self._desk.session.workspace.path, self._task.attachments

        def done(found: object) -> None:
            made: dict[str, str] = found  # type: ignore[assignment]
            if made and desk.do(name_copies(desk.plan, made)):
                desk.told.emit(f"{count_of(len(made), 'file')} in “{folder_of(workspace).name}”.", "", True)

        in_background(desk, lambda: copy_along(workspace, places), done,
                      lambda error: desk.told.emit(str(error), "trouble", False))  # fmt: skip

    def _attach(self, place: str) -> None:
        if place:
            self._desk.do(edits.attach(self._desk.plan, self._task.id, place))

    def _choose(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Attach a file", str(Path.home()))
        self._attach(name)

    def _open(self, place: str) -> None:
        """Only web pages and files that are there; never a program by another scheme."""
        path = path_of(self._desk.session.workspace.path, place)
        if path is None:
            if _WEB.fullmatch(place):
                QDesktopServices.openUrl(QUrl(place))
            return
        if not is_missing(self._desk.session.workspace.path, place):
            QDesktopServices.openUrl(QUrl.fromLocalFile(str(path)))
        else:
            self._desk.told.emit(f"There is no file {path}.", "trouble", False)

    def _comments(self, can_edit: bool) -> None:
        self._box.addWidget(heading("Comments"))
        for comment in self._desk.plan.comments_about(self._task.id):
            self._box.addWidget(label(f"{comment.who} · {dates.moment(comment.at)}", "small", wrap=True))
            self._box.addWidget(label(comment.text, wrap=True))
        field = NotesField("", "commentText", lambda _: None)
        field.setAccessibleName("A comment")
        field.setPlaceholderText("Say something")
        field.setFixedHeight(56)
        say = QPushButton("Comment")
        say.setObjectName("commentSay")
        say.setEnabled(can_edit)

        def add() -> None:
            text = field.toPlainText().strip()
            if text:
                now = minutes_of(datetime.now().replace(second=0, microsecond=0))
                who = self._desk.session.who
                self._desk.do(edits.add_comment(self._desk.plan, self._task.id, who, now, text))

        say.clicked.connect(add)
        self._box.addWidget(field)
        self._box.addWidget(say, 0, Qt.AlignmentFlag.AlignLeft)
