"""Large made-up plans for the benchmarks."""

from __future__ import annotations

import random
from datetime import datetime

from hexapod.plan.plan import Plan
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import Assignment, Calendar, Link, LinkType, Project, Record, Resource, Task
from hexapod.worktime.clock import minutes_of

START = minutes_of(datetime(2026, 9, 7, 8))
SHIFTS = (((480, 720), (780, 1020)), ((420, 900),), ((360, 840), (900, 1140)), ((540, 1080),), ((0, 1440),))


def large_plan(
    size: int, *, links: int = 2, calendars: int = 5, resources: int = 40, types: tuple[LinkType, ...] = (LinkType.FS,)
) -> Plan:
    """``size`` tasks in branches of about twelve, each waiting for up to ``links`` of those before it."""
    rng = random.Random(size)
    records: list[Record] = [
        Calendar(f"c{i}", f"Shift {i}", week=(SHIFTS[i % len(SHIFTS)],) * 5 + ((), ())) for i in range(calendars)
    ]
    records.append(Project("p", "Bench", START, "a0"))
    records += [
        Resource(f"r{i}", f"Resource {i}", rank, capacity=float(1 + i % 4), initials=f"R{i}")
        for i, rank in enumerate(ranks_between(None, None, resources))
    ]
    parent = None
    for i, rank in enumerate(ranks_between(None, None, size)):
        if i % 12 == 0:
            parent = f"t{i}"
            records.append(Task(parent, "p", f"Part {i}", rank))
            continue
        calendar = f"c{rng.randrange(calendars)}"
        task = Task(
            f"t{i}", "p", f"Task {i}", rank, parent=parent, duration=rng.randrange(1, 12) * 120, calendar=calendar
        )
        records.append(task)
        if rng.random() < 0.4:
            records.append(Assignment(task.id, f"r{rng.randrange(resources)}", rng.choice((0.5, 1.0))))
        before = {j for _ in range(links) if (j := rng.randrange(max(0, i - 400), i)) % 12}
        records += [Link(f"t{j}", task.id, rng.choice(types)) for j in before]
    return Plan.of(records)
