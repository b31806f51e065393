"""Copying and pasting: cells, rows as text with their levels, and whole branches with all that belongs to them."""

from __future__ import annotations

import html
from collections.abc import Collection

from PyQt6.QtCore import QByteArray, QMimeData

from hexapod.desktop import dates
from hexapod.desktop.models.columns import NAME
from hexapod.desktop.models.desk import Desk
from hexapod.errors import BadText
from hexapod.fields.field import PlanField
from hexapod.formats.plan_json import read_plan, write_plan
from hexapod.lines.known import Known
from hexapod.lines.line import may_say_more
from hexapod.lines.notes import read_notes
from hexapod.lines.printing import lines_of
from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.outline import Row
from hexapod.plan.plan import Plan
from hexapod.system import budgets
from hexapod.system.budgets import within
from hexapod.system.words import count_of

FEW_LINES = 200  # are read to see whether they say more than names
BRANCH = "application/vnd.hexapod.rows+json"


def rows_copied(desk: Desk, columns: tuple[PlanField, ...]) -> QMimeData:
    """Selected rows: as an outline in plain text, as a table for spreadsheets and mail, and whole for ourselves."""
    chosen = set(desk.selected())
    rows = _rows_of(desk, chosen)
    least = min((row.level for row in rows), default=0)
    names = ["    " * (row.level - least) + desk.plan.tasks[row.task].name for row in rows]
    found = QMimeData()
    found.setText("\n".join(names))
    found.setHtml(_table(desk, columns, rows, least))
    if chosen:
        found.setData(BRANCH, QByteArray(write_plan(edits.fragment_of(desk.plan, chosen))))
    return found


def lines_copied(desk: Desk) -> QMimeData:
    """Selected rows as lines that say all of them, to be read by people and pasted again as notes."""
    assert desk.project is not None
    known = Known.of(desk.plan, desk.project, dates.read_either)
    rows = [row for row in _rows_of(desk, set(desk.selected())) if row.task]
    found = QMimeData()
    found.setText(lines_of(desk.plan, rows, known, dates.typed))
    return found


def _rows_of(desk: Desk, tasks: Collection[str]) -> list[Row]:
    """Their rows on the screen, from top to bottom."""
    at = sorted((row, t) for t in tasks if (row := desk.position.get(t)) is not None)
    found = ((desk.rows[row], t) for row, t in at)
    return [row if row.task else Row(t, 0, "") for row, t in found]  # of a lane, each of its tasks that is chosen


def cells_copied(desk: Desk, columns: tuple[PlanField, ...]) -> QMimeData:
    """The cells of the selected rows in some columns, parted by tabs."""
    chosen = set(desk.selected())
    lines = ["\t".join(_cell(desk, c, row) for c in columns) for row in _rows_of(desk, chosen)]
    found = QMimeData()
    found.setText("\n".join(lines))
    return found


def _cell(desk: Desk, column: PlanField, row: Row) -> str:
    """What can be typed again where it can be, else what is shown."""
    return (desk.columns.typed(column, row.task) if column.typed else desk.columns.says(column, row)).replace("\t", " ")


def _table(desk: Desk, columns: tuple[PlanField, ...], rows: list[Row], least: int) -> str:
    head = "".join(f"<th>{html.escape(c.title)}</th>" for c in columns)
    body = []
    for row in rows:
        cells = []
        for i, column in enumerate(columns):
            indent = "&nbsp;" * 4 * (row.level - least) if i == NAME else ""
            cells.append(f"<td>{indent}{html.escape(desk.columns.says(column, row))}</td>")
        body.append(f"<tr>{''.join(cells)}</tr>")
    return f"<table><tr>{head}</tr>{''.join(body)}</table>"


def notes_in(desk: Desk, data: QMimeData, after: str | None) -> str:
    """Text of which a line says more than a name, such as ``Order glass 5d after 1.2``; else nothing."""
    text = _text_of(data)
    lines = text.split("\n")
    is_table = any("\t" in line.strip("\t ") for line in lines)
    if data.hasFormat(BRANCH) or is_table or not text.strip() or not may_say_more(text):
        return ""
    if len(lines) > FEW_LINES:
        return text
    assert desk.project is not None
    notes = read_notes(text, desk.plan, desk.project, after, dates.read_either, finds_loops=False)
    return text if notes.says_more_than_names else ""


def _text_of(data: QMimeData) -> str:
    """The text of the clipboard. ``OverBudget`` if it is too long to be pasted."""
    text = data.text().replace("\r\n", "\n").replace("\r", "\n").strip("\n")
    within("What is pasted", text.count("\n") + 1, "lines", budgets.PASTED)
    return text


