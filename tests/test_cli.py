"""The command line as a program: what it prints, and what it says of bad input."""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from msgspec.structs import replace

from hexapod.formats.plan_json import read_plan, write_plan
from hexapod.plan import edits
from hexapod.plan.plan import Plan
from hexapod.plan.records import (
    Assignment,
    Held,
    Limit,
    LimitKind,
    Link,
    Reservation,
    Resource,
    ResourceKind,
)
from hexapod.plan.risks import Risk, RiskDelay
from hexapod.scenarios import ScenarioSession, make_scenario
from hexapod.session import Session
from tests.support import DAY, MONDAY, project, tasks

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

    def test_what_is_no_command_and_no_file_is_said_and_opens_nothing(self) -> None:
        for arguments in (("paint",), ("none.hexapod",), ("pyproject.toml", "two"), ("paint", "x", "y")):
            done = hexapod(*arguments)
            self.assertEqual((done.returncode, done.stdout, done.stderr.count(b"\n")), (2, b"", 1), arguments)

    def test_schedule(self) -> None:
        found = self.json_of("schedule", str(self.file))
        self.assertEqual(found["projects"], [{"id": "p", "start": "2026-09-07T08:00", "finish": "2026-09-17T17:00"}])
        b = found["tasks"][1]
        self.assertEqual((b["id"], b["early_start"], b["late_finish"]), ("b", "2026-09-10T08:00", "2026-09-17T17:00"))
        self.assertEqual((b["total_float"], b["free_float"], b["critical"]), (4 * DAY, 4 * DAY, False))
        self.assertEqual(b["reason"]["predecessor"], "a")
        self.assertEqual([t["longest_path"] for t in found["tasks"]], [False, False, True])

    def test_what_is_left_over_says_by_name_what_would_resolve_it(self) -> None:
        must = (Limit(LimitKind.MUST_START, MONDAY),)
        two = [replace(t, limits=must) for t in tasks(("a", DAY), ("b", 2 * DAY))]
        crane = Resource("c", "Crane", "a0", ResourceKind.EQUIPMENT)
        plan = Plan.of([project(), *two, crane, Assignment("a", "c"), Assignment("b", "c")])
        self.file.write_bytes(write_plan(plan))
        found = self.json_of("level", str(self.file))
        self.assertEqual((found["overloads_before"], found["overloads_after"], found["moves"]), (1, 1, []))
        (left,) = found["left_over"]
        self.assertEqual((left["resource"], left["peak"], sorted(left["tasks"])), ("c", 2.0, ["a", "b"]))
        (way,) = left["ways_out"]
        self.assertEqual((way["way"], way["units"], way["finish_later"]), ("capacity", 1, 0))
        table = hexapod("level", str(self.file)).stdout.decode()
        self.assertIn("Left over: Crane", table)

    def test_a_task_between_fixed_ones_could_be_split(self) -> None:
        must = (Limit(LimitKind.MUST_START, MONDAY + 2 * 1440),)
        a, b, c = tasks(("a", 6 * DAY), ("b", DAY), ("c", 20 * DAY))
        plan = Plan.of([project(), replace(a, pinned=True), replace(b, limits=must), c, Resource("r", "Ada", "a0"),
                        Assignment("a", "r"), Assignment("b", "r")])  # fmt: skip
        self.file.write_bytes(write_plan(plan))
        left = self.json_of("level", str(self.file), "--within-float")["left_over"]
        ways = {w["way"]: w for w in left[0]["ways_out"]}
        self.assertEqual(ways["capacity"]["units"], 1)
        self.assertNotIn("split", ways, "what is pinned is not parted")
        free = Plan.of([project(), a, replace(b, limits=must), c, Resource("r", "Ada", "a0"),
                        Assignment("a", "r"), Assignment("b", "r")])  # fmt: skip
        self.file.write_bytes(write_plan(free))
        self.assertEqual(self.json_of("level", str(self.file), "--within-float")["left_over"], [], "it simply waits")

    def test_tasks_are_interrupted_only_where_that_is_asked_for(self) -> None:
        a, b, x, u, c = tasks(("a", 10 * DAY), ("b", 7 * DAY), ("x", 4 * DAY), ("u", 3 * DAY), ("c", 10 * DAY))
        links = (Link("a", "b"), Link("x", "u"), Link("u", "c"))
        plan = Plan.of([project(), a, b, x, u, c, *links, Resource("r", "Ada", "a0"),
                        Assignment("a", "r"), Assignment("u", "r")])  # fmt: skip
        self.file.write_bytes(write_plan(plan))
        whole, found = (self.json_of("level", str(self.file), *more) for more in ((), ("--interrupt",)))
        self.assertNotIn("parts", whole)
        self.assertLess(found["finish_after"], whole["finish_after"])
        (part,) = found["parts"]
        self.assertEqual((part["task"], part["minutes"]), ("a", 4 * DAY))
        self.assertEqual({t["id"] for t in found["tasks"]}, {*plan.tasks, part["rest"]})
        self.assertIn("Interrupted: a, after 4 d", hexapod("level", str(self.file), "--interrupt").stdout.decode())

    def test_promises_and_kept_efforts_go_through_the_formats(self) -> None:
        held = replace(PLAN.tasks["a"], effort=960, keeps=Held.EFFORT)
        promised = Reservation("v", "p", "r", 0.5, MONDAY // 1440, None)
        plan = Plan.of([*(r for kind in ("projects",) for r in getattr(PLAN, kind).values()),
                        held, PLAN.tasks["b"], PLAN.tasks["c"], *PLAN.links.values(), *PLAN.resources.values(),
                        *PLAN.assignments.values(), promised])  # fmt: skip
        self.file.write_bytes(write_plan(plan))
        workspace = self.folder / "plan.hexapod"
        back = self.folder / "back.json"
        for source, target in ((self.file, workspace), (workspace, back)):
            done = hexapod("convert", str(source), str(target))
            self.assertEqual((done.returncode, done.stderr), (0, b""))
        self.assertEqual(read_plan(back.read_bytes()), plan)

    def test_the_further_keys_of_the_contract(self) -> None:
        """Each key that later parts added, in one document, and what it does to the dates."""
        document = {
            "format": "hexapod-plan", "version": 1,
            "calendars": [
                {"id": "nights", "week": {"mon": ["22:00-06:00"], "tue": ["22:00-06:00"]}},
                {"id": "own", "base": "standard", "holidays": "GB-SCT", "exceptions": [
                    {"rule": "DTSTART:20260908T000000\nRRULE:FREQ=WEEKLY", "working": []}]},
            ],
            "projects": [
                {"id": "p", "start": "2026-09-07T08:00", "calendar": "own", "unit": "h"},
                {"id": "back", "start": "2026-01-01", "direction": "backward", "finish": "2026-09-18T17:00"},
                {"id": "warned", "start": "2026-09-07T08:00", "gap": "warn"},
            ],
            "tasks": [
                {"id": "a", "project": "p", "duration": 960},
                {"id": "b", "project": "p", "duration": 480, "calendar": "nights"},
                {"id": "c", "project": "p", "duration": 1440, "elapsed": True},
                {"id": "s", "project": "p", "kind": "span"},
                {"id": "late", "project": "p", "duration": 480, "as_late_as_possible": True},
                {"id": "x", "project": "back", "duration": 480}, {"id": "y", "project": "back", "duration": 960},
                {"id": "u", "project": "warned", "duration": 960}, {"id": "v", "project": "warned", "duration": 480},
                {"id": "w", "project": "warned", "kind": "milestone", "tags": ["t"], "fields": {"Cost": 5}},
            ],
            "links": [
                {"predecessor": "a", "successor": "b", "lag": 60, "lag_on": "elapsed"},
                {"predecessor": "a", "successor": "c", "lag_percent": 50},
                {"predecessor": "a", "successor": "s", "type": "SS"},
                {"predecessor": "b", "successor": "s", "type": "FF"},
                {"predecessor": "late", "successor": "c"}, {"predecessor": "x", "successor": "y"},
                {"predecessor": "u", "successor": "v"}, {"predecessor": "v", "successor": "w", "gap": "use"},
            ],
            "resources": [{"id": "r", "kind": "person", "leave": [{"from": "2026-09-18"}]}],
            "assignments": [{"task": "y", "resource": "r"}],
        }  # fmt: skip
        self.file.write_text(json.dumps(document))
        found = self.json_of("schedule", str(self.file))
        dates = {t["id"]: (t["start"], t["finish"]) for t in found["tasks"]}
        self.assertEqual(dates["a"], ("2026-09-07T08:00", "2026-09-09T17:00"))  # no work on Tuesdays
        self.assertEqual(dates["b"], ("2026-09-14T22:00", "2026-09-15T06:00"))
        self.assertEqual(dates["s"], (dates["a"][0], dates["b"][1]))
        self.assertEqual((dates["c"][0], dates["late"][1]), ("2026-09-10T01:00", "2026-09-09T17:00"))
        self.assertEqual((dates["x"][0], dates["y"]), ("2026-09-15T08:00", ("2026-09-16T08:00", "2026-09-17T17:00")))
        self.assertEqual((dates["v"][0], dates["w"][0]), ("2026-09-07T08:00", "2026-09-07T17:00"))
        self.assertEqual({p["id"]: p["start"] for p in found["projects"]}["back"], "2026-09-15T08:00")
        (conflict,) = found["conflicts"]
        self.assertEqual((conflict["kind"], conflict["task"], conflict["by"]), ("overlap", "v", 960))
        back = self.folder / "again.json"
        self.assertEqual(hexapod("convert", str(self.file), str(back)).returncode, 0)
        self.assertEqual(read_plan(back.read_bytes()), read_plan(self.file.read_bytes()))
        why = self.json_of("why", str(self.file), "y")
        self.assertEqual(why["chain"][0]["kind"], "project_finish")
        (near,) = self.json_of("why", str(self.file), "c")["next"]
        self.assertEqual((near["predecessor"], near["slack"]), ("late", 480))

    def test_hours_money_and_baselines_go_through_the_edit_list_into_value(self) -> None:
        monday, friday = "2026-09-07T08:00", "2026-09-07T17:00"
        entries = [
            {"add": {"log": {"id": "l", "task": "a", "resource": "r", "day": "2026-09-07", "minutes": 90}}},
            {"add": {"sheet": {"id": "s", "resource": "r", "week": "2026-W37", "state": "handed_in"}}},
            {"add": {"entry": {"id": "e", "project": "p", "kind": "cost", "amount": 250, "day": "2026-09-07"}}},
            {"add": {"budget": {"id": "b", "project": "p", "amount": 9000}}},
            {"add": {"baseline": {"id": "first", "project": "p", "at": monday, "tasks": [
                {"task": "a", "start": monday, "finish": friday, "duration": 480, "effort": 480, "cost": 4000}]}}},
            {"set": {"project": "p", "baseline": "first", "status_date": friday}},
            {"set": {"task": "a", "percent": 50, "actual_start": monday, "earns": "half"}},
            {"set": {"baseline": "first", "name": "First plan"}},
        ]  # fmt: skip
        edits_file, workspace = self.folder / "edits.json", self.folder / "plan.hexapod"
        edits_file.write_text(json.dumps(entries))
        self.assertEqual(hexapod("convert", str(self.file), str(workspace)).returncode, 0)
        for file in (self.file, workspace):
            done = hexapod("edit", str(file), str(edits_file))
            self.assertEqual((done.returncode, done.stderr), (0, b""))
            found = self.json_of("value", str(file))
            whole = next(p for p in found["projects"] if p["id"] == "p")
            self.assertEqual((found["at"], whole["pv"], whole["ev"], whole["ac"]), (friday, 480, 240, 90))
            rows = {t["id"]: (t["pv"], t["ev"], t["ac"]) for t in found["tasks"]}
            self.assertEqual(rows["a"], (480, 240, 90))
            money = hexapod("value", str(file), "--in", "money", "--at", "2026-09-07", "--json")
            whole = next(p for p in json.loads(money.stdout)["projects"] if p["id"] == "p")
            self.assertEqual((whole["pv"], whole["ev"], whole["ac"], whole["bac"]), (4000, 2000, 250, 4000))
        early = hexapod("value", str(workspace), "--at", "2026-09-06", "--json")
        whole = next(p for p in json.loads(early.stdout)["projects"] if p["id"] == "p")
        self.assertEqual((whole["pv"], whole["ev"], whole["spi"]), (0, None, None))
        self.assertEqual(hexapod("value", str(workspace), "--at", "someday").returncode, 2)
        for wrong in ({"delete": {"resource": "r"}}, {"set": {"log": "l", "minutes": 0}}, {"delete": {"log": "x"}},
                      {"add": {"sheet": {"id": "t", "resource": "r", "week": "2026-W37"}}}):  # fmt: skip
            edits_file.write_text(json.dumps([wrong]))
            self.assertEqual(hexapod("edit", str(workspace), str(edits_file)).returncode, 2, wrong)

    def test_simulate_says_how_sure_each_date_is(self) -> None:
        draft = PLAN.draft()
        draft.put(replace(PLAN.tasks["a"], estimate=(2 * DAY, 3 * DAY, 8 * DAY)))
        risk = Risk("q", "p", "Lift breaks", chance=0.5, delays=(RiskDelay("c", (DAY, DAY, DAY)),), chance_after=0.0)
        draft.put(risk)
        draft.put(replace(PLAN.projects["p"], target_finish=MONDAY + 14 * 1440))
        self.file.write_bytes(write_plan(draft.finish()[0]))
        found = self.json_of("simulate", str(self.file), "--iterations", "500", "--seed", "3")
        self.assertEqual((found["iterations"], found["seed"], found["notes"]), (500, 3, []))
        (whole,) = found["projects"]
        self.assertEqual(whole["id"], "p")
        order = [whole[name] for name in ("p10", "p50", "p80", "p90")]
        self.assertEqual(order, sorted(order))
        self.assertTrue(0 <= whole["chance_of_plan"] <= whole["chance_of_target"] <= 1)
        tasks_found = {t["id"]: t for t in found["tasks"]}
        self.assertEqual(set(tasks_found), {"a", "b", "c"})
        self.assertIsNone(tasks_found["b"]["cruciality"], "it is certain")
        self.assertEqual(tasks_found["b"]["criticality"], tasks_found["a"]["criticality"])
        (lift,) = found["risks"]
        self.assertAlmostEqual(lift["happened"], 0.5, delta=0.1)
        self.assertGreater(lift["adds_mean"], 0)
        self.assertEqual(found, self.json_of("simulate", str(self.file), "--iterations", "500", "--seed", "3"))
        after = self.json_of("simulate", str(self.file), "--iterations", "500", "--after")
        self.assertEqual(after["risks"][0]["happened"], 0)
        self.assertIn("8 in 10 by", hexapod("simulate", str(self.file), "--iterations", "50").stdout.decode())
        levelled = self.json_of("simulate", str(self.file), "--iterations", "200", "--with-capacities")
        self.assertGreater(levelled["projects"][0]["p50"], whole["p50"], "the lift is needed by all three")
        self.assertEqual({t["criticality"] for t in levelled["tasks"]}, {None})
        bad = hexapod("simulate", str(self.file), "--iterations", "0")
        self.assertEqual(bad.returncode, 2)
        self.assertIn(b"from 1 to 1,000,000", bad.stderr)

    def test_scenarios_stand_side_by_side_and_one_is_written_as_a_plan(self) -> None:
        path = self.folder / "w.hexapod"
        self.assertEqual(hexapod("convert", str(self.file), str(path)).returncode, 0)
        session = Session.open(path)
        session.compute()
        shorter = ScenarioSession(session, make_scenario(session, "Shorter", note="Half of c").id)
        shorter.compute()
        shorter.apply(edits.set_durations(shorter.plan, ["c"], 4 * DAY))
        behind = make_scenario(session, "Behind")
        session.apply(edits.set_durations(session.plan, ["c"], 8 * DAY))
        session.close()
        found = self.json_of("scenarios", str(path))
        columns = [(c["name"], c["edits"], c["behind"], c["conflicts"]) for c in found["columns"]]
        self.assertEqual(columns, [("As it is", 0, 0, 0), ("Shorter", 1, 1, 1), ("Behind", 0, 1, 0)])
        finish = next(row for row in found["rows"] if row["kind"] == "finish")
        planned, after = (self.json_of("schedule", str(f)) for f in (path, self.plan_of(path, "Shorter")))
        wanted = [planned["projects"][0]["finish"], after["projects"][0]["finish"]]
        self.assertEqual((finish["values"][:2], finish["best"]), (wanted, [1]))
        self.assertEqual(read_plan(self.plan_of(path, behind.id).read_bytes()).tasks["c"].duration, 9 * DAY)
        words = hexapod("scenarios", str(path)).stdout.decode()
        self.assertIn("the plan moved on by 1 edit", words)
        for arguments in (
            ("scenarios", str(self.file)),
            ("convert", str(path), str(path) + "2.json", "--scenario", "x"),
        ):
            bad = hexapod(*arguments)
            self.assertEqual((bad.returncode, bad.stderr.count(b"\n")), (2, 1), arguments)

    def plan_of(self, path: Path, scenario: str) -> Path:
        target = self.folder / f"{scenario}.json"
        self.assertEqual(hexapod("convert", str(path), str(target), "--scenario", scenario).returncode, 0)
        return target

    def test_stages_go_through_the_edit_list_and_say_how_far_a_card_is(self) -> None:
        entries = [
            {"add": {"stage": {"id": "hand", "name": "In hand", "percent": 50, "limit": 2}}},
            {"set": {"task": "a", "on_board": True, "stage": "hand"}},
            {"add": {"errand": {"id": "e", "resource": "r", "name": "Pins", "due": "2026-09-09"}}},
        ]
        edits_file, workspace = self.folder / "edits.json", self.folder / "plan.hexapod"
        edits_file.write_text(json.dumps(entries))
        self.assertEqual(hexapod("convert", str(self.file), str(workspace)).returncode, 0)
        for file in (self.file, workspace):
            done = hexapod("edit", str(file), str(edits_file))
            self.assertEqual((done.returncode, done.stderr), (0, b""))
            found = {t["id"]: t for t in self.json_of("status", str(file))["tasks"]}
            self.assertEqual((found["a"]["state"], found["a"]["percent"]), ("begun", 50.0))
        back = self.folder / "back.json"
        hexapod("convert", str(workspace), str(back))
        document = json.loads(back.read_bytes())
        self.assertEqual(document["stages"], [{"id": "hand", "name": "In hand", "percent": 50.0, "limit": 2}])
        self.assertEqual(document["errands"], [{"id": "e", "resource": "r", "name": "Pins", "due": "2026-09-09"}])
        for wrong in ({"delete": {"stage": "none"}}, {"set": {"task": "a", "stage": "none"}},
                      {"add": {"stage": {"id": "x", "name": "in hand"}}}):  # fmt: skip
            edits_file.write_text(json.dumps([wrong]))
            self.assertEqual(hexapod("edit", str(workspace), str(edits_file)).returncode, 2, wrong)

    def test_notices_are_made_once_also_while_somebody_works_in_the_workspace(self) -> None:
        ito = Resource("ito", "Ito Vale", "a1", email="ito@museum.example")
        lee = Resource("lee", "Lee Marsh", "a2")
        records = [r for k in ("projects", "tasks", "links") for r in getattr(PLAN, k).values()]
        plan = Plan.of([*records, ito, lee, Assignment("a", "ito"), Assignment("b", "lee")])
        self.file.write_bytes(write_plan(plan))
        workspace, outbox = self.folder / "plan.hexapod", self.folder / "outbox"
        hexapod("convert", str(self.file), str(workspace))
        session = Session.open(workspace)
        self.addCleanup(session.close)
        for file, again in ((workspace, False), (workspace, True), (self.file, False)):
            made = self.json_of("notices", str(file), "--outbox", str(outbox if file is workspace else outbox / "json"))
            self.assertEqual([m["to"] for m in made["mails"]], [] if again else ["Ito Vale <ito@museum.example>"])
            self.assertEqual(made["without_address"], ["Lee Marsh"])
        self.assertEqual(len(list(outbox.glob("*.eml"))), 1)
        self.assertEqual(made["mails"][0]["items"][0]["kind"], "overdue", "the dates are long past")
        done = hexapod("notices", str(workspace), "--outbox", "/proc/nowhere")
        self.assertEqual((done.returncode, len(done.stderr.splitlines())), (2, 1))

    def test_check(self) -> None:
        found = {f["check"]: f for f in self.json_of("check", str(self.file))["findings"]}
        self.assertEqual(found["unassigned"]["count"], 0)
        self.assertTrue(found["leads"]["passed"] and found["leads"]["source"].startswith("DCMA 2"))
        self.assertIn("Open ends", hexapod("check", str(self.file)).stdout.decode())

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
