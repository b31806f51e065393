"""Faults put in by hand, one at a time: does any test see them? ``python -m tests.faults [words of the ones wanted]``.

Each runs in a copy of the tree, where kernels are plain Python. A fault that nothing catches is a gap in the tests.
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

from tests.fault_list import FAULTS, Fault

ROOT = Path(__file__).parents[1]
LONGEST = 900  # seconds for one; whatever takes longer is told as hanging


def seen_by(fault: Fault, place: Path) -> str:
    """The first test that sees it, ``nothing``, or what went wrong."""
    shutil.rmtree(place, ignore_errors=True)
    ignored = shutil.ignore_patterns("__pycache__", ".venv", ".git", "*.png", "*.egg-info")
    shutil.copytree(ROOT, place, ignore=ignored)
    file = place / fault.file
    text = file.read_text()
    if text.count(fault.right) != 1:
        return f"cannot be put in: {text.count(fault.right)} places are like it"
    file.write_text(text.replace(fault.right, fault.wrong))
    is_compiled = any(".staffing." in judge or ".outlook." in judge for judge in fault.judges)
    environment = {**os.environ, "PYTHONPATH": str(place), "QT_QPA_PLATFORM": "offscreen"}
    if is_compiled:  # a search, and many rounds, need their kernels; they are compiled anew where the fault is
        environment["XDG_CACHE_HOME"] = environment["NUMBA_CACHE_DIR"] = str(place.parent / "kernels")
        shutil.rmtree(place.parent / "kernels", ignore_errors=True)
    else:
        environment["NUMBA_DISABLE_JIT"] = "1"
        environment["NUMBA_CACHE_DIR"] = str(place.parent / "none")
    command = [sys.executable, "-m", "unittest", "-f", *fault.judges]
    try:
        run = subprocess.run(
            command, cwd=place, env=environment, capture_output=True, text=True, timeout=LONGEST, check=False
        )
    except subprocess.TimeoutExpired:
        return "hangs"
    failed = [line for line in run.stderr.splitlines() if line.startswith(("FAIL:", "ERROR:"))]
    if run.returncode:
        return failed[0] if failed else run.stderr[-300:]
    return "nothing"


def main() -> int:
    words = [w.casefold() for w in sys.argv[1:]]
    chosen = [f for f in FAULTS if not words or any(w in f.what for w in words)]
    unseen = 0
    with tempfile.TemporaryDirectory(prefix="hexapod-faults-") as folder:
        for fault in chosen:
            seen = seen_by(fault, Path(folder) / "tree")
            unseen += seen == "nothing" or seen.startswith("cannot")
            print(f"{fault.what}: {seen}", flush=True)
    print(f"{len(chosen) - unseen} of {len(chosen)} faults seen")
    return 1 if unseen else 0


if __name__ == "__main__":
    sys.exit(main())
