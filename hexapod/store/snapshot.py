"""The plan and its dates in one piece, so that a large workspace is there at once when it is opened again.

A copy in the user's private cache, written when a workspace is closed. The file's tables are the plan; the copy is
believed only where three things agree: the workspace keeps the digest of the copy and the number of the last edit that
is in it; the file has the size, the time and the change counter that it had when it was closed; and nothing waits to be
written into it. All three are read and written while the workspace is locked. Whoever uses a copy still has to check
the plan (``check_whole``), unless the copy says that this version of the program has.
"""

from __future__ import annotations

import contextlib
import hashlib
import os
import types
from collections.abc import Callable, Mapping
from pathlib import Path
from typing import Any, NamedTuple

import msgspec
import numpy as np
import platformdirs

from hexapod import __version__
from hexapod.errors import BadFile
from hexapod.plan.kinds import KINDS
from hexapod.plan.lookups import LATER
from hexapod.plan.partial import PartialPlan
from hexapod.plan.plan import Plan
from hexapod.plan.records import Record
from hexapod.plan.uncollected import uncollected
from hexapod.schedule.kept_network import KeptNetwork, kept_of
from hexapod.schedule.schedule import Dates, Schedule, StoredDates
from hexapod.store.schema import DATES
from hexapod.system.files import PRIVATE_FILE, private_folder, read_within, remove, replacing

LARGEST = 1_000_000_000  # bytes
FORM = 12  # of the copy; another one is not read
MOST_KEPT = 12  # workspaces
SIZE = 8  # bytes that say how long the head of a copy is
SIGNED = 56  # bytes that ``sign_of`` takes in front of a copy
_COLUMNS = (*DATES, "critical", "longest_path")


# What the first picture of a window does not need: read when it is asked for.
Rest: Any = msgspec.defstruct(
    "Rest", [(kind, types.GenericAlias(list, (KINDS[kind].record,))) for kind in LATER], frozen=True
)


class _Others(msgspec.Struct, frozen=True, kw_only=True):
    """What lies in the file beside the records: ``rest`` is the digest of a packed ``Rest``, so many bytes long, and of
    the network behind it, nothing where none was known; ``children`` are the tasks below each row of each project,
    ``slots`` the tasks in the order of the dates, ``columns`` int64 each. ``checked_by`` is the version of the program
    that found the plan to keep all rules."""

    rest: bytes
    rest_size: int
    checked_by: str = ""
    children: list[tuple[str, str | None, tuple[str, ...]]]
    slots: list[str] = []
    columns: list[bytes] = []
    starts: dict[str, int] = {}
    finishes: dict[str, int | None] = {}


AT_ONCE = [kind for kind in KINDS if kind not in LATER]
Pieces: Any = msgspec.defstruct(
    "Pieces",
    [(kind, types.GenericAlias(list, (KINDS[kind].record,))) for kind in AT_ONCE],
    bases=(_Others,),
    frozen=True,
    kw_only=True,
)


def place_of(workspace: Path) -> Path:
    """Where the copy of a workspace is."""
    name = hashlib.sha256(os.fsencode(os.path.realpath(workspace))).hexdigest()[:32]
    return Path(platformdirs.user_cache_dir("hexapod")) / "snapshots" / name


def sign_of(workspace: Path, counter: bytes) -> bytes:
    """What tells whether a file was touched: its size, its time, its change counter, and that nothing waits beside."""
    found = os.stat(workspace)
    pending = 0
    with contextlib.suppress(FileNotFoundError):
        pending = os.stat(f"{workspace}-wal").st_size
    numbers = (FORM, found.st_size, found.st_mtime_ns, found.st_ino, found.st_dev, pending)
    return b"".join(n.to_bytes(8, "little") for n in numbers) + counter.ljust(8, b"\0")


def digest_of(copy: bytes | memoryview) -> str:
    """Of the head of a copy, which holds the digest of the rest: a first picture does not wait for that."""
    return _digest(copy[: _end_of_head(copy)]).hex()


def _end_of_head(copy: bytes | memoryview) -> int:
    return SIZE + int.from_bytes(copy[:SIZE], "little")


def _digest(data: bytes | memoryview) -> bytes:
    return hashlib.blake2b(data, digest_size=32).digest()


def write_snapshot(workspace: Path, sign: bytes, data: bytes | memoryview) -> None:
    """Keep a copy of what a closed file holds; a cache that cannot be written is gone without."""
    with contextlib.suppress(OSError, BadFile):
        place = place_of(workspace)
        private_folder(place.parent)
        with replacing(place, mode=PRIVATE_FILE) as part, part.open("wb") as file:
            file.write(sign)
            file.write(data)
        found = sorted(place.parent.iterdir(), key=lambda p: p.stat().st_mtime)
        for old in found[:-MOST_KEPT]:
            remove(old)


