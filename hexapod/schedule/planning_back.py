"""Planning back: when the work before a task would have to begin for the task to be done by a date.

The backward pass alone, from one task and one date, over what the task waits for; all other bounds aside.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hexapod.errors import EditRefused
from hexapod.schedule.codes import DONE, FOREVER, NOT_BEGUN
from hexapod.schedule.passes import Forward, working_minutes_between
from hexapod.schedule.passing import backward_over_all
from hexapod.schedule.schedule import Schedule


@dataclass(frozen=True)
class LatestDates:
    """When a task must start and finish at the latest; ``room`` is working minutes from its start as it is."""

    task: str
    start: int
    finish: int
    room: int


@dataclass(frozen=True)
class DemandedStart:
    """``start`` is when the first of ``chain`` must begin; the chain is in the order of these latest starts.

    ``too_late_by`` is the working minutes by which some task can only start after its latest start.
    ``beside`` are the tasks that wait for the chain without being part of it: only if they are late as well
    can all of the chain be as late as its date allows, since what is as late as possible moves nobody.
    """

    task: str
    at: int
    start: int
    chain: tuple[LatestDates, ...]
    beside: tuple[str, ...]
    too_late_by: int


def demanded_start(schedule: Schedule, task_id: str, at: int, *, with_limits: bool = False) -> DemandedStart:
    """What finishing ``task_id`` by ``at`` demands of it and of all that it waits for and that is not done.

    ``with_limits`` keeps the dates by which other tasks must start or finish as well.
    """
    network = schedule.network
    plan, tasks, n = network.plan, network.tasks, network.size
    wanted = {network.slots.of_task[t] for t in plan.branch(task_id) if not plan.is_summary(t)}
    if all(tasks.progress[i] == DONE for i in wanted):
        raise EditRefused(f"“{plan.tasks[task_id].name}” is done, and stays where it was.")
    never = np.full(n, FOREVER, dtype=np.int64)
    until = tasks.finish_until.copy() if with_limits else never.copy()
    until[list(wanted)] = at
    bound = tasks._replace(
        start_until=tasks.start_until if with_limits else never, finish_until=until, late=np.zeros(n, dtype=np.int64)
    )
    nodes_start = np.concatenate((schedule.early_start, schedule.early_start))
    nodes_finish = np.concatenate((schedule.early_finish, schedule.early_finish))
    nothing = np.zeros(n, dtype=np.int64)
    placed = Forward(
        nodes_start, nodes_finish, schedule.free_start, nothing, schedule.driving, schedule.cause, schedule.kept,
        schedule.start_from, schedule.lag,
    )  # fmt: skip
    ends = np.full(len(network.projects), FOREVER, dtype=np.int64)
    late = backward_over_all(network, bound, network.arcs, placed, ends)
    slots = np.array([i for i in _before(schedule, wanted) if tasks.progress[i] != DONE], dtype=np.int64)
    is_begun = tasks.progress[slots] != NOT_BEGUN  # its start stays: what counts is when it ends
    early = np.where(is_begun, schedule.early_finish[slots], schedule.early_start[slots])
    latest = np.where(is_begun, late.finish[slots], late.start[slots])
    room = working_minutes_between(network.timing.pool, tasks.calendar[slots], early, latest).tolist()
    ids = network.slots.tasks
    chain = [
        LatestDates(ids[i], int(late.start[i]), int(late.finish[i]), by)
        for i, by in zip(slots.tolist(), room, strict=True)
    ]
    chain.sort(key=lambda found: (found.start, plan.tasks[found.task].name, found.task))
    beside = _beside(schedule, wanted, {network.slots.of_task[found.task] for found in chain})
    too_late = max(0, *(-found.room for found in chain))
    ahead = (found.start for found in chain if plan.tasks[found.task].actual_start is None)
    return DemandedStart(task_id, at, min(ahead, default=chain[0].start), tuple(chain), beside, too_late)


def _before(schedule: Schedule, wanted: set[int]) -> list[int]:
    """Slots of the wanted leaves and of all leaves that hold them, through summaries as well."""
    network = schedule.network
    shape, n = network.structure, network.size
    seen, waiting = set(wanted), list(wanted)
    while waiting:
        j = waiting.pop()
        for s in shape.source[shape.into[j] : shape.into[j + 1]].tolist():
            if s not in seen:
                seen.add(s)
                waiting.append(s)
    return sorted(i for i in seen if i < n and shape.leaf[i])


def _beside(schedule: Schedule, wanted: set[int], chain: set[int]) -> tuple[str, ...]:
    """Leaves behind those of the chain that lie neither in it nor behind the wanted ones."""
    network = schedule.network
    shape, n = network.structure, network.size
    onward: dict[int, list[int]] = {}
    for j in range(2 * n):
        for s in shape.source[shape.into[j] : shape.into[j + 1]].tolist():
            onward.setdefault(s, []).append(j)

    def behind(begin: set[int]) -> set[int]:
        seen, waiting = set(begin), list(begin)
        while waiting:
            for j in onward.get(waiting.pop(), ()):
                if j not in seen:
                    seen.add(j)
                    waiting.append(j)
        return seen

    found = behind(chain) - behind(wanted) - chain
    return tuple(network.slots.tasks[i] for i in sorted(found) if i < n and shape.leaf[i])
