"""The looks of a window: its theme, the size of its text, how close its rows are."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QSettings
from PyQt6.QtWidgets import QApplication, QWidget

from hexapod.desktop.theme.measures import DENSITIES, apply_density, density
from hexapod.desktop.theme.style import TEXT_SIZES, apply_text_size, apply_theme, palette, theme_named
from hexapod.desktop.theme.text import forget_texts


class WindowLooks:
    """A part of the window."""

    desk: Any
    registry: Any
    topbar: Any
    side: Any
    build: Any
    findChildren: Any

    def toggle_theme(self) -> None:
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        name = "light" if palette().name == "dark" else "dark"
        apply_theme(app, theme_named(name))
        QSettings().setValue("theme", name)
        self.restyle()

    def choose_text_size(self) -> None:
        """The next of the three sizes of text."""
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        names = list(TEXT_SIZES)
        now = str(QSettings().value("text") or "usual")
        name = names[(names.index(now) + 1) % len(names)] if now in names else "usual"
        QSettings().setValue("text", name)
        apply_text_size(app, name)
        forget_texts()
        self.restyle()
        self.desk.told.emit(f"Text is {name} now.", "", False)

    def turn_density(self) -> None:
        """Rows close to each other, or roomy again."""
        name = next(name for name in DENSITIES if name != density())
        QSettings().setValue("density", name)
        apply_density(name)
        self.build.lay_rows()
        self.desk.told.emit(f"Rows are {name} now.", "", False)

    def restyle(self) -> None:
        """Paint everything in the palette that is in use now."""
        self.registry.refresh()
        self.topbar.refresh()
        self.topbar.vitals.refresh()
        for page in self.side.pages.made():
            page.refresh()
        self.desk.looks.changed.emit()  # rows and bars that were kept as they were drawn
        self.build.bar.refresh()
        self.side.restyle()
        for widget in self.findChildren(QWidget):
            widget.update()
