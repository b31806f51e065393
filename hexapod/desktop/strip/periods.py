"""Load and capacity of a resource by day or week, ready to draw. Pure but for the kernels it calls."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hexapod.desktop.chart.timescale import TimeScale
from hexapod.desktop.models.desk import Desk
from hexapod.plan.records import DAY
from hexapod.worktime.clock import date_of

WEEK = 7 * DAY
HOUR_OF_LOAD = 60_000_000  # of a load, in millionths of minutes


@dataclass(frozen=True)
class Period:
    """``peak`` is the most that is asked for at one moment, in units, where that exceeds the capacity; else 0. ``then``
    is the load that the plan has, where a scenario is open and that is shown beside it."""

    begin: int
    end: int
    load: float  # hours
    capacity: float
    peak: float
    then: float | None = None

    @property
    def is_over(self) -> bool:
        return self.peak > 0 or self.load > self.capacity + 1e-9


def period_edges(scale: TimeScale, width: float, length: int) -> np.ndarray:
    """Day or week boundaries that cover ``width`` pixels; weeks begin on Monday (ISO 8601)."""
    first = scale.minute(0) // DAY
    if length == WEEK:
        first -= date_of(first).weekday()
    count = (scale.minute(width) - first * DAY) // length + 2
    return first * DAY + np.arange(count) * length


def periods_of(desk: Desk, resource: str, edges: np.ndarray) -> list[Period]:
    """The periods between the edges; empty until the dates are computed."""
    load = desk.load
    if load is None or resource not in desk.plan.resources:
        return []
    from hexapod.staffing.load import capacity_by_period, load_by_period
    from hexapod.staffing.overloads import peak_within

    loads = load_by_period(desk.worked_out, desk.plan, resource, edges)
    capacities = capacity_by_period(desk.worked_out, desk.plan, resource, edges)
    beside = desk.beside
    is_beside = beside is not None and resource in beside.plan.resources
    then = load_by_period(beside, beside.plan, resource, edges) if is_beside else None  # type: ignore[union-attr,arg-type]
    over = [o for o in load.overloads if o.resource == resource]
    found = []
    for i in range(len(edges) - 1):
        begin, end = int(edges[i]), int(edges[i + 1])
        peak = 0.0
        if any(o.begin < end and o.end > begin for o in over):
            peak = peak_within(desk.worked_out, load.demand, resource, begin, end)
        before = None if then is None else then[i] / HOUR_OF_LOAD
        found.append(Period(begin, end, loads[i] / HOUR_OF_LOAD, capacities[i] / HOUR_OF_LOAD, peak, before))
    return found


def hours(amount: float) -> str:
    return f"{amount:.1f}".rstrip("0").rstrip(".") + " h"
