"""What the load strip says in words: whose load, how much in the chosen period, and which tasks ask for it."""

from __future__ import annotations

from PyQt6.QtWidgets import QButtonGroup, QComboBox, QFrame, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from hexapod.desktop import dates
from hexapod.desktop.action import Registry
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import ActionButton, LineButton, clear, label, narrow
from hexapod.desktop.strip.canvas import LoadCanvas
from hexapod.desktop.strip.periods import WEEK, hours, periods_of
from hexapod.plan.records import DAY, Resource

MOST_TASKS = 2


class LoadInfo(QFrame):
    """Beside the canvas in Build."""

    def __init__(self, desk: Desk, registry: Registry, canvas: LoadCanvas) -> None:
        super().__init__()
        self.setObjectName("loadInfo")
        self._desk = desk
        self._canvas = canvas
        self._who = narrow(QComboBox())
        self._who.setObjectName("loadResource")
        self._who.setAccessibleName("Whose load is shown")
        self._who.activated.connect(lambda i: desk.look_at_resource(self._who.itemData(i)))
        self._headline = label("", "value")
        self._headline.setObjectName("loadHeadline")
        self._headline.setWordWrap(True)
        self._tasks = QVBoxLayout()
        self._tasks.setSpacing(0)
        self._level = ActionButton(registry, "level.float", primary=True, text="Level")
        top = QHBoxLayout()
        top.setSpacing(6)
        top.addWidget(self._who, 1)
        top.addWidget(self._switch())
        top.addWidget(self._level)
        box = QVBoxLayout(self)
        box.setContentsMargins(10, 4, 8, 2)
        box.setSpacing(1)
        box.addLayout(top)
        box.addWidget(self._headline)
        box.addLayout(self._tasks)
        box.addStretch(1)
        for signal in (desk.changed, desk.computed, desk.looked_at_changed):
            signal.connect(self.refresh)

    @property
    def first_field(self) -> QWidget:
        """What takes the keyboard when this part of the window does."""
        return self._who

    def _switch(self) -> QWidget:
        holder = QWidget()
        line = QHBoxLayout(holder)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(0)
        group = QButtonGroup(self)
        for text, length in (("Day", DAY), ("Week", WEEK)):
            button = QPushButton(text)
            button.setProperty("role", "choice")
            button.setCheckable(True)
            button.setChecked(length == self._canvas.length)
            button.setAccessibleName(f"Load by {text.lower()}")
            button.clicked.connect(lambda _, x=length: (self._canvas.show_by(x), self.refresh()))
            group.addButton(button)
            line.addWidget(button)
        return holder

    def showEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        super().showEvent(event)
        self.refresh()

    def refresh(self, *_: object) -> None:
        if not self.isVisible():
            return
        desk = self._desk
        self._who.clear()
        for resource in desk.plan.resources_in_order():
            self._who.addItem(self._named(resource), resource.id)
        self._who.setCurrentIndex(self._who.findData(desk.resource))
        clear(self._tasks)
        load = desk.load
        is_there = desk.resource in desk.plan.resources  # an earlier day may not know them
        if load is None or not is_there:
            self._headline.setText("Computing the load…" if is_there else "")
            return
        mine = [o for o in load.overloads if o.resource == desk.resource]
        period = desk.period
        if period is None and mine:
            period = (self._start_of(mine[0].begin), self._start_of(mine[0].begin) + self._canvas.length)
        if period is None:
            self._say("No overload. Click a column for the tasks behind it.", "")
            return
        self._show_period(period)

    def _named(self, resource: Resource) -> str:
        """With how many people have a role, or how much there is of it: ``Case technicians ×3``."""
        from hexapod.staffing.roles import members_of

        count = len(members_of(self._desk.plan, resource.id)) or resource.capacity
        return resource.name if count == 1 else f"{resource.name} ×{count:g}"

    def _start_of(self, minute: int) -> int:
        day = minute // DAY
        if self._canvas.length == WEEK:
            day -= (day + 3) % 7
        return day * DAY

    def _show_period(self, period: tuple[int, int]) -> None:
        import numpy as np

        from hexapod.staffing.load import shares_in

        desk = self._desk
        assert desk.resource is not None
        found = periods_of(desk, desk.resource, np.array(period))[0]
        when = dates.short_day(period[0])
        name = f"Week of {when}" if period[1] - period[0] == WEEK else when
        text = f"{name}: {hours(found.load)} planned, {hours(found.capacity)} capacity"
        if found.is_over and found.load <= found.capacity:
            text += f", but {found.peak:g} at once"
        self._say(text, "trouble" if found.is_over else "")
        shares = shares_in(desk.worked_out, desk.plan, desk.resource, *period)
        for share in shares[:MOST_TASKS]:
            task = desk.plan.tasks[share.task]
            project = desk.plan.projects[task.project].name
            self._tasks.addWidget(
                self._task_button(share.task, f"{task.name}, {hours(share.minutes / 60)} · {project}")
            )
        if len(shares) > MOST_TASKS:
            self._tasks.addWidget(label(f"and {len(shares) - MOST_TASKS} more", "small"))

    def _task_button(self, task_id: str, text: str) -> LineButton:
        button = LineButton(text)
        button.clicked.connect(lambda: self._desk.go_to(task_id))
        return button

    def _say(self, text: str, tone: str) -> None:
        self._headline.setText(text)
        self._headline.setProperty("role", tone or "value")
        style = self._headline.style()
        if style is not None:
            style.polish(self._headline)
