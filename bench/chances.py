"""Rounds of a plan against a plain simulation in NumPy of the same graph, without calendars: its lengths are drawn by
``Generator.beta``, and its forward and backward passes are whole arrays, a task at a time."""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import numpy as np
from msgspec.structs import replace

from bench.moving import screen
from bench.plans import large_plan
from bench.timing import Row, aimed, percentile, row
from hexapod.outlook.chances import Outlook
from hexapod.outlook.draws import table
from hexapod.outlook.levelled import simulate_levelled
from hexapod.outlook.simulation import simulate
from hexapod.plan.changes import diff
from hexapod.plan.plan import Plan
from hexapod.schedule.engine import schedule
from hexapod.schedule.schedule import Schedule
from hexapod.store.workspace import Workspace

QUANTILES = (0.1, 0.5, 0.8, 0.9)
TIMES = 3


def rows() -> Iterator[Row]:
    table()  # once for a process
    for size, rounds, aim in ((1000, 10_000, 1000), (10_000, 1000, 1500)):
        dates = schedule(with_estimates(large_plan(size)))
        plain = PlainSimulation(dates)
        simulate(dates, 64)
        words = f"simulation: {size:,} tasks x {rounds:,} rounds"
        ours, theirs = _side_by_side(
            lambda dates=dates, rounds=rounds: [*Outlook(simulate(dates, rounds)).quantiles(QUANTILES)],
            lambda plain=plain, rounds=rounds: plain.run(rounds),
        )
        yield row(f"{words}, with floats", ours, theirs, "NumPy, no calendars")
        yield aimed(words, ours, aim)
    levelled = schedule(with_estimates(large_plan(500, resources=6)))
    simulate_levelled(levelled, 32)
    (taken,) = _side_by_side(lambda: simulate_levelled(levelled, 1000))
    yield aimed("simulation with capacities: 500 tasks x 1,000 rounds", taken, 10_000)
    yield from _keys_while_rounds_go()


def _keys_while_rounds_go() -> Iterator[Row]:
    """By how much rounds of 10,000 tasks that go by themselves delay a key in the window."""
    with tempfile.TemporaryDirectory() as folder, screen() as environment:
        path = Path(folder) / "bench.hexapod"
        workspace = Workspace.create(path)
        workspace.write(diff(Plan(), with_estimates(large_plan(10_000))), "Begin", "bench")
        workspace.close()
        command = [sys.executable, "-m", "bench.while_rounds", str(path)]
        done = subprocess.run(command, env=environment, capture_output=True, text=True, check=True)
    found: dict[str, list[float]] = json.loads(done.stdout.splitlines()[-1])
    rest, busy = (percentile(found[name], 0.95) for name in ("at_rest", "busy"))
    yield row("key while rounds of 10,000 tasks go, p95", busy, rest, "at rest")
    yield aimed("key delayed by rounds that go, p95", max(0.0, busy - rest), 16)


def with_estimates(plan: Plan) -> Plan:
    """From three tenths less to eight tenths more, for every leaf."""
    draft = plan.draft()
    for task in plan.tasks.values():
        if not plan.is_summary(task.id):
            draft.put(replace(task, estimate=(task.minutes * 7 // 10, task.minutes, task.minutes * 18 // 10)))
    return draft.finish()[0]


class PlainSimulation:
    """What somebody would write in an hour: no calendars, links from finish to start without lags."""

    def __init__(self, dates: Schedule) -> None:
        network = dates.network
        leaves = np.flatnonzero(network.structure.leaf)
        ids = [network.slots.tasks[slot] for slot in leaves.tolist()]
        plan = dates.plan
        place = {t: i for i, t in enumerate(sorted(ids, key=lambda t: int(dates.early_start[dates.slots[t]])))}
        self.points = [plan.tasks[t].estimate for t in place]
        self.before = [[place[k.predecessor] for k in plan.links_into(t)] for t in place]

    def run(self, rounds: int) -> list[np.ndarray]:
        rng = np.random.default_rng(1)
        finish = np.empty((len(self.points), rounds))
        length = np.empty((len(self.points), rounds))
        for i, (best, likely, worst) in enumerate(self.points):
            lean = 4 * (likely - best) / (worst - best)
            length[i] = best + (worst - best) * rng.beta(1 + lean, 5 - lean, rounds)
            start = np.zeros(rounds)
            for j in self.before[i]:
                np.maximum(start, finish[j], out=start)
            np.add(start, length[i], out=finish[i])
        late = np.broadcast_to(finish.max(axis=0), finish.shape).copy()
        for i in range(len(self.points) - 1, -1, -1):
            ask = late[i] - length[i]
            for j in self.before[i]:
                np.minimum(late[j], ask, out=late[j])
        critical = (late - finish < 1e-9).mean(axis=1)
        return [np.quantile(finish, QUANTILES, axis=1), critical]


def _side_by_side(*works: Callable[[], object]) -> list[float]:
    """The least of some calls of each, in turn."""
    times = []
    for _ in range(TIMES):
        found = []
        for work in works:
            begin = time.perf_counter()
            work()
            found.append((time.perf_counter() - begin) * 1000)
        times.append(found)
    return [min(column) for column in zip(*times, strict=True)]
