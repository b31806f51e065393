"""Hours: what was planned, what is logged, what is left and what is over; of tasks, branches, people and streams.

Planned is the effort of a task in all, the forecast what is logged and the effort of the rest. Everything is minutes.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from hexapod.control.efforts import Efforts, halved_up
from hexapod.control.ledger import Ledger, summed
from hexapod.plan.outline import outline_order, stream_of
from hexapod.plan.plan import Plan
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.capacity import PARTS


@dataclass(frozen=True)
class Hours:
    """``rest`` is the effort of what is still to be done, as the plan has it now."""

    planned: int = 0
    logged: int = 0
    rest: int = 0

    @property
    def left(self) -> int:
        """What of the planned effort is not used yet."""
        return max(0, self.planned - self.logged)

    @property
    def over(self) -> int:
        """By how much more is logged than was planned."""
        return max(0, self.logged - self.planned)

    @property
    def forecast(self) -> int:
        """What it will have taken."""
        return self.logged + self.rest

    @property
    def will_be_over(self) -> int:
        """By how much more it will have taken than was planned, by the forecast."""
        return max(0, self.forecast - self.planned)

    def __add__(self, other: Hours) -> Hours:
        return Hours(self.planned + other.planned, self.logged + other.logged, self.rest + other.rest)


NO_HOURS = Hours()


class By(StrEnum):
    """By what hours are added up."""

    BRANCH = "branch"
    PERSON = "person"
    PHASE = "phase"  # the top rows of a project
    STREAM = "stream"


@dataclass(frozen=True)
class HoursRow:
    """``key`` is a task, a resource or a stream; ``level`` is how deep a branch lies."""

    key: str
    name: str
    hours: Hours
    level: int = 0


def hours_of_tasks(efforts: Efforts, ledger: Ledger) -> dict[str, Hours]:
    """By leaf, and by summary that hours were logged on."""
    slots = efforts.schedule.network.slots
    planned, rest = efforts.whole.tolist(), efforts.left.tolist()
    logged = ledger.by_task(ledger.counting(), ledger.minutes)
    found = {}
    for slot in np.flatnonzero((efforts.whole > 0) | (efforts.left > 0)).tolist():
        task = slots.tasks[slot]
        if efforts.schedule.has(task):
            found[task] = Hours(planned[slot], logged.get(task, 0), rest[slot])
    return found | {t: Hours(0, minutes, 0) for t, minutes in logged.items() if t not in found}


def with_branches(plan: Plan, hours: dict[str, Hours], project: str) -> dict[str, Hours]:
    """Each row of a project, a branch with all that is below it; in the order of the outline."""
    rows = [t for t in outline_order(plan) if plan.tasks[t].project == project]
    found = {t: hours.get(t, NO_HOURS) for t in rows}
    for task in reversed(rows):
        parent = plan.tasks[task].parent
        if parent is not None:
            found[parent] = found[parent] + found[task]
    return found


def hours_rows(efforts: Efforts, ledger: Ledger, by: By, project: str) -> list[HoursRow]:
    """The hours of a project, or of all where ``project`` is "", added up; rows without any are left out."""
    plan = efforts.schedule.plan
    if by is By.PERSON:
        return _by_person(efforts, ledger, project)
    hours = hours_of_tasks(efforts, ledger)
    chosen = [p.id for p in plan.projects_in_order() if not p.archived and project in ("", p.id)]
    rows: list[HoursRow] = []
    for each in chosen:
        if by is By.STREAM:
            continue
        whole = with_branches(plan, hours, each)
        is_deep = by is By.BRANCH
        for task, found in whole.items():
            level = len(plan.ancestors(task))
            if (is_deep or level == 0) and found != NO_HOURS:
                rows.append(HoursRow(task, plan.tasks[task].name, found, level))
    if by is By.STREAM:
        streams: dict[str, Hours] = {}
        for task, found in hours.items():
            if plan.tasks[task].project in chosen:
                stream = stream_of(plan, task)
                streams[stream] = streams.get(stream, NO_HOURS) + found
        rows = [HoursRow(s, s, streams[s]) for s in sorted(streams, key=str.casefold)]
    return rows


def _by_person(efforts: Efforts, ledger: Ledger, project: str) -> list[HoursRow]:
    plan, schedule = efforts.schedule.plan, efforts.schedule
    chosen = np.array([_counts(plan, p, project) for p in schedule.network.projects], dtype=bool)
    demand, rows = efforts.demand, efforts.rows
    here = chosen[schedule.network.tasks.project[demand.task[rows]]] if len(rows) else np.zeros(0, dtype=bool)
    size = len(demand.resources)
    planned, rest = (
        halved_up(summed(demand.who[rows[here]], what[here], size), PARTS).tolist()
        for what in (efforts.whole_parts, efforts.left_parts)
    )
    is_counted = {t for t in ledger.tasks if t in plan.tasks and _counts(plan, plan.tasks[t].project, project)}
    keep = ledger.counting() & np.array([t in is_counted for t in ledger.tasks], dtype=bool)[ledger.task]
    logged = ledger.by_person(keep, ledger.minutes)
    place = {r: i for i, r in enumerate(demand.resources)}
    found = []
    for resource in plan.resources_in_order():
        i = place.get(resource.id)
        hours = Hours(planned[i] if i is not None else 0, logged.get(resource.id, 0), rest[i] if i is not None else 0)
        if hours != NO_HOURS:
            found.append(HoursRow(resource.id, resource.name, hours))
    return found


def _counts(plan: Plan, project: str, wanted: str) -> bool:
    return project == wanted if wanted else not plan.projects[project].archived


def total(rows: Iterable[HoursRow]) -> Hours:
    """All rows of the top level together."""
    found = NO_HOURS
    for row in rows:
        if row.level == 0:
            found = found + row.hours
    return found


def person_and_phase(efforts: Efforts, ledger: Ledger, project: str) -> list[tuple[str, str, Hours]]:
    """By who is to do it or did it, and by the top row of the project that it is in: planned, logged and left."""
    plan, schedule = efforts.schedule.plan, efforts.schedule
    found: dict[tuple[str, str], list[int]] = {}

    def add(who: str, task: str, what: int, amount: int) -> None:
        if amount and plan.tasks[task].project == project:
            top = [task, *plan.ancestors(task)][-1]
            found.setdefault((who, top), [0, 0, 0])[what] += amount

    demand, ids = efforts.demand, schedule.network.slots.tasks
    for i, row in enumerate(efforts.rows.tolist()):
        who, task = demand.resources[demand.who[row]], ids[demand.task[row]]
        add(who, task, 0, int(efforts.whole_parts[i]))
        add(who, task, 2, int(efforts.left_parts[i]))
    for log, keep in zip(plan.logs.values(), ledger_keeps(ledger, plan), strict=True):
        if keep:
            add(log.resource, log.task, 1, log.minutes * PARTS)
    order = {r.id: i for i, r in enumerate(plan.resources_in_order())}
    tops = {t: i for i, t in enumerate(plan.children_of(project, None))}
    keys = sorted(found, key=lambda key: (order[key[0]], tops[key[1]]))
    return [(who, top, Hours(*((n + PARTS // 2) // PARTS for n in found[who, top]))) for who, top in keys]


def ledger_keeps(ledger: Ledger, plan: Plan) -> list[bool]:
    """Whether each log of a plan counts as spent, in the order of the plan's logs."""
    counts = ledger.counting()
    return [bool(counts[ledger.row_of[log_id]]) for log_id in plan.logs]


def hours_of(schedule: Schedule, ledger: Ledger, efforts: Efforts, task: str) -> Hours:
    """The hours of one row, with all below it."""
    plan, slots = schedule.plan, schedule.slots
    found, counts = NO_HOURS, ledger.counting()
    for row in plan.branch(task):
        logged = sum(
            plan.logs[x].minutes for x in plan.logs_on.get(row, ()) if counts[ledger.row_of[x]]
        )  # fmt: skip
        slot = slots.get(row)
        planned, rest = (0, 0) if slot is None else (int(efforts.whole[slot]), int(efforts.left[slot]))
        found = found + Hours(planned, logged, rest)
    return found
