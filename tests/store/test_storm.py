"""A hundred thousand random edits of every kind: undone, redone and reopened from the file to the identical plan."""

from __future__ import annotations

import random
import tempfile
import unittest
from pathlib import Path

from hexapod.plan.changes import diff
from hexapod.plan.plan import Plan
from hexapod.plan.validity import check_whole
from hexapod.store.history import REDO, UNDO
from hexapod.store.workspace import Workspace
from tests.storm import random_step
from tests.support import random_plan

EDITS = 100_000
PLACES = 5  # at which it goes back, on again, and through the file
BACK = 400  # edits


class Storm(unittest.TestCase):
    def test_a_hundred_thousand_edits_there_and_back(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        path = Path(folder.name) / "storm.hexapod"
        rng = random.Random(99)
        plan = random_plan(rng, 30, calendars=1, summaries=True, resources=3, projects=2)
        workspace = self.opened(path, create=True)
        workspace.write(diff(Plan(), plan), "Begin", "me")
        recent: list[Plan] = [plan]
        numbers: list[int] = []
        done = 0
        while done < EDITS:
            step = random_step(rng, plan)
            if step is None:
                continue
            edit, after, changes = step
            done += 1
            if changes:
                numbers.append(workspace.write(changes, edit.words, "me").number)
                plan = after
                recent.append(plan)
                del recent[: -BACK - 1], numbers[:-BACK]
            if done % 200 == 0:
                check_whole(plan)  # what an edit did not touch is still right beside what it did
            if done % (EDITS // PLACES) == 0:
                workspace = self.there_and_back(workspace, path, recent, numbers)
        workspace.close()

    def there_and_back(self, workspace: Workspace, path: Path, recent: list[Plan], numbers: list[int]) -> Workspace:
        plan = recent[-1]
        for number, before in zip(reversed(numbers), reversed(recent[:-1]), strict=True):
            changes = workspace.read_changes(number).inverse()
            plan = changes.applied_to(plan)
            self.assertEqual(plan, before)
            workspace.write(changes, "Undo", "me", UNDO, number)
        workspace.close()
        workspace = self.opened(path)
        self.assertEqual(workspace.read_plan(), recent[0])
        for number, after in zip(numbers, recent[1:], strict=True):
            changes = workspace.read_changes(number)
            plan = changes.applied_to(plan)
            self.assertEqual(plan, after)
            workspace.write(changes, "Redo", "me", REDO, number)
        workspace.close()
        workspace = self.opened(path)
        self.assertEqual(workspace.read_plan(), recent[-1])
        return workspace

    @staticmethod
    def opened(path: Path, *, create: bool = False) -> Workspace:
        workspace = Workspace.create(path) if create else Workspace.open(path)
        workspace._connection.execute("PRAGMA synchronous = OFF")  # this is not about power cuts
        return workspace


if __name__ == "__main__":
    unittest.main()
