"""How a workspace file is connected to: to write, under its lock; to read, as a copy in memory.

A reader leaves nothing beside the file and holds nobody up: the whole database is copied into memory while nobody
writes, or within one transaction beside a writer. So it is seen as it was at one moment, with the edits that a killed
process left in the log, also where the folder cannot be written.
"""

from __future__ import annotations

import contextlib
import os
import sqlite3
import stat
from collections.abc import Iterator
from pathlib import Path

from hexapod.errors import BadFile
from hexapod.store.lock import OpenFile
from hexapod.store.migrations import migrate
from hexapod.store.schema import APPLICATION_ID, OTHER_TABLES, TABLES, VERSION
from hexapod.store.sentences import told
from hexapod.store.watch import BESIDE
from hexapod.system.files import mode_of, new_part, put_in_place, remove, scratch_folder, shown

HEAD = 100  # bytes of SQLite's header
PIECE = 4 * 1024 * 1024


def located(path: Path) -> Path:
    """Where a path leads to in the end: links and other spellings of one file become one path."""
    try:
        return path.resolve(strict=True)
    except FileNotFoundError:
        raise BadFile(f"There is no file {shown(path)}.") from None
    except (OSError, RuntimeError, ValueError) as error:
        reason = getattr(error, "strerror", None) or "the path leads nowhere"
        raise BadFile(f"{shown(path)} cannot be read: {reason}.") from None


def inspect(path: Path, file: OpenFile) -> None:
    """Refuse early, in words, what is no workspace at all."""
    head = file.read(HEAD)
    name = shown(path.name)
    if not head.startswith(b"SQLite format 3\x00") or len(head) < HEAD:
        raise BadFile(f"{name} is not a Hexapod workspace, or its beginning is damaged.")
    if int.from_bytes(head[68:72], "big") != APPLICATION_ID:
        raise BadFile(f"{name} is a database of another program, not a Hexapod workspace.")


def is_writable(path: Path) -> bool:
    return os.access(path, os.W_OK) and os.access(path.parent, os.W_OK)


def connected(path: Path, mode: str) -> sqlite3.Connection:
    uri = f"{path.absolute().as_uri()}?mode={mode}"
    connection = sqlite3.connect(uri, uri=True, isolation_level=None, timeout=5.0, check_same_thread=False)
    connection.execute("PRAGMA synchronous = FULL")  # an applied edit outlives also a power cut
    connection.execute("PRAGMA trusted_schema = OFF")
    connection.execute("PRAGMA cell_size_check = ON")
    connection.execute("PRAGMA wal_autocheckpoint = 0")  # the file is changed when we say so: see ``watch``
    return connection


def make_file(path: Path) -> None:
    """An empty workspace under a name that nobody has yet. ``BadFile`` if it cannot be made; nothing is left then."""
    if os.path.lexists(path):
        raise BadFile(f"{shown(path.name)} exists already; choose another name.")
    for suffix in BESIDE:
        if os.path.lexists(f"{path}{suffix}"):
            raise BadFile(
                f"{shown(path.name)}{suffix} is left there from another workspace of this name. "
                "Choose another name, or move it away first."
            )
    part = new_part(path)
    try:
        with told(path):
            connection = sqlite3.connect(part, isolation_level=None)
            try:
                connection.execute("PRAGMA synchronous = FULL")
                connection.execute(f"PRAGMA application_id = {APPLICATION_ID}")
                with transaction(connection):
                    for table in TABLES.values():
                        connection.execute(table.create())
                    for statement in OTHER_TABLES:
                        connection.execute(statement)
                    connection.execute(f"PRAGMA user_version = {VERSION}")
            finally:
                connection.close()
        os.chmod(part, mode_of(path))
        put_in_place(part, path)
    except FileExistsError:
        raise BadFile(f"{shown(path.name)} exists already; choose another name.") from None
    except OSError as error:
        raise BadFile(f"{shown(path)} cannot be made there: {error.strerror}.") from None
    finally:
        remove(part)


def mend_beside(path: Path) -> None:
    """Give the log of a killed process, or of an older reader, the permissions of its file; only under the lock."""
    mode = stat.S_IMODE(os.stat(path).st_mode)
    for suffix in BESIDE:
        with contextlib.suppress(OSError):
            beside = f"{path}{suffix}"
            found = os.lstat(beside)
            if stat.S_ISREG(found.st_mode) and stat.S_IMODE(found.st_mode) != mode:
                os.chmod(beside, mode)


def in_memory(path: Path, file: OpenFile) -> sqlite3.Connection:
    """All that the file holds now, as a database in memory. ``BadFile`` if it cannot be read."""
    copy = sqlite3.connect(":memory:", isolation_level=None, check_same_thread=False)
    try:
        with told(path):
            if not file.try_shared():
                _copy(connected(path, "ro"), copy)  # beside a writer, whose log is shared
                return copy
            try:
                if any(os.path.lexists(f"{path}{suffix}") for suffix in ("-wal", "-journal")):
                    _copy_with_log(path, file, copy)
                else:
                    _copy(connected(path, "ro&immutable=1"), copy)
            finally:
                file.unlock()
            return copy
    except BaseException:
        copy.close()
        raise


def migrated(path: Path, connection: sqlite3.Connection) -> None:
    with told(path), transaction(connection):
        migrate(connection)


@contextlib.contextmanager
def transaction(connection: sqlite3.Connection) -> Iterator[None]:
    """All of the body or nothing of it."""
    connection.execute("BEGIN IMMEDIATE")
    try:
        yield
        connection.execute("COMMIT")
    except BaseException:
        with contextlib.suppress(sqlite3.Error):
            connection.execute("ROLLBACK")
        raise


def _copy(source: sqlite3.Connection, copy: sqlite3.Connection) -> None:
    try:
        source.backup(copy)
    finally:
        source.close()


def _copy_with_log(path: Path, file: OpenFile, copy: sqlite3.Connection) -> None:
    """What a killed process left in the log is recovered in a private copy; the file itself is not touched."""
    try:
        with scratch_folder() as folder:
            there = folder / "workspace"
            with there.open("wb") as target:
                at = 0
                while piece := file.read(PIECE, at):
                    target.write(piece)
                    at += len(piece)
            for suffix in ("-wal", "-journal"):
                with contextlib.suppress(FileNotFoundError):
                    handle = os.open(f"{path}{suffix}", os.O_RDONLY | os.O_NOFOLLOW | os.O_CLOEXEC | os.O_NONBLOCK)
                    with os.fdopen(handle, "rb") as log, Path(f"{there}{suffix}").open("wb") as target:
                        while piece := log.read(PIECE):
                            target.write(piece)
            _copy(connected(there, "rw"), copy)
    except OSError as error:
        raise BadFile(f"{shown(path)} cannot be read: {error.strerror}.") from None
