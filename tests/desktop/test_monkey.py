"""A monkey in the whole window, for a budget of steps: nothing fails, the plan stays sound, all of it can be undone."""

from __future__ import annotations

import os
import random
import sys
import tempfile
import traceback
import unittest
from pathlib import Path
from unittest.mock import patch

from tests.budgets import deep_or
from tests.desktop.case import as_it_was
from tests.desktop.monkey import Monkey
from tests.desktop.monkey_world import bad_files, watched

SEEDS, STEPS = deep_or(3, 400), deep_or(140, 400)
FIRST = int(os.environ.get("HEXAPOD_SEED", "1"))


class Monkeys(unittest.TestCase):
    def test_nothing_that_is_done_anywhere_fails_and_all_of_it_can_be_undone(self) -> None:
        for seed in range(FIRST, FIRST + SEEDS):
            with tempfile.TemporaryDirectory() as place, self.subTest(seed=seed):
                self.run_one(Path(place), seed)

    def run_one(self, place: Path, seed: int) -> None:
        bad_files(place / "files")
        homes = {name: str(place / name) for name in ("XDG_DATA_HOME", "XDG_CACHE_HOME", "XDG_DOCUMENTS_DIR")}
        failures: list[str] = []
        with patch.dict(os.environ, homes), watched(place / "files", random.Random(seed), failures):
            monkey = Monkey(place / "monkey.hexapod", place / "files", seed)
            try:
                for _ in range(STEPS):
                    monkey.step()
                    if failures:
                        break
                if not failures:
                    monkey.check()
            except Exception:
                failures.append("".join(traceback.format_exc().splitlines(True)[-12:]))
            finally:
                monkey.close()
                as_it_was()
        if failures:
            self.fail("\n".join([f"seed {seed}", *monkey.done[-8:], *failures[:2]]))


if __name__ == "__main__":
    print(f"from seed {FIRST}: {SEEDS} windows of {STEPS} steps", file=sys.stderr)
    unittest.main()
