"""A workspace file: opened, read whole, written one edit a transaction."""

from __future__ import annotations

import contextlib
import sqlite3
import threading
from collections.abc import Callable, Iterable, Iterator
from datetime import datetime
from pathlib import Path
from typing import Any, TypeVar

import msgspec
import numpy as np

from hexapod.errors import BadFile, EditRefused
from hexapod.plan.changes import Changes
from hexapod.plan.plan import Plan
from hexapod.plan.records import Record
from hexapod.plan.uncollected import uncollected
from hexapod.plan.validity import check_whole
from hexapod.schedule.schedule import Dates, Schedule, StoredDates
from hexapod.store import copying, history, totals
from hexapod.store.checksums import BAD_ROW
from hexapod.store.dates import COLUMNS, DatesToWrite, dates_to_write
from hexapod.store.history import EDIT, UNDO, HistoryRow
from hexapod.store.layout import check_columns, check_objects
from hexapod.store.lock import OpenFile, who_we_are
from hexapod.store.opening import (
    connected,
    in_memory,
    inspect,
    is_writable,
    located,
    make_file,
    mend_beside,
    migrated,
    transaction,
)
from hexapod.store.schema import TABLES, VERSION
from hexapod.store.sentences import NEVER_READ, Damaged, told
from hexapod.store.snapshot import Snapshot, digest_of, read_copy, read_snapshot, sign_of, write_snapshot
from hexapod.store.watch import BESIDE, Watch
from hexapod.system.files import remove, sweep_parts

CHANGE_COUNTER = 24  # where in the file SQLite counts its changes
LONGEST_LOG = 4 * 1024 * 1024  # bytes that wait beside the file before they are carried into it

T = TypeVar("T")


class WorkspaceInUse(BadFile):
    """Somebody else has it open to write; ``holder`` says who."""

    def __init__(self, path: Path, holder: str) -> None:
        super().__init__(f"{path.name} is open already: {holder}. Open it to read, or work on a copy.")
        self.holder = holder


