"""Forms for people without the program: what stands on them, and what is made of what comes back, hostile or not."""

from __future__ import annotations

import json
import random
import re
import tempfile
import unittest
from html.parser import HTMLParser
from pathlib import Path

from msgspec.structs import replace

from hexapod.control.forms import Returned, ReturnedAnswer, form_of
from hexapod.control.round import Answer, What, questions, round_edit
from hexapod.errors import BadFile, HexapodError
from hexapod.fields.field import IsoDates, Texts
from hexapod.fields.returned import check
from hexapod.formats.forms import read_returned, written_page, written_workbook
from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, Project, Resource
from hexapod.schedule.engine import schedule
from tests.support import DAY, MONDAY, at, project, set_clock, tasks

NOW = at("2026-09-18T12:00")
FRIDAY = at("2026-09-11T17:00")
NASTY = "</script><script>alert(1)</script> & \"quoted\" 'name' =1+1"


def plan_of(status: int | None = FRIDAY) -> Plan:
    """Hana has a finished task, one that is begun, one soon and one far away; Ito has one."""
    done, begun, soon, far, his = tasks(("done", DAY), ("begun", 5 * DAY), ("soon", DAY), ("far", DAY), ("his", DAY))
    return Plan.of([
        project(status_date=status),
        replace(done, actual_start=MONDAY, actual_finish=MONDAY + 540, percent=100.0),
        replace(begun, name=NASTY, actual_start=MONDAY, percent=20.0),
        soon, replace(far, limits=()), his,
        Resource("hana", "Hana Brook", "a0", initials="HB"), Resource("ito", "Ito Vale", "a1", initials="IV"),
        *(Assignment(t, "hana") for t in ("done", "begun", "soon")), Assignment("his", "ito"),
    ])  # fmt: skip


def returned(*answers: ReturnedAnswer, workspace: str = "w", person: str = "hana") -> Returned:
    return Returned("told.json", workspace, person, "Hana Brook", "2026-09-14T09:00", answers)


def answer(task: str = "begun", since: str = "2026-09-11T17:00", **said: str) -> ReturnedAnswer:
    return ReturnedAnswer(task, task, since, **said)


class Case(unittest.TestCase):
    def setUp(self) -> None:
        set_clock(self, NOW)
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.plan = plan_of()
        self.texts = Texts(self.plan, IsoDates())


class Written(Case):
    def test_a_form_has_what_a_person_works_on_and_nothing_of_others(self) -> None:
        form = form_of(schedule(self.plan), "hana", "w", NOW, NOW)
        self.assertEqual([row.task for row in form.rows], ["begun", "soon"])
        self.assertEqual((form.rows[0].rest, form.rows[0].since), (4 * DAY, FRIDAY))

    def test_the_page_is_whole_in_itself_and_keeps_names_as_text(self) -> None:
        page = written_page(form_of(schedule(self.plan), "hana", "w", NOW, NOW), self.plan, IsoDates()).decode()
        found: list[tuple[str, dict[str, str | None]]] = []

        class Reader(HTMLParser):
            def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
                found.append((tag, dict(attrs)))

        Reader().feed(page)
        self.assertEqual([tag for tag, _ in found].count("script"), 1, "a name became a script")
        self.assertIn(NASTY, [attrs.get("data-name") for tag, attrs in found if tag == "section"])
        for tag, attrs in found:
            self.assertFalse({"src", "href", "action", "onclick"} & attrs.keys(), tag)
        self.assertNotIn("url(", page)
        self.assertRegex(page, r"default-src 'none'.*script-src 'sha256-[A-Za-z0-9+/=]{44}'")

    def test_a_workbook_that_is_filled_in_reads_as_what_was_typed(self) -> None:
        """Filled in by another library, openpyxl, as a spreadsheet would."""
        import openpyxl

        forms = [form_of(schedule(self.plan), person, "w", NOW, NOW) for person in ("hana", "ito")]
        path = self.folder / "forms.xlsx"
        path.write_bytes(written_workbook([*forms, replace(forms[1], name="Ito: Vale [x]" + "y" * 40)], self.plan))
        self.assertEqual(read_returned(path), [], "nothing is filled in")
        book = openpyxl.load_workbook(path)
        sheet = book["Hana Brook"]
        self.assertEqual(sheet.protection.sheet, True)
        headings = {cell.value: cell.column for cell in sheet[2]}
        sheet.cell(3, headings["Left"]).value = "2 d"
        sheet.cell(3, headings["Hours"]).value = 6
        sheet.cell(3, headings["Note"]).value = "=HYPERLINK(1)"
        sheet.cell(4, headings["Done on"]).value = __import__("datetime").datetime(2026, 9, 16)
        book.save(path)
        (found,) = read_returned(path)
        self.assertEqual((found.workspace, found.person, found.made), ("w", "hana", "2026-09-18T12:00"))
        self.assertEqual(found.answers[0].left, "2 d")
        self.assertEqual(found.answers[0].hours, "6")
        checked = check(found, self.texts, "w", ())
        self.assertEqual([laid.task for laid in checked.laid], ["begun", "soon"])
        self.assertEqual(checked.laid[1].answer.at, at("2026-09-16T17:00"))


