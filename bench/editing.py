"""From an edit to its dates through the one door, the write to the file included."""

from __future__ import annotations

import random
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

import numpy as np

from bench.plans import large_plan
from bench.timing import Row, aimed, percentile
from hexapod.errors import HexapodError
from hexapod.plan import edits
from hexapod.plan.changes import diff
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Plan
from hexapod.session import Session
from hexapod.store.workspace import Workspace

AIMS = {1_000: 5, 10_000: 5, 100_000: 25}  # where fewer than a thousand dates change
ON_THE_LONGEST = {1_000: 8, 10_000: 8, 100_000: 60}  # where every late date does


def rows() -> Iterator[Row]:
    for size in AIMS:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "bench.hexapod"
            workspace = Workspace.create(path)
            plan = large_plan(size)
            workspace.write(diff(Plan(), plan), "Begin", "bench")
            workspace.close()
            session = Session.open(path)
            session.compute()
            rng = random.Random(7)
            for kind in ("longest path", "duration", "link", "new row", "move", "branch", "undo"):
                times = []
                while len(times) < 60:
                    edit = _on_longest(rng, session) if kind == "longest path" else _edit(kind, rng, session.plan, size)
                    began = time.perf_counter()
                    try:
                        done = session.undo() if edit is None else session.apply(edit)
                    except HexapodError:
                        continue
                    if done:
                        times.append((time.perf_counter() - began) * 1000)
                p50, p95 = percentile(times, 0.5), percentile(times, 0.95)
                aim = ON_THE_LONGEST[size] if kind == "longest path" else AIMS[size]
                yield aimed(f"{kind} to dates, {size:,} tasks, p50", p50, aim)
                yield aimed(f"{kind} to dates, {size:,} tasks, p95", p95, aim)
            session.close()


def _on_longest(rng: random.Random, session: Session) -> Edit:
    """Another duration of a leaf on the longest path."""
    now = session.compute()
    leaves = np.flatnonzero(now.longest_path & (now.network.structure.leaf[: len(now.longest_path)] == 1))
    task = now.network.slots.tasks[rng.choice(leaves.tolist())]
    return edits.set_durations(session.plan, [task], rng.randrange(20, 40) * 60)


def _edit(kind: str, rng: random.Random, plan: Plan, size: int) -> Edit | None:
    i = rng.randrange(400, size - 20)
    task = f"t{i if i % 12 else i + 1}"
    if kind == "duration":
        return edits.set_durations(plan, [task], rng.randrange(1, 40) * 60)
    if kind == "link":
        before = rng.randrange(1, i)
        return edits.link(plan, f"t{before if before % 12 else before + 1}", task)
    if kind == "new row":
        return edits.add_task("p", "Another row", task)
    if kind == "move":
        return edits.move_up(plan, [task])
    if kind == "branch":
        return edits.move_down(plan, [f"t{i // 12 * 12}"])
    return None
