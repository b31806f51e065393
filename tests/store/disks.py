"""A small disk of memory, to be filled up or made read-only. Needs the right to mount one, as in a container."""

from __future__ import annotations

import contextlib
import os
import subprocess
import tempfile
import unittest
from collections.abc import Iterator
from pathlib import Path


@contextlib.contextmanager
def small_disk(kilobytes: int) -> Iterator[Path]:
    """A folder that is a disk of its own; the test is skipped where none can be made."""
    with tempfile.TemporaryDirectory() as folder:
        mounted = subprocess.run(
            ["mount", "-t", "tmpfs", "-o", f"size={kilobytes}k", "tmpfs", folder], capture_output=True, check=False
        )
        if mounted.returncode:
            raise unittest.SkipTest("no disk can be mounted here")
        try:
            yield Path(folder)
        finally:
            subprocess.run(["umount", "-l", folder], check=True)


def make_read_only(folder: Path) -> None:
    subprocess.run(["mount", "-o", "remount,ro", str(folder)], check=True)


def resize(folder: Path, kilobytes: int) -> None:
    subprocess.run(["mount", "-o", f"remount,size={kilobytes}k", str(folder)], check=True)


@contextlib.contextmanager
def filled(folder: Path, but: int = 0) -> Iterator[None]:
    """Without any room left on the disk, but so many bytes."""
    ballast = folder / "ballast"
    with ballast.open("wb", buffering=0) as file, contextlib.suppress(OSError):
        while True:
            file.write(b"x" * 4096)
    size = ballast.stat().st_size
    os.truncate(ballast, max(0, size - but))
    try:
        yield
    finally:
        ballast.unlink()
