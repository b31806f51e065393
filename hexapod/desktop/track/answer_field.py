"""The field in which is typed what happened to a task, wherever a list offers it: so much left, a per cent, a date."""

from __future__ import annotations

from hexapod.control.round import question_of
from hexapod.desktop.frame.walked import WalkedTable
from hexapod.desktop.models.desk import Desk
from hexapod.fields.answering import answer_words, read_told
from hexapod.worktime import clock


def open_answer(table: WalkedTable, desk: Desk, task: str, text: str, hint: str) -> None:
    """Open it at the row that the keyboard is at; what is typed is carried out at once, as one edit."""
    now, texts = clock.now(), desk.columns.texts()
    question = question_of(desk.worked_out, task, now)

    def echo(said: str) -> str:
        answer = read_told(texts, question, said, now)
        return "" if answer is None else answer_words(texts, question, answer)

    def take(said: str) -> None:
        answer = read_told(texts, question, said, now)
        if answer is not None:
            desk.mine.tell(task, answer)

    accessible = f"What happened to {desk.plan.tasks[task].name}"
    table.open_editor(text, hint=hint, accessible=accessible, echo=echo, take=take)
