"""What is behind a cell of the load grid: the tasks by their share, and who could take some of it."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QWidget

from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import LineButton, clear, label
from hexapod.desktop.staff.below import Below
from hexapod.desktop.staff.load_grid import LoadGrid
from hexapod.desktop.staff.periods import long_name
from hexapod.desktop.strip.periods import hours
from hexapod.plan.records import ResourceKind
from hexapod.staffing.capacity import PARTS

if TYPE_CHECKING:
    from hexapod.staffing.demand import Demand

MOST_TASKS, MOST_CANDIDATES = 40, 6


class Behind(Below):
    """``seat_asked`` with the key of the seat that somebody is to be found for."""

    seat_asked = pyqtSignal(str, str)

    def __init__(self, desk: Desk, grid: LoadGrid) -> None:
        super().__init__(desk, "behind", (3, 2), stretched=1)
        self._grid = grid
        grid.picked.connect(self.refresh)

    @property
    def first_task(self) -> QWidget | None:
        """The first of the tasks, to go on from by keyboard."""
        item = self.lines.itemAtPosition(0, 1)
        return item.widget() if item is not None else None

    def refresh(self) -> None:
        grid, row, counted = self._grid, self._grid.current, self._desk.load
        if counted is not None and counted.schedule is not self._desk.schedule:
            return  # it is being counted; the grid tells when it is there
        clear(self.lines)
        clear(self.more)
        if grid.table is None or row is None or counted is None:
            self.say("", "")
            return
        period = grid.period
        load, capacity = float(row.load[period]), float(row.capacity[period])
        said = f"{hours(round(load, 1))} planned, {hours(round(capacity, 1))} capacity"
        if row.is_seat:
            promised = float(row.reserved[period])
            parts = [f"{hours(round(load, 1))} of tasks"] if load else []
            parts += [f"{hours(round(promised, 1))} on projects"] if promised else []
            said = f"{' and '.join(parts)} that nobody does yet" if parts else "No open seat here"
        elif load > capacity + 1e-9:
            said += f": {hours(round(load - capacity, 1))} too much"
        elif row.excess[period] > 0:
            said += f", but {hours(round(float(row.excess[period]), 1))} too much at some moment"
        elif capacity > load:
            said += f": {hours(round(capacity - load, 1))} free"
        self.say(f"{row.title}, {long_name(grid.step, grid.begin_of_period)}", said, is_trouble=row.is_over(period))
        found = self._list_tasks(row.members, counted.demand)
        self._list_promises(row.members, counted.demand)
        if row.resource is not None and row.is_seat:
            self._list_seats(row.resource, found)
        elif row.resource is not None:
            self._list_candidates(row.resource, counted.demand, is_over=row.is_over(period))

    def _list_seats(self, role: str, tasks: list[str]) -> None:
        from hexapod.staffing.reserved import bounds_of

        desk, (begin, end) = self._desk, self._grid.span
        open_here = [((task, role), desk.plan.tasks[task].name) for task in tasks]
        for r in desk.plan.reservations.values():
            first, last = bounds_of(desk.worked_out, desk.plan, r)
            if r.resource == role and first < end and last > begin:
                open_here.append((("", r.id), f"{desk.plan.projects[r.project].name}, {100 * r.units:.4g} %"))
        for key, name in open_here[:MOST_CANDIDATES]:
            find = LineButton(f"Find somebody for “{name}”")
            find.setObjectName(f"find {key[0] or key[1]}")
            find.clicked.connect(lambda _, k=key: self.seat_asked.emit(*k))
            self.more.addWidget(find)

    def _list_tasks(self, members: tuple[str, ...], demand: Demand) -> list[str]:
        from hexapod.staffing.load import shares_of

        desk, (begin, end) = self._desk, self._grid.span
        chosen = self._grid.projects
        found = [
            (share.task, share.minutes)
            for share in shares_of(desk.worked_out, desk.plan, members, begin, end, demand)
            if chosen is None or desk.plan.tasks[share.task].project in chosen
        ]
        for line, (task_id, share) in enumerate(found[:MOST_TASKS]):
            task = desk.plan.tasks[task_id]
            button = LineButton(task.name)
            button.clicked.connect(lambda _, t=task_id: self._desk.go_to(t))
            self.lines.addWidget(label(desk.plan.projects[task.project].name, "muted"), line, 0)
            self.lines.addWidget(button, line, 1)
            self.lines.addWidget(label(hours(round(share / 60, 1)), "value"), line, 2)
            room = desk.schedule.dates(task_id).total_float
            words = "done" if room is None else f"float {desk.length(room, task_id)}" if room else "no float"
            self.lines.addWidget(label(words, "muted"), line, 3)
        if not found:
            self.lines.addWidget(label("Nothing is planned here.", "muted"), 0, 0, 1, 4)
        elif len(found) > MOST_TASKS:
            self.lines.addWidget(label(f"and {len(found) - MOST_TASKS} more", "small"), MOST_TASKS, 1)
        return [task for task, _ in found]

    def _list_promises(self, members: tuple[str, ...], demand: Demand) -> None:
        """What projects are promised here against what their tasks ask for."""
        from hexapod.staffing.reserved import Bookings

        desk = self._desk
        if not any(r.resource in members for r in desk.plan.reservations.values()):
            return
        booked = Bookings.of(desk.worked_out, desk.plan, demand, np.array(self._grid.span), members)
        promised, asked = booked.reserved[:, :, 0].sum(axis=0), booked.assigned[:, :, 0].sum(axis=0)
        if not promised.any():
            return
        self.more.addWidget(label("Reserved", "value"))
        for p, project in enumerate(booked.projects):
            if promised[p] or asked[p]:
                there, used = (round(float(a[p]) / PARTS / 60, 1) for a in (promised, asked))
                gap = round(used - there, 1)
                said = (
                    f"{hours(abs(gap))} more than that" if gap > 0 else f"{hours(-gap)} of it not yet" if gap else "all"
                )
                text = f"{desk.plan.projects[project].name}  ·  {hours(there)} reserved, {hours(used)} assigned: {said}"
                self.more.addWidget(label(text, "attention" if gap > 0 else "", wrap=True))

    def _list_candidates(self, resource: str, demand: Demand, *, is_over: bool) -> None:
        from hexapod.staffing.candidates import candidates

        desk, (begin, end) = self._desk, self._grid.span
        if desk.plan.resources[resource].kind in (ResourceKind.PLACE, ResourceKind.MATERIAL):
            return
        found = candidates(desk.worked_out, desk.plan, resource, begin, end, demand)[:MOST_CANDIDATES]
        if not found and not is_over:
            return
        self.more.addWidget(label("Who could take some of it", "value"))
        for candidate in found:
            other = desk.plan.resources[candidate.resource]
            why = ("same role", "can act in the role", ", ".join(candidate.skills))[candidate.rank]
            said = label(f"{other.name}  ·  {why}  ·  {hours(round(candidate.free / 60, 1))} free", wrap=True)
            self.more.addWidget(said)
        if not found:
            self.more.addWidget(label("Nobody else has the role or the skills, and time then.", "muted", wrap=True))
