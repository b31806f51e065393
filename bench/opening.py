"""Opening a workspace, the first paint of the window, and memory, each beside a plain reference."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path

from bench.plans import large_plan
from bench.timing import Row, median_ms, row
from hexapod.plan.changes import diff
from hexapod.plan.plan import Plan
from hexapod.session import Session
from hexapod.store.workspace import Workspace

RESIDENT = """
def resident():
    status = open("/proc/self/status").read()
    return int(status.split("VmRSS:")[1].split()[0]) / 1024
"""
PAINT = """
import json, sys, time
began = time.perf_counter()
from pathlib import Path
from hexapod.desktop.app import make_application
app = make_application("light")
from hexapod.desktop.window import Window
from hexapod.session import Session
window = Window(Session.open(Path(sys.argv[1])), print)
window.show(); app.processEvents(); window.grab()
painted = time.perf_counter() - began
window.desk.session.compute(); window.desk.computed.emit(); app.processEvents()
computed = time.perf_counter() - began
window.desk.session.close()
print(json.dumps([painted * 1000, computed * 1000, resident()]))
"""
EMPTY = """
import json, time
began = time.perf_counter()
from PyQt6.QtWidgets import QApplication, QMainWindow
app = QApplication([]); window = QMainWindow(); window.resize(1280, 800)
window.show(); app.processEvents(); window.grab()
import numpy, numba
print(json.dumps([(time.perf_counter() - began) * 1000, 0, resident()]))
"""


def rows() -> Iterator[Row]:
    empty = _figures(EMPTY)
    for size in (10_000, 100_000):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "bench.hexapod"
            plan = large_plan(size)
            workspace = Workspace.create(path)
            workspace.write(diff(Plan(), plan), "Begin", "bench")
            workspace.close()
            session = Session.open(path)
            session.compute()
            session.close()

            def open_it(path: Path = path) -> None:
                Session.open(path).close()

            def read_rows(path: Path = path) -> None:
                """The same rows by plain SQL, without making anything of them."""
                import sqlite3

                connection = sqlite3.connect(path)
                for table in ("tasks", "links", "assignments", "dates"):
                    connection.execute(f"SELECT * FROM {table}").fetchall()
                connection.close()

            yield row(f"open {size:,} tasks", median_ms(open_it, 3), median_ms(read_rows, 3), "plain SELECT")
            painted, computed, memory = _figures(PAINT, str(path))
            yield row(f"first paint, {size:,} tasks", painted, empty[0], "empty window and numba")
            yield row(f"dates computed, {size:,} tasks", computed, empty[0], "empty window and numba")
            yield row(f"memory, {size:,} tasks", memory, empty[2], "empty window and numba", "MB")


def _figures(script: str, *arguments: str) -> list[float]:
    """The middle of three runs."""
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    found = []
    for _ in range(3):
        command = [sys.executable, "-c", RESIDENT + script, *arguments]
        done = subprocess.run(command, env=environment, capture_output=True, text=True, check=True)
        found.append(json.loads(done.stdout.splitlines()[-1]))
    return sorted(found)[1]
