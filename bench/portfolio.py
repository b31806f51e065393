"""All projects at a glance: the museum's 243, and 500 of 100 tasks each."""

from __future__ import annotations

import random
import tempfile
from collections.abc import Iterator
from pathlib import Path
from statistics import median

from bench.timing import Row, aimed, percentile, row, timed_ms
from hexapod.control.summary import summary_of
from hexapod.demo.museum import build_demo
from hexapod.plan import edits
from hexapod.plan.plan import Plan
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import DAY, Assignment, Link, Project, Record, Resource, Task
from hexapod.schedule.engine import schedule
from hexapod.session import Session
from hexapod.staffing.demand import Demand

PROJECTS, EACH, PEOPLE, EDITS = 500, 100, 60, 20
MONDAY = 20703 * DAY + 480  # 2026-09-07


def rows() -> Iterator[Row]:
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "w.hexapod"
        build_demo(path, many=True)
        yield from _museum(path)
    dates = schedule(_plan())
    summary_of(dates, MONDAY)
    large = median(timed_ms(lambda: summary_of(dates, MONDAY)) for _ in range(3))
    yield aimed(f"{PROJECTS} projects x {EACH} tasks summed up", large, 2000)


def _museum(path: Path) -> Iterator[Row]:
    """From a closed file to all rows, and from an edit to them; the dates are read as they were kept."""

    def open_it() -> None:
        session = Session.open(path)
        summary_of(session.compute(), MONDAY)
        session.close()

    open_it()
    yield aimed("243 projects, 11,632 tasks, from the closed file", median(timed_ms(open_it) for _ in range(5)), 1000)
    session = Session.open(path)
    rng = random.Random(3)
    session.compute()
    leaves = [t.id for t in session.plan.tasks.values() if not session.plan.is_summary(t.id) and t.minutes]
    took, alone = [], []
    demand = Demand.of(session.compute(), session.plan)  # the window has it
    for task in rng.sample([t for t in leaves if session.plan.tasks[t].actual_start is None], EDITS):
        edit = edits.set_durations(session.plan, [task], 480 * rng.randrange(1, 9))
        alone.append(timed_ms(lambda edit=edit: (session.apply(edit), session.compute())))  # type: ignore[misc]
        took.append(alone[-1] + timed_ms(lambda: summary_of(session.compute(), MONDAY, demand)))
    yield aimed("an edit to all rows (p95)", percentile(took, 0.95), 100)
    yield row("the same (median), beside the edit alone", median(took), median(alone), "the edit")
    session.close()


def _plan() -> Plan:
    rng = random.Random(1)
    records: list[Record] = [
        Resource(f"r{i}", f"R{i}", rank, rate=3000) for i, rank in enumerate(ranks_between(None, None, PEOPLE))
    ]
    ranks = ranks_between(None, None, EACH)
    for i, rank in enumerate(ranks_between(None, None, PROJECTS)):
        start = MONDAY + i // 10 * 7 * DAY
        records.append(Project(f"p{i}", f"Project {i}", start, rank, target_finish=start + 200 * DAY))
        for j, inner in enumerate(ranks):
            records.append(Task(f"t{i}_{j}", f"p{i}", f"T{j}", inner, duration=480 * rng.randrange(1, 5)))
            if j:
                records.append(Link(f"t{i}_{rng.randrange(max(0, j - 5), j)}", f"t{i}_{j}"))
            if rng.random() < 0.6:
                records.append(Assignment(f"t{i}_{j}", f"r{rng.randrange(PEOPLE)}"))
    return Plan.of(records)