def pasted(desk: Desk, data: QMimeData, columns: tuple[PlanField, ...], at: int) -> Edit:
    """The edit that pasting into column ``at`` of the current row means. ``BadText`` if there is nothing to paste."""
    after = desk.current if desk.current in desk.plan.tasks else None
    assert desk.project is not None
    if data.hasFormat(BRANCH) and at <= NAME:
        return edits.graft(desk.plan, read_plan(bytes(data.data(BRANCH))), desk.project, after, words="")
    text = _text_of(data)
    if not text.strip():
        raise BadText("The clipboard holds no text to paste.")
    lines = text.split("\n")
    if at <= NAME:
        if any("\t" in line.strip("\t ") for line in lines):
            return _table_as_rows(desk, lines, columns, after)
        return edits.add_text(desk.project, text, after)
    return _into_cells(desk, lines, columns, at)


def _table_as_rows(desk: Desk, lines: list[str], columns: tuple[PlanField, ...], after: str | None) -> Edit:
    """Lines of cells become rows: the name first, behind it what the next columns show.

    A first column of numbers such as 3.2 is that of the number; a line of headings is left out.
    """
    cells = [line.split("\t") for line in lines]
    titles = {c.title.casefold(): c for c in desk.columns.all().values()}
    heads = [titles.get(cell.strip().casefold()) for cell in cells[0]]
    if any(c is not None and c.id == "name" for c in heads):
        cells = cells[1:]
        targets = heads
    else:
        is_numbered = all(line[0].strip().replace(".", "").isdecimal() for line in cells if line[0].strip())
        targets = list(columns[0 if is_numbered else NAME :])
    name_at = next(i for i, c in enumerate(targets) if c is not None and c.id == "name")
    number_at = next((i for i, c in enumerate(targets) if c is not None and c.id == "number"), None)
    kept = [line for line in cells if name_at < len(line) and line[name_at].strip()]
    if not kept:
        raise BadText("The clipboard holds no names of rows.")
    ids = [edits.new_id() for _ in kept]
    outline = "\n".join(_outline_line(line, name_at, number_at) for line in kept)
    project = desk.project
    assert project is not None
    wanted = [
        (column, ids[r], line[i].strip())
        for i, column in enumerate(targets)
        if column is not None and column.edit is not None and column.id != "name"
        for r, line in enumerate(kept)
        if i < len(line) and line[i].strip()
    ]
    return edits.in_steps(
        f"Paste {count_of(len(kept), 'row')}",
        [lambda plan: edits.add_text(project, outline, after, ids=ids), lambda plan: _cells_set(desk, plan, wanted)],
    )


def _outline_line(line: list[str], name_at: int, number_at: int | None) -> str:
    """A row's name, indented as it is, or by its outline number where there is a column of them."""
    name = line[name_at].rstrip()
    if number_at is None or number_at >= len(line) or not line[number_at].strip():
        return name
    return "  " * line[number_at].strip().rstrip(".").count(".") + name.strip()


def _cells_set(desk: Desk, plan: Plan, wanted: list[tuple[PlanField, str, str]]) -> Edit:
    """Each text into its cell; a summary's own length and dates, which its parts give, are passed over."""
    each = []
    for column, task_id, text in wanted:
        if plan.is_summary(task_id) and not column.summaries and column.many:
            continue
        try:
            each.append(desk.columns.edit(column, [task_id], text, plan))
        except BadText as error:
            raise BadText(f"{column.title} of “{plan.tasks[task_id].name}”: {error}") from None
    return edits.together("Paste", each)


def _into_cells(desk: Desk, lines: list[str], columns: tuple[PlanField, ...], at: int) -> Edit:
    """Values into the cells from the current one to the right and down; one value into all selected rows."""
    values = [line.split("\t") for line in lines]
    selected = [row.task for row in _rows_of(desk, desk.selected())]
    if len(values) == 1 and len(selected) > 1:
        rows, values = selected, values * len(selected)
    else:
        first = desk.position[desk.current or ""]
        rows = [row.task for row in desk.rows[first : first + len(values)]]
        if len(rows) < len(values):
            raise BadText(f"{len(values)} values are more than {count_of(len(rows), 'row')} from here on.")
    wanted = []
    for task_id, line in zip(rows, values, strict=True):
        for column, text in zip(columns[at:], line, strict=False):
            if column.edit is None:
                raise BadText(f"“{column.title}” is computed and cannot be pasted into.")
            wanted.append((column, task_id, text.strip()))
    return edits.together(f"Paste into {count_of(len(rows), 'row')}", [_cells_set(desk, desk.plan, wanted)])


def filled_down(desk: Desk, columns: tuple[PlanField, ...]) -> Edit:
    """What the topmost selected row has in some columns, into the same cells of the other selected rows."""
    rows = [row.task for row in _rows_of(desk, desk.selected())]
    if len(rows) < 2:
        raise BadText("Select the row to take from and the rows below it to fill.")
    wanted = []
    for column in columns:
        if column.edit is None or column.typed is None:
            raise BadText(f"“{column.title}” is computed and cannot be filled.")
        text = desk.columns.typed(column, rows[0])
        wanted += [(column, task_id, text) for task_id in rows[1:]]
    titles = ", ".join(column.title for column in columns)
    return edits.together(f"Fill {titles} of {count_of(len(rows) - 1, 'row')}", [_cells_set(desk, desk.plan, wanted)])
