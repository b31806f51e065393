"""Run all tests: groups in processes of their own, and one closing line for all.

Desktop tests need Qt without a screen, journeys need an X screen, and a process can have only one of the two.
"""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from hexapod.system.kernels import PLACE, kernel_folder

IS_DEEP = "--deep" in sys.argv[1:]
LONGEST = 1050  # seconds for a group; what takes longer hangs
LONGEST_DEEP = 4 * 3600
CACHE = tempfile.TemporaryDirectory(prefix="hexapod-cache-", ignore_cleanup_errors=True)
ROOT = Path(__file__).parents[1]
JOURNEYS = "journeys"  # keys and mouse in real time; all others run on what they leave of the machine
GROUPS = (
    (JOURNEYS, ["tests/journeys"]),
    ("desktop", ["tests/desktop"]),
    (
        "staffing",
        [
            "tests/staffing",
            "tests/control",
            "tests/formats",
            "tests/expressions",
            "tests/fields",
            "tests/lines",
            "tests/query",
        ],
    ),
    (
        "store",
        [
            "tests/system",
            "tests/store",
            "tests/test_session.py",
            "tests/test_scenarios.py",
            "tests/test_notifying.py",
            "tests/test_cli.py",
            "tests/test_cli_telling.py",
            "tests/test_package.py",
        ],
    ),
    ("schedule", ["tests/schedule", "tests/plan", "tests/worktime", "tests/outlook", "tests/reports"]),
)


def modules_of(places: list[str]) -> list[str]:
    found = []
    for place in places:
        path = ROOT / place
        files = [path] if path.suffix else sorted(path.glob("test_*.py"))
        found += [".".join(file.relative_to(ROOT).with_suffix("").parts) for file in files]
    return found


def run_group(name: str, places: list[str]) -> tuple[int, int, str]:
    """(tests run, tests failed, what was printed)."""
    if IS_DEEP:
        os.environ["HEXAPOD_DEEP"] = "1"
    environment = {**os.environ, "PYTHONWARNINGS": "ignore", "XDG_CACHE_HOME": str(Path(CACHE.name) / name)}
    environment["XDG_STATE_HOME"] = environment["XDG_CACHE_HOME"] + "-state"
    environment[PLACE] = str(kernel_folder())  # those that set-up compiled
    if not IS_DEEP:
        environment["PYTHONHASHSEED"] = "0"  # so that sets are walked through in the same order each time
    command = [sys.executable, "-m", "tests.group", *modules_of(places)]
    if name != JOURNEYS:
        environment["QT_QPA_PLATFORM"] = "offscreen"
        command = ["nice", "-n", "19", *command]
    began = time.monotonic()
    with tempfile.TemporaryFile("w+") as output:
        process = subprocess.Popen(command, cwd=ROOT, env=environment, stdout=output, stderr=subprocess.STDOUT)
        try:
            code = process.wait(timeout=LONGEST_DEEP if IS_DEEP else LONGEST)
        except subprocess.TimeoutExpired:
            process.kill()
            code = process.wait()
        output.seek(0)
        text = output.read()
    counts = [line.split() for line in text.splitlines() if line.startswith("counted ")]
    ran, failed = (int(counts[-1][1]), int(counts[-1][2])) if counts else (1, 1)
    if code and not failed:
        failed = 1
    print(f"{name}: {ran} run, {failed} failed, {time.monotonic() - began:.0f} s", flush=True)
    return ran, failed, text


def main() -> int:
    """All groups; with ``--deep`` those that look for faults go many more rounds."""
    with ThreadPoolExecutor(max_workers=len(GROUPS)) as pool:
        results = list(pool.map(lambda group: run_group(*group), GROUPS))
    CACHE.cleanup()
    ran, failed = sum(r[0] for r in results), sum(r[1] for r in results)
    for _, bad, text in results:
        if bad:
            print(text)
    print(f"{ran - failed} passed, {failed} failed")
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
