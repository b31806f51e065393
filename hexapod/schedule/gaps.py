"""What an edit does to the gaps of links that keep them, or that only warn.

Both depend on where a task was before the edit, so what they come to is written into the plan with it:

- a link that *keeps the gap* moves its successor by as much as the end it waits for has moved. The gap that it keeps is
  noted in the link; a limit of "starts no earlier" that alone holds the successor moves forward with it.
- when a link begins to *only warn*, its successor stays where it was, by a limit that is seen and can be lifted.
"""

from __future__ import annotations

from dataclasses import replace as with_fields

import numpy as np
from msgspec.structs import replace

from hexapod.plan.changes import Changes
from hexapod.plan.edits import Edit, set_limit, together
from hexapod.plan.plan import Plan
from hexapod.plan.records import Gap, LimitKind, Link, Task
from hexapod.schedule.arrays import GAPS
from hexapod.schedule.schedule import Schedule


def kept_by(before: Schedule, after: Schedule) -> tuple[Schedule, Changes]:
    """The dates of ``reschedule(..., keeping_gaps=True)`` with the gaps that they rest on in their plan, and those
    changes. The dates stay as they are."""
    network, plan = after.network, after.plan
    if after.start_from is network.tasks.start_from:  # no link keeps its gap
        return after, Changes()
    links, shape = network.links, network.structure
    column = links.kept.copy()
    keeping = (links.gap == GAPS[Gap.KEEP]) & (shape.leaf[links.successor] == 1)
    arcs = np.flatnonzero(shape.link >= 0)
    arcs = arcs[keeping[shape.link[arcs]]]
    column[shape.link[arcs]] = after.kept[arcs]
    moved = np.flatnonzero(after.start_from != network.tasks.start_from).tolist()
    changed = np.flatnonzero(column != links.kept).tolist()
    if not changed and not moved:
        return after, Changes()
    found = Changes(
        links=tuple(_kept(plan.links[network.slots.links[i]], int(column[i])) for i in changed),
        tasks=tuple(_with_limit_at(plan.tasks[network.slots.tasks[i]], int(after.start_from[i])) for i in moved),
    )
    kept = network.arcs.kept.copy()
    kept[arcs] = after.kept[arcs]
    network = with_fields(
        network,
        plan=found.applied_to(plan),
        links=links._replace(kept=column),
        arcs=network.arcs._replace(kept=kept),
        tasks=network.tasks._replace(start_from=after.start_from),
    )
    return with_fields(after, network=network), found


def _kept(link: Link, gap: int) -> tuple[Link, Link]:
    return link, replace(link, gap_kept=gap)


def _with_limit_at(task: Task, at: int) -> tuple[Task, Task]:
    limits = tuple(replace(x, at=at) if x.kind is LimitKind.START_NO_EARLIER else x for x in task.limits)
    return task, replace(task, limits=limits)


def limits_to_stay(before: Schedule, after: Schedule, changes: Changes) -> Edit | None:
    """What keeps tasks where they were whose links only warn from now on; None if none would move."""
    if not changes.links and not changes.projects:
        return None
    said = {new.id for old, new in changes.tasks if new is not None and (old is None or old.limits != new.limits)}
    found = []
    for successor in sorted(_newly_warned(before.plan, after.plan, changes) - said):
        slot = after.network.slots.of_task[successor]
        if not after.network.structure.leaf[slot] or not before.has(successor):
            continue
        was = int(before.start[before.slots[successor]])
        if after.start[slot] < was:
            found.append(set_limit(after.plan, successor, LimitKind.START_NO_EARLIER, was))
    return together("Stay", found) if found else None


def _newly_warned(old: Plan, new: Plan, changes: Changes) -> set[str]:
    found = {
        after.successor
        for link, after in changes.links
        if after is not None and new.gap_of(after) is Gap.WARN and (link is None or old.gap_of(link) is not Gap.WARN)
    }
    switched = {
        after.id
        for project, after in changes.projects
        if project is not None and after is not None and after.gap is Gap.WARN and project.gap is not Gap.WARN
    }
    if switched:
        found |= {
            x.successor for x in new.links.values() if x.gap is None and new.tasks[x.successor].project in switched
        }
    return found
