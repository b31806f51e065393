"""What one field of a task is: its value, its texts, and the edit that a typed text means."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, NamedTuple, Protocol

from hexapod.expressions.language import OutOfRange
from hexapod.expressions.values import Kind, Value, format_value
from hexapod.fields.reading import Reading
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Plan
from hexapod.worktime.clock import iso, moment_of
from hexapod.worktime.dates import parse_moment
from hexapod.worktime.lengths import Units, format_length


class DateTexts(Protocol):
    """How moments are read and said: in the reader's locale in the window, by ISO 8601 without one."""

    def read(self, text: str, *, ends: bool = False) -> int:
        """A date as it was typed: its day's beginning, or (``ends``) when work ends on it."""
        ...

    def short(self, at: int) -> str: ...

    def long(self, at: int) -> str: ...

    def typed(self, at: int) -> str:
        """As it can be typed again."""
        ...


class IsoDates:
    """Dates as ISO 8601 writes them, for who knows no locale."""

    def read(self, text: str, *, ends: bool = False) -> int:
        return parse_moment(text)

    def short(self, at: int) -> str:
        return iso(at).removesuffix("T00:00").replace("T", " ")

    long = typed = short


class Texts(NamedTuple):
    """What a typed text is read by."""

    plan: Plan
    dates: DateTexts = IsoDates()


@dataclass(frozen=True)
class PlanField:
    """One field. Everything that shows, reads, writes or asks for it is made from this entry.

    ``read`` gives its value, of the ``kind`` that it says: lengths in minutes, dates in minutes since 1970.
    ``text`` says the value where its kind alone does not say how; ``typed`` is the text to begin typing with.
    ``parse`` reads a text of a file to what the record holds; ``edit`` is the edit that a text means for some tasks;
    ``echo`` says in words what a text is understood as. All three raise ``BadText``.
    ``name`` is what queries and formulas call it; ``headings`` are what columns of other files may be called.
    ``exported`` is what a file gets where that is not the value; ``width`` in pixels is that of its column, 0 for none.
    A text counts for all selected rows where ``many`` is set, and for summaries where ``summaries`` is.
    """

    id: str
    title: str
    kind: Kind
    read: Callable[[Reading], Value]
    name: str = ""
    width: int = 0
    in_files: bool = False
    hint: str = ""
    text: Callable[[Reading, DateTexts], str] | None = None
    typed: Callable[[Reading, DateTexts], str] | None = None
    parse: Callable[[Texts, str], Any] | None = None
    edit: Callable[[Texts, Sequence[str], str], Edit] | None = None
    echo: Callable[[Texts, str, str], str] | None = None
    exported: Callable[[Reading], Value] | None = None
    headings: tuple[str, ...] = ()
    right: bool | None = None
    many: bool = True
    summaries: bool = False
    completes: str = ""  # tasks or resources
    also: tuple[str, ...] = ()  # other names in queries and formulas

    @property
    def asked_by(self) -> str:
        """Its name in queries and formulas."""
        return self.name or self.id.replace("_", " ")

    @property
    def is_right(self) -> bool:
        """Whether it is aligned at the right, as numbers and lengths are."""
        return self.kind in (Kind.NUMBER, Kind.LENGTH, Kind.MONEY) if self.right is None else self.right

    def says(self, reading: Reading, dates: DateTexts) -> str:
        """The text of a cell."""
        if self.text is not None:
            return self.text(reading, dates)
        try:
            return in_words(self.kind, self.read(reading), reading.units, dates)
        except OutOfRange as error:
            return str(error)

    def cell(self, reading: Reading) -> int | float | str | datetime | None:
        """What a table in a file gets: texts and lengths as they can be typed again, dates as dates."""
        if self.exported is None and self.typed is not None and self.kind in (Kind.TEXT, Kind.LENGTH):
            return self.typed(reading, IsoDates()) or None
        try:
            value = (self.exported or self.read)(reading)
        except OutOfRange as error:
            return str(error)
        if value is None:
            return None
        if self.kind is Kind.DATE:
            return moment_of(int(value))
        if self.kind is Kind.LENGTH:
            return format_length(int(value), reading.units)
        return int(value) / 100 if self.kind is Kind.MONEY else value


def in_words(kind: Kind, value: Value, units: Units, dates: DateTexts) -> str:
    """A value as a cell says it: lengths in the project's days, dates as the reader writes them."""
    if value is None:
        return ""
    if kind is Kind.DATE:
        return dates.short(int(value))
    if kind is Kind.LENGTH:
        return format_length(round(float(value)), units)
    return format_value(kind, value)
