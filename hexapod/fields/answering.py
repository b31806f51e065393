"""Answers of a round as people type them, and in words.

A few characters do: ``p`` as planned, ``done``, ``done thu``, ``5 oct`` (it ended then; or began, where that is what
was asked), ``began fri``, ``3d`` or ``left 3d``, ``60%``, ``no``, ``no: waits for the glass``.
"""

from __future__ import annotations

import re

from msgspec.structs import replace

from hexapod.control.round import AS_PLANNED, Answer, Group, Question, What
from hexapod.errors import BadText
from hexapod.fields.actual import actual_moment
from hexapod.fields.field import DateTexts, Texts
from hexapod.plan.records import Task, TaskKind
from hexapod.worktime.calendars import units_of
from hexapod.worktime.lengths import format_length, parse_duration

LONGEST_NOTE = 2000  # characters
_NOT = re.compile(r"(?:not begun|not yet|not|no)(?:[\s:,]+(?:because\s+)?(?P<why>.+))?", re.IGNORECASE)
_LEFT = re.compile(r"(?:left\s+)?(?P<length>.*?)(?:\s+left)?", re.IGNORECASE)
_PERCENT = re.compile(r"(?P<number>\d{1,3}(?:[.,]\d+)?)\s*%")


def has_parts(task: Task) -> bool:
    """Whether a part of it can be done: what has no length is reached, or not."""
    return bool(task.minutes) or task.kind is TaskKind.SPAN


def read_answer(texts: Texts, question: Question, text: str, at: int) -> Answer | None:
    """What a text answers; None where it is empty. ``BadText`` for what nobody can read, or what is still to come at
    the date of the round and now."""
    task = texts.plan.task(question.task)  # which may be gone while somebody types
    answer = _read(texts, question, text, at)
    if answer is not None and answer.what in (What.LEFT, What.PERCENT) and answer.amount and not has_parts(task):
        raise BadText(f"“{task.name}” has no length: it is reached, or not.")
    return answer


def read_told(texts: Texts, question: Question, text: str, at: int) -> Answer | None:
    """The same with a note behind a colon, ``3d: the rail is bent``, or a note alone, ``: the rail is bent``."""
    said, mark, note = (part.strip() for part in text.partition(":"))
    if not mark or not note or re.match(r"\d\d\b", note) or _NOT.fullmatch(" ".join(text.split())):
        return read_answer(texts, question, text, at)
    if len(note) > LONGEST_NOTE:
        raise BadText(f"A note has at most {LONGEST_NOTE} characters.")
    answer = read_answer(texts, question, said, at) if said else Answer(What.NOTE)
    return None if answer is None else replace(answer, note=note)


def _read(texts: Texts, question: Question, text: str, at: int) -> Answer | None:
    said = " ".join(text.split())
    low = said.casefold()
    if not said:
        return None
    if low in ("p", "planned", "as planned", "ok", "yes"):
        return AS_PLANNED
    if match := _NOT.fullmatch(said):
        return Answer(What.NOT_BEGUN, because=match["why"] or "")
    if match := _PERCENT.fullmatch(low):
        return _percent(float(match["number"].replace(",", ".")))
    for word, what in (("done", What.DONE), ("finished", What.DONE), ("began", What.BEGAN), ("begun", What.BEGAN)):
        if low == word or low.startswith(f"{word} "):
            return _dated(texts, question, what, said[len(word) :].removeprefix(" on").strip(), at)
    if low.startswith("left") or low.endswith("left") or re.fullmatch(r"\d+(?:[.,]\d+)?\s*[a-z]*", low):
        return _left(texts, question, said)
    return _dated(texts, question, What.BEGAN if question.group is Group.BEGIN else What.DONE, said, at)


def _percent(number: float) -> Answer:
    if not 0 <= number <= 100:
        raise BadText("How much is done is a number from 0 to 100.")
    return Answer(What.DONE) if number == 100 else Answer(What.PERCENT, amount=number)


def _left(texts: Texts, question: Question, said: str) -> Answer:
    match = _LEFT.fullmatch(said)
    units = units_of(texts.plan, texts.plan.tasks[question.task].project)
    minutes, elapsed = parse_duration(match["length"] if match else said, units)
    if elapsed and not texts.plan.tasks[question.task].elapsed:
        raise BadText("What is left is a length of work, such as 3 d or 4 h.")
    return Answer(What.LEFT, amount=minutes) if minutes else Answer(What.DONE)


def _dated(texts: Texts, question: Question, what: What, said: str, at: int) -> Answer:
    if not said:
        return Answer(what)
    moment = actual_moment(texts, question.task, said, ends=what is What.DONE, latest=at)
    begun = texts.plan.tasks[question.task].actual_start
    if what is What.DONE and begun is not None and moment < begun:
        raise BadText(f"It began {texts.dates.long(begun)}, and cannot have ended before.")
    return Answer(what, at=moment)


def answer_words(texts: Texts, question: Question, answer: Answer) -> str:
    """An answer as its chip says it: ``done Thu 8 Oct``, ``left 4 d``, ``not begun: waits for the glass``."""
    dates, units = texts.dates, units_of(texts.plan, texts.plan.tasks[question.task].project)
    if answer.what in (What.DONE, What.BEGAN):
        words = answer.what.value if answer.at is None else f"{answer.what.value} {dates.short(answer.at)}"
    elif answer.what is What.LEFT:
        words = f"left {format_length(round(answer.amount or 0), units)}"
    elif answer.what is What.PERCENT:
        words = f"{answer.amount:g} %"
    elif answer.what is What.NOT_BEGUN:
        words = f"not begun: {answer.because}" if answer.because else "not begun"
    elif answer.what is What.NOTE:
        words = f"“{answer.note[:40]}”" if answer.note else f"{answer.worked / 60:g} h worked"
    else:
        words = "as planned"
    return f"told: {words} · {answer.who}" if answer.who else words


def asked_words(question: Question, dates: DateTexts) -> str:
    """What the plan had: ``to Fri 2 Oct`` or ``from Wed 7 Oct``."""
    is_begin = question.group is Group.BEGIN
    return f"from {dates.short(question.start)}" if is_begin else f"to {dates.short(question.finish)}"
