"""Forms for people without this program: a page a person, a workbook with a sheet a person, and what comes back.

A page holds everything within itself and asks the network for nothing: its only script is named by its hash (Content
Security Policy, level 3). It saves a small JSON document, described in docs/plan-json.md. A workbook is filled in where
it lies. Both are read as hostile: by size, by form, never by running anything.
"""

from __future__ import annotations

import html
import io
import re
from collections.abc import Sequence
from datetime import datetime, time
from pathlib import Path

import msgspec

from hexapod.control.forms import FormRow, PersonForm, Returned, ReturnedAnswer
from hexapod.errors import BadFile
from hexapod.fields.field import DateTexts
from hexapod.formats.tables import Cell, Sheet, read_table
from hexapod.formats.web.files import web_file
from hexapod.plan.plan import Plan
from hexapod.system import budgets
from hexapod.system.budgets import within
from hexapod.system.files import read_within, shown
from hexapod.worktime.calendars import units_of
from hexapod.worktime.clock import iso
from hexapod.worktime.lengths import format_length

FORMAT, VERSION = "hexapod-answers", 1
LARGEST = budgets.MEGABYTE  # bytes of what one person told
MOST_ANSWERS = 5000
LONGEST = 4000  # characters of one text
COLUMNS = ("Key", "Round", "Task", "Where", "From", "To", "Left so far", "Began on", "Done on", "Left", "Hours", "Note")
TOLD = ("began", "done", "left", "hours", "note")  # what the last columns hold
HELP = {
    "began": "The day on which it began, such as 2026-10-05",
    "done": "The day on which it ended, such as 2026-10-08",
    "left": "How much work is left: 3 d, 4 h or 0",
    "hours": "Hours that were worked on it since the last form",
    "note": "Whatever the planner should know",
}


