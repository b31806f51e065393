"""What others do to a workspace file while it is open, and where links around it lead: nothing is lost or destroyed."""

from __future__ import annotations

import os
import shutil
import sqlite3
import stat
import subprocess
import sys
import textwrap
import unittest
from collections.abc import Callable
from pathlib import Path
from unittest.mock import patch

from hexapod.errors import BadFile
from hexapod.plan import edits
from hexapod.plan.plan import Plan
from hexapod.session import Session
from hexapod.store.lock import OpenFile
from hexapod.store.workspace import Workspace, WorkspaceInUse
from tests.store.test_workspace import InAFolder
from tests.support import project


def plan_in(path: Path) -> Plan:
    session = Session.open(path, read_only=True)
    try:
        return session.plan
    finally:
        session.close()


class Copies(InAFolder):
    def test_onto_itself_under_any_name_is_refused_and_later_edits_are_kept(self) -> None:
        session = self.new_session()
        link, hard = self.path.with_name("link.hexapod"), self.path.with_name("hard.hexapod")
        link.symlink_to(self.path.name)
        other_spelling = self.path.parent / "x" / ".." / self.path.name
        (self.path.parent / "x").mkdir()
        for place in (self.path, link, other_spelling):
            with self.assertRaisesRegex(BadFile, "is the workspace that is open"):
                session.save_copy(place, replace=True)
        os.link(self.path, hard)
        with self.assertRaisesRegex(BadFile, "is the workspace that is open"):
            session.save_copy(hard, replace=True)
        hard.unlink()
        session.apply(edits.add_text("p", "Later"))
        plan = session.plan
        session.close()
        self.assertEqual(plan_in(self.path), plan)

    def test_onto_one_that_another_window_has_open_is_refused(self) -> None:
        first = self.new_session()
        other = Session.create(self.path.with_name("Other.hexapod"))
        with self.assertRaisesRegex(BadFile, "open in another window"):
            first.save_copy(other.workspace.path, replace=True)
        other.close()
        first.save_copy(other.workspace.path, replace=True)
        self.assertEqual(plan_in(other.workspace.path), first.plan)
        first.close()

    def test_where_it_fails_the_earlier_copy_stays_and_nothing_is_left(self) -> None:
        session = self.new_session()
        copy = self.path.with_name("Copy.hexapod")
        session.save_copy(copy)
        before = copy.read_bytes()
        session.apply(edits.add_text("p", "Later"))
        names = sorted(os.listdir(copy.parent))
        full = patch("hexapod.store.copying.os.replace", side_effect=OSError(28, "No space left on device"))
        with full, self.assertRaisesRegex(BadFile, "disk is full"):
            session.save_copy(copy, replace=True)
        self.assertEqual((copy.read_bytes(), sorted(os.listdir(copy.parent))), (before, names))
        with self.assertRaisesRegex(BadFile, "exists already"):
            session.save_copy(copy)
        session.close()

    def test_of_a_private_workspace_all_is_private(self) -> None:
        session = self.new_session()
        self.path.chmod(0o600)
        copy = self.path.with_name("Copy.hexapod")
        session.save_copy(copy)
        session.close()
        self.assertEqual(stat.S_IMODE(copy.stat().st_mode), 0o600)


class Links(InAFolder):
    def test_a_link_beside_a_workspace_leads_nowhere(self) -> None:
        self.new_session().close()
        victim = self.path.with_name("victim")
        for suffix in (".lock", "", "-lock", ".part"):
            for name in (f".{self.path.name}{suffix}", f"{self.path.name}{suffix}"):
                if name != self.path.name:
                    victim.write_bytes(b"precious")
                    link = self.path.with_name(name)
                    link.symlink_to(victim)
                    session = Session.open(self.path)
                    session.apply(edits.add_text("p", "More"))
                    session.save_copy(self.path.with_name("c.hexapod"), replace=True)
                    session.close()
                    self.assertEqual(victim.read_bytes(), b"precious", name)
                    link.unlink()

    def test_a_name_that_is_taken_by_a_link_is_not_created_through_it(self) -> None:
        victim = self.path.with_name("victim")
        for target in (victim, self.path.with_name("nowhere")):
            victim.write_bytes(b"precious")
            self.path.symlink_to(target)
            with self.assertRaisesRegex(BadFile, "exists already"):
                Session.create(self.path)
            self.path.unlink()
        self.assertEqual(victim.read_bytes(), b"precious")
        self.assertFalse(self.path.with_name("nowhere").exists())

    def test_a_log_that_is_left_from_another_file_is_not_taken_for_ours(self) -> None:
        self.path.with_name(self.path.name + "-wal").write_bytes(b"x" * 4152)
        with self.assertRaisesRegex(BadFile, "left there from another workspace"):
            Session.create(self.path)
        self.assertFalse(self.path.exists())


