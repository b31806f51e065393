"""SQLite's errors as sentences of ours."""

from __future__ import annotations

import contextlib
import sqlite3
from collections.abc import Iterator
from pathlib import Path

from hexapod.errors import BadFile
from hexapod.system.files import is_full, shown
from hexapod.system.words import count_of

NEVER_READ = (UnicodeDecodeError, OverflowError, RecursionError)  # what damage in a text or a number raises


class Damaged(BadFile):
    """What the file holds is not what we wrote. What is sound of it can still be looked at; ``what`` is wrong."""

    def __init__(self, path: Path, what: str) -> None:
        self.what = what.rstrip(".")
        super().__init__(f"{shown(path.name)} is damaged: {what.rstrip('.')}.")


@contextlib.contextmanager
def told(path: Path, words: str | None = None) -> Iterator[None]:
    """Turn what goes wrong in the body into a ``BadFile``; ``words`` name the edit that is being written."""
    try:
        yield
    except sqlite3.Error as error:
        raise sentence(path, error, words) from None
    except NEVER_READ as error:
        raise Damaged(path, f"a value cannot be read ({type(error).__name__})") from None


def sentence(path: Path, error: sqlite3.Error, words: str | None = None) -> BadFile:
    lost = f"“{words}” was not kept; the plan is as before. " if words else ""
    name, code, text = shown(path.name), getattr(error, "sqlite_errorname", ""), str(error)
    is_disk_trouble = code.startswith(("SQLITE_IOERR", "SQLITE_CANTOPEN"))
    if code == "SQLITE_FULL" or (is_disk_trouble and is_full(path.parent)):
        return BadFile(f"The disk is full. {lost}Free some space and try again.")
    if code.startswith("SQLITE_IOERR"):
        return BadFile(f"{name} cannot be read or written: the disk reported an error. {lost}".strip())
    if code.startswith(("SQLITE_READONLY", "SQLITE_PERM", "SQLITE_AUTH")):
        return BadFile(f"{name} can only be read. {lost}Save a copy elsewhere.")
    if code.startswith(("SQLITE_BUSY", "SQLITE_LOCKED")):
        return BadFile(f"{name} is held by another program. {lost}Try again in a moment.")
    if code.startswith("SQLITE_CANTOPEN"):
        return BadFile(f"{shown(path)} cannot be opened or made there.")
    if words and not code.startswith(("SQLITE_CORRUPT", "SQLITE_NOTADB")):
        return BadFile(f"{name} could not be written ({text}). {lost}".strip())
    return Damaged(path, text)


def damage_words(name: str, rows: int, edits: int, *, is_mended: bool) -> str:
    """What was found wrong in an open file, and what became of it."""
    said = []
    if rows:
        mended = "it is written again from what is open" if is_mended else "what is open was read from a sound copy"
        said.append(f"{count_of(rows, 'row')} of its tables {'is' if rows == 1 else 'are'} not what was "
                    f"written; {mended}")  # fmt: skip
    if edits:
        said.append(f"{count_of(edits, 'edit')} of its history can no longer be read, nor taken back")
    return f"The disk has damaged {shown(name)}: {'; '.join(said)}. Save a copy on another disk."
