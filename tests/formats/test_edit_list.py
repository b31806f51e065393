"""A list of edits: what each entry does, that all or none are carried out, and that a wrong one is named."""

from __future__ import annotations

import contextlib
import io
import json
import random
import tempfile
import unittest
from pathlib import Path
from typing import Any

from msgspec.structs import replace

from hexapod.cli import main
from hexapod.errors import BadFile, HexapodError
from hexapod.formats.edit_list import edit_of, read_edits
from hexapod.formats.files import load, save
from hexapod.formats.plan_json import read_record, written_record
from hexapod.plan.kinds import KINDS
from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, Link, Resource
from hexapod.schedule.engine import schedule
from tests.support import DAY, project, random_plan, tasks

PLAN = Plan.of([
    project(), *tasks(("a", DAY), ("b", 2 * DAY), ("c", DAY)), Link("a", "b"),
    Resource("r", "Rosa", "a0", initials="RO"), Assignment("a", "r"),
])  # fmt: skip


def carried_out(*entries: dict[str, Any], plan: Plan = PLAN) -> Plan:
    return edit_of(read_edits(json.dumps(entries).encode())).applied_to(plan)


class EditList(unittest.TestCase):
    def test_each_verb_in_order(self) -> None:
        found = carried_out(
            {"add": {"id": "s", "project": "p", "name": "Build"}},
            {"add": {"id": "d", "project": "p", "name": "Glass", "parent": "s", "duration": 960}},
            {"move": {"task": "c", "parent": "s", "before": "d"}},
            {"link": {"predecessor": "c", "successor": "d", "lag": 480}},
            {"set": {"task": "d", "name": "Glazing", "calendar": "always", "limits": [
                {"kind": "start_no_earlier", "at": "2026-09-10T08:00"}]}},
            {"set": {"link": {"predecessor": "a", "successor": "b", "type": "FS"}, "lag": -60}},
            {"add": {"resource": {"id": "q", "name": "Mo", "initials": "MO"}}},
            {"set": {"resource": "r", "capacity": 2, "calendar": "always"}},
            {"add": {"assignment": {"task": "d", "resource": "q"}}},
            {"delete": {"assignment": {"task": "a", "resource": "r"}}},
            {"delete": "b"},
        )  # fmt: skip
        self.assertEqual(found.children[("p", "s")], ("c", "d"))
        self.assertEqual((found.tasks["d"].name, found.tasks["d"].calendar), ("Glazing", "always"))
        self.assertEqual(len(found.tasks["d"].limits), 1)
        self.assertEqual(list(found.links), [("c", "d", "FS")])
        self.assertEqual((found.resources["r"].capacity, found.resources["r"].calendar), (2, "always"))
        self.assertEqual(list(found.assignments), [("d", "q")])
        self.assertNotIn("b", found.tasks)

    def test_what_is_not_said_stays(self) -> None:
        """Of every record of random plans: set to what it is, nothing changes."""
        rng = random.Random(8)
        for _ in range(20):
            plan = random_plan(rng, 12, calendars=2, summaries=True, resources=2, rich=True)
            for kind in KINDS:
                for record in getattr(plan, kind).values():
                    again = read_record(kind, written_record(kind, record))
                    if hasattr(record, "rank"):
                        again = replace(again, rank=record.rank)
                    self.assertEqual(again, record)
            for task in plan.tasks.values():
                self.assertEqual(carried_out({"set": {"task": task.id, "name": task.name}}, plan=plan), plan)

    def test_a_wrong_entry_is_named_with_its_key(self) -> None:
        good = {"set": {"task": "a", "name": "Survey"}}
        for wrong, words in (
            ({"set": {"task": "zz", "name": "x"}}, "edit 2, set: there is no task “zz”"),
            ({"set": {"task": "a", "colour": 1}}, "colour"),
            ({"set": {"task": "a", "duration": "long"}}, "duration"),
            ({"set": {"task": "a", "duration": -5}}, "edit 2, set: "),
            ({"set": {"task": "a", "id": "b"}}, "an id stays"),
            ({"add": {"id": "a", "project": "p"}}, "“a” is there already"),
            ({"add": {"resource": {"name": "no id"}}}, "id"),
            (
                {"link": {"predecessor": "b", "successor": "a"}},
                "edit 2: These tasks would wait for each other in a loop",
            ),
            ({"unlink": {"predecessor": "a"}}, "'successor' is missing"),
            ({"move": {"task": "a", "parent": None, "before": "zz"}}, "“zz”"),
            ({"move": {"task": "a", "to": "b"}}, "“to”"),
            ({"erase": "a"}, "edit 2: it must have one of the keys"),
            ({"delete": 7}, "edit 2, delete"),
            ({"set": "a"}, "edit 2, set"),
        ):
            with self.assertRaises(HexapodError, msg=wrong) as said:
                edit = edit_of(read_edits(json.dumps([good, wrong]).encode()))
                schedule(edit.applied_to(PLAN))
            self.assertIn(words, str(said.exception))

    def test_no_list_at_all(self) -> None:
        for data in (b"", b"{}", b"[1]", b"[" * 100_000, b"\xff"):
            with self.assertRaises(BadFile):
                read_edits(data)

    def run_main(self, *arguments: str) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = main(list(arguments))
        return code, out.getvalue(), err.getvalue()

    def test_a_file_is_changed_or_left_as_it_was(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            good, bad = Path(folder) / "good.json", Path(folder) / "bad.json"
            good.write_text(json.dumps([{"set": {"task": "a", "duration": 2 * DAY}}]))
            bad.write_text(json.dumps([{"set": {"task": "a", "duration": 3 * DAY}}, {"delete": "zz"}]))
            for name in ("plan.json", "plan.hexapod"):
                path = Path(folder) / name
                save(PLAN, str(path), "tester", "Begin")
                code, out, _ = self.run_main("edit", str(path), str(good), "--json")
                self.assertEqual((code, [m["task"] for m in json.loads(out)["moved"]]), (0, ["a", "b"]))
                self.assertEqual(load(str(path)).tasks["a"].duration, 2 * DAY)
                code, out, err = self.run_main("edit", str(path), str(bad))
                self.assertEqual((code, out, err.count("\n")), (2, "", 1))
                self.assertIn("edit 2, delete: there is no task “zz”", err)
                self.assertEqual(load(str(path)).tasks["a"].duration, 2 * DAY)
            table = Path(folder) / "plan.csv"
            save(PLAN, str(table), "tester", "Begin")
            held = table.read_bytes()
            self.assertEqual(self.run_main("edit", str(table), str(good))[0], 2)
            self.assertEqual(table.read_bytes(), held, "a table would lose the half of a plan")
            self.assertEqual(self.run_main("edit", "-", str(good))[0], 2)
            self.assertEqual(self.run_main("edit", str(Path(folder) / "none.json"), str(good))[0], 2)


if __name__ == "__main__":
    unittest.main()
