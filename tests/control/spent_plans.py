"""Random plans with hours, sheets, money and budgets in them."""

from __future__ import annotations

import random

from msgspec.structs import replace

from hexapod.plan.accounts import Budget, EntryKind, Log, MoneyEntry, Sheet, SheetState, monday_of
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY as CLOCK_DAY
from tests.support import MONDAY, random_plan, told

FIRST = MONDAY // CLOCK_DAY


def with_records(plan: Plan, *records: object) -> Plan:
    draft = plan.draft()
    for record in records:
        draft.put(record)  # type: ignore[arg-type]
    return draft.finish()[0]


def leaves_of(plan: Plan) -> list[str]:
    return sorted(t for t in plan.tasks if not plan.is_summary(t))


def random_log(rng: random.Random, plan: Plan, log_id: str) -> Log:
    minutes = rng.choice((30, 60, 90, 95, 480, -15))
    return Log(
        log_id, rng.choice(leaves_of(plan)), rng.choice(sorted(plan.resources)), FIRST + rng.randrange(40), minutes
    )


def spent_plan(rng: random.Random, logs: int = 60) -> Plan:
    """Two projects with summaries, people whose rates change, some of it told, and all kinds of records of accounts."""
    plan = random_plan(rng, 14, calendars=1, summaries=True, resources=4, milestones=0.1, projects=2)
    people = [
        replace(r, rate=rng.randrange(9000), rate_from=((FIRST + rng.randrange(30), rng.randrange(9000)),))
        for r in plan.resources.values()
    ]
    some = [replace(plan.tasks[t], percent=float(rng.choice((0, 0, 40, 100)))) for t in leaves_of(plan)]
    plan = told(with_records(plan, *people, *some))
    records: list[object] = [random_log(rng, plan, f"l{i}") for i in range(logs)]
    for i, resource in enumerate(sorted(plan.resources)):
        week = monday_of(FIRST + 7 * rng.randrange(4))
        records.append(Sheet(f"s{i}", resource, week, rng.choice(list(SheetState)), "Nell"))
    rows = sorted(plan.tasks)
    for i in range(14):
        task = rng.choice([None, *rows])
        project = rng.choice(sorted(plan.projects)) if task is None else plan.tasks[task].project
        first = FIRST + rng.randrange(-10, 80)
        last = first + rng.choice((0, 0, 9, 45))
        amount = rng.randrange(1, 10**6)
        records.append(
            MoneyEntry(
                f"e{i}", project, f"E{i}", rng.choice(list(EntryKind)), amount, first, last, task, rng.random() < 0.4
            )
        )
        days = (first, last) if rng.random() < 0.7 else (None, None)
        records.append(Budget(f"b{i}", project, task, *days, amount=rng.randrange(10**6)))
    return with_records(plan, *records)
