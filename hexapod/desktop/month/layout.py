"""The days of a month in weeks, and where bars lie on them. Pure: knows no widget."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, timedelta

from hexapod.plan.records import DAY
from hexapod.worktime.clock import day_number


@dataclass(frozen=True)
class Span:
    """A task from its first to its last day (days since 1970)."""

    task: str
    first: int
    last: int


@dataclass(frozen=True)
class Piece:
    """The part of a span that lies in one week: columns ``begin`` to ``end``, both counted, on line ``line``.

    ``opens`` and ``closes`` say whether the span begins, or ends, in this piece.
    """

    task: str
    week: int
    begin: int
    end: int
    line: int
    opens: bool
    closes: bool


def weeks_of(year: int, month: int, first_weekday: int = 0) -> list[int]:
    """The first days of the weeks that a month touches; ``first_weekday`` 0 is Monday."""
    first = date(year, month, 1)
    begin = first - timedelta(days=(first.weekday() - first_weekday) % 7)
    following = date(year + month // 12, month % 12 + 1, 1)
    return list(range(day_number(begin), day_number(following), 7))


def span_of(task: str, start: int, finish: int) -> Span:
    """A task's days; work that ends at a midnight ends the day before."""
    last = (finish - 1) // DAY if finish > start else finish // DAY
    return Span(task, start // DAY, max(start // DAY, last))


def pieces(spans: Iterable[Span], weeks: list[int]) -> list[Piece]:
    """Every span's pieces; longer ones first, each on the first line of its week that is free all along it."""
    found: list[Piece] = []
    order = sorted(spans, key=lambda s: (s.first, s.first - s.last, s.task))
    for week, first in enumerate(weeks):
        lines: list[int] = []  # the first free column of each
        for span in order:
            begin, end = max(span.first, first), min(span.last, first + 6)
            if begin > end:
                continue
            column = begin - first
            line = next((i for i, free in enumerate(lines) if free <= column), len(lines))
            if line == len(lines):
                lines.append(0)
            lines[line] = end - first + 1
            found.append(Piece(span.task, week, column, end - first, line, span.first >= first, span.last <= first + 6))
    return found
