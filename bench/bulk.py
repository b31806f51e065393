"""Much at once: a paste, an import, and a year of exceptions in a calendar that every task uses."""

from __future__ import annotations

import random
import tempfile
from collections.abc import Iterator
from pathlib import Path

from msgspec.structs import replace

from bench.plans import large_plan
from bench.timing import Row, aimed, percentile, row, timed_ms
from hexapod.formats.import_columns import guess
from hexapod.formats.importing import propose
from hexapod.formats.tables import Sheet, parse_csv, write_csv
from hexapod.plan import edits
from hexapod.plan.changes import diff
from hexapod.plan.plan import Plan
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import CalendarException, Link, Project, Task
from hexapod.session import Session
from hexapod.store.workspace import Workspace

SIZE = 100_000


def rows() -> Iterator[Row]:
    yield from _archived()
    yield from _imported()  # before a large plan fills the memory that a collection goes through
    plan = large_plan(SIZE, calendars=1)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "bench.hexapod"
        workspace = Workspace.create(path)
        workspace.write(diff(Plan(), plan), "Begin", "bench")
        workspace.close()
        session = Session.open(path)
        session.compute()
        text = "\n".join(f"{'  ' * (i % 12 > 0)}Pasted {i}" for i in range(1000))
        yield aimed(f"paste 1,000 rows into {SIZE:,}", timed_ms(lambda: session.apply(edits.add_text("p", text))), 1000)
        day = 20_700
        year = tuple(CalendarException(day + i * 7, day + i * 7) for i in range(52))
        calendar = replace(session.plan.calendars["c0"], exceptions=year)
        edit = edits.save_calendar(session.plan, calendar)
        yield aimed(f"a year's exceptions, {SIZE:,} tasks", timed_ms(lambda: session.apply(edit)), 1000)
        session.close()


def _archived() -> Iterator[Row]:
    """One of 200 projects with 250 tasks each."""
    ranks, few = ranks_between(None, None, 200), ranks_between(None, None, 250)
    projects = [Project(f"p{i}", f"Project {i}", 29_700_480, rank) for i, rank in enumerate(ranks)]
    tasks = [Task(f"{p.id}t{i}", p.id, f"Task {i}", rank) for p in projects for i, rank in enumerate(few)]
    links = [Link(f"{p.id}t{i - 1}", f"{p.id}t{i}") for p in projects for i in range(1, 250)]
    with tempfile.TemporaryDirectory() as folder:
        session = Session.create(Path(folder) / "bench.hexapod")
        session.apply(edits.to_plan("Begin", session.plan, Plan.of([*projects, *tasks, *links])))

        def archive(project: Project) -> None:
            session.apply(edits.save_project(session.plan, replace(project, archived=True)))

        took = percentile([timed_ms(lambda p=p: archive(p)) for p in projects[:20]], 0.95)  # type: ignore[misc]
        yield aimed("archive one of 200 projects, 50,000 tasks, p95", took, 50)
        session.close()


def _imported() -> Iterator[Row]:
    """Beside reading the same file into a bare list."""
    rng = random.Random(5)
    lines = [["#", "Task", "Duration", "Waits for", "Who"]]
    for i in range(20_000):
        number = f"{i // 12 + 1}" if i % 12 == 0 else f"{i // 12 + 1}.{i % 12}"
        after = f"{i // 12 + 1}.{i % 12 - 1}" if i % 12 > 1 else ""
        lines.append([number, f"Task {i}", f"{rng.randrange(1, 9)} d", after, f"R{rng.randrange(40)}"])
    data = write_csv(lines)
    plan = large_plan(1_000)
    sheet = Sheet("x", parse_csv("x.csv", data))

    def ours() -> None:
        found = propose(plan, "p", sheet, guess(sheet, plan))
        assert found.edit is not None
        found.edit.applied_to(plan)

    reading = timed_ms(lambda: parse_csv("x.csv", data))
    yield row("import of 20,000 rows, with its preview", timed_ms(ours), reading, "reading the file")
