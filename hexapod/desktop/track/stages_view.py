"""Stages: the board, in rows by what somebody chooses, and the picture of how many cards each stage held over time."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QStackedWidget

from hexapod.desktop.action import Registry
from hexapod.desktop.frame.part import Part, offer
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import ActionButton, choice_button
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


class StagesView(Part):
    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__(desk, registry, "stages")
        self.work = desk.stages
        self.board, self.picture = StageBoard(desk, self.work), StagePicture(desk)
        self.main_part = self.board
        self.board.card_opened.connect(self.bar_asked)
        self.board.hours_asked.connect(self.show_hours)
        self._make_tools()
        self._middle = QStackedWidget()
        self._middle.addWidget(self.board)
        self._middle.addWidget(self.picture)
        self._begin = QPushButton("Begin with four stages")
        self._begin.setObjectName("stagesBegin")
        self._begin.clicked.connect(self.work.begin)
        box = self.column()
        box.addWidget(self._says)
        line = QHBoxLayout()
        line.addWidget(self._begin)
        line.addStretch(1)
        box.addLayout(line)
        box.addWidget(self._middle, 1)
        self.follow(desk.looks.changed, self.work.changed)

    def _make_tools(self) -> None:
        work = self.work
        self._project = self.choice("boardProject", "Cards of which project", 150, lambda p: work.show(project=p))
        self._by = self.choice("boardRows", "Rows by", 120, lambda by: work.show(by=by))
        self._over_time = choice_button("Over time", self._turn)
        self._over_time.setObjectName("boardOverTime")
        self._line.addWidget(self._over_time)
        self._line.addWidget(ActionButton(self._registry, "board.stages", text="Stages…"))

    def _turn(self) -> None:
        self._middle.setCurrentWidget(self.picture if self._over_time.isChecked() else self.board)
        self.refresh()

    def refresh(self) -> None:
        plan, work = self._desk.plan, self.work
        offer(self._project, self.projects(), work.project)
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
