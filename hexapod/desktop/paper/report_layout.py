"""Lays a report out on pages: titles, sentences, charts and rows of tables as boxes, page by page, so that a long one
is there before all of it is."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import cache
from typing import NamedTuple

from PyQt6.QtCore import QRectF, QSizeF, Qt
from PyQt6.QtGui import QFont, QFontMetricsF

from hexapod.desktop.theme.style import font, light_for_paper
from hexapod.formats.reports.charts import HEIGHT, WIDTH, Color, as_named, chart_svg
from hexapod.formats.reports.clean import clean
from hexapod.reports.report import Asked, Cell, CellKind, Part, Report, Table, Tone, Words, cell_text

GAP, ROW_PADDING, COLUMN_GAP = 8.0, 5.0, 12.0
LEAST_COLUMN, LONGEST_SHOWN = 46.0, 110.0  # of a word that is not broken
LONGEST_CELL, LONGEST_WORD = 220, 36  # letters; a longer word is broken
MEASURED = 150  # rows that say how wide columns are
LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop
RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignTop


class Face(NamedTuple):
    """A size in pixels of the page, whatever its dots are, and a weight."""

    size: int
    weight: QFont.Weight = QFont.Weight.Normal


TITLE, PART, UNDER = Face(22, QFont.Weight.DemiBold), Face(16, QFont.Weight.DemiBold), Face(12, QFont.Weight.DemiBold)
TEXT, SMALL, CELL, HEAD = Face(12), Face(11), Face(11), Face(11, QFont.Weight.DemiBold)


@cache
def font_of(face: Face) -> QFont:
    """The application's face as it goes onto paper, where other shapes of a character could not be read back."""
    with light_for_paper():
        made = QFont(font(9, face.weight))  # a copy: those of the theme are shared
    made.setPixelSize(face.size)
    return made


@cache
def metrics_of(face: Face) -> QFontMetricsF:
    return QFontMetricsF(font_of(face))


@dataclass(frozen=True)
class Box:
    """Text, a chart (as SVG) or a line at a place on a page. ``color`` is a role of the palette."""

    place: QRectF
    text: str = ""
    face: Face = TEXT
    color: str = "ink"
    flags: int = 0
    svg: str = ""
    asked: Asked | None = None
    is_line: bool = False


@dataclass
class Page:
    boxes: list[Box] = field(default_factory=list)


_TONES = {Tone.PLAIN: "ink", Tone.ATTENTION: "amber", Tone.TROUBLE: "brick"}
_WRAP = Qt.TextFlag.TextWordWrap


def flags_of(text: str, side: Qt.AlignmentFlag) -> int:
    """How a text is wrapped: between words, and within those that are longer than a line should be."""
    wraps = Qt.TextFlag.TextWrapAnywhere if any(len(w) > LONGEST_WORD for w in text.split()) else _WRAP
    return int(side.value) | int(wraps.value)


