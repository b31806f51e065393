"""The work to be levelled on a grid of equal slots of working time, so that a search can place it thousands of times
a second.

Time in which no calendar works is left out. A slot is as long as every duration, lag and working interval is a
multiple of; where that would be too fine, a coarser one is taken, and what is found on it gives the order of the
tasks only. Nodes are those of the network in an order in which every arc points onward.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from hexapod.schedule.codes import NEVER, WARN
from hexapod.schedule.network import Network
from hexapod.staffing.capacity import Capacity
from hexapod.staffing.levelling.kinds import CLOSE, GATE, LEAF, SPAN
from hexapod.system.compiler import njit
from hexapod.worktime.calendars import Ints, WorkingTime

MOST_SLOTS = 120_000
MOST_CELLS = 60_000_000  # slots times resources
STEPS = (5, 10, 15, 20, 30, 60, 120, 240, 480)  # minutes a slot where the exact one would be too fine
NO_BOUND = -1


class Grid(NamedTuple):
    """All the search needs, in slots. Rows of nodes: their arcs are ``into[k]`` up to ``into[k + 1]``, likewise onward
    (``out_*``) and what they ask of resources (``ask_*``). Calendar c works in slot s where ``work[c, s + 1]`` is one
    more than ``work[c, s]``; ``at[c, w]`` is the slot in which its work w is done."""

    kind: Ints
    calendar: Ints
    duration: Ints
    base: Ints
    finish_from: Ints
    latest: Ints  # start, where the finish may not move
    fixed: Ints  # the hold of a node that may not be moved; -1 where it may
    urgency: Ints  # 0 comes first
    is_end: Ints  # a leaf, whose finish counts
    into: Ints
    source: Ints
    arc_kind: Ints
    lag: Ints
    lag_calendar: Ints
    out_into: Ints
    out_target: Ints
    out_arc: Ints
    ask_into: Ints
    ask_resource: Ints
    ask_units: Ints
    ask_calendar: Ints
    work: Ints  # calendars x slots + 1
    at: Ints  # calendars x slots
    capacity: Ints  # resources x slots
    project: Ints  # of a leaf, numbered from 0; -1 for other nodes

    @property
    def slots(self) -> int:
        return self.capacity.shape[1]


@dataclass(frozen=True)
class Gridded:
    """A grid, the network's node behind each of its own, and whether what it finds is exact."""

    grid: Grid
    nodes: Ints
    step: int
    is_exact: bool
    ruler: Ruler

    def minute(self, slot: int) -> int:
        """The moment at which so many slots are done."""
        done, edges = self.ruler.done, self.ruler.edges
        k = int(np.clip(np.searchsorted(done, slot * self.step) - 1, 0, len(edges.begins) - 1))
        return int(edges.begins[k] + slot * self.step - done[k])

    def slot(self, moment: int) -> int:
        """How many slots are over at a moment."""
        return int(self.ruler.at(np.array([moment]))[0]) // self.step


def _in_order(network: Network, rank: Ints) -> Ints:
    """The nodes in an order in which every arc points onward, and which does not depend on how the plan is stored."""
    shape = network.structure
    deep = depths(shape.order, shape.into, shape.source, shape.kind)[shape.order]
    places = np.concatenate((2 * rank, 2 * rank + 1))[shape.order]
    found: Ints = shape.order[np.lexsort((places, deep))]
    return found


@njit(cache=True, nogil=True)
def depths(order: Ints, into: Ints, source: Ints, kind: Ints) -> Ints:
    """How many arcs lead to each node, one behind the other."""
    found = np.zeros(len(into) - 1, dtype=np.int64)
    for k in order:
        for a in range(into[k], into[k + 1]):
            if kind[a] != WARN:
                found[k] = max(found[k], found[source[a]] + 1)
    return found


class Ruler:
    """Working minutes of any calendar up to a moment."""

    def __init__(self, edges: WorkingTime) -> None:
        self.edges = edges
        self.done = np.concatenate(([0], np.cumsum(edges.ends - edges.begins)))

    def at(self, moments: Ints) -> Ints:
        if not len(self.edges.begins):
            return np.zeros(len(moments), dtype=np.int64)
        k = np.searchsorted(self.edges.begins, moments, side="right") - 1
        inside = np.minimum(moments, self.edges.ends[np.maximum(k, 0)]) - self.edges.begins[np.maximum(k, 0)]
        found: Ints = np.where(k < 0, 0, self.done[np.maximum(k, 0)] + np.maximum(inside, 0))
        return found


class Wanted(NamedTuple):
    """What the levelling says of the network's nodes: which may move, what they ask, how urgent each is, in minutes."""

    movable: Ints
    asks: dict[int, list[tuple[int, int, int]]]  # slot: resource, units, calendar
    urgency: Ints  # by node, inherited
    rank: Ints  # by slot, the place in the outline
    lags: Ints
    lag_calendars: Ints
    late_start: Ints | None  # None: the finish may move
    capacity: Capacity


