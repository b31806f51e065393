"""How much of anything from elsewhere is read: every reader keeps to these, and says so in the sentence that refuses.

A budget bounds the work before it is done: bytes before a file is read, cells before a sheet is unpacked, digits before
a number is made.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import contextmanager

from hexapod.errors import BadFile, HexapodError

MEGABYTE = 1024 * 1024

DOCUMENT = 128 * MEGABYTE  # bytes of plan JSON
TABLE = 64 * MEGABYTE  # bytes of a spreadsheet or a text file, as it lies on the disk
UNPACKED = 512 * MEGABYTE  # bytes of a spreadsheet once it is unpacked
PACKED_PARTS = 10_000  # files within a spreadsheet
CALENDAR_FILE = 32 * MEGABYTE  # bytes
ENTRIES = 200_000  # of a calendar file
SHEETS = 200
ROWS = 200_000
COLUMNS = 256
CELLS = 4_000_000  # rows times columns
CELL = 32_767  # characters, as many as a spreadsheet's cell can hold
LINE_OF_TEXT = 100_000  # characters
LEVELS = 60  # rows below rows
PASTED = 20_000  # lines at once
DIGITS = 18  # of a whole number: what a 64-bit integer holds

_WHOLE = re.compile(r"[+-]?[0-9]+")


class OverBudget(BadFile):
    """Something is larger than it may be; nothing of it is read."""

    def __init__(self, name: str, has: int, what: str, most: int) -> None:
        super().__init__(f"{name} has {has:,} {what}; {most:,} are the most.")


def within(name: str, has: int, what: str, most: int) -> None:
    """Raise ``OverBudget`` if there is more than there may be."""
    if has > most:
        raise OverBudget(name, has, what, most)


def whole_number(text: str) -> int | None:
    """A whole number that a person or a program wrote; None if it is none, or has too many digits."""
    found = text.strip()
    if not _WHOLE.fullmatch(found) or len(found) > DIGITS + 1:
        return None
    return int(found)


@contextmanager
def hostile(name: str, what: str) -> Iterator[None]:
    """Reading of what somebody else has made, by a library: whatever it raises becomes one sentence.

    A library that reads damaged data may raise anything, also the panic of one that is not written in Python.
    """
    try:
        yield
    except (HexapodError, KeyboardInterrupt, SystemExit, GeneratorExit):
        raise
    except BaseException as error:
        reason = " ".join(str(error).split())[:100]
        raise BadFile(f"{name} is damaged, or no {what}{f': {reason}' if reason else ''}.") from None
