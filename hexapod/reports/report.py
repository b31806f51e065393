"""What a report is: parts with sentences, a chart and a table. Cells are typed, so that every writer shows them
well."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum
from typing import NamedTuple

from hexapod.plan.records import DAY
from hexapod.worktime.clock import date_of

Cell = str | int | float | None


class CellKind(StrEnum):
    """What the cells of a column hold."""

    TEXT = "text"
    COUNT = "count"
    HOURS = "hours"
    DAYS = "days"  # of work
    PERCENT = "percent"  # 0 to 100
    RATIO = "ratio"  # an index, to two places
    MONEY = "money"  # in its smallest unit
    START = "start"  # a moment, in minutes since 1970
    FINISH = "finish"  # the same; what ends at midnight ended on the day before

    @property
    def is_number(self) -> bool:
        return self not in (CellKind.TEXT, CellKind.START, CellKind.FINISH)


class Column(NamedTuple):
    """``source`` says in a sentence where its figures come from."""

    title: str
    kind: CellKind = CellKind.TEXT
    source: str = ""


@dataclass(frozen=True)
class Table:
    """``rows`` are as long as ``columns``; ``about`` is the project, task, person or risk that each row is of, where it
    is one. ``total`` is a last row that adds the others up."""

    columns: tuple[Column, ...]
    rows: tuple[tuple[Cell, ...], ...]
    about: tuple[str, ...] = ()
    total: tuple[Cell, ...] | None = None
    levels: tuple[int, ...] = ()

    def about_of(self, row: int) -> str:
        return self.about[row] if row < len(self.about) else ""

    def shown_rows(self) -> tuple[tuple[Cell, ...], ...]:
        """With the total, where there is one."""
        return self.rows if self.total is None else (*self.rows, self.total)


class ChartKind(StrEnum):
    BARS = "bars"
    STACKED = "stacked"
    LINES = "lines"


class Series(NamedTuple):
    """A value for each category; None where it is not known."""

    name: str
    values: tuple[float | None, ...]


@dataclass(frozen=True)
class Chart:
    """``unit`` is what its values are counted in, as it stands beside them: ``h``, ``tasks``."""

    title: str
    kind: ChartKind
    categories: tuple[str, ...]
    series: tuple[Series, ...]
    unit: str = ""


class Tone(StrEnum):
    PLAIN = "plain"
    ATTENTION = "attention"
    TROUBLE = "trouble"


class Fact(NamedTuple):
    """What a sentence claims, before it is words: its kind, what it is about, and its figures."""

    kind: str
    about: tuple[str, ...] = ()
    figures: tuple[float | int | str | None, ...] = ()


@dataclass(frozen=True)
class Sentence:
    """``under`` is the heading that it stands under, ``source`` says where its figures come from."""

    text: str
    fact: Fact
    tone: Tone = Tone.PLAIN
    under: str = ""
    source: str = ""


@dataclass(frozen=True)
class Part:
    """One thing that a report tells: in words, as a picture, as a table; any of them may be missing."""

    id: str
    title: str
    sentences: tuple[Sentence, ...] = ()
    chart: Chart | None = None
    table: Table | None = None


class Asked(NamedTuple):
    """A sentence, or a cell of a table, that can be asked where it comes from. ``row`` is -1 for a sentence."""

    part: Part
    sentence: Sentence | None = None
    row: int = -1
    column: int = -1


@dataclass(frozen=True)
class Report:
    """``below`` says of what it is and of which days; ``text`` is what its author has to say."""

    title: str
    below: str
    parts: tuple[Part, ...]
    text: str = ""
    made: int = 0
    since: int = 0
    until: int = 0


Named = Callable[[int], str]


@dataclass(frozen=True)
class Words:
    """How days (minutes since 1970), months and amounts of money (smallest unit) are said in the reader's language."""

    day: Named
    long_day: Named
    month: Named
    money: Named

    def last_day(self, at: int) -> str:
        """The day on which something ends: what ends at midnight ends on the day before."""
        return self.day(ends_on(at))


def ends_on(at: int) -> int:
    """A minute of the day on which something ends."""
    return at - 1 if at % DAY == 0 else at


def plain_words() -> Words:
    """English days, and money without a sign: for where no locale is known."""

    def day(at: int) -> str:
        found = date_of(at // DAY)
        return f"{found:%a} {found.day} {found:%b}"

    return Words(
        day,
        lambda at: f"{day(at)} {date_of(at // DAY).year}",
        lambda at: f"{date_of(at // DAY):%b %Y}",
        lambda amount: f"{'-' if amount < 0 else ''}{round(abs(amount) / 100):,}",
    )


def cell_text(value: Cell, kind: CellKind, words: Words) -> str:
    """A cell as it is read; nothing where there is none."""
    if value is None or isinstance(value, str):
        return value or ""
    shown: dict[CellKind, Callable[[], str]] = {
        CellKind.COUNT: lambda: f"{value:,.0f}",
        CellKind.HOURS: lambda: f"{value:,.1f}".removesuffix(".0") + " h",
        CellKind.DAYS: lambda: f"{value:,.1f}".removesuffix(".0") + " d",
        CellKind.PERCENT: lambda: f"{value:.0f} %",
        CellKind.RATIO: lambda: f"{value:.2f}",
        CellKind.MONEY: lambda: words.money(int(value)),
        CellKind.START: lambda: words.long_day(int(value)),
        CellKind.FINISH: lambda: words.long_day(ends_on(int(value))),
    }
    return shown[kind]() if kind in shown else f"{value:,}"
