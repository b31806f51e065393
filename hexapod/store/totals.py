"""A total over each table, so that a row that a disk lost is missed: checksums only speak of rows that are there.

The total of a table is the sum of the checksums of its rows; an edit changes it by those of the rows that it touches.
"""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable, Mapping

import msgspec

from hexapod.plan.changes import Changes
from hexapod.store.schema import SCENARIO_EDITS, TABLES

NAME = "totals"  # of the row in the table ``state``
HISTORY = "history"

Totals = Mapping[str, int]


def after(totals: Totals, changes: Changes) -> dict[str, int]:
    """The totals once the tables hold what ``changes`` lead to."""
    found = dict(totals)
    for kind, old, new in changes.pairs():
        table = TABLES[kind]
        found[kind] += (0 if new is None else table.row(new)[-1]) - (0 if old is None else table.row(old)[-1])
    return found


def counted(connection: sqlite3.Connection) -> dict[str, int]:
    """The totals of what the tables hold now."""
    return {
        table: int(connection.execute(f"SELECT ifnull(sum(checksum), 0) FROM {table}").fetchone()[0])
        for table in (*TABLES, HISTORY, SCENARIO_EDITS)
    }


def kept(connection: sqlite3.Connection) -> Totals | None:
    """The totals as the last edit left them; None if they are not there, or are damaged themselves."""
    row = connection.execute("SELECT value FROM state WHERE name = ?", (NAME,)).fetchone()
    try:
        found = None if row is None else msgspec.json.decode(row[0], type=dict[str, int])
    except (msgspec.MsgspecError, TypeError, ValueError):
        return None
    return found if found is not None and set(found) == {*TABLES, HISTORY, SCENARIO_EDITS} else None


def keep(connection: sqlite3.Connection, totals: Totals) -> None:
    connection.execute("REPLACE INTO state VALUES (?, ?)", (NAME, msgspec.json.encode(dict(totals)).decode()))


def wrong(totals: Totals, found: Mapping[str, int]) -> list[str]:
    """The tables that have lost a row, or have one twice."""
    return [table for table, total in found.items() if totals[table] != total]


def of_rows(rows: Iterable[tuple[object, ...]]) -> int:
    """The total of rows as they were read, their checksums last."""
    return sum(row[-1] for row in rows if isinstance(row[-1], int))
