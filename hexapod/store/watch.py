"""Notices that the file under an open workspace is no longer the one that was opened.

All of our edits go into the log beside the file; only our own checkpoints change the file itself. So between two
checkpoints its size and its time stay, and whoever changes them is somebody else. ``PRAGMA data_version`` tells the
same of an edit that another program made by way of SQLite.
"""

from __future__ import annotations

import contextlib
import os
import sqlite3
from pathlib import Path
from typing import NamedTuple

from hexapod.errors import BadFile
from hexapod.store.lock import OpenFile
from hexapod.system.files import remove

BESIDE = ("-wal", "-shm")


class FileLost(BadFile):
    """The open file was taken away or changed by somebody else. ``is_ours``: what it holds is still our database."""

    def __init__(self, path: Path, what: str, *, is_ours: bool) -> None:
        super().__init__(f"{path.name} {what} while it was open here.")
        self.what = what
        self.is_ours = is_ours


class _Seen(NamedTuple):
    size: int
    time: int
    beside: tuple[tuple[int, int] | None, ...]
    version: int


class Watch:
    """What the file was like after our last checkpoint."""

    def __init__(self, path: Path, file: OpenFile, connection: sqlite3.Connection) -> None:
        self._path, self._file, self._connection = path, file, connection
        self._seen = self._look()

    def note(self) -> None:
        """To be called after we have changed the file ourselves."""
        self._seen = self._look()

    def check(self) -> None:
        """Raise ``FileLost`` if the file is not what it was."""
        path, seen = self._path, self._seen
        try:
            found = os.stat(path)
        except OSError:
            raise FileLost(path, "was deleted or moved away by another program", is_ours=True) from None
        if (found.st_dev, found.st_ino) != self._file.inode:
            raise FileLost(path, "was replaced by another file", is_ours=True)
        if (found.st_size, found.st_mtime_ns) != (seen.size, seen.time):
            raise FileLost(path, "was overwritten by another program", is_ours=False)
        if tuple(map(self._inode_of, BESIDE)) != seen.beside:
            raise FileLost(path, "lost the log of its latest edits to another program", is_ours=True)
        if self._version() != seen.version:
            raise FileLost(path, "was edited by another program", is_ours=False)

    def remove_what_is_ours(self) -> None:
        """Take the log away, unless it is somebody else's by now: it belongs to no file any more."""
        for suffix, inode in zip(BESIDE, self._seen.beside, strict=True):
            if inode is not None and self._inode_of(suffix) == inode:
                remove(self._path.with_name(self._path.name + suffix))

    def log_size(self) -> int:
        with contextlib.suppress(OSError):
            return os.stat(f"{self._path}-wal").st_size
        return 0

    def _look(self) -> _Seen:
        found = os.stat(self._path)
        beside = tuple(map(self._inode_of, BESIDE))
        return _Seen(found.st_size, found.st_mtime_ns, beside, self._version())

    def _version(self) -> int:
        return int(self._connection.execute("PRAGMA data_version").fetchone()[0])

    def _inode_of(self, suffix: str) -> tuple[int, int] | None:
        try:
            found = os.stat(f"{self._path}{suffix}")
        except OSError:
            return None
        return found.st_dev, found.st_ino
