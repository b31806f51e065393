"""Reports of the staff: what is promised against what is assigned, roles against demand, who is over and who is free.

Each is a title, the gist in sentences, and a table of hours to the tenth. Days and months are named by whoever asks,
so that the words of a locale can be used.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass

import numpy as np

from hexapod.plan.plan import Plan
from hexapod.plan.records import ResourceKind
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.away import interrupted
from hexapod.staffing.demand import Demand
from hexapod.staffing.load import capacity_by_period
from hexapod.staffing.overloads import Overload
from hexapod.staffing.reserved import Bookings
from hexapod.staffing.roles import HOUR, role_table
from hexapod.worktime.calendars import Ints

Named = Callable[[int], str]  # of a moment in minutes
Value = str | float
LEAST = 0.05  # hours that are worth a word
MOST_SAID = 8  # sentences of one kind


@dataclass(frozen=True)
class StaffReport:
    """``rows`` are as long as ``headings``; numbers are hours."""

    title: str
    gist: tuple[str, ...]
    headings: tuple[str, ...]
    rows: tuple[tuple[Value, ...], ...]


@dataclass(frozen=True)
class StaffFacts:
    """What a report is made from; ``edges`` are its periods, named by ``period``, days by ``day``."""

    schedule: Schedule
    plan: Plan
    demand: Demand
    overloads: tuple[Overload, ...]
    edges: Ints
    period: Named
    day: Named

    def periods(self) -> range:
        return range(len(self.edges) - 1)

    def name(self, period: int) -> str:
        return self.period(int(self.edges[period]))


def assigned_and_reserved(facts: StaffFacts) -> StaffReport:
    """By person, project and period: hours promised, hours that tasks ask for, and how they differ."""
    plan = facts.plan
    booked = Bookings.of(facts.schedule, plan, facts.demand, facts.edges)
    rows: list[tuple[Value, ...]] = []
    said: list[str] = []
    periods = [facts.name(i) for i in facts.periods()]
    for r, resource in enumerate(booked.resources):
        if not booked.reserved[r].any() and not booked.assigned[r].any():
            continue
        name = plan.resources[resource].name
        if plan.resources[resource].kind is ResourceKind.ROLE:
            name = f"Open seats: {name}"
        for i, p in np.argwhere((booked.reserved[r] + booked.assigned[r]).T).tolist():
            promised, asked = _hours(booked.reserved[r, p, i]), _hours(booked.assigned[r, p, i])
            project = plan.projects[booked.projects[p]].name
            rows.append((name, project, periods[i], promised, asked, round(asked - promised, 1)))
        if plan.resources[resource].kind is not ResourceKind.ROLE:
            said += _promised_twice(facts, booked, resource)
    gist = said[:MOST_SAID] or ["Nobody is promised for more than the time there is."]
    if len(said) > MOST_SAID:
        gist.append(f"And {len(said) - MOST_SAID} more.")
    headings = ("Who", "Project", "Period", "Reserved", "Assigned", "Over or under")
    return StaffReport("Assigned against reserved", tuple(gist), headings, tuple(rows))


def _promised_twice(facts: StaffFacts, booked: Bookings, resource: str) -> list[str]:
    """Where projects together are promised more of somebody than there is, in one sentence."""
    r = booked.resources.index(resource)
    capacity = capacity_by_period(facts.schedule, facts.plan, resource, facts.edges)
    promised = booked.reserved[r].sum(axis=0)
    over = [i for i in facts.periods() if promised[i] > capacity[i] + LEAST * HOUR]
    if not over:
        return []
    worst = max(over, key=lambda i: int(promised[i] - capacity[i]))
    names = [facts.plan.projects[p].name for j, p in enumerate(booked.projects) if booked.reserved[r, j, worst]]
    more = "" if len(over) == 1 else f", and too much in {len(over) - 1} other periods"
    who = facts.plan.resources[resource].name
    there, wanted = _said(_hours(capacity[worst])), _said(_hours(promised[worst]))
    return [f"{who} is promised for {wanted} of {there} in {facts.name(worst)}, to {_list(names)}{more}."]


def roles_against_demand(facts: StaffFacts) -> StaffReport:
    """By role and period: what there is, what is filled and open, and what is spare or short."""
    table = role_table(facts.schedule, facts.plan, facts.demand, facts.edges)
    rows: list[tuple[Value, ...]] = []
    short: list[tuple[float, str]] = []
    for row in table.rows:
        for i in facts.periods():
            have, filled = float(row.have[i]), float(row.filled[:, i].sum())
            unfilled = float(row.open[:, i].sum())
            spare = round(have - filled - unfilled, 1)
            rows.append((row.title, facts.name(i), *(round(x, 1) for x in (have, filled, unfilled)), spare))
            if spare < -LEAST:
                wanted = [(float(n), p) for n, p in zip(row.filled[:, i] + row.open[:, i], table.projects, strict=True)]
                names = [facts.plan.projects[p].name for n, p in sorted(wanted, reverse=True) if n]
                said = f"{row.title} is {_said(-spare)} short in {facts.name(i)}; it is wanted by {_list(names)}."
                short.append((spare, said))
    gist = [said for _, said in sorted(short)[:MOST_SAID]] or ["No role is short."]
    headings = ("Role", "Period", "There", "Filled", "Open", "Spare or short")
    return StaffReport("Capacity against demand by role", tuple(gist), headings, tuple(rows))


def over_and_free(facts: StaffFacts) -> StaffReport:
    """In words: who has too much and when, who has the most time, whose leave falls into their work."""
    plan = facts.plan
    over: dict[str, list[Overload]] = {}
    for o in facts.overloads:
        if o.end > facts.edges[0] and o.begin < facts.edges[-1]:
            over.setdefault(o.resource, []).append(o)
    said = []
    for resource, found in sorted(over.items(), key=lambda pair: -sum(o.excess for o in pair[1])):
        worst = max(found, key=lambda o: o.excess)
        total = sum(o.excess for o in found) / 60
        tasks = _list([f"“{plan.tasks[t].name}”" for t in worst.tasks[:3]])
        when = f"{facts.day(worst.begin)} to {facts.day(worst.end)}"
        record = plan.resources[resource]
        who = f"The role {record.name}" if record.kind is ResourceKind.ROLE else record.name
        said.append(f"{who} has {_said(round(total, 1))} too much, mostly {when}: {tasks}.")
    gist = said[:MOST_SAID] or ["Nobody has too much."]
    rows = _free_rows(facts, over)
    gist += _who_is_free(rows)
    for i in interrupted(facts.schedule, plan)[:MOST_SAID]:
        days = f"{facts.day(i.first_day * 1440)} to {facts.day(i.last_day * 1440)}"
        gist.append(f"{plan.resources[i.resource].name} is away {days}, in the midst of “{plan.tasks[i.task].name}”.")
    headings = ("Who", "Role", "There", "Planned", "Free", "Too much")
    return StaffReport("Who is over, who is free", tuple(gist), headings, tuple(rows))


def _who_is_free(rows: list[tuple[Value, ...]]) -> list[str]:
    """Those for whom nothing is planned or promised, else those with the most time."""
    idle = [str(who) for who, _, there, planned, free, _ in rows if there and not planned and free == there]
    if idle:
        more = [f"{len(idle) - MOST_SAID} more"] if len(idle) > MOST_SAID else []
        return [f"Nothing is planned for {_list([*idle[:MOST_SAID], *more])}."]
    freest = sorted((r for r in rows if float(r[4]) > 0), key=lambda r: -float(r[4]))[:5]
    return [f"The most time have {_list([f'{r[0]} ({_said(float(r[4]))})' for r in freest])}."] if freest else []


def _free_rows(facts: StaffFacts, over: dict[str, list[Overload]]) -> list[tuple[Value, ...]]:
    """Everybody over the whole of the periods: what there is, is planned, is free and is too much."""
    plan = facts.plan
    found: list[tuple[Value, ...]] = []
    span = np.array([facts.edges[0], facts.edges[-1]])
    booked = Bookings.of(facts.schedule, plan, facts.demand, span)
    for r, resource in enumerate(booked.resources):
        record = plan.resources[resource]
        if record.kind not in (ResourceKind.PERSON, ResourceKind.TEAM):
            continue
        there = _hours(capacity_by_period(facts.schedule, plan, resource, span)[0])
        planned, claimed = _hours(booked.assigned[r].sum()), _hours(booked.claimed(resource)[0])
        excess = round(sum(o.excess for o in over.get(resource, ())) / 60, 1)
        role = plan.resources[record.role].name if record.role is not None else ""
        found.append((record.name, role, there, planned, round(max(0.0, there - claimed), 1), excess))
    return found


def _hours(amount: int | float) -> float:
    return round(float(amount) / HOUR, 1)


def _said(hours: float) -> str:
    return f"{hours:,.1f}".removesuffix(".0") + " h"


def _list(names: Iterable[str]) -> str:
    found = list(names)
    return found[0] if len(found) == 1 else f"{', '.join(found[:-1])} and {found[-1]}" if found else "nobody"


REPORTS: dict[str, Callable[[StaffFacts], StaffReport]] = {
    "Who is over, who is free": over_and_free,
    "Assigned against reserved": assigned_and_reserved,
    "Capacity against demand by role": roles_against_demand,
}
