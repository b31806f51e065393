"""What is behind a role's month: the projects that need it, the tasks in each, and what would close the gap."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import pyqtSignal

from hexapod.desktop import dates
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import LineButton, clear, label
from hexapod.desktop.staff.below import Below
from hexapod.desktop.staff.roles_chart import SHORT, RolesChart
from hexapod.desktop.strip.periods import hours

if TYPE_CHECKING:
    from hexapod.staffing.roles import RoleRow

MOST = 8
DAY = 1440


class GapClosing(Below):
    """``seat_asked`` with the key of a seat that somebody is to be found for."""

    seat_asked = pyqtSignal(str, str)

    def __init__(self, desk: Desk, chart: RolesChart) -> None:
        super().__init__(desk, "gap", (1, 1), stretched=0)
        self._chart = chart
        self._opened: str | None = None  # the project whose tasks are shown
        chart.picked.connect(self.refresh)

    def refresh(self) -> None:
        clear(self.lines)
        clear(self.more)
        chart, row = self._chart, self._chart.current
        if row is None or chart.table is None or self._desk.load is None:
            self.say("", "")
            return
        short = row.short(chart.period)
        need, have = hours(round(float(row.need[chart.period]), 1)), hours(round(float(row.have[chart.period]), 1))
        gap = "as much as there is" if abs(short) <= SHORT else hours(round(abs(short), 1))
        ending = "" if abs(short) <= SHORT else " short" if short > 0 else " to spare"
        gist = f"{need} wanted, {have} there: {gap}{ending}"
        self.say(f"{row.title}, {chart.when}", gist, is_trouble=short > SHORT)
        self._list_projects(row)
        if short > SHORT:
            self._list_ways(row.role)

    def _list_projects(self, row: RoleRow) -> None:
        chart = self._chart
        assert chart.table is not None
        line = 0
        filled, unfilled = row.filled[:, chart.period], row.open[:, chart.period]
        order = sorted(range(len(filled)), key=lambda p: -float(filled[p] + unfilled[p]))
        for p in order:
            total = float(filled[p] + unfilled[p])
            if total <= 0:
                continue
            project = chart.table.projects[p]
            name = LineButton(self._desk.plan.projects[project].name)
            name.setObjectName(f"need {project}")
            name.setToolTip("Its tasks and promises then")
            name.clicked.connect(lambda _, x=project: self._open(x))
            self.lines.addWidget(name, line, 0)
            self.lines.addWidget(label(hours(round(total, 1)), "value"), line, 1)
            said = f"{hours(round(float(unfilled[p]), 1))} open" if unfilled[p] > 0 else "all filled"
            self.lines.addWidget(label(said, "attention" if unfilled[p] > 0 else "muted"), line, 2)
            line += 1
            if project == self._opened:
                line = self._list_work(row.role, project, line)
        if not line:
            self.lines.addWidget(label("No project needs it then.", "muted"), 0, 0, 1, 3)

    def _open(self, project: str) -> None:
        """Show a project's tasks, or put them away again."""
        self._opened = None if self._opened == project else project
        self.refresh()

    def _list_work(self, role: str, project: str, line: int) -> int:
        """Tasks and promises of one project in the period, each a way on."""
        from hexapod.staffing.load import shares_in
        from hexapod.staffing.reserved import bounds_of
        from hexapod.staffing.roles import members_of

        desk, chart = self._desk, self._chart
        assert chart.table is not None
        begin, end = (int(chart.table.edges[chart.period + i]) for i in (0, 1))
        for resource in (role, *(m.id for m in members_of(desk.plan, role))):
            who = desk.plan.resources[resource].name if resource != role else "nobody yet"
            for share in shares_in(desk.worked_out, desk.plan, resource, begin, end):
                if desk.plan.tasks[share.task].project == project:
                    button = LineButton(f"    {desk.plan.tasks[share.task].name}")
                    button.clicked.connect(lambda _, t=share.task: desk.go_to(t))
                    self.lines.addWidget(button, line, 0)
                    self.lines.addWidget(label(hours(round(share.minutes / 60, 1))), line, 1)
                    self.lines.addWidget(label(who, "muted"), line, 2)
                    line += 1
            for reservation in desk.plan.reservations_of(project):
                first, last = bounds_of(desk.worked_out, desk.plan, reservation)
                if reservation.resource == resource and first < end and last > begin:
                    text = f"    Reserved, {100 * reservation.units:.4g} %"
                    button = LineButton(text)
                    button.setObjectName(f"reserved {reservation.id}")
                    button.setEnabled(resource == role)
                    button.clicked.connect(lambda _, r=reservation.id: self.seat_asked.emit("", r))
                    self.lines.addWidget(button, line, 0)
                    self.lines.addWidget(label(who, "muted"), line, 2)
                    line += 1
        return line

    def _list_ways(self, role: str) -> None:
        from hexapod.staffing.roles import remedies

        desk, chart = self._desk, self._chart
        assert chart.table is not None and desk.load is not None
        found = remedies(desk.worked_out, desk.plan, desk.load.demand, chart.table, role, chart.period)
        self.more.addWidget(label("What would close the gap", "value"))
        for helper in found.helpers[:MOST]:
            free = hours(round(helper.free, 1))
            self._say(f"{desk.plan.resources[helper.resource].name} can act in the role, and is free for {free}")
        for later in found.later[:MOST]:
            button = LineButton(f"“{desk.plan.tasks[later.task].name}” later")
            button.clicked.connect(lambda _, t=later.task: desk.go_to(t))
            self.more.addWidget(button)
            self._say(
                f"within its float of {self._desk.length(later.by)} it leaves {hours(round(later.hours, 1))} free"
            )
        if found.hire is not None:
            count = "1 more" if found.hire.count == 1 else f"{found.hire.count} more"
            until = dates.short_day(found.hire.end - DAY)
            self._say(f"{count} at full time from {dates.short_day(found.hire.begin)} to {until}")

    def _say(self, text: str) -> None:
        self.more.addWidget(label(text))
