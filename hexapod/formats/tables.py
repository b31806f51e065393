"""Tables read from and written to CSV and XLSX, with limits: a file is hostile until it is read.

Cells are text, numbers, yes/no or moments; an empty cell is None. What is written can carry no live formula:
in a spreadsheet texts are stored as texts, in CSV one that a spreadsheet would run gets an apostrophe in front.
"""

from __future__ import annotations

import csv
import io
import zipfile
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from pathlib import Path

from hexapod.errors import BadFile
from hexapod.system.files import read_within

LARGEST_FILE = 64 * 1024 * 1024  # bytes, packed
LARGEST_UNPACKED = 512 * 1024 * 1024
MOST_ROWS = 200_000
MOST_COLUMNS = 256
LONGEST_CELL = 32_767  # characters; what a spreadsheet's cell can hold

Cell = str | int | float | bool | datetime | None


@dataclass(frozen=True)
class Sheet:
    """``rows`` as they stand in the file; ``first_row`` is the number that the file gives the first of them."""

    name: str
    rows: list[list[Cell]]
    first_row: int = 1


def read_table(path: Path) -> list[Sheet]:
    """The sheets of a CSV or XLSX file. ``BadFile`` with a sentence for what is too large, damaged or no table."""
    data = read_within(path, LARGEST_FILE)
    if path.suffix.lower() in (".xlsx", ".xlsm"):
        return _spreadsheet(path.name, data)
    return [Sheet(path.stem, _checked(path.name, parse_csv(path.name, data)))]


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
    csv.field_size_limit(LONGEST_CELL * 4)
    rows: list[list[Cell]] = []
    try:
        for row in csv.reader(io.StringIO(text, newline=""), delimiter=delimiter):
            rows.append([_unescaped(cell) or None for cell in row])
            if len(rows) > MOST_ROWS:
                raise BadFile(f"{name} has more than {MOST_ROWS} rows.")
    except csv.Error as error:
        raise BadFile(f"{name}, row {len(rows) + 1}: {error}.") from None
    return rows


def _unescaped(cell: str) -> str:
    """The apostrophe that keeps a spreadsheet from running a text, taken away again."""
    return cell[1:] if cell[:1] == "'" and cell[1:].lstrip("'")[:1] in tuple(_RUN) else cell


def _spreadsheet(name: str, data: bytes) -> list[Sheet]:
    from python_calamine import CalamineError, load_workbook

    _refuse_bombs(name, data)
    try:
        workbook = load_workbook(io.BytesIO(data))
        found = []
        for sheet_name in workbook.sheet_names:
            sheet = workbook.get_sheet_by_name(sheet_name)
            if sheet.total_height > MOST_ROWS:
                raise BadFile(f"{name}, sheet “{sheet_name}” has more than {MOST_ROWS} rows.")
            rows = [[_cell(value) for value in row] for row in sheet.to_python(skip_empty_area=False)]
            found.append(Sheet(sheet_name, _checked(name, rows)))
    except (CalamineError, ValueError, OverflowError, KeyError) as error:
        raise BadFile(f"{name} is damaged, or no spreadsheet: {str(error)[:120]}.") from None
    if not any(sheet.rows for sheet in found):
        raise BadFile(f"{name} is empty.")
    return found


def _refuse_bombs(name: str, data: bytes) -> None:
    """Before anything is unpacked: how large it says it gets."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            total = sum(entry.file_size for entry in archive.infolist())
            count = len(archive.infolist())
    except (zipfile.BadZipFile, OSError, ValueError):
        raise BadFile(f"{name} is damaged, or no spreadsheet.") from None
    if total > LARGEST_UNPACKED or count > 10_000 or total > 200 * max(len(data), 100_000):
        raise BadFile(f"{name} would unpack to {total // 1024 // 1024} MB; it is not opened.")


def _cell(value: object) -> Cell:
    if value is None or value == "":
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
    if widest > MOST_COLUMNS:
        used = max((i + 1 for row in rows for i, cell in enumerate(row) if cell is not None), default=0)
        if used > MOST_COLUMNS:
            raise BadFile(f"{name} has {used} columns; a table may have {MOST_COLUMNS}.")
        rows = [row[:used] for row in rows]
    for number, row in enumerate(rows, 1):
        for cell in row:
            if isinstance(cell, str) and len(cell) > LONGEST_CELL:
                raise BadFile(f"{name}, row {number}: a cell has more than {LONGEST_CELL} characters.")
    return rows


_RUN = "=+-@\t\r"


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
    if isinstance(cell, str) and cell.lstrip("'")[:1] in tuple(_RUN):
        return "'" + cell
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
                sheet.write_number(r, c, cell)
            elif cell:
                sheet.write_string(r, c, cell[:LONGEST_CELL], bold if r == 0 else None)
    sheet.freeze_panes(1, 0)
    sheet.autofit()
    workbook.close()
    return out.getvalue()
