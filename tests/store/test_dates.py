"""The dates that a file remembers are those of the schedule, however they came to be there."""

from __future__ import annotations

import random
import sqlite3
import tempfile
import unittest
from pathlib import Path

from hexapod.errors import HexapodError
from hexapod.plan.changes import diff
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Plan
from hexapod.schedule.schedule import Schedule
from hexapod.session import Session
from hexapod.store.dates import COLUMNS, dates_to_write
from hexapod.store.workspace import Workspace
from tests.storm import random_edit
from tests.support import random_plan


class DatesInTheFile(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "Dates.hexapod"
        self.rng = random.Random(17)
        plan = random_plan(self.rng, 25, calendars=2, summaries=True, projects=2)
        workspace = Workspace.create(self.path)
        workspace.write(diff(Plan(), plan), "All", "me")
        workspace.close()
        self.session = Session.open(self.path)
        self.session.compute()
        self.addCleanup(lambda: self.session.close())

    def in_file(self) -> dict[str, tuple[int, ...]]:
        connection = sqlite3.connect(self.path)
        rows = connection.execute(f"SELECT task, {', '.join(COLUMNS)} FROM dates").fetchall()
        connection.close()
        return {row[0]: row[1:] for row in rows}

    def computed(self, schedule: Schedule) -> dict[str, tuple[int, ...]]:
        return {
            task: tuple(int(getattr(schedule, name)[schedule.slots[task]]) for name in COLUMNS)
            for task in self.session.plan.tasks
        }

    def edit(self) -> None:
        for _ in range(self.rng.randrange(1, 6)):
            try:
                self.session.apply(random_edit(self.rng, self.session.plan))
            except HexapodError:
                continue

    def test_after_any_edits_the_file_has_the_dates_of_the_schedule_and_no_others(self) -> None:
        workspace = self.session.workspace
        for _ in range(20):
            self.edit()
            found = dates_to_write(workspace.known_dates, self.session.schedule)
            pieces = list(workspace.writing_dates(found, self.rng.choice((1, 3, 100))))
            self.assertLessEqual(len(pieces), len(found.fresh))
            self.assertEqual(self.in_file(), self.computed(self.session.schedule))
            again = dates_to_write(workspace.known_dates, self.session.schedule)
            self.assertFalse(again, "what is there is not written again")

    def test_writing_that_an_edit_overtakes_still_ends_with_the_dates_of_the_schedule(self) -> None:
        workspace = self.session.workspace
        for _ in range(10):
            self.edit()
            writing = workspace.writing_dates(dates_to_write(workspace.known_dates, self.session.schedule), 2)
            next(writing, None)
            self.edit()
            for _ in writing:
                pass
            workspace.write_dates(self.session.schedule)
            self.assertEqual(self.in_file(), self.computed(self.session.schedule))

    def test_writing_that_was_broken_off_is_made_good_from_nothing(self) -> None:
        workspace = self.session.workspace
        self.edit()
        workspace.write_dates(self.session.schedule)
        self.session.apply(random_edit(random.Random(3), self.session.plan))
        next(workspace.writing_dates(dates_to_write(None, self.session.schedule), 2))
        self.assertIsNone(workspace.known_dates)
        self.assertEqual(len(self.in_file()), 2)
        workspace.write_dates(self.session.schedule)
        self.assertEqual(self.in_file(), self.computed(self.session.schedule))

    def test_dates_read_from_the_file_are_compared_by_task_not_by_slot(self) -> None:
        self.session.close()
        self.session = Session.open(self.path)
        before = self.session.workspace.known_dates
        assert before is not None
        self.session.compute()
        self.assertFalse(dates_to_write(before, self.session.schedule))
        gone = next(t for t in self.session.plan.tasks if not self.session.plan.is_summary(t))
        self.session.apply(Edit("Take one out", lambda d: d.remove_task(gone)))
        self.assertEqual(dates_to_write(before, self.session.schedule).gone, [gone])


if __name__ == "__main__":
    unittest.main()
