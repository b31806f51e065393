"""What the map of planning back shows."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass


@dataclass(frozen=True)
class Latest:
    """When a task must start and finish at the latest for a milestone; ``room`` is working minutes from its start."""

    task: str
    start: int
    finish: int
    milestone: str
    room: int


@dataclass(frozen=True)
class Picture:
    """``rows`` by task; ``bands`` are (lane, first row, row behind the last); ``begins`` is when work must begin."""

    latest: Mapping[str, Latest]
    rows: Mapping[str, int]
    bands: tuple[tuple[str, int, int], ...]
    begins: int | None


NOTHING = Picture({}, {}, (), None)
