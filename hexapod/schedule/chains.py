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
    assert network is not None and schedule.driving is not None
    plan, ids = network.plan, network.interning.ids
    own = [network.interning.slots[t] for t in plan.branch(chain.task)]
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
    assert network is not None and schedule.driving is not None
    structure = network.structure
    heads = np.repeat(np.arange(len(structure.into) - 1), np.diff(structure.into))
    kept = schedule.driving == 1 if driving else np.ones(len(heads), dtype=bool)
    return structure.source[kept], heads[kept]


def _reached(begin: list[int], from_: Ints, to: Ints, schedule: Schedule) -> set[int]:
    from scipy.sparse import csr_matrix  # slow to import, and only needed here
    from scipy.sparse.csgraph import breadth_first_order

    network = schedule.network
    assert network is not None
    size = network.size
    root = 2 * size  # leads to all that it begins with: tasks, and the closes of summaries
    begins = np.array([*begin, *(slot + size for slot in begin)], dtype=np.int64)
    rows = np.concatenate((from_, np.full(len(begins), root)))
    columns = np.concatenate((to, begins))
    graph = csr_matrix((np.ones(len(rows), dtype=np.int8), (rows, columns)), shape=(root + 1, root + 1))
    reached = breadth_first_order(graph, root, return_predecessors=False)
    return {int(node) for node in reached[1:] if node < size}
