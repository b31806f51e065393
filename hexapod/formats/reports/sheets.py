"""A report as a spreadsheet: a sheet of words, and one for each table, with typed cells and charts that can be edited.

Nothing that was typed into a plan becomes a formula or a link. Large tables are written row by row and forgotten, so
that memory does not grow with them; such files have a filter in place of a named table, which needs all rows at once.
"""

from __future__ import annotations

import errno
import math
from collections.abc import Iterator
from datetime import datetime
from pathlib import Path
from typing import Any

from hexapod.formats.reports.clean import clean
from hexapod.formats.reports.looks import INK, MUTED, PETROL, TONES, series_color
from hexapod.plan.records import DAY
from hexapod.reports.report import Cell, CellKind, Chart, ChartKind, Part, Report, Table, ends_on
from hexapod.system.budgets import CELL
from hexapod.system.files import scratch_folder
from hexapod.worktime.clock import date_of
from hexapod.worktime.spans import in_range

LARGE = 20_000  # rows from which a file is written row by row
MOST_ROWS = 1_048_570  # of a sheet
PIECE = 2000  # rows between two looks at whether to go on
FORMATS = {
    CellKind.COUNT: "#,##0", CellKind.HOURS: "#,##0.0", CellKind.DAYS: "#,##0.0", CellKind.PERCENT: '0"%"',
    CellKind.RATIO: "0.00", CellKind.MONEY: "#,##0.00", CellKind.START: "yyyy-mm-dd", CellKind.FINISH: "yyyy-mm-dd",
}  # fmt: skip
_CHARTS = {ChartKind.BARS: ("column", None), ChartKind.STACKED: ("column", "stacked"), ChartKind.LINES: ("line", None)}


def write_sheets(report: Report, path: Path) -> Iterator[tuple[int, int]]:
    """Write it to a path, yielding (rows written, of), so that it can be stopped between two pieces. The file is whole
    once this ends; whoever stops it throws the file away. ``OSError`` where it cannot be written."""
    with scratch_folder() as place:  # for rows that wait for the file
        yield from _write(report, path, place)


def _write(report: Report, path: Path, place: Path) -> Iterator[tuple[int, int]]:
    import xlsxwriter
    from xlsxwriter.exceptions import XlsxFileError

    whole = sum(len(p.table.shown_rows()) for p in report.parts if p.table is not None)
    options = {
        "constant_memory": whole > LARGE, "strings_to_formulas": False, "strings_to_urls": False,
        "strings_to_numbers": False, "nan_inf_to_errors": False, "tmpdir": str(place),
    }  # fmt: skip
    book = xlsxwriter.Workbook(str(path), options)
    is_whole = False
    try:
        writer = _Writer(book, is_large=whole > LARGE)
        writer.words(report)
        done = 0
        for part in report.parts:
            for rows in writer.part(part):
                done += rows
                yield done, whole
        is_whole = True
        book.close()
    except XlsxFileError as error:
        raise OSError(*getattr(error.args[0], "args", (errno.EIO, str(error)))) from None
    finally:
        if not is_whole:
            book.fileclosed = True  # nobody wants what there is of it


