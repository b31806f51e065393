"""Files of an older Hexapod, brought up to the present form.

Since the tables follow from the records, one step serves all versions so far: tables and columns that a
file lacks are added, at the records' defaults. The computed dates are a copy, and begin anew.
"""

from __future__ import annotations

import sqlite3

from hexapod.store.schema import DATES_TABLE, TABLES, VERSION


def migrate(connection: sqlite3.Connection) -> None:
    """Bring the tables up to ``VERSION``; to be called within a transaction."""
    for table in TABLES.values():
        present = {row[1] for row in connection.execute(f"PRAGMA table_info({table.kind})")}
        if not present:
            connection.execute(table.create())
        for name in table.columns:
            if present and name not in present:
                connection.execute(table.add_column(name))
    connection.execute("DROP TABLE dates")
    connection.execute(DATES_TABLE)
    connection.execute(f"PRAGMA user_version = {VERSION}")
