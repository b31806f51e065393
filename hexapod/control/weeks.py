"""Weeks of hours: what somebody logged on each day of a week, beside what she could work, and how the sheets stand."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property

import numpy as np

from hexapod.plan.accounts import Log, Sheet, SheetState, WeekKey, monday_of
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY, ResourceKind
from hexapod.schedule.schedule import Schedule
from hexapod.schedule.states import State
from hexapod.staffing.away import away
from hexapod.staffing.capacity import PARTS

DAYS = 7


@dataclass(frozen=True)
class WeekRow:
    """A task with its logs by day, Monday first; one without any is offered."""

    task: str
    logs: tuple[tuple[Log, ...], ...]

    @cached_property
    def minutes(self) -> tuple[int, ...]:
        return tuple(sum(log.minutes for log in day) for day in self.logs)

    @property
    def is_offered(self) -> bool:
        return not any(self.logs)


@dataclass(frozen=True)
class Week:
    """``can`` is what somebody could work on each day, in minutes; ``away`` whether she is on leave then."""

    person: str
    monday: int
    rows: tuple[WeekRow, ...]
    can: tuple[float, ...]
    away: tuple[bool, ...]
    sheet: Sheet | None

    @property
    def state(self) -> SheetState:
        return SheetState.OPEN if self.sheet is None else self.sheet.state

    @cached_property
    def by_day(self) -> tuple[int, ...]:
        return tuple(sum(row.minutes[d] for row in self.rows) for d in range(DAYS))

    @property
    def total(self) -> int:
        return sum(self.by_day)


def week_of(schedule: Schedule, person: str, monday: int) -> Week:
    """A person's week: tasks with hours in it; then those of the week before that are open, and what she works on."""
    plan = schedule.plan
    logs = [plan.logs[x] for x in plan.logs_in.get((person, monday), ())]
    tasks = dict.fromkeys(log.task for log in sorted(logs, key=lambda x: (x.day, x.id)))
    before = sorted({plan.logs[x].task for x in plan.logs_in.get((person, monday - DAYS), ())})
    offered = [t for t in before if not plan.tasks[t].is_done]
    offered += _worked_on(schedule, person, monday)
    rows = [
        WeekRow(t, tuple(tuple(x for x in logs if x.task == t and x.day == monday + d) for d in range(DAYS)))
        for t in dict.fromkeys((*tasks, *offered))
    ]
    leave = away(plan.resources[person], monday, monday + DAYS - 1)
    is_away = tuple(any(first <= monday + d <= last for first, last in leave) for d in range(DAYS))
    return Week(
        person, monday, tuple(rows), capacities(schedule, [person], monday, DAYS)[0], is_away,
        plan.sheet_in((person, monday)),
    )  # fmt: skip


def _worked_on(schedule: Schedule, person: str, monday: int) -> list[str]:
    """Open leaves of somebody that are under way, or that the plan has in a week; by their start."""
    plan, begin, end = schedule.plan, monday * DAY, (monday + DAYS) * DAY
    found = []
    for task in plan.used_by.get(person, ()):
        slot = schedule.slots.get(task)
        if slot is None or plan.is_summary(task) or plan.tasks[task].is_done:
            continue
        start, finish = int(schedule.start[slot]), int(schedule.finish[slot])
        is_under_way = schedule.state_of(task) is State.BEGUN and start < end
        if plan.tasks[task].minutes and (is_under_way or (start < end and finish > begin)):
            found.append((start, task))
    return [task for _, task in sorted(found)]


def capacities(
    schedule: Schedule, people: Sequence[str], monday: int, days: int, step: int = 1
) -> list[tuple[float, ...]]:
    """Minutes that each of some people can work in each of so many days, or in stretches of ``step`` of them."""
    from hexapod.staffing.load import capacities_by_period

    edges = (monday + np.arange(0, days + 1, step)) * DAY
    return [tuple((row / PARTS).tolist()) for row in capacities_by_period(schedule, schedule.plan, people, edges)]


class SheetSign(StrEnum):
    """How a person's week stands, seen from today."""

    TO_COME = "to come"
    OPEN = "open"  # it is not over
    MISSING = "missing"  # it is over, she could have worked, and nothing was handed in
    AWAY = "away"  # it is over, and she could not work
    NOTHING = "nothing"  # it lies before the first week in which she logged anything
    HANDED_IN = "handed in"
    APPROVED = "approved"
    SENT_BACK = "sent back"


@dataclass(frozen=True)
class TeamCell:
    """One week of one person: minutes that are logged, and that she could work."""

    monday: int
    logged: int
    can: float
    sign: SheetSign


@dataclass(frozen=True)
class TeamRow:
    person: str
    cells: tuple[TeamCell, ...]


_SIGNS = {
    SheetState.HANDED_IN: SheetSign.HANDED_IN,
    SheetState.APPROVED: SheetSign.APPROVED,
    SheetState.SENT_BACK: SheetSign.SENT_BACK,
}


def team_weeks(schedule: Schedule, people: Sequence[str], monday: int, weeks: int, today: int) -> list[TeamRow]:
    """So many weeks of some people, up to the one that begins on ``monday``; ``today`` is a day."""
    if not people:
        return []
    plan = schedule.plan
    first = monday - (weeks - 1) * DAYS
    can = capacities(schedule, people, first, weeks * DAYS, DAYS)
    began: dict[str, int] = {}
    for who, week in (*plan.logs_in, *plan.sheet_of):
        began[who] = min(week, began.get(who, week))
    mondays = [first + w * DAYS for w in range(weeks)]
    return [
        TeamRow(who, tuple(_cell(plan, (who, m), c, today, began.get(who)) for m, c in zip(mondays, row, strict=True)))
        for who, row in zip(people, can, strict=True)
    ]


def _cell(plan: Plan, week: WeekKey, can: float, today: int, first: int | None) -> TeamCell:
    logged = sum(plan.logs[x].minutes for x in plan.logs_in.get(week, ()))
    return TeamCell(week[1], logged, can, sign_of(plan, week, can, today, first))


def sign_of(plan: Plan, week: WeekKey, can: float, today: int, first: int | None) -> SheetSign:
    """How a week stands on a day; ``first`` is the first week that its person logged anything in."""
    sheet = plan.sheet_in(week)
    if sheet is not None and sheet.state is not SheetState.OPEN:
        return _SIGNS[sheet.state]
    if week[1] >= monday_of(today):
        return SheetSign.OPEN if week[1] == monday_of(today) else SheetSign.TO_COME
    if plan.logs_in.get(week):
        return SheetSign.MISSING
    if first is None or week[1] < first:
        return SheetSign.NOTHING
    return SheetSign.MISSING if can else SheetSign.AWAY


def people_who_log(plan: Plan, logging: Collection[str]) -> list[str]:
    """People with work, with a sheet or among those who are ``logging``, in the order of the pool."""
    known = {*logging, *(who for who, _ in plan.sheet_of)}
    return [
        r.id
        for r in plan.resources_in_order()
        if r.kind is ResourceKind.PERSON and (r.id in known or plan.used_by.get(r.id))
    ]
