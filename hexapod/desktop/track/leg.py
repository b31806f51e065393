"""The Track leg: the round, own work, stages, hours, money, drift and value, and what needs attention."""

from __future__ import annotations

from collections.abc import Callable
from importlib import import_module
from typing import TYPE_CHECKING, Any, cast

from PyQt6.QtCore import QSize, pyqtSignal
from PyQt6.QtWidgets import QButtonGroup, QFrame, QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from hexapod.desktop.action import Registry
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import choice_button
from hexapod.desktop.theme.tips import plain_tip

if TYPE_CHECKING:
    from hexapod.desktop.track.consequences import Consequences
    from hexapod.desktop.track.round_table import RoundTable
    from hexapod.desktop.track.round_view import RoundView

ROUND = "round"
PARTS = {  # by name: the words on its tab, and where its view is made
    ROUND: ("Round", "round_view", "RoundView"),
    "mine": ("Mine", "mine_view", "MineView"),
    "stages": ("Stages", "stages_view", "StagesView"),
    "hours": ("Hours", "hours_view", "HoursView"),
    "money": ("Money", "money_view", "MoneyView"),
    "drift": ("Drift", "drift_view", "DriftView"),
    "value": ("Value", "value_view", "ValueView"),
    "attention": ("Attention", "attention_view", "AttentionView"),
}
SIDE = {ROUND: "round"}  # what stands at the side of a part; else what is selected


class _Stack(QStackedWidget):
    """It asks for no more room than what is on show, whatever else lies in it."""

    def minimumSizeHint(self) -> QSize:
        shown = self.currentWidget()
        return QSize() if shown is None else shown.minimumSizeHint()


class TrackLeg(QWidget):
    """``part_changed`` says that another part is shown. Each is made when it is first looked at; it has ``tools``,
    which stand in the bar, and a ``main_part``, which takes the keyboard."""

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
        self.show_part(ROUND)

    def _make_bar(self) -> QFrame:
        bar = QFrame()
        bar.setObjectName("viewbar")
        bar.setFixedHeight(32)
        line = QHBoxLayout(bar)
        line.setContentsMargins(8, 2, 8, 2)
        line.setSpacing(4)
        self._tabs = QButtonGroup(bar)
        for name, (words, *_) in PARTS.items():
            tab = choice_button(words, self._pressed(name))
            tab.setObjectName(f"track.{name}")
            tab.setAccessibleName(words)
            action = self._registry[f"track.{name}"]
            tab.setToolTip(plain_tip(f"{action.text} ({action.shown_keys})"))
            self._tabs.addButton(tab)
            line.addWidget(tab)
        line.addStretch(1)
        return bar

    def _pressed(self, name: str) -> Callable[[], None]:
        return lambda: self.show_part(name)

    def __getitem__(self, name: str) -> Any:
        """A part by its name, made now if nobody has looked at it."""
        if name not in self._made:
            _, module, made_by = PARTS[name]
            view = getattr(import_module(f"hexapod.desktop.track.{module}"), made_by)(self._desk, self._registry)
            self._made[name] = view
            view.bar_asked.connect(self.bar_asked)
            view.why_asked.connect(self.why_asked)
            self._parts.addWidget(view)
        return self._made[name]

    def show_part(self, name: str) -> None:
        """One of the parts."""
        view = self[name]
        for tab in self._tabs.buttons():
            tab.setChecked(tab.objectName() == f"track.{name}")
        self._parts.setCurrentWidget(view)
        self.setFocusProxy(view.main_part)
        if name != self.part:
            self.part = name
            self.part_changed.emit()

    @property
    def side_page(self) -> str:
        """What stands at the side."""
        return SIDE.get(self.part, "inspector")

    @property
    def main_part(self) -> QWidget:
        return cast(QWidget, self[self.part].main_part)

    def cancel(self) -> bool:
        """Leave off what is under way, such as a drag; whether there was anything."""
        main = self.main_part
        return bool(main.cancel()) if hasattr(main, "cancel") else False

    # The round, of which the window asks more

    @property
    def round(self) -> RoundView:
        return cast("RoundView", self[ROUND])

    @property
    def table(self) -> RoundTable:
        return self.round.table

    @property
    def work(self) -> Any:
        return self._desk.round

    @property
    def consequences(self) -> Consequences:
        return self.round.consequences

    def take(self) -> None:
        self.round.take()
