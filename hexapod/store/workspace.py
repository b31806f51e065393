"""A workspace file: opened, read whole, written one edit a transaction."""

from __future__ import annotations

import contextlib
import os
import sqlite3
from collections.abc import Iterator
from datetime import datetime
from pathlib import Path
from typing import Any, NamedTuple

import msgspec
import numpy as np

from hexapod.errors import BadFile, EditRefused
from hexapod.plan.changes import Changes
from hexapod.plan.plan import Plan
from hexapod.plan.records import Record
from hexapod.plan.uncollected import uncollected
from hexapod.plan.validity import check_whole
from hexapod.schedule.schedule import Schedule
from hexapod.store.dates import COLUMNS, DatesToWrite, dates_to_write
from hexapod.store.lock import Lock
from hexapod.store.migrations import migrate
from hexapod.store.schema import APPLICATION_ID, OTHER_TABLES, TABLES, VERSION

ADDED_LATER = {"fields", "comments", "reservations"}  # tables that the first version did not have
EDIT, UNDO, REDO = "edit", "undo", "redo"


class WorkspaceInUse(BadFile):
    """Somebody else has it open to write; ``holder`` says who."""

    def __init__(self, path: Path, holder: str) -> None:
        super().__init__(f"{path.name} is open already: {holder}. Open it to read, or work on a copy.")
        self.holder = holder


class HistoryRow(NamedTuple):
    number: int
    at: str
    who: str
    words: str
    kind: str
    of: int | None


