"""Scrolling, zooming, folding, filtering and dragging in the real window, beside a bare list of as many rows."""

from __future__ import annotations

import contextlib
import json
import os
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path

from bench.plans import large_plan
from bench.timing import Row, aimed, percentile, row
from hexapod.plan.changes import diff
from hexapod.plan.plan import Plan
from hexapod.session import Session
from hexapod.store.workspace import Workspace

AIM = 8.0  # milliseconds of a frame, at the 95th percentile
MOVES = ("scroll", "sideways", "zoom", "jump", "fold", "fold all", "filter", "drag")


def rows() -> Iterator[Row]:
    with screen() as environment:
        for size in (150, 100_000):
            bare = _figures(environment, "--bare", str(size))
            reference = percentile(bare["scroll"], 0.95)
            with tempfile.TemporaryDirectory() as folder:
                path = Path(folder) / "bench.hexapod"
                workspace = Workspace.create(path)
                workspace.write(diff(Plan(), large_plan(size)), "Begin", "bench")
                workspace.close()
                session = Session.open(path)
                session.compute()
                session.close()
                found = _figures(environment, str(path))
            for move in MOVES:
                yield aimed(f"{move}, frame p95, {size:,} rows", percentile(found[move], 0.95), AIM)
            yield row(f"scroll, {size:,} rows", percentile(found["scroll"], 0.95), reference, "bare list")
            yield row(f"an empty frame beside, {size:,} rows", percentile(found["scroll"], 0.95),
                      percentile(bare["empty"], 0.95), "empty window")  # fmt: skip
            yield row(f"a jump, all rows whole, p95, {size:,} rows", percentile(found["jump in all"], 0.95), reference,
                      "one frame of it")  # fmt: skip
            yield row(f"a filter, whole, {size:,} rows", max(found["filter in all"]), reference, "one frame of it")


@contextlib.contextmanager
def screen() -> Iterator[dict[str, str]]:
    """A screen to draw on: the one there is, a virtual one, or none."""
    environment = {**os.environ}
    if environment.get("DISPLAY") or not shutil.which("Xvfb"):
        environment.setdefault("QT_QPA_PLATFORM", "xcb" if environment.get("DISPLAY") else "offscreen")
        yield environment
        return
    read, write = os.pipe()
    server = subprocess.Popen(
        ["Xvfb", "-displayfd", str(write), "-screen", "0", "1400x1000x24"], pass_fds=[write], stderr=subprocess.DEVNULL
    )
    os.close(write)
    try:
        with os.fdopen(read) as line:
            environment |= {"DISPLAY": f":{line.readline().strip()}", "QT_QPA_PLATFORM": "xcb"}
        yield environment
    finally:
        server.terminate()
        server.wait()


def _figures(environment: dict[str, str], *arguments: str) -> dict[str, list[float]]:
    command = [sys.executable, "-m", "bench.in_window", *arguments]
    done = subprocess.run(command, env=environment, capture_output=True, text=True, check=True)
    found: dict[str, list[float]] = json.loads(done.stdout.splitlines()[-1])
    return found
