"""What the spread of a project's finish comes from: each thing left out for once, and the rounds gone again."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from hexapod.outlook.chances import Outlook

LEAST, MOST = 500, 3000  # rounds of each comparison
MOST_COMPARED = 3_000_000  # tasks x rounds of one
MOST_NAMED = 6
LEAST_CRUCIAL = 0.02  # rank correlation with the finish from which on a task is tried


@dataclass(frozen=True)
class Spread:
    """What one thing adds to the date that is sure enough, in minutes of the project's work; ``task`` or ``risk``."""

    name: str
    mean: int
    sure: int
    task: str = ""
    risk: str = ""


def spread_of(outlook: Outlook, project: str, share: float, is_stopped: Callable[[], bool]) -> list[Spread]:
    """What adds most to a project's sure date, each left out for once: the tasks whose length goes most with the
    finish, and the risks of the project."""
    # Here, since kernels take long to load, and a window shows a Spread without them.
    from hexapod.outlook.chances import Outlook, added_by
    from hexapod.outlook.simulation import simulate

    found_in = outlook.found
    plan, size = found_in.schedule.plan, found_in.network.size
    rounds = min(found_in.rounds, max(LEAST, MOST_COMPARED // max(1, size)), MOST)
    if rounds < found_in.rounds:
        outlook = Outlook(simulate(found_in.schedule, rounds, found_in.seed, with_floats=False, is_stopped=is_stopped))
    crucial = sorted(outlook.crucialities(project).items(), key=lambda each: (-each[1], each[0]))
    found = []
    for task, value in crucial[:MOST_NAMED]:
        if value > LEAST_CRUCIAL:
            added = added_by(outlook, project, task=task, part=share, is_stopped=is_stopped)
            found.append(Spread(plan.tasks[task].name, added.mean, added.sure, task=task))
    for risk in (plan.risks[r] for r in outlook.found.risks if plan.risks[r].project == project):
        added = added_by(outlook, project, risk=risk.id, part=share, is_stopped=is_stopped)
        if added.mean or added.sure:
            found.append(Spread(f"Risk: {risk.name}", added.mean, added.sure, risk=risk.id))
    return sorted(found, key=lambda each: (-each.sure, -each.mean, each.name))[:MOST_NAMED]
