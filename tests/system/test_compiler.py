"""Kernels run without the linear algebra of SciPy, which whoever wants it can load all the same."""

from __future__ import annotations

import subprocess
import sys
import unittest

SCRIPT = """
import sys
import numpy as np
from hexapod.schedule.engine import schedule
from tests.support import project, tasks
from hexapod.plan.plan import Plan
found = schedule(Plan.of([project(), *tasks(("a", 480))]))
assert found.dates("a").finish > found.dates("a").start
assert "scipy.linalg" not in sys.modules, "a start waits for it"
import scipy.linalg
print(round(float(scipy.linalg.det(np.array([[2.0, 0.0], [0.0, 3.0]])))))
"""


class Compiler(unittest.TestCase):
    def test_a_schedule_is_computed_without_what_it_does_not_need(self) -> None:
        done = subprocess.run([sys.executable, "-c", SCRIPT], capture_output=True, text=True, timeout=300)
        self.assertEqual((0, "6"), (done.returncode, done.stdout.strip()), done.stderr[-2000:])


if __name__ == "__main__":
    unittest.main()
