"""The workspace file: what is kept, who may write, and what is said of files that are no good."""

from __future__ import annotations

import sqlite3
import subprocess
import sys
import tempfile
import textwrap
import threading
import unittest
from pathlib import Path

from hexapod.errors import BadFile
from hexapod.plan import edits
from hexapod.plan.changes import diff
from hexapod.plan.plan import Plan
from hexapod.session import Session
from hexapod.store.workspace import Workspace, WorkspaceInUse
from tests.budgets import deep_or
from tests.store.signing import sign_again
from tests.support import project, random_plan


class InAFolder(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "Museum.hexapod"

    def new_session(self) -> Session:
        session = Session.create(self.path)
        session.apply(edits.save_project(session.plan, project()))
        session.apply(edits.add_text("p", "Survey\nDrawings\nBuild"))
        return session


class Keeping(InAFolder):
    def test_every_kind_of_record_comes_back_identical(self) -> None:
        import random

        plan = random_plan(random.Random(41), 60, calendars=2, summaries=True, resources=4, projects=3)
        workspace = Workspace.create(self.path)
        workspace.write(diff(Plan(), plan), "All", "me")
        workspace.close()
        again = Workspace.open(self.path)
        self.assertEqual(again.read_plan(), plan)
        again.close()

    def test_the_dates_are_remembered_for_the_first_paint(self) -> None:
        session = self.new_session()
        wanted = {t: session.schedule.dates(t) for t in session.plan.tasks}
        finish = session.schedule.project_finish
        session.close()
        again = Session.open(self.path)
        self.assertFalse(again.is_computed)
        self.assertEqual({t: again.schedule.dates(t) for t in again.plan.tasks}, wanted)
        self.assertEqual(again.schedule.project_finish, finish)
        again.close()

    def test_anyone_can_read_it_with_sql(self) -> None:
        self.new_session().close()
        rows = sqlite3.connect(self.path).execute(
            "SELECT t.name, d.early_start FROM tasks t JOIN dates d ON d.task = t.id ORDER BY t.rank"
        )
        self.assertEqual([name for name, _ in rows], ["Survey", "Drawings", "Build"])

    def test_a_copy_holds_all_and_opens_without_a_word_of_recovery(self) -> None:
        session = self.new_session()
        copy = self.path.with_name("Copy.hexapod")
        session.workspace.save_copy(copy)
        other = Session.open(copy)
        self.assertEqual(other.plan, session.plan)
        self.assertEqual(len(other.history), len(session.history))
        self.assertIsNone(other.workspace.recovered)
        other.close()
        session.close()


class ClosedWhileRead(InAFolder):
    def test_a_file_is_closed_only_when_nobody_reads_it_any_more(self) -> None:
        """A connection that is closed while another thread reads from it takes the program with it."""
        workspace = Workspace.create(self.path.with_name("Read.hexapod"))
        begun, go_on, found = threading.Event(), threading.Event(), []

        def read() -> None:
            with workspace._using():
                begun.set()
                go_on.wait(30)
                found.append(workspace._connection.execute("SELECT count(*) FROM history").fetchone())

        reader, closer = threading.Thread(target=read), threading.Thread(target=workspace.close)
        reader.start()
        begun.wait(30)
        closer.start()
        closer.join(0.3)
        self.assertTrue(closer.is_alive(), "it waits for the one who reads")
        go_on.set()
        reader.join(30)
        closer.join(30)
        self.assertEqual(found, [(0,)])
        with self.assertRaises(BadFile):
            workspace.read_history()


class TwoWindows(InAFolder):
    def test_the_second_may_read_and_sees_what_the_first_has_kept(self) -> None:
        first = self.new_session()
        with self.assertRaisesRegex(WorkspaceInUse, "process"):
            Session.open(self.path)
        second = Session.open(self.path, read_only=True)
        self.assertEqual(second.plan, first.plan)
        with self.assertRaisesRegex(BadFile, "open to read"):
            second.apply(edits.add_text("p", "More"))
        self.assertEqual(second.plan, first.plan)
        second.close()
        first.close()
        Session.open(self.path).close()


class BadFiles(InAFolder):
    def refused(self, pattern: str) -> None:
        before = self.path.read_bytes() if self.path.exists() else None
        tables = self._tables()
        with self.assertRaisesRegex(BadFile, pattern):
            Session.open(self.path)
        if before is not None:
            is_as_it_was = self.path.read_bytes() == before or (tables is not None and self._tables() == tables)
            self.assertTrue(is_as_it_was, "a refused file must stay as it is")
            self.assertFalse(self.path.with_name(f".{self.path.name}.lock").exists())

    def _tables(self) -> list[str] | None:
        """All that the file holds, in SQL; None for one that is no database."""
        if not self.path.exists():
            return None
        connection = sqlite3.connect(f"file:{self.path}?mode=ro&immutable=1", uri=True)
        try:
            return list(connection.iterdump())
        except sqlite3.Error:
            return None
        finally:
            connection.close()

    def test_missing_empty_and_foreign(self) -> None:
        self.refused("no file")
        self.path.write_bytes(b"")
        self.refused("not a Hexapod workspace")
        self.path.write_bytes(b"PK\x03\x04 a spreadsheet, say" * 40)
        self.refused("not a Hexapod workspace")
        self.path.unlink()
        connection = sqlite3.connect(self.path)
        connection.execute("CREATE TABLE birds (name)")
        connection.commit()
        connection.close()
        self.refused("another program")

    def test_newer(self) -> None:
        self.new_session().close()
        self._sql("PRAGMA user_version = 99")
        self.refused("newer Hexapod")

    def test_a_row_that_points_nowhere_or_has_nonsense_in_it(self) -> None:
        self.new_session().close()
        kept = self.path.read_bytes()
        for statement, pattern in (
            ("UPDATE tasks SET parent = 'nobody' WHERE name = 'Build'", "nobody"),
            ("UPDATE tasks SET limits = '[[' WHERE name = 'Build'", "table tasks"),
            ("UPDATE tasks SET duration = -5 WHERE name = 'Build'", "duration of “Build”"),
            ("DELETE FROM projects", "does not exist"),
            ("DROP TABLE links", "links"),
        ):
            self.path.write_bytes(kept)
            self._sql(statement)
            if not statement.startswith("DROP"):
                self.refused("not what was written|row of its table")
                sign_again(self.path)
            self.refused(pattern)

    def test_a_damaged_middle(self) -> None:
        self.new_session().close()
        data = bytearray(self.path.read_bytes())
        data[4096:12288] = b"\xff" * 8192
        self.path.write_bytes(data)
        self.refused("damaged")

    def test_a_place_that_cannot_be_written(self) -> None:
        with self.assertRaisesRegex(BadFile, "cannot be"):
            Session.create(Path("/proc/nowhere/x.hexapod"))
        self.new_session().close()
        with self.assertRaisesRegex(BadFile, "exists already"):
            Session.create(self.path)

    def test_a_full_disk_refuses_the_edit_and_keeps_what_was(self) -> None:
        session = self.new_session()
        before, edits_before = session.plan, len(session.history)
        pages = session.workspace._connection.execute("PRAGMA page_count").fetchone()[0]
        session.workspace._connection.execute(f"PRAGMA max_page_count = {pages}")
        with self.assertRaisesRegex(BadFile, "disk is full.*not kept"):
            session.apply(edits.add_text("p", "\n".join(f"Row {i}" for i in range(2000))))
        self.assertEqual((session.plan, len(session.history)), (before, edits_before))
        session.workspace._connection.execute("PRAGMA max_page_count = 1000000")
        session.apply(edits.add_text("p", "One more"))
        plan = session.plan
        session.close()
        again = Session.open(self.path)
        self.assertEqual(again.plan, plan)
        again.close()

    def _sql(self, statement: str) -> None:
        connection = sqlite3.connect(self.path, isolation_level=None)
        connection.execute(statement)
        connection.close()


class Killed(InAFolder):
    """SIGKILL in mid-edit, a few dozen times: no edit that was applied is lost."""

    WRITER = textwrap.dedent(
        """
        import sys
        from pathlib import Path
        from hexapod.plan import edits
        from hexapod.session import Session
        session = Session.open(Path(sys.argv[1]))
        session.compute()
        print("recovered", session.workspace.recovered, flush=True)
        n = 0
        while True:
            session.apply(edits.add_text("p", f"Row {n}\\n  Part {n}"))
            print("applied", len(session.plan.tasks), flush=True)
            n += 1
        """
    )

    def test_nothing_applied_is_lost(self) -> None:
        import random

        self.new_session().close()
        rng = random.Random(42)
        known = 3
        for round_ in range(deep_or(16, 500)):
            writer = subprocess.Popen(
                [sys.executable, "-c", self.WRITER, str(self.path)], stdout=subprocess.PIPE, text=True
            )
            assert writer.stdout is not None
            said = writer.stdout.readline()
            self.assertEqual("ended unexpectedly" in said, round_ > 0, said)
            for _ in range(rng.randrange(0, 9)):
                known = int(writer.stdout.readline().split()[1])
            writer.kill()
            rest = [line for line in writer.stdout.read().splitlines() if line.startswith("applied ")]
            writer.wait()
            writer.stdout.close()
            if rest and rest[-1].split()[1].isdigit():
                known = max(known, int(rest[-1].split()[1]))
            reader = Session.open(self.path, read_only=True)
            found = len(reader.plan.tasks)
            reader.close()
            self.assertGreaterEqual(found, known)
            self.assertEqual((found - 3) % 2, 0, "an edit is kept whole or not at all")
            known = found
