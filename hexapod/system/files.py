"""The only way in which this program writes a file, and reads one that somebody else may have made.

A file is written under a random name in the folder where it will lie, made exclusively, so that no link that somebody
has put there is followed. It is readable by its owner only while it is in progress. Once it is whole and on the disk it
takes the place, and the permissions, of the one before. Whatever goes wrong until then leaves the old file as it was.
"""

from __future__ import annotations

import contextlib
import errno
import fcntl
import os
import re
import secrets
import shutil
import stat
import time
from collections.abc import Iterator
from pathlib import Path

import platformdirs

from hexapod.errors import BadFile
from hexapod.system.budgets import MEGABYTE

PRIVATE_FILE, PRIVATE_FOLDER = 0o600, 0o700
MOST_OF_A_NAME = 180  # characters of a file's name that its part repeats
PART = re.compile(r"\..*\.[0-9a-f]{16}\.part")
DESERTED = 24 * 3600  # seconds after which nobody is writing a part any more
LITTLE_ROOM = MEGABYTE  # bytes that are left on a disk which is full


@contextlib.contextmanager
def replacing(path: Path, *, mode: int | None = None) -> Iterator[Path]:
    """An empty file beside ``path``, to be filled in the body by its name; it then takes the place of ``path``.

    ``mode`` are its permissions in place of those of the file that was there, or of the usual ones. ``BadFile`` with
    a sentence if it cannot be written.
    """
    try:
        part = _new_part(path)
    except OSError as error:
        raise cannot_write(path, error) from None
    try:
        yield part
        _flush(part)
        os.chmod(part, mode_of(path) if mode is None else mode)
        os.replace(part, path)
        flush_folder(path.parent)
    except OSError as error:
        raise cannot_write(path, error) from None
    finally:
        with contextlib.suppress(OSError):
            os.unlink(part)


def write_whole(path: Path, data: bytes, *, mode: int | None = None) -> None:
    """All of it or nothing. ``BadFile`` if it cannot be written."""
    with replacing(path, mode=mode) as part, part.open("wb") as file:
        file.write(data)


def copy_whole(source: Path, path: Path) -> None:
    """A file's bytes under another name; all of it or nothing. ``BadFile`` if it cannot be read or written."""
    with replacing(path) as part, source.open("rb") as read, part.open("wb") as file:
        shutil.copyfileobj(read, file, MEGABYTE)


def put_in_place(part: Path, path: Path) -> None:
    """Give a finished file a name that nobody has yet. ``FileExistsError`` if it is taken."""
    _flush(part)
    os.link(part, path, follow_symlinks=False)
    os.unlink(part)
    flush_folder(path.parent)


def new_part(path: Path) -> Path:
    """An empty private file beside ``path``, made exclusively, for what is finished by ``put_in_place``."""
    try:
        return _new_part(path)
    except OSError as error:
        raise cannot_write(path, error) from None


def private_folder(folder: Path) -> Path:
    """The folder, made if need be; what we make, nobody else can look into. ``OSError`` if it cannot be made."""
    missing = [place for place in (folder, *folder.parents) if not place.exists()]
    for place in reversed(missing):
        os.makedirs(place, PRIVATE_FOLDER, exist_ok=True)
    found = os.stat(folder)
    if found.st_uid == os.geteuid() and stat.S_IMODE(found.st_mode) & 0o077:
        os.chmod(folder, PRIVATE_FOLDER)
    return folder


@contextlib.contextmanager
def scratch_folder() -> Iterator[Path]:
    """A private folder for as long as the body runs. What processes left that were killed is taken away first."""
    home = private_folder(Path(platformdirs.user_cache_dir("hexapod")) / "scratch")
    for entry in os.scandir(home):
        process = entry.name.partition("-")[0]
        if process.isascii() and process.isdigit() and not _runs(int(process)):
            shutil.rmtree(entry.path, ignore_errors=True)
    folder = home / f"{os.getpid()}-{secrets.token_hex(8)}"
    os.mkdir(folder, PRIVATE_FOLDER)
    try:
        yield folder
    finally:
        shutil.rmtree(folder, ignore_errors=True)


def _runs(process: int) -> bool:
    try:
        os.kill(process, 0)
    except ProcessLookupError:
        return False
    except (OSError, OverflowError):
        pass  # somebody else's
    return True


def make_folder(folder: Path) -> None:
    """A folder for files that the user asked for, with the usual permissions."""
    try:
        os.makedirs(folder, exist_ok=True)
    except OSError as error:
        raise cannot_write(folder, error) from None


