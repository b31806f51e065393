"""Open seats: work for a role that nobody does yet, and for each who could fill it, ranked and with the reasons."""

from __future__ import annotations

from PyQt6.QtWidgets import QLineEdit, QPushButton

from hexapod.desktop import dates
from hexapod.desktop.desk import Desk
from hexapod.desktop.panels.page import Page
from hexapod.desktop.parts import LineButton, card, heading, label
from hexapod.desktop.strip.periods import hours
from hexapod.errors import BadText
from hexapod.plan import edits

MOST = 40


class SeatsPage(Page):
    """``seat`` is the task and role that somebody is looked for, None for the list of all open seats."""

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk, "Open seats")
        self.seat: tuple[str, str] | None = None
        self._share = ""
        for signal in (desk.changed, desk.computed, desk.past_changed):
            signal.connect(self.refresh)

    def look_for(self, task: str, role: str) -> None:
        """Find somebody for a seat."""
        self.seat, self._share = (task, role), ""
        self.refresh_now()

    def show_all(self) -> None:
        self.seat = None
        self.refresh_now()

    def fill(self) -> None:
        desk = self.desk
        if self.seat is not None and self.seat not in desk.plan.assignments:
            self.seat = None
        if not desk.is_computed:
            self.box.addWidget(label("Open seats", "title"))
            self.box.addWidget(label("Counting…", "muted"))
        elif self.seat is None:
            self._fill_list()
        else:
            self._fill_finder(*self.seat)

    def _fill_list(self) -> None:
        from hexapod.staffing.seats import seats

        desk = self.desk
        found = seats(desk.schedule, desk.plan)
        self.box.addWidget(label("Open seats", "title"))
        if not found:
            says = "Every piece of work has somebody. Assign a role instead of a person to leave a seat open."
            self.box.addWidget(label(says, "muted", wrap=True))
        for seat in found[:MOST]:
            task = desk.plan.tasks[seat.task]
            frame, box = card()
            find = LineButton(f"{desk.plan.resources[seat.role].name}: {task.name}")
            find.setObjectName(f"seat {seat.task}")
            find.clicked.connect(lambda _, s=seat: self.look_for(s.task, s.role))
            box.addWidget(find)
            when = f"{dates.short_day(seat.begin)} to {dates.short_day(seat.end)}"
            what = f"{100 * seat.units:.0f} %, {hours(round(seat.minutes / 60, 1))} · {when}"
            box.addWidget(label(what, "attention", wrap=True))
            box.addWidget(label(desk.plan.projects[task.project].name, "small"))
            self.box.addWidget(frame)
        if len(found) > MOST:
            self.box.addWidget(label(f"and {len(found) - MOST} more", "small"))

    def _fill_finder(self, task_id: str, role: str) -> None:
        from hexapod.staffing.seats import seat_of, sitters

        desk = self.desk
        task, seat = desk.plan.tasks[task_id], seat_of(desk.schedule, desk.plan, task_id, role)
        self.box.addWidget(label(f"Who could do “{task.name}”?", "title", wrap=True))
        when = f"{dates.short_day(seat.begin)} to {dates.short_day(seat.end)}"
        wanted = f"{desk.plan.resources[role].name}, {100 * seat.units:.0f} %, {hours(round(seat.minutes / 60, 1))}"
        self.box.addWidget(label(f"{wanted} · {when}", "attention", wrap=True))
        share = QLineEdit(self._share or f"{100 * seat.units:.4g} %")
        share.setObjectName("seatShare")
        share.setAccessibleName("How much of the seat to fill")
        share.editingFinished.connect(lambda: self._set_share(share.text()))
        self.box.addWidget(label("How much of it", "small"))
        self.box.addWidget(share)
        units = self._units(seat.units)
        self.box.addWidget(heading("Who"))
        found = sitters(desk.schedule, desk.plan, seat, units)
        for sitter in found[:MOST]:
            other = desk.plan.resources[sitter.resource]
            frame, box = card()
            put = LineButton(other.name)
            put.setObjectName(f"fill {sitter.resource}")
            put.setToolTip("Fill the seat with them")
            put.setEnabled(not desk.is_read_only)
            put.clicked.connect(lambda _, r=sitter.resource: self._put(task_id, role, r, units))
            box.addWidget(put)
            if sitter.over > 0:
                box.addWidget(label(f"would be over by {hours(round(sitter.over / 60, 1))}", "trouble"))
            said = "has the role" if sitter.rank == 0 else "can act in the role"
            skills = ", ".join(f"{s.name} {s.level}" for s in other.skills)
            parts = [said, f"{hours(round(sitter.free / 60, 1))} free then", *([skills] if skills else [])]
            if sitter.beside:
                names = ", ".join(f"“{desk.plan.tasks[t].name}”" for t in sitter.beside)
                parts.append(f"beside {names}")
            box.addWidget(label(" · ".join(parts), "small", wrap=True))
            self.box.addWidget(frame)
        if not found:
            says = "Nobody has this role or can act in it. Give somebody the role in the pool."
            self.box.addWidget(label(says, "muted", wrap=True))
        back = QPushButton("All open seats")
        back.clicked.connect(self.show_all)
        self.box.addWidget(back)

    def _units(self, most: float) -> float:
        """The share that is asked for, at most the whole seat; what cannot be understood leaves it whole."""
        try:
            return min(most, _read_share(self._share)) if self._share else most
        except BadText as error:
            self.box.addWidget(label(str(error), "trouble", wrap=True))
            return most

    def _set_share(self, text: str) -> None:
        if text.strip() != self._share:
            self._share = text.strip()
            self.refresh()

    def _put(self, task: str, role: str, resource: str, units: float) -> None:
        desk = self.desk
        if desk.do(edits.fill_seat(desk.plan, task, role, resource, units)):
            desk.told.emit(f"{desk.plan.resources[resource].name} does “{desk.plan.tasks[task].name}”.", "", True)
            self._share = ""


def _read_share(text: str) -> float:
    """``50 %`` or ``0.5``, of one unit. ``BadText`` for anything else."""
    is_percent = text.endswith("%")
    try:
        found = float(text.removesuffix("%").strip().replace(",", ".")) / (100 if is_percent else 1)
    except ValueError:
        raise BadText(f"“{text}” is no share, such as 50 %.") from None
    if not 0.001 <= found <= 10_000:
        raise BadText("A share must be more than 0 %.")
    return round(found, 3)
