"""The capacity guard: whom an edit would overload, and what could be done instead."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from msgspec.structs import replace

from hexapod.plan import edits
from hexapod.plan.changes import Changes, diff
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Plan
from hexapod.plan.records import LimitKind
from hexapod.schedule.engine import reschedule
from hexapod.schedule.schedule import Schedule
from hexapod.schedule.shift import shift
from hexapod.staffing.candidates import candidates
from hexapod.staffing.capacity import pooled
from hexapod.staffing.demand import Demand
from hexapod.staffing.levelling.placing import Scope
from hexapod.staffing.levelling.proposal import level
from hexapod.staffing.overloads import Overload, overloads
from hexapod.staffing.seats import minutes_of

LEAST = 0.5  # minutes of excess that count
MOST_PEOPLE, MOST_TASKS = 4, 6


@dataclass(frozen=True)
class Breach:
    """A resource that would have more minutes too many than now; ``overloads`` are those that it would have."""

    resource: str
    more: float
    overloads: tuple[Overload, ...]


def breaches(before: Schedule, after: Schedule, demand: Demand | None = None) -> tuple[Breach, ...]:
    """Whom an edit would overload, or more than now, by how much: the most first. ``demand`` is that of before, where
    it is known."""
    old, new = before.plan, after.plan
    changes = diff(old, new)
    touched = _touched(before, after, old, new, changes)
    if not touched:
        return ()
    demand = Demand.of(before, old, demand)
    now: dict[str, float] = {}
    for over in overloads(before, demand, touched):
        now[over.resource] = now.get(over.resource, 0.0) + over.excess
    then: dict[str, list[Overload]] = {}
    for over in overloads(after, Demand.of(after, new, demand), touched):
        then.setdefault(over.resource, []).append(over)
    found = []
    for resource, overs in then.items():
        more = sum(o.excess for o in overs) - now.get(resource, 0.0)
        if more > LEAST:
            found.append(Breach(resource, more, tuple(overs)))
    return tuple(sorted(found, key=lambda b: (-b.more, b.resource)))


def _touched(before: Schedule, after: Schedule, old: Plan, new: Plan, changes: Changes) -> set[str]:
    """Resources whose load or capacity the edit may change, and the roles that they count for."""
    moved = set(shift(before, after).tasks())
    moved |= {t.id for pair in changes.tasks for t in pair if t is not None}
    found = {r for plan in (old, new) for t in moved for r in plan.assigned.get(t, ())}
    found |= {a.resource for pair in changes.assignments for a in pair if a is not None}
    found |= {r.id for pair in changes.resources for r in pair if r is not None}
    if changes.calendars:
        found |= set(new.resources)
    roles = {new.resources[r].role for r in found if r in new.resources}
    return {r for r in found if r in new.resources} | {r for r in roles if r is not None and pooled(new, r)}


@dataclass(frozen=True)
class Instead:
    """Something else to do in place of an edit: ``begin`` is where a task would start, ``resource`` who would do it."""

    edit: Edit
    task: str
    begin: int
    resource: str | None = None


def free_dates(before: Schedule, after: Schedule, edit: Edit) -> list[Instead]:
    """The edit with its tasks at the nearest dates at which nobody has too much: later, for one task also sooner."""
    old, new = before.plan, after.plan
    tasks = _asked_for(old, new)
    found = []
    later = _free(before, after, after, edit, tasks)
    if later is not None:
        found.append(later)
    if len(tasks) == 1:
        task = new.tasks[tasks[0]]
        others = tuple(x for x in task.limits if x.kind is not LimitKind.START_NO_EARLIER)
        if others != task.limits:
            lifted = Changes(tasks=((task, replace(task, limits=others)),))
            sooner = _free(before, after, reschedule(after, lifted.applied_to(new), lifted), edit, tasks)
            if sooner is not None and (later is None or sooner.begin < later.begin):
                found.insert(0, sooner)
    return found


def _asked_for(old: Plan, new: Plan) -> list[str]:
    """The tasks that an edit is about, in order."""
    changes = diff(old, new)
    found = {a.task for pair in changes.assignments for a in pair if a is not None}
    found |= {t.id for _, t in changes.tasks if t is not None}
    return sorted(t for t in found if t in new.tasks and not new.is_summary(t))[:MOST_TASKS]


def _free(before: Schedule, asked: Schedule, ground: Schedule, edit: Edit, tasks: list[str]) -> Instead | None:
    """The edit with its tasks moved to where ``ground`` has room for them; None if that resolves nothing."""
    if not tasks:
        return None
    proposal = level(ground, within_float=False, scope=Scope(tasks=frozenset(tasks)))
    placed = {t: proposal.schedule.dates(t).start for t in tasks}
    starts = {t: at for t, at in placed.items() if at != asked.dates(t).start}
    steps = [_the_same(edit), *(_no_earlier(t, at) for t, at in starts.items())]
    made = edits.in_steps(f"{edit.words}, from where there is room", steps)
    if breaches(before, _scheduled(before, made)):
        return None
    task = min(tasks, key=lambda t: placed[t])
    return Instead(made, task, placed[task])


def _the_same(edit: Edit) -> Callable[[Plan], Edit]:
    return lambda plan: edit


def _no_earlier(task_id: str, at: int) -> Callable[[Plan], Edit]:
    return lambda plan: edits.set_limit(plan, task_id, LimitKind.START_NO_EARLIER, at)


def _handed_over(task_id: str, before: str, after: str) -> Callable[[Plan], Edit]:
    return lambda plan: edits.hand_over(plan, task_id, before, after)


def _scheduled(before: Schedule, edit: Edit) -> Schedule:
    old = before.plan
    new = edit.applied_to(old)
    return reschedule(before, new, diff(old, new))


def people_instead(before: Schedule, after: Schedule, edit: Edit, found: Iterable[Breach]) -> list[Instead]:
    """The edit with somebody else, of the same role or with the skills, who has the time just then."""
    new = after.plan
    asked = _asked_for(before.plan, new)
    offers: list[Instead] = []
    for breach in found:
        for task_id in (t for t in asked if (t, breach.resource) in new.assignments):
            dates = after.dates(task_id)
            wanted = minutes_of(after, new, new.assignments[(task_id, breach.resource)])
            for other in candidates(after, new, breach.resource, dates.start, dates.finish):
                had_it = (task_id, other.resource) in before.plan.assignments
                if had_it or other.free + LEAST < wanted or len(offers) == MOST_PEOPLE:
                    continue
                words = f"{new.resources[other.resource].name} does “{new.tasks[task_id].name}”"
                swap = _handed_over(task_id, breach.resource, other.resource)
                made = edits.in_steps(words, [_the_same(edit), swap])
                if not breaches(before, _scheduled(before, made)):
                    offers.append(Instead(made, task_id, dates.start, other.resource))
    return offers