def read_copy(workspace: Path, sign: bytes, digest: str, *, head_only: bool = False) -> memoryview | None:
    """The copy of a file as it was closed, or its head; None if the file was touched since, or the copy is another."""
    place, until = place_of(workspace), None
    try:
        if head_only:
            until = SIGNED + _end_of_head(read_within(place, LARGEST, until=SIGNED + SIZE)[SIGNED:])
        data = memoryview(read_within(place, LARGEST, until=until))  # parts of it are not copied
    except BadFile:
        return None
    if bytes(data[:SIGNED]) != sign or digest_of(data[SIGNED:]) != digest:
        return None
    return data[SIGNED:]


def read_snapshot(workspace: Path, sign: bytes, digest: str) -> Snapshot | None:
    """What the copy holds, the rest of it when it is asked for."""
    head = read_copy(workspace, sign, digest, head_only=True)

    def rest() -> memoryview | None:
        whole = read_copy(workspace, sign, digest)
        return None if whole is None else whole[_end_of_head(whole) :]

    return None if head is None else decoded(head, rest)


class Snapshot(NamedTuple):
    """What was read of a copy. ``rest`` reads the rest of it, whose digest is ``of_rest``, or says that it is gone;
    its first ``records`` bytes are records. ``is_checked`` says that this program found the plan to keep all rules."""

    part: PartialPlan
    rest: Callable[[], memoryview | None]
    of_rest: bytes
    dates: Dates | None
    records: int
    is_checked: bool = False

    def whole(self) -> tuple[Plan, KeptNetwork | None] | None:
        """The plan with the rest of its records, and the columns of its network where they were kept; None if that is
        not what was written."""
        rest = self.rest()
        if rest is None or _digest(rest) != self.of_rest:
            return None
        with uncollected():
            found = msgspec.msgpack.decode(rest[: self.records], type=Rest)
            plan = self.part.completed([record for kind in LATER for record in getattr(found, kind)])
            columns = rest[self.records :]
            return plan, msgspec.msgpack.decode(columns, type=KeptNetwork) if len(columns) else None


def encoded(plan: Plan, dates: Dates | None, *, is_checked: bool = False) -> bytes:
    """A snapshot in bytes: how long its head is, the head, and the rest. ``is_checked``: the plan keeps all rules."""
    records: dict[str, Any] = {kind: list(getattr(plan, kind).values()) for kind in AT_ONCE}
    records["children"] = [(*place, tasks) for place, tasks in plan.children.items()]
    # In the order of their keys, what belongs to one task lies side by side when it is read: that is twice as fast.
    later = (getattr(plan, kind) for kind in LATER)
    rest = msgspec.msgpack.encode(Rest(*([found[key] for key in sorted(found)] for found in later)))
    columns_of = b""
    if isinstance(dates, Schedule) and dates.plan is plan:
        columns_of = msgspec.msgpack.encode(kept_of(dates.network))
    records["rest_size"] = len(rest)
    rest += columns_of
    records["rest"] = _digest(rest)
    records["checked_by"] = __version__ if is_checked else ""
    if dates is not None:
        kept = [(t, i) for t, i in dates.slots.items() if t in plan.tasks and dates.has(t)]
        at = np.array([i for _, i in kept], dtype=np.int64)
        columns = [np.asarray(getattr(dates, name))[at].astype("<i8").tobytes() for name in _COLUMNS]
        pieces = Pieces(**records, slots=[t for t, _ in kept], columns=columns, starts=dict(dates.project_start),
                        finishes=dict(dates.project_finish))  # fmt: skip
    else:
        pieces = Pieces(**records)
    head = msgspec.msgpack.encode(pieces)
    return b"".join((len(head).to_bytes(SIZE, "little"), head, rest))


def decoded(copy: bytes | memoryview, rest: Callable[[], memoryview | None] | None = None) -> Snapshot | None:
    """What a copy holds; with only its head, ``rest`` reads what lies behind that. None if it is of another form."""
    with uncollected():
        end = _end_of_head(copy)
        try:
            pieces = msgspec.msgpack.decode(copy[SIZE:end], type=Pieces)
        except (msgspec.MsgspecError, ValueError, RecursionError):
            return None
        records: list[Record] = []
        for kind in AT_ONCE:
            records += getattr(pieces, kind)
        children = {(project, parent): tasks for project, parent, tasks in pieces.children}
        return Snapshot(
            PartialPlan(records, children), rest or (lambda: memoryview(copy)[end:]), pieces.rest, _dates(pieces),
            pieces.rest_size, pieces.checked_by == __version__,
        )  # fmt: skip


def _dates(pieces: _Others) -> StoredDates | None:
    count = len(pieces.slots)
    if not count or len(pieces.columns) != len(_COLUMNS) or any(len(c) != 8 * count for c in pieces.columns):
        return None
    columns: dict[str, Any] = {
        n: np.frombuffer(c, dtype="<i8").copy() for n, c in zip(_COLUMNS, pieces.columns, strict=True)
    }
    slots: Mapping[str, int] = {t: i for i, t in enumerate(pieces.slots)}
    return StoredDates(slots=slots, project_start=pieces.starts, project_finish=pieces.finishes, **columns)
