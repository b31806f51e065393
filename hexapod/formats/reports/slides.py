"""A report as slides: real titles, sentences, native charts and tables that can be edited, notes with the sources."""

from __future__ import annotations

import io
from collections.abc import Iterable, Sequence
from typing import Any

from hexapod.formats.reports.clean import clean
from hexapod.formats.reports.looks import (
    BRICK,
    FRAME,
    HONEY,
    INK,
    MUTED,
    PANEL,
    PETROL,
    RULE,
    TONES,
    series_color,
)
from hexapod.reports.report import Cell, Chart, ChartKind, Column, Part, Report, Sentence, Table, Words, cell_text

LINES = 15  # of sentences on a slide
MOST_ABOVE = 2  # sentences above a chart or a table
ROWS, MOST_TABLES = 13, 3  # rows of a slide, slides of one table
MOST_COLUMNS = 7
LETTERS_A_LINE = 98  # of a sentence across a slide
WIDE, HIGH = 13.333, 7.5  # inches
LEFT, TOP = 0.6, 1.25
FONT = "Arial"  # our own is not on the machines of others


def report_slides(report: Report, words: Words) -> bytes:
    """The whole file."""
    from pptx import Presentation
    from pptx.util import Inches

    deck = Presentation()
    deck.slide_width, deck.slide_height = Inches(WIDE), Inches(HIGH)
    writer = _Writer(deck, words)
    writer.title(report)
    for part in report.parts:
        writer.part(part)
    out = io.BytesIO()
    deck.core_properties.title, deck.core_properties.author = _text(report.title), "Hexapod"
    deck.save(out)
    return out.getvalue()


