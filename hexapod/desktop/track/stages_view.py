"""Stages: the board, in rows by what somebody chooses, and the picture of how many cards each stage held over time."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from hexapod.desktop.action import Registry
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.stages import EVERYTHING
from hexapod.desktop.parts import ActionButton, choice_button, label, narrow
from hexapod.desktop.track.choosing import offer
from hexapod.desktop.track.stage_board import StageBoard
from hexapod.desktop.track.stage_picture import StagePicture

HOW = "Drag a card, or move it by Ctrl+Left and Ctrl+Right or a digit; Shift chooses more. Enter shows its bar."
OVER_TIME = "How many cards each stage held, from the history. Days are round the clock; stages are those of now."
NO_STAGES = (
    "A stage is a column of the board: what has to happen to a piece of work, in your words. It may mean a per cent, "
    "and a most of cards at once."
)
NO_CARDS = (
    "No card yet. Choose rows in Build, a branch or all that a view shows, and put them on the board (Ctrl+Alt+K)."
)


class StagesView(QWidget):
    """``bar_asked`` asks for the bar of a card."""

    bar_asked = pyqtSignal(str)

    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__()
        self._desk, self._registry = desk, registry
        self.work = desk.stages
        self.board, self.picture = StageBoard(desk, self.work), StagePicture(desk)
        self.main_part = self.board
        self.board.card_opened.connect(self.bar_asked)
        self.tools = self._make_tools()
        self._middle = QStackedWidget()
        self._middle.addWidget(self.board)
        self._middle.addWidget(self.picture)
        self._says = label("", "small", wrap=True)
        self._says.setObjectName("stagesSays")
        self._begin = QPushButton("Begin with four stages")
        self._begin.setObjectName("stagesBegin")
        self._begin.clicked.connect(self.work.begin)
        box = QVBoxLayout(self)
        box.setContentsMargins(10, 8, 10, 6)
        box.setSpacing(4)
        box.addWidget(self._says)
        line = QHBoxLayout()
        line.addWidget(self._begin)
        line.addStretch(1)
        box.addLayout(line)
        box.addWidget(self._middle, 1)
        for signal in (desk.changed, desk.computed, desk.past_changed, desk.looks.changed, self.work.changed):
            signal.connect(lambda *_: self._follow())

    def _make_tools(self) -> QWidget:
        tools = QWidget()
        line = QHBoxLayout(tools)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(6)
        self._project = narrow(QComboBox())
        self._project.setObjectName("boardProject")
        self._project.setAccessibleName("Cards of which project")
        self._project.setMinimumWidth(150)
        self._project.activated.connect(lambda i: self.work.show(project=self._project.itemData(i)))
        self._by = narrow(QComboBox())
        self._by.setObjectName("boardRows")
        self._by.setAccessibleName("Rows by")
        self._by.setMinimumWidth(120)
        self._by.activated.connect(lambda i: self.work.show(by=self._by.itemData(i)))
        self._over_time = choice_button("Over time", self._turn)
        self._over_time.setObjectName("boardOverTime")
        line.addStretch(1)
        line.addWidget(self._project)
        line.addWidget(self._by)
        line.addWidget(self._over_time)
        line.addWidget(ActionButton(self._registry, "board.stages", text="Stages…"))
        return tools

    def _turn(self) -> None:
        self._middle.setCurrentWidget(self.picture if self._over_time.isChecked() else self.board)
        self.refresh()

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.refresh()

    def _follow(self) -> None:
        """At once: nothing is painted of a plan that is no more."""
        if self.isVisible():
            self.refresh()

    def refresh(self) -> None:
        plan, work = self._desk.plan, self.work
        projects = [(p.id, p.name) for p in plan.projects_in_order() if not p.archived]
        offer(self._project, [(EVERYTHING, "Every project"), *projects], work.project)
        offer(self._by, work.ways(), work.by)
        is_empty = not plan.stages
        self._begin.setVisible(is_empty and not self._desk.is_read_only)
        self.board.refresh()
        is_picture = self._over_time.isChecked()
        self._says.setText(
            NO_STAGES if is_empty else NO_CARDS if not self.board.places else OVER_TIME if is_picture else HOW
        )
        if is_picture:
            self.picture.refresh()
