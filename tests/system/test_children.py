"""No code runs because it lies in the current directory."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from hexapod.formats.plan_json import write_plan
from hexapod.system.children import PACKAGE_ROOT, python_command
from tests.staffing.published import job_shop

TRAPS = ("json", "numpy", "struct", "io", "subprocess", "ortools", "sitecustomize", "usercustomize", "hexapod", "runpy")
LEVELLING = """
import sys
from hexapod.formats.plan_json import read_plan
from hexapod.schedule.engine import schedule
from hexapod.staffing.levelling.exact import Solver
from hexapod.staffing.levelling.proposal import level
from tests.staffing.test_search import ground_and_grid
import math, numpy
plan = read_plan(sys.stdin.buffer.read())
import os
os.chdir(sys.argv[1])
print(level(schedule(plan), within_float=False, steps=30, beside=True).finish_after)
_, _, found = ground_and_grid(plan)
solver = Solver(found.grid, numpy.zeros(len(found.grid.kind), dtype=numpy.int64), math.inf)
while not solver.answer.is_over:
    solver.wait(0.05)
print(solver.answer.bound)
solver.stop()
"""


class Children(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        for name in TRAPS:
            (self.folder / f"{name}.py").write_text(f"open({str(self.folder / 'ran')!r}, 'a').write('{name} ')\n")

    def test_neither_the_search_nor_the_solver_runs_what_lies_there(self) -> None:
        environment = {**os.environ, "PYTHONPATH": str(PACKAGE_ROOT), "PYTHONSTARTUP": str(self.folder / "io.py")}
        done = subprocess.run(
            [sys.executable, "-c", LEVELLING, str(self.folder)], input=write_plan(job_shop("ft06").plan()),
            env=environment, cwd=PACKAGE_ROOT, capture_output=True, check=True,
        )  # fmt: skip
        self.assertEqual(len(done.stdout.split()), 2, done.stderr)
        self.assertEqual(done.stdout.split()[1], b"55", "the solver was there and has found the optimum")
        self.assertFalse((self.folder / "ran").exists())

    def test_the_trap_would_work(self) -> None:
        subprocess.run([sys.executable, "-m", "json"], cwd=self.folder, capture_output=True, check=False)
        self.assertIn("json", (self.folder / "ran").read_text())

    def test_the_path_has_no_place_that_is_relative_or_current(self) -> None:
        before = os.getcwd()
        os.chdir(self.folder)
        sys.path.insert(0, "")
        sys.path.insert(0, str(self.folder))
        try:
            command = python_command("hexapod.cli", "x")
        finally:
            del sys.path[:2]
            os.chdir(before)
        self.assertTrue(os.path.isabs(command[0]))
        places = command[6 : 6 + int(command[5])]
        self.assertTrue(places and all(os.path.isabs(p) for p in places))
        self.assertNotIn(str(self.folder), places)
        self.assertEqual(command[-2:], ["hexapod.cli", "x"])


if __name__ == "__main__":
    unittest.main()
