"""Why a task starts when it does: the chain of reasons back to where it begins, as data."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING

from hexapod.plan.plan import Plan
from hexapod.plan.records import LimitKind, Link
from hexapod.schedule.codes import BY_LIMIT, BY_LINK, CLOSE
from hexapod.schedule.schedule import Schedule

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


@dataclass(frozen=True)
class Reason:
    """Why ``task`` is where it is. ``at`` is its start (its finish for ``LAST_OF``) in minutes.

    ``link`` is what drives it, and ``through`` the summary above ``task`` that the link holds back;
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


def reason_of(schedule: Schedule, task_id: str) -> Reason:
    """The first reason for the start of a task."""
    network = _network(schedule)
    plan, slot = network.plan, network.interning.slots[task_id]
    at = int(schedule.early_start[slot])
    if plan.is_summary(task_id):
        return Reason(task_id, ReasonKind.FIRST_OF, at, child=_edge_leaf(schedule, plan, task_id, first=True))
    if plan.tasks[task_id].hold:
        return Reason(task_id, ReasonKind.HOLD, at, hold=plan.tasks[task_id].hold)
    return _before_hold(schedule, network, slot, at)


def chain(schedule: Schedule, task_id: str) -> list[Reason]:
    """Reasons from a task back to a start that rests on nothing else."""
    network = _network(schedule)
    plan = network.plan
    found: list[Reason] = []
    current: str | None = task_id
    by_finish = False
    while current is not None and len(found) < 4 * network.size:
        slot = network.interning.slots[current]
        if by_finish and plan.is_summary(current):
            child = _edge_leaf(schedule, plan, current, first=False)
            found.append(Reason(current, ReasonKind.LAST_OF, int(schedule.early_finish[slot]), child=child))
            current = child
            continue
        reason = reason_of(schedule, current)
        found.append(reason)
        if reason.kind is ReasonKind.HOLD:
            assert schedule.free_start is not None
            reason = _before_hold(schedule, network, slot, int(schedule.free_start[slot]))
            found.append(reason)
        current = reason.child or (reason.link.predecessor if reason.link else None)
        by_finish = reason.link is not None and reason.link.type.value in ("FS", "FF")
    return found


def driving_links(schedule: Schedule, task_id: str) -> list[Link]:
    """Every link that holds a leaf where it is, the closest first by its predecessor's id."""
    network = _network(schedule)
    return [link for link, _ in _drivers(schedule, network, network.interning.slots[task_id])]


def _network(schedule: Schedule) -> Network:
    if schedule.network is None:
        raise ValueError("these dates were read from a file; their reasons are not known yet")
    return schedule.network


def _before_hold(schedule: Schedule, network: Network, slot: int, at: int) -> Reason:
    task_id = network.interning.ids[slot]
    task = network.plan.tasks[task_id]
    assert schedule.cause is not None
    cause = schedule.cause[slot]
    if cause == BY_LINK:
        link, through = _drivers(schedule, network, slot)[0]
        return Reason(task_id, ReasonKind.LINK, at, link=link, through=through)
    if cause == BY_LIMIT:
        lower = {LimitKind.START_NO_EARLIER, LimitKind.MUST_START}
        upper = {LimitKind.FINISH_NO_EARLIER, LimitKind.MUST_FINISH}
        found = [x for x in task.limits if x.kind in lower] or [x for x in task.limits if x.kind in upper]
        return Reason(task_id, ReasonKind.LIMIT, at, limit=max(found, key=lambda x: x.at).kind)
    project = network.plan.projects[task.project]
    by_status = project.status_date is not None and project.status_date > project.start
    return Reason(task_id, ReasonKind.STATUS_DATE if by_status else ReasonKind.PROJECT_START, at)


def _drivers(schedule: Schedule, network: Network, slot: int) -> list[tuple[Link, str | None]]:
    """Driving links of a node, those of the gates above it among them, with the summary they hold."""
    shape, driving = network.structure, schedule.driving
    assert driving is not None
    found: list[tuple[Link, str | None]] = []
    waiting: list[tuple[int, str | None]] = [(slot, None)]
    while waiting:
        node, through = waiting.pop()
        for a in range(shape.into[node], shape.into[node + 1]):
            if not driving[a] or shape.kind[a] == CLOSE:
                continue
            if shape.link[a] >= 0:
                found.append((network.plan.links[network.interning.link_keys[shape.link[a]]], through))
            else:
                gate = int(shape.source[a])
                waiting.append((gate, network.interning.ids[gate]))
    return sorted(found, key=lambda pair: (pair[1] is not None, pair[0].key))


def _edge_leaf(schedule: Schedule, plan: Plan, summary: str, *, first: bool) -> str:
    """The leaf of a branch that starts first, or finishes last; the upper one where several do."""
    leaves = [t for t in plan.branch(summary) if not plan.is_summary(t)]
    if first:
        return min(leaves, key=lambda t: schedule.early_start[schedule.slots[t]])
    return max(leaves, key=lambda t: schedule.early_finish[schedule.slots[t]])
