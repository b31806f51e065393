"""What a task hands over, and the files and pages that it names: opened from here, checked for being there, taken
along."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from pathlib import Path

from PyQt6.QtWidgets import (
    QCheckBox,
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from hexapod.desktop import dates
from hexapod.desktop.frame.open_place import open_place
from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import LineButton, card, heading, icon_button, label
from hexapod.desktop.theme.tips import plain_tip
from hexapod.formats.attached import WEB, copy_along, folder_of, is_missing, name_copies, strays
from hexapod.plan import edits
from hexapod.plan.approvals import Approval
from hexapod.plan.deliverables import Deliverable, DeliverableState, by_deliverable, state_of
from hexapod.plan.edits import Edit
from hexapod.plan.records import Task
from hexapod.system.words import count_of
from hexapod.worktime import clock

HINT = "A path, or https://…"


class TaskFiles(QWidget):
    """``ask`` opens the page on which people are asked to agree."""

    def __init__(self, desk: Desk, task: Task, ask: Callable[[], object]) -> None:
        super().__init__()
        self._desk, self._task, self._ask = desk, task, ask
        self._can_edit = not desk.is_read_only
        self._box = QVBoxLayout(self)
        self._box.setContentsMargins(0, 0, 0, 0)
        self._box.setSpacing(3)
        self._lines: list[tuple[str, LineButton]] = []
        self._fill_deliverables()
        self._box.addWidget(heading("Files and pages"))
        self._fill_files(self._box, task.attachments, lambda place: edits.detach(desk.plan, task.id, place))
        attach = self._place_line("attachPlace", "File or web page to attach",
                                  lambda place: edits.attach(desk.plan, task.id, place))  # fmt: skip
        self._box.addLayout(attach)
        self._along = QPushButton("Take the files along")
        self._along.setObjectName("attachAlong")
        self._along.setToolTip(plain_tip(f"Copy them into “{folder_of(self._workspace).name}”, beside the workspace"))
        self._along.clicked.connect(self._take_along)
        self._along.hide()
        self._box.addWidget(self._along)
        self._look_at_files()

    @property
    def _workspace(self) -> Path:
        return self._desk.session.workspace.path

    def _do(self, make: Callable[[], Edit]) -> None:
        if self._task.id in self._desk.plan.tasks:
            self._desk.do(make())

    # What it hands over

    def _fill_deliverables(self) -> None:
        plan = self._desk.plan
        self._box.addWidget(heading("What it hands over"))
        asked = by_deliverable(plan.approvals.values())
        for deliverable in plan.deliverables_of(self._task.id):
            self._fill_deliverable(deliverable, asked.get(deliverable.id))
        add = self._line("", "deliverableAdd", "Something else that it hands over", "A drawing, a report, a case …")
        add.returnPressed.connect(lambda: self._add(add.text()))
        self._box.addWidget(add)

    def _add(self, text: str) -> None:
        if text.strip():
            self._do(lambda: edits.add_deliverables(self._desk.plan, self._task.id, [text]))

    def _fill_deliverable(self, deliverable: Deliverable, approval: Approval | None) -> None:
        desk, key = self._desk, deliverable.id
        frame, box = card()
        top = QHBoxLayout()
        name = self._line(deliverable.name, f"deliverable {key}", "Name of the deliverable", "")
        name.editingFinished.connect(lambda: self._set(key, "name", name.text().strip()))
        top.addWidget(name, 1)
        remove = icon_button("x", f"Delete “{deliverable.name}”")
        remove.setObjectName(f"deliverableRemove {key}")
        remove.setEnabled(self._can_edit)
        remove.clicked.connect(lambda: self._do(lambda: edits.remove_deliverable(desk.plan, key)))
        top.addWidget(remove)
        box.addLayout(top)
        good = self._line(deliverable.asked, f"deliverableAsked {key}", "What makes it good", "What makes it good")
        good.editingFinished.connect(lambda: self._set(key, "asked", good.text().strip()))
        box.addWidget(good)
        given = QCheckBox("Handed over")
        given.setObjectName(f"deliverableGiven {key}")
        given.setChecked(deliverable.handed is not None)
        given.setEnabled(self._can_edit)
        given.clicked.connect(lambda on: self._do(lambda: self._given(key, on)))
        box.addWidget(given)
        state = state_of(deliverable, approval)
        is_overdue = state is DeliverableState.TO_COME and self._task.is_done
        tone = "trouble" if is_overdue or state is DeliverableState.SENT_BACK else "small"
        box.addWidget(label(self._state_words(deliverable, approval, state), tone, wrap=True))
        self._fill_files(box, deliverable.files, lambda place: edits.detach_from(desk.plan, key, place))
        box.addLayout(self._place_line(f"deliverablePlace {key}", f"File or web page of “{deliverable.name}”",
                                       lambda place: edits.attach_to(desk.plan, key, place)))  # fmt: skip
        ask = LineButton("Ask for approval…" if approval is None else "Show its approval")
        ask.setObjectName(f"deliverableAsk {key}")
        ask.setEnabled(self._can_edit or approval is not None)
        ask.clicked.connect(self._ask)
        box.addWidget(ask)
        self._box.addWidget(frame)

    def _given(self, key: str, on: bool) -> Edit:
        plan = self._desk.plan
        return edits.deliver(plan, key, self._desk.session.who, clock.now()) if on else edits.not_delivered(plan, key)

    def _set(self, key: str, field: str, text: str) -> None:
        there = self._desk.plan.deliverables.get(key)
        if there is not None and text != getattr(there, field) and (text or field != "name"):
            words = f"Rename “{there.name}”" if field == "name" else f"Say what makes “{there.name}” good"
            self._desk.do(edits.set_deliverable(self._desk.plan, key, words, **{field: text}))

    def _state_words(self, deliverable: Deliverable, approval: Approval | None, state: DeliverableState) -> str:
        """``To come, by Fri 12 Mar``; ``On Tue 3 Mar, by Jo Fenn``; who does not agree, and why."""
        desk = self._desk
        if state is DeliverableState.SENT_BACK and approval is not None:
            refused = [answer for answer in approval.answers if not answer.yes][-1]
            return f"{refused.name} sent it back: {refused.word}"
        if deliverable.handed is None:
            if not desk.schedule.has(self._task.id):
                return "To come"
            day = dates.last_day(desk.schedule.dates(self._task.id).finish)
            return f"The work ended {day}, and it was not handed over" if self._task.is_done else f"To come, by {day}"
        said = f"On {dates.short_day(deliverable.handed)}" + (f", by {deliverable.by}" if deliverable.by else "")
        if state is DeliverableState.AGREED:
            return f"{said}; agreed to"
        if approval is not None:
            waits = ", ".join(desk.plan.resources[p].name for p in approval.turn)
            return f"{said}; waits for {waits or 'somebody who agrees'}"
        return said

    # Files

    def _line(self, text: str, name: str, accessible: str, hint: str) -> QLineEdit:
        made = QLineEdit(text)
        made.setObjectName(name)
        made.setAccessibleName(accessible)
        made.setPlaceholderText(hint)
        made.setEnabled(self._can_edit)
        return made

    def _fill_files(self, box: QVBoxLayout, places: Iterable[str], detach: Callable[[str], Edit]) -> None:
        for place in places:
            line = QHBoxLayout()
            button = LineButton(place if WEB.match(place) else Path(place).name or place)
            button.setToolTip(plain_tip(place))
            button.clicked.connect(lambda _, p=place: open_place(self._desk, p))
            line.addWidget(button, 1)
            remove = icon_button("x", "Detach")
            remove.setEnabled(self._can_edit)
            remove.clicked.connect(lambda _, p=place: self._do(lambda: detach(p)))
            line.addWidget(remove)
            box.addLayout(line)
            self._lines.append((place, button))

    def _place_line(self, name: str, accessible: str, attach: Callable[[str], Edit]) -> QHBoxLayout:
        """Where a path or a page is typed, with a button that looks for a file."""
        field = self._line("", name, accessible, HINT)

        def take(place: str) -> None:
            if place.strip():
                self._do(lambda: attach(place.strip()))

        field.returnPressed.connect(lambda: take(field.text()))
        choose = QToolButton()
        choose.setText("…")
        choose.setToolTip("Choose a file")
        choose.setAccessibleName("Choose a file")
        choose.setEnabled(self._can_edit)
        choose.clicked.connect(lambda: take(QFileDialog.getOpenFileName(self, "Attach a file", str(Path.home()))[0]))
        line = QHBoxLayout()
        line.addWidget(field, 1)
        line.addWidget(choose)
        return line

    def _places(self) -> list[str]:
        """All files and pages of the task and of what it hands over."""
        plan = self._desk.plan
        own = [place for d in plan.deliverables_of(self._task.id) for place in d.files]
        return list(dict.fromkeys([*self._task.attachments, *own]))

    def _look_at_files(self) -> None:
        """Say which are not there; a disk of the network may take its time, so not while the interface waits."""
        workspace, places, lines, along = self._workspace, self._places(), self._lines, self._along

        def look() -> tuple[set[str], bool]:
            return {p for p in places if is_missing(workspace, p)}, bool(strays(workspace, places))

        def show(found: object) -> None:
            missing, are_strays = found  # type: ignore[misc]
            for place, button in lines:
                if place in missing:
                    button.say(f"{Path(place).name} · not there")
            along.setVisible(are_strays and self._can_edit)

        if places:
            in_background(self, look, show, lambda error: None)

    def _take_along(self) -> None:
        """Copy them beside the workspace, off the interface's thread, and name the copies."""
        desk, workspace, places = self._desk, self._workspace, self._places()

        def done(found: object) -> None:
            made: dict[str, str] = found  # type: ignore[assignment]
            if made and desk.do(name_copies(desk.plan, made)):
                desk.told.emit(f"{count_of(len(made), 'file')} in “{folder_of(workspace).name}”.", "", True)

        in_background(desk, lambda: copy_along(workspace, places), done,
                      lambda error: desk.told.emit(str(error), "trouble", False))  # fmt: skip
