"""What came back on a form, checked against the plan as it is now: which answers it means, and what is wrong with it.

Nothing is carried out here. An answer that fits is *laid*: it goes before the planner, who takes it with the round. One
that can be read but does not fit the plan any more is *held*: the planner may have it laid all the same. What cannot be
read is a finding that names the task and the field.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable
from hashlib import sha256
from typing import NamedTuple, TypeVar

import msgspec

from hexapod.control.forms import Returned, ReturnedAnswer
from hexapod.control.round import Answer, What
from hexapod.errors import BadText, HexapodError
from hexapod.fields.actual import actual_moment
from hexapod.fields.answering import LONGEST_NOTE, has_parts
from hexapod.fields.field import Texts
from hexapod.plan.plan import Plan
from hexapod.plan.records import Task
from hexapod.worktime.calendars import units_of
from hexapod.worktime.dates import parse_moment
from hexapod.worktime.lengths import parse_duration

MOST_HOURS = 1000
T = TypeVar("T")


class Laid(NamedTuple):
    """An answer about a task; ``digest`` tells it from every other, so that none is laid twice."""

    task: str
    answer: Answer
    digest: str


class Checked(NamedTuple):
    """What a form means: answers that fit, answers that are ``held`` back, and sentences. ``again`` counts answers that
    were read before."""

    laid: tuple[Laid, ...]
    held: tuple[Laid, ...]
    findings: tuple[str, ...]
    again: int


def digest_of(returned: Returned, answer: ReturnedAnswer) -> str:
    """The same for the same answer of the same form, in whatever file it comes."""
    said = (returned.workspace, returned.person, returned.made, msgspec.to_builtins(answer))
    return sha256(msgspec.json.encode(said)).hexdigest()[:24]


def check(returned: Returned, texts: Texts, workspace: str, known: Collection[str]) -> Checked:
    """``known`` are the digests of answers that were read before; dates are read as ISO 8601 or as people type them.
    ``HexapodError`` for a form of another workspace."""
    if returned.workspace != workspace:
        raise HexapodError(f"{returned.place} was written for another workspace; nothing of it is laid before you.")
    plan = texts.plan
    laid: list[Laid] = []
    held: list[Laid] = []
    findings: list[str] = []
    again = 0
    who = plan.resources.get(returned.person)
    if who is None:
        name = returned.name[:60] or "Somebody"
        findings.append(f"{name} is not among the resources any more: look at each answer before you lay it.")
    initials = who.initials or who.name if who is not None else returned.name[:20]
    for answer in _last_of_each(returned.answers):
        digest = digest_of(returned, answer)
        if digest in known:
            again += 1
            continue
        task = plan.tasks.get(answer.task)
        if task is None:
            findings.append(f"“{answer.name[:80] or answer.task[:80]}” is not in the plan any more.")
            continue
        try:
            found = Laid(task.id, _read(texts, task, answer, initials), digest)
        except BadText as error:
            findings.append(f"“{task.name}”: {error}")
            continue
        against = _against(plan, task, answer, returned.person)
        findings += [] if against is None else [f"“{task.name}”: {against}"]
        (laid if against is None and who is not None else held).append(found)
    return Checked(tuple(laid), tuple(held), tuple(findings), again)


def _last_of_each(answers: Iterable[ReturnedAnswer]) -> list[ReturnedAnswer]:
    """Of two answers about one task the later line counts."""
    return list({answer.task: answer for answer in answers}.values())


def _against(plan: Plan, task: Task, answer: ReturnedAnswer, person: str) -> str | None:
    """Why an answer is not laid unasked; None where nothing speaks against it."""
    if plan.is_summary(task.id):
        return "it has tasks below it now, of which the answer says nothing."
    if task.is_done:
        return "it is done already."
    if person in plan.resources and person not in plan.assigned.get(task.id, ()):
        return f"it is not {plan.resources[person].name}’s any more."
    status = plan.projects[task.project].status_date
    since = _moment(answer.since)
    if status is not None and (since is None or since < status):
        return "the form is older than the last round."
    return None


def _moment(text: str) -> int | None:
    try:
        return parse_moment(text) if text.strip() else None
    except BadText:
        return None


def _read(texts: Texts, task: Task, said: ReturnedAnswer, who: str) -> Answer:
    """``BadText`` names the field."""
    began = _field("Began on", lambda: _date(texts, task, said.began, ends=False))
    done = _field("Done on", lambda: _date(texts, task, said.done, ends=True))
    left = _field("Left", lambda: _left(texts, task, said.left))
    worked = _field("Hours", lambda: _hours(said.hours))
    note = said.note.strip()
    if len(note) > LONGEST_NOTE:
        raise BadText(f"Note: it has {len(note)} characters; {LONGEST_NOTE} are the most.")
    if done is not None and left:
        raise BadText("Left: it says that it is done, and that something is left.")
    begun = task.actual_start if began is None else began
    if done is not None and begun is not None and done < begun:
        raise BadText("Done on: it would have ended before it began.")
    kept = {"who": who, "note": note, "worked": worked or 0}
    if done is not None or left == 0:
        return Answer(What.DONE, at=done, began=began, **kept)  # type: ignore[arg-type]
    if left is not None:
        return Answer(What.LEFT, amount=left, began=began, **kept)  # type: ignore[arg-type]
    if began is not None:
        return Answer(What.BEGAN, at=began, **kept)  # type: ignore[arg-type]
    return Answer(What.NOTE, **kept)  # type: ignore[arg-type]


def _field(name: str, read: Callable[[], T]) -> T:
    try:
        return read()
    except BadText as error:
        raise BadText(f"{name}: {error}") from None


def _date(texts: Texts, task: Task, text: str, *, ends: bool) -> int | None:
    return actual_moment(texts, task.id, text.strip(), ends=ends) if text.strip() else None


def _left(texts: Texts, task: Task, text: str) -> int | None:
    if not text.strip():
        return None
    minutes, elapsed = parse_duration(text.strip(), units_of(texts.plan, task.project))
    if elapsed and not task.elapsed:
        raise BadText("what is left is a length of work, such as 3 d or 4 h.")
    if minutes < 0:
        raise BadText("no less than nothing can be left.")
    if minutes and not has_parts(task):
        raise BadText("it has no length: it is reached, or not.")
    return minutes


def _hours(text: str) -> int:
    said = text.strip().casefold().removesuffix("h").strip().replace(",", ".")
    if not said:
        return 0
    try:
        hours = float(said)
    except ValueError:
        raise BadText(f"“{text.strip()[:40]}” is no number of hours.") from None
    if not 0 <= hours <= MOST_HOURS:
        raise BadText(f"hours are from 0 to {MOST_HOURS}.")
    return round(hours * 60)
