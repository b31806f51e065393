"""Who is promised to which project, at what share and when; an open seat where it is a role."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace
from PyQt6.QtWidgets import QComboBox, QHBoxLayout

from hexapod.desktop import dates
from hexapod.desktop.forms import Form
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import LineButton, card, heading, icon_button, label
from hexapod.errors import BadText
from hexapod.formats.pool_text import read_share
from hexapod.plan import edits
from hexapod.plan.records import DAY, Reservation, ResourceKind


class ReservationsPage(Form):
    """``reservation`` is the id of the one in the form, None for a new one."""

    def __init__(self, desk: Desk, leave: Callable[[], None]) -> None:
        super().__init__(desk, "Reservations", leave)
        self.reservation: str | None = None
        for signal in (desk.changed, desk.looked_at_changed, desk.past_changed):
            signal.connect(self._when_changed)

    def _when_changed(self, *_: object) -> None:
        if self.isVisible():
            self.refresh_now()

    def fill(self) -> None:
        plan = self.desk.plan
        found = plan.reservations.get(self.reservation or "")
        self.box.addWidget(label("Change a reservation" if found else "Reserve for a project", "title", wrap=True))
        self._who, self._project = QComboBox(), QComboBox()
        for resource in plan.resources_in_order():
            if resource.kind is not ResourceKind.MATERIAL:
                said = "an open seat, " if resource.kind is ResourceKind.ROLE else ""
                self._who.addItem(f"{said}{resource.name}", resource.id)
        for project in plan.projects_in_order():
            self._project.addItem(project.name, project.id)
        looked_at = found.resource if found else self.desk.resource
        self._who.setCurrentIndex(max(0, self._who.findData(looked_at)))
        self._project.setCurrentIndex(max(0, self._project.findData(found.project if found else self.desk.project)))
        self._share = self.line(f"{100 * found.units:.4g} %" if found else "50 %", "reservationShare")
        first, last = (found.first_day, found.last_day) if found else (None, None)
        self._first = self.line("" if first is None else dates.typed(first * DAY), "reservationFrom")
        self._last = self.line("" if last is None else dates.typed(last * DAY), "reservationTo")
        self.field("Who", self._who)
        self.field("Project", self._project)
        self.field("Share", self._share, "Of the time there is: 50 %, or 200 % of two people")
        self.field("From", self._first, "Empty: from the start of the project")
        self.field("To", self._last, "Empty: up to its finish")
        self.buttons("Save" if found else "Reserve")
        self._list()

    def _list(self) -> None:
        plan = self.desk.plan
        for project in plan.projects_in_order():
            promised = plan.reservations_of(project.id)
            if promised:
                self.box.addWidget(heading(project.name))
            for reservation in promised:
                self.box.addWidget(self._card(reservation))
        if not plan.reservations:
            says = "Nobody is reserved yet. It promises somebody’s time to a project before its tasks say for what."
            self.box.addWidget(label(says, "muted", wrap=True))

    def _card(self, reservation: Reservation):  # type: ignore[no-untyped-def]
        plan = self.desk.plan
        frame, box = card()
        line = QHBoxLayout()
        is_role = plan.resources[reservation.resource].kind is ResourceKind.ROLE
        name = plan.resources[reservation.resource].name
        open_it = LineButton(f"Open seat: {name}" if is_role else name)
        open_it.setObjectName(f"reservation {reservation.id}")
        open_it.clicked.connect(lambda: self.show_one(reservation.id))
        line.addWidget(open_it, 1)
        release = icon_button("x", f"Release {name}")
        release.setEnabled(not self.desk.is_read_only)
        release.clicked.connect(lambda: self.desk.do(edits.remove_reservation(self.desk.plan, reservation.id)))
        line.addWidget(release)
        box.addLayout(line)
        box.addWidget(label(reservation_words(reservation), "small", wrap=True))
        return frame

    def show_one(self, reservation: str | None) -> None:
        """Another one in the form."""
        self.reservation = reservation
        self.refresh_now()
        self._share.setFocus()

    def save(self) -> None:
        desk, plan = self.desk, self.desk.plan
        found = plan.reservations.get(self.reservation or "")
        if self._who.currentData() is None or self._project.currentData() is None:
            raise BadText("There is nobody to reserve, or no project to reserve them for. Add them first.")
        first, last = (desk.read_date(t.text()) // DAY if t.text().strip() else None for t in (self._first, self._last))
        made = Reservation(
            found.id if found else edits.new_id(),
            self._project.currentData() or "",
            self._who.currentData() or "",
            read_share(self._share.text().strip()),
            first,
            last,
        )
        desk.attempt(edits.save_reservation(plan, made if found is None else replace(found, **_fields(made))))
        self.reservation = None

    def _try(self) -> None:
        """What is kept stays on show beneath the form."""
        leave, self._leave = self._leave, self.refresh_now
        try:
            super()._try()
        finally:
            self._leave = leave


def _fields(made: Reservation) -> dict[str, object]:
    return {name: getattr(made, name) for name in ("project", "resource", "units", "first_day", "last_day")}


def reservation_words(reservation: Reservation) -> str:
    """Such as ``50 %, from 4 Jan 2027``."""
    first, last = reservation.first_day, reservation.last_day
    begin = "from its start" if first is None else f"from {dates.short_day(first * DAY)}"
    end = "to its finish" if last is None else f"to {dates.short_day(last * DAY)}"
    return f"{100 * reservation.units:.4g} %, {begin} {end}"
