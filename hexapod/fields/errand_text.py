"""Errands as they are typed: ``call the glazier fri``, ``pins for drawer 12 by 9 oct``, one a line."""

from __future__ import annotations

import re

from hexapod.errors import BadText
from hexapod.fields.field import DateTexts
from hexapod.plan.records import DAY
from hexapod.system import budgets
from hexapod.system.budgets import within

MOST_WORDS = 4  # of a date
_BEFORE = re.compile(r"\s+(?:by|on|due|until)$", re.IGNORECASE)
_NO_DATE = re.compile(r"\d{1,3}|\w{1,2}|sun|sat|mar|may|dec|now", re.IGNORECASE)  # rather part of a name
_MARK = re.compile(r"^\s*(?:[-*•]\s+)?(?:\[[ xX]?\]\s+)?")


def read_errand(text: str, dates: DateTexts) -> tuple[str, int | None]:
    """Its name, and the day on which it is due where its last words are a date. ``BadText`` for nothing."""
    said = " ".join(_MARK.sub("", text).split())
    if not said:
        raise BadText("Type what is to be done, such as: call the glazier fri.")
    words = said.split(" ")
    for count in range(min(MOST_WORDS, len(words) - 1), 0, -1):
        name, date = " ".join(words[:-count]), " ".join(words[-count:])
        is_said = _BEFORE.search(name) is not None
        if not is_said and _NO_DATE.fullmatch(date):
            continue
        try:
            due = dates.read(date) // DAY
        except BadText:
            continue
        name = _BEFORE.sub("", name)
        if name:
            return name, due
    return said, None


def read_errands(text: str, dates: DateTexts) -> list[tuple[str, int | None]]:
    """One errand a line."""
    lines = [line for line in text.splitlines() if line.strip()]
    within("What was pasted", len(lines), "lines", budgets.PASTED)
    return [read_errand(line, dates) for line in lines]


def typed_errand(name: str, due: int | None, dates: DateTexts) -> str:
    """An errand as it can be typed again."""
    return name if due is None else f"{name} by {dates.typed(due * DAY)}"
