"""The history: every edit by whom and when, the plan as it was after any of them, and what is different since."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QPushButton

from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import LineButton, heading, label
from hexapod.plan import edits
from hexapod.plan.changes import diff
from hexapod.plan.outline import outline_order
from hexapod.plan.plan import Plan
from hexapod.plan.records import Task
from hexapod.store.history import HistoryRow

SHOWN_EDITS = 200
MOST_ROWS = 40
_DONE = {"undo": "Undone: ", "redo": "Done again: "}


class HistoryPage(Page):
    def __init__(self, desk: Desk) -> None:
        super().__init__(desk, "History")
        self.of_task = False
        self._found: tuple[tuple[str, int], list[HistoryRow]] | None = None  # of a task, at a length of the history
        self._asked: tuple[str, int] | None = None
        desk.changed.connect(self.refresh)
        desk.past_changed.connect(self.refresh)
        desk.selection_changed.connect(lambda: self.of_task and self.refresh())

    def fill(self) -> None:
        desk = self.desk
        self.box.addWidget(label("History", "title"))
        if desk.past is not None:
            self._fill_past()
            return
        self._fill_choice()
        rows = self._rows()
        if rows is None:
            self.box.addWidget(label("Reading…", "muted"))
            return
        if not rows:
            self.box.addWidget(label("Nothing has been changed yet.", "muted"))
        day = ""
        for row in rows:
            if row.at[:10] != day:
                day = row.at[:10]
                self.box.addWidget(heading(day))
            button = LineButton(f"{_DONE.get(row.kind, '')}{row.words}")
            button.setObjectName(f"history.{row.number}")
            button.setToolTip("Look at the plan as it was then")
            button.clicked.connect(lambda _, r=row: desk.look_back(r))
            self.box.addWidget(button)
            self.box.addWidget(label(f"{row.at[11:16]} · {row.who}", "small"))

    def _rows(self) -> list[HistoryRow] | None:
        """None while those of one task are read: for that each edit has to be looked into."""
        desk, session, task = self.desk, self.desk.session, self.desk.current
        if not self.of_task or task is None or task not in desk.plan.tasks:
            return list(reversed(session.history[-SHOWN_EDITS:]))
        key = (task, session.mark)
        if self._found is not None and self._found[0] == key:
            return self._found[1]
        if self._asked != key:
            self._asked = key

            def show(found: object) -> None:
                self._found = (key, found)  # type: ignore[assignment]
                self._asked = None
                self.refresh()

            in_background(self, lambda: session.edits_of(task), show, self._tell)
        return None

    def _tell(self, error: Exception) -> None:
        self._asked = None
        self.desk.told.emit(str(error), "trouble", False)

    def _fill_choice(self) -> None:
        line = QHBoxLayout()
        for of_task, words, name in ((False, "All edits", "historyAll"), (True, "Of this task", "historyTask")):
            button = QPushButton(words)
            button.setObjectName(name)
            button.setProperty("role", "choice")
            button.setCheckable(True)
            button.setChecked(of_task is self.of_task)
            button.clicked.connect(lambda _, o=of_task: self._choose(o))
            line.addWidget(button)
        line.addStretch(1)
        self.box.addLayout(line)

    def _choose(self, of_task: bool) -> None:
        self.of_task = of_task
        self.refresh_now()

    def _fill_past(self) -> None:
        """What is different since, and the way back."""
        desk, past = self.desk, self.desk.past
        assert past is not None
        self.box.addWidget(label(f"The plan after {past.words}", "value", wrap=True))
        self.box.addWidget(label(f"{past.row.words} · {past.row.who}", "small", wrap=True))
        self.box.addWidget(label("It can be read, not changed. Dashed is where things are today.", "muted", wrap=True))
        back = QPushButton("Back to today")
        back.setObjectName("historyToday")
        back.setProperty("role", "primary")
        back.clicked.connect(desk.look_at_today)
        self.box.addWidget(back, 0, Qt.AlignmentFlag.AlignLeft)
        now = desk.session.plan
        changes = diff(past.plan, now).tasks
        gone = _in_order(past.plan, [before for before, after in changes if after is None and before is not None])
        roots = [t for t in gone if t.parent is None or t.parent in now.tasks]
        self._section(f"Deleted since: {len(gone)}", [(t.name, lambda t=t: self._bring_back(t.id)) for t in roots])
        added = _in_order(now, [after for before, after in changes if before is None and after is not None])
        self._section(f"Added since: {len(added)}", [(t.name, None) for t in added])
        changed = _in_order(now, [after for before, after in changes if before is not None and after is not None])
        self._section(
            f"Changed since: {len(changed)}",
            [(t.name, lambda t=t: desk.go_to(t.id)) for t in changed],
        )

    def _section(self, title: str, entries: list[tuple[str, Callable[[], object] | None]]) -> None:
        self.box.addWidget(heading(title))
        is_gone = title.startswith("Deleted")
        for name, act in entries[:MOST_ROWS]:
            if act is None:
                self.box.addWidget(label(name, wrap=True))
                continue
            button = LineButton(f"Bring back “{name}”" if is_gone else name)
            button.clicked.connect(lambda _, a=act: a())
            self.box.addWidget(button)

    def _bring_back(self, task_id: str) -> None:
        desk, past = self.desk, self.desk.past
        assert past is not None
        desk.look_at_today()
        if desk.do(edits.bring_back(desk.plan, past.plan, task_id)):
            desk.go_to(task_id)
            desk.told.emit(f"“{desk.plan.tasks[task_id].name}” is back.", "", True)


def _in_order(plan: Plan, tasks: list[Task]) -> list[Task]:
    """As in the outline."""
    if len(tasks) < 2:
        return tasks
    places = {task: i for i, task in enumerate(outline_order(plan))}
    return sorted(tasks, key=lambda task: places[task.id])
