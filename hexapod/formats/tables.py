"""Tables read from and written to CSV and XLSX, with limits: a file is hostile until it is read.

Cells are text, numbers, yes/no or moments; an empty cell is None. What is written can carry no live formula:
in a spreadsheet texts are stored as texts, in CSV one that a spreadsheet would run gets an apostrophe in front.
"""

from __future__ import annotations

import csv
import io
import math
import re
import zipfile
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from pathlib import Path
from typing import Any

from hexapod.errors import BadFile
from hexapod.system import budgets
from hexapod.system.budgets import OverBudget, hostile, within
from hexapod.system.files import read_within, shown

Cell = str | int | float | bool | datetime | None


@dataclass(frozen=True)
class Sheet:
    """``rows`` as they stand in the file; ``first_row`` is the number that the file gives the first of them."""

    name: str
    rows: list[list[Cell]]
    first_row: int = 1


def read_table(path: Path) -> list[Sheet]:
    """The sheets of a CSV or XLSX file. ``BadFile`` with a sentence for what is too large, damaged or no table."""
    data, name = read_within(path, budgets.TABLE), shown(path.name)
    if path.suffix.lower() in (".xlsx", ".xlsm"):
        return _spreadsheet(name, data)
    return [Sheet(shown(path.stem), _checked(name, parse_csv(name, data)))]


def decoded(name: str, data: bytes) -> str:
    """The text of a file in one of the usual encodings."""
    if data.startswith((b"\xff\xfe", b"\xfe\xff")):
        encodings: tuple[str, ...] = ("utf-16",)
    else:
        encodings = ("utf-8-sig", "cp1252")
    for encoding in encodings:
        try:
            text = data.decode(encoding)
        except UnicodeDecodeError:
            continue
        if "\x00" not in text:
            return text
    raise BadFile(f"{name} is not text in an encoding that is known (UTF-8, UTF-16, Windows-1252).")


def parse_csv(name: str, data: bytes) -> list[list[Cell]]:
    """Rows of a CSV file; commas, semicolons, tabs and bars are told apart by how evenly they occur."""
    text = decoded(name, data)
    lines = text.splitlines()[:50]
    delimiter = max(
        ",;\t|", key=lambda d: (sum(1 for line in lines if d in line), sum(line.count(d) for line in lines))
    )
    csv.field_size_limit(budgets.CELL * 4)
    rows: list[list[Cell]] = []
    cells = 0
    try:
        for row in csv.reader(io.StringIO(text, newline=""), delimiter=delimiter):
            cells += len(row)
            within(name, cells, "cells", budgets.CELLS)
            rows.append([_unescaped(cell) or None for cell in row])
            within(name, len(rows), "rows", budgets.ROWS)
    except csv.Error as error:
        raise BadFile(f"{name}, row {len(rows) + 1}: {error}.") from None
    return rows


def _unescaped(cell: str) -> str:
    """The apostrophe that keeps a spreadsheet from running a text, taken away again."""
    cell = _INNER_ESCAPED.sub(r"\1\2", cell)
    return cell[1:] if cell[:1] == "'" and cell[1:].lstrip("'")[:1] in tuple(_RUN) else cell


def _spreadsheet(name: str, data: bytes) -> list[Sheet]:
    from python_calamine import load_workbook

    _refuse_bombs(name, data)
    with hostile(name, "spreadsheet"):
        workbook = load_workbook(io.BytesIO(data))
        within(name, len(workbook.sheet_names), "sheets", budgets.SHEETS)
        found = [Sheet(n, _sheet_rows(name, data, workbook, i)) for i, n in enumerate(workbook.sheet_names)]
    if not any(sheet.rows for sheet in found):
        raise BadFile(f"{name} is empty.")
    return found


def _sheet_rows(name: str, data: bytes, workbook: Any, index: int) -> list[list[Cell]]:
    sheet = workbook.get_sheet_by_index(index)
    _, last = sheet.start, sheet.end
    if last is None:
        return []
    height, width = last[0] + 1, last[1] + 1
    where = f"{name}, sheet “{sheet.name}”,"
    within(where, height, "rows", budgets.ROWS)
    within(where, width, "columns", 16_384)
    within(where, height * width, "cells", budgets.CELLS)
    return _checked(name, [[_cell(value) for value in row] for row in sheet.to_python(skip_empty_area=False)])


def _refuse_bombs(name: str, data: bytes) -> None:
    """Before anything is unpacked: how large it says it gets, and which cells its sheets say they have."""
    with hostile(name, "spreadsheet"), zipfile.ZipFile(io.BytesIO(data)) as archive:
        entries = archive.infolist()
        within(name, len(entries), "parts", budgets.PACKED_PARTS)
        total = sum(entry.file_size for entry in entries)
        if total > budgets.UNPACKED or total > 200 * max(len(data), 100_000):
            raise BadFile(f"{name} would unpack to {total // budgets.MEGABYTE} MB; it is not opened.")
        names = {entry.filename.lower() for entry in entries}
        if "xl/workbook.xml" not in names:
            raise BadFile(f"{name} is no spreadsheet of the kind that its ending says.")
        for entry in entries:
            if entry.filename.lower().endswith((".xml", ".rels")) or "." not in entry.filename:
                _refuse_far_cells(name, archive, entry)


