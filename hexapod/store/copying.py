"""The whole database as another file: written apart, and put in its place once it is whole."""

from __future__ import annotations

import os
import sqlite3
from pathlib import Path

from hexapod.errors import BadFile
from hexapod.store.lock import OpenFile
from hexapod.store.sentences import told
from hexapod.store.watch import BESIDE
from hexapod.system.files import cannot_write, flush_folder, mode_of, new_part, put_in_place, remove, shown

OF_THE_OPEN_FILE = ("open_since", "open_by", "snapshot")  # what a copy does not remember


def save_copy(connection: sqlite3.Connection, here: Path, path: Path, *, replace: bool) -> None:
    """``BadFile`` if it cannot be written, or would be written onto a workspace that is open."""
    target = Path(os.path.realpath(path))
    if os.path.lexists(target):
        if not replace:
            raise BadFile(f"{shown(path.name)} exists already; choose another name.")
        _refuse_open_one(here, target)
    for suffix in BESIDE:
        if os.path.lexists(f"{target}{suffix}"):
            raise BadFile(
                f"Edits of {shown(path.name)} still wait beside it. Open and close it, or choose another name."
            )
    part = new_part(target)
    try:
        with told(target):
            connection.execute("VACUUM INTO ?", (str(part),))
            copy = sqlite3.connect(part, isolation_level=None)
            try:
                copy.executemany("DELETE FROM state WHERE name = ?", [(name,) for name in OF_THE_OPEN_FILE])
            finally:
                copy.close()
        os.chmod(part, mode_of(here))  # a private workspace has private copies
        if replace:
            os.replace(part, target)
            flush_folder(target.parent)
        else:
            put_in_place(part, target)
    except FileExistsError:
        raise BadFile(f"{shown(path.name)} exists already; choose another name.") from None
    except OSError as error:
        raise cannot_write(target, error) from None
    finally:
        remove(part)


def _refuse_open_one(here: Path, target: Path) -> None:
    """A copy onto the workspace itself, under whichever name, or onto one that a window has open."""
    file = OpenFile(target)
    try:
        if file.is_at(here):
            raise BadFile(f"{shown(target.name)} is the workspace that is open: everything is in it already.")
        if not file.try_shared():
            raise BadFile(f"{shown(target.name)} is open in another window; choose another name.")
    finally:
        file.close()