class Layout:
    """``pages`` grows while ``steps``, or those of one ``part``, are gone through; ``body`` is the room of a page, from
    its corner."""

    def __init__(self, report: Report, words: Words, body: QSizeF, tint: Color = as_named) -> None:
        self.pages = [Page()]
        self._tint = tint
        self._report, self._words = report, words
        self._wide, self._high = body.width(), body.height()
        self._y = 0.0

    def steps(self) -> Iterator[None]:
        """Lay it all out, a paragraph or a row at a time; ``tint`` puts other colours into the charts."""
        report = self._report
        self._text(report.title, TITLE)
        self._text(report.below, SMALL, "muted", gap=GAP)
        for line in report.text.splitlines():
            if line.strip():
                self._text(line, TEXT, gap=3)
        for part in report.parts:
            if len(report.parts) > 1:
                self._y += GAP
                self._text(part.title, PART, "petrol", gap=3, keep=70)
            yield from self.part(part)

    @property
    def height(self) -> float:
        """How far down the last page is filled."""
        return self._y

    def part(self, part: Part) -> Iterator[None]:
        """The sentences, the chart and the table of one part."""
        under = ""
        for sentence in part.sentences:
            if sentence.under != under:
                under = sentence.under
                self._y += 4
                self._text(under, UNDER, gap=1, keep=24)
            self._text(sentence.text, TEXT, _TONES[sentence.tone], asked=Asked(part, sentence), gap=2)
            yield
        if part.chart is not None:
            wide = min(self._wide, WIDTH * 1.15)
            high = wide * HEIGHT / WIDTH
            self._room(high + GAP)
            self._put(QRectF(0, self._y + GAP / 2, wide, high), svg=chart_svg(part.chart, self._tint))
            self._y += high + GAP
        if part.table is not None and part.table.rows:
            self._y += GAP / 2
            yield from self._table(part, part.table)

    # Tables

    def _table(self, part: Part, table: Table) -> Iterator[None]:
        shown = [i for i in range(len(table.columns)) if i == 0 or any(r[i] not in (None, "") for r in table.rows)]
        widths = self._widths(table, shown)
        self._head(table, shown, widths)
        for r, row in enumerate(table.rows):
            self._row(part, table, shown, widths, r, row)
            yield
        if table.total is not None:
            self._row(part, table, shown, widths, -1, table.total)

    def _widths(self, table: Table, shown: list[int]) -> list[float]:
        """As wide as the cells are; texts give way where there is too little room."""
        wants, least = [], []
        head, cell = metrics_of(HEAD), metrics_of(CELL)
        for i in shown:
            column = table.columns[i]
            texts = [self._cell_text(row[i], column.kind) for row in table.rows[:MEASURED]]
            widest = max((cell.horizontalAdvance(text) for text in texts), default=0.0)
            if table.total is not None:
                widest = max(widest, head.horizontalAdvance(self._cell_text(table.total[i], column.kind)))
            title = head.horizontalAdvance(clean(column.title)) + 1
            wants.append(max(widest, title) + COLUMN_GAP)
            words = {word for text in texts for word in text.split()[:6]} if column.kind is CellKind.TEXT else set()
            longest = max((head.horizontalAdvance(word) for word in (*words, *column.title.split())), default=0.0)
            is_fixed = column.kind is not CellKind.TEXT
            least.append(wants[-1] if is_fixed else max(LEAST_COLUMN, min(longest, LONGEST_SHOWN) + COLUMN_GAP))
        over = sum(wants) - self._wide
        if over <= 0:
            return wants
        slack = sum(w - x for w, x in zip(wants, least, strict=True))
        if slack <= over:
            return [x * self._wide / sum(least) for x in least]
        return [w - over * (w - x) / slack for w, x in zip(wants, least, strict=True)]

    def _cell_text(self, value: Cell, kind: CellKind) -> str:
        return clean(cell_text(value, kind, self._words), LONGEST_CELL)

    def _head(self, table: Table, shown: list[int], widths: list[float]) -> None:
        titles = [clean(table.columns[i].title) for i in shown]
        sides = [RIGHT if table.columns[i].kind.is_number else LEFT for i in shown]
        high = max(self._high_of(t, HEAD, w - COLUMN_GAP) for t, w in zip(titles, widths, strict=True))
        self._room(high + 40)
        x = 0.0
        for text, side, width in zip(titles, sides, widths, strict=True):
            place = QRectF(x, self._y, width - COLUMN_GAP, high)
            self._put(place, text, HEAD, "muted", flags_of(text, side))
            x += width
        self._y += high + 2
        self._put(QRectF(0, self._y, min(self._wide, sum(widths)), 0), is_line=True)
        self._y += 3

    def _row(
        self, part: Part, table: Table, shown: list[int], widths: list[float], r: int, row: tuple[Cell, ...]
    ) -> None:
        face = CELL if r >= 0 else HEAD
        texts = [self._cell_text(row[i], table.columns[i].kind) for i in shown]
        high = max(self._high_of(t, face, w - COLUMN_GAP) for t, w in zip(texts, widths, strict=True))
        if self._y + high > self._high:
            self._new_page()
            self._head(table, shown, widths)
        x = 0.0
        for i, text, width in zip(shown, texts, widths, strict=True):
            side = RIGHT if table.columns[i].kind.is_number else LEFT
            asked = Asked(part, None, r, i) if r >= 0 else None
            color = "brick" if text == "late" else "ink"
            place = QRectF(x, self._y, width - COLUMN_GAP, high)
            self._put(place, text, face, color, flags_of(text, side), asked=asked)
            x += width
        self._y += high + ROW_PADDING

    # Places

    def _text(
        self,
        text: str,
        face: Face,
        color: str = "ink",
        *,
        gap: float = 2.0,
        keep: float = 0.0,
        asked: Asked | None = None,
    ) -> None:
        """A paragraph across the page; ``keep`` is the room that must be left below it."""
        said = clean(text)
        flags = flags_of(said, LEFT)
        high = self._high_of(said, face, self._wide)
        self._room(high + keep)
        self._put(QRectF(0, self._y, self._wide, high), said, face, color, flags, asked=asked)
        self._y += high + gap

    def _high_of(self, text: str, face: Face, wide: float) -> float:
        metrics = metrics_of(face)
        if "\n" not in text and metrics.horizontalAdvance(text) <= wide:
            return metrics.height()
        box = metrics.boundingRect(QRectF(0, 0, max(1.0, wide), 1e6), flags_of(text, LEFT), text)
        return min(box.height(), self._high * 0.9)

    def _room(self, high: float) -> None:
        if self._y and self._y + high > self._high:
            self._new_page()

    def _new_page(self) -> None:
        self.pages.append(Page())
        self._y = 0.0

    def _put(
        self, place: QRectF, text: str = "", face: Face = TEXT, color: str = "ink", flags: int = 0, *, svg: str = "",
        asked: Asked | None = None, is_line: bool = False,
    ) -> None:  # fmt: skip
        self.pages[-1].boxes.append(Box(place, text, face, color, flags, svg, asked, is_line))
