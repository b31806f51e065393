"""The open file itself: who writes it, whether it is still where it was, and its first bytes.

Two windows are kept from writing one workspace by a lock on the file, not on its name: a link or another spelling of
the path leads to the same lock. It is one of ``flock``, which SQLite's own locks (``fcntl``) do not touch, and the
system takes it back when the process ends, however it ends.

The system drops all of SQLite's locks of a process on a file as soon as *any* descriptor of that file is closed in the
process (POSIX.1-2017, ``fcntl``; https://sqlite.org/howtocorrupt.html, section 2.2). So ours are closed only when
nobody in this process has the file open any more. That is a fact of the process, which is why the count of who has it
open is kept here for all of it.
"""

from __future__ import annotations

import contextlib
import fcntl
import getpass
import os
import socket
import stat
import struct
import threading
import time
from pathlib import Path

from hexapod.errors import BadFile
from hexapod.system.files import shown

Inode = tuple[int, int]
PATIENCE, PAUSE = 5.0, 0.02  # seconds: readers hold a file for as long as they copy it

_OFD_SETLK = 37  # Linux: a lock of one descriptor, which also keeps this process's own SQLite off
_SHARED_FIRST, _SHARED_SIZE = 0x40000002, 510  # the bytes that SQLite locks (sqlite3 os.h)

_counting = threading.Lock()
_users: dict[Inode, int] = {}
_to_close: dict[Inode, list[int]] = {}


class OpenFile:
    """A descriptor of a workspace file. To be closed after the connection to the database in it."""

    def __init__(self, path: Path) -> None:
        """``BadFile`` if there is no file there that can be read."""
        try:
            self._handle = os.open(path, os.O_RDONLY | os.O_CLOEXEC | os.O_NONBLOCK)
        except FileNotFoundError:
            raise BadFile(f"There is no file {shown(path)}.") from None
        except OSError as error:
            raise BadFile(f"{shown(path)} cannot be read: {error.strerror}.") from None
        found = os.fstat(self._handle)
        self.inode: Inode = (found.st_dev, found.st_ino)
        self._is_open = True
        with _counting:
            _users[self.inode] = _users.get(self.inode, 0) + 1
        if not stat.S_ISREG(found.st_mode):
            self.close()
            raise BadFile(f"{shown(path)} is no file that can be read.")

    @property
    def names(self) -> int:
        """How many names the file has in the file system."""
        return os.fstat(self._handle).st_nlink

    def is_at(self, path: Path) -> bool:
        """Whether the path still leads to this file."""
        try:
            found = os.stat(path)
        except OSError:
            return False
        return (found.st_dev, found.st_ino) == self.inode

    def read(self, size: int, at: int = 0) -> bytes:
        return os.pread(self._handle, size, at)

    def try_shared(self) -> bool:
        """Whether nobody writes now; nobody begins to until ``unlock``."""
        return self._try(fcntl.LOCK_SH)

    def try_exclusive(self) -> bool:
        """Whether the file is ours to write from now on. Waits for those who only copy it."""
        until = time.monotonic() + PATIENCE
        while not self._try(fcntl.LOCK_EX):
            if not self.try_shared() or time.monotonic() > until:
                return False
            self.unlock()
            time.sleep(PAUSE)
        return True

    def unlock(self) -> None:
        fcntl.flock(self._handle, fcntl.LOCK_UN)

    def keep_untouched(self) -> None:
        """From now on a connection that is closed in this process writes nothing more into the file.

        A last connection would carry its log into the file, which is no longer the one that the log belongs to.
        """
        lock = struct.pack("hhqqi4x", fcntl.F_RDLCK, os.SEEK_SET, _SHARED_FIRST, _SHARED_SIZE, 0)
        with contextlib.suppress(OSError):
            fcntl.fcntl(self._handle, _OFD_SETLK, lock)

    def close(self) -> None:
        """Give the lock back. The descriptor itself is closed once nobody in this process has the file open."""
        if not self._is_open:
            return
        self._is_open = False
        with contextlib.suppress(OSError):
            self.unlock()
        with _counting:
            _to_close.setdefault(self.inode, []).append(self._handle)
            _users[self.inode] -= 1
            if _users[self.inode]:
                return
            del _users[self.inode]
            for handle in _to_close.pop(self.inode):
                os.close(handle)

    def _try(self, kind: int) -> bool:
        try:
            fcntl.flock(self._handle, kind | fcntl.LOCK_NB)
        except BlockingIOError:
            return False
        except OSError:  # a file system without locks: nobody can be told from anybody
            return True
        return True


def who_we_are() -> str:
    """What the second window is told of the first one."""
    return f"{getpass.getuser()} on {socket.gethostname()} (process {os.getpid()})"