class Checked(Case):
    def read(self, *answers: ReturnedAnswer, **more: str) -> tuple[list[Answer], list[Answer], list[str]]:
        found = check(returned(*answers, **more), self.texts, "w", ())
        return [x.answer for x in found.laid], [x.answer for x in found.held], list(found.findings)

    def test_what_was_typed_becomes_answers_with_initials(self) -> None:
        for said, wanted in (
            ({"left": "2 d"}, Answer(What.LEFT, amount=2 * DAY, who="HB")),
            ({"left": "0"}, Answer(What.DONE, who="HB")),
            ({"done": "2026-09-16"}, Answer(What.DONE, at=at("2026-09-16T17:00"), who="HB")),
            ({"left": "1,5 d", "hours": "6,5"}, Answer(What.LEFT, amount=720, who="HB", worked=390)),
            ({"note": " rail bent "}, Answer(What.NOTE, who="HB", note="rail bent")),
        ):
            self.assertEqual(self.read(answer(**said)), ([wanted], [], []), said)
        began = self.read(answer("soon", began="2026-09-15", left="4h"))[0][0]
        self.assertEqual((began.began, began.amount), (at("2026-09-15T08:00"), 240))

    def test_what_cannot_be_read_names_the_task_and_the_field(self) -> None:
        for said, field in (
            ({"done": "2026-10-30"}, "Done on"),  # still to come
            ({"done": "yesterdayish"}, "Done on"),
            ({"done": "2026-09-01"}, "Done on"),  # before it began
            ({"left": "-2 d"}, "Left"),
            ({"left": "a bit"}, "Left"),
            ({"left": "3 d", "done": "2026-09-16"}, "Left"),
            ({"hours": "many"}, "Hours"),
            ({"hours": "nan"}, "Hours"),
            ({"hours": "1e9"}, "Hours"),
            ({"began": "2026-99-01"}, "Began on"),
            ({"note": "x" * 2001}, "Note"),
        ):
            laid, held, findings = self.read(answer(**said), answer("soon", left="2h"))
            self.assertEqual([a.amount for a in laid], [120], f"{said} spoils another answer")
            self.assertEqual(held, [])
            self.assertEqual(len(findings), 1)
            self.assertIn(NASTY, findings[0])
            self.assertIn(f"{field}:", findings[0])

    def test_what_does_not_fit_the_plan_any_more_is_held_back_and_said(self) -> None:
        for answers, more, says in (
            ([answer(since="2026-09-04T17:00", left="2d")], {}, "older than the last round"),
            ([answer(since="rubbish", left="2d")], {}, "older than the last round"),
            ([answer("done", left="1d")], {}, "done already"),
            ([answer("his", left="1d")], {}, "not Hana Brook’s"),
            ([answer(left="2d")], {"person": "gone"}, "not among the resources"),
        ):
            laid, held, findings = self.read(*answers, **more)
            self.assertEqual((len(laid), len(held)), (0, 1), says)
            self.assertIn(says, " ".join(findings))
        self.assertEqual(self.read(answer("nowhere", left="1d"))[:2], ([], []))

    def test_a_form_of_another_workspace_is_refused(self) -> None:
        with self.assertRaisesRegex(HexapodError, "another workspace"):
            check(returned(answer(left="1d"), workspace="other"), self.texts, "w", ())

    def test_an_answer_is_read_once_and_the_last_line_about_a_task_counts(self) -> None:
        form = returned(answer(left="4d"), answer(left="3d"))
        first = check(form, self.texts, "w", ())
        self.assertEqual([x.answer.amount for x in first.laid], [3 * DAY])
        again = check(form, self.texts, "w", {x.digest for x in first.laid})
        self.assertEqual((again.laid, again.again), ((), 1))
        changed = check(returned(answer(left="2d")), self.texts, "w", {x.digest for x in first.laid})
        self.assertEqual(len(changed.laid), 1, "another answer of the same form is new")

    def test_answers_taken_with_a_round_are_told_with_their_words(self) -> None:
        dates = schedule(self.plan)
        laid = check(
            returned(answer("soon", began="2026-09-15", left="4h", hours="3", note="rail bent")), self.texts, "w", ()
        ).laid
        asked = questions(dates, "p", NOW, [x.task for x in laid])
        edit = round_edit(self.plan, "p", NOW, asked, {x.task: x.answer for x in laid}, "Me", NOW)
        after = edit.applied_to(self.plan)
        self.assertEqual((after.tasks["soon"].actual_start, after.tasks["soon"].rest), (at("2026-09-15T08:00"), 240))
        (log,) = after.logs.values()
        self.assertEqual((log.resource, log.minutes, log.note), ("hana", 180, "rail bent"))
        self.assertEqual(after.tasks["begun"], self.plan.tasks["begun"])


