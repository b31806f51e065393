"""How wide columns are where nobody has said so: as their texts need, and names get the room that is left."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import accumulate
from typing import NamedTuple

MOST_OF_THE_ROOM = 0.45  # for the names, where not everything can be seen at once


class Wish(NamedTuple):
    """Pixels of a column: at least, and as its texts need."""

    least: int
    needed: int


def fitted(wishes: Sequence[Wish], room: int, keeper: int) -> list[int]:
    """A width for each column. What is left of the room goes to the column ``keeper``, that of the names.

    Where there is too little, nothing is cut: one scrolls sideways, and the room ends where a column ends. Only names
    leave room for the rest.
    """
    widths = [max(wish.least, wish.needed) for wish in wishes]
    if sum(widths) > room:
        widths[keeper] = max(wishes[keeper].least, min(widths[keeper], round(room * MOST_OF_THE_ROOM)))
    ends = [end for end in accumulate(widths) if end <= room]
    if len(ends) > keeper:
        widths[keeper] += room - ends[-1]
    return widths
