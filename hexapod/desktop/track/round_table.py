"""The questions of a round and their answers, walked by the arrow keys: a key, a few characters or a press each."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Callable
from itertools import accumulate
from typing import NamedTuple

from PyQt6.QtCore import QEvent, QPointF, QRect, QRectF, QSize, Qt
from PyQt6.QtGui import QFont, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QAbstractScrollArea, QFrame

from hexapod.control.round import AS_PLANNED, Group, Question, What
from hexapod.desktop.frame.cell_editor import NEXT_ROW, PREVIOUS_ROW, STAY, CellEditor
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.round import RoundWork
from hexapod.desktop.theme.style import color, font, scaled
from hexapod.desktop.theme.text import draw_text, width_of
from hexapod.errors import HexapodError
from hexapod.fields.answering import answer_words, asked_words, has_parts, read_answer
from hexapod.plan.outline import number_of

ROW, HEADING, NAMES = 30, 36, 24
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


class Chip(NamedTuple):
    """Something to press: ``typed`` is what an editor then begins with, None where a press is all."""

    words: str
    is_on: bool
    typed: str | None


class RoundTable(QAbstractScrollArea):
    """``rows`` are headings (a group) and questions, in order; ``at`` is the row that the keyboard is at."""

    def __init__(self, desk: Desk, work: RoundWork) -> None:
        super().__init__()
        self.setObjectName("roundTable")
        self.setAccessibleName("The questions of the round")
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._desk, self._work = desk, work
        self.rows: list[Group | Question] = []
        self._headings = [0]  # how many are above each row, and above the end
        self.at = -1
        self._editor: CellEditor | None = None
        work.changed.connect(self.refresh)

    def sizeHint(self) -> QSize:
        return QSize(760, 420)

    # Rows

    def refresh(self) -> None:
        """The questions, or what is answered, are others: the keyboard stays at the same one."""
        current = self.question
        rows: list[Group | Question] = []
        for question in self._work.asked:
            if not rows or (isinstance(rows[-1], Question) and rows[-1].group is not question.group):
                rows.append(question.group)
            rows.append(question)
        self.rows = rows
        self._headings = list(accumulate((isinstance(row, Group) for row in rows), initial=0))
        there = [i for i, row in enumerate(rows) if isinstance(row, Question)]
        same = [i for i in there if current is not None and rows[i].task == current.task]
        self.at = same[0] if same else there[0] if there else -1
        self._fit()
        self._tell()
        self.viewport().update()

    @property
    def question(self) -> Question | None:
        """The one that the keyboard is at."""
        row = self.rows[self.at] if 0 <= self.at < len(self.rows) else None
        return row if isinstance(row, Question) else None

    def _top(self, row: int) -> int:
        headings = self._headings[row]
        rows = scaled(HEADING) * headings + scaled(ROW) * (row - headings)
        return scaled(NAMES) + rows - self.verticalScrollBar().value()

    def _left(self, column: int) -> int:
        """Where a column begins: names take what room the window has beyond the least."""
        if column < PLANNED:
            return scaled(column)
        spare = self.viewport().width() - scaled(ANSWERS + CHIPS + EFFECT)
        return scaled(column) + min(max(0, spare), scaled(WIDER))

    def _fit(self) -> None:
        height = self._top(len(self.rows)) + self.verticalScrollBar().value()
        self.verticalScrollBar().setRange(0, max(0, height - self.viewport().height()))
        self.verticalScrollBar().setPageStep(self.viewport().height())
        self.verticalScrollBar().setSingleStep(scaled(ROW))

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()
        if self._editor is not None:
            self._editor.move(self._left(ANSWERS) - 4, self._editor.y())

    def scrollContentsBy(self, dx: int, dy: int) -> None:
        self.viewport().scroll(dx, dy)  # an editor stays at its question
        self.viewport().update()

    def go(self, row: int) -> None:
        """To the question at a row, or to the next one in that direction."""
        step = 1 if row >= self.at else -1
        while 0 <= row < len(self.rows) and not isinstance(self.rows[row], Question):
            row += step
        if not 0 <= row < len(self.rows):
            return
        self.at = row
        top, bar = self._top(row), self.verticalScrollBar()
        above = scaled(NAMES) + scaled(HEADING)  # the names, and the heading of the first question
        if top < above:
            bar.setValue(bar.value() + top - above)
        elif top + scaled(ROW) > self.viewport().height():
            bar.setValue(bar.value() + top + scaled(ROW) - self.viewport().height())
        question = self.question
        if question is not None:
            self._desk.select((question.task,), question.task)
        self._tell()
        self.viewport().update()

    def _tell(self) -> None:
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
        """Open a field for the answer of the question, which begins with a text."""
        question = self.question
        if question is None or self._editor is not None or self._desk.is_read_only:
            return
        self.go(self.at)
        place = QRect(self._left(ANSWERS) - 4, self._top(self.at) + 2, scaled(260), scaled(ROW) - 4)
        name = self._desk.plan.tasks[question.task].name
        hint = "done thu, 3d left, 60%, no: why"
        editor = CellEditor(self.viewport(), place, text, hint=hint, accessible=f"What happened to {name}")
        editor.setObjectName("answerEditor")
        editor.echo_by(lambda said: self._echo(question, said))
        editor.finished.connect(lambda said, then: self._finish(question, said, then))
        editor.left.connect(self._close)
        self._editor = editor
        editor.show()
        editor.setFocus()
        editor.end(False)

    def _echo(self, question: Question, said: str) -> str:
        texts = self._desk.columns.texts()
        answer = read_answer(texts, question, said, self._work.at)
        return "" if answer is None else answer_words(texts, question, answer)

    def _finish(self, question: Question, said: str, then: str) -> None:
        editor = self._editor
        if editor is None:
            return
        try:
            answer = read_answer(self._desk.columns.texts(), question, said, self._work.at)
        except HexapodError as error:
            if then == STAY:
                self._close()
            else:
                editor.show_reason(str(error))
            return
        self._close()
        if answer is not None:
            self._work.answer(question.task, answer)
        if then == NEXT_ROW:
            self.go(self.at + 1)
        elif then == PREVIOUS_ROW:
            self.go(self.at - 1)

    def _close(self) -> None:
        editor, self._editor = self._editor, None
        if editor is not None:
            editor.close_editor()
            self.setFocus()

    # Keys and presses

    def event(self, event: QEvent) -> bool:
        """Plain keys belong to the questions: none of them is a shortcut here, least of all the one that deletes."""
        if event.type() == QEvent.Type.ShortcutOverride and not _is_command(event):
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        page = max(1, self.viewport().height() // scaled(ROW) - 1)
        moves: dict[int, Callable[[], None]] = {
            Qt.Key.Key_Down: lambda: self.go(self.at + 1),
            Qt.Key.Key_Up: lambda: self.go(self.at - 1),
            Qt.Key.Key_Home: lambda: self.go(1),  # the first is a heading
            Qt.Key.Key_End: lambda: self.go(len(self.rows) - 1),
            Qt.Key.Key_PageDown: lambda: self.go(min(len(self.rows) - 1, self.at + page)),
            Qt.Key.Key_PageUp: lambda: self.go(max(1, self.at - page)),
            Qt.Key.Key_Delete: self.take_back,
            Qt.Key.Key_Backspace: self.take_back,
            Qt.Key.Key_Return: lambda: self.edit(""),
            Qt.Key.Key_Enter: lambda: self.edit(""),
            Qt.Key.Key_F2: lambda: self.edit(""),
            AS_PLANNED_KEY: self.as_planned,
        }
        plain = not event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
        if plain and event.key() in moves:
            moves[event.key()]()
        elif plain and event.text().isprintable() and event.text():
            self.edit(event.text())
        else:
            super().keyPressEvent(event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._close()
        row = self._row_at(event.position().y())
        if row is None or not isinstance(self.rows[row], Question):
            return
        self.setFocus()
        self.go(row)
        question = self.question
        assert question is not None
        for chip, box in self._placed(question, self._top(row)):
            if box.contains(event.position()):
                self._press(question, chip)
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

    def _row_at(self, y: float) -> int | None:
        row = bisect_right(range(len(self.rows) + 1), y, key=self._top) - 1
        return row if 0 <= row < len(self.rows) else None

    def _placed(self, question: Question, top: int) -> list[tuple[Chip, QRectF]]:
        """The chips with where they are; what does not fit before the effect is left out."""
        left, found = float(self._left(ANSWERS)), []
        for chip in self.chips(question):
            face = font(8.5, QFont.Weight.DemiBold if chip.is_on else QFont.Weight.Normal)
            wide = min(width_of(face, chip.words) + 18, self.viewport().width() - scaled(EFFECT) - left)
            if wide < 40:
                break
            found.append((chip, QRectF(left, top + 5, wide, scaled(ROW) - 10)))
            left += wide + 6
        return found

    # Painting

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self.viewport())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.viewport().rect(), color("paper"))
        top = self._top(0)
        for i, row in enumerate(self.rows):
            height = scaled(HEADING) if isinstance(row, Group) else scaled(ROW)
            if top + height > 0 and top < self.viewport().height():
                if isinstance(row, Group):
                    self._paint_heading(painter, row, top)
                elif row.task in self._desk.plan.tasks:
                    self._paint_question(painter, i, row, top)
            top += height
        if not self.rows:
            self._paint_nothing(painter)
        self._paint_names(painter)

    def _paint_names(self, painter: QPainter) -> None:
        """What the columns are, above the rows wherever these are scrolled to."""
        width, height = self.viewport().width(), scaled(NAMES)
        painter.fillRect(QRectF(0, 0, width, height), color("paper"))
        painter.fillRect(QRectF(0, height - 1, width, 1), color("rule"))
        painter.setPen(color("muted"))
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

    def _paint_heading(self, painter: QPainter, group: Group, top: int) -> None:
        count = sum(isinstance(row, Question) and row.group is group for row in self.rows)
        painter.setPen(color("petrol"))
        box = QRectF(scaled(NUMBER) - 8, top + 10, self.viewport().width(), scaled(HEADING) - 12)
        draw_text(painter, font(9.5, QFont.Weight.DemiBold), f"{TITLES[group]} · {count}", box)

    def _paint_question(self, painter: QPainter, row: int, question: Question, top: int) -> None:
        plan, width = self._desk.plan, self.viewport().width()
        height = scaled(ROW)
        if row == self.at:
            painter.fillRect(QRectF(0, top, width, height), color("selection"))
        if row == self.at and self.hasFocus():
            painter.setPen(QPen(color("petrol"), 1.6))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(1, top + 1, width - 2, height - 3))
        painter.fillRect(QRectF(0, top + height - 1, width, 1), color("rule"))
        painter.setPen(color("muted"))
        draw_text(painter, font(8.5), number_of(plan, question.task), self._box(NUMBER, NAME, top, height))
        planned = asked_words(question, self._desk.columns.dates)
        draw_text(painter, font(8.5), planned, self._box(PLANNED, ANSWERS, top, height))
        painter.setPen(color("ink"))
        draw_text(painter, font(9.5), plan.tasks[question.task].name, self._box(NAME, PLANNED, top, height))
        for chip, box in self._placed(question, top):
            _paint_chip(painter, chip, box)
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

    def _paint_nothing(self, painter: QPainter) -> None:
        painter.setPen(color("muted"))
        words = "Nothing should have moved up to then." if self._desk.is_computed else "The dates are being computed."
        draw_text(
            painter, font(10), words, QRectF(scaled(NUMBER), scaled(NAMES) + 12, self.viewport().width() - 40, 24)
        )


def _is_command(event: QKeyEvent) -> bool:
    held = event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
    is_function_key = Qt.Key.Key_F1 <= event.key() <= Qt.Key.Key_F12 and event.key() != Qt.Key.Key_F2
    return bool(held) or is_function_key


def _paint_chip(painter: QPainter, chip: Chip, box: QRectF) -> None:
    painter.setPen(QPen(color("petrol") if chip.is_on else color("link"), 1.0))
    painter.setBrush(color("petrol") if chip.is_on else color("panel"))
    painter.drawRoundedRect(box.adjusted(0.5, 0.5, -0.5, -0.5), box.height() / 2, box.height() / 2)
    painter.setPen(color("on_petrol" if chip.is_on else "ink"))
    face = font(8.5, QFont.Weight.DemiBold if chip.is_on else QFont.Weight.Normal)
    inner = QRectF(box.topLeft() + QPointF(9, 0), box.bottomRight() - QPointF(6, 0))
    draw_text(painter, face, chip.words, inner)
