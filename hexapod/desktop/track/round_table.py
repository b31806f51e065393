"""The questions of a round and their answers, walked by the arrow keys: a key, a few characters or a press each."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QRect, QRectF, Qt
from PyQt6.QtGui import QFont, QMouseEvent, QPainter

from hexapod.control.round import AS_PLANNED, Group, Question, What
from hexapod.desktop.frame.chips import Chip, paint_chip, placed
from hexapod.desktop.frame.walked import ROW, Heading, WalkedTable
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.round import RoundWork
from hexapod.desktop.theme.style import color, font, scaled
from hexapod.desktop.theme.text import draw_text
from hexapod.desktop.track.answer_field import is_log, read_hours
from hexapod.fields.answering import answer_words, asked_words, has_parts, read_answer
from hexapod.fields.hours_text import log_words
from hexapod.plan.outline import number_of
from hexapod.plan.records import DAY
from hexapod.worktime import clock

NAMES = 24
NUMBER, NAME, PLANNED, ANSWERS, EFFECT = 20, 50, 296, 414, 92  # where the columns begin; the last one's width
CHIPS, WIDER = 440, 260  # what three answers take; how much wider names become where the window has room
TITLES = {
    Group.FINISH: "Should be finished",
    Group.BEGIN: "Should have begun",
    Group.GO_ON: "Under way",
}
LEFT = ("left…", "left ")
OTHERS = {
    Group.FINISH: (("done on…", "done "), LEFT),
    Group.BEGIN: (("began on…", "began "), ("not begun…", "no: ")),
    Group.GO_ON: (LEFT, ("done on…", "done ")),
}
AS_PLANNED_KEY = Qt.Key.Key_Space


class RoundTable(WalkedTable):
    """``rows`` are headings and questions, in order."""

    top_margin = NAMES

    def __init__(self, desk: Desk, work: RoundWork) -> None:
        super().__init__("roundTable", "The questions of the round")
        self._desk, self._work = desk, work
        work.changed.connect(self.refresh)

    # Rows

    def refresh(self) -> None:
        """The questions, or what is answered, are others."""
        asked = self._work.asked
        rows: list[object] = []
        for i, question in enumerate(asked):
            if not i or asked[i - 1].group is not question.group:
                count = sum(other.group is question.group for other in asked)
                rows.append(Heading(f"{TITLES[question.group]} · {count}"))
            rows.append(question)
        is_computed = self._desk.is_computed
        self.nothing = "Nothing should have moved up to then." if is_computed else "The dates are being computed."
        self.show_rows(rows)

    def key_of(self, row: object) -> object:
        return row.task if isinstance(row, Question) else row

    @property
    def question(self) -> Question | None:
        """The one that the keyboard is at."""
        row = self.current
        return row if isinstance(row, Question) else None

    def chosen(self, row: object) -> None:
        if isinstance(row, Question):
            self._desk.select((row.task,), row.task)

    def _left(self, column: int) -> int:
        """Where a column begins: names take what room the window has beyond the least."""
        if column < PLANNED:
            return scaled(column)
        spare = self.viewport().width() - scaled(ANSWERS + CHIPS + EFFECT)
        return scaled(column) + min(max(0, spare), scaled(WIDER))

    def tell(self) -> None:
        """What a screen reader says of the question."""
        question = self.question
        if question is None or question.task not in self._desk.plan.tasks:
            self.setAccessibleDescription("")
            return
        answer, texts = self._work.answer_of(question.task), self._desk.columns.texts()
        said = "not answered" if answer is None else answer_words(texts, question, answer)
        name = self._desk.plan.tasks[question.task].name
        planned = asked_words(question, texts.dates)
        self.setAccessibleDescription(f"{TITLES[question.group]}: {name}, planned {planned}, {said}")

    # Answering

    def chips(self, question: Question) -> list[Chip]:
        """The answer, and what else is likely."""
        texts, answer = self._desk.columns.texts(), self._work.answer_of(question.task)
        found = [] if answer is None else [Chip(answer_words(texts, question, answer), True, None)]
        if answer is None or answer.what is not What.AS_PLANNED:
            found.append(Chip(self._planned_words(question), False, None))
        in_parts = has_parts(self._desk.plan.tasks[question.task])
        others = [other for other in OTHERS[question.group] if in_parts or other != LEFT]
        found += [Chip(words, False, typed) for words, typed in others]
        return found[:3]

    def _planned_words(self, question: Question) -> str:
        task = self._desk.plan.tasks[question.task]
        if question.group is Group.FINISH or not task.minutes:
            return "as planned"
        return f"as planned {100 * (task.minutes - question.rest) / task.minutes:.0f} %"

    def as_planned(self) -> None:
        if (question := self.question) is not None:
            self._work.answer(question.task, AS_PLANNED)
            self.go(self.at + 1)

    def take_back(self) -> None:
        if (question := self.question) is not None:
            self._work.answer(question.task, None)

    def edit(self, text: str) -> None:
        question = self.question
        if question is None or self._editor is not None or self._desk.is_read_only:
            return

        def take(said: str) -> None:
            if is_log(said):
                desk = self._desk
                desk.hours.log(question.task, desk.mine.me, read_hours(desk, question.task, said))
                return
            answer = read_answer(self._desk.columns.texts(), question, said, self._work.at)
            if answer is not None:
                self._work.answer(question.task, answer)

        self.open_editor(
            text,
            hint="done thu, 3d left, 60%, no: why, +2h",
            accessible=f"What happened to {self._desk.plan.tasks[question.task].name}",
            echo=lambda said: self._echo(question, said),
            take=take,
        )

    def editor_place(self) -> QRect:
        return QRect(self._left(ANSWERS) - 4, self.top_of(self.at) + 2, scaled(260), scaled(ROW) - 4)

    def _echo(self, question: Question, said: str) -> str:
        texts = self._desk.columns.texts()
        if is_log(said):
            words = log_words(texts, read_hours(self._desk, question.task, said), clock.now() // DAY)
            return f"log {words}"
        answer = read_answer(texts, question, said, self._work.at)
        return "" if answer is None else answer_words(texts, question, answer)

    # Keys and presses

    def keys(self) -> dict[int, Callable[[], object]]:
        back = self.take_back
        return {AS_PLANNED_KEY: self.as_planned, Qt.Key.Key_Delete: back, Qt.Key.Key_Backspace: back}

    def pressed(self, row: object, event: QMouseEvent) -> None:
        if isinstance(row, Question):
            for chip, box in self._placed(row, self.top_of(self.at)):
                if box.contains(event.position()):
                    self._press(row, chip)
                    return

    def _press(self, question: Question, chip: Chip) -> None:
        if self._desk.is_read_only:
            return
        if chip.typed is not None:
            self.edit(chip.typed)
        elif not chip.is_on:
            self._work.answer(question.task, AS_PLANNED)
        elif question.task in self._work.answers:
            self._work.answer(question.task, None)

    def _placed(self, question: Question, top: int) -> list[tuple[Chip, QRectF]]:
        """The chips with where they are; what does not fit before the effect is left out."""
        right = self.viewport().width() - scaled(EFFECT)
        return placed(self.chips(question), self._left(ANSWERS), right, top + 5, scaled(ROW) - 10)

    # Painting

    def paint_names(self, painter: QPainter) -> None:
        """What the columns are, above the rows wherever these are scrolled to."""
        width, height = self.viewport().width(), scaled(NAMES)
        for left, right, words in (
            (NUMBER, NAME, "#"), (NAME, PLANNED, "Task"), (PLANNED, ANSWERS, "planned"),
            (ANSWERS, ANSWERS + CHIPS, "what happened"),
        ):  # fmt: skip
            draw_text(painter, font(8.5), words, self._box(left, right, 0, height))
        box = QRectF(width - scaled(EFFECT), 0, scaled(EFFECT) - 12, height)
        draw_text(painter, font(8.5), "then the finish", box, right=True)

    def _box(self, column: int, following: int, top: int, height: int) -> QRectF:
        left = self._left(column)
        return QRectF(left, top, self._left(following) - left - 8, height)

    def paint_row(self, painter: QPainter, row: object, top: int) -> None:
        plan = self._desk.plan
        if not isinstance(row, Question) or row.task not in plan.tasks:
            return
        question, height = row, scaled(ROW)
        painter.setPen(color("muted"))
        draw_text(painter, font(8.5), number_of(plan, question.task), self._box(NUMBER, NAME, top, height))
        planned = asked_words(question, self._desk.columns.dates)
        draw_text(painter, font(8.5), planned, self._box(PLANNED, ANSWERS, top, height))
        painter.setPen(color("ink"))
        draw_text(painter, font(9.5), plan.tasks[question.task].name, self._box(NAME, PLANNED, top, height))
        for chip, box in self._placed(question, top):
            paint_chip(painter, chip, box)
        width = self.viewport().width()
        self._paint_effect(painter, question, QRectF(width - scaled(EFFECT), top, scaled(EFFECT) - 12, height))

    def _paint_effect(self, painter: QPainter, question: Question, box: QRectF) -> None:
        by = self._work.effect_of(question.task)
        if self._work.answer_of(question.task) is None:
            words, role = "?", "muted"
        elif by is None:
            words, role = "–", "muted"
        else:
            words = f"{'+' if by > 0 else '−'}{self._desk.length(abs(by), question.task)}" if by else "–"
            role = "brick" if by > 0 else "petrol" if by < 0 else "muted"
        painter.setPen(color(role))
        weight = QFont.Weight.DemiBold if by else QFont.Weight.Normal
        draw_text(painter, font(9.5, weight), words, box, right=True)