WAYS = ("deleted", "moved away", "replaced", "copied over", "log removed", "shared memory removed", "edited")


class Gone(InAFolder):
    """Each way in which a file can go, at each moment: an edit, an undo, a glance, the end."""

    def other(self) -> Path:
        path = self.path.with_name("Another.hexapod")
        session = Session.create(path)
        session.apply(edits.save_project(session.plan, project("q")))
        session.apply(edits.add_text("q", "Theirs"))
        session.close()
        return path

    def ways(self) -> dict[str, Callable[[], None]]:
        other = self.other()

        def edit_by_sql() -> None:
            connection = sqlite3.connect(self.path)
            connection.execute("UPDATE tasks SET notes = 'theirs'")
            connection.commit()
            connection.close()

        def copy_over() -> None:
            with other.open("rb") as source, self.path.open("r+b") as target:
                shutil.copyfileobj(source, target)
                target.truncate()

        return {
            "deleted": self.path.unlink,
            "moved away": lambda: os.replace(self.path, self.path.with_name("moved.hexapod")),
            "replaced": lambda: os.replace(other, self.path),
            "copied over": copy_over,
            "log removed": lambda: os.unlink(f"{self.path}-wal"),
            "shared memory removed": lambda: os.unlink(f"{self.path}-shm"),
            "edited": edit_by_sql,
        }

    def test_nothing_is_lost_and_nothing_of_others_is_touched(self) -> None:
        for moment in ("edit", "undo", "look", "copy", "close"):
            for name in WAYS:
                with self.subTest(name=name, moment=moment):
                    for old in self.path.parent.iterdir():
                        old.unlink()
                    self.check(name, moment)

    def check(self, name: str, moment: str) -> None:
        session = self.new_session()
        told: list[str] = []
        session.listen_to_moves(told.append)
        session.apply(edits.add_text("p", "Before"))
        self.ways()[name]()
        theirs = self.path.read_bytes() if name in ("replaced", "copied over") else None
        chosen = self.path.with_name("Chosen.hexapod")
        if moment == "edit":
            session.apply(edits.add_text("p", "After"))
        elif moment == "undo":
            session.undo()
        elif moment == "look":
            session.keep_safe()
        elif moment == "copy":
            session.save_copy(chosen)
        wanted = session.plan
        session.close()
        self.assertEqual(len(told), 1)
        self.assertRegex(told[0], "Every edit is kept")
        self.assertNotEqual(session.workspace.path, self.path)
        self.assertEqual(plan_in(session.workspace.path), wanted)
        self.assertEqual(chosen.exists(), moment == "copy")
        if theirs is not None:
            self.assertEqual(self.path.read_bytes(), theirs, "what somebody else put there is theirs")
            self.assertEqual([p.name for p in self.path.parent.glob("Museum.hexapod-*")], [], "nor does a log wait")
            self.assertEqual({t.name for t in plan_in(self.path).tasks.values()}, {"Theirs"})
        again = Session.open(session.workspace.path)
        again.apply(edits.add_text("p", "On we go"))
        if name not in ("copied over", "edited"):
            self.assertGreaterEqual(len(again.history), 4, "with the whole history")
            while again.undo_words is not None:
                again.undo()
            self.assertFalse(again.plan.tasks)
        again.close()

    def test_without_a_place_beside_it_goes_elsewhere_and_without_any_it_is_said(self) -> None:
        session = self.new_session()
        folder, home = self.path.parent, self.path.parent.parent / f"{self.path.parent.name}-home"
        self.addCleanup(shutil.rmtree, home, ignore_errors=True)
        home.mkdir()
        shutil.rmtree(folder)
        with patch("hexapod.store.rescue.platformdirs.user_documents_dir", lambda: str(home / "none")):
            with patch("hexapod.store.rescue.platformdirs.user_data_dir", lambda _: "/proc/nowhere"):
                with self.assertRaisesRegex(BadFile, "Nothing is lost yet"):
                    session.apply(edits.add_text("p", "After"))
                self.assertEqual(len(session.plan.tasks), 3, "the edit is refused, the plan is there")
            with patch("hexapod.store.rescue.platformdirs.user_data_dir", lambda _: str(home)):
                session.apply(edits.add_text("p", "After"))
        self.assertEqual(session.workspace.path.parent, home)
        folder.mkdir()
        session.close()


