"""Plans for the tests: small ones written down, and random ones."""

from __future__ import annotations

import random
import unittest
from collections.abc import Callable
from datetime import datetime
from unittest.mock import patch

from msgspec.structs import replace

from hexapod.plan.changes import diff
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Plan
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import (
    Assignment,
    Calendar,
    CalendarException,
    Gap,
    LagOn,
    Link,
    LinkType,
    Project,
    Record,
    Resource,
    Task,
    TaskKind,
)
from hexapod.plan.validity import check, check_whole
from hexapod.schedule.engine import reschedule
from hexapod.schedule.schedule import Schedule
from hexapod.schedule.telling import told_in_full
from hexapod.worktime.clock import minutes_of

MONDAY = minutes_of(datetime(2026, 9, 7, 8))
DAY = 480


def at(text: str) -> int:
    """Minutes of an ISO moment."""
    return minutes_of(datetime.fromisoformat(text))


def set_clock(case: unittest.TestCase, now: int | Callable[[], int]) -> None:
    """What the clock says as long as a test runs: a minute, or what a function says."""
    told = patch("hexapod.worktime.clock.now", now if callable(now) else lambda: now)
    told.start()
    case.addCleanup(told.stop)


def project(project_id: str = "p", start: int = MONDAY, **fields: object) -> Project:
    return Project(project_id, project_id.upper(), start, "a0", **fields)


def tasks(*durations: tuple[str, int], project: str = "p") -> list[Task]:
    """Top-level tasks by (id, duration in minutes), in that order."""
    ranks = ranks_between(None, None, len(durations))
    return [Task(t, project, t, rank, duration=d) for (t, d), rank in zip(durations, ranks, strict=True)]


def after(now: Schedule, edit: Edit) -> Schedule:
    """The schedule once an edit is done, worked out from the one before."""
    plan = edit.applied_to(now.network.plan)
    return reschedule(now, plan, diff(now.network.plan, plan))


def carried_out(plan: Plan, edit: Edit) -> Plan:
    """The plan after an edit, which must keep the rules of changes and of whole plans."""
    draft = plan.draft()
    edit.change(draft)
    made, changes = draft.finish()
    check(made, changes)
    check_whole(made)
    return made


def told(plan: Plan, now: int = MONDAY + 300 * 1440) -> Plan:
    """The plan with the actual dates that follow from what it says is done."""
    return told_in_full(plan, now)


def random_calendar(rng: random.Random, calendar_id: str) -> Calendar:
    """A week with odd hours, and days off; it always works on two days at least."""
    week = []
    for day in range(7):
        hours = sorted(rng.sample(range(25), rng.choice((2, 2, 4))))
        if rng.random() < 0.15:
            hours[-1] = 24 + rng.randrange(max(1, hours[0]))  # past midnight
        intervals = tuple((hours[i] * 60, hours[i + 1] * 60) for i in range(0, len(hours), 2))
        week.append(intervals if day in (1, 3) or rng.random() < 0.6 else ())
    first = MONDAY // 1440
    exceptions = tuple(
        CalendarException(first + d, first + d + rng.randrange(2), ((600, 700),) if rng.random() < 0.3 else ())
        for d in rng.sample(range(40), 4)
    )
    return Calendar(calendar_id, calendar_id, None, tuple(week), exceptions)


def random_plan(
    rng: random.Random,
    size: int,
    *,
    types: str = "FS SS FF SF",
    calendars: int = 0,
    lags: int = 600,
    summaries: bool = False,
    resources: int = 0,
    milestones: float = 0.1,
    projects: int = 1,
    rich: bool = False,
    own_hours: bool = False,
) -> Plan:
    """Tasks with links that point forward in their order, so that there is no loop.

    A rich plan has spans, elapsed durations and lags of every kind; with ``own_hours`` resources have calendars
    of their own, which may never meet those of their tasks.
    """
    records: list[Record] = [random_calendar(rng, f"c{i}") for i in range(calendars)]
    names = ["standard", *(f"c{i}" for i in range(calendars))]
    for i, rank in enumerate(ranks_between(None, None, projects)):
        records.append(Project(f"p{i}", f"P{i}", MONDAY + rng.randrange(3) * 1440, rank, rng.choice(names)))
    parents: list[tuple[str, str]] = []
    leaves: list[str] = []
    for i, rank in enumerate(ranks_between(None, None, size)):
        home, parent = f"p{rng.randrange(projects)}", None
        if summaries and rng.random() < 0.25:
            records.append(Task(f"s{i}", home, f"S{i}", rank))
            parents.append((f"s{i}", home))
        if summaries and parents and rng.random() < 0.6:
            parent, home = rng.choice(parents)
        duration = 0 if rng.random() < milestones else rng.randrange(1, 1500)
        calendar = rng.choice([None, *names]) if calendars else None
        task = Task(f"t{i}", home, f"T{i}", rank, parent=parent, duration=duration, calendar=calendar)
        if rich and rng.random() < 0.15:
            task = replace(task, kind=TaskKind.SPAN) if rng.random() < 0.5 else replace(task, elapsed=True)
        records.append(task)
        leaves.append(f"t{i}")
    kinds = types.split()
    seen = set()
    for i in range(1, size):
        for _ in range(rng.choice((0, 1, 1, 2, 3))):
            link = Link(
                leaves[rng.randrange(max(0, i - 12), i)],
                leaves[i],
                LinkType(rng.choice(kinds)),
                rng.randrange(-lags, lags + 1) if lags and rng.random() < 0.5 else 0,
            )
            if rich and link.lag:
                link = replace(link, lag_on=rng.choice(list(LagOn)))
            elif rich and rng.random() < 0.2:
                link = replace(link, lag_percent=float(rng.randrange(-80, 200)))
            if rich and rng.random() < 0.1:
                link = replace(link, gap=Gap.WARN)
            if link.key not in seen:
                seen.add(link.key)
                records.append(link)
    for r, rank in enumerate(ranks_between(None, None, resources)):
        own = rng.choice([None, *names]) if own_hours else None
        capacity = rng.choice((1.0, 1.0, 2.0, 3.0))
        records.append(Resource(f"r{r}", f"R{r}", rank, capacity=capacity, calendar=own, initials=f"R{r}"))
    if resources:
        for leaf in leaves:
            for r in rng.sample(range(resources), rng.randrange(0, min(3, resources + 1))):
                records.append(Assignment(leaf, f"r{r}", rng.choice((0.5, 1.0, 1.0))))
    return Plan.of(records)
