"""What an edit does to the gaps of links that keep them, or that only warn.

Both need to know where a task was before the edit, so they become limits, visible and to be lifted:

- a link that *keeps the gap* moves its successor by as much as the end it waits for has moved;
- when a link begins to *only warn*, its successor stays where it was.
"""

from __future__ import annotations

import numpy as np

from hexapod.plan.changes import Changes
from hexapod.plan.plan import Plan
from hexapod.plan.records import Gap, Limit, LimitKind, Task
from hexapod.schedule.arrays import GAPS
from hexapod.schedule.schedule import Schedule


def limits_to_keep_gaps(before: Schedule, after: Schedule, changes: Changes) -> dict[str, int]:
    """For each task that has to move on, or stay, the moment that it must start no earlier than.

    Called again after these limits were set, until it finds none: successors may have successors.
    """
    if before.network is None or after.network is None:
        return {}
    said = _starts_said(changes)
    return {
        task: at for task, at in {**_kept(before, after), **_stayed(before, after, changes)}.items() if task not in said
    }


def with_start_limit(task: Task, at: int) -> Task:
    """The task starting no earlier than ``at``, in place of a limit of that kind."""
    from msgspec.structs import replace

    others = tuple(limit for limit in task.limits if limit.kind is not LimitKind.START_NO_EARLIER)
    return replace(task, limits=(*others, Limit(LimitKind.START_NO_EARLIER, at)))


def _starts_said(changes: Changes) -> set[str]:
    """Tasks whose own start the edit is about."""
    found = set()
    for old, new in changes.tasks:
        if new is not None and (old is None or old.limits != new.limits):
            found.add(new.id)
    return found


def _kept(before: Schedule, after: Schedule) -> dict[str, int]:
    from hexapod.worktime.arithmetic import start_side, worked

    old, new = before.network, after.network
    assert old is not None and new is not None
    size = min(len(old.links.alive), len(new.links.alive))
    links = new.links
    keeps = (links.alive[:size] * old.links.alive[:size] * (links.gap[:size] == GAPS[Gap.KEEP])).astype(bool)
    moves: dict[int, int] = {}
    pool = new.timing.pool
    for slot in np.flatnonzero(keeps):
        p, s = int(links.predecessor[slot]), int(links.successor[slot])
        if not (new.structure.leaf[s] and old.tasks.alive[p] and old.tasks.alive[s]):
            continue
        ends = (before.finish, after.finish) if links.type[slot] in (0, 2) else (before.start, after.start)
        calendar = new.tasks.calendar[s]
        moved = int(worked(pool, calendar, ends[1][p]) - worked(pool, calendar, ends[0][p]))
        if moved:
            moves[s] = max(moved, moves.get(s, moved))
    found = {}
    for s, moved in moves.items():
        calendar = new.tasks.calendar[s]
        wanted = int(start_side(pool, calendar, worked(pool, calendar, before.start[s]) + moved))
        is_limited = new.tasks.start_from[s] >= after.start[s]
        has_to_move = after.start[s] < wanted or (moved < 0 and after.start[s] > wanted and is_limited)
        if has_to_move and int(new.tasks.start_from[s]) != wanted:
            found[new.interning.ids[s]] = wanted
    return found


def _stayed(before: Schedule, after: Schedule, changes: Changes) -> dict[str, int]:
    if not changes.links and not changes.projects:
        return {}
    old, new = before.network, after.network
    assert old is not None and new is not None
    found = {}
    for successor in _newly_warned(old.plan, new.plan, changes):
        s = new.interning.slots[successor]
        if new.structure.leaf[s] and before.has(successor) and after.start[s] < before.start[s]:
            found[successor] = int(before.start[s])
    return found


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
