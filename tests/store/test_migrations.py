"""A file of the first version: opened, brought up to the present form, and read-only as a copy in memory."""

from __future__ import annotations

import os
import random
import sqlite3
import tempfile
import unittest
from pathlib import Path

from hexapod.plan import edits
from hexapod.plan.changes import diff
from hexapod.plan.plan import Plan
from hexapod.plan.records import Gap, Task
from hexapod.session import Session
from hexapod.store.layout import ADDED_LATER
from hexapod.store.schema import TABLES, VERSION
from hexapod.store.workspace import Workspace
from tests.support import random_plan

# The columns that version 1 had.
FIRST = {
    "calendars": ("id", "name", "base", "week", "exceptions"),
    "projects": (
        "id", "name", "start", "rank", "calendar", "status_date", "target_finish", "priority", "critical_float",
    ),
    "tasks": (
        "id", "project", "name", "rank", "parent", "duration", "calendar", "priority", "pinned", "limits", "target",
        "hold", "stream", "notes",
    ),
    "links": ("predecessor", "successor", "type", "lag"),
    "resources": ("id", "name", "rank", "kind", "capacity", "calendar", "initials"),
}  # fmt: skip


def age(path: Path) -> None:
    """Take out what later versions added."""
    connection = sqlite3.connect(path)
    for table, kept in FIRST.items():
        for row in connection.execute(f"PRAGMA table_info({table})").fetchall():
            if row[1] not in kept:
                connection.execute(f"ALTER TABLE {table} DROP COLUMN {row[1]}")
    for table in (*ADDED_LATER, "dates"):
        connection.execute(f"DROP TABLE {table}")
    connection.execute("CREATE TABLE dates (task TEXT PRIMARY KEY, early_start INTEGER) STRICT, WITHOUT ROWID")
    connection.execute("PRAGMA user_version = 1")
    connection.commit()
    connection.close()


# The tables of version 1: what is not among them is an addition, or a file of that version cannot be opened.
TABLES_OF_THE_FIRST = {"calendars", "projects", "tasks", "links", "resources", "assignments"}


class FirstVersion(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "old.hexapod"
        self.plan = random_plan(random.Random(91), 20, calendars=2, summaries=True, resources=3, projects=2)
        workspace = Workspace.create(self.path)
        workspace.write(diff(Plan(), self.plan), "Begin", "me")
        workspace.close()
        age(self.path)

    def test_every_table_that_came_later_may_be_missing_from_an_old_file(self) -> None:
        self.assertEqual({*TABLES} - ADDED_LATER, TABLES_OF_THE_FIRST)

    def test_nothing_is_lost_and_the_new_is_at_its_defaults(self) -> None:
        session = Session.open(self.path)
        self.assertEqual(session.plan, self.plan)
        self.assertEqual(len(session.history), 1)
        session.compute()
        one = sorted(t for t in self.plan.tasks if not self.plan.is_summary(t))[0]
        session.apply(edits.set_task(session.plan, one, "Tag", tags=("old",), elapsed=True))
        session.apply(edits.add_comment(session.plan, one, "Mo", 30_000_000, "Still here"))
        for _ in range(3):
            session.undo()
        self.assertEqual(len(session.plan.tasks), 0, "also the first edit can be taken back")
        for _ in range(3):
            session.redo()
        session.close()
        again = Workspace.open(self.path)
        self.addCleanup(again.close)
        found = again.read_plan()
        self.assertEqual((found.tasks[one].tags, found.tasks[one].elapsed), (("old",), True))
        self.assertEqual(found.projects["p0"].gap, Gap.USE)
        self.assertIsInstance(found.tasks[one], Task)

    def test_the_version_is_written_once_the_file_is_brought_up(self) -> None:
        Workspace.open(self.path).close()
        version = sqlite3.connect(self.path).execute("PRAGMA user_version").fetchone()[0]
        self.assertEqual(version, VERSION)

    def test_to_read_only_it_is_a_copy_and_the_file_stays_as_it_is(self) -> None:
        before = self.path.read_bytes()
        os.chmod(self.path, 0o444)
        workspace = Workspace.open(self.path, read_only=True)
        self.addCleanup(workspace.close)
        self.assertEqual(workspace.read_plan(), self.plan)
        self.assertEqual(self.path.read_bytes(), before)
        copy = self.path.with_name("copy.hexapod")
        workspace.save_copy(copy)
        made = Workspace.open(copy)
        self.addCleanup(made.close)
        self.assertEqual(made.read_plan(), self.plan)


if __name__ == "__main__":
    unittest.main()
