"""Where chains meet: what waits for several begins when the latest of them is done, which is later than each is by
itself. Source: Clark, "The greatest of a finite set of random variables" (1961), for why that is so."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from hexapod.outlook.chances import Outlook
from hexapod.plan.records import LinkType
from hexapod.schedule.codes import DONE
from hexapod.worktime.arithmetic import worked_at

OFTEN = 0.3  # of the rounds in which a meeting drives the finish, to be told of


class Meeting(NamedTuple):
    """So many chains that end before a task; ``later`` is by how many minutes of work the latest of them is later, on
    average, than the one that is latest on average."""

    task: str
    chains: int
    later: float


def meeting_at(outlook: Outlook, task: str) -> Meeting | None:
    """What chains that end before a task cost it; None where fewer than two do."""
    found = outlook.found
    schedule, plan = found.schedule, found.schedule.plan
    before = [k.predecessor for k in plan.links_into(task) if k.type is LinkType.FS and schedule.has(k.predecessor)]
    slots = [schedule.slots[t] for t in before]
    slots = [s for s in slots if found.network.tasks.progress[s] != DONE and found.finish[s, 0] >= 0]
    if len(slots) < 2:
        return None
    pool, calendar = found.network.timing.pool, outlook.calendar_of(plan.tasks[task].project)
    work = np.array([worked_at(pool, calendar, found.finish[s].astype(np.int64) + found.begin) for s in slots])
    later = float(work.max(axis=0).mean() - work.mean(axis=1).max())
    chains = int(((work == work.max(axis=0)).mean(axis=1) >= 0.05).sum())  # those that are latest now and then
    return Meeting(task, chains, later) if chains > 1 else None


def worst_meeting(outlook: Outlook, project: str) -> Meeting | None:
    """The meeting that costs most, of those that often drive the finish of a project; less than half a day is none."""
    plan = outlook.found.schedule.plan
    found = [
        meeting
        for task in plan.tasks.values()
        if task.project == project and outlook.found.schedule.has(task.id) and outlook.criticality(task.id) >= OFTEN
        and len(plan.links_at.get(task.id, ())) > 1 and (meeting := meeting_at(outlook, task.id)) is not None
    ]  # fmt: skip
    worst = max(found, key=lambda m: (m.later, m.task), default=None)
    return worst if worst is not None and worst.later >= 240 else None
