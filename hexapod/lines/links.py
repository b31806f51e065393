"""Links at the end of a line: ``after 3.2, 1.4``, ``after Survey SS 2 d later``, ``before 4.1``."""

from __future__ import annotations

import re

from msgspec.structs import replace

from hexapod.errors import BadText
from hexapod.fields.link_text import row_of_another_project, split_link
from hexapod.lines.clauses import Links, Question
from hexapod.lines.known import Known
from hexapod.plan.records import Link, LinkType

WORDS = {  # what stands before the rows, and the type of link where none is said
    "after": LinkType.FS, "waits for": LinkType.FS, "needs": LinkType.FS, "once": LinkType.FS, "when": LinkType.FS,
    "starts with": LinkType.SS, "begins with": LinkType.SS, "ends with": LinkType.FF, "finishes with": LinkType.FF,
    "before": LinkType.FS,
}  # fmt: skip
_NUMBER = re.compile(r"\d+(?:\.\d+)*")
_PARTED = re.compile(r"\s*[,;&]\s*(?!\d+\s*[%a-z])|\s+and\s+", re.IGNORECASE)
_DONE = re.compile(r"\s+(?:is|are)\s+(?:done|finished)$", re.IGNORECASE)


def links_of(word: str, text: str, known: Known) -> tuple[Links, bool] | Question | None:
    """The links that rows named behind ``word`` mean and whether it can hardly mean anything else; a question where
    there is no such row; None where it names no row."""
    said = text
    if word in ("once", "when"):
        said = _DONE.sub("", text)
        if said == text:
            return None
    whole = _one_link(word, said, known)
    if isinstance(whole, tuple):
        return Links((whole[0],)), whole[1]
    found: dict[tuple[str, str, str], Link] = {}
    for piece in _PARTED.split(said):
        one = _one_link(word, piece.strip(), known)
        if not isinstance(one, tuple):
            return one
        if one[0].key in found:
            return Question(f"“{piece.strip()}” is there twice.")
        found[one[0].key] = one[0]
    return Links(tuple(found.values())), True  # several words of a name hardly are rows by chance


def _one_link(word: str, text: str, known: Known) -> tuple[Link, bool] | Question | None:
    try:
        rest, type_, lag = split_link(text, known.units)
    except BadText:
        return None
    if type_ is LinkType.FS:
        type_ = WORDS[word]
    row = _row(rest, known)
    if not isinstance(row, tuple):
        return row
    ends = ("", row[0]) if word == "before" else (row[0], "")
    return replace(Link(*ends, type_), **lag), row[1]


def _row(text: str, known: Known) -> tuple[str, bool] | Question | None:
    if _NUMBER.fullmatch(text):
        task = known.row_at(text)
        return (task, True) if task else Question(f"There is no row {text}.")
    found = known.rows_called(text)
    if len(found.ids) > 1:
        return Question(f"Several rows are called “{text}”; say the number.")
    if found.ids:
        return found.ids[0], found.sure
    elsewhere = row_of_another_project(known.plan, text)
    return (elsewhere, True) if elsewhere else None