class Workspace:
    """An open file. Any thread may use it; one at a time does.

    What is open to read is a copy in memory of what the file held then.
    """

    def __init__(
        self, path: Path, connection: sqlite3.Connection, file: OpenFile | None = None, *, read_only: bool
    ) -> None:
        self.path = path
        self.read_only = read_only
        self.recovered: str | None = None
        self.clock: Callable[[], datetime] = datetime.now  # what the rows of the history are dated by
        self._connection = connection
        self._lock = threading.RLock()
        self._file = file
        self._watch: Watch | None = None
        self._totals: totals.Totals = {}
        self._sign = b""  # what the file was like before it was opened
        self.left_out: tuple[str, ...] = ()  # of a damaged file: what could not be read
        self.known_dates: Dates | None = None  # what the file remembers, if that is known

    @staticmethod
    def create(path: Path) -> Workspace:
        """A new, empty workspace. ``BadFile`` if the place is taken or cannot be written."""
        make_file(path)
        try:
            return Workspace.open(path)
        except BadFile:
            for suffix in ("", *BESIDE):  # nothing that blocks the name
                remove(Path(f"{path}{suffix}"))
            raise

    @staticmethod
    def open(path: Path, *, read_only: bool = False) -> Workspace:
        """Open a file. ``WorkspaceInUse`` if another window writes it, ``BadFile`` if it is not one of ours."""
        path = located(path)
        file = OpenFile(path)
        try:
            inspect(path, file)
            if read_only or not is_writable(path):
                return _opened_to_read(path, file)
            return _opened_to_write(path, file)
        except BaseException:
            file.close()
            raise

    def check_place(self) -> None:
        """``FileLost`` if the file is no longer the one that was opened: nothing must be written into it then."""
        if self._watch is not None:
            self._watch.check()

    def close(self, snapshot: bytes | memoryview | None = None) -> None:
        """Leave the file as one that was closed properly, with a copy of what it holds in the cache.

        Whatever goes wrong, such as a full disk, the lock is given back: the next start recovers what is in the log.
        """
        is_closed = False
        try:
            with contextlib.suppress(BadFile):
                self._note_closed(snapshot)
                is_closed = not self.read_only
        finally:
            self._watch = None
            self._disconnect()
            if self._file is not None:
                if is_closed and snapshot is not None:
                    with contextlib.suppress(OSError):
                        write_snapshot(self.path, _sign_of(self.path, self._file), snapshot)
                self._file.close()

    def _note_closed(self, snapshot: bytes | memoryview | None) -> None:
        if self.read_only:
            return
        self.check_place()
        with self._using():
            if snapshot is not None:
                self._put_state("snapshot", (digest_of(snapshot), self._last_number()))
            self._put_state("open_since", None)
            self._put_state("open_by", None)
            self._connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")

    def _disconnect(self) -> None:
        """Once nobody reads any more: a connection that is closed under a thread takes the program with it."""
        with self._lock, contextlib.suppress(sqlite3.Error):
            self._connection.close()

    def leave(self) -> None:
        """Close a file that is no longer ours, and write nothing more into it."""
        if self._file is not None:
            self._file.keep_untouched()
        self._disconnect()
        if self._watch is not None:
            self._watch.remove_what_is_ours()
        if self._file is not None:
            self._file.close()

    def _watched_anew(self) -> None:
        if self._watch is not None:
            self._watch.note()

    # Reading

    def read_snapshot(self) -> Snapshot | None:
        """What the file held when it was closed, from the copy in the cache; None if there is none that is true."""
        digest = self._digest_of_copy()
        return None if digest is None else read_snapshot(self.path, self._sign, digest)

    def copy_in_cache(self) -> memoryview | None:
        """The bytes of that copy; None once there was an edit."""
        digest = self._digest_of_copy()
        return None if digest is None else read_copy(self.path, self._sign, digest)

    def _digest_of_copy(self) -> str | None:
        """Of the copy that was written when the file was closed; None if there was an edit since."""
        digest, number = self.remembered("snapshot", tuple[str, int], ("", -1))
        with self._using():
            return digest if number == self._last_number() else None

    def read_plan(self) -> Plan:
        """Everything a person entered. ``BadFile`` if a row is damaged or points nowhere."""
        with self._using(), uncollected():
            records: list[Record] = []
            for table in TABLES.values():
                try:
                    rows = self._connection.execute(table.select()).fetchall()
                    if self._totals.get(table.kind) not in (None, totals.of_rows(rows)):
                        raise Damaged(self.path, f"a row of its table {table.kind} is missing")
                    records += table.records(rows)
                except BAD_ROW as error:
                    raise Damaged(self.path, f"table {table.kind}, {error}") from None
            plan = Plan.of(records)
            self.check_plan(plan)
            return plan

    def check_plan(self, plan: Plan) -> None:
        """``BadFile`` if a plan breaks a rule."""
        try:
            check_whole(plan)
        except EditRefused as error:
            raise Damaged(self.path, str(error)) from None

    def read_history(self) -> list[HistoryRow]:
        with self._using():
            return history.rows(self._connection)

    def read_changes(self, number: int) -> Changes:
        """What an edit changed."""
        return self._changes(history.PLAN_EDITS, number, "its history")

    def _changes(self, edits: history.EditTable, number: int, of: str) -> Changes:
        with self._using():
            try:
                found = edits.changes(self._connection, number)
            except BAD_ROW as error:
                raise Damaged(self.path, f"edit {number} of {of}, {error}") from None
        if found is None:
            raise Damaged(self.path, f"edit {number} of {of} is missing")
        return found

    def scenario_rows(self, scenario: str) -> list[tuple[HistoryRow, int | None]]:
        with self._using():
            return history.scenario_rows(self._connection, scenario)

    def scenario_changes(self, number: int) -> Changes:
        return self._changes(history.EDITS_OF_SCENARIOS, number, "a scenario")

    def damaged_rows(self, most: int = 2000) -> Iterator[dict[str, list[tuple[Any, ...]]]]:
        """By kind the keys of rows that are not what was written, a piece at a time; edits of the history by number."""
        for table in TABLES.values():
            pieces = table.damaged(self._connection, most)
            while (found := self._next(pieces)) is not None:
                yield {table.kind: found}
        for edits in (history.PLAN_EDITS, history.EDITS_OF_SCENARIOS):
            numbers = edits.damaged(self._connection, most)
            while (found := self._next(numbers)) is not None:
                yield {edits.name: found}

    def _next(self, pieces: Iterator[list[tuple[Any, ...]]]) -> list[tuple[Any, ...]] | None:
        with self._using():
            return next(pieces, None)

    def missing_rows(self) -> list[str]:
        """The tables that have lost a row since they were written."""
        with self._using():
            return totals.wrong(self._totals, totals.counted(self._connection)) if self._totals else []

    def write_again(self, plan: Plan, kinds: Iterable[str]) -> None:
        """Write some tables as they are in a plan, in the place of what a disk made of them."""
        self.check_place()
        with self._using(), transaction(self._connection):
            for kind in kinds:
                table = TABLES[kind]
                self._connection.execute(f"DELETE FROM {kind}")
                rows = [table.row(record) for record in getattr(plan, kind).values()]
                self._connection.executemany(table.upsert(), rows)
            self._totals = totals.counted(self._connection)
            totals.keep(self._connection, self._totals)

    @contextlib.contextmanager
    def _using(self, words: str | None = None) -> Iterator[None]:
        """The connection for one thing at a time, from whichever thread; what goes wrong is a ``BadFile``."""
        with self._lock, told(self.path, words):
            yield

    def plan_after(self, plan: Plan, number: int, last: int) -> Plan:
        """The plan as it was after a row of the history (0: in the beginning), walking back from that after the last
        one."""
        with self._using():
            rows = self._connection.execute(
                "SELECT number, kind, of FROM history WHERE number > ? AND number <= ? ORDER BY number DESC",
                (number, last),
            ).fetchall()
        for row, kind, of in rows:
            if kind == UNDO:
                plan = self.read_changes(of).applied_to(plan)
            else:
                plan = self.read_changes(row if kind == EDIT else of).inverse().applied_to(plan)
        return plan

    def read_dates(self) -> Dates | None:
        """The dates as they were last computed, to paint from; None if there are none that can be used."""
        with contextlib.suppress(BadFile, TypeError, ValueError), self._using():
            rows = self._connection.execute(f"SELECT task, {', '.join(COLUMNS)} FROM dates").fetchall()
            if not rows:
                return None
            columns = dict(zip(COLUMNS, np.array([r[1:] for r in rows], dtype=np.int64).T, strict=True))
            slots = {row[0]: i for i, row in enumerate(rows)}
            starts = self.remembered("starts", dict[str, int], {})
            finishes = self.remembered("finishes", dict[str, int | None], {})
            self.known_dates = StoredDates(slots=slots, project_start=starts, project_finish=finishes, **columns)
        return self.known_dates

    def remembered(self, name: str, kind: type[T], default: T) -> T:
        """Something that is not part of the plan; the default where it is missing, or is not what it should be."""
        try:
            with self._lock:
                row = self._connection.execute("SELECT value FROM state WHERE name = ?", (name,)).fetchone()
            return default if row is None else msgspec.json.decode(row[0], type=kind)
        except (sqlite3.Error, msgspec.MsgspecError, TypeError, ValueError, *NEVER_READ):
            return default

    # Writing

    def write(self, changes: Changes, words: str, who: str, kind: str = EDIT, of: int | None = None) -> HistoryRow:
        """Keep an edit: all of it or nothing."""
        row = self._row(words, who, kind, of)
        with self._using(words), transaction(self._connection):
            for name, table in TABLES.items():
                pairs = getattr(changes, name)
                gone = [table.key_of(before) for before, after in pairs if after is None]
                kept = [table.row(after) for _, after in pairs if after is not None]
                if gone:
                    self._connection.executemany(table.delete(), gone)
                if kept:
                    self._connection.executemany(table.upsert(), kept)
            row, signed = history.PLAN_EDITS.write(self._connection, row, changes)
            now = totals.after(self._totals, changes)
            now[totals.HISTORY] += signed
            totals.keep(self._connection, now)
        self._totals = now
        self._carry_over()
        return row

    def write_scenario(
        self, scenario: str, base: int | None, changes: Changes, words: str, who: str, kind: str, of: int | None
    ) -> HistoryRow:
        row, edits = self._row(words, who, kind, of), history.EDITS_OF_SCENARIOS
        with self._using(words), transaction(self._connection):
            row, signed = edits.write(self._connection, row, changes, (scenario, base))
            now = {**self._totals, edits.name: self._totals[edits.name] + signed}
            totals.keep(self._connection, now)
        self._totals = now
        self._carry_over()
        return row

    def _row(self, words: str, who: str, kind: str, of: int | None) -> HistoryRow:
        """A row of a history that is to be written now; ``BadFile`` where nothing can be."""
        if self.read_only:
            raise BadFile(f"{self.path.name} is open to read; save a copy to change it.")
        self.check_place()
        return HistoryRow(0, self.clock().isoformat(timespec="seconds"), who, words, kind, of)

    def write_dates(self, schedule: Schedule) -> None:
        """Keep the computed dates, as far as they differ from those that are there."""
        for _ in self.writing_dates(dates_to_write(self.known_dates, schedule)):
            pass

    def writing_dates(self, found: DatesToWrite, most: int = 100_000) -> Iterator[None]:
        """Keep dates ``most`` at a time; to be gone through to the end, whatever is edited in between."""
        if self.read_only or not found:
            return
        self.check_place()
        self.known_dates = None
        statement = f"REPLACE INTO dates VALUES ({', '.join('?' * (len(COLUMNS) + 1))})"
        with self._using(), transaction(self._connection):
            if found.from_nothing:
                self._connection.execute("DELETE FROM dates")
            self._connection.executemany("DELETE FROM dates WHERE task = ?", [(task,) for task in found.gone])
            self.set_state("finishes", found.schedule.project_finish)
            self.set_state("starts", found.schedule.project_start)
        for rows in found.pieces(most):
            with self._using(), transaction(self._connection):
                self._connection.executemany(statement, rows)
            yield
        self.known_dates = found.schedule

    def set_state(self, name: str, value: Any) -> None:
        """Remember something that is not part of the plan; None forgets it. Lost where it cannot be written."""
        if self.read_only:
            return
        with contextlib.suppress(BadFile), self._using():
            self.check_place()
            self._put_state(name, value)

    def _put_state(self, name: str, value: Any) -> None:
        if value is None:
            self._connection.execute("DELETE FROM state WHERE name = ?", (name,))
        else:
            encoded = msgspec.json.encode(value).decode()
            self._connection.execute("REPLACE INTO state VALUES (?, ?)", (name, encoded))

    def _last_number(self) -> int:
        """The number of the last edit; 0 where there is none."""
        return int(self._connection.execute("SELECT ifnull(max(number), 0) FROM history").fetchone()[0])

    def save_copy(self, path: Path, *, replace: bool = False) -> None:
        """The whole workspace, with its history, as another file; with ``replace`` in the place of one that is there.

        ``BadFile`` if it cannot be written; what was there before then stays.
        """
        with self._lock:
            copying.save_copy(self._connection, self.path, path, replace=replace)

    def _carry_over(self) -> None:
        """Once much waits in the log, carry it into the file."""
        if self._watch is not None and self._watch.log_size() > LONGEST_LOG:
            with contextlib.suppress(sqlite3.Error):  # somebody reads: next time
                self._connection.execute("PRAGMA wal_checkpoint(PASSIVE)")
                self._connection.execute("PRAGMA wal_checkpoint(RESTART)")
            self._watched_anew()

    def _begin_to_write(self) -> None:
        """The first writing: what was left open, and who has it open now. ``BadFile`` if it cannot be written."""
        assert self._file is not None
        with told(self.path):
            self._connection.execute("PRAGMA journal_mode = WAL")
            self._note_recovery()
            found = totals.kept(self._connection)
            if found is None:  # of an older version, or damaged
                found = totals.counted(self._connection)
                totals.keep(self._connection, found)
            self._totals = found
            self._put_state("open_since", (datetime.now().isoformat(timespec="minutes"), self._last_number()))
            self._put_state("open_by", who_we_are())
            self._connection.execute("PRAGMA wal_checkpoint(PASSIVE)")
        self._watch = Watch(self.path, self._file, self._connection)

    def _note_recovery(self) -> None:
        since, number = self.remembered("open_since", tuple[str, int], ("", 0))
        if not since:
            return
        if self._connection.execute("PRAGMA quick_check").fetchone()[0] != "ok":
            raise Damaged(self.path, "the database does not pass its own check")
        rows = self._connection.execute(
            f"SELECT words, at FROM {history.EDITS_OF_SCENARIOS.name} WHERE at >= ? "
            "UNION ALL SELECT words, at FROM history WHERE number > ? ORDER BY at DESC",
            (since, number),
        ).fetchall()
        if rows:
            count = "One edit" if len(rows) == 1 else f"All {len(rows)} edits"
            self.recovered = (
                f"Hexapod ended unexpectedly. {count} made since {since.replace('T', ' ')} "
                f"{'is' if len(rows) == 1 else 'are'} here; the last: {rows[0][0]}."
            )
        else:
            self.recovered = "Hexapod ended unexpectedly. Nothing had been changed since it was opened."


