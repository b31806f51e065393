"""The scenarios of a workspace side by side for the command line: as one document, and as a table."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from hexapod.errors import BadFile
from hexapod.formats.answers import iso_or_none
from hexapod.formats.files import WORKSPACE
from hexapod.outlook.figures import Figures, figures_of
from hexapod.outlook.side_by_side import Measure, Row, RowKind, Value, rows_of, usual_rows
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY
from hexapod.scenarios import ScenarioSession
from hexapod.session import Session
from hexapod.system.files import shown
from hexapod.system.words import count_of
from hexapod.worktime import clock
from hexapod.worktime.clock import date_of, iso
from hexapod.worktime.lengths import format_length

AS_IT_IS = "As it is"  # the column of the plan


@dataclass(frozen=True)
class Column:
    """The plan (without an ``id``) or a scenario, with its figures; ``behind`` counts edits of the plan since the one
    that it stands on, ``conflicts`` what both changed."""

    id: str
    name: str
    note: str
    figures: Figures
    behind: int = 0
    conflicts: int = 0
    edits: int = 0


def columns_of_file(name: str) -> tuple[Plan, list[Column]]:
    """The plan and every scenario of a workspace. ``BadFile`` for what is no workspace."""
    path = Path(name)
    if path.suffix != WORKSPACE:
        raise BadFile(f"{shown(name)}: only a .hexapod workspace has scenarios.")
    session = Session.open(path, read_only=True)  # a window may have it open
    try:
        today = clock.now() // DAY
        found = [Column("", AS_IT_IS, "", figures_of(session.compute(), today))]
        for scenario in sorted(session.plan.scenarios.values(), key=lambda s: (s.rank, s.id)):
            opened = ScenarioSession(session, scenario.id)
            figures = figures_of(opened.compute(), today, before=opened.base_dates())
            behind = len(opened.moved_on())
            conflicts = len(opened.merged().questions) if behind else 0
            found.append(Column(scenario.id, scenario.name, scenario.note, figures, behind, conflicts,
                                len(opened.steps()) - 1))  # fmt: skip
        return session.plan, found
    finally:
        session.close()


def plan_of_scenario(name: str, scenario: str) -> Plan:
    """The plan as a scenario has it, by its name or id."""
    path = Path(name)
    if path.suffix != WORKSPACE:
        raise BadFile(f"{shown(name)}: only a .hexapod workspace has scenarios.")
    session = Session.open(path, read_only=True)
    try:
        known = session.plan.scenarios.values()
        found = next((s for s in known if scenario in (s.id, s.name)), None)
        if found is None:
            names = ", ".join(f"“{s.name}”" for s in sorted(known, key=lambda s: s.rank)) or "none"
            raise BadFile(f"There is no scenario “{shown(scenario)}” in {path.name}; there is {names}.")
        return ScenarioSession(session, found.id).plan
    finally:
        session.close()


def scenarios_answer(plan: Plan, columns: Sequence[Column]) -> dict[str, Any]:
    """Of ``hexapod scenarios``: times in ISO 8601, lengths in minutes, money in the smallest unit."""
    rows = rows_of(plan, [column.figures for column in columns])
    return {
        "columns": [
            {"id": c.id, "name": c.name, "note": c.note, "edits": c.edits, "behind": c.behind,
             "conflicts": c.conflicts}
            for c in columns
        ],
        "rows": [
            {"kind": row.key.kind.value, "of": row.key.of or None,
             "month": date_of(row.key.month).isoformat()[:7] if row.key.month else None, "name": row.words,
             "measure": row.measure.value, "values": [_value(row, v) for v in row.values],
             "best": sorted(row.best), "on_hold": sorted(row.held)}
            for row in rows
        ],
    }  # fmt: skip


def _value(row: Row, value: Value) -> Any:
    return iso_or_none(None if value is None else int(value)) if row.measure is Measure.DATE else value


def scenario_rows(plan: Plan, columns: Sequence[Column]) -> list[list[str]]:
    """The usual rows as a table, with its headings; the best of each is marked."""
    rows = rows_of(plan, [column.figures for column in columns])
    usual = set(usual_rows(rows))
    table = [["", *(column.name for column in columns)]]
    for row in rows:
        if row.key in usual:
            table.append([row.words, *(_words(row, i) for i in range(len(columns)))])
    return table


def standing_words(column: Column) -> str:
    """Where a scenario stands to the plan; nothing where it is up to date."""
    if not column.behind:
        return ""
    asked = f", {column.conflicts} to be asked" if column.conflicts else ""
    return f"{column.name}: the plan moved on by {count_of(column.behind, 'edit')} since{asked}."


def _words(row: Row, column: int) -> str:
    value, best = row.values[column], " *" if column in row.best else ""
    if column in row.held:
        return "on hold"
    if value is None:
        return "–"
    if row.measure is Measure.DATE:
        return iso(int(value))[:10] + best
    if row.measure is Measure.LENGTH:
        return format_length(int(value)) + best
    if row.measure is Measure.HOURS:
        return f"{value:.0f} h{best}"
    if row.measure is Measure.MONEY:
        return f"{value / 100:.0f}{best}"
    out_of = f" of {row.outs[column]}" if row.key.kind is RowKind.TARGETS else ""
    return f"{value}{out_of}{best}"
