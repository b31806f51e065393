"""The command line as a program: what it prints, and what it says of bad input."""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from hexapod.formats.plan_json import read_plan, write_plan
from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, Link, Resource
from tests.support import DAY, project, tasks

PLAN = Plan.of(
    [
        project(),
        *tasks(("a", 3 * DAY), ("b", 2 * DAY), ("c", 9 * DAY)),
        Link("a", "b"),
        Resource("r", "Scissor lift", "a0", initials="SL"),
        Assignment("a", "r"),
        Assignment("b", "r"),
        Assignment("c", "r"),
    ]
)


def hexapod(*arguments: str, stdin: bytes = b"") -> subprocess.CompletedProcess[bytes]:
    return subprocess.run([sys.executable, "-m", "hexapod", *arguments], input=stdin, capture_output=True, check=False)


class Commands(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.file = self.folder / "plan.json"
        self.file.write_bytes(write_plan(PLAN))

    def json_of(self, *arguments: str) -> dict:  # type: ignore[type-arg]
        done = hexapod(*arguments, "--json")
        self.assertEqual((done.returncode, done.stderr), (0, b""))
        return json.loads(done.stdout)

    def test_schedule(self) -> None:
        found = self.json_of("schedule", str(self.file))
        self.assertEqual(found["projects"], [{"id": "p", "start": "2026-09-07T08:00", "finish": "2026-09-17T17:00"}])
        b = found["tasks"][1]
        self.assertEqual((b["id"], b["early_start"], b["late_finish"]), ("b", "2026-09-10T08:00", "2026-09-17T17:00"))
        self.assertEqual((b["total_float"], b["free_float"], b["critical"]), (4 * DAY, 4 * DAY, False))
        self.assertEqual(b["reason"]["predecessor"], "a")
        self.assertEqual([t["longest_path"] for t in found["tasks"]], [False, False, True])

    def test_level(self) -> None:
        found = self.json_of("level", str(self.file))
        self.assertEqual((found["overloads_before"], found["overloads_after"]), (1, 0))
        self.assertEqual((found["finish_before"], found["finish_after"]), ("2026-09-17T17:00", "2026-09-24T17:00"))
        self.assertLessEqual(found["lower_bound"], found["finish_after"])
        self.assertTrue(all({"task", "from", "to", "resource", "gives_way_to"} <= set(m) for m in found["moves"]))
        within = self.json_of("level", str(self.file), "--within-float")
        self.assertEqual(within["finish_after"], within["finish_before"])
        self.assertTrue(within["left_over"])

    def test_why_by_id_number_and_name(self) -> None:
        for name in ("b", "2"):
            found = self.json_of("why", str(self.file), name)
            self.assertEqual([step["kind"] for step in found["chain"]], ["link", "project_start"])
        self.assertIn("waits for the finish of", hexapod("why", str(self.file), "b").stdout.decode())

    def test_convert_there_and_back_through_a_workspace(self) -> None:
        workspace, again = self.folder / "w.hexapod", self.folder / "again.json"
        self.assertEqual(hexapod("convert", str(self.file), str(workspace)).returncode, 0)
        self.assertEqual(hexapod("convert", str(workspace), str(again)).returncode, 0)
        self.assertEqual(again.read_bytes(), self.file.read_bytes())
        self.assertEqual(read_plan(again.read_bytes()), read_plan(self.file.read_bytes()))
        self.assertEqual(self.json_of("schedule", str(workspace)), self.json_of("schedule", str(self.file)))

    def test_tables_for_people_and_standard_input(self) -> None:
        done = hexapod("schedule", "-", stdin=self.file.read_bytes())
        self.assertIn("2026-09-10 08:00", done.stdout.decode())
        self.assertEqual(done.returncode, 0)

    def test_bad_input_is_one_line_and_exit_2(self) -> None:
        self.file.write_text('{"format": "hexapod-plan", "version": 1, "links": [{"predecessor": "x"}]}')
        (self.folder / "other.hexapod").write_text("nothing")
        loop = Plan.of([project(), *tasks(("a", 1), ("b", 1)), Link("a", "b"), Link("b", "a")])
        (self.folder / "loop.json").write_bytes(write_plan(loop))
        for arguments in (
            ("schedule", str(self.file)),
            ("schedule", str(self.folder / "none.json")),
            ("schedule", str(self.folder / "other.hexapod")),
            ("schedule", str(self.folder / "loop.json")),
            ("level", str(self.folder)),
            ("why", str(self.folder / "loop.json"), "zz"),
            ("convert", str(self.file), "/proc/x/y.json"),
            ("schedule",),
        ):
            done = hexapod(*arguments)
            self.assertEqual(done.returncode, 2, arguments)
            self.assertEqual(done.stdout, b"")
            if len(arguments) > 1:
                self.assertEqual(len(done.stderr.decode().strip().splitlines()), 1, done.stderr)
        self.assertIn("“a” → “b” → “a”", hexapod("schedule", str(self.folder / "loop.json")).stderr.decode())
