"""Plan JSON in, dates out, the whole process: beside one that reads it with json and finds rustworkx's longest path."""

from __future__ import annotations

import subprocess
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path

from bench.plans import large_plan
from bench.timing import Row, least_side_by_side, row
from hexapod.formats.plan_json import write_plan

REFERENCE = """
import json, sys
import rustworkx
with open(sys.argv[1], "rb") as file:
    plan = json.load(file)
graph = rustworkx.PyDiGraph()
minutes = {task["id"]: task.get("duration", 0) for task in plan["tasks"]}
nodes = dict(zip(minutes, graph.add_nodes_from(list(minutes))))
ends = ((link["predecessor"], link["successor"]) for link in plan["links"])
graph.add_edges_from([(nodes[one], nodes[other], minutes[one]) for one, other in ends])
found = set(rustworkx.dag_longest_path(graph, weight_fn=lambda source, target, minutes: minutes))
json.dump([{"id": task, "longest": nodes[task] in found} for task in minutes], sys.stdout)
"""
TIMES = 3


def rows() -> Iterator[Row]:
    plan = large_plan(100_000, links=3)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "plan.json"
        path.write_bytes(write_plan(plan))

        def ours() -> None:
            command = [sys.executable, "-m", "hexapod", "schedule", str(path), "--json"]
            subprocess.run(command, stdout=subprocess.DEVNULL, check=True)

        def reference() -> None:
            subprocess.run([sys.executable, "-c", REFERENCE, str(path)], stdout=subprocess.DEVNULL, check=True)

        ours()  # once, so that its kernels are compiled
        times = least_side_by_side(ours, reference, times=TIMES)
        yield row(
            f"plan JSON to dates, {len(plan.tasks):,} tasks, {len(plan.links):,} links", *times, "json, rustworkx"
        )
