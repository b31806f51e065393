"""A table below a row of headings, read row by row: which column is which, what a cell says, and what is left out."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Generic, TypeVar

from hexapod.errors import BadText
from hexapod.fields.field import Texts
from hexapod.formats.tables import Cell, Sheet
from hexapod.plan.records import DAY, Resource
from hexapod.worktime.clock import date_of, minutes_of

MOST_SAID = 200  # findings
MOST_ABOVE = 10  # rows in which the headings are looked for
Item = TypeVar("Item")
Read = TypeVar("Read")
Headings = Mapping[str, tuple[str, ...]]  # by column: the words that may stand above it, small; ours first


@dataclass(frozen=True)
class Proposed(Generic[Item]):
    """What a file would bring: items, sentences about what is left out or odd, and how many are there just so."""

    name: str
    items: tuple[Item, ...]
    findings: tuple[str, ...]
    known: int


def proposed(name: str, items: Collection[Item], findings: Sequence[str], known: int) -> Proposed[Item]:
    """With no more findings than anybody reads."""
    more = len(findings) - MOST_SAID
    said = (*findings[:MOST_SAID], f"… and {more} more") if more > 0 else tuple(findings)
    return Proposed(name, tuple(items), said, known)


@dataclass(frozen=True)
class Table:
    """A sheet below its headings; ``columns`` says which is which."""

    sheet: Sheet
    headings_at: int
    columns: Mapping[str, int]

    def rows(self) -> Iterator[tuple[str, Sequence[Cell]]]:
        """Each row that is not empty, and how it is named: ``Row 7``."""
        first = self.headings_at + 1
        for i, row in enumerate(self.sheet.rows[first:]):
            if any(cell is not None and cell != "" for cell in row):
                yield f"Row {self.sheet.first_row + first + i}", row


def table_in(sheet: Sheet, headings: Headings, is_enough: Callable[[Collection[str]], bool]) -> Table | None:
    """The first row near the top whose columns are enough; None where there is none."""
    for i, row in enumerate(sheet.rows[:MOST_ABOVE]):
        said = [str(cell or "").strip().casefold() for cell in row]
        columns = {
            name: next(said.index(word) for word in words if word in said)
            for name, words in headings.items()
            if any(word in said for word in words)
        }
        if is_enough(columns):
            return Table(sheet, i, columns)
    return None


class RowReader:
    """Reads cells of rows. ``BadText`` names the column."""

    def __init__(self, texts: Texts, table: Table, headings: Headings) -> None:
        self.texts, self.columns, self._headings = texts, table.columns, headings

    def cell(self, row: Sequence[Cell], column: str) -> Cell:
        at = self.columns.get(column)
        return row[at] if at is not None and at < len(row) else None

    def text(self, row: Sequence[Cell], column: str) -> str:
        """What a cell says; a whole number without its point."""
        found = self.cell(row, column)
        if isinstance(found, float) and found.is_integer():
            found = int(found)
        return "" if found is None else str(found).strip()

    def read(self, row: Sequence[Cell], column: str, read: Callable[[str], Read]) -> Read:
        try:
            return read(self.text(row, column))
        except BadText as error:
            raise BadText(f"{self._headings[column][0].capitalize()}: {error}") from None

    def day(self, row: Sequence[Cell], column: str) -> int | None:
        """A day as a number; None for an empty cell."""
        cell = self.cell(row, column)
        if isinstance(cell, datetime):
            return minutes_of(cell) // DAY
        return self.read(row, column, lambda text: self.texts.dates.read(text) // DAY if text else None)


def by_what_they_are_called(resources: Sequence[Resource]) -> dict[str, str]:
    """Ids by name, initials and address, small; the first in order keeps what two are called."""
    found: dict[str, str] = {}
    for resource in resources:
        for name in filter(None, (resource.name, resource.initials, resource.email)):
            found.setdefault(name.casefold(), resource.id)
    return found


def day_cell(day: int | None) -> datetime | None:
    """A day as spreadsheets keep it."""
    return None if day is None else datetime.combine(date_of(day), datetime.min.time())