def _opened_to_read(path: Path, file: OpenFile) -> Workspace:
    sign = _sign_of(path, file)
    connection = in_memory(path, file)
    try:
        with told(path):
            if check_objects(path, connection) < VERSION:
                migrated(path, connection)
            check_columns(path, connection)
    except BaseException:
        connection.close()
        raise
    file.close()
    workspace = Workspace(path, connection, read_only=True)
    workspace._sign, workspace._totals = sign, totals.kept(connection) or {}
    return workspace


def _opened_to_write(path: Path, file: OpenFile) -> Workspace:
    if not file.try_exclusive():
        raise WorkspaceInUse(path, _holder(path))
    if not file.is_at(path):
        raise BadFile(f"{path.name} was replaced just now. Open it again.")
    if file.names > 1:
        raise BadFile(
            f"{path.name} has {file.names} names in the file system (hard links): edits made under one would be "
            "missing under the other. Open a copy of it, or remove the other names."
        )
    sign = _sign_of(path, file)
    mend_beside(path)
    sweep_parts(path.parent)
    with told(path):
        connection = connected(path, "rw")
    workspace = Workspace(path, connection, file, read_only=False)
    workspace._sign = sign
    try:
        with told(path):
            if check_objects(path, connection) < VERSION:
                migrated(path, connection)
            check_columns(path, connection)
        workspace._begin_to_write()
    except BaseException:
        connection.close()
        raise
    return workspace


def _sign_of(path: Path, file: OpenFile) -> bytes:
    return sign_of(path, file.read(4, CHANGE_COUNTER))


def _holder(path: Path) -> str:
    """Who has it open, in words."""
    with contextlib.suppress(BadFile, OSError), told(path):
        connection = connected(path, "ro")
        try:
            found = Workspace(path, connection, read_only=True).remembered("open_by", str, "")
            return found[:200] or "another window"
        finally:
            connection.close()
    return "another window"
