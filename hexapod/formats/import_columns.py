"""Which column of a table is what: guessed from its headings, or from what it holds."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from hexapod.fields.table import BY_ID
from hexapod.formats.tables import Cell, Sheet
from hexapod.plan.kept import TASKS
from hexapod.plan.plan import Plan


class ImportedField(StrEnum):
    """What a column of a file can be: nothing, or the field of that id."""

    NOTHING = "nothing"
    NAME = "name"
    PROJECT = "project"
    NUMBER = "number"
    LEVEL = "level"
    ID = "id"
    DURATION = "duration"
    NOT_BEFORE = "not_before"
    START = "start"
    FINISH = "finish"
    LINKS = "links"
    WHO = "who"
    NOTES = "notes"
    TAGS = "tags"
    STREAM = "stream"
    PRIORITY = "priority"
    TARGET = "target"
    PERCENT = "percent"
    REMAINING = "remaining"
    ACTUAL_START = "actual_start"
    ACTUAL_FINISH = "actual_finish"


_BY_HEADING = {word: part for part in ImportedField if part in BY_ID for word in BY_ID[part].headings}


def title_of(part: str) -> str:
    """What a person is shown for a part."""
    if part == ImportedField.NOTHING:
        return "nothing"
    return {"#": "outline number"}.get(BY_ID[part].title, BY_ID[part].title.lower()) if part in BY_ID else part


@dataclass(frozen=True)
class ColumnMap:
    """Which row has the headings (-1: none), and what each column is: a part, or the name of an own field."""

    header: int
    parts: tuple[str, ...]


def guess(sheet: Sheet, plan: Plan) -> ColumnMap:
    """The heading that fits best among the first rows, and what its columns say they are."""
    own = {f.name.casefold(): f.name for f in plan.fields_of(TASKS)}
    best: tuple[int, int, list[str]] = (0, -1, [])
    for at, row in enumerate(sheet.rows[:20]):
        parts = [_part(cell, own) for cell in row]
        count = len({p for p in parts if p != ImportedField.NOTHING})
        if count > best[0] and ImportedField.NAME in parts:
            best = (count, at, parts)
    width = max((len(row) for row in sheet.rows), default=0)
    parts = best[2]
    if best[1] < 0:
        parts = _by_content(sheet)
    seen: set[str] = set()
    unique = []
    for part in [*parts, *([ImportedField.NOTHING] * (width - len(parts)))]:
        unique.append(ImportedField.NOTHING if part in seen else part)
        if part != ImportedField.NOTHING:
            seen.add(part)
    return ColumnMap(best[1], tuple(unique))


def _part(cell: Cell, own: Mapping[str, str]) -> str:
    said = str(cell or "").strip().casefold().rstrip(":")
    if said in own:
        return own[said]
    return _BY_HEADING.get(said, ImportedField.NOTHING)


def _by_content(sheet: Sheet) -> list[str]:
    """Without headings: the first column of texts is the name; one of outline numbers before it is the number."""
    rows = [row for row in sheet.rows[:50] if any(cell is not None for cell in row)]
    width = max((len(row) for row in rows), default=0)
    parts: list[str] = [ImportedField.NOTHING] * width
    for i in range(width):
        cells = [row[i] for row in rows if i < len(row) and row[i] is not None]
        texts = [c for c in cells if isinstance(c, str) and not re.fullmatch(r"[\d.]+", c.strip())]
        if len(texts) * 2 > len(cells) > 0:
            parts[i] = ImportedField.NAME
            break
        if cells and all(re.fullmatch(r"\d+(\.\d+)*\.?", str(c).strip()) for c in cells):
            parts[i] = ImportedField.NUMBER
    return parts
