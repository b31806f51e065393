"""An independent judge of levelled plans: minute by minute, sharing no code with the levelling."""

from __future__ import annotations

from collections import defaultdict

from hexapod.plan.plan import Plan
from hexapod.plan.records import TaskKind
from hexapod.worktime.calendars import Window
from tests.worktime.twin import MinuteByMinute


def demand_by_minute(plan: Plan, dates: dict[str, tuple[int, int]], window: Window) -> dict[str, dict[int, float]]:
    """Units asked of each resource in each worked minute."""
    found: dict[str, dict[int, float]] = {r: defaultdict(float) for r in plan.resources}
    twins: dict[tuple[str, ...], MinuteByMinute] = {}
    for assignment in plan.assignments.values():
        if plan.is_summary(assignment.task):
            continue
        task = plan.tasks[assignment.task]
        line = [plan.tasks[t].calendar for t in (task.id, *plan.ancestors(task.id))]
        own = "always" if task.elapsed else next(filter(None, line), plan.projects[task.project].calendar)
        other = None if task.elapsed else plan.resources[assignment.resource].calendar
        chosen = (own,) if other in (None, own) else (own, other)
        twin = twins.setdefault(chosen, MinuteByMinute(plan.calendars, chosen, window))
        start, finish = dates[assignment.task]
        left = finish - start if task.kind is TaskKind.SPAN else task.minutes
        for t in range(start, finish):
            if twin.works[t - window.begin] and left > 0:
                left -= 1
                found[assignment.resource][t] += assignment.units
    return found


def overloaded_minutes(plan: Plan, dates: dict[str, tuple[int, int]], window: Window) -> dict[str, set[int]]:
    """The minutes in which more is asked of a resource than there is."""
    asked = demand_by_minute(plan, dates, window)
    return {
        r: {t for t, units in by_minute.items() if units > _capacity_at(plan, r, t) + 1e-9}
        for r, by_minute in asked.items()
    }


def _capacity_at(plan: Plan, resource: str, minute: int) -> float:
    found = plan.resources[resource].capacity
    for day, capacity in plan.resources[resource].capacity_from:
        if minute >= day * 1440:
            found = capacity
    return found
