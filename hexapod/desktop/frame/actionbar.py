"""The one bar above a leg: actions that are pressed often, and beside them what the leg itself is asked."""

from __future__ import annotations

from PyQt6.QtCore import QSize
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QSizePolicy, QStackedWidget, QToolButton, QWidget

from hexapod.desktop.action import Registry

HEIGHT = 34
OF_LEGS = {"build": ("history", "rows", "links", "time", "fold"), "link": ("history", "links")}
ALWAYS = ("history",)


class ActionBar(QFrame):
    def __init__(self, registry: Registry) -> None:
        super().__init__()
        self.setObjectName("toolbar")
        self.setFixedHeight(HEIGHT)
        line = QHBoxLayout(self)
        line.setContentsMargins(8, 0, 4, 0)
        line.setSpacing(0)
        self._groups: dict[str, QWidget] = {}
        for name, actions in registry.toolbar_groups().items():
            group = QWidget()
            buttons = QHBoxLayout(group)
            buttons.setContentsMargins(0, 0, 7, 0)
            buttons.setSpacing(0)
            for action in actions:
                button = QToolButton()
                button.setDefaultAction(action)
                button.setIconSize(QSize(16, 16))
                button.setAccessibleName(action.text())
                buttons.addWidget(button)
            self._groups[name] = group
            line.addWidget(group)
        self._beside = QStackedWidget()
        self._none = QWidget()
        self._beside.addWidget(self._none)
        self._beside.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)  # no leg widens the window
        line.addWidget(self._beside, 1)

    def show_for(self, leg: str, beside: QWidget | None) -> None:
        """The actions of a leg, with what it wants beside them."""
        shown = OF_LEGS.get(leg, ALWAYS)
        for name, group in self._groups.items():
            group.setVisible(name in shown)
        widget = beside or self._none
        if self._beside.indexOf(widget) < 0:
            self._beside.addWidget(widget)
        self._beside.setCurrentWidget(widget)
