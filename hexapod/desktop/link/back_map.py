"""The map of planning back: from a date to the left, what must come before it is pulled out, named and sized.

What is drawn is the plan itself: every bar is a task at its latest dates, every line a link.
"""

from __future__ import annotations

from PyQt6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QLineEdit,
    QMenu,
    QPushButton,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from hexapod.desktop import dates
from hexapod.desktop.action import Registry
from hexapod.desktop.link.back_canvas import BackCanvas
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import label
from hexapod.errors import HexapodError
from hexapod.plan import edits
from hexapod.plan.outline import rows
from hexapod.plan.records import DAY
from hexapod.worktime.clock import today
from hexapod.worktime.lengths import format_days


class BackMap(QWidget):
    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__()
        self._desk, self._registry = desk, registry
        self.milestones: list[str] = []
        self.canvas = BackCanvas(self, desk, registry)
        self._answer = label("", "value")
        self._answer.setObjectName("backAnswer")
        self._choose = QToolButton()
        self._choose.setObjectName("backMilestones")
        self._choose.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(self._choose)
        menu.aboutToShow.connect(lambda: self._fill_milestones(menu))
        self._choose.setMenu(menu)
        self.date = QLineEdit()
        self.date.setObjectName("backBy")
        self.date.setAccessibleName("Done by")
        self.date.setPlaceholderText("end of oct, 2027-03-12")
        self.date.setFixedWidth(150)
        self.date.editingFinished.connect(self._take_date)
        head = QFrame()
        head.setObjectName("viewbar")
        line = QHBoxLayout(head)
        line.setContentsMargins(10, 4, 10, 4)
        line.addWidget(self._choose)
        line.addWidget(label("done by"))
        line.addWidget(self.date)
        line.addSpacing(10)
        line.addWidget(self._answer, 1)
        self.question = Question(self)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(0)
        box.addWidget(head)
        box.addWidget(self.canvas, 1)
        box.addWidget(self.question)
        self.setFocusProxy(self.canvas)

    # Which milestones

    def begin(self) -> None:
        """The current task if it is a moment, else those that were on the map, else those with a date."""
        desk = self._desk
        if desk.project is None or not desk.is_computed:
            return
        kept = self._remembered().get(desk.project, [])
        here = self._moments()
        current = desk.current if desk.current in here else None
        known = [m for m in kept if m in here]
        with_date = [m for m in here if desk.plan.tasks[m].target is not None]
        self.milestones = [current] if current and current not in known else known or with_date[:1] or here[-1:]
        self.refresh()
        self.fit()

    def _moments(self) -> list[str]:
        desk = self._desk
        here = [row.task for row in rows(desk.plan, desk.project)] if desk.project else []
        return [t for t in here if not desk.plan.is_summary(t) and desk.plan.tasks[t].minutes == 0]

    def _fill_milestones(self, menu: QMenu) -> None:
        menu.clear()
        plan = self._desk.plan
        for task in self._moments():
            choice = menu.addAction(plan.tasks[task].name)
            choice.setCheckable(True)
            choice.setChecked(task in self.milestones)
            choice.triggered.connect(lambda on, t=task: self._put(t, on))
        menu.addSeparator()
        new = menu.addAction("A new milestone")
        new.setObjectName("newMilestone")
        new.triggered.connect(self.add_milestone)

    def _put(self, task: str, on: bool) -> None:
        self.milestones = [*(m for m in self.milestones if m != task), *([task] if on else [])]
        self._keep()
        self.refresh()

    def _keep(self) -> None:
        kept = {**self._remembered(), self._desk.project or "": self.milestones}
        self._desk.memory.keep("back_milestones", kept)

    def _remembered(self) -> dict[str, list[str]]:
        """The milestones of each project that was planned back."""
        return self._desk.memory.recall("back_milestones", dict[str, list[str]], {})

    def add_milestone(self) -> None:
        """A milestone of its own to begin from, in three months' time until another date is said."""
        desk = self._desk
        if desk.project is None:
            return
        task = edits.new_id()
        at = (today() // DAY + 91) * DAY + dates.DAY_ENDS
        add = edits.add_task(desk.project, "New milestone", task_id=task, duration=0)

        def change(draft) -> None:  # type: ignore[no-untyped-def]
            from msgspec.structs import replace

            add.change(draft)
            draft.put(replace(draft.task(task), target=at))

        if desk.do(edits.Edit("Add a milestone to plan back from", change)):
            self.milestones.append(task)
            self._keep()
            desk.select((task,), task)
            self.refresh()
            self.fit()
            self.canvas.rename(task)

    def date_of(self, milestone: str) -> int:
        task = self._desk.plan.tasks[milestone]
        return task.target if task.target is not None else self._desk.schedule.dates(milestone).finish

    # What is shown

    def refresh(self) -> None:
        desk = self._desk
        self.drop_gone()
        if not self.isVisible() or not desk.is_computed:
            return
        self.canvas.refresh()
        names = [desk.plan.tasks[m].name for m in self.milestones]
        self._choose.setText(names[0] if len(names) == 1 else f"{len(names)} milestones" if names else "Milestones")
        self._choose.setAccessibleName(f"Milestones on the map: {', '.join(names)}")
        self.date.setEnabled(bool(self.milestones) and not desk.is_read_only)
        if self.milestones and not self.date.hasFocus():
            self.date.setText(dates.typed(self.date_of(self.chosen())))
        self._say()

    def drop_gone(self) -> None:
        """Goals and work that were deleted meanwhile, by whichever way, are not on the map any more."""
        self.milestones = [m for m in self.milestones if m in self._desk.plan.tasks]
        self.canvas.drop_gone()

    def chosen(self) -> str:
        """The milestone whose date is at hand: the current one, or that of the current work."""
        current = self._desk.current or ""
        latest = self.canvas.picture.latest.get(current)
        if current in self.milestones:
            return current
        return latest.milestone if latest is not None and latest.milestone in self.milestones else self.milestones[0]

    def _say(self) -> None:
        found = self.canvas.picture
        if not self.milestones:
            self._answer.setText("Choose a milestone, or begin with a new one.")
            self._tone("muted")
            return
        if found.begins is None:
            self._answer.setText("")
            return
        now = today() // DAY * DAY
        said = f"Work must begin by {dates.long_day(found.begins)}"
        late = max((-x.room for x in found.latest.values()), default=0)
        if found.begins < now:
            said += f", {format_days(self._work_between(found.begins, now))} before today"
        elif late > 0:
            said += f"; as planned it is {self._desk.length(late)} too late"
        else:
            said += f", {format_days(self._work_between(now, found.begins))} from today"
        self._answer.setText(said + ".")
        self._tone("trouble" if found.begins < now or late > 0 else "value")

    def _work_between(self, begin: int, end: int) -> int:
        from hexapod.schedule.slip import working_minutes

        project = self._desk.plan.projects[self._desk.project or ""]
        return working_minutes(self._desk.worked_out, project.calendar, begin, end)

    def _tone(self, role: str) -> None:
        self._answer.setProperty("role", role)
        style = self._answer.style()
        if style is not None:
            style.polish(self._answer)

    def _take_date(self) -> None:
        if not self.milestones or not self.date.isModified():
            return
        self.date.setModified(False)
        task = self.chosen()
        try:
            at = self._desk.read_date(self.date.text(), ends=True)
            self.set_date(task, at)
        except HexapodError as error:
            self._desk.told.emit(str(error), "trouble", False)

    def set_date(self, milestone: str, at: int) -> None:
        name = self._desk.plan.tasks[milestone].name
        edit = edits.set_task(self._desk.plan, milestone, f"“{name}” done by {dates.short_day(at)}", target=at)
        if self._desk.do(edit):
            self._desk.told.emit(f"{edit.words}.", "", True)

    def show_lanes(self, on: bool) -> None:
        self.canvas.has_lanes = on
        self.refresh()

    def fit(self) -> None:
        self.canvas.fit()

    def zoom_by(self, factor: float) -> None:
        self.canvas.zoom_by(factor)

    def cancel(self) -> bool:
        was = self.question.isVisible()
        self.question.hide()
        return self.canvas.cancel() or was

    def showEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        super().showEvent(event)
        self.begin()


class Question(QFrame):
    """Work was dragged past its milestone: does the date move, or does the work not fit?"""

    def __init__(self, map_: BackMap) -> None:
        super().__init__(map_)
        self.setObjectName("viewbar")
        self._map = map_
        self._says = label("", "attention", wrap=True)
        self._move, self._keep, self._leave = QPushButton(), QPushButton(), QPushButton("Leave it")
        self._move.setObjectName("moveDate")
        self._keep.setObjectName("keepDate")
        self._move.setText("Move the date")
        self._keep.setText("Keep the date")
        self._take_move = self._take_keep = lambda: None
        self._move.clicked.connect(lambda: (self.hide(), self._take_move()))
        self._keep.clicked.connect(lambda: (self.hide(), self._take_keep()))
        self._leave.clicked.connect(self.hide)
        line = QHBoxLayout(self)
        line.setContentsMargins(10, 6, 10, 6)
        line.addWidget(self._says, 1)
        for button in (self._move, self._keep, self._leave):
            line.addWidget(button)
        self.hide()

    def ask(self, says: str, move: str, keep: str, take_move, take_keep) -> None:  # type: ignore[no-untyped-def]
        self._says.setText(says)
        self._move.setText(move)
        self._keep.setText(keep)
        self._take_move, self._take_keep = take_move, take_keep
        self.show()
        self._move.setFocus()
