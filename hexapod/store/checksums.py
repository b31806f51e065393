"""A checksum in each row, so that what a disk made of it is never taken for what was written."""

from __future__ import annotations

import zlib
from collections.abc import Sequence
from typing import Any

import msgspec

from hexapod.store.sentences import NEVER_READ

CHECKSUM = "checksum"  # the column, the last of its table


class NotAsWritten(ValueError):
    """A row that does not hold what was written into it; the words name it."""


BAD_ROW = (msgspec.MsgspecError, TypeError, ValueError, *NEVER_READ)  # what a damaged row raises when it is read


def checksum(values: Sequence[Any]) -> int:
    """CRC-32 (ISO 3309) of the values of a row, in their order, packed as msgpack. Text, numbers and None only."""
    return zlib.crc32(msgspec.msgpack.encode(values))


def checked(row: Sequence[Any], name: object) -> Sequence[Any]:
    """The values of a row without its checksum; ``NotAsWritten``, which calls it ``name``, if they do not agree."""
    *values, found = row
    if checksum(values) != found:
        raise NotAsWritten(f"the row “{str(name)[:60]}” is not what was written")
    return values
