"""Whether a database is laid out as ours are, to the letter.

A file from elsewhere may carry triggers, views or computed columns that run when it is read or written. What we did
not lay out ourselves is refused before anything else of the file is used.
"""

from __future__ import annotations

import re
import sqlite3
from functools import cache
from pathlib import Path

from hexapod.errors import BadFile
from hexapod.plan.kinds import KINDS
from hexapod.store.schema import OTHER_TABLES, SCENARIO_EDITS, SCENARIO_EDITS_SINCE, TABLES, VERSION
from hexapod.store.sentences import Damaged

LARGEST_SQL = 20_000  # characters of one statement of the schema

_STRANGE = re.compile(r"\b(CHECK|COLLATE|GENERATED|CONFLICT)\b|\bAS\s*\(", re.IGNORECASE)


class Foreign(BadFile):
    """A database that another program has laid out, or changed."""


def check_objects(path: Path, connection: sqlite3.Connection) -> int:
    """The version of the file. ``BadFile`` if it is newer, lacks a table, or holds anything that is not a table."""
    version = int(connection.execute("PRAGMA user_version").fetchone()[0])
    if version > VERSION:
        raise BadFile(
            f"{path.name} was written by a newer Hexapod (format {version}, this one reads up to {VERSION}). "
            "Update Hexapod to open it; the file is untouched."
        )
    found = connection.execute("SELECT type, name, length(sql), substr(sql, 1, ?) FROM sqlite_schema", (LARGEST_SQL,))
    tables = set()
    for kind, name, length, sql in found.fetchall():
        is_ours = kind == "table" and name in _expected() and length <= LARGEST_SQL and not _STRANGE.search(sql)
        if not is_ours:
            what = f"{kind} “{str(name)[:40]}”"
            raise Foreign(f"{path.name} was changed by another program: it has a {what} that no workspace has.")
        tables.add(name)
    since = {kind.name: kind.since for kind in KINDS.values()} | {SCENARIO_EDITS: SCENARIO_EDITS_SINCE}
    missing = set(_expected()) - tables - {name for name, first in since.items() if first > version}
    if missing:
        raise Damaged(path, f"it has no table {min(missing)}")
    return version


def check_columns(path: Path, connection: sqlite3.Connection) -> None:
    """``BadFile`` if a table has not exactly the columns of this version."""
    for name, wanted in _expected().items():
        found = connection.execute(f"PRAGMA table_xinfo({name})").fetchall()
        columns = {row[1]: (row[2], row[3], row[5], row[6]) for row in found}
        if columns != wanted:
            odd = sorted(set(columns.items()) ^ set(wanted.items()))[0][0]
            raise Foreign(
                f"{path.name} was changed by another program: its table {name} has another column “{str(odd)[:40]}”."
            )


@cache
def _expected() -> dict[str, dict[str, tuple[str, int, int, int]]]:
    """By table its columns: type, whether it must have a value, place in the key, whether it is hidden."""
    blank = sqlite3.connect(":memory:")
    for statement in (*(table.create() for table in TABLES.values()), *OTHER_TABLES):
        blank.execute(statement)
    found = {}
    for (name,) in blank.execute("SELECT name FROM sqlite_schema WHERE type = 'table'").fetchall():
        rows = blank.execute(f"PRAGMA table_xinfo({name})").fetchall()
        found[name] = {row[1]: (row[2], row[3], row[5], row[6]) for row in rows}
    blank.close()
    return found