@contextlib.contextmanager
def alone(folder: Path) -> Iterator[None]:
    """One process at a time works in a private folder, which is made if need be; the others wait.

    The lock is one of ``flock``: the system takes it back when a process ends, however it ends. ``BadFile`` if the
    folder cannot be used.
    """
    try:
        private_folder(folder)
        handle = os.open(folder / ".lock", os.O_RDWR | os.O_CREAT | os.O_NOFOLLOW | os.O_CLOEXEC, PRIVATE_FILE)
    except OSError as error:
        raise cannot_write(folder, error) from None
    try:
        fcntl.flock(handle, fcntl.LOCK_EX)
        yield
    finally:
        os.close(handle)


def set_aside(path: Path) -> None:
    """A file that cannot be read stays under another name, for whoever wants to look at it."""
    with contextlib.suppress(OSError):
        os.replace(path, path.with_suffix(".damaged"))


def remove(path: Path) -> None:
    """Take a file of ours away; nothing happens if it is not there or must not be touched."""
    with contextlib.suppress(OSError):
        os.unlink(path)


def sweep_parts(folder: Path) -> None:
    """Take away what a killed process has left half written a day ago or earlier."""
    with contextlib.suppress(OSError):
        for entry in os.scandir(folder):
            is_part = PART.fullmatch(entry.name) and entry.is_file(follow_symlinks=False)
            if is_part and time.time() - entry.stat(follow_symlinks=False).st_mtime > DESERTED:
                remove(Path(entry.path))


def read_within(path: Path, most: int, *, until: int | None = None) -> bytes:
    """All bytes of a file, or those before the place ``until``.

    ``BadFile`` if there is none, if it is no plain file, or has more than ``most`` bytes.
    """
    try:
        handle = os.open(path, os.O_RDONLY | os.O_CLOEXEC | os.O_NONBLOCK)  # a pipe must not hold us up
        with os.fdopen(handle, "rb") as file:
            found = os.fstat(handle)
            if not stat.S_ISREG(found.st_mode):
                raise BadFile(f"{shown(path)} is no file that can be read.")
            if found.st_size > most:
                raise BadFile(f"{shown(path)} has {_megabytes(found.st_size)} MB; {_megabytes(most)} MB are the most.")
            data = file.read(most + 1 if until is None else min(until, found.st_size))
    except FileNotFoundError:
        raise BadFile(f"There is no file {shown(path)}.") from None
    except (OSError, ValueError) as error:  # ValueError: a zero byte in the name
        reason = error.strerror if isinstance(error, OSError) else str(error)
        raise BadFile(f"{shown(path)} cannot be read: {reason}.") from None
    if len(data) > most:
        raise BadFile(f"{shown(path)} grows beyond {_megabytes(most)} MB.")
    return data


def shown(path: Path | str) -> str:
    """A path as it can be said, also where its name is not UTF-8."""
    return os.fspath(path).encode("utf-8", "surrogateescape").decode("utf-8", "replace")


def cannot_write(path: Path, error: OSError) -> BadFile:
    """The sentence for a file that could not be written."""
    if error.errno in (errno.ENOSPC, errno.EDQUOT) or is_full(path.parent):
        return BadFile(f"The disk is full: {shown(path)} was not written. Free some space and try again.")
    return BadFile(f"{shown(path)} cannot be written: {error.strerror or error}.")


def is_full(folder: Path) -> bool:
    """Whether the disk of a folder has no room left to speak of."""
    try:
        return shutil.disk_usage(folder).free < LITTLE_ROOM
    except OSError:
        return False


def flush_folder(folder: Path) -> None:
    """A new name outlives a power cut once its folder is on the disk."""
    with contextlib.suppress(OSError):  # some file systems have no such thing
        _flush(folder, os.O_DIRECTORY)


def _new_part(path: Path) -> Path:
    part = path.with_name(f".{path.name[:MOST_OF_A_NAME]}.{secrets.token_hex(8)}.part")
    handle = os.open(part, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW | os.O_CLOEXEC, PRIVATE_FILE)
    try:
        os.fchmod(handle, PRIVATE_FILE)  # also where the mask takes away what the owner may do
    finally:
        os.close(handle)
    return part


def _flush(path: Path, what: int = os.O_NOFOLLOW) -> None:
    handle = os.open(path, os.O_RDONLY | os.O_CLOEXEC | what)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def mode_of(path: Path) -> int:
    """The permissions of the file that is there, else those that a new one of this user gets."""
    with contextlib.suppress(OSError):
        found = os.lstat(path)
        if stat.S_ISREG(found.st_mode):
            return stat.S_IMODE(found.st_mode) & 0o777
    return 0o666 & ~_mask()


def _mask() -> int:
    """What the process takes away of permissions; asked of the system, since ``umask`` can only be set."""
    with contextlib.suppress(OSError, StopIteration, ValueError), open("/proc/self/status", encoding="ascii") as lines:
        return int(next(line for line in lines if line.startswith("Umask:")).split()[1], 8)
    return 0o022


def _megabytes(size: int) -> int:
    return max(1, size // MEGABYTE)
