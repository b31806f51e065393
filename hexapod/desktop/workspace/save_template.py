"""The selected rows, or a whole project, kept as a template in the user's own library."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QCheckBox, QComboBox

from hexapod.desktop.forms import Form
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import label
from hexapod.errors import BadText
from hexapod.formats.templates import own_library, save_template
from hexapod.plan import edits


class SaveTemplateForm(Form):
    def __init__(self, desk: Desk, leave: Callable[[], None]) -> None:
        super().__init__(desk, "Save as a template", leave)

    def fill(self) -> None:
        plan, desk = self.desk.plan, self.desk
        self.box.addWidget(label("Save as a template", "title"))
        self._what = QComboBox()
        self._what.setObjectName("saveWhat")
        tops = desk.selected()
        if tops:
            names = f"“{plan.tasks[tops[0]].name}”" if len(tops) == 1 else f"{len(tops)} rows"
            self._what.addItem(f"{names} with all below", "rows")
        if desk.project is not None:
            self._what.addItem(f"The project “{plan.projects[desk.project].name}”", "project")
        name = plan.tasks[tops[0]].name if tops else plan.projects[desk.project].name if desk.project else ""
        self._name = self.line(name, "saveName")
        self._people = QCheckBox("With who is assigned")
        self._people.setObjectName("savePeople")
        self._people.setChecked(True)
        self.field("What", self._what)
        self.field("Name", self._name)
        self.box.addWidget(self._people)
        self.buttons("Save")

    def save(self) -> None:
        desk = self.desk
        if self._what.currentData() is None or desk.project is None:
            raise BadText("There is nothing to keep as a template yet.")
        if self._what.currentData() == "rows":
            fragment = edits.fragment_of(desk.plan, desk.selected())
        else:
            fragment = edits.fragment_of_project(desk.plan, desk.project)
        if not self._people.isChecked():
            fragment = edits.without_resources(fragment, list(fragment.resources))
        file = save_template(fragment, self._name.text(), own_library())
        desk.told.emit(f"The template is in {file}.", "", False)
