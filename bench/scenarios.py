"""Scenarios of a large plan: making one, an edit in one against the same in the plan, ten compared, their memory."""

from __future__ import annotations

import gc
import os
import random
import tempfile
from collections.abc import Iterator
from pathlib import Path
from statistics import median

from bench.plans import large_plan
from bench.timing import Row, aimed, percentile, row, timed_ms
from hexapod.outlook.figures import Figures, figures_of
from hexapod.outlook.side_by_side import rows_of, usual_rows
from hexapod.plan import edits
from hexapod.plan.changes import diff
from hexapod.plan.plan import Plan
from hexapod.scenarios import ScenarioSession, make_scenario
from hexapod.session import Session
from hexapod.store.workspace import Workspace
from hexapod.worktime.clock import today

SIZE, COUNT, EDITS = 10_000, 10, 40
EACH = 30  # edits that every scenario has of its own
MEGABYTE = 1024 * 1024


def rows() -> Iterator[Row]:
    with tempfile.TemporaryDirectory() as folder:
        home = _home(Path(folder) / "w.hexapod")
        try:
            yield from _measured(home)
        finally:
            home.close()


def _home(path: Path) -> Session:
    workspace = Workspace.create(path)
    workspace.write(diff(Plan(), large_plan(SIZE, resources=20)), "Begin", "me")
    workspace.close()
    session = Session.open(path)
    session.compute()
    return session


def _measured(home: Session) -> Iterator[Row]:
    made = [timed_ms(lambda i=i: make_scenario(home, f"Way {i}")) for i in range(COUNT)]
    yield aimed(f"scenario made of {SIZE:,} tasks", median(made), 10)
    rng = random.Random(5)
    gc.collect()
    before = _resident()
    sessions = []
    for scenario in home.plan.scenarios:
        opened = ScenarioSession(home, scenario)
        opened.compute()
        sessions.append(opened)
        for _ in range(EACH):
            opened.apply(_edit(opened.plan, rng))
        opened.rest()  # as the window lets one rest that is only looked at
    gc.collect()
    grown = (_resident() - before) / MEGABYTE
    yield f"memory of {COUNT} scenarios, {EACH} edits each", f"{grown:.1f} MB", "aim 30 MB", f"{grown / 30:.2f}"
    for session in sessions:
        session.compute()
    inside, outside = [], []
    for i in range(EDITS):  # in turn, so that both see the same machine
        inside.append(timed_ms(lambda i=i: sessions[i % COUNT].apply(_edit(sessions[i % COUNT].plan, rng))))
        outside.append(timed_ms(lambda: home.apply(_edit(home.plan, rng))))
    yield row("edit in a scenario, p95", percentile(inside, 0.95), percentile(outside, 0.95), "the same in the plan")
    day = today() // 1440
    figures: list[Figures] = []
    worked = timed_ms(lambda: figures.extend(figures_of(s.compute(), day) for s in (home, *sessions)))
    yield f"figures of {COUNT + 1} plans worked out", f"{worked:.0f} ms", "", ""
    compared = [timed_ms(lambda: _compared(home.plan, figures)) for _ in range(5)]
    yield aimed(f"{COUNT} scenarios compared, once computed", median(compared), 500)
    behind = timed_ms(lambda: sessions[0].merged())
    yield f"merge of one that is {EDITS} edits behind", f"{behind:.0f} ms", "", ""


def _compared(plan: Plan, figures: list[Figures]) -> None:
    usual_rows(rows_of(plan, figures))


def _edit(plan: Plan, rng: random.Random) -> edits.Edit:
    leaves = _LEAVES.setdefault(len(plan.tasks), [t for t in plan.tasks if not plan.is_summary(t)])
    return edits.set_durations(plan, [rng.choice(leaves)], 480 * rng.randrange(1, 9))


_LEAVES: dict[int, list[str]] = {}


def _resident() -> int:
    """Bytes of memory of this process."""
    pages = int(Path("/proc/self/statm").read_text(encoding="ascii").split()[1])
    return pages * os.sysconf("SC_PAGE_SIZE")
