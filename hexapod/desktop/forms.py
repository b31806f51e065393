"""Forms of the side panel, and that of a person or equipment."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QPushButton, QWidget

from hexapod.desktop import dates
from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import label, narrow
from hexapod.formats.pool_text import (
    extra_text,
    leave_text,
    propose_initials,
    rates_text,
    read_extra,
    read_leave,
    read_rates,
    read_roles,
    read_skills,
    read_steps,
    skills_text,
    steps_text,
)
from hexapod.plan import edits
from hexapod.plan.edits import new_id
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import Resource, ResourceKind
from hexapod.worktime.calendars import BUILT_IN


class Form(Page):
    """Fields above a line of buttons; a refusal is said beneath them and keeps what was typed."""

    def __init__(self, desk: Desk, title: str, leave: Callable[[], None]) -> None:
        super().__init__(desk, title)
        self._leave = leave

    def refresh(self, *_: object) -> None:
        """What is being typed stays; ``refresh_now`` begins anew."""
        if not self.box.count():
            self.refresh_now()

    def field(self, name: str, widget: QWidget, hint: str = "") -> None:
        caption = label(name, "small")
        caption.setBuddy(widget)
        widget.setAccessibleName(name)
        if isinstance(widget, QComboBox):
            narrow(widget)
        self.box.addSpacing(4)
        self.box.addWidget(caption)
        self.box.addWidget(widget)
        if hint:
            self.box.addWidget(label(hint, "small", wrap=True))

    def buttons(self, text: str) -> None:
        self.box.addWidget(self.reason("formReason"))
        line = QHBoxLayout()
        save = QPushButton(text)
        save.setProperty("role", "primary")
        save.setObjectName("formSave")
        save.clicked.connect(self._try)
        cancel = QPushButton("Cancel")
        cancel.clicked.connect(self._leave)
        line.addWidget(save)
        line.addWidget(cancel)
        self.box.addLayout(line)

    def _try(self) -> None:
        if self.attempt(self.save):
            self._leave()

    def save(self) -> None:
        raise AssertionError("a form saves itself")

    def calendars(self, chosen: str | None, none: str = "") -> QComboBox:
        box = QComboBox()
        if none:
            box.addItem(none, None)
        for calendar in [*BUILT_IN.values(), *sorted(self.desk.plan.calendars.values(), key=lambda c: c.name)]:
            box.addItem(calendar.name, calendar.id)
        box.setCurrentIndex(max(0, box.findData(chosen)))
        return box

    def line(self, text: str, name: str, hint: str = "") -> QLineEdit:
        made = QLineEdit(text)
        made.setObjectName(name)
        made.setPlaceholderText(hint)
        made.returnPressed.connect(self._try)
        return made


class ResourceForm(Form):
    def __init__(self, desk: Desk, leave: Callable[[], None]) -> None:
        super().__init__(desk, "Person or equipment", leave)
        self.resource: str | None = None

    def fill(self) -> None:
        plan = self.desk.plan
        found = plan.resources.get(self.resource or "")
        self.box.addWidget(label(found.name if found else "Add a person or equipment", "title", wrap=True))
        self._name = self.line(found.name if found else "", "resourceName")
        self._initials = self.line(found.initials if found else "", "resourceInitials")
        self._kind = QComboBox()
        for kind in ResourceKind:
            self._kind.addItem(kind.value.capitalize(), kind)
        self._kind.setCurrentIndex(self._kind.findData(found.kind if found else ResourceKind.PERSON))
        self._capacity = self.line(
            steps_text(found.capacity, found.capacity_from) if found else "1", "resourceCapacity"
        )
        self._role = self._resources_of(ResourceKind.ROLE, found.role if found else None, "No role")
        names = (plan.resources[r].name for r in (found.roles if found else ()) if r in plan.resources)
        self._roles = self.line(", ".join(names), "resourceRoles")
        self._team = self._resources_of(ResourceKind.TEAM, found.team if found else None, "No team")
        self._skills = self.line(skills_text(found.skills) if found else "", "resourceSkills")
        self._section = self.line(found.section if found else "", "resourceSection")
        self._email = self.line(found.email if found else "", "resourceEmail")
        self._rate = self.line(rates_text(found.rate, found.rate_from) if found else "0", "resourceRate")
        self._calendar = self.calendars(found.calendar if found else None, "Works whenever its tasks do")
        self._leave_days = self.line(leave_text(found.leave) if found else "", "resourceLeave")
        self._extra = self.line(extra_text(found.leave) if found else "", "resourceExtra")
        self.field("Name", self._name)
        self.field("Initials", self._initials, "Typed to assign; left empty, they are made from the name")
        self.field("Kind", self._kind)
        self.field(
            "Capacity",
            self._capacity,
            "How many there are: 1 person, 2 lifts; half a post later: 1, 0.5 from 2027-01-04",
        )
        self.field("Role", self._role)
        self.field("Can also act in", self._roles, "Other roles, by name: Registration, Moving")
        self.field("Team", self._team)
        self.field("Skills", self._skills, "Each with a level from 1 to 5 if you like: glazing 4, joinery")
        self.field("Section", self._section, "What they are listed under")
        self.field("Email", self._email)
        self.field("Rate", self._rate, "Money an hour, also from a day on: 31.50, 33 from 2027-04-01")
        self.field("Calendar", self._calendar)
        self.field("Leave", self._leave_days, "Days and ranges: 2026-12-21 to 2027-01-03, 2027-04-06")
        self.field("Extra days", self._extra, "Beyond the calendar: 2026-12-05 9-13, 2026-12-12")
        self.buttons("Save" if found else "Add")
        if found:
            remove = QPushButton("Delete")
            remove.clicked.connect(self._remove)
            self.box.addWidget(remove)
        self._name.setFocus()

    def _resources_of(self, kind: ResourceKind, chosen: str | None, none: str) -> QComboBox:
        box = QComboBox()
        box.addItem(none, None)
        for resource in self.desk.plan.resources_in_order():
            if resource.kind is kind and resource.id != self.resource:
                box.addItem(resource.name, resource.id)
        box.setCurrentIndex(max(0, box.findData(chosen)))
        return box

    def save(self) -> None:
        desk, plan = self.desk, self.desk.plan
        found = plan.resources.get(self.resource or "")
        name = self._name.text().strip()
        initials = self._initials.text().strip() or propose_initials(
            name, {r.initials.casefold() for r in plan.resources.values() if r is not found}
        )
        if found is None:
            last = plan.resources_in_order()
            found = Resource(new_id(), name, ranks_between(last[-1].rank if last else None, None, 1)[0])
        capacity, capacity_from = read_steps(self._capacity.text(), dates.read)
        rate, rate_from = read_rates(self._rate.text() or "0", dates.read)
        desk.attempt(
            edits.save_resource(
                plan,
                replace(
                    found,
                    name=name,
                    initials=initials,
                    kind=self._kind.currentData(),
                    capacity=capacity,
                    capacity_from=capacity_from,
                    role=self._role.currentData(),
                    roles=read_roles(plan, self._roles.text()),
                    team=self._team.currentData(),
                    skills=read_skills(self._skills.text()),
                    section=self._section.text().strip(),
                    email=self._email.text().strip(),
                    rate=rate,
                    rate_from=rate_from,
                    calendar=self._calendar.currentData(),
                    leave=read_extra(
                        self._extra.text(), read_leave(self._leave_days.text(), found.leave, dates.read), dates.read
                    ),
                ),
            )
        )
        desk.look_at_resource(found.id)

    def _remove(self) -> None:
        found = self.desk.plan.resources.get(self.resource or "")
        if found and self.desk.do(edits.remove_resource(self.desk.plan, found.id)):
            self.desk.told.emit(f"{found.name} is deleted.", "", True)
            self._leave()
