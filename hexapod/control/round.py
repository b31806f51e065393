"""A round through a project at a date: what should have moved since the last one, and what is answered.

A round asks only of what the plan expected to end, to begin or to go on between the status date and the new one. An
answer is one of a few things; taking the round carries all of them out as one edit, and moves the status date.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from enum import StrEnum

import msgspec
import numpy as np

from hexapod.plan import edits
from hexapod.plan.accounts import Log
from hexapod.plan.edits import Edit
from hexapod.plan.edits.hours import hours_words
from hexapod.plan.outline import outline_order
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY
from hexapod.schedule.codes import DONE, NOT_BEGUN
from hexapod.schedule.schedule import Schedule


class Group(StrEnum):
    """What the plan had expected of a task by the date of the round."""

    FINISH = "finish"  # to be finished
    BEGIN = "begin"  # to have begun
    GO_ON = "go on"  # to be so much further


GROUPS = tuple(Group)


class What(StrEnum):
    AS_PLANNED = "as planned"
    DONE = "done"
    BEGAN = "began"
    LEFT = "left"
    PERCENT = "percent"
    NOT_BEGUN = "not begun"
    NOTE = "note"  # words alone: how far it is stays as it was told last


class Answer(msgspec.Struct, frozen=True, omit_defaults=True):
    """``at`` is when it ended or began (minutes), ``amount`` what is left (working minutes) or the per cent;
    ``because`` why it has not begun. ``who`` told it, where that was not whoever takes the round. ``began`` is when
    what is done or goes on began, where that was said too; ``note`` is what was said of it, ``worked`` the minutes that
    were worked: they become a log of hours, a note alone becomes a comment."""

    what: What
    at: int | None = None
    amount: float | None = None
    because: str = ""
    who: str = ""
    began: int | None = None
    note: str = ""
    worked: int = 0


AS_PLANNED = Answer(What.AS_PLANNED)


@dataclass(frozen=True)
class Question:
    """``start`` and ``finish`` are where the plan has the task; ``rest`` is what would be left of it as planned."""

    task: str
    group: Group
    start: int
    finish: int
    rest: int


def questions(schedule: Schedule, project: str, at: int, told: Collection[str] = ()) -> list[Question]:
    """What a round at a date asks about a project: by group, then as in the outline. Tasks that were ``told`` since the
    last round are among it, also those that are done, or were planned for later."""
    network = schedule.network
    tasks, plan = network.tasks, network.plan
    starts = np.where(tasks.progress == NOT_BEGUN, schedule.start, schedule.free_start)
    here = (network.structure.leaf[: network.size] == 1) & (tasks.project == network.projects.index(project))
    is_told = np.isin(np.arange(network.size), network.slots.of_tasks(told))
    asked = here & (is_told | ((tasks.progress != DONE) & ((starts < at) | (schedule.finish <= at))))
    slots = {network.slots.tasks[slot]: slot for slot in np.flatnonzero(asked).tolist()}
    order = [t for t in outline_order(plan) if t in slots]
    found = [_question(schedule, t, slots[t], at) for t in order]
    return sorted(found, key=lambda q: GROUPS.index(q.group))


def question_of(schedule: Schedule, task_id: str, at: int) -> Question:
    """What there is to ask about a task at a moment, whether it should have moved or not."""
    return _question(schedule, task_id, schedule.slots[task_id], at)


def _question(schedule: Schedule, task: str, slot: int, at: int) -> Question:
    from hexapod.worktime.arithmetic import worked

    tasks = schedule.network.tasks
    start, finish = int(schedule.start[slot]), int(schedule.finish[slot])
    if finish <= at:
        return Question(task, Group.FINISH, start, finish, 0)
    pool, calendar = schedule.network.timing.pool, int(tasks.calendar[slot])
    rest = int(worked(pool, calendar, finish) - worked(pool, calendar, at))
    is_begun = bool(tasks.progress[slot] != NOT_BEGUN)
    return Question(task, Group.GO_ON if is_begun else Group.BEGIN, start, finish, rest)


def round_edit(
    plan: Plan, project: str, at: int, asked: Collection[Question], answers: Mapping[str, Answer], who: str, now: int
) -> Edit:
    """All answers as one edit, with the status date. What is not answered stays as it was told last."""
    known = [q for q in asked if q.task in answers and q.task in plan.tasks]
    steps = [step for q in known for step in _told(plan, q, answers[q.task], at, who, now)]
    steps += [step for q in known for step in _said(plan, q.task, answers[q.task], who, now, at)]
    steps.append(edits.set_status_date(plan, project, at))
    count = "1 answer" if len(known) == 1 else f"{len(known)} answers"
    return edits.together(f"Take the round through “{plan.projects[project].name}”, {count}", steps)


def answer_edit(plan: Plan, question: Question, answer: Answer, at: int, who: str, now: int) -> Edit:
    """One answer by itself: the status date stays."""
    steps = [*_told(plan, question, answer, at, who, now), *_said(plan, question.task, answer, who, now, at)]
    words = steps[0].words if steps else f"Tell of “{plan.tasks[question.task].name}”"
    return edits.together(words, steps)


def _told(plan: Plan, question: Question, answer: Answer, at: int, who: str, now: int) -> list[Edit]:
    task, what = plan.tasks[question.task], answer.what
    if what is What.NOT_BEGUN:
        steps = [edits.take_back(plan, [task.id])]
        if answer.because:
            words = f"Not begun by the round: {answer.because}"
            steps.append(edits.add_comment(plan, task.id, answer.who or who, now, words))
        return steps
    if what is What.BEGAN:
        return [edits.begin(plan, [task.id], question.start if answer.at is None else answer.at)]
    if what is What.NOTE:
        return []
    if what is What.PERCENT and not answer.amount and task.actual_start is None:
        return []  # nothing of it: nobody said that it began
    end = min(question.finish, at) if answer.at is None else answer.at
    if what is What.AS_PLANNED:
        if at <= question.start and task.actual_start is None:
            return []  # told of by somebody, and nothing of it was planned by then
        what = What.DONE if question.group is Group.FINISH else What.LEFT
        answer = Answer(what, amount=question.rest)
        end = question.finish
    ends_later = what is not What.DONE or question.start <= end
    steps = [edits.begin(plan, [task.id], question.start)] if task.actual_start is None and ends_later else []
    if answer.began is not None:
        steps = [edits.begin(plan, [task.id], answer.began)]
    if what is What.DONE:
        return [*steps, edits.finish(plan, [task.id], end)]
    if what is What.LEFT:
        return [*steps, edits.set_rest(plan, [task.id], round(answer.amount or 0))]
    return [*steps, edits.set_percent(plan, [task.id], answer.amount or 0.0)]


def _said(plan: Plan, task: str, answer: Answer, who: str, now: int, at: int) -> list[Edit]:
    """What was said about a task beside how far it is: hours as a log of whoever worked them, a note as a comment."""
    note, name = answer.note.strip(), answer.who or who
    worker = _called(plan, name) if answer.worked else None
    if worker is not None:
        day = ((answer.at or min(at, now)) - 1) // DAY
        log = Log(edits.new_id(), task, worker, day, answer.worked, note)
        return [edits.correct(plan, log).named(f"{hours_words(log.minutes)} on “{plan.tasks[task].name}”")]
    hours = f"{hours_words(answer.worked)} worked" if answer.worked else ""
    words = ". ".join(text for text in (hours, note) if text)
    return [edits.add_comment(plan, task, name, now, words)] if words else []


def _called(plan: Plan, name: str) -> str | None:
    """Who goes by some initials or a name."""
    found = (r.id for r in plan.resources.values() if name.casefold() in (r.initials.casefold(), r.name.casefold()))
    return next(found, None)
