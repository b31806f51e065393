"""Models without widgets: what a window remembers, and work beside the interface."""

from __future__ import annotations

import os
import tempfile
import threading
import unittest
from pathlib import Path
from unittest.mock import patch

from PyQt6.QtCore import QObject

from hexapod.desktop.models import background
from hexapod.desktop.models.memory import Memory
from hexapod.session import Session
from tests.at_rest import wait_for
from tests.desktop.case import APP


class Remembering(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        state = patch.dict(os.environ, {"XDG_STATE_HOME": str(self.folder / "state")})
        state.start()
        self.addCleanup(state.stop)
        self.session = Session.create(self.folder / "w.hexapod")
        self.addCleanup(self.session.close)

    def test_it_is_kept_for_this_user_and_never_in_the_file(self) -> None:
        Memory(self.session).keep("columns", ["name", "start"])
        self.assertEqual(Memory(self.session).recall("columns", list[str], []), ["name", "start"])
        self.assertEqual(self.session.workspace.remembered("columns", list[str], []), [])
        (kept,) = (self.folder / "state").rglob("*.json")
        self.assertEqual(kept.stat().st_mode & 0o077, 0, "nobody else reads it")

    def test_what_an_older_file_remembers_counts_until_something_is_kept(self) -> None:
        self.session.workspace.set_state("project", "p")
        self.assertEqual(Memory(self.session).recall("project", str, ""), "p")
        Memory(self.session).keep("project", "q")
        self.assertEqual(Memory(self.session).recall("project", str, ""), "q")

    def test_nonsense_and_a_place_that_cannot_be_written_are_passed_over(self) -> None:
        memory = Memory(self.session)
        memory.keep("row", 7)
        self.assertEqual(memory.recall("row", list[str], ["usual"]), ["usual"])
        (kept,) = (self.folder / "state").rglob("*.json")
        for nonsense in (b"", b"[[[", b"17", b"\xff" * 50, b'{"row": "x"}'):
            kept.write_bytes(nonsense)
            self.assertEqual(Memory(self.session).recall("row", int, 3), 3)
        with patch("hexapod.desktop.models.memory.write_whole", side_effect=OSError(28, "full")):
            memory.keep("row", 9)
        self.assertEqual(memory.recall("row", int, 0), 9, "this window goes on with it")


class Errands(unittest.TestCase):
    def test_many_errands_run_on_a_few_threads_and_each_says_what_became_of_it(self) -> None:
        owner, done, failed = QObject(), [], []
        threads: set[int] = set()

        def work(number: int) -> int:
            threads.add(threading.get_ident())
            if number % 10 == 3:
                raise ValueError(number)
            return number

        for number in range(60):
            background.in_background(owner, lambda n=number: work(n), done.append, failed.append)
        wait_for(lambda: len(done) + len(failed) == 60)
        APP.processEvents()
        self.assertEqual(sorted(done), [n for n in range(60) if n % 10 != 3])
        self.assertEqual(len(failed), 6)
        self.assertLessEqual(len(threads), background.AT_MOST)


if __name__ == "__main__":
    unittest.main()
