"""Where compiled kernels are kept: a folder for each state of their sources. No version runs the kernels of another.

numba notices when the file of a kernel changes, but not when a file changes that the kernel calls into. So the folder
is named by a digest of all files that hold kernels, of the versions of numba and Python, and of the processor.
"""

from __future__ import annotations

import hashlib
import os
import platform
import sys
import time
from importlib import metadata
from pathlib import Path

import platformdirs

from hexapod.system.files import make_folder, remove, write_whole

ROOMS = ("worktime", "schedule", "staffing", "outlook")  # those that hold kernels
PLACE = "NUMBA_CACHE_DIR"  # what numba reads once, when it is imported
READY = "all-compiled"  # the file that says so
UNUSED = 30 * 24 * 3600  # seconds after which a folder that nobody used goes
_PACKAGE = Path(__file__).resolve().parents[1]


def use_own_kernels() -> None:
    """Tell numba, before it is imported, where ours are; not where somebody has said so already."""
    if PLACE not in os.environ:
        os.environ[PLACE] = str(kernel_folder())


def kernel_folder() -> Path:
    """The folder of the kernels of this version, on this machine."""
    return _all() / _digest()


def are_compiled() -> bool:
    """Whether all kernels of this version have been compiled on this machine."""
    return (_in_use() / READY).exists()


def note_compiled() -> None:
    """All kernels are compiled."""
    write_whole(_in_use() / READY, b"")


def _in_use() -> Path:
    return Path(os.environ.get(PLACE) or kernel_folder())


def sweep_kernels() -> None:
    """Take away what other versions left, and nobody used for long."""
    here = kernel_folder()
    make_folder(here)
    os.utime(here)
    for folder in _all().iterdir():
        if folder != here and time.time() - folder.stat().st_mtime > UNUSED:
            for path in sorted(folder.rglob("*"), reverse=True):
                if path.is_file():
                    remove(path)


def _all() -> Path:
    return Path(platformdirs.user_cache_dir("hexapod")) / "kernels"


def _digest() -> str:
    found = hashlib.blake2b(digest_size=12)
    for path in sorted(p for room in ROOMS for p in (_PACKAGE / room).rglob("*.py")):
        found.update(path.relative_to(_PACKAGE).as_posix().encode() + b"\0" + path.read_bytes())
    for part in (metadata.version("numba"), sys.version, platform.machine(), _processor()):
        found.update(part.encode() + b"\0")
    return found.hexdigest()


def _processor() -> str:
    """What the processor is and can do, as Linux tells it: kernels are compiled for it."""
    try:
        text = Path("/proc/cpuinfo").read_text(encoding="utf-8", errors="replace")
    except OSError:
        return platform.processor()
    wanted = ("model name", "flags", "Features", "CPU part")
    return "\n".join(sorted({line for line in text.splitlines() if line.startswith(wanted)}))
