"""Tables generated from the records: one a kind, a column a field. The only place that knows SQL types."""

from __future__ import annotations

import types
import typing
from typing import Any

import msgspec

from hexapod.plan.records import KINDS, Record

APPLICATION_ID = 0x48585044  # "HXPD", tells our files from other SQLite files
VERSION = 6

KEYS = {"links": ("predecessor", "successor", "type"), "assignments": ("task", "resource")}
REFERENCES = {
    ("tasks", "project"): "projects(id)",
    ("tasks", "parent"): "tasks(id)",
    ("links", "predecessor"): "tasks(id)",
    ("links", "successor"): "tasks(id)",
    ("assignments", "task"): "tasks(id)",
    ("assignments", "resource"): "resources(id)",
    ("reservations", "project"): "projects(id)",
    ("reservations", "resource"): "resources(id)",
    ("comments", "task"): "tasks(id)",
}
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
        self.record: type[Record] = KINDS[kind]
        self.key = KEYS.get(kind, ("id",))
        hints = typing.get_type_hints(self.record)
        self._fields = {field.name: field for field in msgspec.structs.fields(self.record)}
        self.columns = tuple(self._fields)
        self._types = {name: _plain_type(hints[name]) for name in self.columns}
        self._as_json = [name for name in self.columns if self._types[name] is None]
        self._booleans = [name for name in self.columns if self._types[name] is bool]

    def create(self) -> str:
        """The statement that makes the table."""
        columns = f"{', '.join(map(self._column, self.columns))}, PRIMARY KEY ({', '.join(self.key)})"
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
        target = REFERENCES.get((self.kind, name))
        return f"{column} REFERENCES {target}" if target else column

    def upsert(self) -> str:
        marks = ", ".join("?" * len(self.columns))
        return f"REPLACE INTO {self.kind} ({', '.join(self.columns)}) VALUES ({marks})"

    def delete(self) -> str:
        return f"DELETE FROM {self.kind} WHERE {' AND '.join(f'{name} = ?' for name in self.key)}"

    def select(self) -> str:
        return f"SELECT {', '.join(self.columns)} FROM {self.kind}"

    def row(self, record: Record) -> tuple[Any, ...]:
        values = {name: getattr(record, name) for name in self.columns}
        for name in self._as_json:
            values[name] = msgspec.json.encode(values[name]).decode()
        return tuple(values.values())

    def key_of(self, record: Record) -> tuple[Any, ...]:
        return tuple(getattr(record, name) for name in self.key)

    def records(self, rows: list[tuple[Any, ...]]) -> list[Record]:
        """The rows as records; ``msgspec.ValidationError`` where a value has the wrong type."""
        found = [dict(zip(self.columns, row, strict=True)) for row in rows]
        for values in found:
            for name in self._as_json:
                values[name] = msgspec.json.decode(values[name])
            for name in self._booleans:
                values[name] = bool(values[name])
        return msgspec.convert(found, list[self.record])  # type: ignore[name-defined]


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

OTHER_TABLES = (
    # Every edit, undo and redo; nothing is ever taken out. ``of`` names the edit that was undone or redone.
    "CREATE TABLE history (number INTEGER PRIMARY KEY, at TEXT NOT NULL, who TEXT NOT NULL, words TEXT NOT NULL, "
    "kind TEXT NOT NULL, of INTEGER, changes TEXT NOT NULL) STRICT",
    DATES_TABLE,
    "CREATE TABLE state (name TEXT PRIMARY KEY, value TEXT) STRICT, WITHOUT ROWID",
)
