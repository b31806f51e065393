"""The search in a process of its own: the same answer, and nothing is left of it however it ends."""

from __future__ import annotations

import os
import random
import signal
import subprocess
import sys
import time
import unittest
from collections.abc import Callable
from pathlib import Path

from hexapod.schedule.engine import schedule
from hexapod.staffing.levelling.proposal import Proposal, level
from tests.support import random_plan

WORKER = "hexapod.staffing.levelling.worker"


def workers(parent: int | None = None) -> list[int]:
    """Processes that search, of one parent or of all."""
    found = []
    for entry in Path("/proc").iterdir():
        if not entry.name.isdigit():
            continue
        try:
            words = (entry / "cmdline").read_bytes().split(b"\0")
            above = int((entry / "stat").read_text().rpartition(")")[2].split()[1])
        except OSError:
            continue
        if WORKER.encode() in words and parent in (None, above):
            found.append(int(entry.name))
    return found


PATIENCE = 300  # seconds: whoever waits longer hangs; kernels may have to be compiled first
MANY = 10**9  # steps: it ends because it is stopped or killed


def wait_for(what: Callable[[], object]) -> bool:
    until = time.monotonic() + PATIENCE
    while not what() and time.monotonic() < until:
        time.sleep(0.02)
    return bool(what())


class Worker(unittest.TestCase):
    def setUp(self) -> None:
        self.plan = random_plan(random.Random(91), 60, resources=3, lags=0, milestones=0.0)
        self.now = schedule(self.plan)

    def test_it_finds_what_is_found_without_it(self) -> None:
        for within, seed in ((False, 2), (True, 3)):
            here, beside = (level(self.now, within_float=within, steps=150, seed=seed, beside=b) for b in (False, True))
            same = [(p.holds, p.moves, p.steps, p.bound, p.finish_after) for p in (here, beside)]
            self.assertEqual(*same)
        self.assertEqual(workers(os.getpid()), [])

    def test_stopped_it_leaves_the_best_and_no_process(self) -> None:
        seen: list[Proposal] = []
        found = level(self.now, within_float=False, steps=MANY, beside=True, better=seen.append,
                      is_stopped=lambda: len(seen) > 1)  # fmt: skip
        self.assertEqual((found.holds, found.finish_after), (seen[-1].holds, seen[-1].finish_after))
        self.assertEqual(workers(os.getpid()), [])

    def test_killed_it_leaves_what_it_found_until_then(self) -> None:
        seen: list[Proposal] = []

        def kill(better: Proposal) -> None:
            seen.append(better)
            for process in workers(os.getpid()):
                os.kill(process, signal.SIGKILL)

        found = level(self.now, within_float=False, steps=MANY, beside=True, better=kill)
        self.assertEqual(found.holds, seen[-1].holds)
        self.assertEqual(self.now.network.plan if self.now.network else None, self.plan, "and the plan as it was")

    def test_it_does_not_outlive_who_started_it(self) -> None:
        script = (
            "import random; from hexapod.schedule.engine import schedule\n"
            "from hexapod.staffing.levelling.proposal import level; from tests.support import random_plan\n"
            "plan = random_plan(random.Random(91), 60, resources=3, lags=0, milestones=0.0)\n"
            "level(schedule(plan), within_float=False, steps=10**9, beside=True)\n"
        )
        started = subprocess.Popen([sys.executable, "-c", script])
        self.addCleanup(started.wait)
        self.addCleanup(started.kill)
        self.assertTrue(wait_for(lambda: workers(started.pid)))
        mine = set(workers(started.pid))
        started.kill()
        started.wait()
        self.assertTrue(wait_for(lambda: not mine & set(workers())))
