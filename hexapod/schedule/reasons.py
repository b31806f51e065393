"""Why a task starts when it does: the chain of reasons back to where it begins, as data."""

from __future__ import annotations

import sys
from enum import StrEnum
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from hexapod.plan.plan import Plan
from hexapod.plan.records import Direction, Gap, LimitKind, Link, Project
from hexapod.schedule.codes import BY_ACTUAL, BY_GAP, BY_LATENESS, BY_LIMIT, BY_LINK, CLOSE
from hexapod.schedule.schedule import Schedule
from hexapod.schedule.timing import CalendarBook, TaskTime, assignment_set, own_calendar

if TYPE_CHECKING:
    from hexapod.schedule.network import Network


class ReasonKind(StrEnum):
    LINK = "link"
    LIMIT = "limit"
    HOLD = "hold"
    PROJECT_START = "project_start"
    STATUS_DATE = "status_date"
    FIRST_OF = "first_of"  # a summary starts with the first of what lies below it
    LAST_OF = "last_of"  # a summary ends with the last of what lies below it
    RESOURCE_CALENDAR = "resource_calendar"  # who is assigned cannot work before
    AS_LATE_AS_POSSIBLE = "as_late_as_possible"  # held back until just before what waits for it
    PROJECT_FINISH = "project_finish"  # placed back from the finish that is required
    GAP = "gap"  # a link keeps the gap before it
    ACTUAL = "actual"  # it began then


class Reason(Struct, frozen=True):
    """Why ``task`` is where it is. ``at`` is its start (its finish for ``LAST_OF``) in minutes.

    ``link`` is what drives it, and ``through`` the summary above ``task`` that the link holds back; of a task
    that is placed as late as it may be, it is the link to what it must be done for, if that is not the finish.
    ``child`` the row that gives a summary its date; ``hold`` the working minutes that levelling adds.
    """

    task: str
    kind: ReasonKind
    at: int
    link: Link | None = None
    through: str | None = None
    child: str | None = None
    limit: LimitKind | None = None
    hold: int = 0
    resource: str | None = None


def reason_of(schedule: Schedule, task_id: str) -> Reason:
    """The first reason for the start of a task."""
    network = schedule.network
    plan, slot = network.plan, network.slots.of_task[task_id]
    at = int(schedule.start[slot])
    if plan.is_summary(task_id):
        return Reason(task_id, ReasonKind.FIRST_OF, at, child=_edge_leaf(schedule, plan, task_id, first=True))
    if schedule.cause[slot] == BY_ACTUAL:
        return Reason(task_id, ReasonKind.ACTUAL, at)
    late = _placed_late(schedule, network, slot, at)
    if late is not None:
        return late
    if plan.tasks[task_id].hold:
        return Reason(task_id, ReasonKind.HOLD, at, hold=plan.tasks[task_id].hold)
    return _before_hold(schedule, network, slot, at)


def chain(schedule: Schedule, task_id: str, most: int = sys.maxsize) -> list[Reason]:
    """Reasons from a task back to a start that rests on nothing else, or the first ``most`` of them."""
    network = schedule.network
    plan = network.plan
    found: list[Reason] = []
    current: str | None = task_id
    by_finish = False
    while current is not None and len(found) < min(most, 4 * network.size):
        slot = network.slots.of_task[current]
        if by_finish and plan.is_summary(current):
            child = _edge_leaf(schedule, plan, current, first=False)
            found.append(Reason(current, ReasonKind.LAST_OF, int(schedule.finish[slot]), child=child))
            current = child
            continue
        reason = reason_of(schedule, current)
        found.append(reason)
        if reason.kind in (ReasonKind.AS_LATE_AS_POSSIBLE, ReasonKind.PROJECT_FINISH):
            current, by_finish = (reason.link.successor if reason.link else None), False
            if current in {step.task for step in found}:
                break
            continue
        while reason.kind in (ReasonKind.HOLD, ReasonKind.RESOURCE_CALENDAR):
            assert schedule.free_start is not None
            at = int(schedule.free_start[slot])
            held = reason.kind is ReasonKind.HOLD
            reason = _before_hold(schedule, network, slot, at) if held else _driver(schedule, network, slot, at)
            found.append(reason)
        current = reason.child or (reason.link.predecessor if reason.link else None)
        by_finish = reason.link is not None and reason.link.type.value in ("FS", "FF")
    return found[:most]


def _before_hold(schedule: Schedule, network: Network, slot: int, at: int) -> Reason:
    """The resource that cannot work sooner, if that is why; else what drives the task."""
    resource = _late_resource(network, slot, at, schedule)
    if resource is not None:
        return Reason(network.slots.tasks[slot], ReasonKind.RESOURCE_CALENDAR, at, resource=resource)
    return _driver(schedule, network, slot, at)


