"""The library of templates: choose one, say when it begins and who does it, and start from it."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QComboBox, QLineEdit, QPlainTextEdit, QPushButton

from hexapod.desktop import dates
from hexapod.desktop.forms import Form
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import LineButton, heading, label, narrow
from hexapod.desktop.theme.style import scaled
from hexapod.errors import EditRefused
from hexapod.formats.templates import Template, own_library, templates
from hexapod.plan import edits
from hexapod.plan.edits.starting import named_starts, start_projects
from hexapod.plan.records import DAY
from hexapod.system.words import count_of
from hexapod.worktime.clock import today

MORE_HIGH = 66
KEEP, NOBODY = "as in the template", "nobody"


class TemplatesPage(Form):
    def __init__(self, desk: Desk, leave: Callable[[], None]) -> None:
        super().__init__(desk, "Templates", leave)
        self.chosen: Template | None = None

    def fill(self) -> None:
        self.box.addWidget(label("Start from a template", "title"))
        if self.chosen is None or self.chosen.plan is None:
            self._fill_list()
        else:
            self._fill_form(self.chosen)

    def _fill_list(self) -> None:
        shipped = None
        for template in templates(own_library()):
            if template.is_shipped is not shipped:
                shipped = template.is_shipped
                self.box.addWidget(heading("Shipped" if shipped else "Your own"))
            if template.plan is None:
                self.box.addWidget(label(f"{template.path.name}: {template.trouble}", "trouble", wrap=True))
                continue
            button = LineButton(f"{template.name}, {count_of(len(template.plan.tasks), 'row')}")
            button.setObjectName(f"template.{template.name}")
            button.clicked.connect(lambda _, t=template: self.choose(t))
            self.box.addWidget(button)

    def choose(self, template: Template | None) -> None:
        self.chosen = template
        self.refresh_now()

    def _fill_form(self, template: Template) -> None:
        assert template.plan is not None
        self.box.addWidget(label(f"{template.name}, {count_of(len(template.plan.tasks), 'row')}", "value", wrap=True))
        self._where = QComboBox()
        self._where.setObjectName("templateWhere")
        self._where.addItem("As a new project", "project")
        if self.desk.project is not None:
            self._where.addItem("Below the selected row", "rows")
        self._name = QLineEdit(template.name)
        self._name.setObjectName("templateName")
        self._begin = QLineEdit(dates.typed(today() + dates.DAY_BEGINS))
        self._begin.setObjectName("templateStart")
        self.field("Where", self._where)
        self.field("Name of the project", self._name)
        self.field("Begins on", self._begin)
        self._more = QPlainTextEdit()
        self._more.setObjectName("templateMore")
        self._more.setTabChangesFocus(True)
        self._more.setFixedHeight(scaled(MORE_HIGH))
        self._more.setPlaceholderText(f"North case; {dates.typed(today() + 28 * DAY + dates.DAY_BEGINS)}")
        self.field("More projects from it, one a line", self._more, "A name, and the day it begins behind a semicolon.")
        self._swaps: dict[str, QComboBox] = {}
        if template.plan.resources:
            self.box.addWidget(heading("Who does it"))
        for resource in template.plan.resources_in_order():
            box = narrow(QComboBox())
            box.setObjectName(f"templateWho.{resource.name}")
            box.addItem(KEEP, KEEP)
            box.addItem(NOBODY, NOBODY)
            for other in self.desk.plan.resources_in_order():
                box.addItem(f"{other.initials}  {other.name}".strip(), other.id)
            self.field(resource.name, box)
            self._swaps[resource.id] = box
        self.buttons("Start from it")
        other = QPushButton("Another template")
        other.clicked.connect(lambda: self.choose(None))
        self.box.addWidget(other)

    def save(self) -> None:
        desk, template = self.desk, self.chosen
        assert template is not None and template.plan is not None
        said = {r: box.currentData() for r, box in self._swaps.items()}
        swaps = {r: who for r, who in said.items() if who not in (KEEP, NOBODY)}
        fragment = edits.without_resources(template.plan, [r for r, who in said.items() if who == NOBODY])
        start = dates.read_start(self._begin.text())
        more = named_starts(self._more.toPlainText(), start, dates.read_start)
        if self._where.currentData() == "project":
            known = set(desk.plan.projects)
            edit = start_projects(fragment, [(self._name.text().strip(), start), *more], swaps=swaps)
            desk.attempt(edit)
            desk.look_at_project(next(p.id for p in desk.plan.projects_in_order() if p.id not in known))
        elif more:
            raise EditRefused("Rows are added once; more projects are started only beside a new one.")
        else:
            if desk.project is None:
                raise EditRefused("The project that the rows were for is gone.")
            days = start // DAY - fragment.projects_in_order()[0].start // DAY
            after = desk.current if desk.current in desk.plan.tasks else None
            edit = edits.graft(desk.plan, fragment, desk.project, after, swaps=swaps, shift_days=days)
            desk.attempt(edit)
        self.chosen = None
        desk.told.emit(f"{edit.words}.", "", True)
