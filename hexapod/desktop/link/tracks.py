"""Where links of the network run from one layer to the next: straight, with their upright parts side by side.

Each gap between two layers has tracks for upright parts. What leaves one box shares a track; others get one of their
own where they would lie on each other. Tracks are in such an order that links side by side do not cross: of those that
go down, the upper one runs farther right. Pure: knows no widget and no plan.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

from hexapod.desktop.link.layers import Layout

SLOPE = 0.12  # of the distance between two boxes


@dataclass(frozen=True)
class Hop:
    """A part of a link: from height ``begin`` in ``layer`` to height ``end`` in a later one."""

    arc: int
    layer: int
    begin: float
    end: float

    @property
    def is_level(self) -> bool:
        """Whether it needs no upright part: a step as small as this is a slope in the gap."""
        return abs(self.begin - self.end) < SLOPE


class Tracks:
    """``room`` is the part of a gap, from left to right in the diagram, in which upright parts may lie."""

    def __init__(self, layout: Layout, arcs: Sequence[tuple[int, int]], room: tuple[float, float]) -> None:
        self._layout, self._arcs, self._room = layout, arcs, room
        self._made: dict[int, dict[int, float]] = {}

    def hops(self, arc: int) -> list[Hop]:
        """The parts of a link, from its tail to its head."""
        tail, head = self._arcs[arc]
        layer, y = self._layout.layer, self._layout.y
        points = [(int(layer[tail]), float(y[tail])), *self._layout.bends[arc], (int(layer[head]), float(y[head]))]
        return [Hop(arc, here[0], here[1], there[1]) for here, there in pairwise(points)]

    def x(self, hop: Hop) -> float:
        """Where the upright part of a hop lies, from the right of its layer on."""
        if hop.layer not in self._made:
            self._made[hop.layer] = self._tracks_of(self._by_layer.get(hop.layer, []))
        return self._made[hop.layer][hop.arc]

    @cached_property
    def _by_layer(self) -> dict[int, list[Hop]]:
        found: dict[int, list[Hop]] = {}
        for arc in range(len(self._arcs)):
            for hop in (hop for hop in self.hops(arc) if not hop.is_level):
                found.setdefault(hop.layer, []).append(hop)
        return found

    def _tracks_of(self, hops: list[Hop]) -> dict[int, float]:
        bundles: dict[tuple[float, bool], list[Hop]] = {}
        for hop in hops:
            bundles.setdefault((hop.begin, hop.end >= hop.begin), []).append(hop)
        going = sorted(bundles, key=lambda b: (b[1], -b[0] if b[1] else b[0]))
        taken: list[list[tuple[float, float]]] = []  # by track, from left to right, the heights that are in use
        number: dict[tuple[float, bool], int] = {}
        for bundle in going:
            ends = [bundle[0], *(hop.end for hop in bundles[bundle])]
            low, high = min(ends), max(ends)
            last = max(
                (number[b] for b in number if b[1] == bundle[1] and _meet(taken[number[b]], low, high)), default=-1
            )
            track = next((i for i in range(last + 1, len(taken)) if not _meet(taken[i], low, high)), len(taken))
            if track == len(taken):
                taken.append([])
            taken[track].append((low, high))
            number[bundle] = track
        left, right = self._room
        step = (right - left) / max(len(taken), 1)
        return {hop.arc: left + step * (number[bundle] + 0.5) for bundle, same in bundles.items() for hop in same}


def _meet(taken: list[tuple[float, float]], low: float, high: float) -> bool:
    return any(low < other_high and other_low < high for other_low, other_high in taken)