def _refuse_far_cells(name: str, archive: zipfile.ZipFile, entry: zipfile.ZipInfo) -> None:
    """A sheet with one cell in the first row and one in the last column of the last row would be made a table of
    millions before anybody could count them."""
    columns = last = 0
    kept = b""
    with archive.open(entry) as part:
        while piece := part.read(budgets.MEGABYTE):
            if not kept and piece[:2] in (b"\xff\xfe", b"\xfe\xff"):
                raise BadFile(f"{name} is no spreadsheet: {entry.filename[:60]} is not in UTF-8.")
            text = kept + piece
            for place in set(_CELL_PLACE.findall(text)):
                match = _PLACE.fullmatch(place)
                if match is None:
                    raise BadFile(f"{name} is damaged: it has a cell at {place[:20]!r}.")
                columns, last = max(columns, _column_number(match[1])), max(last, int(match[2]))
            for row in set(_ROW_PLACE.findall(text)):
                if not row.isdigit():
                    raise BadFile(f"{name} is damaged: it has a row {row[:20]!r}.")
                last = max(last, int(row[:9]))
            kept = text[-512:]
    within(name, last, "rows", budgets.ROWS)
    within(name, columns * last, "cells", budgets.CELLS)


_CELL_PLACE = re.compile(rb"""<(?:\w+:)?c\s(?:[^<>"']|"[^"<]*"|'[^'<]*')*?\br\s*=\s*["']([^"']{0,200})["']""")
_ROW_PLACE = re.compile(rb"""<(?:\w+:)?row\s(?:[^<>"']|"[^"<]*"|'[^'<]*')*?\br\s*=\s*["']([^"']{0,200})["']""")
_PLACE = re.compile(rb"\s*([A-Za-z]{1,3})(\d{1,9})\s*")


def _column_number(letters: bytes) -> int:
    number = 0
    for letter in letters.upper():
        number = number * 26 + letter - 64
    return number


def _cell(value: object) -> Cell:
    if value is None or value == "":
        return None
    if isinstance(value, float) and not math.isfinite(value):
        return None
    if isinstance(value, bool | int | float | datetime):
        return int(value) if isinstance(value, float) and value.is_integer() else value
    if isinstance(value, date):
        return datetime.combine(value, time())
    if isinstance(value, timedelta):
        return value.total_seconds() / 3600
    return str(value)


def _checked(name: str, rows: list[list[Cell]]) -> list[list[Cell]]:
    widest = max((len(row) for row in rows), default=0)
    if widest > budgets.COLUMNS:
        used = max((i + 1 for row in rows for i, cell in enumerate(row) if cell is not None), default=0)
        within(name, used, "columns", budgets.COLUMNS)
        rows = [row[:used] for row in rows]
    within(name, sum(map(len, rows)), "cells", budgets.CELLS)
    for number, row in enumerate(rows, 1):
        for cell in row:
            if isinstance(cell, str) and len(cell) > budgets.CELL:
                raise OverBudget(f"{name}, row {number}: a cell", len(cell), "characters", budgets.CELL)
    return rows


_RUN = "=+-@\t\r"
# Where another delimiter is expected than the comma, a text such as “a;=1+1;b” is three cells, quoted or not.
_INNER = re.compile(r"([;|\t\r\n]\s*)('*[=+\-@])")
_INNER_ESCAPED = re.compile(r"([;|\t\r\n]\s*)'('*[=+\-@])")


def write_csv(rows: Iterable[Sequence[Cell]]) -> bytes:
    """UTF-8 with a mark at its beginning, so that spreadsheets read it as such."""
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    for row in rows:
        writer.writerow([_harmless(cell) for cell in row])
    return b"\xef\xbb\xbf" + out.getvalue().encode()


def _harmless(cell: Cell) -> object:
    if isinstance(cell, datetime):
        return cell.strftime("%Y-%m-%d") if cell.time() == time() else cell.strftime("%Y-%m-%d %H:%M")
    if isinstance(cell, bool):
        return "yes" if cell else "no"
    if isinstance(cell, str):
        cell = _INNER.sub(r"\1'\2", cell)
        return "'" + cell if cell.lstrip("'")[:1] in tuple(_RUN) else cell
    return "" if cell is None else cell


def write_xlsx(title: str, rows: Sequence[Sequence[Cell]], levels: Sequence[int] = ()) -> bytes:
    """One sheet with its headings kept in view; ``levels`` group the rows below the headings as an outline."""
    import xlsxwriter

    out = io.BytesIO()
    options = {"in_memory": True, "strings_to_formulas": False, "strings_to_urls": False, "strings_to_numbers": False}
    workbook = xlsxwriter.Workbook(out, options)
    sheet = workbook.add_worksheet("".join(c for c in title if c not in "[]:*?/\\'")[:31] or "Plan")
    bold = workbook.add_format({"bold": True})
    day = workbook.add_format({"num_format": "yyyy-mm-dd"})
    moment = workbook.add_format({"num_format": "yyyy-mm-dd hh:mm"})
    for r, row in enumerate(rows):
        if r and r - 1 < len(levels) and levels[r - 1]:
            sheet.set_row(r, None, None, {"level": min(7, levels[r - 1])})
        for c, cell in enumerate(row):
            if isinstance(cell, datetime):
                sheet.write_datetime(r, c, cell, day if cell.time() == time() else moment)
            elif isinstance(cell, bool):
                sheet.write_boolean(r, c, cell)
            elif isinstance(cell, int | float):
                if math.isfinite(cell):
                    sheet.write_number(r, c, cell)
            elif cell:
                sheet.write_string(r, c, cell[: budgets.CELL], bold if r == 0 else None)
    sheet.freeze_panes(1, 0)
    sheet.autofit()
    workbook.close()
    return out.getvalue()
