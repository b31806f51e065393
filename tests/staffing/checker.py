"""An independent judge of levelled plans: minute by minute, sharing no code with the levelling."""

from __future__ import annotations

from collections import defaultdict

from hexapod.plan.plan import Plan
from hexapod.schedule.timing import calendar_set_of
from hexapod.worktime.calendars import Window
from tests.worktime.twin import MinuteByMinute


def demand_by_minute(plan: Plan, dates: dict[str, tuple[int, int]], window: Window) -> dict[str, dict[int, float]]:
    """Units asked of each resource in each worked minute."""
    found: dict[str, dict[int, float]] = {r: defaultdict(float) for r in plan.resources}
    twins: dict[tuple[str, ...], MinuteByMinute] = {}
    for assignment in plan.assignments.values():
        if plan.is_summary(assignment.task):
            continue
        chosen = calendar_set_of(plan, plan.tasks[assignment.task])
        twin = twins.setdefault(chosen, MinuteByMinute(plan.calendars, chosen, window))
        start, finish = dates[assignment.task]
        for t in range(start, finish):
            if twin.works[t - window.begin]:
                found[assignment.resource][t] += assignment.units
    return found


def overloaded_minutes(plan: Plan, dates: dict[str, tuple[int, int]], window: Window) -> dict[str, set[int]]:
    """The minutes in which more is asked of a resource than there is."""
    asked = demand_by_minute(plan, dates, window)
    return {
        r: {t for t, units in by_minute.items() if units > plan.resources[r].capacity + 1e-9}
        for r, by_minute in asked.items()
    }