class _Writer:
    def __init__(self, book: Any, *, is_large: bool) -> None:
        self._book, self._is_large = book, is_large
        self._names: set[str] = set()
        self._plain = book.add_format({"text_wrap": True, "valign": "top"})
        self._bold = book.add_format({"bold": True, "text_wrap": True, "valign": "bottom", "bottom": 1})
        self._kinds = {kind: book.add_format({"num_format": shape}) for kind, shape in FORMATS.items()}
        self._tables = 0

    def words(self, report: Report) -> None:
        """The first sheet: the title, what the author says, and all sentences under their headings."""
        sheet, add = self._book.add_worksheet(self._name("Report")), self._book.add_format
        sheet.set_column(0, 0, 100)
        sheet.hide_gridlines(2)
        large, below = add({"bold": True, "font_size": 16, "font_color": INK}), add({"font_color": MUTED})
        head, under = add({"bold": True, "font_size": 12, "font_color": PETROL}), add({"bold": True})
        tones = {tone: add({"text_wrap": True, "font_color": color}) for tone, color in TONES.items()}
        sheet.write_string(0, 0, _text(report.title), large)
        sheet.write_string(1, 0, _text(report.below), below)
        row = 3
        for line in report.text.splitlines():
            sheet.write_string(row, 0, _text(line), self._plain)
            row += 1
        for part in report.parts:
            row += 1
            sheet.write_string(row, 0, _text(part.title), head)
            last = ""
            for sentence in part.sentences:
                if sentence.under != last:
                    last, row = sentence.under, row + 1
                    sheet.write_string(row, 0, _text(last), under)
                row += 1
                sheet.write_string(row, 0, _text(sentence.text), tones[sentence.tone])
            row += 1

    def part(self, part: Part) -> Iterator[int]:
        """The sheet of a part that has a table; yields how many rows more are written."""
        if part.table is None:
            return
        table, sheet = part.table, self._book.add_worksheet(self._name(part.title))
        for i, column in enumerate(table.columns):
            sheet.set_column(i, i, _width(table, i), self._kinds.get(column.kind))
            sheet.write_string(0, i, _text(column.title), self._bold)
        sheet.freeze_panes(1, 1)
        rows = table.shown_rows()[:MOST_ROWS]
        charted = self._chart_cells(part.chart, len(table.columns) + 1)
        for r, row in enumerate(rows, 1):
            for c, (value, column) in enumerate(zip(row, table.columns, strict=True)):
                self._write(sheet, r, c, value, column.kind)
            for c, value in charted.get(r, {}).items():
                _write_plain(sheet, r, c, value)
            if r % PIECE == 0:
                yield PIECE
        yield len(rows) % PIECE
        for r in sorted(set(charted) - set(range(1, len(rows) + 1))):
            for c, value in charted[r].items():
                _write_plain(sheet, r, c, value)
        self._finish(sheet, part, table, len(rows))

    def _finish(self, sheet: Any, part: Part, table: Table, rows: int) -> None:
        last, bare = len(table.columns) - 1, rows - (table.total is not None)
        for i, column in enumerate(table.columns):
            if column.source:
                sheet.write_comment(0, i, _text(column.source), {"width": 240, "height": 70})
        if bare and self._is_large:
            sheet.autofilter(0, 0, bare, last)
        elif bare:
            self._tables += 1
            sheet.add_table(0, 0, bare, last, {
                "name": f"Table{self._tables}", "style": "Table Style Light 1", "banded_rows": False,
                "columns": [{"header": t, "header_format": self._bold} for t in _headers(table)],
            })  # fmt: skip
        if part.chart is not None:
            self._chart(sheet, part.chart, len(table.columns) + 1)

    def _write(self, sheet: Any, r: int, c: int, value: Cell, kind: CellKind) -> None:
        if value is None or value == "":
            return
        if isinstance(value, str):
            sheet.write_string(r, c, _text(value))
        elif kind in (CellKind.START, CellKind.FINISH):
            moment = int(value) if kind is CellKind.START else ends_on(int(value))
            if in_range(moment):
                day = date_of(moment // DAY)
                sheet.write_datetime(r, c, datetime(day.year, day.month, day.day), self._kinds[kind])
        elif math.isfinite(value):
            sheet.write_number(r, c, value / 100 if kind is CellKind.MONEY else value, self._kinds.get(kind))

    # Charts

    def _chart_cells(self, chart: Chart | None, left: int) -> dict[int, dict[int, Cell]]:
        """The figures of a chart, beside the table, by row and column: written with the rows, for a file that is
        written row by row."""
        if chart is None:
            return {}
        found: dict[int, dict[int, Cell]] = {1: {left: chart.title}}
        for j, series in enumerate(chart.series):
            found[1][left + 1 + j] = series.name
        for i, name in enumerate(chart.categories):
            found[2 + i] = {left: name}
            for j, series in enumerate(chart.series):
                found[2 + i][left + 1 + j] = series.values[i]
        return found

    def _chart(self, sheet: Any, chart: Chart, left: int) -> None:
        kind, sub = _CHARTS[chart.kind]
        made = self._book.add_chart({"type": kind, "subtype": sub} if sub else {"type": kind})
        last = 1 + len(chart.categories)
        for j in range(len(chart.series)):
            color = {"color": series_color(j, len(chart.series))}
            made.add_series({
                "name": [sheet.get_name(), 1, left + 1 + j],
                "categories": [sheet.get_name(), 2, left, last, left],
                "values": [sheet.get_name(), 2, left + 1 + j, last, left + 1 + j],
                "line" if kind == "line" else "fill": color,
            })  # fmt: skip
        made.set_title({"name": _text(chart.title), "name_font": {"size": 12, "color": INK}})
        made.set_y_axis({"major_gridlines": {"visible": True, "line": {"color": "#E4E0D6"}}, "name": _text(chart.unit)})
        if len(chart.series) == 1:
            made.set_legend({"none": True})
        made.set_size({"width": 620, "height": 320})
        sheet.insert_chart(1, left + 2 + len(chart.series), made, {"description": _text(chart.title)})

    def _name(self, title: str) -> str:
        """A name that a sheet may have, and no other has."""
        base = "".join(c for c in clean(title) if c not in "[]:*?/\\'")[:28].strip() or "Sheet"
        name, number = base, 2
        while name.casefold() in self._names:
            name, number = f"{base} {number}", number + 1
        self._names.add(name.casefold())
        return name


def _headers(table: Table) -> list[str]:
    """Headings that differ from one another, as a table asks for."""
    found: list[str] = []
    for column in table.columns:
        name = base = _text(column.title) or "Column"
        number = 2
        while name.casefold() in (f.casefold() for f in found):
            name, number = f"{base} {number}", number + 1
        found.append(name)
    return found


def _width(table: Table, column: int) -> float:
    """About as wide as its first cells are."""
    kind = table.columns[column].kind
    longest = len(table.columns[column].title) + 3
    if kind is CellKind.TEXT:
        longest = max(longest, *(len(str(row[column] or "")) for row in table.rows[:200]), 0)
    return float(min(60, max(longest, 11)))


def _write_plain(sheet: Any, r: int, c: int, value: Cell) -> None:
    if isinstance(value, str):
        sheet.write_string(r, c, _text(value))
    elif value is not None and math.isfinite(value):
        sheet.write_number(r, c, value)


def _text(text: str) -> str:
    return clean(text, CELL)
