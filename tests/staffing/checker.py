"""An independent judge of levelled plans: minute by minute, sharing no code with the levelling."""

from __future__ import annotations

from collections import defaultdict

from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, Curve, TaskKind
from hexapod.worktime.calendars import Window
from tests.worktime.twin import MinuteByMinute

_BUILT_IN: dict[tuple[str, ...], MinuteByMinute] = {}  # of plans without calendars of their own


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
        kept = twins if plan.calendars else _BUILT_IN
        key = (*chosen, str(window))
        if key not in kept:
            kept[key] = MinuteByMinute(plan.calendars, chosen, window)
        twin = kept[key]
        start, finish = dates[assignment.task]
        left = finish - start if task.kind is TaskKind.SPAN else task.minutes
        worked = []
        for t in range(start, finish):
            if twin.works[t - window.begin] and left > 0:
                left -= 1
                worked.append(t)
        first = 0 if assignment.first_day is None else assignment.first_day * 1440
        last = 1 << 60 if assignment.last_day is None else (assignment.last_day + 1) * 1440
        worked = [t for t in worked if first <= t < last]
        for t, weight in zip(worked, _weights(assignment.curve, len(worked)), strict=True):
            found[assignment.resource][t] += _rate(assignment, len(worked)) * weight
    return found


def overloaded_minutes(plan: Plan, dates: dict[str, tuple[int, int]], window: Window) -> dict[str, set[int]]:
    """The minutes in which more is asked of a resource than there is."""
    asked = demand_by_minute(plan, dates, window)
    return {
        r: {t for t, units in by_minute.items() if units > capacity_at(plan, r, t) + 1e-9}
        for r, by_minute in asked.items()
    }


def capacity_at(plan: Plan, resource: str, minute: int) -> float:
    found = plan.resources[resource].capacity
    for day, capacity in plan.resources[resource].capacity_from:
        if minute >= day * 1440:
            found = capacity
    return found


def _rate(assignment: Assignment, minutes: int) -> float:
    """Units on the average, in a calendar of eight hours a day."""
    if assignment.hours_a_day is not None:
        return assignment.hours_a_day / 8
    return assignment.units if assignment.total is None else assignment.total / minutes


def _weights(curve: Curve, minutes: int) -> list[float]:
    """By minute, in ten parts that go down, up, or up and down in equal steps, and are 1 on the average."""
    if curve is Curve.FLAT:
        return [1.0] * minutes
    falling = [1.9, 1.7, 1.5, 1.3, 1.1, 0.9, 0.7, 0.5, 0.3, 0.1]
    by_part = {
        Curve.FRONT: falling,
        Curve.BACK: falling[::-1],
        Curve.CENTRE: [0.2, 0.6, 1.0, 1.4, 1.8, 1.8, 1.4, 1.0, 0.6, 0.2],
    }[curve]
    found: list[float] = []
    waiting = 0.0  # work that falls on no whole minute
    for k, weight in enumerate(
        by_part
    ):  # a part is as many whole minutes as it gets, with the work that it ought to have
        length = minutes * (k + 1) // 10 - minutes * k // 10
        waiting += weight * minutes / 10
        found += [waiting / length] * length if length else []
        waiting = 0.0 if length else waiting
    return found
