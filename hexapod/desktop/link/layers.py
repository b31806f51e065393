"""A network laid out in layers from left to right, with few crossings and the driving chain straight.

After Sugiyama, Tagawa and Toda, "Methods for visual understanding of hierarchical system structures" (1981):
layers by longest path, bends where an arc passes a layer, order by barycentres. Heights are then a least
squares fit in that order (isotonic regression, Barlow et al. 1972). Pure: knows no widget and no plan.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

Ints = NDArray[np.int64]
Floats = NDArray[np.float64]
SWEEPS = 12
LONGEST_BEND = 12  # layers that an arc bends through; a longer one is drawn straight
STRAIGHT = 60.0  # how much more the driving chain weighs than other boxes
BEND_HEIGHT = 0.35  # of a box


@dataclass(frozen=True)
class Layout:
    """``layer`` and ``y`` (in box heights) of each node; ``bends`` the (layer, y) points of each arc between its ends.

    ``bands`` are the first and last y of each lane.
    """

    layer: Ints
    y: Floats
    bends: tuple[tuple[tuple[int, float], ...], ...]
    bands: tuple[tuple[float, float], ...]
    crossings: int


class Stopped(Exception):
    """Whoever asked does not want the layout any more."""


def forward_arcs(count: int, arcs: Sequence[tuple[int, int]], order: Sequence[float]) -> list[tuple[int, int]]:
    """The arcs without those that close a circle, which folded summaries can form; ``order`` says which way is on."""
    rank = {node: i for i, node in enumerate(sorted(range(count), key=lambda n: (order[n], n)))}
    left = _peeled(count, _peeled(count, set(arcs), 1), 0)
    return [(t, h) for t, h in arcs if (t, h) not in left or rank[t] < rank[h]]


def _peeled(count: int, arcs: set[tuple[int, int]], end: int) -> set[tuple[int, int]]:
    """The arcs that are left when nodes without arcs into them (``end`` 1), or out of them (0), are taken away."""
    by_start: list[list[tuple[int, int]]] = [[] for _ in range(count)]
    waits = [0] * count
    for arc in arcs:
        by_start[arc[1 - end]].append(arc)
        waits[arc[end]] += 1
    ready = [n for n in range(count) if not waits[n]]
    left = set(arcs)
    while ready:
        for arc in by_start[ready.pop()]:
            left.discard(arc)
            waits[arc[end]] -= 1
            if not waits[arc[end]]:
                ready.append(arc[end])
    return left


def layers_of(count: int, arcs: Sequence[tuple[int, int]]) -> Ints:
    """The layer of each node: one behind the last of those that lead to it. ``arcs`` form no circle."""
    onward: list[list[int]] = [[] for _ in range(count)]
    waits = [0] * count
    for tail, head in arcs:
        onward[tail].append(head)
        waits[head] += 1
    layer = np.zeros(count, dtype=np.int64)
    ready = [n for n in range(count) if not waits[n]]
    while ready:
        node = ready.pop()
        for head in onward[node]:
            layer[head] = max(layer[head], layer[node] + 1)
            waits[head] -= 1
            if not waits[head]:
                ready.append(head)
    return layer


def lay_out(
    count: int,
    arcs: Sequence[tuple[int, int]],
    *,
    order: Sequence[float],
    driving: Sequence[bool] = (),
    lanes: Sequence[int] = (),
    goes_on: Callable[[float], bool] = lambda part: True,
) -> Layout:
    """Place nodes. ``driving`` is by arc, ``lanes`` by node; ``goes_on`` hears the part done and may say no."""
    kept = set(forward_arcs(count, arcs, order))
    layer = layers_of(count, [a for a in arcs if a in kept])
    bent = _Bent(count, arcs, layer, driving, lanes)
    bent.order_first(order)
    best, fewest = bent.position.copy(), bent.crossings()
    for sweep in range(SWEEPS):
        if not goes_on(0.8 * sweep / SWEEPS):
            raise Stopped
        bent.sweep(forward=sweep % 2 == 0)
        crossings = bent.crossings()
        if crossings < fewest:
            best, fewest = bent.position.copy(), crossings
        if not crossings:
            break
    bent.take(best)
    y, bands = bent.heights(goes_on)
    bends = tuple(tuple((int(bent.layer[b]), float(y[b])) for b in chain) for chain in bent.chains)
    return Layout(layer, y[:count], bends, tuple(bands), fewest)


class _Bent:
    """Nodes and bends in their layers, each layer in an order."""

    def __init__(
        self,
        count: int,
        arcs: Sequence[tuple[int, int]],
        layer: Ints,
        driving: Sequence[bool],
        lanes: Sequence[int],
    ) -> None:
        self.count = count
        layers, weights = layer.tolist(), [1.0] * count
        lane = list(lanes) if lanes else [0] * count
        pairs: list[tuple[int, int]] = []
        self.chains: list[list[int]] = []
        for i, (tail, head) in enumerate(arcs):
            chain: list[int] = []
            span = layers[head] - layers[tail]
            is_driving = bool(driving) and driving[i]
            if is_driving:
                weights[tail] = weights[head] = STRAIGHT
            if 1 <= span <= LONGEST_BEND:
                for step in range(1, span):
                    chain.append(len(layers))
                    layers.append(layers[tail] + step)
                    weights.append(STRAIGHT if is_driving else 0.5)
                    lane.append(lane[tail])
                line = [tail, *chain, head]
                pairs.extend(pairwise(line))
            self.chains.append(chain)
        self.layer = np.array(layers, dtype=np.int64)
        self.lane = np.array(lane, dtype=np.int64)
        self.weight = np.array(weights)
        self.size = np.array([1.0] * count + [BEND_HEIGHT] * (len(layers) - count))
        ends = np.array(pairs, dtype=np.int64).reshape(-1, 2)
        self.tails, self.heads = ends[:, 0], ends[:, 1]
        self.position = np.zeros(len(layers))
        self.rows: list[Ints] = []

    def order_first(self, order: Sequence[float]) -> None:
        """Each layer by lane and by where its nodes come from, first of all by ``order``."""
        first = np.concatenate((np.argsort(np.argsort(np.array(order, dtype=float), kind="stable")), np.zeros(0)))
        keys = np.zeros(len(self.layer))
        keys[: self.count] = first
        for chain, tail in zip(self.chains, self._tails_of_chains(), strict=True):
            for bend in chain:
                keys[bend] = keys[tail]
        by_layer = np.lexsort((keys, self.lane, self.layer))
        cuts = np.flatnonzero(np.diff(self.layer[by_layer])) + 1
        self.rows = [row for row in np.split(by_layer, cuts) if len(row)]
        self._number()

    def _tails_of_chains(self) -> list[int]:
        first = {int(h): int(t) for t, h in zip(self.tails, self.heads, strict=True) if h >= self.count}
        return [first[chain[0]] if chain else 0 for chain in self.chains]

    def _number(self) -> None:
        for row in self.rows:
            self.position[row] = np.arange(len(row))

    def take(self, position: Floats) -> None:
        self.position = position
        self.rows = [row[np.argsort(position[row], kind="stable")] for row in self.rows]

    def sweep(self, *, forward: bool) -> None:
        """Order each layer by the mean position of its neighbours in the layer before it, or behind it."""
        ends, others = (self.heads, self.tails) if forward else (self.tails, self.heads)
        for k in range(1, len(self.rows)) if forward else range(len(self.rows) - 2, -1, -1):
            pull = np.minimum(self.weight[ends], self.weight[others])  # heavy only along the driving chain
            total = np.bincount(ends, self.position[others] * pull, minlength=len(self.layer))
            counts = np.bincount(ends, pull, minlength=len(self.layer))
            row = self.rows[k]
            mean = np.where(counts[row] > 0, total[row] / np.maximum(counts[row], 1e-9), self.position[row])
            row = row[np.lexsort((self.position[row], mean, self.lane[row]))]
            self.rows[k] = row
            self.position[row] = np.arange(len(row))

    def crossings(self) -> int:
        """How many pairs of arcs between neighbouring layers cross (inversions, by a Fenwick tree)."""
        total = 0
        order = np.lexsort((self.position[self.heads], self.position[self.tails], self.layer[self.tails]))
        layer = self.layer[self.tails][order]
        heads = self.position[self.heads][order].astype(np.int64)
        for part in np.split(heads, np.flatnonzero(np.diff(layer)) + 1):
            total += _inversions(part.tolist())
        return total

    def heights(self, goes_on: Callable[[float], bool]) -> tuple[Floats, list[tuple[float, float]]]:
        """Every node's y: close to its neighbours' in a least squares sense, in order, apart, and lane under lane."""
        y = np.zeros(len(self.layer))
        parts = [
            [row[self.lane[row] == lane] for row in self.rows] for lane in range(int(self.lane.max(initial=0)) + 1)
        ]
        bands: list[tuple[float, float]] = []
        top = 0.0
        for i, rows in enumerate(parts):
            if not goes_on(0.8 + 0.2 * i / len(parts)):
                raise Stopped
            self._heights_of([row for row in rows if len(row)], y)
            own = np.concatenate([r for r in rows if len(r)]) if any(len(r) for r in rows) else np.zeros(0, dtype=int)
            if len(own):
                y[own] += top - y[own].min()
                bands.append((top, float(y[own].max()) + 1.0))
                top = bands[-1][1] + 0.6
            else:
                bands.append((top, top))
        return y, bands

    def _heights_of(self, rows: list[Ints], y: Floats) -> None:
        for row in rows:
            steps = (self.size[row][1:] + self.size[row][:-1]) / 2
            y[row] = np.concatenate(([0.0], np.cumsum(steps)))
        same = self.lane[self.tails] == self.lane[self.heads]
        tails, heads = self.tails[same], self.heads[same]
        for sweep in range(8):
            forward = sweep % 2 == 0
            ends, others = (heads, tails) if forward else (tails, heads)
            for row in rows if forward else reversed(rows):
                pull = np.minimum(self.weight[ends], self.weight[others])
                total = np.bincount(ends, y[others] * pull, minlength=len(y))
                counts = np.bincount(ends, pull, minlength=len(y))
                wanted = np.where(counts[row] > 0, total[row] / np.maximum(counts[row], 1e-9), y[row])
                y[row] = _in_order(wanted, self.weight[row], self.size[row])


def _inversions(values: list[int]) -> int:
    """Pairs that stand in the wrong order."""
    size = max(values, default=0) + 2
    tree = [0] * (size + 1)
    found = 0
    for seen, value in enumerate(values):
        at, smaller = value + 1, 0
        while at:
            smaller += tree[at]
            at -= at & -at
        found += seen - smaller
        at = value + 1
        while at <= size:
            tree[at] += 1
            at += at & -at
    return found


def _in_order(wanted: Floats, weight: Floats, size: Floats) -> Floats:
    """The heights nearest to those wanted that keep the order and the distance (pool adjacent violators)."""
    offset = np.concatenate(([0.0], np.cumsum((size[1:] + size[:-1]) / 2)))
    blocks: list[tuple[float, float, int]] = []  # mean, weight, how many
    for value, w in zip((wanted - offset).tolist(), weight.tolist(), strict=True):
        mean, total, count = value, w, 1
        while blocks and blocks[-1][0] > mean:
            m, t, c = blocks.pop()
            mean, total, count = (mean * total + m * t) / (total + t), total + t, count + c
        blocks.append((mean, total, count))
    flat = [mean for mean, _, count in blocks for _ in range(count)]
    return np.array(flat) + offset