def _late_resource(network: Network, slot: int, at: int, schedule: Schedule) -> str | None:
    """Who is assigned, and does not work at the moment from which the task's own calendar would let it start."""
    plan, task = network.plan, network.plan.tasks[network.slots.tasks[slot]]
    own = own_calendar(plan, task)
    with_hours = [r for r in plan.assigned.get(task.id, ()) if assignment_set(own, plan.resources[r]) != (own,)]
    if not with_hours or task.elapsed or not task.minutes:
        return None
    from hexapod.schedule.passes import earliest_start, reach
    from hexapod.worktime.arithmetic import next_working

    arcs, shape = network.arcs, network.structure
    timing = network.timing.including(CalendarBook(plan), TaskTime((own,)))
    index = timing.index[(own,)]
    start, finish = (np.concatenate((a, a)) for a in (schedule.early_start, schedule.early_finish))
    reached = np.empty(len(shape.source), dtype=np.int64)
    bounds = reach(
        timing.pool, index, int(shape.into[slot]), int(shape.into[slot + 1]), shape.source,
        shape.kind, schedule.lag, arcs.lag_calendar, start, finish, reached,
    )  # fmt: skip
    from_start = max(bounds[0], network.tasks.base[slot], network.tasks.start_from[slot])
    from_finish = max(bounds[1], network.tasks.finish_from[slot])
    logic = earliest_start(timing.pool, index, network.tasks.duration[slot], from_start, from_finish)
    if logic >= at:
        return None
    for resource in with_hours:
        chosen = assignment_set(own, plan.resources[resource])
        timing = timing.including(CalendarBook(plan), TaskTime(chosen))
        if next_working(timing.pool, timing.index[chosen], logic) >= at:
            return resource
    return with_hours[0]


def _placed_late(schedule: Schedule, network: Network, slot: int, at: int) -> Reason | None:
    """Why a task that is placed as late as it may be is not placed later; None for one that is not."""
    plan, task = network.plan, network.plan.tasks[network.slots.tasks[slot]]
    if schedule.cause[slot] == BY_LATENESS:
        kind = ReasonKind.AS_LATE_AS_POSSIBLE
    elif plan.projects[task.project].direction is Direction.BACKWARD and at == schedule.late_start[slot]:
        kind = ReasonKind.PROJECT_FINISH
    else:
        return None
    from hexapod.schedule.slack import link_slacks

    slacks = link_slacks(schedule)
    after = [x for held in (task.id, *plan.ancestors(task.id)) for x in plan.links_from(held)]
    binding = [x for x in after if slacks[network.slots.of_link[x.key]] <= 0]
    link = min(binding, key=lambda x: (schedule.start[schedule.slots[x.successor]], x.key), default=None)
    return Reason(task.id, kind, at, link=link)


def _driver(schedule: Schedule, network: Network, slot: int, at: int) -> Reason:
    task_id = network.slots.tasks[slot]
    task = network.plan.tasks[task_id]
    cause = schedule.cause[slot]
    if cause == BY_LINK:
        link, through = _drivers(schedule, network, slot)[0]
        return Reason(task_id, ReasonKind.LINK, at, link=link, through=through)
    if cause == BY_LIMIT:
        lower = {LimitKind.START_NO_EARLIER, LimitKind.MUST_START}
        upper = {LimitKind.FINISH_NO_EARLIER, LimitKind.MUST_FINISH}
        found = [x for x in task.limits if x.kind in lower] or [x for x in task.limits if x.kind in upper]
        return Reason(task_id, ReasonKind.LIMIT, at, limit=max(found, key=lambda x: x.at).kind)
    if cause == BY_GAP:
        return Reason(task_id, ReasonKind.GAP, at, link=_keeping(schedule, network, task_id))
    return Reason(task_id, base_kind(network.plan.projects[task.project]), at)


def base_kind(project: Project) -> ReasonKind:
    """What nothing that is not done in a project lies before."""
    status = project.status_date
    by_status = status is not None and (status > project.start or project.direction is Direction.BACKWARD)
    return ReasonKind.STATUS_DATE if by_status else ReasonKind.PROJECT_START


def _keeping(schedule: Schedule, network: Network, task_id: str) -> Link:
    """The link that holds a task by the gap that it keeps; the closest where several do."""
    from hexapod.schedule.slack import link_slacks

    slacks = link_slacks(schedule)
    keeping = [x for x in network.plan.links_into(task_id) if x.gap_kept and network.plan.gap_of(x) is Gap.KEEP]
    return min(keeping, key=lambda x: (slacks[network.slots.of_link[x.key]] - x.gap_kept, x.key))


def _drivers(schedule: Schedule, network: Network, slot: int) -> list[tuple[Link, str | None]]:
    """Driving links of a node, those of the gates above it among them, with the summary they hold."""
    shape, driving = network.structure, schedule.driving
    found: list[tuple[Link, str | None]] = []
    waiting: list[tuple[int, str | None]] = [(slot, None)]
    while waiting:
        node, through = waiting.pop()
        for a in range(shape.into[node], shape.into[node + 1]):
            if not driving[a] or shape.kind[a] == CLOSE:
                continue
            if shape.link[a] >= 0:
                found.append((network.plan.links[network.slots.links[shape.link[a]]], through))
            else:
                gate = int(shape.source[a])
                waiting.append((gate, network.slots.tasks[gate]))
    return sorted(found, key=lambda pair: (pair[1] is not None, pair[0].key))


def _edge_leaf(schedule: Schedule, plan: Plan, summary: str, *, first: bool) -> str:
    """The leaf of a branch that starts first, or finishes last; the upper one where several do."""
    leaves = [t for t in plan.branch(summary) if not plan.is_summary(t)]
    if first:
        return min(leaves, key=lambda t: schedule.start[schedule.slots[t]])
    return max(leaves, key=lambda t: schedule.finish[schedule.slots[t]])
