"""The find-anything box: tasks and actions, by any part of their name."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec.structs import replace
from PyQt6.QtCore import QEvent, QObject, QPoint, Qt
from PyQt6.QtGui import QKeyEvent, QResizeEvent
from PyQt6.QtWidgets import QLineEdit, QListWidget, QListWidgetItem

from hexapod.plan.outline import number_of
from hexapod.query.asking import is_query

if TYPE_CHECKING:
    from hexapod.desktop.host import Host

MOST = 12
HINT, KEY = "Find a task or an action, ask the plan", "    Ctrl+K"


class FindBox(QLineEdit):
    def __init__(self, window: Host) -> None:
        super().__init__()
        self.setObjectName("find")
        self.setPlaceholderText(f"{HINT}{KEY}")
        self.setAccessibleName("Find a task or an action")
        self._window = window
        self._found = QListWidget(window)
        self._found.setObjectName("findList")
        self._found.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._found.hide()
        self._found.itemClicked.connect(self._take)
        self.textEdited.connect(self._offer)
        self.installEventFilter(self)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The key stands behind the hint where there is room for all of it."""
        super().resizeEvent(event)
        room = self.width() - 2 * self.fontMetrics().horizontalAdvance("Ctrl")  # what the frame takes at both ends
        fits = self.fontMetrics().horizontalAdvance(f"{HINT}{KEY}") <= room
        self.setPlaceholderText(f"{HINT}{KEY}" if fits else HINT)

    def _offer(self, text: str) -> None:
        self._found.clear()
        words = text.casefold().split()
        if not words:
            self._found.hide()
            return
        for name, data in self._matches(text, words):
            item = QListWidgetItem(name)
            item.setData(Qt.ItemDataRole.UserRole, data)
            self._found.addItem(item)
        if not self._found.count():
            nothing = QListWidgetItem(f"No task or action is called “{text.strip()}”")
            nothing.setFlags(Qt.ItemFlag.NoItemFlags)
            self._found.addItem(nothing)
        self._found.setCurrentRow(0)
        at = self.mapTo(self._window, QPoint(0, self.height() + 3))
        self._found.setGeometry(at.x(), at.y(), max(360, self.width()), self._height())
        self._found.show()
        self._found.raise_()

    def _height(self) -> int:
        return self._found.sizeHintForRow(0) * self._found.count() + 10

    def _matches(self, text: str, words: list[str]) -> list[tuple[str, tuple[str, str]]]:
        def fits(name: str) -> bool:
            low = name.casefold()
            return all(word in low for word in words)

        desk = self._window.desk
        question = [("Show only rows of which this is true", ("query", text))] if is_query(desk.plan, text) else []
        actions = [
            (f"{a.text}    {a.shown_keys}".rstrip(), ("action", a.id))
            for a in self._window.registry
            if fits(a.text) and self._window.registry.qt(a.id).isEnabled()
        ]
        tasks = []
        for task in desk.plan.tasks.values():
            if fits(task.name):
                project = desk.plan.projects[task.project].name
                tasks.append((f"{number_of(desk.plan, task.id)}  {task.name}    {project}", ("task", task.id)))
                if len(tasks) == MOST:
                    break
        return question + tasks[: MOST - min(4, len(actions))] + actions[:4]

    def _take(self, item: QListWidgetItem | None) -> None:
        data = item.data(Qt.ItemDataRole.UserRole) if item else None
        self._leave()
        if data is None:
            return
        kind, key = data
        if kind == "task":
            self._window.show_leg("build")
            self._window.desk.go_to(key)
            self._window.chart.show_task(key)
            self._window.grid.show_current()
        elif kind == "query":
            self._window.show_leg("build")
            desk = self._window.desk
            desk.on_show.show_view(replace(desk.on_show.view, name="", query=key))
        else:
            self._window.registry.qt(key).trigger()

    def _leave(self) -> None:
        self.clear()
        self._found.hide()
        self._window.grid.setFocus()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        assert event is not None
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()))
            if step:
                row = max(0, min(self._found.currentRow() + step, self._found.count() - 1))
                self._found.setCurrentRow(row)
                return True
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self._take(self._found.currentItem() if self._found.isVisible() else None)
                return True
            if event.key() == Qt.Key.Key_Escape:
                self._leave()
                return True
        elif event.type() == QEvent.Type.FocusOut:
            self._found.hide()
        return super().eventFilter(watched, event)
