"""Records as earlier versions of the file held them, brought up to the present form: of the tables and of the history.

A field that is new needs no step: it is at its default in all that was written before. A field whose meaning changed
needs one for each version, named by the version that it starts from.
"""

from __future__ import annotations

import sqlite3
from collections.abc import Callable
from typing import Any

import msgspec

from hexapod.plan.changes import Changes
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import KeptView
from hexapod.store.schema import TABLES, VERSION

Document = dict[str, list[list[dict[str, Any] | None]]]  # changes as plain values: by kind, pairs of records


def changes_of(text: str, version: int) -> Changes:
    """The changes of a row of the history that a version wrote."""
    steps = [step for first, step in HISTORY_STEPS.items() if version <= first]
    if not steps:
        return msgspec.json.decode(text, type=Changes)
    document = msgspec.json.decode(text, type=dict[str, list[list[dict[str, Any] | None]]])
    for step in steps:
        step(document)
    return msgspec.convert(document, Changes)


def priority_of_ten(of_thousand: int) -> int:
    """Up to version 5 a priority went from 0, last, to 1000, first; since then from 1, first, to 9, last."""
    return max(1, min(9, (9 * 250 - 2 * of_thousand + 125) // 250))


def _priorities_in_history(document: Document) -> None:
    for kind in ("projects", "tasks"):
        for record in (record for pair in document.get(kind, ()) for record in pair if record is not None):
            if "priority" in record:
                record["priority"] = priority_of_ten(record["priority"])


def _priorities_in_tables(connection: sqlite3.Connection) -> None:
    for table in ("projects", "tasks"):
        known = connection.execute(f"SELECT DISTINCT priority FROM {table}").fetchall()
        moved = [(priority_of_ten(value), value) for (value,) in known]
        cases = " ".join("WHEN ? THEN ?" for _ in moved)
        if moved:
            values = [each for new, old in moved for each in (old, new)]
            connection.execute(f"UPDATE {table} SET priority = CASE priority {cases} END", values)


def _kept_views(connection: sqlite3.Connection) -> None:
    """Up to version 5 views were kept as part of the state of the window."""
    row = connection.execute("SELECT value FROM state WHERE name = 'views'").fetchone()
    try:
        found = msgspec.json.decode(row[0], type=list[dict[str, Any]]) if row is not None else []
    except (msgspec.MsgspecError, TypeError):
        found = []
    views = [v for v in found if isinstance(v.get("name"), str) and v["name"].strip()]
    table = TABLES["views"]
    for i, (view, rank) in enumerate(zip(views, ranks_between(None, None, len(views)), strict=True)):
        shows = msgspec.json.encode({k: v for k, v in view.items() if k != "name"}).decode()
        connection.execute(table.upsert(), table.row(KeptView(f"view{i}", view["name"], rank, shows)))


def _from_five(connection: sqlite3.Connection) -> None:
    _priorities_in_tables(connection)
    _kept_views(connection)


def _from_six(connection: sqlite3.Connection) -> None:
    """Up to version 6 a per cent was all that was told. It began where it was put, and what is done ended there."""
    connection.execute(
        "UPDATE tasks SET actual_start = (SELECT coalesce(d.early_start, p.start) FROM projects p "
        "LEFT JOIN dates d ON d.task = tasks.id WHERE p.id = tasks.project) "
        "WHERE percent > 0 AND id NOT IN (SELECT parent FROM tasks WHERE parent IS NOT NULL)"
    )
    connection.execute(
        "UPDATE tasks SET actual_finish = coalesce((SELECT d.early_finish FROM dates d WHERE d.task = tasks.id), "
        "actual_start) WHERE percent = 100 AND actual_start IS NOT NULL"
    )


HISTORY_STEPS: dict[int, Callable[[Document], None]] = {5: _priorities_in_history}
TABLE_STEPS: dict[int, Callable[[sqlite3.Connection], None]] = {5: _from_five, 6: _from_six}
assert all(version < VERSION for version in (*HISTORY_STEPS, *TABLE_STEPS))
