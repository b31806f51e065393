"""The plan and its dates in one piece, so that a large workspace is there at once when it is opened again.

A copy in the user's cache, written when a workspace is closed, and worth something only as long as the file is to the
byte what it was then: the file's tables are the plan. What cannot be read is passed over. Whoever uses one still has
to check the plan (``check_whole``).
"""

from __future__ import annotations

import hashlib
import zlib
from collections.abc import Mapping
from pathlib import Path
from typing import Any, NamedTuple

import msgspec
import numpy as np
import platformdirs

from hexapod.plan.plan import LATER, Plan
from hexapod.plan.records import (
    KINDS,
    Assignment,
    Calendar,
    Comment,
    Field,
    Link,
    Project,
    Record,
    Reservation,
    Resource,
    Task,
)
from hexapod.plan.uncollected import uncollected
from hexapod.schedule.schedule import Schedule
from hexapod.store.schema import DATES

LARGEST = 1_000_000_000  # bytes
FORM = 4  # of the copy; another one is not read
MOST_KEPT = 12  # workspaces
SIGNED = 40  # bytes that ``sign_of`` takes in front of a copy
_COLUMNS = (*DATES, "critical", "longest_path")


class Rest(msgspec.Struct, frozen=True):
    """What the first picture of a window does not need: read when it is asked for."""

    links: list[Link]
    assignments: list[Assignment]


class Pieces(msgspec.Struct, frozen=True):
    """As it lies in the file; ``rest`` is a packed ``Rest``, ``children`` are the tasks below each row of each project,
    ``slots`` the tasks in the order of the dates, ``columns`` int64 each."""

    calendars: list[Calendar]
    projects: list[Project]
    tasks: list[Task]
    resources: list[Resource]
    reservations: list[Reservation]
    fields: list[Field]
    comments: list[Comment]
    rest: bytes
    children: list[tuple[str, str | None, tuple[str, ...]]]
    slots: list[str] = []
    columns: list[bytes] = []
    starts: dict[str, int] = {}
    finishes: dict[str, int | None] = {}


def place_of(workspace: Path) -> Path:
    """Where the copy of a workspace is."""
    name = hashlib.sha256(str(workspace.absolute()).encode()).hexdigest()[:32]
    return Path(platformdirs.user_cache_dir("hexapod")) / "snapshots" / name


def sign_of(workspace: Path) -> bytes:
    """What tells whether a file was touched: its size, its time, and that nothing waits to be written into it."""
    found = workspace.stat()
    waits = workspace.with_name(workspace.name + "-wal")
    pending = waits.stat().st_size if waits.exists() else 0
    return b"".join(n.to_bytes(8, "little") for n in (FORM, found.st_size, found.st_mtime_ns, found.st_ino, pending))


def write_snapshot(workspace: Path, plan: Plan, dates: Schedule | None) -> None:
    """Keep a copy of what a closed file holds; a cache that cannot be written is gone without."""
    try:
        _write(workspace, encoded(plan, dates))
    except OSError:
        return


def keep_snapshot(workspace: Path) -> None:
    """The copy that was read still tells what the file holds: only what the window remembers of itself was written."""
    try:
        _write(workspace, place_of(workspace).read_bytes()[SIGNED:])
    except OSError:
        return


def _write(workspace: Path, data: bytes) -> None:
    place = place_of(workspace)
    place.parent.mkdir(parents=True, exist_ok=True)
    part = place.with_suffix(".part")
    part.write_bytes(sign_of(workspace) + data)
    part.replace(place)
    for old in sorted(place.parent.iterdir(), key=lambda p: p.stat().st_mtime)[:-MOST_KEPT]:
        old.unlink()


def read_snapshot(workspace: Path) -> Snapshot | None:
    """What the file held when it was closed; None if it was touched since. To be called before it is opened."""
    try:
        place = place_of(workspace)
        if place.stat().st_size > LARGEST:
            return None
        data, sign = memoryview(place.read_bytes()), sign_of(workspace)  # parts of it are not copied
    except OSError:
        return None
    return decoded(data[SIGNED:]) if data[:SIGNED] == sign else None


class Snapshot(NamedTuple):
    plan: Plan
    dates: Schedule | None


def encoded(plan: Plan, dates: Schedule | None) -> bytes:
    """A snapshot with its checksum in front."""
    records: dict[str, Any] = {kind: list(getattr(plan, kind).values()) for kind in KINDS if kind not in LATER}
    records["children"] = [(*place, tasks) for place, tasks in plan.children.items()]
    records["rest"] = msgspec.msgpack.encode(Rest(list(plan.links.values()), list(plan.assignments.values())))
    if dates is not None:
        kept = [(t, i) for t, i in dates.slots.items() if t in plan.tasks and dates.has(t)]
        at = np.array([i for _, i in kept], dtype=np.int64)
        columns = [np.asarray(getattr(dates, name))[at].astype("<i8").tobytes() for name in _COLUMNS]
        pieces = Pieces(**records, slots=[t for t, _ in kept], columns=columns, starts=dict(dates.project_start),
                        finishes=dict(dates.project_finish))  # fmt: skip
    else:
        pieces = Pieces(**records)
    packed = msgspec.msgpack.encode(pieces)
    return zlib.crc32(packed).to_bytes(4, "little") + packed


def decoded(data: bytes | memoryview) -> Snapshot | None:
    """None if it is damaged, or of another form."""
    if len(data) > LARGEST or zlib.crc32(data[4:]) != int.from_bytes(data[:4], "little"):
        return None
    with uncollected():
        try:
            pieces = msgspec.msgpack.decode(data[4:], type=Pieces)
        except (msgspec.MsgspecError, ValueError):
            return None
        records: list[Record] = []
        for kind in KINDS:
            if kind not in LATER:
                records += getattr(pieces, kind)
        children = {(project, parent): tasks for project, parent, tasks in pieces.children}
        return Snapshot(Plan.of(records, lambda: _rest(pieces.rest), children), _dates(pieces))


def _rest(packed: bytes) -> list[Record]:
    """Links and assignments; what the checksum has let through is whole."""
    found = msgspec.msgpack.decode(packed, type=Rest)
    return [*found.links, *found.assignments]


def _dates(pieces: Pieces) -> Schedule | None:
    count = len(pieces.slots)
    if not count or len(pieces.columns) != len(_COLUMNS) or any(len(c) != 8 * count for c in pieces.columns):
        return None
    columns: dict[str, Any] = {
        n: np.frombuffer(c, dtype="<i8").copy() for n, c in zip(_COLUMNS, pieces.columns, strict=True)
    }
    slots: Mapping[str, int] = {t: i for i, t in enumerate(pieces.slots)}
    return Schedule(slots=slots, project_start=pieces.starts, project_finish=pieces.finishes, **columns)