HOLDER = textwrap.dedent(
    """
    import os, sys
    from pathlib import Path
    from hexapod.errors import BadFile
    from hexapod.store.workspace import Workspace, WorkspaceInUse
    path, counter, rounds = Path(sys.argv[1]), sys.argv[2], int(sys.argv[3])
    taken = 0
    while taken < rounds:
        try:
            workspace = Workspace.open(path)
        except WorkspaceInUse:
            continue
        mark = os.open(counter, os.O_CREAT | os.O_EXCL)  # fails where two hold it
        os.close(mark)
        os.unlink(counter)
        workspace.set_state("x", taken)
        workspace.close()
        taken += 1
    print("fine")
    """
)


class OneWriter(InAFolder):
    def test_links_and_other_spellings_lead_to_the_same_lock(self) -> None:
        session = self.new_session()
        (self.path.parent / "deep").mkdir()
        link = self.path.parent / "deep" / "link.hexapod"
        link.symlink_to(self.path)
        for place in (self.path, link, self.path.parent / "deep" / ".." / self.path.name):
            with self.assertRaisesRegex(WorkspaceInUse, f"process {os.getpid()}"):
                Session.open(place)
        moved = self.path.with_name("renamed.hexapod")
        os.rename(self.path, moved)
        with self.assertRaises(WorkspaceInUse):
            Session.open(moved)
        os.rename(moved, self.path)
        session.close()
        Session.open(link).close()

    def test_two_hard_links_are_no_damage_but_never_written(self) -> None:
        self.new_session().close()
        hard = self.path.with_name("hard.hexapod")
        os.link(self.path, hard)
        for place in (self.path, hard):
            with self.assertRaisesRegex(BadFile, "2 names in the file system"):
                Session.open(place)
            self.assertEqual(len(plan_in(place).tasks), 3, "both can be read")
        hard.unlink()
        Session.open(self.path).close()

    def test_of_many_processes_in_a_loop_never_two_hold_it(self) -> None:
        self.new_session().close()
        counter = str(self.path.with_name("held"))
        command = [sys.executable, "-c", HOLDER, str(self.path), counter, "12"]
        started = [subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE) for _ in range(4)]
        for process in started:
            out, err = process.communicate()
            self.assertEqual(out, b"fine\n", err.decode()[-2000:])

    def test_whatever_else_this_process_opens_sqlite_keeps_its_locks(self) -> None:
        """Otherwise another process would take itself for the only one, and carry off the log when it closes."""
        session = self.new_session()
        script = (
            "import fcntl, sys\n"
            "try: fcntl.lockf(open(sys.argv[1], 'r+b'), fcntl.LOCK_EX | fcntl.LOCK_NB, 510, 0x40000002)\n"
            "except OSError: print('kept')\n"
        )

        def asked() -> str:
            return subprocess.run([sys.executable, "-c", script, str(self.path)], capture_output=True, text=True,
                                  check=True).stdout.strip()  # fmt: skip

        self.assertEqual(asked(), "kept")
        with self.assertRaises(WorkspaceInUse):
            Session.open(self.path)
        Session.open(self.path, read_only=True).close()
        OpenFile(self.path).close()
        with self.assertRaises(BadFile):
            session.save_copy(self.path, replace=True)
        self.assertEqual(asked(), "kept")
        session.close()
        self.assertEqual(asked(), "", "and gives them back at the end")

    def test_the_lock_is_given_back_whatever_goes_wrong(self) -> None:
        self.new_session().close()
        for name in ("check_objects", "check_columns", "connected"):
            ours = patch(f"hexapod.store.workspace.{name}", side_effect=RuntimeError("ours"))
            with ours, self.assertRaises(RuntimeError):
                Session.open(self.path)
        for name in ("read_history", "read_plan", "read_snapshot"):
            with patch.object(Workspace, name, side_effect=RuntimeError("ours")), self.assertRaises(RuntimeError):
                Session.open(self.path)
        session = Session.open(self.path)
        session.compute()
        with patch.object(Workspace, "write_dates", side_effect=IndexError), self.assertRaises(IndexError):
            session.close()
        Session.open(self.path).close()


if __name__ == "__main__":
    unittest.main()
