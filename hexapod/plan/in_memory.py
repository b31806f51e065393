"""Many records at once: in the order in which they lie in memory, and a field of each."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from operator import attrgetter
from typing import Any, TypeVar

import numpy as np

K = TypeVar("K")
R = TypeVar("R")
FEW = 1000


def values_of(records: Iterable[Any], field: str) -> Iterable[Any]:
    """A field of each; ``field`` may name one of a field, such as ``type.value``."""
    return map(attrgetter(field), records)


def in_memory_order(records: Mapping[K, R]) -> tuple[list[K], list[R]]:
    """All keys and records, from front to back. A persistent map yields them in an order that is as good as random, and
    to read a field of each of 250,000 links then takes four times as long."""
    keys, found = list(records), list(records.values())
    if len(found) < FEW:
        return keys, found
    order = np.argsort(np.fromiter(map(id, found), dtype=np.uint64, count=len(found))).tolist()
    return list(map(keys.__getitem__, order)), list(map(found.__getitem__, order))
