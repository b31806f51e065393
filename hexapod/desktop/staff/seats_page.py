"""Open seats: work for a role that nobody does yet, and for each who could fill it, ranked and with the reasons."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QLineEdit, QPushButton

from hexapod.desktop import dates
from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import LineButton, card, heading, label
from hexapod.desktop.strip.periods import hours
from hexapod.errors import BadText
from hexapod.formats.pool_text import read_share
from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.records import DAY

if TYPE_CHECKING:
    from hexapod.staffing.seats import Seat, SeatKey, Sitter

MOST = 40


class SeatsPage(Page):
    """``seat`` is the key of the one that somebody is looked for, None for the list of all open seats."""

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk, "Open seats")
        self.seat: SeatKey | None = None
        self._share = self._from = ""
        for signal in (desk.changed, desk.computed, desk.past_changed):
            signal.connect(self.refresh)

    def look_for(self, key: SeatKey) -> None:
        """Find somebody for a seat."""
        self.seat, self._share, self._from = key, "", ""
        self.refresh_now()

    def show_all(self) -> None:
        self.seat = None
        self.refresh_now()

    def fill(self) -> None:
        from hexapod.staffing.seats import is_open, seat_of

        desk = self.desk
        if self.seat is not None and not is_open(desk.plan, self.seat):
            self.seat = None
        if not desk.is_computed:
            self.box.addWidget(label("Open seats", "title"))
            self.box.addWidget(label("Counting…", "muted"))
        elif self.seat is None:
            self._fill_list()
        else:
            self._fill_finder(seat_of(desk.worked_out, desk.plan, self.seat))

    def _fill_list(self) -> None:
        from hexapod.staffing.seats import seats

        desk = self.desk
        found = seats(desk.worked_out, desk.plan)
        self.box.addWidget(label("Open seats", "title"))
        if not found:
            says = "Every piece of work has somebody. Assign a role instead of a person to leave a seat open."
            self.box.addWidget(label(says, "muted", wrap=True))
        for seat in found[:MOST]:
            frame, box = card()
            find = LineButton(f"{desk.plan.resources[seat.role].name}: {self._what(seat)}")
            find.setObjectName(f"seat {seat.task or seat.key[1]}")
            find.clicked.connect(lambda _, s=seat: self.look_for(s.key))
            box.addWidget(find)
            box.addWidget(label(self._how_much(seat), "attention", wrap=True))
            if seat.task is not None:
                box.addWidget(label(desk.plan.projects[seat.project].name, "small"))
            self.box.addWidget(frame)
        if len(found) > MOST:
            self.box.addWidget(label(f"and {len(found) - MOST} more", "muted"))

    def _what(self, seat: Seat) -> str:
        plan = self.desk.plan
        return plan.tasks[seat.task].name if seat.task is not None else plan.projects[seat.project].name

    def _how_much(self, seat: Seat) -> str:
        when = f"{dates.short_day(seat.begin)} to {dates.last_day(seat.end)}"
        share = f"{100 * seat.units:.4g} %, " if seat.task is None or self._is_by_share(seat) else ""
        return f"{share}{hours(round(seat.minutes / 60, 1))} · {when}"

    def _is_by_share(self, seat: Seat) -> bool:
        found = self.desk.plan.assignments[seat.key]
        return found.total is None and found.hours_a_day is None

    def _fill_finder(self, seat: Seat) -> None:
        desk = self.desk
        verb = "Who could do" if seat.task is not None else "Who could be reserved for"
        self.box.addWidget(label(f"{verb} “{self._what(seat)}”", "title", wrap=True))
        where = "" if seat.task is not None else "The whole project · "
        wanted = f"{where}{desk.plan.resources[seat.role].name} · {self._how_much(seat)}"
        self.box.addWidget(label(wanted, "attention", wrap=True))
        units, begin = self._fill_wishes(seat)
        self.box.addWidget(heading("Who"))
        self._fill_sitters(seat, units, begin)
        back = QPushButton("All open seats")
        back.clicked.connect(self.show_all)
        self.box.addWidget(back)

    def _fill_wishes(self, seat: Seat) -> tuple[float, int | None]:
        """How much of the seat is to be filled, and from when on."""
        share = QLineEdit(self._share or f"{100 * seat.units:.4g} %")
        share.setObjectName("seatShare")
        share.setAccessibleName("How much of the seat to fill")
        share.editingFinished.connect(lambda: self._wish("_share", share.text()))
        begin = QLineEdit(self._from or dates.typed(seat.begin // DAY * DAY))
        begin.setObjectName("seatFrom")
        begin.setAccessibleName("From which day on")
        begin.editingFinished.connect(lambda: self._wish("_from", begin.text()))
        for caption, line in (("How much of it", share), ("From", begin)):
            self.box.addWidget(label(caption, "small"))
            self.box.addWidget(line)
        units, at = seat.units, None
        try:
            units = min(seat.units, read_share(self._share)) if self._share else seat.units
            at = self.desk.read_date(self._from) // DAY * DAY if self._from else None
        except BadText as error:
            self.box.addWidget(label(str(error), "trouble", wrap=True))
        if at is not None and at >= seat.end:
            self.box.addWidget(label("That is after its end.", "trouble", wrap=True))
            at = None
        return units, at if at is not None and at > seat.begin else None

    def _wish(self, name: str, text: str) -> None:
        if text.strip() != getattr(self, name):
            setattr(self, name, text.strip())
            self.refresh()

    def _fill_sitters(self, seat: Seat, units: float, begin: int | None) -> None:
        from hexapod.staffing.seats import sitters

        desk = self.desk
        found = sitters(desk.worked_out, desk.plan, seat, units, begin)
        for sitter in found[:MOST]:
            frame, box = card()
            put = LineButton(desk.plan.resources[sitter.resource].name)
            put.setObjectName(f"fill {sitter.resource}")
            put.setToolTip("Fill the seat with them")
            put.setEnabled(not desk.is_read_only)
            put.clicked.connect(lambda _, r=sitter.resource: self._put(seat, r, units, begin))
            box.addWidget(put)
            if sitter.over > 0:
                box.addWidget(label(f"would be over by {hours(round(sitter.over / 60, 1))}", "trouble"))
            box.addWidget(label(self._said_of(sitter), "small", wrap=True))
            self.box.addWidget(frame)
        if not found:
            says = "Nobody has this role or can act in it. Give somebody the role in the pool."
            self.box.addWidget(label(says, "muted", wrap=True))

    def _said_of(self, sitter: Sitter) -> str:
        plan = self.desk.plan
        said = "has the role" if sitter.rank == 0 else "can act in the role"
        skills = ", ".join(f"{s.name} {s.level}" for s in plan.resources[sitter.resource].skills)
        parts = [said, f"{hours(round(sitter.free / 60, 1))} free then", *([skills] if skills else [])]
        if sitter.beside:
            parts.append("beside " + ", ".join(f"“{plan.tasks[t].name}”" for t in sitter.beside))
        if sitter.promised:
            parts.append("reserved for " + ", ".join(plan.projects[p].name for p in sitter.promised))
        return " · ".join(parts)

    def _put(self, seat: Seat, resource: str, units: float, begin: int | None) -> None:
        desk = self.desk
        if desk.do(self._edit(seat, resource, units, begin)):
            verb = "does" if seat.task is not None else "is reserved for"
            desk.told.emit(f"{desk.plan.resources[resource].name} {verb} “{self._what(seat)}”.", "", True)
            self._share = self._from = ""

    def _edit(self, seat: Seat, resource: str, units: float, begin: int | None) -> Edit:
        from hexapod.staffing.seats import split

        plan = self.desk.plan
        if seat.task is None:
            first = None if begin is None else begin // DAY
            return edits.fill_project_seat(plan, seat.key[1], resource, units, first)
        taken, rest = split(self.desk.worked_out, plan, seat, resource, units, begin)
        return edits.fill_seat(plan, seat.role, taken, rest)
