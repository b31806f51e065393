"""Files are written whole or not at all, never through somebody's link, and private ones stay private."""

from __future__ import annotations

import errno
import os
import stat
import tempfile
import unittest
from collections.abc import Callable
from pathlib import Path
from unittest.mock import patch

from hypothesis import given, settings
from hypothesis import strategies as st

from hexapod.errors import BadFile
from hexapod.system import files
from hexapod.system.files import (
    DESERTED,
    new_part,
    private_folder,
    put_in_place,
    read_within,
    replacing,
    scratch_folder,
    sweep_parts,
    write_whole,
)

STEPS = ("open", "fsync", "chmod", "replace", "write")  # at which a disk may fail


class InAFolder(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.path = self.folder / "report.pdf"

    def names(self) -> list[str]:
        return sorted(os.listdir(self.folder))


class Writing(InAFolder):
    def test_what_goes_wrong_at_any_step_leaves_the_old_file_and_nothing_else(self) -> None:
        real: dict[str, Callable[..., object]] = {name: getattr(os, name) for name in STEPS if name != "write"}
        for number in (errno.ENOSPC, errno.EIO, errno.EROFS):
            for step in STEPS:
                self.path.write_bytes(b"old")

                def fail(*arguments: object, number: int = number, **more: object) -> object:
                    raise OSError(number, os.strerror(number))

                where = patch.object(Path, "open", fail) if step == "write" else patch.object(files.os, step, fail)
                with where, self.assertRaisesRegex(BadFile, "disk is full" if number == errno.ENOSPC else "report.pdf"):
                    write_whole(self.path, b"new")
                self.assertEqual((self.path.read_bytes(), self.names()), (b"old", ["report.pdf"]), step)
        self.assertTrue(real)

    def test_links_that_somebody_has_put_there_are_never_followed(self) -> None:
        victim = self.folder / "victim"
        victim.write_bytes(b"precious")
        for name in ("report.pdf", "report.pdf.part", ".report.pdf.part", ".report.pdf.0000000000000000.part"):
            (self.folder / name).symlink_to(victim)
        with patch("hexapod.system.files.secrets.token_hex", lambda _: "0" * 16), self.assertRaises(BadFile):
            write_whole(self.path, b"new")
        self.assertEqual(victim.read_bytes(), b"precious")
        write_whole(self.path, b"new")
        self.assertEqual((victim.read_bytes(), self.path.read_bytes()), (b"precious", b"new"))
        self.assertFalse(self.path.is_symlink())

    @settings(max_examples=40, deadline=None)
    @given(st.integers(0, 0o777), st.integers(0, 0o777), st.binary(max_size=99), st.booleans())
    def test_permissions_are_those_of_what_is_replaced(self, mode: int, mask: int, data: bytes, there: bool) -> None:
        before = os.umask(mask)
        try:
            with tempfile.TemporaryDirectory() as folder:
                path = Path(folder) / "x"
                if there:
                    path.write_bytes(b"old")
                    path.chmod(mode)
                with replacing(path) as part:
                    self.assertEqual(stat.S_IMODE(part.stat().st_mode), 0o600, "private while it is in progress")
                    part.write_bytes(data)
                self.assertEqual(stat.S_IMODE(path.stat().st_mode), mode if there else 0o666 & ~mask)
                path.chmod(0o600)
                self.assertEqual((path.read_bytes(), os.listdir(folder)), (data, ["x"]))
        finally:
            os.umask(before)

    def test_a_name_that_is_taken_stays_taken(self) -> None:
        part = new_part(self.path)
        self.path.symlink_to(self.folder / "nowhere")
        with self.assertRaises(FileExistsError):
            put_in_place(part, self.path)
        self.assertFalse((self.folder / "nowhere").exists())

    def test_long_names_and_names_that_are_no_text_can_be_written(self) -> None:
        for name in ("x" * 250 + ".csv", os.fsdecode(b"caf\xe9.csv")):
            write_whole(self.folder / name, b"1")
            self.assertEqual(read_within(self.folder / name, 9), b"1")

    def test_what_killed_processes_left_is_taken_away_and_nothing_else(self) -> None:
        old, new = new_part(self.path), new_part(self.path)
        theirs = self.folder / ".mine.part"
        theirs.write_bytes(b"")
        for path in (old, theirs):
            os.utime(path, (1, 1))
        os.utime(new, (new.stat().st_mtime - DESERTED / 2,) * 2)
        sweep_parts(self.folder)
        self.assertEqual(self.names(), sorted([new.name, theirs.name]))
        with patch.dict(os.environ, {"XDG_CACHE_HOME": str(self.folder)}), scratch_folder() as mine:
            deserted = mine.with_name("4194999-" + "0" * 16)  # beyond the highest number of a process
            deserted.mkdir()
            with scratch_folder() as other:
                self.assertEqual((other.exists(), mine.exists(), deserted.exists()), (True, True, False))
            self.assertEqual(stat.S_IMODE(mine.stat().st_mode), 0o700)

    def test_folders_of_ours_are_private_also_those_of_an_older_version(self) -> None:
        place = self.folder / "cache" / "snapshots"
        place.mkdir(parents=True, mode=0o755)
        private_folder(place)
        private_folder(self.folder / "a" / "b")
        for folder in (place, self.folder / "a", self.folder / "a" / "b"):
            self.assertEqual(stat.S_IMODE(folder.stat().st_mode), 0o700)


class Reading(InAFolder):
    def test_what_is_no_plain_file_is_refused_at_once(self) -> None:
        os.mkfifo(self.path)
        for path in (self.path, self.folder, Path("/dev/zero"), Path("/dev/null")):
            with self.assertRaisesRegex(BadFile, "no file that can be read|cannot be read"):
                read_within(path, 100)

    def test_no_more_is_read_than_may_be(self) -> None:
        self.path.write_bytes(b"x" * 101)
        self.assertEqual(len(read_within(self.path, 101)), 101)
        with self.assertRaisesRegex(BadFile, "MB"):
            read_within(self.path, 100)

    def test_names_are_said_whatever_they_are(self) -> None:
        for name in (os.fsdecode(b"caf\xe9"), "no\nsuch", "\0"):
            with self.assertRaises(BadFile) as caught:
                read_within(self.folder / name, 1)
            str(caught.exception).encode("utf-8")


if __name__ == "__main__":
    unittest.main()
