"""What lies before and after a task in the network: everything, or only what drives."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING

import numpy as np

from hexapod.worktime.calendars import Ints

if TYPE_CHECKING:
    from hexapod.schedule.schedule import Schedule


class Reach(StrEnum):
    ALL = "before and after"
    BEFORE = "before"
    AFTER = "after"
    DRIVERS = "drivers"


@dataclass(frozen=True)
class Chain:
    task: str
    reach: Reach = Reach.ALL


def chain_of(schedule: Schedule, chain: Chain) -> set[str]:
    """The tasks of a chain, the task itself and its own parts among them."""
    network = schedule.network
    plan, ids = network.plan, network.slots.tasks
    own = [network.slots.of_task[t] for t in plan.branch(chain.task)]
    tails, heads = _arcs(schedule, driving=chain.reach is Reach.DRIVERS)
    found = set(own)
    if chain.reach is not Reach.AFTER:
        found |= _reached(own, heads, tails, schedule)
    if chain.reach in (Reach.ALL, Reach.AFTER):
        found |= _reached(own, tails, heads, schedule)
    return {ids[slot] for slot in found if network.tasks.alive[slot]}


def _arcs(schedule: Schedule, *, driving: bool) -> tuple[Ints, Ints]:
    """The arcs as nodes they come from and lead to; the close of a summary is a node of its own behind the slots."""
    network = schedule.network
    structure = network.structure
    heads = np.repeat(np.arange(len(structure.into) - 1), np.diff(structure.into))
    tails = structure.source
    if not driving:
        return tails, heads
    n = network.size
    ends = schedule.early_finish  # of a summary its last part is what drives its close
    last = (heads >= n) & (ends[tails % n] == ends[heads % n])
    kept = (schedule.driving == 1) | last
    return tails[kept], heads[kept]


def _reached(begin: list[int], from_: Ints, to: Ints, schedule: Schedule) -> set[int]:
    """All that can be reached, breadth first: each step takes the arcs of all nodes that the step before reached."""
    network = schedule.network
    size = network.size
    order = np.argsort(from_, kind="stable")
    onward = to[order]
    starts = np.searchsorted(from_[order], np.arange(2 * size + 1))
    seen = np.zeros(2 * size, dtype=bool)
    front = np.array([*begin, *(slot + size for slot in begin)], dtype=np.int64)
    while len(front):
        seen[front] = True
        counts = starts[front + 1] - starts[front]
        first = np.repeat(starts[front] - np.concatenate(([0], np.cumsum(counts)[:-1])), counts)
        found = np.unique(onward[first + np.arange(int(counts.sum()))])
        front = found[~seen[found]]
    return set(np.flatnonzero(seen[:size]).tolist())
