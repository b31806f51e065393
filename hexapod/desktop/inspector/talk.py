"""What is said about a task: notes, tags, and comments with who said them and when."""

from __future__ import annotations

from datetime import datetime

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QFocusEvent, QKeyEvent
from PyQt6.QtWidgets import QLineEdit, QPlainTextEdit, QPushButton, QVBoxLayout, QWidget

from hexapod.desktop import dates
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import heading, label
from hexapod.plan import edits
from hexapod.plan.records import Task
from hexapod.worktime.clock import minutes_of


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
