"""Files that the code of each earlier version wrote, kept in ``files``: opened, brought up, and read as copies."""

from __future__ import annotations

import os
import shutil
import sqlite3
import tempfile
import unittest
from pathlib import Path

from hexapod.errors import BadFile
from hexapod.plan import edits
from hexapod.plan.records import Gap, LimitKind, LinkType, ResourceKind
from hexapod.session import Session
from hexapod.store.history import COLUMNS
from hexapod.store.record_versions import priority_of_ten
from hexapod.store.schema import VERSION
from hexapod.store.workspace import Workspace

FILES = Path(__file__).with_name("files")
VERSIONS = tuple(range(1, VERSION))


class EarlierVersions(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def file(self, version: int) -> Path:
        path = self.folder / f"version{version}.hexapod"
        shutil.copy(FILES / path.name, path)
        self.assertEqual(self.version_of(path), version)
        return path

    @staticmethod
    def version_of(path: Path) -> int:
        connection = sqlite3.connect(f"file:{path}?mode=ro&immutable=1", uri=True)
        try:
            return int(connection.execute("PRAGMA user_version").fetchone()[0])
        finally:
            connection.close()

    def test_there_is_a_file_of_each(self) -> None:
        self.assertEqual({f.name for f in FILES.iterdir()}, {f"version{v}.hexapod" for v in VERSIONS})

    def test_all_that_was_entered_is_there_and_what_came_later_is_at_its_defaults(self) -> None:
        for version in VERSIONS:
            session = Session.open(self.file(version))
            plan, tasks = session.plan, session.plan.tasks
            self.assertEqual(set(tasks), {"survey", "cases", "frame", "glass", "opening", "panes"}, version)
            self.assertEqual(plan.children_of("gallery", None), ("survey", "cases", "opening"))
            self.assertEqual(tasks["frame"].notes, "Oak, as before")
            self.assertEqual(tasks["frame"].calendar, "site")
            self.assertEqual([limit.kind for limit in tasks["survey"].limits], [LimitKind.START_NO_EARLIER])
            self.assertIsNone(tasks["cases"].duration)
            self.assertEqual(plan.links[("frame", "glass", "SS")].lag, 240)
            self.assertEqual(plan.resources["lift"].kind, ResourceKind.EQUIPMENT)
            self.assertEqual(plan.assignments[("frame", "mo")].units, 0.5)
            self.assertIs(plan.projects["gallery"].gap, Gap.USE)
            self.assertEqual(
                (tasks["glass"].tags, tasks["glass"].percent, tasks["glass"].keeps.value), ((), 0, "duration")
            )
            session.compute()
            self.assertTrue(all(session.schedule.has(t) for t in tasks))
            session.close()

    def test_what_version_12_kept_for_telling_is_there(self) -> None:
        session = Session.open(self.file(12))
        self.assertEqual(session.plan.requests["lamps"].name, "Lamps for the stair")
        self.assertEqual([r.name for r in session.plan.reports.values()], ["Monday"])
        session.close()

    def test_what_was_told_in_per_cent_began_and_ended_where_it_was(self) -> None:
        connection = sqlite3.connect(f"file:{FILES / 'version6.hexapod'}?mode=ro&immutable=1", uri=True)
        known = dict(connection.execute("SELECT task, early_start || ' ' || early_finish FROM dates").fetchall())
        connection.close()
        session = Session.open(self.file(6))
        tasks, found = session.plan.tasks, session.compute()
        survey, frame = tasks["survey"], tasks["frame"]
        self.assertEqual(f"{survey.actual_start} {survey.actual_finish}", known["survey"])
        self.assertEqual((str(frame.actual_start), frame.actual_finish), (known["frame"].split()[0], None))
        self.assertEqual(f"{found.dates('frame').start} {found.dates('frame').finish}", known["frame"])
        session.undo()  # the edit is from before there were actual dates
        session.redo()
        self.assertEqual(session.plan.tasks["frame"].actual_start, frame.actual_start)
        session.close()

    def test_priorities_are_those_of_the_new_scale_in_the_plan_and_in_its_past(self) -> None:
        for version in VERSIONS:
            session = Session.open(self.file(version))
            tasks = session.plan.tasks
            self.assertEqual((tasks["survey"].priority, tasks["glass"].priority, tasks["opening"].priority), (2, 1, 5))
            self.assertEqual(session.plan.projects["gallery"].priority, 3)
            urgent = next(row for row in session.history if row.words == "More urgent")
            ((_, after),) = session.workspace.read_changes(urgent.number).tasks
            assert after is not None
            self.assertEqual(after.priority, 1)
            self.assertEqual(session.plan_after(urgent.number - 1).tasks["glass"].priority, 8)
            session.close()
        self.assertEqual([priority_of_ten(n) for n in (0, 500, 1000)], [9, 5, 1])
        self.assertEqual({priority_of_ten(n) for n in range(1001)}, set(range(1, 10)))

    def test_the_whole_history_can_be_taken_back_and_done_again(self) -> None:
        for version in VERSIONS:
            path = self.file(version)
            session = Session.open(path)
            plan, count = session.plan, 0
            while session.undo_words:
                session.undo()
                count += 1
            self.assertEqual((len(session.plan.tasks), len(session.plan.projects)), (0, 0), version)
            for _ in range(count):
                session.redo()
            self.assertEqual(session.plan, plan)
            session.apply(edits.set_task(session.plan, "panes", "Tag", tags=("glass",)))
            session.apply(edits.link(session.plan, "survey", "panes", LinkType.SS))
            session.close()
            again = Workspace.open(path)
            self.assertEqual(again.read_plan().tasks["panes"].tags, ("glass",))
            again.close()
            self.assertEqual(self.version_of(path), VERSION)

    def test_to_read_only_it_is_a_copy_and_the_file_stays_as_it_is(self) -> None:
        for version in VERSIONS:
            path = self.file(version)
            before = path.read_bytes()
            os.chmod(path, 0o444)
            workspace = Workspace.open(path, read_only=True)
            found = workspace.read_plan()
            self.assertEqual(path.read_bytes(), before)
            copy = path.with_name(f"copy{version}.hexapod")
            workspace.save_copy(copy)
            workspace.close()
            made = Workspace.open(copy)
            self.assertEqual(made.read_plan(), found)
            made.close()

    def test_a_step_that_fails_leaves_the_file_as_it_was(self) -> None:
        path = self.file(5)
        connection = sqlite3.connect(path)
        connection.execute("UPDATE tasks SET limits = 'nothing' WHERE id = 'glass'")
        connection.commit()
        connection.close()
        with self.assertRaises(BadFile):
            workspace = Workspace.open(path)
            self.addCleanup(workspace.close)
            workspace.read_plan()

    def test_every_row_carries_a_checksum_afterwards(self) -> None:
        for version in VERSIONS:
            path = self.file(version)
            Workspace.open(path).close()
            connection = sqlite3.connect(path)
            for table in ("tasks", "links", "history"):
                missing = connection.execute(f"SELECT count(*) FROM {table} WHERE checksum IS NULL").fetchone()
                self.assertEqual(missing, (0,), (version, table))
            versions = {row[0] for row in connection.execute("SELECT version FROM history")}
            self.assertEqual(max(versions), version)  # that of 6 was brought up from 5 by the code of then
            self.assertIn("version", COLUMNS)
            connection.close()


if __name__ == "__main__":
    unittest.main()
