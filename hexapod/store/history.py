"""The history in the file: every edit, undo and redo, with what it changed and the version that wrote it; likewise the
edits of scenarios, whose rows say more."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime
from typing import Any, NamedTuple

import msgspec

from hexapod.plan.changes import Changes
from hexapod.store.checksums import checked, checksum
from hexapod.store.record_versions import changes_of
from hexapod.store.schema import SCENARIO_EDITS, VERSION
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


@dataclass(frozen=True)
class EditTable:
    """A table of edits: ``more`` are the columns that it has beside those of every edit, before them."""

    name: str
    more: tuple[str, ...] = ()

    @property
    def columns(self) -> tuple[str, ...]:
        return (*self.more, *COLUMNS)

    def write(
        self,
        connection: sqlite3.Connection,
        row: HistoryRow,
        changes: Changes,
        more: tuple[Any, ...] = (),
    ) -> tuple[HistoryRow, int]:
        """Put an edit behind the others; its row with the number that it got, and its checksum. An undo and a redo name
        the edit ``of`` that they are about, and need no changes."""
        text = msgspec.json.encode(changes).decode() if row.kind == EDIT else "{}"
        values = (*more, *row[1:], text, VERSION)
        marks = ", ".join("?" * len(self.columns))
        found = checksum(values)
        statement = f"INSERT INTO {self.name} ({', '.join(self.columns)}) VALUES ({marks})"
        cursor = connection.execute(statement, (*values, found))
        assert cursor.lastrowid is not None
        return row._replace(number=cursor.lastrowid), found

    def changes(self, connection: sqlite3.Connection, number: int) -> Changes | None:
        """What an edit changed; None if it is not there. ``BAD_ROW`` if it is damaged."""
        statement = f"SELECT {', '.join(self.columns)} FROM {self.name} WHERE number = ?"
        row = connection.execute(statement, (number,)).fetchone()
        if row is None:
            return None
        *_, text, version = checked(row, f"edit {number}")
        return changes_of(text, version)

    def damaged(self, connection: sqlite3.Connection, most: int) -> Iterator[list[tuple[int]]]:
        """Numbers of edits that are not what was written, ``most`` looked at at a time."""
        listed = ", ".join(self.columns)
        statement = f"SELECT number, {listed} FROM {self.name} WHERE number > ? ORDER BY number LIMIT ?"
        last = -1
        while found := connection.execute(statement, (last, most)).fetchall():
            yield [(row[0],) for row in found if checksum(row[1:-1]) != row[-1]]
            last = found[-1][0]


PLAN_EDITS = EditTable("history")
EDITS_OF_SCENARIOS = EditTable(SCENARIO_EDITS, ("scenario", "base"))


def rows(connection: sqlite3.Connection) -> list[HistoryRow]:
    """Of the plan, from the first to the last."""
    found = connection.execute("SELECT number, at, who, words, kind, of FROM history ORDER BY number")
    return [HistoryRow(*row) for row in found]


def scenario_rows(connection: sqlite3.Connection, scenario: str) -> list[tuple[HistoryRow, int | None]]:
    """Of a scenario, each with the edit of the plan that it makes the scenario stand on, if it does."""
    found = connection.execute(
        f"SELECT base, number, at, who, words, kind, of FROM {SCENARIO_EDITS} WHERE scenario = ? ORDER BY number",
        (scenario,),
    )
    return [(HistoryRow(*row), base) for base, *row in found]
