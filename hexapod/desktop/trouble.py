"""What is kept of an error of ours: where in the program it happened, and nothing of anybody's plan."""

from __future__ import annotations

import platform
import traceback
from datetime import datetime
from pathlib import Path
from types import TracebackType

import platformdirs
from PyQt6.QtCore import PYQT_VERSION_STR

from hexapod import __version__
from hexapod.errors import BadFile
from hexapod.system.children import PACKAGE_ROOT
from hexapod.system.files import PRIVATE_FILE, private_folder, remove, write_whole

MOST_KEPT = 50


def report_of(kind: type[BaseException], trace: TracebackType | None) -> str:
    """The kind of the error and the lines that led to it. Messages and values may hold names: they are left out."""
    lines = [f"Hexapod {__version__}, Python {platform.python_version()}, PyQt {PYQT_VERSION_STR}", kind.__name__]
    for frame in traceback.extract_tb(trace):
        path = Path(frame.filename)
        place = path.relative_to(PACKAGE_ROOT) if path.is_relative_to(PACKAGE_ROOT) else Path(path.name)
        lines.append(f"{place}:{frame.lineno} {frame.name}")
    return "\n".join(lines) + "\n"


def write_report(kind: type[BaseException], trace: TracebackType | None) -> Path | None:
    """Where the report is; None if it cannot be kept."""
    try:
        folder = private_folder(Path(platformdirs.user_state_dir("hexapod")) / "reports")
        path = folder / f"{datetime.now():%Y-%m-%dT%H-%M-%S-%f}.txt"
        write_whole(path, report_of(kind, trace).encode("utf-8", "replace"), mode=PRIVATE_FILE)
        for old in sorted(folder.glob("*.txt"))[:-MOST_KEPT]:
            remove(old)
    except (BadFile, OSError):
        return None
    return path
