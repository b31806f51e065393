"""Hours: what was planned, what is logged, what is left and what is over; of tasks, branches, people and streams.

Planned is the effort of a task in all, the forecast what is logged and the effort of the rest. Everything is minutes.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from enum import StrEnum
from typing import NamedTuple

import numpy as np

from hexapod.control.efforts import Efforts, gathered, halved_up
from hexapod.control.ledger import Ledger, summed
from hexapod.plan.plan import Plan
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.capacity import PARTS
from hexapod.worktime.calendars import Ints


class Hours(NamedTuple):
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

    def plus(self, other: Hours) -> Hours:
        """Both together."""
        return Hours(self.planned + other.planned, self.logged + other.logged, self.rest + other.rest)


NO_HOURS = Hours()


class By(StrEnum):
    """By what hours are added up."""

    BRANCH = "branch"
    PERSON = "person"
    PHASE = "phase"  # the top rows of a project
    STREAM = "stream"


class HoursRow(NamedTuple):
    """``key`` is a task, a resource or a stream; ``level`` is how deep a branch lies."""

    key: str
    name: str
    hours: Hours
    level: int = 0


def _walk(plan: Plan, project: str) -> Iterator[tuple[str, int, str]]:
    """The rows of a project in order, each with how deep it lies and the stream that it belongs to."""
    tasks, children = plan.tasks, plan.children
    waiting = [(t, 0, tasks[t].stream or tasks[t].name) for t in reversed(plan.children_of(project, None))]
    while waiting:
        row = waiting.pop()
        yield row
        below = children.get((project, row[0]))
        if below is not None:
            waiting += [(t, row[1] + 1, tasks[t].stream or row[2]) for t in reversed(below)]


def hours_by_slot(efforts: Efforts, ledger: Ledger) -> tuple[Ints, Ints, Ints]:
    """Planned, logged and still to do of each row alone, by slot of the schedule."""
    slots = efforts.schedule.slots
    logged = np.zeros(len(efforts.whole), dtype=np.int64)
    for task, minutes in ledger.by_task(ledger.counting(), ledger.minutes).items():
        logged[slots[task]] = minutes
    return efforts.whole, logged, efforts.left


def hours_rows(efforts: Efforts, ledger: Ledger, by: By, project: str) -> list[HoursRow]:
    """The hours of a project, or of all where ``project`` is "", added up; rows without any are left out."""
    schedule = efforts.schedule
    plan, slots = schedule.plan, schedule.slots
    if by is By.PERSON:
        return _by_person(efforts, ledger, project)
    columns = hours_by_slot(efforts, ledger)
    if by is not By.STREAM:
        columns = tuple(gathered(schedule, column) for column in columns)  # type: ignore[assignment]
    planned, logged, rest = (column.tolist() for column in columns)
    chosen = [p.id for p in plan.projects_in_order() if _counts(plan, p.id, project)]
    rows: list[HoursRow] = []
    streams: dict[str, Hours] = {}
    for task, level, stream in (row for each in chosen for row in _walk(plan, each)):
        slot = slots.get(task)
        if slot is None or not (planned[slot] or logged[slot] or rest[slot]) or (by is By.PHASE and level):
            continue
        hours = Hours(planned[slot], logged[slot], rest[slot])
        if by is By.STREAM:
            streams[stream] = streams.get(stream, NO_HOURS).plus(hours)
        else:
            rows.append(HoursRow(task, plan.tasks[task].name, hours, level))
    return rows if by is not By.STREAM else [HoursRow(s, s, streams[s]) for s in sorted(streams, key=str.casefold)]


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
    keep = ledger.of_tasks(lambda t: t in plan.tasks and _counts(plan, plan.tasks[t].project, project))
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
            found = found.plus(row.hours)
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
        found = found.plus(Hours(planned, logged, rest))
    return found
