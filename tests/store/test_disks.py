"""Full disks, places that can only be read, and what a killed process leaves: said in a sentence, and nothing lost."""

from __future__ import annotations

import os
import stat
import subprocess
import sys
import unittest
from pathlib import Path
from unittest.mock import patch

from hexapod.errors import BadFile
from hexapod.plan import edits
from hexapod.session import Session
from tests.store.disks import filled, make_read_only, small_disk
from tests.store.test_attacks import plan_in
from tests.store.test_workspace import InAFolder, Killed
from tests.support import project

MANY = "\n".join(f"Row {i}" for i in range(400))


class FullDisks(unittest.TestCase):
    def test_creating_leaves_nothing_that_blocks_the_name(self) -> None:
        for room in range(0, 90_000, 8192):
            with small_disk(4096) as disk:
                path = disk / "Museum.hexapod"
                with filled(disk, room):
                    try:
                        Session.create(path).close()
                    except BadFile as error:
                        self.assertIn("disk is full", str(error))
                        self.assertEqual(os.listdir(disk), ["ballast"])
                if path.exists():
                    Session.open(path).close()
                else:
                    Session.create(path).close()

    def test_what_was_accepted_is_there_whenever_the_disk_fills(self) -> None:
        for room in (0, 4096, 20_000, 60_000, 150_000):
            with small_disk(8192) as disk:
                path = disk / "Museum.hexapod"
                session = Session.create(path)
                session.apply(edits.save_project(session.plan, project()))
                refused = 0
                with filled(disk, room):
                    for _ in range(12):
                        before = session.plan
                        try:
                            session.apply(edits.add_text("p", MANY))
                        except BadFile as error:
                            refused += 1
                            self.assertRegex(str(error), "disk is full.*not kept; the plan is as before")
                            self.assertIs(session.plan, before)
                    self.assertGreater(refused, 0)
                    with self.assertRaisesRegex(BadFile, "disk is full"):
                        session.save_copy(disk / "copy.hexapod")
                    self.assertFalse((disk / "copy.hexapod").exists())
                    wanted = session.plan
                    session.close()
                    self.assertEqual(plan_in(path), wanted, "read while the disk is still full")
                    try:  # what was in the log has made room, or it has not
                        Session.open(path).close()
                    except BadFile as error:
                        self.assertIn("disk is full", str(error))
                again = Session.open(path)
                self.assertEqual(again.plan, wanted)
                again.apply(edits.add_text("p", "Room again"))
                again.close()

    def test_an_earlier_copy_stays_where_a_new_one_does_not_fit(self) -> None:
        with small_disk(8192) as disk:
            session = Session.create(disk / "Museum.hexapod")
            session.apply(edits.save_project(session.plan, project()))
            copy = disk / "copy.hexapod"
            session.save_copy(copy)
            before = copy.read_bytes()
            session.apply(edits.add_text("p", MANY))
            with filled(disk), self.assertRaisesRegex(BadFile, "disk is full"):
                session.save_copy(copy, replace=True)
            self.assertEqual(copy.read_bytes(), before)
            session.close()


class ToRead(InAFolder):
    def test_a_reader_leaves_nothing_beside_a_file(self) -> None:
        self.new_session().close()
        self.path.chmod(0o444)
        before = self.path.read_bytes()
        for _ in range(2):
            reader = Session.open(self.path, read_only=True)
            reader.compute()
            self.assertEqual(os.listdir(self.path.parent), [self.path.name])
            reader.close()
        self.assertEqual((os.listdir(self.path.parent), self.path.read_bytes()), ([self.path.name], before))
        self.path.chmod(0o644)
        Session.open(self.path).close()

    def test_a_log_that_an_older_reader_left_unwritable_is_mended(self) -> None:
        session = self.new_session()
        for suffix in ("-wal", "-shm"):
            Path(f"{self.path}{suffix}").chmod(0o444)
        self.path.chmod(0o640)
        with patch("hexapod.store.workspace.Workspace._note_closed"):  # as if it were killed
            session.workspace.close()
        again = Session.open(self.path)
        for suffix in ("-wal", "-shm"):
            self.assertEqual(stat.S_IMODE(os.stat(f"{self.path}{suffix}").st_mode), 0o640)
        again.apply(edits.add_text("p", "More"))
        again.close()

    def test_readers_never_keep_a_writer_out(self) -> None:
        self.new_session().close()
        readers = [Session.open(self.path, read_only=True) for _ in range(3)]
        session = Session.open(self.path)
        session.apply(edits.add_text("p", "More"))
        self.assertEqual(len(plan_in(self.path).tasks), 4, "a reader sees what is accepted so far")
        session.close()
        for reader in readers:
            self.assertEqual(len(reader.plan.tasks), 3)
            reader.close()

    def test_the_last_edit_of_a_killed_process_is_shown_where_nothing_can_be_written(self) -> None:
        with small_disk(16_384) as disk:
            path = disk / "Museum.hexapod"
            session = Session.create(path)
            session.apply(edits.save_project(session.plan, project()))
            session.close()
            writer = subprocess.Popen([sys.executable, "-c", Killed.WRITER, str(path)], stdout=subprocess.PIPE,
                                      text=True)  # fmt: skip
            assert writer.stdout is not None
            writer.stdout.readline()
            for _ in range(5):
                known = int(writer.stdout.readline().split()[1])
            writer.kill()
            writer.wait()
            writer.stdout.close()
            make_read_only(disk)
            names = sorted(os.listdir(disk))
            session = Session.open(path)
            self.assertTrue(session.workspace.read_only)
            self.assertGreaterEqual(len(session.plan.tasks), known)
            with self.assertRaisesRegex(BadFile, "open to read"):
                session.apply(edits.add_text("p", "More"))
            session.close()
            self.assertEqual(sorted(os.listdir(disk)), names)


if __name__ == "__main__":
    unittest.main()
