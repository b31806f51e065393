"""What is behind a cell of the load grid: the tasks by their share, and who could take some of it."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QFrame, QGridLayout, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from hexapod.desktop.desk import Desk
from hexapod.desktop.parts import LineButton, clear, label
from hexapod.desktop.staff.load_grid import LoadGrid
from hexapod.desktop.staff.periods import long_name
from hexapod.desktop.strip.periods import hours
from hexapod.plan.records import ResourceKind
from hexapod.worktime.lengths import format_length

MOST_TASKS, MOST_CANDIDATES = 40, 6


class Behind(QFrame):
    """``seat_asked`` with the task and the role that somebody is to be found for."""

    seat_asked = pyqtSignal(str, str)

    def __init__(self, desk: Desk, grid: LoadGrid) -> None:
        super().__init__()
        self.setObjectName("behind")
        self._desk, self._grid = desk, grid
        self._title = label("", "title")
        self._title.setObjectName("behindTitle")
        self._says = label("", "value")
        self._says.setObjectName("behindSays")
        self._tasks = QGridLayout()
        self._tasks.setHorizontalSpacing(14)
        self._tasks.setVerticalSpacing(1)
        self._tasks.setColumnStretch(1, 1)
        self._others = QVBoxLayout()
        self._others.setSpacing(1)
        inside = QWidget()
        line = QHBoxLayout(inside)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(28)
        left, right = QVBoxLayout(), QVBoxLayout()
        left.addLayout(self._tasks)
        left.addStretch(1)
        right.addLayout(self._others)
        right.addStretch(1)
        line.addLayout(left, 3)
        line.addLayout(right, 2)
        scroll = QScrollArea()
        scroll.setWidget(inside)
        scroll.setWidgetResizable(True)
        scroll.setFrameShape(QFrame.Shape.NoFrame)
        box = QVBoxLayout(self)
        box.setContentsMargins(14, 8, 14, 8)
        box.setSpacing(2)
        box.addWidget(self._title)
        box.addWidget(self._says)
        box.addWidget(scroll, 1)
        grid.picked.connect(self.refresh)

    @property
    def first_task(self) -> QWidget | None:
        """The first of the tasks, to go on from by keyboard."""
        item = self._tasks.itemAtPosition(0, 1)
        return item.widget() if item is not None else None

    def refresh(self) -> None:
        clear(self._tasks)
        clear(self._others)
        grid, row = self._grid, self._grid.current
        if grid.table is None or row is None or self._desk.load is None:
            self._title.setText("")
            self._says.setText("")
            return
        period = grid.period
        self._title.setText(f"{row.title}, {long_name(grid.step, grid.begin_of_period)}")
        load, capacity = float(row.load[period]), float(row.capacity[period])
        said = f"{hours(round(load, 1))} planned, {hours(round(capacity, 1))} capacity"
        if row.is_seat:
            said = f"{hours(round(load, 1))} that nobody does yet" if load else "No open seat here"
        elif load > capacity + 1e-9:
            said += f": {hours(round(load - capacity, 1))} too much"
        elif row.excess[period] > 0:
            said += f", but {hours(round(float(row.excess[period]), 1))} too much at some moment"
        elif capacity > load:
            said += f": {hours(round(capacity - load, 1))} free"
        self._says.setText(said)
        self._says.setProperty("role", "trouble" if row.is_over(period) else "value")
        style = self._says.style()
        if style is not None:
            style.polish(self._says)
        found = self._list_tasks(row.members)
        if row.resource is not None and row.is_seat:
            self._list_seats(row.resource, found)
        elif row.resource is not None:
            self._list_candidates(row.resource, is_over=row.is_over(period))

    def _list_seats(self, role: str, tasks: list[str]) -> None:
        for task in tasks[:MOST_CANDIDATES]:
            find = LineButton(f"Find somebody for “{self._desk.plan.tasks[task].name}”")
            find.setObjectName(f"find {task}")
            find.clicked.connect(lambda _, t=task: self.seat_asked.emit(t, role))
            self._others.addWidget(find)

    def _list_tasks(self, members: tuple[str, ...]) -> list[str]:
        from hexapod.staffing.load import shares_in

        desk, (begin, end) = self._desk, self._grid.span
        minutes: dict[str, float] = {}
        for resource in members:
            for share in shares_in(desk.schedule, desk.plan, resource, begin, end):
                minutes[share.task] = minutes.get(share.task, 0.0) + share.minutes
        if not self._grid.all_projects:
            minutes = {t: m for t, m in minutes.items() if desk.plan.tasks[t].project == desk.project}
        found = sorted(minutes.items(), key=lambda pair: (-pair[1], pair[0]))
        for line, (task_id, share) in enumerate(found[:MOST_TASKS]):
            task = desk.plan.tasks[task_id]
            button = LineButton(task.name)
            button.clicked.connect(lambda _, t=task_id: self._desk.go_to(t))
            self._tasks.addWidget(label(desk.plan.projects[task.project].name, "muted"), line, 0)
            self._tasks.addWidget(button, line, 1)
            self._tasks.addWidget(label(hours(round(share / 60, 1)), "value"), line, 2)
            room = desk.schedule.dates(task_id).total_float
            self._tasks.addWidget(label(f"float {format_length(room)}" if room else "no float", "muted"), line, 3)
        if not found:
            self._tasks.addWidget(label("Nothing is planned here.", "muted"), 0, 0, 1, 4)
        elif len(found) > MOST_TASKS:
            self._tasks.addWidget(label(f"and {len(found) - MOST_TASKS} more", "small"), MOST_TASKS, 1)
        return [task for task, _ in found]

    def _list_candidates(self, resource: str, *, is_over: bool) -> None:
        from hexapod.staffing.candidates import candidates

        desk, (begin, end) = self._desk, self._grid.span
        if desk.plan.resources[resource].kind in (ResourceKind.PLACE, ResourceKind.MATERIAL):
            return
        found = candidates(desk.schedule, desk.plan, resource, begin, end)[:MOST_CANDIDATES]
        if not found and not is_over:
            return
        self._others.addWidget(label("Who could take some of it", "value"))
        for candidate in found:
            other = desk.plan.resources[candidate.resource]
            why = ("same role", "can act in the role", ", ".join(candidate.skills))[candidate.rank]
            said = label(f"{other.name}  ·  {why}  ·  {hours(round(candidate.free / 60, 1))} free", wrap=True)
            self._others.addWidget(said)
        if not found:
            self._others.addWidget(label("Nobody else has the role or the skills, and time then.", "muted", wrap=True))
