"""Who is at the screen: the name that edits, limits and comments carry."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QSettings

from hexapod.desktop.forms import Form
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import label
from hexapod.session import account_name


class UserForm(Form):
    def __init__(self, desk: Desk, leave: Callable[[], None]) -> None:
        super().__init__(desk, "Your name", leave)

    def fill(self) -> None:
        self.box.addWidget(label("Your name", "title"))
        self._name = self.line(self.desk.session.who, "userName")
        self.field("Name", self._name, "The history, limits and comments carry it. Empty: that of the account.")
        self.buttons("Save")
        self._name.setFocus()

    def save(self) -> None:
        name = self._name.text().strip()
        QSettings().setValue("name", name)
        self.desk.sign_as(name or account_name())
        self.desk.told.emit(f"From now on edits are those of {self.desk.session.who}.", "", False)
