"""What a window remembers of itself, for this user on this machine: never in the file, which several people may open.

One small JSON file a workspace, among the user's state (XDG). What belongs to the plan, such as a kept view, is a
record.
"""

from __future__ import annotations

import contextlib
import hashlib
import os
from pathlib import Path
from typing import Any, TypeVar

import msgspec
import platformdirs

from hexapod.errors import BadFile
from hexapod.session import Session
from hexapod.system.files import PRIVATE_FILE, private_folder, read_within, write_whole

LARGEST = 4_000_000  # bytes
T = TypeVar("T")


class Memory:
    """By name; what the file of an older version remembers counts until something else is kept."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self._kept = self._read()

    def recall(self, name: str, kind: type[T], default: T) -> T:
        """What is kept under a name; the default where nothing is, or it is not what it should be."""
        if name not in self._kept:
            return self._session.workspace.remembered(name, kind, default)
        try:
            return msgspec.convert(self._kept[name], kind)
        except (msgspec.ValidationError, TypeError, ValueError):
            return default

    def keep(self, name: str, value: Any) -> None:
        """Lost where it cannot be written: nothing of it was entered."""
        value = msgspec.to_builtins(value)
        if self._kept.get(name, self) == value:
            return
        self._kept[name] = value
        with contextlib.suppress(OSError, BadFile):
            place = self._place()
            private_folder(place.parent)
            write_whole(place, msgspec.json.encode(self._kept), mode=PRIVATE_FILE)

    def _read(self) -> dict[str, Any]:
        try:
            return msgspec.json.decode(read_within(self._place(), LARGEST), type=dict[str, Any])
        except (BadFile, msgspec.MsgspecError, ValueError, RecursionError):
            return {}

    def _place(self) -> Path:
        path = os.fsencode(os.path.realpath(self._session.workspace.path))
        name = hashlib.sha256(path).hexdigest()[:32]
        return Path(platformdirs.user_state_dir("hexapod")) / "windows" / f"{name}.json"
