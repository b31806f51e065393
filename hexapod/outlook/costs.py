"""What the work that is left costs, as a range: rates times drawn work, and what risks cost where they happen."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from hexapod.control.ledger import HOUR, rate_on
from hexapod.outlook.chances import Chances, Outlook
from hexapod.outlook.draws import draw_length, key_of, lengths_of, table
from hexapod.plan.estimates import Points, Shape
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY, Task
from hexapod.schedule.effort import effort_of


class CostRange(NamedTuple):
    """Money in its smallest unit: as planned without risks, and in the rounds."""

    planned: int
    chances: Chances


def cost_range(outlook: Outlook, project: str, *, after: bool = False) -> CostRange | None:
    """Of the work of a project that is left; None where nothing of it costs anything."""
    found, plan = outlook.found, outlook.found.schedule.plan
    row = {task: i for i, task in enumerate(found.varied)}
    rounds = found.lengths.shape[1]
    planned, total = 0.0, np.zeros(rounds)
    for task in plan.tasks.values():
        if task.project != project or task.is_done or plan.is_summary(task.id):
            continue
        cost = _cost_left(outlook, task)
        planned += cost
        usual = task.rest if task.is_begun else task.minutes
        if task.id in row and usual:
            total += cost * found.lengths[row[task.id]] / usual
        else:
            total += cost
    total += _risks(outlook, plan, project, after, rounds)
    if not planned and not total.any():
        return None
    return CostRange(round(planned), Chances(np.sort(np.floor(total + 0.5).astype(np.int64))))


def _cost_left(outlook: Outlook, task: Task) -> float:
    """What the rest of a task costs at the rates of the day on which it starts."""
    schedule, plan = outlook.found.schedule, outlook.found.schedule.plan
    day = schedule.dates(task.id).start // DAY if schedule.has(task.id) else 0
    share = task.rest / task.minutes if task.is_begun and task.minutes else 1.0
    return sum(
        effort_of(plan, a) * share * rate_on(plan.resources[a.resource], day) / HOUR
        for a in plan.assignments_of(task.id)
    )


def _risks(outlook: Outlook, plan: Plan, project: str, after: bool, rounds: int) -> np.ndarray:
    """What the risks of a project cost in each round."""
    found, total = outlook.found, np.zeros(rounds)
    for i, risk in enumerate(plan.risks[r] for r in found.risks):
        cost = risk.cost_of(after=after)
        if risk.project != project or cost is None:
            continue
        lengths = lengths_of([("", Points(*cost), Shape.PERT, -1, 0.0)], found.seed)
        lengths = lengths._replace(key=np.array([key_of(found.seed, "cost", risk.id)], dtype=np.uint64))
        drawn = np.empty(rounds, dtype=np.int64)
        draw_length(lengths, table(), 0, 0, np.empty((0, rounds)), np.empty(rounds), drawn)
        total += np.where(found.happened[i, :rounds] == 1, drawn, 0)
    return total
