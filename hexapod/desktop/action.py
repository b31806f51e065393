"""An action as data, and the registry that everything pressable is built from."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Iterator
from dataclasses import dataclass
from typing import TYPE_CHECKING

from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QMenu

from hexapod.desktop.theme.style import icon, palette
from hexapod.desktop.theme.tips import plain_tip

if TYPE_CHECKING:
    from hexapod.desktop.host import Host
    from hexapod.desktop.models.desk import Desk


MOST_ENTRIES = 12  # of one level of a menu
FIRST = 8  # of what the menu is mostly about; the others are one level deeper


def always(desk: Desk) -> bool:
    return True


@dataclass(frozen=True)
class Action:
    """``menu`` is where it stands in the main menu, ``on`` the context menus it is in (row, chart, link).

    ``keys`` that are in brackets belong to the grid, which reads them itself; they are shown, not bound.
    """

    id: str
    text: str
    run: Callable[[Host], object]
    menu: str
    keys: str = ""
    icon: str = ""
    on: tuple[str, ...] = ()
    toolbar: str = ""
    enabled: Callable[[Desk], bool] = always
    name: Callable[[Desk], str] | None = None  # a text that depends on the state, such as undo's

    @property
    def is_bound(self) -> bool:
        return bool(self.keys) and not self.keys.startswith("(")

    @property
    def shown_keys(self) -> str:
        return self.keys.strip("()")


class Registry:
    """All actions by id, and their Qt counterparts in one window."""

    def __init__(self, actions: Iterable[Action], window: Host, begin_a_group: Collection[str] = ()) -> None:
        self._window = window
        self._begin_a_group = begin_a_group
        self._actions = {action.id: action for action in actions}
        self._made: dict[str, QAction] = {}
        self._icons_of = ""  # the palette that the icons are in
        for action in self._actions.values():
            self._made[action.id] = self._make(action)

    def __iter__(self) -> Iterator[Action]:
        return iter(self._actions.values())

    def __getitem__(self, action_id: str) -> Action:
        return self._actions[action_id]

    def qt(self, action_id: str) -> QAction:
        return self._made[action_id]

    def refresh(self) -> None:
        """Bring enabled states and names up to date, and icons where the theme is another."""
        desk = self._window.desk
        is_new_theme, self._icons_of = self._icons_of != palette().name, palette().name
        for action in self._actions.values():
            made = self._made[action.id]
            made.setEnabled(action.enabled(desk))
            text = action.name(desk) if action.name else action.text
            if is_new_theme and action.icon:
                made.setIcon(icon(action.icon))
            if is_new_theme or text != made.text():
                made.setText(text)
                made.setToolTip(plain_tip(text + (f" ({action.shown_keys})" if action.keys else "")))

    def fill(self, menu: QMenu, place: str) -> None:
        """Add the actions that belong to a context menu; a long one is grouped by what they are about."""
        groups: dict[str, list[QAction]] = {}
        for action in self._actions.values():
            if place in action.on:
                groups.setdefault(action.menu, []).append(self._made[action.id])
        if sum(map(len, groups.values())) <= MOST_ENTRIES:
            for actions in groups.values():
                menu.addActions(actions)
            return
        own = max(groups, key=lambda title: len(groups[title]))
        menu.addActions(groups[own][:FIRST])
        menu.addSeparator()
        rest = groups.pop(own)[FIRST:]
        for title, actions in groups.items():
            if len(actions) > 1:
                menu.addMenu(title).addActions(actions)
            else:
                rest += actions
        menu.addMenu("More").addActions(rest)

    def menus(self) -> dict[str, list[QAction]]:
        """The main menu: heading by heading."""
        found: dict[str, list[QAction]] = {}
        for action in self._actions.values():
            found.setdefault(action.menu, []).append(self._made[action.id])
        return found

    def begins_a_group(self, action: QAction) -> bool:
        """Whether a line parts it from what is above it in the main menu."""
        return action.objectName() in self._begin_a_group

    def toolbar_groups(self) -> dict[str, list[QAction]]:
        found: dict[str, list[QAction]] = {}
        for action in self._actions.values():
            if action.toolbar:
                found.setdefault(action.toolbar, []).append(self._made[action.id])
        return found

    def _make(self, action: Action) -> QAction:
        made = QAction(action.text, self._window)
        made.setObjectName(action.id)
        if action.is_bound:
            made.setShortcuts([QKeySequence(keys) for keys in action.keys.split(" or ")])
        made.triggered.connect(lambda: action.run(self._window))
        self._window.addAction(made)
        return made
