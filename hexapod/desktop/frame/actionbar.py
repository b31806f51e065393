"""The one bar above a leg: actions that are pressed often, and beside them what the leg itself is asked."""

from __future__ import annotations

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QSizePolicy, QStackedWidget, QToolButton, QWidget

from hexapod.desktop.action import Registry

Style = Qt.ToolButtonStyle
HEIGHT = 34
BESIDE = 640  # pixels that what the leg wants beside them needs, before there is room for words
WORDS = {  # below which a button is short of words; those that are used most come first
    "edit.undo": "Undo", "row.below": "Row", "link.chain": "Link", "edit.redo": "Redo", "link.remove": "Unlink",
    "look.fit": "All", "row.indent": "Down a level", "row.outdent": "Up a level", "look.fold_all": "Fold",
    "look.unfold_all": "Unfold", "look.in": "Closer", "look.out": "Farther", "row.delete": "Delete",
}  # fmt: skip
OF_LEGS = {"build": ("history", "rows", "links", "time", "fold"), "link": ("history", "links")}
SPARED = ("fold", "time", "links")  # groups that give way first in a narrow window
MARGINS = 16
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
        self._wanted: tuple[str, ...] = ALWAYS
        self._buttons: dict[str, QToolButton] = {}
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
                action.setIconText(WORDS.get(action.objectName(), action.text()))
                self._buttons[action.objectName()] = button
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
        self._wanted = shown
        self._give_room()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._give_room()

    def _give_room(self) -> None:
        """In a narrow window some actions are in the menu and under their keys alone."""
        room = self.width() - self._beside.currentWidget().minimumSizeHint().width() - MARGINS
        for name in self._wanted:
            room -= self._groups[name].sizeHint().width()
        for name in SPARED:
            is_wanted = name in self._wanted
            self._groups[name].setVisible(is_wanted and room >= 0)
            room += self._groups[name].sizeHint().width() if is_wanted and room < 0 else 0
        self._give_words()

    def _give_words(self) -> None:
        """Words beside the icons, as many as there is room for."""
        shown = [name for name in WORDS if name in self._buttons and self._buttons[name].isVisibleTo(self)]
        icons = sum(group.sizeHint().width() for group in self._groups.values() if group.isVisibleTo(self))
        worded = {n for n in shown if self._buttons[n].toolButtonStyle() is Style.ToolButtonTextBesideIcon}
        icons -= sum(self._width_of_word(name) for name in worded)
        room = self.width() - icons - max(BESIDE, self._beside.currentWidget().minimumSizeHint().width() + MARGINS)
        for name in shown:
            room -= self._width_of_word(name)
            style = Style.ToolButtonTextBesideIcon if room >= 0 else Style.ToolButtonIconOnly
            if self._buttons[name].toolButtonStyle() is not style:
                self._buttons[name].setToolButtonStyle(style)

    def _width_of_word(self, name: str) -> int:
        return self._buttons[name].fontMetrics().horizontalAdvance(WORDS[name]) + 10
