"""A leg of several parts, one of them on show: tabs in the bar, and each part made when it is first looked at."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from importlib import import_module
from typing import Any, cast

from PyQt6.QtCore import QSize, pyqtSignal
from PyQt6.QtWidgets import QButtonGroup, QFrame, QStackedWidget, QVBoxLayout, QWidget

from hexapod.desktop.action import Registry
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import bar_line, choice_button
from hexapod.desktop.theme.tips import plain_tip

Parts = Mapping[str, tuple[str, str, str]]  # by name: the words on its tab, and where its view is made


class _Stack(QStackedWidget):
    """It asks for no more room than what is on show, whatever else lies in it."""

    def minimumSizeHint(self) -> QSize:
        shown = self.currentWidget()
        return QSize() if shown is None else shown.minimumSizeHint()


class PartsLeg(QWidget):
    """Subclasses say their ``name``, their ``parts`` and what stands at the side of some of them, ``sides``; else it is
    what is selected. The action of a part is called as the leg and the part. Each part has a ``main_part``, which takes
    the keyboard. ``part_changed`` says that another one is shown."""

    name = ""
    parts: Parts = {}
    sides: Mapping[str, str] = {}

    part_changed = pyqtSignal()
    bar_asked = pyqtSignal(str)  # the bar of a task in the chart
    why_asked = pyqtSignal(str)  # why a project finishes when it does

    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__()
        self._desk, self._registry = desk, registry
        self._made: dict[str, Any] = {}
        self._parts = _Stack()
        self.bar = self._make_bar()
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self._parts)
        self.part = ""
        self.show_part(next(iter(self.parts)))

    def _make_bar(self) -> QFrame:
        bar = QFrame()
        line = bar_line(bar)
        self._tabs = QButtonGroup(bar)
        for part, (words, *_) in self.parts.items():
            tab = choice_button(words, self._pressed(part))
            tab.setObjectName(f"{self.name}.{part}")
            tab.setAccessibleName(words)
            action = self._registry[f"{self.name}.{part}"]
            tab.setToolTip(plain_tip(f"{action.text} ({action.shown_keys})"))
            self._tabs.addButton(tab)
            line.addWidget(tab)
        line.addStretch(1)
        return bar

    def _pressed(self, part: str) -> Callable[[], None]:
        return lambda: self.show_part(part)

    def __getitem__(self, part: str) -> Any:
        """A part by its name, made now if nobody has looked at it."""
        if part not in self._made:
            _, module, made_by = self.parts[part]
            view = getattr(import_module(f"hexapod.desktop.{module}"), made_by)(self._desk, self._registry)
            self._made[part] = view
            view.bar_asked.connect(self.bar_asked)
            view.why_asked.connect(self.why_asked)
            self._parts.addWidget(view)
        return self._made[part]

    def show_part(self, part: str) -> None:
        """One of the parts."""
        view = self[part]
        for tab in self._tabs.buttons():
            tab.setChecked(tab.objectName() == f"{self.name}.{part}")
        self._parts.setCurrentWidget(view)
        self.setFocusProxy(view.main_part)
        if part != self.part:
            self.part = part
            self.part_changed.emit()

    @property
    def side_page(self) -> str:
        """What stands at the side."""
        return self.sides.get(self.part, "inspector")

    @property
    def main_part(self) -> QWidget:
        return cast(QWidget, self[self.part].main_part)

    def cancel(self) -> bool:
        """Leave off what is under way, such as a drag; whether there was anything."""
        main = self.main_part
        return bool(main.cancel()) if hasattr(main, "cancel") else False
