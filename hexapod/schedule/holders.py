"""All that could hold a task where it is, the closest first: the first reason for its start, and the next ones."""

from __future__ import annotations

from dataclasses import dataclass

from hexapod.plan.records import LimitKind, Link
from hexapod.schedule.codes import DONE, FOREVER, NOT_BEGUN
from hexapod.schedule.schedule import Schedule
from hexapod.schedule.slack import link_slacks


@dataclass(frozen=True)
class Holder:
    """``slack`` is how many working minutes it is from driving. Without link and limit it is the project's start,
    or its status date."""

    slack: int
    link: Link | None = None
    through: str | None = None  # the summary above the task that the link is of
    limit: LimitKind | None = None


def holders(schedule: Schedule, task_id: str) -> list[Holder]:
    """For a leaf: its links and those of the summaries above it, its limits and its project's start; of what is begun
    what holds its rest, and of what is done nothing."""
    from hexapod.worktime.arithmetic import next_working, start_side, worked

    network = schedule.network
    plan, slot = network.plan, network.slots.of_task[task_id]
    pool, calendar = network.timing.pool, network.tasks.calendar[slot]
    progress = network.tasks.progress[slot]
    if progress == DONE:
        return []
    slacks = link_slacks(schedule)
    found = []
    for held in (task_id, *plan.ancestors(task_id)):
        for link in plan.links_into(held):
            slack = int(slacks[network.slots.of_link[link.key]])
            if slack < FOREVER:
                found.append(Holder(max(0, slack), link, None if held == task_id else held))

    def until_here(moment: int) -> int:
        return int(worked(pool, calendar, schedule.free_start[slot]) - worked(pool, calendar, moment))

    if progress == NOT_BEGUN:
        found.append(Holder(max(0, until_here(next_working(pool, calendar, network.tasks.base[slot])))))
    length = network.tasks.duration[slot] if progress == NOT_BEGUN else network.tasks.rest[slot]
    for limit in plan.tasks[task_id].limits:
        if limit.kind in (LimitKind.START_NO_EARLIER, LimitKind.MUST_START):
            if progress != NOT_BEGUN:
                continue
            found.append(Holder(max(0, until_here(next_working(pool, calendar, limit.at))), limit=limit.kind))
        elif limit.kind in (LimitKind.FINISH_NO_EARLIER, LimitKind.MUST_FINISH):
            work = worked(pool, calendar, limit.at) - length
            found.append(Holder(max(0, until_here(start_side(pool, calendar, work))), limit=limit.kind))
    return sorted(found, key=lambda h: h.slack)
