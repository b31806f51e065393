"""Plan JSON both ways and under attack; links and assignments as people type them."""

from __future__ import annotations

import json
import random
import unittest
from pathlib import Path

import jsonschema

from hexapod.errors import BadFile, BadText
from hexapod.fields.assignment_text import format_assignments, parse_assignments
from hexapod.fields.link_text import format_links, parse_links
from hexapod.formats.plan_json import read_plan, schema, write_plan
from hexapod.plan import edits
from hexapod.plan.outline import outline_order
from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, Link, LinkType, Resource
from hexapod.schedule.engine import schedule
from tests.support import project, random_plan, tasks

DOCS = Path(__file__).parents[2] / "docs"


def document(**parts: object) -> dict[str, object]:
    base: dict[str, object] = {
        "format": "hexapod-plan",
        "version": 1,
        "projects": [{"id": "p", "start": "2026-09-07T08:00"}],
        "tasks": [{"id": "a", "project": "p", "duration": 480}, {"id": "b", "project": "p"}],
    }
    return {**base, **parts}


class PlanJson(unittest.TestCase):
    def test_round_trips_keep_the_plan_its_order_and_its_dates(self) -> None:
        rng = random.Random(61)
        for _ in range(30):
            plan = random_plan(rng, 20, calendars=2, summaries=True, resources=3, projects=2)
            again = read_plan(write_plan(plan))
            self.assertEqual(list(outline_order(again)), list(outline_order(plan)))
            self.assertEqual(write_plan(again), write_plan(plan))
            one, other = schedule(plan), schedule(again)
            for task_id in plan.tasks:
                self.assertEqual(one.dates(task_id), other.dates(task_id))
            jsonschema.validate(json.loads(write_plan(plan)), schema())

    def test_the_contracts_own_example(self) -> None:
        example = json.loads((DOCS / "plan-json.md").read_text().split("```json")[1].split("```")[0])
        plan = read_plan(json.dumps(example).encode())
        self.assertEqual(plan.tasks["a"].duration, 1440)
        self.assertEqual(plan.calendars["site"].week[0], ((420, 720), (750, 930)))

    def test_the_published_schema_is_the_one_in_force(self) -> None:
        self.assertEqual(json.loads((DOCS / "plan.schema.json").read_text()), schema())

    def test_mistakes_name_their_place(self) -> None:
        task = {"id": "a", "project": "p"}
        for parts, pattern in (
            ({"birds": []}, "birds"),
            ({"tasks": [{**task, "colour": "red"}]}, r"colour.*tasks\[0\]|tasks\[0\].*colour|colour"),
            ({"tasks": [{**task, "duration": "3d"}]}, r"\$\.tasks\[0\]\.duration"),
            ({"tasks": [{**task, "duration": 1.5}]}, r"\$\.tasks\[0\]\.duration"),
            ({"tasks": [{**task, "duration": -1}]}, r"\$\.tasks\[0\]: .*duration"),
            ({"tasks": [{**task, "duration": 10**15}]}, r"\$\.tasks\[0\]"),
            ({"tasks": [{**task, "duration": 10**30}]}, r"\$\.tasks\[0\]"),
            ({"tasks": [task, task]}, r"\$\.tasks\[1\]: “a” is there already"),
            ({"tasks": [{"id": "", "project": "p"}]}, r"\$\.tasks\[0\]\.id"),
            ({"tasks": [{"id": "a", "project": "q"}]}, r"\$\.tasks\[0\]: .*“q”"),
            ({"tasks": [{**task, "parent": "a"}]}, r"\$\.tasks\[0\]: .*below itself"),
            ({"tasks": [{**task, "parent": "b"}, {"id": "b", "project": "p", "parent": "a"}]}, "below itself"),
            ({"links": [{"predecessor": "a", "successor": "z"}]}, r"\$\.links\[0\]: .*“z”"),
            ({"links": [{"predecessor": "a", "successor": "b", "type": "XX"}]}, r"\$\.links\[0\]\.type"),
            ({"projects": [{"id": "p", "start": "soon"}], "tasks": []}, r"\$\.projects\[0\]\.start"),
            ({"projects": [{"id": "p", "start": "2026-09-07T08:00", "calendar": "x"}]}, r"\$\.projects\[0\]"),
            ({"calendars": [{"id": "c", "week": {"mon": ["12:00-12:00"]}}]}, r"week\.mon\[0\]"),
            ({"calendars": [{"id": "c", "week": {"mon": ["08:00-12:00", "11:00-13:00"]}}]}, r"\$\.calendars\[0\]"),
            ({"calendars": [{"id": "c", "base": "c", "week": {}}]}, "built on itself"),
            ({"calendars": [{"id": "standard", "week": {"mon": []}}]}, "built-in"),
            ({"resources": [{"id": "r", "capacity": -1}]}, r"\$\.resources\[0\]"),
            ({"resources": [{"id": "r", "capacity": 1e400}]}, "capacity|range|malformed|number"),
            ({"reservations": [{"id": "v", "project": "p", "resource": "x"}]}, r"\$\.reservations\[0\]: .*“x”"),
            ({"reservations": [{"id": "", "project": "p", "resource": "x"}]}, r"\$\.reservations\[0\]\.id"),
            (
                {"reservations": [{"id": "v", "project": "p", "resource": "x", "from": "soon"}]},
                r"\$\.reservations\[0\]\.from",
            ),
            (
                {"reservations": [{"id": "v", "project": "p", "resource": "x", "to": "2027-01-04T09:00"}]},
                r"\$\.reservations\[0\]\.to: .*time of day",
            ),
            ({"tasks": [{**task, "effort": 0}]}, r"\$\.tasks\[0\]: .*effort"),
            ({"tasks": [{**task, "effort": 1.5}]}, r"\$\.tasks\[0\]\.effort"),
            ({"tasks": [{**task, "keeps": "calm"}]}, r"\$\.tasks\[0\]\.keeps"),
            ({"format": "other"}, r"\$\.format"),
            ({"version": 2}, r"\$\.version"),
        ):
            data = json.dumps(document(**parts)).replace("Infinity", "1e999").encode()  # type: ignore[arg-type]
            with self.assertRaisesRegex(BadFile, pattern, msg=str(parts)) as caught:
                read_plan(data)
            self.assertNotIn("\n", str(caught.exception))

    def test_of_many_mistakes_the_first_in_the_document_is_named(self) -> None:
        bad = [{"id": f"t{i}", "project": "p", "duration": -1} for i in range(40)]
        parts = {"tasks": [{"id": "a", "project": "p"}, *bad], "resources": [{"id": "r", "capacity": -1}]}
        with self.assertRaisesRegex(BadFile, r"\$\.tasks\[1\]: .*“t0”"):
            read_plan(json.dumps(document(**parts)).encode())
        people = [{"id": f"r{i}", "initials": "AB"} for i in range(9)]
        with self.assertRaisesRegex(BadFile, r"\$\.resources\[8\]: “r0” already has the initials AB"):
            read_plan(json.dumps(document(resources=people)).encode())

    def test_hostile_bytes(self) -> None:
        for data in (
            b"",
            b"{",
            b"\xff\xfe{}",
            b"[" * 3_000_000,
            b'{"format":' * 200_000,
            b'{"format": "hexapod-plan", "version": NaN}',
            b'{"format": "hexapod-plan", "version": 1, "resources": [{"id": "r", "capacity": NaN}]}',
            b" " * (129 * 1024 * 1024),
        ):
            with self.assertRaises(BadFile):
                read_plan(data)


