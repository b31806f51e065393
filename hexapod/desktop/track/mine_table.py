"""Somebody's work by when it is to be done: ticked, told by a few characters, walked by the arrow keys."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRect, QRectF, Qt
from PyQt6.QtGui import QMouseEvent, QPainter, QPen

from hexapod.control.mine import When, Work
from hexapod.control.round import Answer, question_of
from hexapod.desktop import dates
from hexapod.desktop.frame.chips import Chip, paint_chip, placed
from hexapod.desktop.frame.walked import ROW, Heading, WalkedTable
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.mine import NOBODY, MineWork
from hexapod.desktop.models.progress import late_words, waits_words
from hexapod.desktop.theme.style import color, font, scaled
from hexapod.desktop.theme.text import draw_text, width_of
from hexapod.desktop.track.answer_field import LOGS, open_answer
from hexapod.fields.answering import answer_words, has_parts
from hexapod.worktime import clock

TITLES = {
    When.LATE: "Late",
    When.TODAY: "Due today",
    When.NOW: "Ready now",
    When.WEEK: "This week",
    When.NEXT: "Next week",
    When.WAITING: "Waiting for others",
    When.LATER: "Later",
}
TICK, NAME, STATE, TOLD, TYPED = 16, 40, 226, 138, 260  # where columns begin; the last three are widths at the right
SHORT = 640  # pixels of a table below which it says where a task is no more
HINT = "done, 3d left, 60%, and a note: 3d: the rail is bent"


class MineTable(WalkedTable):
    def __init__(self, desk: Desk, work: MineWork) -> None:
        super().__init__("mineTable", "Tasks by when they are to be done")
        self._desk, self._work = desk, work
        self._laid: dict[str, Answer] = {}

    def refresh(self) -> None:
        """The plan, or whose work is looked at, is another."""
        found = self._work.work()
        rows: list[object] = []
        for when, title in TITLES.items():
            group = [work for work in found if work.when is when]
            rows += [Heading(f"{title} · {len(group)}"), *group] if group else []
        self._laid = self._work.laid()
        is_mine = self._work.whose == self._work.me
        self.nothing = (
            "The dates are being computed." if not self._desk.is_computed
            else "There is nothing that nobody does." if self._work.whose == NOBODY and self._work.me
            else "Choose above who you are." if self._work.whose == NOBODY
            else "Nothing is to be done." if is_mine else "There is nothing to do."
        )  # fmt: skip
        self.show_rows(rows)

    def key_of(self, row: object) -> object:
        return row.task if isinstance(row, Work) else row

    def chosen(self, row: object) -> None:
        if isinstance(row, Work) and row.task in self._desk.plan.tasks:
            self._desk.select((row.task,), row.task)

    def tell(self) -> None:
        row = self.current
        if not isinstance(row, Work) or row.task not in self._desk.plan.tasks:
            self.setAccessibleDescription("")
            return
        name = self._desk.plan.tasks[row.task].name
        self.setAccessibleDescription(f"{TITLES[row.when]}: {name}, {self._when(row)}, {self.state(row)}")

    # What a row says

    def _when(self, work: Work) -> str:
        begun = self._desk.plan.tasks[work.task].is_begun
        is_due = begun or work.when in (When.LATE, When.TODAY, When.NOW)
        return f"to {dates.short_day(work.finish)}" if is_due else f"from {dates.short_day(work.start)}"

    def state(self, work: Work) -> str:
        """In what way it is late, what it waits for and whom, or how much is left."""
        desk, plan = self._desk, self._desk.plan
        if late := late_words(desk, work.task):
            return late
        if work.waits_for:
            return waits_words(plan, work.waits_for, lambda person: person.name)
        task = plan.tasks[work.task]
        if task.is_begun:
            return f"{desk.length(task.rest, task.id)} left of {desk.length(task.minutes, task.id)}"
        return desk.length(task.minutes, task.id)

    def where(self, work: Work) -> str:
        plan = self._desk.plan
        task = plan.tasks[work.task]
        above = plan.ancestors(work.task)
        return " › ".join([plan.projects[task.project].name, *(plan.tasks[t].name for t in above[:1])])

    def chips(self, work: Work) -> list[Chip]:
        """What a form told and nobody took yet; else how to say what is left."""
        laid = self._laid.get(work.task)
        if laid is not None and self._desk.is_computed and self._desk.schedule.has(work.task):
            question = question_of(self._desk.worked_out, work.task, clock.now())
            return [Chip(answer_words(self._desk.columns.texts(), question, laid), True, None)]
        left = [Chip("left…", False, "left ")] if has_parts(self._desk.plan.tasks[work.task]) else []
        return [*left, Chip("hours…", False, LOGS)]

    # Telling

    def tick(self) -> None:
        if isinstance(row := self.current, Work) and not self._desk.is_read_only:
            place = self.at
            if self._work.tick(row.task):
                self.go(min(place, len(self.rows) - 1))

    def edit(self, text: str) -> None:
        row = self.current
        if not isinstance(row, Work) or self._editor is not None or self._desk.is_read_only:
            return
        open_answer(self, self._desk, row.task, text, HINT, self._work.whose)

    def editor_place(self) -> QRect:
        left = self.viewport().width() - scaled(TYPED) - 2
        return QRect(left, self.top_of(self.at) + 2, scaled(TYPED), scaled(ROW) - 4)

    def keys(self) -> dict[int, Callable[[], object]]:
        return {Qt.Key.Key_Space: self.tick}

    def pressed(self, row: object, event: QMouseEvent) -> None:
        if not isinstance(row, Work) or self._desk.is_read_only:
            return
        if event.position().x() < scaled(NAME) - 4:
            self.tick()
            return
        for chip, box in self._placed(row, self.top_of(self.at)):
            if box.contains(event.position()):
                self.edit(chip.typed) if chip.typed is not None else self._work.tell(row.task, self._laid[row.task])
                return

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        """To its bar in the chart."""
        row = self.row_at(event.position().y())
        work = self.rows[row] if row is not None else None
        if isinstance(work, Work) and scaled(NAME) < event.position().x() < self.viewport().width() - scaled(TOLD):
            self._desk.go_to(work.task)

    # Painting

    def _placed(self, work: Work, top: int) -> list[tuple[Chip, QRectF]]:
        width = self.viewport().width()
        return placed(self.chips(work), width - scaled(TOLD), width - 6, top + 5, scaled(ROW) - 10)

    def paint_row(self, painter: QPainter, row: object, top: int) -> None:
        if not isinstance(row, Work) or row.task not in self._desk.plan.tasks:
            return
        width, height = self.viewport().width(), scaled(ROW)
        is_late = row.when is When.LATE
        middle = top + height / 2
        painter.setPen(QPen(color("brick" if is_late else "petrol"), 1.4))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(QPointF(scaled(TICK) + 8, middle), 7, 7)
        right = width - scaled(TOLD) - 8
        state = right - scaled(STATE)
        dated = state - scaled(96)
        task = self._desk.plan.tasks[row.task]
        painter.setPen(color("ink"))
        room = dated - scaled(NAME) - 8
        draw_text(painter, font(9.5), task.name, QRectF(scaled(NAME), top, room, height))
        used = width_of(font(9.5), task.name) + 14
        painter.setPen(color("muted"))
        if width > scaled(SHORT) and room - used > 60:
            draw_text(painter, font(8.5), self.where(row), QRectF(scaled(NAME) + used, top, room - used, height))
        draw_text(painter, font(8.5), self._when(row), QRectF(dated, top, scaled(92), height))
        painter.setPen(color("brick" if late_words(self._desk, row.task) else "muted"))
        draw_text(painter, font(8.5), self.state(row), QRectF(state, top, right - state, height))
        for chip, box in self._placed(row, top):
            paint_chip(painter, chip, box)