class _Writer:
    def __init__(self, deck: Any, words: Words) -> None:
        self._deck, self._words = deck, words
        self._title_only = next(x for x in deck.slide_layouts if x.name == "Title Only")

    def title(self, report: Report) -> None:
        """The first slide, dark, with what the author says."""
        slide = self._slide(report.title, dark=True)
        place, lines = slide.shapes.title, [line for line in report.text.splitlines() if line.strip()]
        _at(place, 1.2, 2.4, WIDE - 2.4, 1.3)
        _style(place.text_frame, report.title, 40, PANEL, bold=True)
        below = slide.shapes.add_textbox(*_inches(1.2, 3.75, WIDE - 2.4, 0.6))
        below.text_frame.word_wrap = True
        _style(below.text_frame, _text(report.below), 20, "#AEBBC0")
        if lines:
            own = slide.shapes.add_textbox(*_inches(1.2, 4.6, WIDE - 2.4, 2.0))
            own.text_frame.word_wrap = True
            _paragraphs(own.text_frame, [(_text(line), 16, PANEL, False) for line in lines[:8]])
        self._hexagon(slide, 1.2, 1.45, 0.62, HONEY)
        _notes(slide, [f"Made by Hexapod on {self._words.long_day(report.made)}."])

    def part(self, part: Part) -> None:
        """Its sentences, its chart, its table: as many slides as they need."""
        has_rows = part.table is not None and bool(part.table.rows)
        above: tuple[Sentence, ...] = ()  # the first slide of the table
        if part.chart is not None and len(part.sentences) <= MOST_ABOVE:
            self._chart(part, part.sentences)
        elif has_rows and len(part.sentences) <= MOST_ABOVE:
            above = part.sentences
        else:
            for i, said in enumerate(_pages(part.sentences)):
                self._sentences(part.title if not i else f"{part.title}, continued", said)
            if part.chart is not None:
                self._chart(part, ())
        if part.table is not None and has_rows:
            self._table(part, part.table, above)

    def _sentences(self, title: str, said: Sequence[Sentence]) -> None:
        slide = self._slide(title)
        box = slide.shapes.add_textbox(*_inches(LEFT, TOP, WIDE - 2 * LEFT, HIGH - TOP - 0.6))
        box.text_frame.word_wrap = True
        shown: list[tuple[str, int, str, bool]] = []
        under = ""
        for sentence in said:
            if sentence.under != under:
                under = sentence.under
                shown.append((_text(under), 14, PETROL, True))
            shown.append((_text(sentence.text), 16, TONES[sentence.tone], False))
        _paragraphs(box.text_frame, shown)
        _notes(slide, [f"{s.text} {s.source}" for s in said if s.source])

    def _chart(self, part: Part, said: Sequence[Sentence]) -> None:
        from pptx.chart.data import CategoryChartData
        from pptx.enum.chart import XL_CHART_TYPE, XL_LEGEND_POSITION
        from pptx.util import Pt

        assert part.chart is not None
        chart: Chart = part.chart
        slide = self._slide(part.title)
        top = TOP + self._above(slide, said)
        data: Any = CategoryChartData()  # type: ignore[no-untyped-call]
        data.categories = [_text(c) for c in chart.categories]
        for series in chart.series:
            data.add_series(_text(series.name), series.values)
        kinds = {
            ChartKind.BARS: XL_CHART_TYPE.COLUMN_CLUSTERED,
            ChartKind.STACKED: XL_CHART_TYPE.COLUMN_STACKED,
            ChartKind.LINES: XL_CHART_TYPE.LINE,
        }
        frame = slide.shapes.add_chart(
            kinds[chart.kind], *_inches(LEFT, top, WIDE - 2 * LEFT, HIGH - top - 0.6), data
        )  # fmt: skip
        frame.name = _text(chart.title)
        made = frame.chart
        made.font.size, made.font.name = Pt(12), FONT
        made.has_title = True
        made.chart_title.text_frame.text = _text(chart.title) + (f" ({chart.unit})" if chart.unit else "")
        _font(made.chart_title.text_frame.paragraphs[0].runs[0].font, 14, INK, bold=True)
        made.has_legend = len(chart.series) > 1
        if made.has_legend:
            made.legend.position, made.legend.include_in_layout = XL_LEGEND_POSITION.BOTTOM, False
        made.value_axis.major_gridlines.format.line.color.rgb = _rgb(RULE)
        made.value_axis.format.line.fill.background()
        made.value_axis.tick_labels.number_format = "#,##0"
        made.value_axis.tick_labels.number_format_is_linked = False
        plot = made.plots[0]
        if chart.kind is not ChartKind.LINES:
            plot.gap_width = 60
        if chart.kind is ChartKind.STACKED:
            plot.overlap = 100
        plot.has_data_labels = chart.kind is ChartKind.BARS and len(chart.series) == 1
        for i, series in enumerate(plot.series):
            color = _rgb(series_color(i, len(chart.series)))
            if chart.kind is ChartKind.LINES:
                series.format.line.color.rgb = color
                series.smooth = False
            else:
                series.format.fill.solid()
                series.format.fill.fore_color.rgb = color
        _notes(slide, [f"{s.text} {s.source}" for s in said if s.source])

    # Tables

    def _table(self, part: Part, table: Table, above: Sequence[Sentence]) -> None:
        columns = _chosen(table)
        rows, first = table.rows, ROWS - len(above)
        pages = [rows[:first], *(rows[i : i + ROWS] for i in range(first, len(rows), ROWS))]
        for i, page in enumerate(pages[:MOST_TABLES]):
            more = ""
            if i == MOST_TABLES - 1 and len(pages) > MOST_TABLES:
                left = len(rows) - sum(map(len, pages[:MOST_TABLES]))
                more = (
                    f"And {left:,} more {'row' if left == 1 else 'rows'}: the spreadsheet of this report has them all."
                )
            title = part.title if len(pages) == 1 else f"{part.title} ({i + 1} of {min(len(pages), MOST_TABLES)})"
            is_last = i == len(pages) - 1
            shown = (*page, table.total) if is_last and table.total is not None else page
            has_total = is_last and table.total is not None
            slide = self._slide(title)
            top = TOP + (self._above(slide, above) if not i else 0)
            self._fill_table(slide, top, table, columns, shown, has_total=has_total)
            if more:
                box = slide.shapes.add_textbox(*_inches(LEFT, HIGH - 0.55, WIDE - 2 * LEFT, 0.4))
                box.text_frame.word_wrap = True
                _style(box.text_frame, more, 12, MUTED)
            _notes(slide, [f"{table.columns[c].title}: {table.columns[c].source}" for c in columns
                           if table.columns[c].source])  # fmt: skip

    def _above(self, slide: Any, said: Sequence[Sentence]) -> float:
        """Sentences above a chart or a table; how high they are."""
        if not said:
            return 0.0
        box = slide.shapes.add_textbox(*_inches(LEFT, TOP, WIDE - 2 * LEFT, 0.4 * len(said)))
        box.text_frame.word_wrap = True
        _paragraphs(box.text_frame, [(_text(s.text), 16, TONES[s.tone], False) for s in said])
        return 0.42 * len(said) + 0.05

    def _fill_table(
        self,
        slide: Any,
        top: float,
        table: Table,
        columns: Sequence[int],
        rows: Sequence[Sequence[Cell]],
        *,
        has_total: bool,
    ) -> None:
        from pptx.enum.text import MSO_ANCHOR, PP_ALIGN
        from pptx.util import Inches

        widths = _widths(table, columns, WIDE - 2 * LEFT, self._words)
        frame = slide.shapes.add_table(
            len(rows) + 1, len(columns), *_inches(LEFT, top, WIDE - 2 * LEFT, 0.38 * (len(rows) + 1))
        )
        made = frame.table
        _bare(frame)
        for c, width in enumerate(widths):
            made.columns[c].width = Inches(width)
        texts: list[list[tuple[str, Column]]] = [[(table.columns[c].title, table.columns[c]) for c in columns]]
        for row in rows:
            texts.append([(cell_text(row[c], table.columns[c].kind, self._words), table.columns[c]) for c in columns])
        for r, line in enumerate(texts):
            made.rows[r].height = Inches(0.38)
            for c, (text, column) in enumerate(line):
                cell = made.cell(r, c)
                cell.margin_left = cell.margin_right = Inches(0.06)
                cell.margin_top = cell.margin_bottom = Inches(0.03)
                cell.fill.background()
                cell.vertical_anchor = MSO_ANCHOR.MIDDLE
                _line_below(cell, INK if r == 0 else RULE)
                most = max(6, int(widths[c] * 13))
                shown = _text(text) if len(text) <= most else _text(text)[: most - 1] + "…"
                bold = r == 0 or (has_total and r == len(texts) - 1)
                late = column.title == "How it is" and text == "late"
                _style(cell.text_frame, shown, 12, BRICK if late else MUTED if r == 0 else INK, bold=bold)
                cell.text_frame.word_wrap = False
                if column.kind.is_number:
                    cell.text_frame.paragraphs[0].alignment = PP_ALIGN.RIGHT

    # A slide

    def _slide(self, title: str, *, dark: bool = False) -> Any:
        slide = self._deck.slides.add_slide(self._title_only)
        fill = slide.background.fill
        fill.solid()
        fill.fore_color.rgb = _rgb(FRAME if dark else PANEL)
        if not dark:
            _at(slide.shapes.title, LEFT + 0.5, 0.38, WIDE - 2 * LEFT - 0.5, 0.62)
            _style(slide.shapes.title.text_frame, _text(title), 26, INK, bold=True)
            self._hexagon(slide, LEFT, 0.5, 0.36, PETROL)
        return slide

    def _hexagon(self, slide: Any, left: float, top: float, size: float, color: str) -> None:
        from pptx.enum.shapes import MSO_SHAPE

        mark = slide.shapes.add_shape(MSO_SHAPE.HEXAGON, *_inches(left, top, size, size * 0.87))
        mark.name, mark.rotation = "Mark", 90
        mark.fill.solid()
        mark.fill.fore_color.rgb = _rgb(color)
        mark.line.fill.background()
        mark.shadow.inherit = False


