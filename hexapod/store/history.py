"""The history in the file: every edit, undo and redo, with what it changed and the version that wrote it."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from datetime import datetime
from typing import NamedTuple

import msgspec

from hexapod.plan.changes import Changes
from hexapod.store.checksums import checked, checksum
from hexapod.store.record_versions import changes_of
from hexapod.store.schema import VERSION
from hexapod.worktime.clock import minutes_of

EDIT, UNDO, REDO = "edit", "undo", "redo"
COLUMNS = ("at", "who", "words", "kind", "of", "changes", "version", "checksum")


class HistoryRow(NamedTuple):
    number: int
    at: str
    who: str
    words: str
    kind: str
    of: int | None

    @property
    def moment(self) -> int:
        """When it was made, in minutes since 1970."""
        return minutes_of(datetime.fromisoformat(self.at))


def written(
    connection: sqlite3.Connection, at: str, who: str, words: str, kind: str, of: int | None, changes: Changes
) -> tuple[HistoryRow, int]:
    """The row of an edit, put behind the others, and its checksum. An undo and a redo name the edit ``of`` that they
    are about."""
    text = msgspec.json.encode(changes).decode() if kind == EDIT else "{}"
    values = (at, who, words, kind, of, text, VERSION)
    marks = ", ".join("?" * len(COLUMNS))
    statement = f"INSERT INTO history ({', '.join(COLUMNS)}) VALUES ({marks})"
    found = checksum(values)
    cursor = connection.execute(statement, (*values, found))
    assert cursor.lastrowid is not None
    return HistoryRow(cursor.lastrowid, at, who, words, kind, of), found


def rows(connection: sqlite3.Connection) -> list[HistoryRow]:
    found = connection.execute("SELECT number, at, who, words, kind, of FROM history ORDER BY number")
    return [HistoryRow(*row) for row in found]


def changes_in(connection: sqlite3.Connection, number: int) -> Changes | None:
    """What an edit changed; None if it is not there. ``BAD_ROW`` if it is damaged."""
    statement = f"SELECT {', '.join(COLUMNS)} FROM history WHERE number = ?"
    row = connection.execute(statement, (number,)).fetchone()
    if row is None:
        return None
    *_, text, version = checked(row, f"edit {number}")
    return changes_of(text, version)


def damaged_rows(connection: sqlite3.Connection, most: int) -> Iterator[list[tuple[int]]]:
    """Numbers of edits that are not what was written, ``most`` looked at at a time."""
    statement = f"SELECT number, {', '.join(COLUMNS)} FROM history WHERE number > ? ORDER BY number LIMIT ?"
    last = -1
    while found := connection.execute(statement, (last, most)).fetchall():
        yield [(row[0],) for row in found if checksum(row[1:-1]) != row[-1]]
        last = found[-1][0]
