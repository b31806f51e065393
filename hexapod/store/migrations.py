"""Files of an older Hexapod, brought up to the present form, one version after the other.

Since the tables follow from the records, tables and columns that a file lacks are added at the records' defaults. What
a value means now is up to the steps of ``record_versions``. The computed dates are a copy, and begin anew.
"""

from __future__ import annotations

import sqlite3

from hexapod.store import totals
from hexapod.store.checksums import CHECKSUM, checksum
from hexapod.store.history import COLUMNS
from hexapod.store.record_versions import TABLE_STEPS
from hexapod.store.schema import DATES_TABLE, SCENARIO_EDITS, SCENARIO_EDITS_TABLE, TABLES, VERSION

CHECKED_SINCE = 6  # every row carries a checksum


def migrate(connection: sqlite3.Connection) -> None:
    """Bring the tables up to ``VERSION``; to be called within a transaction."""
    version = int(connection.execute("PRAGMA user_version").fetchone()[0])
    for table in TABLES.values():
        present = _columns(connection, table.kind)
        if not present:
            connection.execute(table.create())
            continue
        for name in table.columns:
            if name not in present:
                connection.execute(table.add_column(name))
        if CHECKSUM not in present:
            connection.execute(f"ALTER TABLE {table.kind} ADD COLUMN {CHECKSUM} INTEGER")
    if not _columns(connection, SCENARIO_EDITS):
        connection.execute(SCENARIO_EDITS_TABLE)
    for name in ("version", CHECKSUM):
        if name not in _columns(connection, "history"):
            connection.execute(f"ALTER TABLE history ADD COLUMN {name} INTEGER")
    for first, step in sorted(TABLE_STEPS.items()):
        if version <= first:
            step(connection)
    _write_checksums(connection, version)
    totals.keep(connection, totals.counted(connection))
    connection.execute("DROP TABLE dates")
    connection.execute(DATES_TABLE)
    connection.execute(f"PRAGMA user_version = {VERSION}")


def _write_checksums(connection: sqlite3.Connection, version: int) -> None:
    """Of all rows: they were written without, or a step changed them."""
    for table in TABLES.values():
        statement = f"UPDATE {table.kind} SET {CHECKSUM} = ? WHERE {' AND '.join(f'{name} = ?' for name in table.key)}"
        places = [table.columns.index(name) for name in table.key]
        rows = connection.execute(table.select()).fetchall()
        connection.executemany(statement, [(checksum(row[:-1]), *(row[i] for i in places)) for row in rows])
    if version < CHECKED_SINCE:
        connection.execute("UPDATE history SET version = ?", (version,))
        found = connection.execute(f"SELECT number, {', '.join(COLUMNS[:-1])} FROM history").fetchall()
        statement = f"UPDATE history SET {CHECKSUM} = ? WHERE number = ?"
        connection.executemany(statement, [(checksum(row[1:]), row[0]) for row in found])


def _columns(connection: sqlite3.Connection, table: str) -> set[str]:
    return {row[1] for row in connection.execute(f"PRAGMA table_info({table})")}