def _pages(sentences: Sequence[Sentence]) -> Iterable[list[Sentence]]:
    """Sentences slide by slide: a heading stays with what is under it."""
    page: list[Sentence] = []
    lines, under = 0, ""
    for sentence in sentences:
        needs = 1 + len(sentence.text) // LETTERS_A_LINE + (sentence.under != under)
        if page and lines + needs > LINES:
            yield page
            page, lines = [], 0
            needs += sentence.under == under
        page.append(sentence)
        lines, under = lines + needs, sentence.under
    if page:
        yield page


def _chosen(table: Table) -> list[int]:
    """The columns that a slide has room for: the first one, then those that have anything in them, in their order.
    Sentences beside a state are left to the words."""
    filled = [
        i for i, column in enumerate(table.columns)
        if column.title != "Because" and (i == 0 or any(row[i] not in (None, "") for row in table.rows))
    ]  # fmt: skip
    return filled[:MOST_COLUMNS]


def _widths(table: Table, columns: Sequence[int], room: float, words: Words) -> list[float]:
    """Shares of the room by how long the first cells are."""
    wants = []
    for c in columns:
        column = table.columns[c]
        longest = max((len(cell_text(row[c], column.kind, words)) for row in table.rows[:60]), default=0)
        wants.append(float(min(34, max(longest, len(column.title) + 2) + 2)))
    return [room * want / sum(wants) for want in wants]