def gridded(network: Network, wanted: Wanted, until: int) -> Gridded:
    """The grid from the first moment that work can begin up to ``until``, in minutes."""
    shape, tasks, n = network.structure, network.tasks, network.size
    nodes = _in_order(network, wanted.rank)
    leaves = nodes[(nodes < n) & (shape.leaf[np.minimum(nodes, n - 1)] == 1)]
    used = _calendars_used(network, wanted, leaves)
    begin = int(tasks.base[leaves].min()) if len(leaves) else 0
    works = {c: _clipped(network.timing.compiled[c], begin, until) for c in used}
    edges = _union(list(works.values()))
    ruler = Ruler(edges)
    steps = wanted.capacity.steps_within(begin, until)
    lengths = [tasks.duration[leaves], wanted.lags, tasks.hold[leaves]]
    moments = [tasks.base[leaves], tasks.start_from[leaves], tasks.finish_from[leaves], steps]
    step = _finest(ruler, works, lengths, moments, begin)
    slots = -(-int(ruler.done[-1]) // step)
    is_exact = slots <= MOST_SLOTS and slots * len(wanted.capacity.resources) <= MOST_CELLS
    if not is_exact:
        most = min(MOST_SLOTS, MOST_CELLS // max(1, len(wanted.capacity.resources)))
        step = next((s for s in STEPS if ruler.done[-1] // s < most), int(ruler.done[-1] // most) + 1)
        slots = -(-int(ruler.done[-1]) // step)
    grid = _grid(network, wanted, nodes, works, ruler, step, slots)
    return Gridded(grid, nodes, step, is_exact, ruler)


def _calendars_used(network: Network, wanted: Wanted, leaves: Ints) -> list[int]:
    used = set(network.tasks.calendar[leaves].tolist())
    used |= {c for asked in wanted.asks.values() for _, _, c in asked}
    used |= {int(c) for c in np.unique(wanted.lag_calendars) if c >= 0}
    return sorted(used)


def _clipped(found: WorkingTime, begin: int, until: int) -> WorkingTime:
    begins, ends = np.maximum(found.begins, begin), np.minimum(found.ends, until)
    return WorkingTime(begins[begins < ends], ends[begins < ends])


def _union(works: list[WorkingTime]) -> WorkingTime:
    begins = np.concatenate([w.begins for w in works]) if works else np.zeros(0, dtype=np.int64)
    ends = np.concatenate([w.ends for w in works]) if works else begins
    if not len(begins):
        return WorkingTime(begins, ends)
    by_begin = np.argsort(begins, kind="stable")
    begins, ends = begins[by_begin], np.maximum.accumulate(ends[by_begin])
    fresh = np.concatenate(([True], begins[1:] > ends[:-1]))
    return WorkingTime(begins[fresh], ends[np.concatenate((fresh[1:], [True]))])


def _finest(ruler: Ruler, works: dict[int, WorkingTime], lengths: list[Ints], moments: list[Ints], begin: int) -> int:
    parts = [np.abs(length) for length in lengths]
    parts += [ruler.at(m[m > begin]) for m in moments]
    parts += [ruler.at(edges) for w in works.values() for edges in (w.begins, w.ends)]
    inner = np.concatenate(parts) if parts else np.zeros(0, dtype=np.int64)
    inner = inner[inner < ruler.done[-1]] if len(ruler.done) > 1 else inner
    return max(1, int(np.gcd.reduce(inner)) if len(inner) else 1)


def _grid(
    network: Network,
    wanted: Wanted,
    nodes: Ints,
    works: dict[int, WorkingTime],
    ruler: Ruler,
    step: int,
    slots: int,
) -> Grid:
    shape, tasks, n, count = network.structure, network.tasks, network.size, len(nodes)
    number = {c: i for i, c in enumerate(works)}
    slot = np.where(nodes < n, nodes, nodes - n)
    is_leaf = (nodes < n) & (shape.leaf[slot] == 1)
    kind = np.where(nodes >= n, CLOSE, np.where(is_leaf, np.where(tasks.span[slot] == 1, SPAN, LEAF), GATE))
    position = np.full(2 * n, -1, dtype=np.int64)
    position[nodes] = np.arange(count)
    into, source, arc_kind, lag, lag_calendar = _arcs(network, wanted, nodes, position, number, step)
    out_into, out_target, out_arc = _onward(into, source, count)
    of = np.where(is_leaf, tasks.calendar[slot], -1)
    calendar = np.array([number.get(int(c), 0) for c in of], dtype=np.int64)
    duration = np.where(is_leaf & (kind != SPAN), _ceil(tasks.duration[slot], step), 0)
    base = np.where(is_leaf, np.maximum(tasks.base[slot], tasks.start_from[slot]), NEVER)
    finish_from = np.where(is_leaf, tasks.finish_from[slot], NEVER)
    latest = np.full(count, slots, dtype=np.int64)
    if wanted.late_start is not None:
        latest = np.where(is_leaf, ruler.at(wanted.late_start[slot]) // step, slots)
    may_move = wanted.movable[slot] == 1
    fixed = np.where(is_leaf & ~may_move, tasks.hold[slot] // step, -1)
    ask_into, asks = _asks(nodes, n, wanted, number)
    work, at = _work(list(works.values()), ruler, step, slots)
    return Grid(
        kind, calendar, duration, _ceil(ruler.at(base), step),
        np.where(finish_from > NEVER, _ceil(ruler.at(finish_from), step), NO_BOUND),
        latest, fixed, wanted.urgency[nodes], is_leaf.astype(np.int64),
        into, source, arc_kind, lag, lag_calendar, out_into, out_target, out_arc,
        ask_into, asks[:, 0].copy(), asks[:, 1].copy(), asks[:, 2].copy(),
        work, at, wanted.capacity.by_slot(_moments(ruler, step, slots)),
        _renumbered(np.where(is_leaf, tasks.project[slot], -1)),
    )  # fmt: skip


def _renumbered(projects: Ints) -> Ints:
    """The numbers that are in use, counted from 0 without gaps."""
    used = np.unique(projects[projects >= 0])
    found: Ints = np.where(projects >= 0, np.searchsorted(used, projects), -1)
    return found


def _ceil(values: Ints, step: int) -> Ints:
    """How many slots so many minutes need; a part of a slot counts as a whole one."""
    return -(-values // step)


def _arcs(
    network: Network, wanted: Wanted, nodes: Ints, position: Ints, number: dict[int, int], step: int
) -> tuple[Ints, Ints, Ints, Ints, Ints]:
    shape = network.structure
    heads = [0]
    found: list[tuple[int, int, int, int]] = []
    for j in nodes.tolist():
        mine = []
        for a in range(shape.into[j], shape.into[j + 1]):
            if shape.kind[a] != WARN and position[shape.source[a]] >= 0:
                counted = int(wanted.lag_calendars[a])
                mine.append(
                    (
                        int(position[shape.source[a]]),
                        int(shape.kind[a]),
                        round(int(wanted.lags[a]) / step),
                        number.get(counted, -1) if counted >= 0 else -1,
                    )
                )
        found += sorted(mine)
        heads.append(len(found))
    table = np.array(found, dtype=np.int64).reshape(-1, 4)
    return (np.array(heads, dtype=np.int64), *(table[:, i].copy() for i in range(4)))  # type: ignore[return-value]


def _onward(into: Ints, source: Ints, count: int) -> tuple[Ints, Ints, Ints]:
    target = np.repeat(np.arange(count), np.diff(into))
    by_source = np.argsort(source, kind="stable")
    heads = np.searchsorted(source[by_source], np.arange(count + 1))
    return heads.astype(np.int64), target[by_source], by_source.astype(np.int64)


def _asks(nodes: Ints, n: int, wanted: Wanted, number: dict[int, int]) -> tuple[Ints, Ints]:
    """What no capacity ever suffices for is left out: it is reported, and holds nobody up."""
    most = wanted.capacity.most
    heads, found = [0], []
    for j in nodes.tolist():
        for resource, units, calendar in wanted.asks.get(j, ()) if j < n else ():
            if units <= most[resource]:
                found.append((resource, units, number[calendar]))
        heads.append(len(found))
    return np.array(heads, dtype=np.int64), np.array(found, dtype=np.int64).reshape(-1, 3)


def _work(works: list[WorkingTime], ruler: Ruler, step: int, slots: int) -> tuple[Ints, Ints]:
    """Which slots each calendar works: those of which it works more than half."""
    work = np.zeros((len(works), slots + 1), dtype=np.int64)
    at = np.full((len(works), slots), slots, dtype=np.int64)
    for c, found in enumerate(works):
        covered = np.zeros(slots * step + 1, dtype=np.int32)
        np.add.at(covered, ruler.at(found.begins), 1)
        np.add.at(covered, np.minimum(ruler.at(found.ends), slots * step), -1)
        minutes = np.cumsum(covered[:-1]).reshape(slots, step).sum(axis=1)
        is_worked = 2 * minutes >= step
        work[c, 1:] = np.cumsum(is_worked)
        worked = np.flatnonzero(is_worked)
        at[c, : len(worked)] = worked
    return work, at


def _moments(ruler: Ruler, step: int, slots: int) -> Ints:
    """The minute in which each slot begins."""
    begins = np.arange(slots) * step
    k = np.clip(np.searchsorted(ruler.done, begins, side="right") - 1, 0, max(0, len(ruler.edges.begins) - 1))
    if not len(ruler.edges.begins):
        return begins
    found: Ints = ruler.edges.begins[k] + begins - ruler.done[k]
    return found


@njit(cache=True, nogil=True)
def inherited(order: Ints, into: Ints, source: Ints, kind: Ints, urgency: Ints) -> Ints:
    """Each node becomes as urgent as the most urgent that waits for it; 0 comes first."""
    found = urgency.copy()
    for i in range(len(order) - 1, -1, -1):
        k = order[i]
        for a in range(into[k], into[k + 1]):
            if kind[a] != WARN:
                found[source[a]] = min(found[source[a]], found[k])
    return found
