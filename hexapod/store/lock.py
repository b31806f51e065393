"""The advisory lock that keeps two windows from writing one workspace.

It is taken on a file of its own, since closing a second handle on the database would drop SQLite's locks.
The system releases it when the process ends, however it ends.
"""

from __future__ import annotations

import contextlib
import fcntl
import getpass
import os
import socket
from pathlib import Path


class Lock:
    """Held from ``take`` to ``release``."""

    def __init__(self, workspace: Path) -> None:
        self.path = workspace.with_name(f".{workspace.name}.lock")
        self._handle: int | None = None

    def take(self) -> str | None:
        """None if the lock is ours now, else who holds it, in words. ``OSError`` if it cannot be made."""
        handle = os.open(self.path, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o644)
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            holder = os.read(handle, 200).decode(errors="replace").strip()
            os.close(handle)
            return holder or "another window"
        os.ftruncate(handle, 0)
        os.write(handle, f"{getpass.getuser()} on {socket.gethostname()} (process {os.getpid()})".encode())
        self._handle = handle
        return None

    def release(self) -> None:
        if self._handle is not None:
            with contextlib.suppress(OSError):
                self.path.unlink()
            os.close(self._handle)
            self._handle = None
