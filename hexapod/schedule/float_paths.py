"""Float paths: the driving chain to a project's finish, and the chains that come next to it.

The first path runs back from the task that ends last along what drives it. Each further one branches off
where the least room is: its room is that of the path it joins, plus the slack of the link that joins it
(common practice; the ranking is that of a shortest-path search over slacks).
"""

from __future__ import annotations

import heapq
from dataclasses import dataclass

from hexapod.plan.plan import Plan
from hexapod.plan.records import Link
from hexapod.schedule.codes import FOREVER
from hexapod.schedule.schedule import Schedule
from hexapod.schedule.slack import link_slacks
from hexapod.worktime.calendars import Ints


@dataclass(frozen=True)
class FloatPath:
    """Leaves from the first to the last; ``room`` is working minutes until the path would drive the finish."""

    tasks: tuple[str, ...]
    room: int


def float_paths(schedule: Schedule, project: str, count: int = 3) -> list[FloatPath]:
    """The first ``count`` paths to the finish of a project, fewer where there are no more."""
    network = schedule.network
    plan, slots = network.plan, schedule.slots
    leaves = [t.id for t in plan.tasks.values() if t.project == project and not plan.is_summary(t.id)]
    if not leaves:
        return []
    slacks = link_slacks(schedule)
    last = max(leaves, key=lambda t: (schedule.early_finish[slots[t]], schedule.longest_path[slots[t]], t))
    taken: set[str] = set()
    waiting: list[tuple[int, str]] = [(0, last)]
    found: list[FloatPath] = []
    while waiting and len(found) < count:
        room, current = heapq.heappop(waiting)
        if current in taken:
            continue
        path: list[str] = []
        following: str | None = current
        while following is not None and following not in taken:
            taken.add(following)
            path.append(following)
            driver = None
            for slack, before in _before(schedule, plan, slacks, following):
                if slack <= 0 and driver is None and before not in taken:
                    driver = before
                else:
                    heapq.heappush(waiting, (room + max(0, slack), before))
            following = driver
        found.append(FloatPath(tuple(reversed(path)), room))
    return found


def _before(schedule: Schedule, plan: Plan, slacks: Ints, task_id: str) -> list[tuple[int, str]]:
    """(slack, leaf) of all that a leaf waits for, itself or through a summary above it; the least slack first.

    What is begun or done waits for nothing: a path ends there.
    """
    if plan.tasks[task_id].actual_start is not None:
        return []
    network = schedule.network
    found = []
    for held in (task_id, *plan.ancestors(task_id)):
        for link in plan.links_into(held):
            slack = int(slacks[network.slots.of_link[link.key]])
            if slack < FOREVER:
                found.append((slack, _leaf_of(schedule, plan, link)))
    return sorted(found)


def _leaf_of(schedule: Schedule, plan: Plan, link: Link) -> str:
    if not plan.is_summary(link.predecessor):
        return link.predecessor
    leaves = [t for t in plan.branch(link.predecessor) if not plan.is_summary(t)]
    if link.type.value[0] == "F":
        return max(leaves, key=lambda t: (schedule.early_finish[schedule.slots[t]], t))
    return min(leaves, key=lambda t: (schedule.early_start[schedule.slots[t]], t))