class LinkText(unittest.TestCase):
    def setUp(self) -> None:
        plan = edits.add_text("p", "Survey\n  Cases\n  Locks, keys\nDraw\nBuild").applied_to(Plan.of([project()]))
        self.plan = plan
        self.id = {t.name: t.id for t in plan.tasks.values()}

    def parsed(self, text: str) -> list[tuple[str, str, int]]:
        found = parse_links(self.plan, self.id["Build"], text)
        return [(self.plan.tasks[x.predecessor].name, x.type.value, x.lag) for x in found]

    def test_the_ways_to_say_it(self) -> None:
        for text, expected in {
            "2": [("Draw", "FS", 0)],
            "1.1 SS": [("Cases", "SS", 0)],
            "1.1 2 d later": [("Cases", "FS", 960)],
            "1.1 FF 1 d sooner": [("Cases", "FF", -480)],
            "1.1 4h later ss": [("Cases", "SS", 240)],
            "draw, 1.1 1w 2d later": [("Draw", "FS", 0), ("Cases", "FS", 3360)],
            "“Locks, keys” SF": [("Locks, keys", "SF", 0)],
            "": [],
        }.items():
            self.assertEqual(self.parsed(text), expected, text)

    def test_what_is_not_understood(self) -> None:
        for text in ("9.9", "nobody", "SS", "2 XX", "2, 2", "2 d later"):
            with self.assertRaises(BadText, msg=text):
                self.parsed(text)

    def test_what_is_shown_can_be_typed(self) -> None:
        rng = random.Random(62)
        for _ in range(40):
            plan = random_plan(rng, 12, summaries=True, projects=2)
            for task_id in plan.tasks:
                again = parse_links(plan, task_id, format_links(plan, task_id))
                self.assertEqual(sorted(x.key for x in again), sorted(x.key for x in plan.links_into(task_id)))
                self.assertEqual({x.key: x.lag for x in again}, {x.key: x.lag for x in plan.links_into(task_id)})

    def test_a_name_that_several_have_asks_for_the_number(self) -> None:
        plan = edits.add_text("p", "Draw").applied_to(self.plan)
        with self.assertRaisesRegex(BadText, "2 or 4"):
            parse_links(plan, self.id["Build"], "draw")
        self.assertEqual(Link("a", "b", LinkType.SS).key, ("a", "b", "SS"))


