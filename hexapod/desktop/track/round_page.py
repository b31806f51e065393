"""At the side of a round: the task that is asked about, what its answer does, and ways to win that back."""

from __future__ import annotations

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QPushButton, QSizePolicy

from hexapod.control.winning_back import Means, Way, ways_to_win_back
from hexapod.desktop import dates
from hexapod.desktop.frame.page import Page
from hexapod.desktop.frame.standing import add_standing
from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.outlook import Effect, Outlook
from hexapod.desktop.parts import LineButton, clear, heading, label
from hexapod.plan.outline import number_of

WAIT = 150  # milliseconds until ways are looked for, so that nobody who walks the questions waits for them


NOTHING = {
    Means.HELP: "Nobody who could help is free then.",
    Means.LEVEL: "Levelling again wins nothing.",
}


class RoundPage(Page):
    """``ways`` are those that were found for the task on show, with its answer."""

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk, "The round")
        self.ways: list[Way] = []
        self._of: tuple[object, str] | None = None  # what the ways were found for
        self._look_soon = QTimer(self, singleShot=True, interval=WAIT)
        self._look_soon.timeout.connect(self._look)
        desk.round.changed.connect(self.refresh)
        desk.selection_changed.connect(self.refresh)

    def fill(self) -> None:
        desk, work = self.desk, self.desk.round
        task = desk.plan.tasks.get(desk.current or "")
        if task is None or task.project != work.project:
            self.box.addWidget(label("The round", "title"))
            words = "Answer what happened to each task, and see here what that does, and how it could be won back."
            self.box.addWidget(label(words, "muted", wrap=True))
            return
        self.box.addWidget(label(task.name, "title", wrap=True))
        above = [desk.plan.tasks[t].name for t in reversed(desk.plan.ancestors(task.id))]
        self.box.addWidget(label(" · ".join([number_of(desk.plan, task.id), *above]), "small", wrap=True))
        self.box.addSpacing(4)
        add_standing(self.box, desk, task)
        self._fill_told(task.id)
        self._fill_effect(task.id)
        self._fill_ways(task.id)

    def _fill_told(self, task: str) -> None:
        """What was said with an answer that somebody told: it becomes a comment once the round is taken."""
        answer = self.desk.round.answer_of(task)
        if answer is None or not (answer.note or answer.worked):
            return
        self.box.addWidget(heading(f"Told by {answer.who}" if answer.who else "Told with it"))
        hours = f"{answer.worked / 60:g} h worked" if answer.worked else ""
        for words in (hours, answer.note):
            if words:
                self.box.addWidget(label(words, "", wrap=True))

    def _fill_effect(self, task: str) -> None:
        effect = self.desk.round.effect(task)
        if effect is None or not effect.count:
            return
        self.box.addWidget(heading("What it does"))
        for moved, by in effect.first:
            line = LineButton(f"{self.desk.plan.tasks[moved].name}, {self._signed(by, moved)}")
            line.clicked.connect(lambda _, t=moved: self.desk.go_to(t))
            self.box.addWidget(line)
        more = effect.count - len(effect.first)
        self.box.addWidget(label(self._rest_of(effect, more), "small", wrap=True))

    def _rest_of(self, effect: Effect, more: int) -> str:
        also = f"and {more} more; " if more else ""
        return f"{also}the finish moves {self._signed(effect.finish)}" if effect.finish else f"{also}the finish stays"

    def _signed(self, by: int, task: str = "") -> str:
        return f"{'+' if by > 0 else '−'}{self.desk.length(abs(by), task)}"

    def _fill_ways(self, task: str) -> None:
        """Looked for beside the interface, where the answer makes the finish later than it would be."""
        outlook = self.desk.round.outlook
        effect = self.desk.round.effect(task)
        if outlook is None or effect is None or effect.finish <= 0:
            self.ways = []
            return
        self._title = heading("Ways to win it back")
        self.box.addWidget(self._title)
        if self._of is None or self._of[0] is not outlook.before_ways or self._of[1] != task:
            self.box.addWidget(label("Looking…", "small"))
            self._look_soon.start()
            return
        chosen = [way.means for way in self.desk.round.ways]
        for way in self.ways:
            button = QPushButton(self._words_of(way))
            button.setObjectName(f"way.{way.means.value}")
            button.setProperty("role", "way")
            button.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)  # its words are broken below
            button.setCheckable(True)
            button.setChecked(way.means in chosen)
            button.setEnabled(not self.desk.is_read_only)
            button.clicked.connect(lambda _, w=way: self.desk.round.turn(w))
            self.box.addWidget(button)
        there = {way.means for way in self.ways}
        for means, words in NOTHING.items():
            if means not in there:
                self.box.addWidget(label(words, "small", wrap=True))
        if self.ways:
            self.box.addWidget(label("What is chosen is carried out with the round.", "small", wrap=True))

    def _words_of(self, way: Way) -> str:
        desk = self.desk
        if way.means is Means.TARGET:
            return f"Move the target to {dates.short_day(way.finish)}"
        wins = f"wins {desk.length(way.wins)}"
        if way.means is Means.HELP and way.resource is not None:
            when = f"{dates.short_day(way.begin)} to {dates.short_day(way.end)}"
            return f"{desk.plan.resources[way.resource].name}\nhelps {when}\n{wins}; free then"
        return f"Level again\n{wins}"

    def _look(self) -> None:
        outlook, task = self.desk.round.outlook, self.desk.current
        if not isinstance(outlook, Outlook) or task is None or not self.isVisible():
            return
        without_ways = outlook.before_ways

        def found(ways: object) -> None:
            now = self.desk.round.outlook
            if now is not None and now.before_ways is without_ways and self.desk.current == task:
                self._of, self.ways = (without_ways, task), ways  # type: ignore[assignment]
                self.refresh_now()

        def failed(error: Exception) -> None:
            clear(self.box)
            self.box.addWidget(label(str(error), "trouble", wrap=True))

        in_background(self, lambda: ways_to_win_back(without_ways, task), found, failed)
