"""Where tasks lay before an edit, for the links that keep the gap before their successor."""

from __future__ import annotations

import numpy as np

from hexapod.plan.changes import Changes
from hexapod.plan.records import Direction, Gap, LimitKind
from hexapod.schedule.arrays import GAPS
from hexapod.schedule.codes import NEVER
from hexapod.schedule.network import Network
from hexapod.schedule.passes import Before
from hexapod.schedule.passing import NOTHING_BEFORE
from hexapod.schedule.schedule import Schedule


def where_they_were(before: Schedule, network: Network, changes: Changes) -> Before:
    """By slot of ``network``, which an edit made of the one of ``before``. Empty where no link keeps its gap.

    What is to be as late as possible, and projects that are scheduled back from their finish, have their place from
    what comes after them: no gap before them is kept.
    """
    links = network.links
    keeping = np.flatnonzero((links.gap == GAPS[Gap.KEEP]) & (links.alive == 1))
    if not len(keeping):
        return NOTHING_BEFORE
    old, plan = before.network, network.plan
    at = network.slots.tasks_in(old.slots)
    there = np.flatnonzero((at >= 0) & (network.tasks.alive == 1) & (network.tasks.late == 0))
    forward = np.array([plan.projects[p].direction is not Direction.BACKWARD for p in network.projects])
    there = there[(old.tasks.alive[at[there]] == 1) & forward[network.tasks.project[there]]]
    start, finish = (np.full(network.size, NEVER, dtype=np.int64) for _ in range(2))
    start[there], finish[there] = before.early_start[at[there]], before.early_finish[at[there]]
    is_said, limit_moves = (np.zeros(network.size, dtype=np.int64) for _ in range(2))
    for task in _tasks_whose_start_is_said(changes):
        is_said[network.slots.of_task[task]] = 1
    for slot in np.unique(links.successor[keeping]).tolist():
        limits = plan.tasks[network.slots.tasks[slot]].limits
        holding = [x.kind for x in limits if x.kind in (LimitKind.START_NO_EARLIER, LimitKind.MUST_START)]
        limit_moves[slot] = holding == [LimitKind.START_NO_EARLIER] and not is_said[slot]
    return Before(start, finish, is_said, limit_moves)


def _tasks_whose_start_is_said(changes: Changes) -> list[str]:
    return [new.id for old, new in changes.tasks if new is not None and (old is None or old.limits != new.limits)]
