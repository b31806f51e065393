"""Run some test modules and say how many ran and failed, for ``tests.run``."""

from __future__ import annotations

import atexit
import os
import random
import sys
import unittest
from types import SimpleNamespace

from hexapod.plan.edits import edit


class SameEachTime(unittest.TextTestResult):
    """Gives the records that a test makes the same ids in each run, so that what fails once fails again.

    With --deep they are new each time, which searches further.
    """

    def startTest(self, test: unittest.TestCase) -> None:
        if "HEXAPOD_DEEP" not in os.environ:
            drawn = random.Random(test.id())
            edit.secrets = SimpleNamespace(token_hex=lambda size: drawn.randbytes(size).hex())  # type: ignore[assignment]
        super().startTest(test)


def main() -> None:
    suite = unittest.defaultTestLoader.loadTestsFromNames(sys.argv[1:])
    result = unittest.TextTestRunner(verbosity=2, resultclass=SameEachTime).run(suite)
    bad = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    print(f"counted {result.testsRun} {bad}", flush=True)
    sys.stderr.flush()
    atexit._run_exitfuncs()  # what tests started, such as a screen, ends here
    os._exit(1 if bad else 0)  # without Qt's own end, which may crash after the last window is gone


if __name__ == "__main__":
    main()