class Hostile(Case):
    def document(self, **other: object) -> bytes:
        found = {"format": "hexapod-answers", "version": 1, "workspace": "w", "person": "hana", "answers": []}
        return json.dumps({**found, **other}).encode()

    def test_bad_documents_are_one_sentence_each(self) -> None:
        path = self.folder / "told.json"
        for data in (
            b"", b"[]", b"{", b"\xff\xfe\x00", b"[" * 100_000, self.document(version=2), self.document(format="x"),
            self.document(answers=[{"task": 1}]), self.document(answers=[{"task": "a", "run": "x"}]),
            self.document(answers=[{"task": "a", "note": "x" * 5000}]), self.document(name="x" * 5000),
            self.document(answers=[{"task": "a", "note": "x"}] * 5001), b" " * 2_000_000,
        ):  # fmt: skip
            path.write_bytes(data)
            with self.assertRaises(BadFile) as caught:
                read_returned(path)
            self.assertNotIn("\n", str(caught.exception))

    def test_a_form_that_anything_was_done_to_raises_nothing_but_a_sentence(self) -> None:
        good = self.document(answers=[{"task": "begun", "since": "2026-09-11T17:00", "left": "2 d", "note": "ok"}])
        path, rng, read = self.folder / "told.json", random.Random(5), 0
        for _ in range(800):
            data = bytearray(good)
            for _ in range(rng.randrange(1, 4)):
                data[rng.randrange(len(data))] = rng.choice(b'0123 -x"{\\\xc3')
            path.write_bytes(bytes(data))
            try:
                for form in read_returned(path):
                    check(form, self.texts, "w", ())
                    read += 1
            except HexapodError as error:
                self.assertEqual(len(re.findall("\n", str(error))), 0)
        self.assertGreater(read, 20, "some are readable still")


class OfAnotherProject(Case):
    def test_archived_projects_ask_nobody(self) -> None:
        kept = [r for kind in ("tasks", "resources", "assignments") for r in getattr(self.plan, kind).values()]
        plan = Plan.of([Project("p", "P", MONDAY, "a0", archived=True), *kept])
        self.assertEqual(form_of(schedule(plan), "hana", "w", NOW, NOW).rows, ())
