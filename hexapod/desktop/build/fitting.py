"""How wide columns are where nobody has said so: as their texts need, and names get the room that is left."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import accumulate
from typing import NamedTuple


class Wish(NamedTuple):
    """Pixels of a column: at least, and as its texts need."""

    least: int
    needed: int


def fitted(wishes: Sequence[Wish], room: int, keeper: int, first: int) -> list[int]:
    """A width for each column, none less than the least.

    The ``first`` columns are in sight if the room holds them, though their texts be cut; one more only if nothing is
    cut for it. They get what their texts need, those that need little first; the column ``keeper`` of the names is
    before others that need half as much, and gets what is left. So the room ends where a column ends. What lies beyond
    it is as wide as it needs: one scrolls there.
    """
    ends = list(accumulate(wish.least for wish in wishes))
    whole = sum(end <= room for end in accumulate(map(max, wishes)))
    shown = max(keeper + 1, min(sum(end <= room for end in ends), max(first, whole)))
    spare = room - ends[shown - 1]
    widths = [wish.least if i < shown else max(wish) for i, wish in enumerate(wishes)]
    for i in sorted(range(shown), key=lambda i: (wishes[i].needed - wishes[i].least) / (2 if i == keeper else 1)):
        more = max(0, min(wishes[i].needed - wishes[i].least, spare))
        widths[i] += more
        spare -= more
    widths[keeper] += max(0, spare)
    return widths
