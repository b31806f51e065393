"""The frame round the legs while a scenario is open: in its colour, with its name and the way back."""

from __future__ import annotations

from PyQt6.QtCore import QSize
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from hexapod.desktop.action import Registry
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import ActionButton, Sentence, label
from hexapod.desktop.theme.style import color, faded, font, stream_color

WIDE = 4  # pixels


class _Ribbon(QWidget):
    """Above the legs: which scenario it is, that nothing here touches the plan, and the way back."""

    def __init__(self, registry: Registry) -> None:
        super().__init__()
        self.setObjectName("scenarioRibbon")
        self.name = label("")
        self.name.setFont(font(9.5))
        self._says = Sentence()
        self._says.setText("A scenario: nothing here touches the plan.")
        line = QHBoxLayout(self)
        line.setContentsMargins(10, 2, 6, 4)
        line.setSpacing(10)
        line.addWidget(self.name)
        line.addWidget(self._says, 1)
        for action, words in (("scenario.take", "Take it over…"), ("scenario.leave", "Back to the plan")):
            button = ActionButton(registry, action, text=words)
            line.addWidget(button)


class ScenarioFrame(QWidget):
    """``inner`` is where the legs are laid out; there is no frame while it is the plan that is worked on."""

    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__()
        self._desk = desk
        self._ribbon = _Ribbon(registry)
        self.inner = QVBoxLayout(self)
        self.inner.setSpacing(0)
        self.inner.addWidget(self._ribbon)
        for signal in (desk.past_changed, desk.home_changed):
            signal.connect(self.follow)
        self.follow()

    def minimumSizeHint(self) -> QSize:
        return self.inner.minimumSize()

    def follow(self) -> None:
        """A scenario was opened or left."""
        scenario = self._desk.scenario
        record = None if scenario is None else scenario.record
        wide = 0 if scenario is None else WIDE
        self.inner.setContentsMargins(wide, wide, wide, wide)
        self._ribbon.setVisible(scenario is not None)
        self._ribbon.name.setText("" if record is None else record.name)
        self._ribbon.name.setStyleSheet("font-weight: 600;")
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        scenario = self._desk.scenario
        record = None if scenario is None else scenario.record
        if record is None:
            return
        painter = QPainter(self)
        tone = stream_color(record.colour)
        painter.fillRect(self.rect(), tone)
        painter.fillRect(self.rect().adjusted(WIDE, WIDE, -WIDE, -WIDE), color("paper"))
        ribbon = self._ribbon.geometry()
        painter.fillRect(ribbon, color("panel"))
        painter.fillRect(ribbon, faded(tone, 46))
        painter.end()
