"""Tables generated from the records: one a kind, a column a field. The only place that knows SQL types."""

from __future__ import annotations

import sqlite3
import types
import typing
from collections.abc import Iterator
from typing import Any

import msgspec

from hexapod.plan.kinds import KINDS
from hexapod.plan.records import Record
from hexapod.store.checksums import CHECKSUM, checked, checksum

APPLICATION_ID = 0x48585044  # "HXPD", tells our files from other SQLite files
VERSION = 13

DATES = (
    "start",
    "finish",
    "early_start",
    "early_finish",
    "late_start",
    "late_finish",
    "total_float",
    "free_float",
    "duration",
)

_SQL = {str: "TEXT", int: "INTEGER", float: "REAL", bool: "INTEGER"}


class Table:
    """How one kind of record is laid out: its columns, and the way from a record to a row and back."""

    def __init__(self, kind: str) -> None:
        self.kind = kind
        self.record: type[Record] = KINDS[kind].record
        self.key = KINDS[kind].key
        self._references = {r.field: f"{r.kind}(id)" for r in KINDS[kind].references if r.kind != "calendars"}
        hints = typing.get_type_hints(self.record)
        self._fields = {field.name: field for field in msgspec.structs.fields(self.record)}
        self.columns = tuple(self._fields)
        self._types = {name: _plain_type(hints[name]) for name in self.columns}
        self._as_json = [name for name in self.columns if self._types[name] is None]
        self._numbers = [(name, int if plain is bool else plain) for name, plain in self._types.items()
                         if plain in (bool, int, float)]  # fmt: skip
        self._booleans = [name for name in self.columns if self._types[name] is bool]

    def create(self) -> str:
        """The statement that makes the table."""
        columns = (
            f"{', '.join(map(self._column, self.columns))}, {CHECKSUM} INTEGER, PRIMARY KEY ({', '.join(self.key)})"
        )
        return f"CREATE TABLE {self.kind} ({columns}) STRICT, WITHOUT ROWID"

    def add_column(self, name: str) -> str:
        """The statement that adds a column which an older file does not have, at the record's default."""
        default = self._fields[name].default
        if name in self._as_json:
            default = msgspec.json.encode(default).decode()
        literal = "NULL" if default is None else f"'{default}'" if isinstance(default, str) else str(default + 0)
        return f"ALTER TABLE {self.kind} ADD COLUMN {self._column(name)} DEFAULT {literal}"

    def _column(self, name: str) -> str:
        column = f"{name} {_SQL[self._types[name] or str]}"
        target = self._references.get(name)  # calendars may be built in, and have no row then
        return f"{column} REFERENCES {target}" if target else column

    def upsert(self) -> str:
        marks = ", ".join("?" * (len(self.columns) + 1))
        return f"REPLACE INTO {self.kind} ({', '.join((*self.columns, CHECKSUM))}) VALUES ({marks})"

    def delete(self) -> str:
        return f"DELETE FROM {self.kind} WHERE {' AND '.join(f'{name} = ?' for name in self.key)}"

    def select(self) -> str:
        return f"SELECT {', '.join((*self.columns, CHECKSUM))} FROM {self.kind}"

    def row(self, record: Record) -> tuple[Any, ...]:
        """What is written for a record: its values, and their checksum."""
        values = {name: getattr(record, name) for name in self.columns}
        for name in self._as_json:
            values[name] = msgspec.json.encode(values[name]).decode()
        for name, plain in self._numbers:
            if values[name] is not None:
                values[name] = plain(values[name])
        found = tuple(values.values())
        return (*found, checksum(found))

    def key_of(self, record: Record) -> tuple[Any, ...]:
        return tuple(getattr(record, name) for name in self.key)

    def records(self, rows: list[tuple[Any, ...]]) -> list[Record]:
        """The rows as records; one of ``BAD_ROW`` where one is not what was written, or a value has the wrong type."""
        named = self.columns.index("name") if "name" in self.columns else 0
        found = [dict(zip(self.columns, checked(row, row[named]), strict=True)) for row in rows]
        for values in found:
            for name in self._as_json:
                values[name] = msgspec.json.decode(values[name])
            for name in self._booleans:
                if values[name] is not None:
                    values[name] = bool(values[name])
        return msgspec.convert(found, list[self.record])  # type: ignore[name-defined]

    def damaged(self, connection: sqlite3.Connection, most: int) -> Iterator[list[tuple[Any, ...]]]:
        """The keys of rows that are not what was written, ``most`` rows looked at at a time."""
        key, size = ", ".join(self.key), len(self.key)
        places = [self.columns.index(name) for name in self.key]
        after = f"WHERE ({key}) > ({', '.join('?' * size)}) "
        found = connection.execute(f"{self.select()} ORDER BY {key} LIMIT ?", (most,)).fetchall()
        while found:
            yield [tuple(row[i] for i in places) for row in found if checksum(row[:-1]) != row[-1]]
            last = tuple(found[-1][i] for i in places)
            found = connection.execute(f"{self.select()} {after}ORDER BY {key} LIMIT ?", (*last, most)).fetchall()


def _plain_type(hint: Any) -> type | None:
    """The column's Python type; None for what is kept as JSON text."""
    if typing.get_origin(hint) in (typing.Union, types.UnionType):
        arms = [a for a in typing.get_args(hint) if a is not type(None)]
        hint = arms[0] if len(arms) == 1 else None
    if isinstance(hint, type):
        for plain in (bool, int, float, str):
            if issubclass(hint, plain):
                return plain
    return None


TABLES = {kind: Table(kind) for kind in KINDS}

# Computed dates as they were when the file was closed: to paint from at once, and to read by SQL.
DATES_TABLE = (
    f"CREATE TABLE dates (task TEXT PRIMARY KEY, {', '.join(f'{c} INTEGER' for c in DATES)}, critical INTEGER, "
    "longest_path INTEGER) STRICT, WITHOUT ROWID"
)

# Every edit, undo and redo; nothing is ever taken out. ``of`` names the edit that was undone or redone, ``version`` is
# that of the records in ``changes``.
_EDIT = (
    "at TEXT NOT NULL, who TEXT NOT NULL, words TEXT NOT NULL, kind TEXT NOT NULL, of INTEGER, changes TEXT NOT NULL, "
    "version INTEGER, checksum INTEGER"
)

# The same of scenarios. With ``base``, the number of an edit of the plan, the scenario stands on the plan as it was
# after that one, and ``changes`` are all that it does otherwise.
SCENARIO_EDITS = "scenario_edits"
SCENARIO_EDITS_SINCE = 11  # version of the file
SCENARIO_EDITS_TABLE = (
    f"CREATE TABLE {SCENARIO_EDITS} (number INTEGER PRIMARY KEY, scenario TEXT NOT NULL, base INTEGER, {_EDIT}) STRICT"
)

OTHER_TABLES = (
    f"CREATE TABLE history (number INTEGER PRIMARY KEY, {_EDIT}) STRICT",
    SCENARIO_EDITS_TABLE,
    DATES_TABLE,
    "CREATE TABLE state (name TEXT PRIMARY KEY, value TEXT) STRICT, WITHOUT ROWID",
)