class Workspace:
    """An open file. Not to be shared between threads without a lock of one's own."""

    def __init__(self, path: Path, connection: sqlite3.Connection, lock: Lock | None, read_only: bool) -> None:
        self.path = path
        self.read_only = read_only
        self.recovered: str | None = None
        self._connection = connection
        self._lock = lock
        self.known_dates: Schedule | None = None  # what the file remembers, if that is known

    @staticmethod
    def create(path: Path) -> Workspace:
        """A new, empty workspace. ``BadFile`` if the place is taken or cannot be written."""
        if path.exists():
            raise BadFile(f"{path.name} exists already; choose another name.")
        lock = _locked(path)
        try:
            with _told(path):
                connection = _connected(path, "rwc")
                connection.execute(f"PRAGMA application_id = {APPLICATION_ID}")
                connection.execute("PRAGMA journal_mode = WAL")
                with _transaction(connection):
                    for table in TABLES.values():
                        connection.execute(table.create())
                    for statement in OTHER_TABLES:
                        connection.execute(statement)
                    connection.execute(f"PRAGMA user_version = {VERSION}")
        except BadFile:
            lock.release()
            raise
        workspace = Workspace(path, connection, lock, read_only=False)
        workspace._mark_open()
        return workspace

    @staticmethod
    def open(path: Path, *, read_only: bool = False) -> Workspace:
        """Open a file. ``WorkspaceInUse`` if another window writes it, ``BadFile`` if it is not one of ours."""
        _inspect(path)
        writable = os.access(path, os.W_OK) and os.access(path.parent, os.W_OK)
        lock = None
        if not read_only and writable:
            lock = _locked(path)
        mode = "rw" if lock else "ro" if os.access(path.parent, os.W_OK) else "ro&immutable=1"
        try:
            with _told(path):
                connection = _connected(path, mode)
                if _check_version(path, connection) < VERSION:
                    connection = _migrated(connection, in_place=lock is not None)
                workspace = Workspace(path, connection, lock, read_only=lock is None)
                if lock:
                    connection.execute("PRAGMA journal_mode = WAL")
                    workspace._note_recovery()
                    workspace._mark_open()
        except BadFile:
            if lock:
                lock.release()
            raise
        return workspace

    def close(self) -> None:
        """Leave the file as one that was closed properly."""
        with contextlib.suppress(sqlite3.Error):
            if not self.read_only:
                self.set_state("open_since", None)
                self._connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        self._connection.close()
        if self._lock:
            self._lock.release()

    # Reading

    def read_plan(self) -> Plan:
        """Everything a person entered. ``BadFile`` if a row is damaged or points nowhere."""
        with _told(self.path), uncollected():
            records: list[Record] = []
            for table in TABLES.values():
                try:
                    records += table.records(self._connection.execute(table.select()).fetchall())
                except (msgspec.MsgspecError, TypeError) as error:
                    raise BadFile(f"{self.path.name} is damaged: table {table.kind}, {error}.") from None
            plan = Plan.of(records)
            self.check_plan(plan)
            return plan

    def check_plan(self, plan: Plan) -> None:
        """``BadFile`` if a plan breaks a rule."""
        try:
            check_whole(plan)
        except EditRefused as error:
            raise BadFile(f"{self.path.name} is damaged. {error}") from None

    def read_history(self) -> list[HistoryRow]:
        with _told(self.path):
            rows = self._connection.execute("SELECT number, at, who, words, kind, of FROM history ORDER BY number")
            return [HistoryRow(*row) for row in rows]

    def read_changes(self, number: int) -> Changes:
        """What an edit changed."""
        with _told(self.path):
            row = self._connection.execute("SELECT changes FROM history WHERE number = ?", (number,)).fetchone()
            if row is None:
                raise BadFile(f"{self.path.name} is damaged: edit {number} of its history is missing.")
            try:
                return msgspec.json.decode(row[0], type=Changes)
            except msgspec.MsgspecError as error:
                raise BadFile(f"{self.path.name} is damaged: edit {number} of its history, {error}.") from None

    def plan_after(self, plan: Plan, number: int) -> Plan:
        """The plan as it was after a row of the history (0: in the beginning), walking back from the present one."""
        with _told(self.path):
            rows = self._connection.execute(
                "SELECT number, kind, of FROM history WHERE number > ? ORDER BY number DESC", (number,)
            ).fetchall()
        for row, kind, of in rows:
            if kind == UNDO:
                plan = self.read_changes(of).applied_to(plan)
            else:
                plan = self.read_changes(row if kind == EDIT else of).inverse().applied_to(plan)
        return plan

    def read_dates(self) -> Schedule | None:
        """The dates as they were last computed, to paint from; None if there are none."""
        with _told(self.path):
            rows = self._connection.execute(f"SELECT task, {', '.join(COLUMNS)} FROM dates").fetchall()
            finishes, starts = self.state("finishes"), self.state("starts")
        if not rows:
            return None
        columns = dict(zip(COLUMNS, np.array([r[1:] for r in rows]).T, strict=True))
        slots = {row[0]: i for i, row in enumerate(rows)}
        self.known_dates = Schedule(slots=slots, project_start=starts or {}, project_finish=finishes or {}, **columns)
        return self.known_dates

    def state(self, name: str) -> Any:
        """A remembered value, or None."""
        row = self._connection.execute("SELECT value FROM state WHERE name = ?", (name,)).fetchone()
        return None if row is None else msgspec.json.decode(row[0])

    # Writing

    def write(self, changes: Changes, words: str, who: str, kind: str = EDIT, of: int | None = None) -> HistoryRow:
        """Keep an edit: all of it or nothing."""
        if self.read_only:
            raise BadFile(f"{self.path.name} is open to read; save a copy to change it.")
        at = datetime.now().isoformat(timespec="seconds")
        with _told(self.path, words), _transaction(self._connection):
            for name, table in TABLES.items():
                pairs = getattr(changes, name)
                gone = [table.key_of(before) for before, after in pairs if after is None]
                kept = [table.row(after) for _, after in pairs if after is not None]
                if gone:
                    self._connection.executemany(table.delete(), gone)
                if kept:
                    self._connection.executemany(table.upsert(), kept)
            cursor = self._connection.execute(
                "INSERT INTO history (at, who, words, kind, of, changes) VALUES (?, ?, ?, ?, ?, ?)",
                (
                    at,
                    who,
                    words,
                    kind,
                    of,
                    msgspec.json.encode(changes).decode() if kind == EDIT else "{}",
                ),
            )
            assert cursor.lastrowid is not None
        return HistoryRow(cursor.lastrowid, at, who, words, kind, of)

    def write_dates(self, schedule: Schedule) -> None:
        """Keep the computed dates, as far as they differ from those that are there."""
        for _ in self.writing_dates(dates_to_write(self.known_dates, schedule)):
            pass

    def writing_dates(self, found: DatesToWrite, most: int = 100_000) -> Iterator[None]:
        """Keep dates ``most`` at a time; to be gone through to the end, whatever is edited in between."""
        if self.read_only or not found:
            return
        self.known_dates = None
        statement = f"REPLACE INTO dates VALUES ({', '.join('?' * (len(COLUMNS) + 1))})"
        with _told(self.path), _transaction(self._connection):
            if found.from_nothing:
                self._connection.execute("DELETE FROM dates")
            self._connection.executemany("DELETE FROM dates WHERE task = ?", [(task,) for task in found.gone])
            self.set_state("finishes", found.schedule.project_finish)
            self.set_state("starts", found.schedule.project_start)
        for rows in found.pieces(most):
            with _told(self.path), _transaction(self._connection):
                self._connection.executemany(statement, rows)
            yield
        self.known_dates = found.schedule

    def set_state(self, name: str, value: Any) -> None:
        """Remember something that is not part of the plan; None forgets it."""
        if self.read_only:
            return
        with _told(self.path):
            if value is None:
                self._connection.execute("DELETE FROM state WHERE name = ?", (name,))
            else:
                encoded = msgspec.json.encode(value).decode()
                self._connection.execute("REPLACE INTO state VALUES (?, ?)", (name, encoded))

    def save_copy(self, path: Path) -> None:
        """The whole workspace, with its history, as another file."""
        if path.exists():
            raise BadFile(f"{path.name} exists already; choose another name.")
        with _told(path):
            self._connection.execute("VACUUM INTO ?", (str(path),))
            copy = sqlite3.connect(path)
            copy.execute("DELETE FROM state WHERE name = 'open_since'")
            copy.commit()
            copy.close()

    def _mark_open(self) -> None:
        number = self._connection.execute("SELECT ifnull(max(number), 0) FROM history").fetchone()[0]
        self.set_state("open_since", [datetime.now().isoformat(timespec="minutes"), number])

    def _note_recovery(self) -> None:
        left_open = self.state("open_since")
        if not left_open:
            return
        since, number = left_open
        if self._connection.execute("PRAGMA quick_check").fetchone()[0] != "ok":
            raise BadFile(f"{self.path.name} is damaged: the database does not pass its own check.")
        rows = self._connection.execute(
            "SELECT words FROM history WHERE number > ? ORDER BY number DESC", (number,)
        ).fetchall()
        if rows:
            count = "One edit" if len(rows) == 1 else f"All {len(rows)} edits"
            self.recovered = (
                f"Hexapod ended unexpectedly. {count} made since {since.replace('T', ' ')} "
                f"{'is' if len(rows) == 1 else 'are'} here; the last: {rows[0][0]}."
            )
        else:
            self.recovered = "Hexapod ended unexpectedly. Nothing had been changed since it was opened."


