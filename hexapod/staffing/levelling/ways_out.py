"""What would do for an overload that levelling leaves over: each way is tried, and counted, before it is offered.

The ways are more of the resource for a time, a smaller share of a task that asks for more than there ever is, a task in
two parts with the second where there is room, and a later finish. The least far-reaching comes first.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum

from msgspec.structs import replace

from hexapod.plan import edits
from hexapod.plan.changes import diff
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY, Resource
from hexapod.schedule.engine import reschedule
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.demand import Demand
from hexapod.staffing.levelling.parts import can_part, done, worked_between
from hexapod.staffing.levelling.placing import Scope
from hexapod.staffing.levelling.proposal import level
from hexapod.staffing.overloads import Overload, overloads

LEAST_PART = 60  # minutes: nobody parts a task for less
MOST_PARTED = 4  # tasks of one overload that are tried in two parts


class Way(StrEnum):
    CAPACITY = "capacity"
    SHARE = "share"
    SPLIT = "split"
    FINISH = "finish"


@dataclass(frozen=True)
class WayOut:
    """``units`` more, the share that fits, or the minutes of the first part; from ``begin`` to ``end``.

    ``later`` is by how many minutes of the clock a project ends later, the one that it costs most. ``edit`` does it;
    None is for letting the finish move, which is another levelling.
    """

    way: Way
    resource: str
    begin: int
    end: int
    units: float = 0.0
    task: str | None = None
    later: int = 0
    edit: Edit | None = None


def ways_out(after: Schedule, over: Overload, *, may_move: bool = True) -> list[WayOut]:
    """Out of one overload of some dates; with ``may_move`` also by letting the finish move."""
    found = [_more(after, over)]
    if len(over.tasks) == 1:
        found.append(_smaller_share(after, over))
    else:
        found.append(_in_parts(after, over))
        if may_move:
            found.append(_later(after, over))
    return sorted((w for w in found if w is not None), key=lambda w: (w.later, w.way is not Way.SPLIT))


def _plan_of(schedule: Schedule) -> Plan:
    return schedule.network.plan


def _with(before: Schedule, edit: Edit) -> Schedule:
    old = _plan_of(before)
    new = edit.applied_to(old)
    return reschedule(before, new, diff(old, new))


def _is_solved(schedule: Schedule, over: Overload) -> bool:
    """Whether nothing of the resource is too much at that time."""
    left = overloads(schedule, Demand.of(schedule, _plan_of(schedule)), {over.resource})
    return not any(o.begin < over.end and o.end > over.begin for o in left)


def _total(schedule: Schedule) -> float:
    return overloads(schedule, Demand.of(schedule, _plan_of(schedule))).total_excess


def _later_by(after: Schedule, then: Schedule) -> int:
    """By how much the project that it costs most ends later."""
    pairs = ((after.project_finish.get(p), f) for p, f in then.project_finish.items())
    return max([0, *(f - before for before, f in pairs if before is not None and f is not None)])


def _more(after: Schedule, over: Overload) -> WayOut | None:
    """So many whole units more on the days of the overload."""
    resource = _plan_of(after).resources[over.resource]
    first, last = over.begin // DAY, (over.end - 1) // DAY + 1
    there = min(capacity_on(resource, day) for day in range(first, last))
    units = math.ceil(over.peak - there - 1e-9)
    edit = Edit(
        f"{units} more of “{resource.name}”",
        lambda draft: draft.put(with_more(resource, units, first, last)),
    )
    if units <= 0 or not _is_solved(_with(after, edit), over):
        return None
    return WayOut(Way.CAPACITY, over.resource, over.begin, over.end, units, edit=edit)


def capacity_on(resource: Resource, day: int) -> float:
    """Units on a day."""
    found = resource.capacity
    for begin, units in resource.capacity_from:
        found = units if begin <= day else found
    return found


def with_more(resource: Resource, units: float, first: int, last: int) -> Resource:
    """A resource with more units from the first day up to the last, which is as before."""
    steps = {day: units_ + (units if first <= day < last else 0) for day, units_ in resource.capacity_from}
    steps[first] = capacity_on(resource, first) + units
    steps.setdefault(last, capacity_on(resource, last))
    return replace(resource, capacity_from=tuple(sorted(steps.items())))


def _smaller_share(after: Schedule, over: Overload) -> WayOut | None:
    """As much of the resource as there is: with it the task is less work, or takes longer where it keeps its effort."""
    plan, (task_id,) = _plan_of(after), over.tasks
    assignment = plan.assignments.get((task_id, over.resource))
    if assignment is None or assignment.total is not None or assignment.hours_a_day is not None:
        return None
    resource = plan.resources[over.resource]
    units = min(capacity_on(resource, day) for day in range(over.begin // DAY, (over.end - 1) // DAY + 1))
    if units <= 0:
        return None
    name = plan.tasks[task_id].name
    edit = Edit(
        f"{units:g} of “{resource.name}” for “{name}”", lambda draft: draft.put(replace(assignment, units=units))
    )
    then = _with(after, edit)
    if not _is_solved(then, over):
        return None
    later = _later_by(after, then)
    return WayOut(Way.SHARE, over.resource, over.begin, over.end, units, task_id, later, edit)


def _in_parts(after: Schedule, over: Overload) -> WayOut | None:
    """One of the tasks parted where the overload begins, and its rest put where there is room: the cheapest of them."""
    plan, found = _plan_of(after), []
    for task_id in over.tasks[:MOST_PARTED]:
        minutes = worked_between(after, task_id, after.dates(task_id).start, over.begin)
        minutes = max(done(plan.tasks[task_id]), minutes)  # what is begun can be interrupted, but not undone
        if not can_part(plan, task_id, minutes, LEAST_PART):
            continue
        rest = edits.new_id()
        parted = edits.split_task(plan, task_id, minutes, rest)
        then = _with(after, parted)
        placed = level(then, within_float=False, scope=Scope(tasks=frozenset((rest,))))
        if _total(placed.schedule) >= _total(after) or not _is_solved(placed.schedule, over):
            continue
        held = edits.set_holds(_plan_of(then), placed.holds, "")
        both = edits.in_steps(parted.words, [_always(parted), _always(held)])
        later = _later_by(after, placed.schedule)
        begin = placed.schedule.dates(rest).start
        found.append(WayOut(Way.SPLIT, over.resource, begin, over.end, minutes, task_id, later, both))
    return min(found, key=lambda w: (w.later, w.begin), default=None)


def _always(edit: Edit) -> Callable[[Plan], Edit]:
    return lambda plan: edit


def _later(after: Schedule, over: Overload) -> WayOut | None:
    """How much later projects end where their finishes may move."""
    placed = level(after, within_float=False)
    if not _is_solved(placed.schedule, over):
        return None
    return WayOut(Way.FINISH, over.resource, over.begin, over.end, later=_later_by(after, placed.schedule))
