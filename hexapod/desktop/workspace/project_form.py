"""The form of a project: its dates, the direction it is scheduled in, and what its links and lengths mean."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace
from PyQt6.QtWidgets import QCheckBox, QComboBox, QCompleter, QLineEdit

from hexapod.desktop import dates
from hexapod.desktop.forms import Form
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import heading, label, leader_choice
from hexapod.plan import edits
from hexapod.plan.edits import new_id
from hexapod.plan.edits.progress import refuse_early_status
from hexapod.plan.kept import PROJECTS
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import Direction, Field, FieldValue, OutOfOrder, Project
from hexapod.schedule.words import GAP_WORDS
from hexapod.worktime.calendars import units_of
from hexapod.worktime.clock import today
from hexapod.worktime.lengths import USUAL, Units, format_length, parse_length

OUT_OF_ORDER = {
    OutOfOrder.WAITS: "The rest of it waits",
    OutOfOrder.GOES_ON: "The rest of it goes on",
}
UNITS = {"d": "days", "h": "hours", "w": "weeks"}


class ProjectForm(Form):
    def __init__(self, desk: Desk, leave: Callable[[], None]) -> None:
        super().__init__(desk, "Project", leave)
        self.project: str | None = None
        self.begins_at = ""  # the name of the line that the keyboard goes to

    def fill(self) -> None:
        found = self.desk.plan.projects.get(self.project or "")
        shown = found or Project("", "", today() + dates.DAY_BEGINS, "")
        self.box.addWidget(label("Project details" if found else "New project", "title"))
        self._name = self.line(shown.name, "projectName")
        self._start = self.line(dates.typed(shown.start), "projectStart")
        self._target = self.line(_typed(shown.target_finish), "projectTarget")
        self._calendar = self.calendars(shown.calendar)
        self.field("Name", self._name)
        self.field("Starts on", self._start, "2026-09-07, next mon, 15 sep 08:00")
        self.field("Calendar", self._calendar)
        self.field("Wanted by", self._target, "The date the project should be finished by, if there is one")
        self._led_by = leader_choice("projectLedBy", self.desk.plan, shown.led_by)
        self.field("Led by", self._led_by, "Who is told when its finish passes the date it is wanted by")
        self._status: QLineEdit | None = None
        if found:
            self._status = self.line(_typed(shown.status_date), "projectStatus")
            self.field("Status date", self._status, "Up to when progress is told: fri, 16 oct; the rest lies ahead")
        self._fill_rules(shown)
        self._fill_place(shown)
        self._fill_own(shown)
        self.buttons("Save" if found else "Add the project")
        begins_later = self._status is not None and self.begins_at == self._status.objectName()
        (self._status if self._status is not None and begins_later else self._name).setFocus()

    def _fill_rules(self, shown: Project) -> None:
        self.box.addWidget(heading("How it is scheduled"))
        self._direction = QComboBox()
        self._direction.setObjectName("projectDirection")
        self._direction.addItem("From its start", Direction.FORWARD)
        self._direction.addItem("Back from a finish", Direction.BACKWARD)
        self._direction.setCurrentIndex(self._direction.findData(shown.direction))
        self._finish = self.line(_typed(shown.finish), "projectFinish")
        self._gap = QComboBox()
        self._gap.setObjectName("projectGap")
        for gap, words in GAP_WORDS.items():
            self._gap.addItem(words, gap)
        self._gap.setCurrentIndex(self._gap.findData(shown.gap))
        self._unit = QComboBox()
        for unit, words in UNITS.items():
            self._unit.addItem(words, unit)
        self._unit.setCurrentIndex(self._unit.findData(shown.unit))
        self._critical = self.line(format_length(shown.critical_float, self._units(shown.id)), "projectCritical")
        self._near = self.line(format_length(shown.near_critical_float, self._units(shown.id)), "projectNearCritical")
        self.field("Scheduled", self._direction)
        self.field("Must finish by", self._finish, "For a project that is scheduled back from it")
        self.field("When a task moves, what waits for it", self._gap)
        self._out_of_order = QComboBox()
        self._out_of_order.setObjectName("projectOutOfOrder")
        for policy, words in OUT_OF_ORDER.items():
            self._out_of_order.addItem(words, policy)
        self._out_of_order.setCurrentIndex(self._out_of_order.findData(shown.out_of_order))
        self.field("When work began before what it waits for", self._out_of_order)
        self.field("A bare number means", self._unit)
        self.field("Critical up to a float of", self._critical)
        self.field("Nearly critical up to", self._near)

    def _fill_place(self, shown: Project) -> None:
        self.box.addWidget(heading("Where it is kept"))
        self._folder = self.line(shown.folder, "projectFolder")
        self._department = self.line(shown.department, "projectDepartment")
        known = sorted({p.department for p in self.desk.plan.projects.values() if p.department}, key=str.casefold)
        self._department.setCompleter(QCompleter(known, self._department))
        self.field("Department", self._department)
        self.field("Folder", self._folder)
        self._held, self._archived = QCheckBox("On hold: it asks for nobody"), QCheckBox("Archived")
        self._outside = QCheckBox("People outside may see it")
        self._outside.setObjectName("projectOutside")
        self._outside.setChecked(shown.outside)
        self.box.addWidget(self._outside)
        for box, is_so in ((self._held, shown.on_hold), (self._archived, shown.archived)):
            box.setChecked(is_so)
            box.setVisible(shown.id in self.desk.plan.projects)  # nobody archives what is only being made
            self.box.addWidget(box)

    def _fill_own(self, shown: Project) -> None:
        """Own fields of projects."""
        from hexapod.fields.own_text import held_text

        plan = self.desk.plan
        self._own: list[tuple[Field, QLineEdit]] = []
        fields = plan.fields_of(PROJECTS)
        if fields:
            self.box.addWidget(heading("Own fields"))
        for field in fields:
            text = held_text(plan, field, shown)
            line = self.line(text, f"projectField.{field.name}")
            line.setCompleter(QCompleter(list(field.choices), line) if field.choices else None)
            self.field(field.name, line, ", ".join(field.choices))
            self._own.append((field, line))

    def _own_values(self, project: Project) -> tuple[tuple[str, FieldValue], ...]:
        """With what was typed. ``BadText`` where a field does not take it."""
        from hexapod.fields.own_text import parse_value

        values: dict[str, FieldValue | None] = dict(project.fields)
        for field, line in self._own:
            values[field.name] = parse_value(self.desk.plan, field, line.text(), dates.reader())
        return tuple((name, value) for name, value in values.items() if value is not None)

    def _units(self, project: str) -> Units:
        """Lengths of a project that is not there yet are of the usual week."""
        return units_of(self.desk.plan, project) if project in self.desk.plan.projects else USUAL

    def save(self) -> None:
        desk, plan = self.desk, self.desk.plan
        found = plan.projects.get(self.project or "")
        if found is None:
            last = plan.projects_in_order()
            rank = ranks_between(last[-1].rank if last else None, None, 1)[0]
            found = Project(new_id(), "", 0, rank)
        changed = replace(
            found,
            name=self._name.text().strip(),
            start=_begin(self._start.text()),
            target_finish=_read(self._target.text()),
            calendar=self._calendar.currentData(),
            direction=self._direction.currentData(),
            finish=_read(self._finish.text()),
            gap=self._gap.currentData(),
            led_by=self._led_by.currentData(),
            out_of_order=self._out_of_order.currentData(),
            status_date=None if self._status is None else _read(self._status.text()),
            unit=self._unit.currentData(),
            critical_float=parse_length(self._critical.text(), self._units(found.id)),
            near_critical_float=parse_length(self._near.text(), self._units(found.id)),
            folder=self._folder.text().strip(),
            department=self._department.text().strip(),
            on_hold=self._held.isChecked(),
            outside=self._outside.isChecked(),
            archived=self._archived.isChecked(),
            fields=self._own_values(found),
        )
        if changed.status_date != found.status_date:
            refuse_early_status(changed, changed.status_date)
        desk.attempt(edits.save_project(plan, changed))
        desk.look_at_project(found.id)


def _begin(text: str) -> int:
    """The day said, at the hour at which work usually begins, unless another was said."""
    at = dates.read(text)
    return at if at % 1440 or ":" in text else at + dates.DAY_BEGINS


def _typed(minutes: int | None) -> str:
    return "" if minutes is None else dates.typed(minutes)


def _read(text: str) -> int | None:
    return dates.read(text, ends=True) if text.strip() else None
