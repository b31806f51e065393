"""The field in which is typed what happened to a task, wherever a list offers it: so much left, a per cent, a date; or,
behind a plus, the hours that were worked on it."""

from __future__ import annotations

from hexapod.control.round import question_of
from hexapod.desktop.frame.walked import WalkedTable
from hexapod.desktop.models.desk import Desk
from hexapod.fields.answering import answer_words, read_told
from hexapod.fields.hours_text import TypedLog, log_words, read_log
from hexapod.plan.records import DAY
from hexapod.worktime import clock

LOGS = "+"


def open_answer(table: WalkedTable, desk: Desk, task: str, text: str, hint: str, person: str = "") -> None:
    """Open it at the row that the keyboard is at; what is typed is carried out at once, as one edit. Hours are logged
    as ``person``, else as whoever I am."""
    now, texts = clock.now(), desk.columns.texts()
    question = question_of(desk.worked_out, task, now)

    def echo(said: str) -> str:
        if is_log(said):
            return f"log {log_words(texts, read_hours(desk, task, said), clock.now() // DAY)}"
        answer = read_told(texts, question, said, now)
        return "" if answer is None else answer_words(texts, question, answer)

    def take(said: str) -> None:
        if is_log(said):
            desk.hours.log(task, person or desk.mine.me, read_hours(desk, task, said))
            return
        answer = read_told(texts, question, said, now)
        if answer is not None:
            desk.mine.tell(task, answer)

    accessible = f"What happened to {desk.plan.tasks[task].name}"
    table.open_editor(text, hint=hint, accessible=accessible, echo=echo, take=take)


def is_log(said: str) -> bool:
    """Whether a text is about hours that were worked, not about how far the task is."""
    return said.strip().startswith(LOGS)


def read_hours(desk: Desk, task: str, said: str) -> TypedLog:
    """The hours behind the plus. ``BadText`` for what nobody can read."""
    return read_log(desk.columns.texts(), task, said.strip().removeprefix(LOGS), clock.now() // DAY)