class AssignmentText(unittest.TestCase):
    def setUp(self) -> None:
        people = [
            ("m", "Mo Okon", "MO"),
            ("t", "Tam Birk", "TB"),
            ("s", "Scissor lift", "SL"),
            ("c", "Case team", "CT"),
        ]
        resources = [Resource(i, name, f"a{n}", initials=x) for n, (i, name, x) in enumerate(people)]
        self.plan = Plan.of([project(), *tasks(("a", 480)), *resources])

    def parsed(self, text: str) -> dict[str, float]:
        return {a.resource: a.units for a in parse_assignments(self.plan, "a", text)}

    def test_the_ways_to_say_it(self) -> None:
        for text, expected in {
            "MO TB 50%, SL": {"m": 0.5, "t": 0.5, "s": 1.0},
            "mo": {"m": 1.0},
            "CT ×3; mo 12.5 %": {"c": 3.0, "m": 0.125},
            "CT x2": {"c": 2.0},
            "Scissor lift 200%": {"s": 2.0},
            "": {},
        }.items():
            self.assertEqual(self.parsed(text), expected, text)

    def test_what_is_not_understood(self) -> None:
        for text, pattern in (("QX", "QX.*MO"), ("MO MO", "twice"), ("50%", "who"), ("MO 0%", "more than nothing")):
            with self.assertRaisesRegex(BadText, pattern):
                self.parsed(text)

    def test_what_is_shown_can_be_typed(self) -> None:
        rng = random.Random(63)
        for _ in range(200):
            chosen = rng.sample("mtsc", rng.randrange(0, 5))
            wanted = {r: rng.choice((0.25, 0.5, 1.0, 2.0, 1.5)) for r in chosen}
            records = [Assignment("a", r, u) for r, u in wanted.items()]
            plan = edits.set_assignments(self.plan, "a", records).applied_to(self.plan)
            self.assertEqual(self.parsed(format_assignments(plan, "a")), wanted)
