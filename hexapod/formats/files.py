"""Reading and writing plans by file ending, with limits on what is read."""

from __future__ import annotations

import sys
from collections.abc import Sequence
from pathlib import Path

from hexapod.errors import BadFile
from hexapod.formats.exporting import ALL, all_rows, table_of, text_of
from hexapod.formats.import_columns import guess
from hexapod.formats.importing import propose
from hexapod.formats.plan_json import read_plan, write_plan
from hexapod.formats.tables import Cell, Sheet, decoded, read_table, write_csv, write_xlsx
from hexapod.plan.changes import Changes, diff
from hexapod.plan.outline import Row, levels_of_text
from hexapod.plan.plan import Plan
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import Project
from hexapod.plan.validity import check_whole
from hexapod.schedule.schedule import Dates, Schedule
from hexapod.schedule.telling import told_in_full
from hexapod.store.salvage import open_sound
from hexapod.store.workspace import Workspace
from hexapod.system import budgets
from hexapod.system.budgets import within
from hexapod.system.files import read_within, shown, write_whole
from hexapod.worktime import clock
from hexapod.worktime.clock import today

WORKSPACE, JSON = ".hexapod", ".json"
TABLES = (".csv", ".tsv", ".xlsx", ".xlsm", ".ics", ".txt")
WRITTEN = (WORKSPACE, JSON, ".csv", ".xlsx", ".ics", ".txt")


def load(name: str, *, sound_only: bool = False) -> Plan:
    """The plan in a workspace, a plan JSON file or a table; ``-`` is plan JSON on standard input.

    ``sound_only``: of a damaged workspace what can still be read.
    It keeps all rules; whether it can be scheduled is another question. ``BadFile`` or ``EditRefused`` if not. Actual
    dates that follow from what it tells of its tasks are written into it.
    """
    return told_in_full(_read(name, sound_only), clock.now())


def _read(name: str, sound_only: bool) -> Plan:
    if name == "-":
        return read_plan(sys.stdin.buffer.read(budgets.DOCUMENT + 1))
    path = Path(name)
    if path.suffix == WORKSPACE:
        workspace = open_sound(path) if sound_only else Workspace.open(path, read_only=True)
        try:
            return without_scenarios(workspace.read_plan())
        finally:
            workspace.close()
    if path.suffix.lower() in TABLES:
        return _from_table(path)
    return read_plan(read_within(path, budgets.DOCUMENT))


def without_scenarios(plan: Plan) -> Plan:
    """What a scenario does otherwise lies in its file and not in the plan: elsewhere it would be an empty name."""
    changes = Changes(scenarios=tuple((scenario, None) for scenario in plan.scenarios.values()))
    return changes.applied_to(plan) if changes else plan


def sheets_of(path: Path) -> list[Sheet]:
    """The tables in a file: of a spreadsheet, a calendar, or of text with its indentation."""
    suffix = path.suffix.lower()
    if suffix not in (".ics", ".txt"):
        return read_table(path)
    data = read_within(path, budgets.TABLE)
    if suffix == ".ics":
        from hexapod.formats.icalendar_files import read_icalendar

        return [read_icalendar(shown(path.name), data)]
    text = decoded(shown(path.name), data)
    within(shown(path.name), text.count("\n"), "lines", budgets.ROWS)
    within(shown(path.name), max(map(len, text.splitlines()), default=0), "characters in a line", budgets.LINE_OF_TEXT)
    lines = levels_of_text(text)
    rows: list[list[Cell]] = [["level", "name"]]
    rows += [[level + 1, name] for level, name in lines]
    return [Sheet(shown(path.stem), rows, 0)]


def _from_table(path: Path) -> Plan:
    """A table as a plan of one project that begins today; headings are guessed."""
    start = today() + 8 * 60
    plan = Plan.of([Project("project", shown(path.stem), start, ranks_between(None, None, 1)[0])])
    sheet = sheets_of(path)[0]
    proposal = propose(plan, "project", sheet, guess(sheet, plan))
    troubled = next((o for o in proposal.outcomes if o.troubles), None)
    if troubled is not None:
        raise BadFile(f"{shown(path.name)}, row {troubled.row}: {troubled.troubles[0]}")
    draft = (plan if proposal.edit is None else proposal.edit.applied_to(plan)).draft()
    if len(draft.before.projects) > 1 and not draft.children_of("project", None):
        draft.remove("projects", "project")  # every row says its own
    made = draft.finish()[0]
    check_whole(made)
    return made


def save(plan: Plan, name: str, who: str, words: str) -> None:
    """Write a plan by the ending of the name, whole or not at all. A workspace takes only what can be scheduled."""
    path = Path(name)
    if path.suffix == WORKSPACE:
        check_whole(plan)
        dated(plan)  # one that has no dates, such as a loop of links, would refuse every edit
        workspace = Workspace.create(path)
        try:
            workspace.write(diff(Plan(), plan), words, who)
        finally:
            workspace.close()
    elif path.suffix == JSON or name == "-":
        data = write_plan(plan)
        if name == "-":
            sys.stdout.buffer.write(data)
        else:
            write_whole(path, data)
    elif path.suffix.lower() in WRITTEN:
        write_whole(path, written(plan, path.suffix.lower(), shown(path.stem)))
    else:
        raise BadFile(f"{shown(path.name)}: the ending must be one of {', '.join(WRITTEN)}.")


def dated(plan: Plan) -> Schedule:
    """The dates of a plan; the sentence of why it has none as a ``HexapodError``."""
    from hexapod.schedule.engine import schedule

    return schedule(plan)


def written(
    plan: Plan,
    suffix: str,
    title: str,
    dates: Dates | None = None,
    shown: Sequence[Row] | None = None,
    columns: Sequence[str] = ALL,
) -> bytes:
    """A plan's rows in the format of an ending: those that are given in those columns, or all of it."""
    shown = all_rows(plan) if shown is None else shown
    if suffix == ".txt":
        return text_of(plan, shown).encode()
    dates = dated(plan) if dates is None else dates
    if suffix == ".ics":
        from hexapod.formats.icalendar_files import write_icalendar

        return write_icalendar(plan, dates, shown)
    table, levels = table_of(plan, dates, shown, columns)
    return write_csv(table) if suffix == ".csv" else write_xlsx(title, table, levels)
