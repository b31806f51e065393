"""The Staff leg of a real window: from an edit to the load grid's next picture, from a cell to what is behind it, and
from pressing to the first levelling answer; 10,000 and 100,000 tasks of 20 projects with 200 resources."""

from __future__ import annotations

import json
import os
import random
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

from bench.timing import Row, aimed, percentile
from hexapod.plan import edits
from hexapod.plan.changes import diff
from hexapod.plan.plan import Plan
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import Assignment, Link, Project, Record, Reservation, Resource, ResourceKind, Task
from hexapod.session import Session
from hexapod.store.workspace import Workspace

RESOURCES, PROJECTS, ROLES = 200, 20, 12
BETWEEN = 0.3  # seconds from one edit to the next, as a hand makes them
START = 29_700_000 // 1440 * 1440 + 480
AIMS = {10_000: (80.0, 100.0, 1000.0), 100_000: (80.0, 200.0, 2000.0)}


def rows() -> Iterator[Row]:
    environment = {**os.environ, "QT_QPA_PLATFORM": os.environ.get("QT_QPA_PLATFORM", "offscreen")}
    for size, (edit, behind, first) in AIMS.items():
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "bench.hexapod"
            workspace = Workspace.create(path)
            workspace.write(diff(Plan(), staffed_plan(size)), "Begin", "bench")
            workspace.close()
            command = [sys.executable, "-m", "bench.staff", str(path)]
            done = subprocess.run(command, capture_output=True, text=True, env=environment, check=True)
        found = json.loads(done.stdout.splitlines()[-1])
        yield aimed(f"edit to load grid, {size:,} tasks, p50", percentile(found["edit"], 0.5), edit)
        yield aimed(f"edit to load grid, {size:,} tasks, p95", percentile(found["edit"], 0.95), edit)
        yield aimed(f"cell to what is behind it, {size:,} tasks", percentile(found["behind"], 0.5), behind)
        yield aimed(f"first levelling answer, {size:,} tasks", min(found["level"]), first)


def staffed_plan(size: int) -> Plan:
    """Chains of tasks in each project, everybody in two places at once now and then."""
    rng = random.Random(5)
    ranks = ranks_between(None, None, size)
    roles = [Resource(f"role{i}", f"Role {i}", f"a{i:02}", ResourceKind.ROLE) for i in range(ROLES)]
    people = [Resource(f"r{i}", f"Person {i}", f"b{i:04}", role=f"role{i % ROLES}") for i in range(RESOURCES)]
    records: list[Record] = [
        *(Project(f"p{i}", f"Project {i}", START, rank) for i, rank in enumerate(ranks_between(None, None, PROJECTS))),
        *(
            Task(f"t{i}", f"p{i % PROJECTS}", f"Task {i}", ranks[i], duration=480 * rng.randrange(1, 9))
            for i in range(size)
        ),
        *(Link(f"t{i - PROJECTS * rng.randrange(1, 9)}", f"t{i}") for i in range(9 * PROJECTS, size)),
        *roles,
        *people,
        *(Assignment(f"t{i}", f"r{rng.randrange(RESOURCES)}", rng.choice((0.5, 1.0))) for i in range(size)),
        *(Reservation(f"v{i}", f"p{i % PROJECTS}", f"r{i}", 0.5) for i in range(RESOURCES // 2)),
    ]
    return Plan.of(records)


def drive(path: Path) -> dict[str, list[float]]:
    from PyQt6.QtCore import QSettings
    from PyQt6.QtGui import QPaintEvent

    from hexapod.desktop.app import SWITCH_AFTER, make_application
    from hexapod.desktop.staff.load_grid import LoadGrid
    from hexapod.desktop.window import Window

    settings = tempfile.mkdtemp(prefix="hexapod-bench-")
    QSettings.setPath(QSettings.Format.NativeFormat, QSettings.Scope.UserScope, settings)
    app = make_application("light")
    window = Window(Session.open(path), lambda *_: None)
    window.show()
    sys.setswitchinterval(SWITCH_AFTER)
    window.start()
    desk = window.desk
    window.show_leg("staff")
    grid = window.staff.grid

    def until(what) -> float:  # type: ignore[no-untyped-def]
        began = time.perf_counter()
        while not what():
            app.processEvents()
            time.sleep(0.002)  # a loop that waits leaves the other thread alone
        return (time.perf_counter() - began) * 1000

    painted: list[object] = [None]  # the table of the last picture
    paint = LoadGrid.paintEvent

    def painting(grid: LoadGrid, event: QPaintEvent) -> None:
        paint(grid, event)
        painted[0] = grid.table

    LoadGrid.paintEvent = painting  # type: ignore[method-assign]
    until(lambda: desk.load is not None and desk.load.schedule is desk.schedule and painted[0] is not None)
    found: dict[str, list[float]] = {"edit": [], "behind": [], "level": []}
    rng, count = random.Random(3), len(desk.plan.tasks)
    for i in range(40):
        before = grid.table
        task = f"t{rng.randrange(count)}"
        began = time.perf_counter()
        desk.do(edits.set_durations(desk.plan, [task], 480 * rng.randrange(1, 9) + 60 + i))
        until(lambda t=before: painted[0] is not t and desk.load.schedule is desk.schedule)
        found["edit"].append((time.perf_counter() - began) * 1000)
        rest = time.perf_counter() + BETWEEN
        until(lambda r=rest: time.perf_counter() > r)
    for _ in range(12):
        began = time.perf_counter()
        grid.look_at(rng.randrange(len(grid.table.rows)), rng.randrange(len(grid.table.edges) - 1))
        app.processEvents()
        found["behind"].append((time.perf_counter() - began) * 1000)
    for _ in range(2):
        desk.show_proposal(None)
        began = time.perf_counter()
        desk.propose(within_float=False)
        until(lambda: desk.proposal is not None)
        found["level"].append((time.perf_counter() - began) * 1000)
    desk.close()
    return found


if __name__ == "__main__":
    print(json.dumps(drive(Path(sys.argv[1]))), flush=True)
    os._exit(0)
