"""Hours as people type them: ``2h``, ``45m``, ``1:30``, ``fri 3h pins cleaned``, ``2h 60% labels``, ``4h left 1d``.

A day may stand before the hours, what is done or left behind them, and a note behind that.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from hexapod.errors import BadText
from hexapod.fields.answering import LONGEST_NOTE
from hexapod.fields.field import DateTexts, Texts
from hexapod.plan.edits.hours import hours_words
from hexapod.plan.records import DAY
from hexapod.worktime.calendars import units_of
from hexapod.worktime.lengths import UNIT, parse_length

_NUMBER = r"\d{1,3}(?:[.,]\d{1,3})?"
_HOURS = re.compile(
    rf"(?P<sign>[-−])?(?:(?P<h>{_NUMBER})\s*h(?:ours?)?(?:(?P<hm>\d{{1,2}})|\s+(?P<hm2>\d{{1,2}})\s*m(?:in(?:utes?)?)?)?"
    rf"|(?P<m>\d{{1,4}})\s*m(?:in(?:utes?)?)?|(?P<clock>\d{{1,2}}):(?P<past>\d\d)|(?P<bare>{_NUMBER}))(?=$|\s)",
    re.IGNORECASE,
)
_PERCENT = re.compile(r"(\d{1,3}(?:[.,]\d+)?)\s*%(?=$|[\s:])")
_LEFT = re.compile(
    rf"left\s+((?:{_NUMBER}\s*{UNIT}\s*)+)(?=$|[\s:])|((?:{_NUMBER}\s*{UNIT}\s*)+)\s+left(?=$|[\s:])", re.I
)
_MOST_WORDS = 4  # of a day
EXAMPLE = "Type for example 2h, 45m, 1:30, or fri 3h pins cleaned."


@dataclass(frozen=True)
class TypedLog:
    """What was typed; ``percent`` and ``remaining`` where it says how far the task is then."""

    day: int
    minutes: int
    note: str = ""
    percent: float | None = None
    remaining: int | None = None


def read_minutes(text: str) -> int:
    """Minutes of a length alone; a bare number is hours. ``BadText`` if it is none."""
    match = _HOURS.fullmatch(text.strip())
    if match is None:
        raise BadText(f"“{text.strip()[:40]}” is no number of hours. {EXAMPLE}")
    return _minutes(match)


def read_log(texts: Texts, task_id: str, text: str, today: int, *, day: int | None = None) -> TypedLog:
    """What a text says about a task; its day is ``day``, else today, where it names none. ``BadText`` for what nobody
    can read, and for hours that are still to come."""
    texts.plan.task(task_id)  # which may be gone while somebody types
    said = " ".join(text.split())
    found, match = _day_before(texts.dates, said)
    if match is None:
        raise BadText(f"“{said[:40]}” says no hours. {EXAMPLE}" if said else EXAMPLE)
    on = found if found is not None else today if day is None else day
    if on > today:
        raise BadText(f"Hours on {texts.dates.short(on * DAY)} are still to come; log them when they are worked.")
    minutes = _minutes(match)
    if minutes == 0:
        raise BadText("Hours must be some; a correction may be less than none, such as −2h.")
    rest = said[match.end() :].strip()
    percent, remaining, note = _told(texts, task_id, rest)
    if len(note) > LONGEST_NOTE:
        raise BadText(f"A note has at most {LONGEST_NOTE} characters.")
    return TypedLog(on, minutes, note, percent, remaining)


def log_words(texts: Texts, log: TypedLog, today: int) -> str:
    """What was understood: ``3 h on Fri 9 Oct, 60 % done: pins cleaned``."""
    when = "today" if log.day == today else f"on {texts.dates.short(log.day * DAY)}"
    told = "" if log.percent is None else f", {log.percent:g} % done"
    if log.remaining is not None:
        from hexapod.worktime.lengths import format_length

        told = f", {format_length(log.remaining)} left" if log.remaining else ", done"
    return f"{hours_words(log.minutes)} {when}{told}{f': {log.note}' if log.note else ''}"


def _day_before(dates: DateTexts, said: str) -> tuple[int | None, re.Match[str] | None]:
    """The day that stands first, where one does, and the hours behind it. A bare number first is hours: ``3 oct`` is
    tried as a day only where what follows it are hours too."""
    words = said.split(" ")
    for count in range(min(_MOST_WORDS, len(words) - 1), 0, -1):
        head, tail_at = " ".join(words[:count]), len(" ".join(words[:count])) + 1
        match = _HOURS.match(said, tail_at)
        if match is None or _HOURS.fullmatch(head):
            continue
        try:
            return dates.read(head) // DAY, match
        except BadText:
            continue
    return None, _HOURS.match(said)


def _minutes(match: re.Match[str]) -> int:
    if match["m"]:
        found = int(match["m"])
    elif match["clock"]:
        if int(match["past"]) > 59:
            raise BadText(f"“{match[0]}” has more than 59 minutes in an hour.")
        found = int(match["clock"]) * 60 + int(match["past"])
    else:
        found = round(float((match["h"] or match["bare"]).replace(",", ".")) * 60) + int(
            match["hm"] or match["hm2"] or 0
        )
    return -found if match["sign"] else found


def _told(texts: Texts, task_id: str, rest: str) -> tuple[float | None, int | None, str]:
    """Per cent, what is left, and the note."""
    if match := _PERCENT.match(rest):
        percent = float(match[1].replace(",", "."))
        if percent > 100:
            raise BadText("How much is done is a number from 0 to 100.")
        return percent, None, _note(rest[match.end() :])
    if match := _LEFT.match(rest):
        left = parse_length(match[1] or match[2], units_of(texts.plan, texts.plan.tasks[task_id].project))
        return None, left, _note(rest[match.end() :])
    if rest.casefold() == "done" or rest.casefold().startswith(("done ", "done:")):
        return 100.0, None, _note(rest[4:])
    return None, None, _note(rest)


def _note(text: str) -> str:
    return text.strip().lstrip(":").strip()
