"""Run some test modules and say how many ran and failed, for ``tests.run``."""

from __future__ import annotations

import atexit
import os
import sys
import unittest


def main() -> None:
    suite = unittest.defaultTestLoader.loadTestsFromNames(sys.argv[1:])
    result = unittest.TextTestRunner(verbosity=2).run(suite)
    bad = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    print(f"counted {result.testsRun} {bad}", flush=True)
    sys.stderr.flush()
    atexit._run_exitfuncs()  # what tests started, such as a screen, ends here
    os._exit(1 if bad else 0)  # without Qt's own end, which may crash after the last window is gone


if __name__ == "__main__":
    main()