def _connected(path: Path, mode: str) -> sqlite3.Connection:
    uri = f"{path.absolute().as_uri()}?mode={mode}"
    connection = sqlite3.connect(uri, uri=True, isolation_level=None, timeout=5.0, check_same_thread=False)
    connection.execute("PRAGMA synchronous = FULL")  # an applied edit outlives also a power cut
    connection.execute("PRAGMA trusted_schema = OFF")
    return connection


def _locked(path: Path) -> Lock:
    lock = Lock(path)
    try:
        holder = lock.take()
    except OSError as error:
        raise BadFile(f"{path} cannot be written: {error.strerror}.") from None
    if holder is not None:
        raise WorkspaceInUse(path, holder)
    return lock


def _inspect(path: Path) -> None:
    """Refuse early, in words, what is no workspace at all."""
    try:
        with path.open("rb") as handle:
            head = handle.read(100)
    except FileNotFoundError:
        raise BadFile(f"There is no file {path}.") from None
    except OSError as error:
        raise BadFile(f"{path} cannot be read: {error.strerror}.") from None
    if not head.startswith(b"SQLite format 3\x00") or len(head) < 100:
        raise BadFile(f"{path.name} is not a Hexapod workspace, or its beginning is damaged.")
    if int.from_bytes(head[68:72], "big") != APPLICATION_ID:
        raise BadFile(f"{path.name} is a database of another program, not a Hexapod workspace.")


def _check_version(path: Path, connection: sqlite3.Connection) -> int:
    version = connection.execute("PRAGMA user_version").fetchone()[0]
    if version > VERSION:
        raise BadFile(
            f"{path.name} was written by a newer Hexapod (format {version}, this one reads up to {VERSION}). "
            "Update Hexapod to open it; the file is untouched."
        )
    tables = {row[0] for row in connection.execute("SELECT name FROM sqlite_schema WHERE type = 'table'")}
    needed = {*TABLES, "history", "dates", "state"}
    missing = (needed if version == VERSION else needed - ADDED_LATER) - tables
    if missing:
        raise BadFile(f"{path.name} is damaged: it has no table {min(missing)}.")
    return version


def _migrated(connection: sqlite3.Connection, *, in_place: bool) -> sqlite3.Connection:
    """An older file in the present form; one that can only be read, as a copy in memory."""
    if not in_place:
        copy = sqlite3.connect(":memory:", isolation_level=None, check_same_thread=False)
        connection.backup(copy)
        connection.close()
        connection = copy
    with _transaction(connection):
        migrate(connection)
    return connection


@contextlib.contextmanager
def _transaction(connection: sqlite3.Connection) -> Iterator[None]:
    connection.execute("BEGIN IMMEDIATE")
    try:
        yield
    except BaseException:
        with contextlib.suppress(sqlite3.Error):
            connection.execute("ROLLBACK")
        raise
    connection.execute("COMMIT")


@contextlib.contextmanager
def _told(path: Path, words: str | None = None) -> Iterator[None]:
    """Turn SQLite's errors into sentences."""
    try:
        yield
    except sqlite3.Error as error:
        lost = f"“{words}” was not kept; the plan is as before. " if words else ""
        text = str(error)
        if "full" in text:
            raise BadFile(f"The disk is full. {lost}Free some space and try again.") from None
        if "readonly" in text or "read-only" in text:
            raise BadFile(f"{path.name} can only be read. {lost}Save a copy elsewhere.") from None
        if "locked" in text or "busy" in text:
            raise BadFile(f"{path.name} is held by another program. {lost}Try again in a moment.") from None
        if "unable to open" in text:
            raise BadFile(f"{path} cannot be opened or made there.") from None
        if isinstance(error, sqlite3.OperationalError) and words:
            raise BadFile(f"{path.name} could not be written ({text}). {lost}") from None
        raise BadFile(f"{path.name} is damaged: {text}.") from None
