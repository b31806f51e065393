"""Requests from people without the program: files read as hostile, none twice; and what becomes of each."""

from __future__ import annotations

import json
import tempfile
import unittest
from pathlib import Path

from lxml import html
from msgspec.structs import replace

from hexapod.errors import BadFile, EditRefused, HexapodError
from hexapod.fields.field import Texts
from hexapod.formats.plan_json import read_plan, write_plan
from hexapod.formats.requests import TITLES, read_folder, read_requests, request_page, request_table
from hexapod.formats.templates import SHIPPED, templates
from hexapod.plan import edits
from hexapod.plan.plan import Plan
from hexapod.plan.records import Project
from hexapod.plan.requests import Request, RequestState, requests_in_order
from hexapod.plan.validity import check
from hexapod.schedule.engine import schedule
from tests.support import MONDAY, at

NOW = at("2026-10-12T09:00")
GOOD = {
    "format": "hexapod-request", "version": 1, "what": "Lamps", "why": "Too dark", "wanted_by": "2026-12-01",
    "days": "2,5", "benefit": "Light", "who": "Hale Birkby", "email": "hale@museum.example",
}  # fmt: skip


class Files(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.texts = Texts(Plan())

    def written(self, name: str, document: object) -> Path:
        path = self.folder / name
        path.write_text(document if isinstance(document, str) else json.dumps(document), "utf-8")
        return path

    def read(self, path: Path) -> tuple[list[Request], list[str]]:
        return read_requests(self.texts, path, NOW)

    def test_what_the_form_saves_is_a_request(self) -> None:
        ((found,), said) = self.read(self.written("a.json", GOOD))
        self.assertEqual(said, [])
        self.assertEqual(
            (found.name, found.why, found.size, found.benefit, found.who, found.email, found.asked, found.state),
            ("Lamps", "Too dark", 1200, "Light", "Hale Birkby", "hale@museum.example", NOW, RequestState.NEW),
        )
        self.assertEqual(found.wanted_by, at("2026-12-01T00:00") // 1440)

    def test_rows_of_the_table_are_requests_and_what_cannot_be_read_is_named(self) -> None:
        rows = request_table().decode("utf-8-sig") + (
            "Lamps,Dark,2026-12-01,3,Light,Hale,h@x.example\nTable,,,many,,,\n,,,1,,,\nShelf,,soon-ish,2,,,\nDoor,,,,,,\n"
        )
        found, said = self.read(self.written("r.csv", rows))
        self.assertEqual([(r.name, r.size) for r in found], [("Lamps", 1440), ("Door", 0)])
        self.assertEqual(len(said), 3)
        self.assertIn("row 3: Days of work must be a number", said[0])
        self.assertIn("row 4: What is asked for", said[1])
        self.assertIn("row 5: Wanted by", said[2])

    def test_hostile_files_are_refused_with_a_sentence(self) -> None:
        bad = {
            "1.json": "{", "2.json": "[" * 100_000, "3.json": {**GOOD, "format": "other"}, "4.json": {**GOOD, "x": 1},
            "5.json": {**GOOD, "what": " "}, "6.json": {**GOOD, "what": "L" * 10_000},
            "7.json": {**GOOD, "days": "-1"}, "8.json": {**GOOD, "wanted_by": "9999-99-99"},
            "9.json": {**GOOD, "why": "x" * 200_000}, "10.json": "x" * 300_000, "11.json": {**GOOD, "what": 5},
            "12.csv": "a,b\n1,2\n", "13.csv": "What\n" + "x\n" * 900, "14.xlsx": "none",
        }  # fmt: skip
        for name, document in bad.items():
            with self.assertRaises(BadFile, msg=name) as refused:
                self.read(self.written(name, document))
            self.assertLess(len(str(refused.exception)), 400)
            self.assertNotIn("Traceback", str(refused.exception))

    def test_a_folder_gives_each_request_once(self) -> None:
        self.written("a.json", GOOD)
        self.written("copy of a.json", GOOD)
        self.written("b.json", {**GOOD, "what": "Shelf"})
        self.written("bad.json", "{")
        self.written(".hidden.json", {**GOOD, "what": "Hidden"})
        self.written("notes.txt", "nothing")
        known: set[str] = set()
        found, said = read_folder(self.texts, self.folder, known, NOW)
        self.assertEqual(sorted(r.name for r in found), ["Lamps", "Shelf"])
        self.assertEqual(len(said), 1)
        self.assertEqual(read_folder(self.texts, self.folder, known, NOW)[0], [])
        with self.assertRaisesRegex(BadFile, "gone"):
            read_folder(self.texts, self.folder / "gone", set(), NOW)

    def test_the_form_asks_for_what_is_read_and_lets_nothing_else_run(self) -> None:
        page = html.document_fromstring(request_page("Alder <b>Quay</b>").decode())
        self.assertEqual({f.get("name") for f in page.iter("input", "textarea")}, set(GOOD) - {"format", "version"})
        self.assertIn("default-src 'none'", page.xpath("//meta[@http-equiv]/@content")[0])
        self.assertIn("Alder <b>Quay</b>", page.text_content())
        self.assertEqual(request_table().decode("utf-8-sig").strip().split(","), list(TITLES))


class Answers(unittest.TestCase):
    def setUp(self) -> None:
        self.request = Request("r", "Lamps", NOW - 5000, "Dark", at("2026-12-01T00:00") // 1440, 1200, who="Hale")
        self.plan = edits.save_requests(Plan.of([Project("p", "P", MONDAY, "a0")]), [self.request]).applied_to(
            Plan.of([Project("p", "P", MONDAY, "a0")])
        )

    def made(self, edit: edits.Edit) -> Plan:
        draft = self.plan.draft()
        edit.change(draft)
        after, changes = draft.finish()
        check(after, changes)
        return after

    def test_it_becomes_a_project_of_its_size_that_is_wanted_by_its_day(self) -> None:
        made, edit = edits.accept_request(self.plan, "r", "Joss", " Gladly ", NOW, at("2026-10-19T08:00"), None)
        after = self.made(edit)
        project, request = after.projects[made], after.requests["r"]
        self.assertEqual((project.name, project.start), ("Lamps", at("2026-10-19T08:00")))
        self.assertEqual(project.target_finish, at("2026-12-01T17:00"))
        (task,) = [t for t in after.tasks.values() if t.project == made]
        self.assertEqual((task.duration, task.notes), (1200, "Dark"))
        self.assertEqual(
            (request.state, request.word, request.by, request.answered, request.project),
            (RequestState.ACCEPTED, "Gladly", "Joss", NOW, made),
        )
        self.assertEqual(schedule(after).project_finish[made], at("2026-10-21T12:00"))

    def test_from_every_template_with_nobody_assigned(self) -> None:
        for template in templates(SHIPPED / "none"):
            assert template.plan is not None
            made, edit = edits.accept_request(self.plan, "r", "Joss", "", NOW, at("2026-10-19T08:00"), template.plan)
            after = self.made(edit)
            rows = [t for t in after.tasks.values() if t.project == made]
            self.assertEqual(len(rows), len(template.plan.tasks), template.name)
            self.assertFalse([a for a in after.assignments.values() if after.tasks[a.task].project == made])
            self.assertEqual(after.projects[made].name, "Lamps")

    def test_no_needs_a_word_and_nothing_is_answered_twice(self) -> None:
        with self.assertRaisesRegex(EditRefused, "Say why"):
            edits.decline_request(self.plan, "r", "Joss", "  ", NOW)
        self.plan = self.made(edits.look_at_request(self.plan, "r", "Joss"))
        self.assertIs(self.plan.requests["r"].state, RequestState.LOOKED_AT)
        self.plan = self.made(edits.decline_request(self.plan, "r", "Joss", "Not this year", NOW))
        self.assertEqual(self.plan.requests["r"].word, "Not this year")
        for again in (
            lambda: edits.accept_request(self.plan, "r", "Joss", "", NOW, MONDAY, None),
            lambda: edits.decline_request(self.plan, "r", "Joss", "x", NOW),
            lambda: edits.look_at_request(self.plan, "gone", "Joss"),
        ):
            with self.assertRaises(HexapodError):
                again()

    def test_they_stand_by_state_the_oldest_first(self) -> None:
        new, looked, yes, no = RequestState
        states = enumerate((no, new, yes, new, looked))
        some = [replace(self.request, id=str(i), state=state, asked=NOW - i) for i, state in states]
        self.assertEqual([r.id for r in requests_in_order(some)], ["3", "1", "4", "2", "0"])

    def test_plan_json_brings_all_of_it_back(self) -> None:
        _, edit = edits.accept_request(self.plan, "r", "Joss", "Yes", NOW, MONDAY, None)
        after = self.made(edit)
        self.assertEqual(read_plan(write_plan(after)).requests, after.requests)

    def test_what_no_request_can_be_is_refused(self) -> None:
        for bad in (
            replace(self.request, name=" "), replace(self.request, size=-1), replace(self.request, why="x" * 200_000),
            replace(self.request, wanted_by=10**7), replace(self.request, who="x" * 2000),
        ):  # fmt: skip
            with self.assertRaises(HexapodError):
                self.made(edits.save_requests(self.plan, [bad]))


if __name__ == "__main__":
    unittest.main()