class _Document(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    format: str
    version: int
    workspace: str
    person: str
    name: str = ""
    made: str = ""
    answers: tuple[ReturnedAnswer, ...] = ()


# Written


def forms_folder(workspace: Path) -> Path:
    """Where the forms of a workspace lie, if nobody says otherwise."""
    return workspace.parent / f"{workspace.stem} forms"


def page_name(form: PersonForm) -> str:
    return f"form {_plain(form.name)}.html"


def written_page(form: PersonForm, plan: Plan, dates: DateTexts) -> bytes:
    """The page of one person."""
    return web_file(
        "form.html",
        script="form.js",
        title=_text(f"What {form.name} has to tell"),
        as_of=_text(dates.short(form.made)),
        workspace=_text(form.workspace),
        person=_text(form.person),
        name=_text(form.name),
        made=iso(form.made),
        file=_text(f"told {_plain(form.name)}.json"),
        sections="\n".join(_section(row, plan, dates) for row in form.rows) or "<p>There is nothing to tell now.</p>",
    )


def _section(row: FormRow, plan: Plan, dates: DateTexts) -> str:
    far = f"{_length(row, row.rest, plan)} left of {_length(row, row.minutes, plan)}"
    state = f"began {dates.short(row.begun)}, {far}" if row.begun is not None else "not begun, as far as anybody told"
    began = "" if row.begun is not None else _input("Began on", "began", "date")
    inputs = (
        began + _input("Done on", "done", "date") + _input("Left", "left", "text", _LENGTH)
        + _input("Hours worked", "hours", "text", _NUMBER) + _input("Note", "note", "text", 'maxlength="2000"')
    )  # fmt: skip
    planned = f"{dates.short(row.start)} to {dates.short(row.finish)}"
    since = "" if row.since is None else iso(row.since)
    return (
        f'<section data-task="{_text(row.task)}" data-name="{_text(row.name)}" data-since="{since}">'
        f"<h2>{_text(row.name)}</h2><p>{_text(f'{row.where} · {planned} · {state}')}</p>"
        f'<div class="answers">{inputs}</div></section>'
    )


_LENGTH = 'class="short" pattern="\\s*\\d+([.,]\\d+)?\\s*(d|h|w|min|days?|hours?|weeks?)?\\s*"'
_NUMBER = 'class="short" inputmode="decimal" pattern="\\s*\\d+([.,]\\d+)?\\s*"'


def _input(caption: str, name: str, kind: str, more: str = "") -> str:
    role = ' class="note"' if name == "note" else ""
    return f'<label{role}>{caption}<input type="{kind}" name="{name}" title="{HELP[name]}" {more}></label>'


def _length(row: FormRow, minutes: int, plan: Plan) -> str:
    return format_length(minutes, units_of(plan, plan.tasks[row.task].project))


def _text(text: str) -> str:
    return html.escape(text, quote=True)


def _plain(name: str) -> str:
    """A name as a part of a file's name, whatever is in it."""
    return re.sub(r"[^\w .-]", "", name).strip(" .")[:80] or "somebody"


def written_workbook(forms: Sequence[PersonForm], plan: Plan) -> bytes:
    """All forms in one workbook, a sheet a person: only what is to be told can be typed into."""
    import xlsxwriter

    out = io.BytesIO()
    options = {"in_memory": True, "strings_to_formulas": False, "strings_to_urls": False, "strings_to_numbers": False}
    book = xlsxwriter.Workbook(out, options)
    bold, wrapped = book.add_format({"bold": True, "bottom": 1}), book.add_format({"text_wrap": True})
    day = book.add_format({"num_format": "ddd yyyy-mm-dd", "align": "left"})
    typed = book.add_format({"locked": False, "bg_color": "#FFF8E8", "border": 1, "border_color": "#DDD7CA"})
    typed_day = book.add_format({"locked": False, "bg_color": "#FFF8E8", "border": 1, "border_color": "#DDD7CA",
                                 "num_format": "yyyy-mm-dd", "align": "left"})  # fmt: skip
    taken: set[str] = set()
    for form in forms:
        sheet = book.add_worksheet(_sheet_name(form.name, taken))
        sheet.write_row(0, 0, [FORMAT, form.workspace, form.person, form.name, iso(form.made)])
        sheet.set_row(0, None, None, {"hidden": True})
        sheet.write_row(1, 0, COLUMNS, bold)
        for r, row in enumerate(form.rows, 2):
            since = "" if row.since is None else iso(row.since)
            for c, text in enumerate((row.task, since, row.name, row.where)):
                sheet.write_string(r, c, text[: budgets.CELL], wrapped if c == 3 else None)
            for c, at in ((4, row.start), (5, row.finish)):
                sheet.write_datetime(r, c, datetime.fromisoformat(iso(at)), day)
            sheet.write_string(r, 6, _length(row, row.rest, plan))
            for c, name in enumerate(TOLD, 7):
                sheet.write_blank(r, c, None, typed_day if name in ("began", "done") else typed)
        sheet.set_column(0, 1, None, None, {"hidden": True})
        for c, width in enumerate((34, 34, 15, 15, 11, 12, 12, 9, 8, 40), 2):
            sheet.set_column(c, c, width)
        for c, name in enumerate(TOLD, 7):
            sheet.write_comment(1, c, HELP[name])
        sheet.freeze_panes(2, 3)
        sheet.protect("", {"format_columns": True, "format_rows": True})
    if not forms:
        book.add_worksheet("Nobody")
    book.close()
    return out.getvalue()


def _sheet_name(name: str, taken: set[str]) -> str:
    """What a spreadsheet takes as the name of a sheet: 31 characters, some of them not, none twice."""
    plain = "".join(c for c in name if c not in "[]:*?/\\'")[:31].strip() or "Somebody"
    found, number = plain, 1
    while found.casefold() in taken:
        number += 1
        found = f"{plain[: 30 - len(str(number))]} {number}"
    taken.add(found.casefold())
    return found


# What came back


def is_returned(path: Path) -> bool:
    """Whether a file of a folder may hold what somebody told."""
    return path.suffix.lower() in (".json", ".xlsx") and not path.name.startswith((".", "~"))


def read_returned(path: Path) -> list[Returned]:
    """What a file holds: of a document one form, of a workbook one a sheet; those with nothing filled in are left out.
    ``BadFile`` with a sentence for anything else."""
    if path.suffix.lower() == ".xlsx":
        found = [returned for sheet in read_table(path) if (returned := _of_sheet(path, sheet)) is not None]
        if not found:
            raise BadFile(f"{shown(path.name)} has no sheet of a form in it.")
    else:
        found = [_of_document(path)]
    return [each for each in found if each.answers]


def _of_document(path: Path) -> Returned:
    name = shown(path.name)
    try:
        document = msgspec.json.decode(read_within(path, LARGEST), type=_Document)
    except RecursionError:
        raise BadFile(f"{name} is nested too deep.") from None
    except (msgspec.MsgspecError, ValueError) as error:
        what = " ".join(str(error).replace("`", "").split())[:200]
        raise BadFile(f"{name} is not what a form saves, or was changed by hand: {what}.") from None
    if document.format != FORMAT:
        raise BadFile(f"{name} is not what a form saves.")
    if document.version != VERSION:
        raise BadFile(f"{name} was saved by a form of another version; this Hexapod reads {VERSION}.")
    within(name, len(document.answers), "answers", MOST_ANSWERS)
    kept = tuple(a for a in document.answers if not a.is_empty)
    return _short(Returned(name, document.workspace, document.person, document.name, document.made, kept))


def _of_sheet(path: Path, sheet: Sheet) -> Returned | None:
    if len(sheet.rows) < 2 or str(sheet.rows[0][0] or "") != FORMAT:
        return None
    place = f"{shown(path.name)}, sheet “{sheet.name[:40]}”"
    _, workspace, person, name, made, *_ = (*(_typed(cell) for cell in sheet.rows[0]), *[""] * 5)
    if tuple(_typed(cell) for cell in sheet.rows[1])[: len(COLUMNS)] != COLUMNS:
        raise BadFile(f"{place}: its columns are others than the form had.")
    within(place, len(sheet.rows), "rows", MOST_ANSWERS)
    answers = []
    for row in sheet.rows[2:]:
        cells = [*(_typed(cell) for cell in row), *[""] * len(COLUMNS)][: len(COLUMNS)]
        answer = ReturnedAnswer(cells[0], cells[2], cells[1], *cells[7:])
        if not answer.is_empty:
            answers.append(answer)
    return _short(Returned(place, workspace, person, name, made, tuple(answers)))


def _typed(cell: Cell) -> str:
    """A cell as it would be typed."""
    if isinstance(cell, datetime):
        return cell.date().isoformat() if cell.time() == time() else cell.isoformat(timespec="minutes")
    return "" if cell is None else str(cell).strip()


def _short(returned: Returned) -> Returned:
    """``BadFile`` where a text is longer than anybody types."""
    for text in (returned.workspace, returned.person, returned.name, returned.made):
        within(returned.place, len(text), "characters in a name", LONGEST)
    for i, answer in enumerate(returned.answers, 1):
        for field in msgspec.structs.fields(answer):
            within(
                f"{returned.place}, answer {i}: {field.name}", len(getattr(answer, field.name)), "characters", LONGEST
            )
    return returned
