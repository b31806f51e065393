"""The figures by which plans are compared: what one of them comes to, worked out from its dates alone."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date

import numpy as np

from hexapod.control.efforts import Efforts
from hexapod.control.mine import is_milestone
from hexapod.control.outlay import outlays
from hexapod.outlook.chances import Outlook
from hexapod.plan.records import DAY, ResourceKind
from hexapod.schedule.schedule import Schedule
from hexapod.schedule.shift import shift
from hexapod.staffing.capacity import PARTS
from hexapod.staffing.demand import Demand
from hexapod.staffing.overloads import overloads
from hexapod.staffing.reserved import span_of
from hexapod.staffing.roles import role_table
from hexapod.worktime.clock import date_of, day_number

MOST_MONTHS = 36
HOUR = 60

Month = int  # the day (since 1970-01-01) on which it begins


@dataclass(frozen=True)
class Need:
    """What a role has and what is asked of it in a month, in hours."""

    have: float
    need: float

    @property
    def short(self) -> float:
        return max(0.0, self.need - self.have)


@dataclass(frozen=True)
class Figures:
    """``finishes`` are of projects, ``milestones`` of tasks; None is no date. ``sure`` is by project the date that is
    sure enough, where rounds say so. ``held`` are projects on hold. ``overload`` is in hours of work beyond capacity.
    ``needs`` are by role and month; ``hours`` what is left to do, ``cost`` what it will all have cost, ``costs`` that
    by month. ``moved`` counts tasks that lie elsewhere than in the plan that it is compared with."""

    finishes: Mapping[str, int | None]
    milestones: Mapping[str, int | None]
    held: frozenset[str]
    targets: int
    met: int
    least_float: int | None
    overloads: int
    overload: float
    needs: Mapping[str, Mapping[Month, Need]]
    hours: float
    cost: int
    costs: Mapping[Month, int]
    moved: int = 0
    sure: Mapping[str, int] = field(default_factory=dict)

    @property
    def short(self) -> float:
        """Hours that roles are short of, in all months."""
        return sum(need.short for months in self.needs.values() for need in months.values())


def figures_of(
    schedule: Schedule,
    today: int,
    *,
    before: Schedule | None = None,
    rounds: Outlook | None = None,
    share: float = 0.8,
) -> Figures:
    """What a plan comes to. ``today`` is a day, ``before`` the plan that it is compared with, ``rounds`` what is known
    of its ranges, ``share`` how sure is sure enough."""
    plan = schedule.plan
    demand = Demand.of(schedule, plan)
    found = overloads(schedule, demand)
    edges = months_of(schedule)
    targets, met = _targets(schedule)
    cost, costs, hours = _money(schedule, demand, edges, today)
    shown = {p.id for p in plan.projects.values() if not p.archived}
    return Figures(
        {p: schedule.project_finish.get(p) for p in shown},
        {t.id: _finish(schedule, t.id) for t in plan.tasks.values() if is_milestone(t) and t.project in shown},
        frozenset(p.id for p in plan.projects.values() if p.on_hold),
        targets,
        met,
        _least_float(schedule),
        len(found),
        found.total_excess / HOUR,
        _needs(schedule, demand, edges),
        hours,
        cost,
        costs,
        0 if before is None else len(shift(before, schedule).slots),
        {} if rounds is None else _sure(rounds, shown, share),
    )


def months_of(schedule: Schedule) -> list[Month]:
    """The first days of the months that a plan lies in, and that after the last one."""
    begin, end = span_of(schedule, schedule.plan)
    on = date_of(begin // DAY).replace(day=1)
    found = [day_number(on)]
    while found[-1] * DAY <= end and len(found) <= MOST_MONTHS:
        on = date(on.year + on.month // 12, on.month % 12 + 1, 1)
        found.append(day_number(on))
    return found


def _finish(schedule: Schedule, task: str) -> int | None:
    return schedule.dates(task).finish if schedule.has(task) else None


def _targets(schedule: Schedule) -> tuple[int, int]:
    """How many targets there are, of projects and tasks, and how many of them are met; what is on hold has none."""
    plan, pairs = schedule.plan, []
    for project in plan.projects.values():
        if project.target_finish is not None and not project.archived and not project.on_hold:
            pairs.append((schedule.project_finish.get(project.id), project.target_finish))
    for task in plan.tasks.values():
        project = plan.projects[task.project]
        if task.target is not None and not project.archived and not project.on_hold:
            pairs.append((_finish(schedule, task.id), task.target))
    return len(pairs), sum(finish is not None and finish <= target for finish, target in pairs)


def _least_float(schedule: Schedule) -> int | None:
    """The least float of open leaves beside those that have none."""
    network = schedule.network
    size = network.size
    is_open = (network.structure.leaf[:size] == 1) & (network.tasks.alive[:size] == 1)
    floats = schedule.total_float[:size][is_open]
    some = floats[floats > 0]
    return int(some.min()) if len(some) else None


def _needs(schedule: Schedule, demand: Demand, months: list[Month]) -> dict[str, dict[Month, Need]]:
    plan = schedule.plan
    if len(months) < 2 or not any(r.kind is ResourceKind.ROLE for r in plan.resources.values()):
        return {}
    table = role_table(schedule, plan, demand, np.array(months, dtype=np.int64) * DAY)
    return {
        row.role: {
            month: Need(float(have), float(need)) for month, have, need in zip(months, row.have, row.need, strict=False)
        }
        for row in table.rows
    }


def _money(
    schedule: Schedule, demand: Demand, months: Sequence[Month], today: int
) -> tuple[int, dict[Month, int], float]:
    """What all projects will have cost, in all and by month, and the hours of work that are left."""
    efforts = Efforts.of(schedule, demand)
    found = outlays(schedule, efforts, months, today)
    whole, costs = 0, [0] * (len(months) - 1)
    for project, outlay in found.items():
        if not schedule.plan.projects[project].archived:
            whole += outlay.whole
            costs = [a + b for a, b in zip(costs, outlay.by_month, strict=True)]
    return whole, dict(zip(months, costs, strict=False)), float(efforts.left_parts.sum()) / (PARTS * HOUR)


def _sure(rounds: Outlook, projects: Collection[str], share: float) -> dict[str, int]:
    known = {project: rounds.of_project(project) for project in projects}
    return {project: chances.quantile(share) for project, chances in known.items() if chances is not None}
