"""How early a levelled plan could end at best.

The longer of the critical path and, for each resource, the time that the work asked of it takes at full
capacity between the earliest start and the shortest tail of its tasks (the energy bound; Klein and Scholl,
"Computing lower bounds by destructive improvement", 1999, section 2).
"""

from __future__ import annotations

import numpy as np

from hexapod.schedule.schedule import Schedule
from hexapod.staffing.demand import Demand
from hexapod.worktime.arithmetic import finish_side, worked


def lower_bound(free: Schedule, demand: Demand) -> int | None:
    """Minutes, or None for a plan without tasks. ``free`` is the schedule without levelling holds."""
    network = free.network
    assert network is not None
    best = free.last_finish
    if best is None:
        return None
    pool, tasks, leaf = network.timing.pool, network.tasks, network.structure.leaf
    for r in range(len(demand.resources)):
        mine = slice(demand.first[r], demand.first[r + 1])
        task, units = demand.task[mine], demand.units[mine]
        keep = (leaf[task] == 1) & (tasks.crew[task] == 0) & (tasks.duration[task] > 0) & (units <= demand.capacity[r])
        task, units = task[keep], units[keep]
        if not len(task) or len(set(tasks.calendar[task].tolist())) > 1:
            continue
        calendar = int(tasks.calendar[task[0]])
        work = int((tasks.duration[task] * units).sum())
        shortest = -(-work // int(demand.capacity[r]))
        first = int(free.start[task].min())
        end = finish_side(pool, calendar, worked(pool, calendar, first) + shortest)
        best = max(best, int(end))
    return int(np.int64(best))