def _bare(frame: Any) -> None:
    """A table without the stripes and the coloured heading of the usual style."""
    from pptx.oxml.ns import qn

    properties = frame._element.graphic.graphicData.tbl.tblPr
    properties.set("bandRow", "0")
    properties.set("firstRow", "0")
    style = properties.find(qn("a:tableStyleId"))
    if style is not None:
        style.text = "{2D5ABB26-0587-4C30-8999-92F81FD0307C}"  # without any lines of its own


def _line_below(cell: Any, color: str) -> None:
    """A hairline under a cell."""
    from pptx.oxml import parse_xml
    from pptx.oxml.ns import nsdecls

    line = parse_xml(
        f'<a:lnB {nsdecls("a")} w="6350"><a:solidFill><a:srgbClr val="{color.lstrip("#")}"/></a:solidFill></a:lnB>'
    )
    cell._tc.get_or_add_tcPr().insert(0, line)


def _paragraphs(frame: Any, lines: Sequence[tuple[str, int, str, bool]]) -> None:
    from pptx.util import Pt

    for i, (text, size, color, bold) in enumerate(lines):
        paragraph = frame.paragraphs[0] if not i else frame.add_paragraph()
        paragraph.space_after = Pt(3 if bold else 7)
        if bold and i:
            paragraph.space_before = Pt(8)
        run = paragraph.add_run()
        run.text = text
        _font(run.font, size, color, bold=bold)


def _style(frame: Any, text: str, size: int, color: str, *, bold: bool = False) -> None:
    from pptx.enum.text import PP_ALIGN

    frame.text = text
    for paragraph in frame.paragraphs:
        paragraph.alignment = PP_ALIGN.LEFT
        for run in paragraph.runs:
            _font(run.font, size, color, bold=bold)


def _font(font: Any, size: int, color: str, *, bold: bool = False) -> None:
    from pptx.util import Pt

    font.size, font.bold, font.name = Pt(size), bold, FONT
    font.color.rgb = _rgb(color)


def _rgb(color: str) -> Any:
    from pptx.dml.color import RGBColor

    return RGBColor.from_string(color.lstrip("#"))  # type: ignore[no-untyped-call]


def _inches(*lengths: float) -> tuple[Any, ...]:
    from pptx.util import Inches

    return tuple(Inches(length) for length in lengths)


def _at(shape: Any, left: float, top: float, wide: float, high: float) -> None:
    shape.left, shape.top, shape.width, shape.height = _inches(left, top, wide, high)


def _notes(slide: Any, lines: Sequence[str]) -> None:
    if lines:
        slide.notes_slide.notes_text_frame.text = "\n".join(_text(line) for line in lines)


def _text(text: str) -> str:
    return clean(text)
