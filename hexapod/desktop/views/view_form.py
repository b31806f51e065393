"""The view on show, kept under a name."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace
from PyQt6.QtWidgets import QCheckBox, QLineEdit

from hexapod.desktop.forms import Form
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import label
from hexapod.errors import BadText
from hexapod.query.views import SHIPPED

LONGEST_NAME = 60


class ViewForm(Form):
    def __init__(self, desk: Desk, leave: Callable[[], None]) -> None:
        super().__init__(desk, "Keep this view", leave)

    def fill(self) -> None:
        view = self.desk.on_show.view
        self.box.addWidget(label("Keep this view", "title"))
        said = f"Rows of which this is true: {view.query}" if view.query else "Every row"
        self.box.addWidget(label(said, "muted", wrap=True))
        self._name = self.line("" if view.name in {v.name for v in SHIPPED} else view.name, "viewName")
        self._name.setPlaceholderText("What it answers: critical, next four weeks")
        self._star = QCheckBox("A favourite: at the top of the list")
        self._star.setObjectName("viewStar")
        self._star.setChecked(view.starred)
        self.field("Name", self._name)
        self.box.addWidget(self._star)
        self.buttons("Keep")

    @property
    def first_line(self) -> QLineEdit:
        return self._name

    def save(self) -> None:
        on_show, name = self.desk.on_show, self._name.text().strip()
        if not name or len(name) > LONGEST_NAME:
            raise BadText(f"A view needs a name of at most {LONGEST_NAME} characters.")
        if name in {v.name for v in SHIPPED}:
            raise BadText(f"“{name}” is a view that ships with Hexapod. Choose another name.")
        view = replace(on_show.view, name=name, starred=self._star.isChecked())
        on_show.keep_view(view)
        on_show.show_view(view)
        self.desk.told.emit(f"The view “{name}” is kept.", "", False)
