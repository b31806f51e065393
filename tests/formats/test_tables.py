"""In and out: tables, calendars and text, there and back; what is hostile gets a sentence."""

from __future__ import annotations

import io
import random
import tempfile
import unittest
import zipfile
from datetime import datetime
from pathlib import Path

import icalendar
import openpyxl
from msgspec.structs import replace

from hexapod.errors import BadFile
from hexapod.formats.exporting import all_rows, table_of
from hexapod.formats.files import load, save, sheets_of, written
from hexapod.formats.icalendar_files import read_icalendar, write_icalendar
from hexapod.formats.import_columns import ColumnMap, ImportedField, guess
from hexapod.formats.importing import Action, ImportStopped, propose
from hexapod.formats.merging import merge
from hexapod.formats.tables import Sheet, parse_csv, read_table, write_csv, write_xlsx
from hexapod.plan import edits
from hexapod.plan.outline import number_of, rows
from hexapod.plan.plan import Plan
from hexapod.plan.records import Field, FieldKind, LimitKind, Link, LinkType, Resource, TaskKind
from hexapod.schedule.engine import schedule
from tests.support import DAY, MONDAY, at, project, random_plan, tasks

NASTY = ("=1+1", "+cmd", "-2", "@SUM(A1)", "\t=x", "'=quoted", 'plain, with "quotes"\nand a line', "ünïcode – ☂")


class Folder(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def file(self, name: str, data: bytes) -> Path:
        path = self.folder / name
        path.write_bytes(data)
        return path


class Tables(Folder):
    def test_csv_gives_back_what_went_in_and_nothing_a_spreadsheet_would_run(self) -> None:
        rows_ = [["Task", "Note"], *([text, text] for text in NASTY)]
        data = write_csv(rows_)
        for line in data.decode("utf-8-sig").split("\r\n"):
            for cell in line.split(","):
                self.assertNotIn(cell.strip('"')[:1], {"=", "+", "-", "@", "\t"}, line)
        self.assertEqual(parse_csv("x.csv", data), rows_)

    def test_xlsx_read_by_another_library_has_texts_and_no_formulas(self) -> None:
        cells = [["Task", "When", "How much", "On"], *([t, datetime(2026, 9, 7, 8), 2.5, True] for t in NASTY)]
        data = write_xlsx("Plan: A/B", cells, [0, 1, 2])
        book = openpyxl.load_workbook(io.BytesIO(data))
        sheet = book.active
        for r, text in enumerate(NASTY, 2):
            cell = sheet.cell(r, 1)
            self.assertEqual((cell.value, cell.data_type), (text, "s"))
            self.assertEqual(sheet.cell(r, 2).value, datetime(2026, 9, 7, 8))
        self.assertEqual(sheet.row_dimensions[4].outlineLevel, 2)
        (found,) = read_table(self.file("x.xlsx", data))
        self.assertEqual([row[0] for row in found.rows[1:]], list(NASTY))
        self.assertEqual(found.rows[1][1:], [datetime(2026, 9, 7, 8), 2.5, True])

    def test_encodings_and_delimiters_are_told_apart(self) -> None:
        for encoding in ("utf-8", "utf-8-sig", "utf-16", "cp1252"):
            for delimiter in ",;\t|":
                text = f"Task{delimiter}Länge\nÖffnen{delimiter}3 d\n"
                found = parse_csv("x.csv", text.encode(encoding))
                self.assertEqual(found, [["Task", "Länge"], ["Öffnen", "3 d"]], (encoding, delimiter))

    def test_hostile_files_get_a_sentence(self) -> None:
        bomb = io.BytesIO()
        with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr("xl/worksheets/sheet1.xml", b"\0" * 300_000_000)
        entities = io.BytesIO(write_xlsx("x", [["a"]]))
        laughs = '<!DOCTYPE x [<!ENTITY a "ha"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;">]><sst><si><t>&b;</t></si></sst>'
        with zipfile.ZipFile(entities) as source, zipfile.ZipFile(self.folder / "e.xlsx", "w") as target:
            for name in source.namelist():
                target.writestr(name, laughs if name.endswith("sharedStrings.xml") else source.read(name))
        wide = ",".join(["x"] * 16_000).encode()
        for name, data, says in (
            ("bomb.xlsx", bomb.getvalue(), "unpack"), ("torn.xlsx", write_xlsx("x", [["a"]])[:300], "damaged"),
            ("no.xlsx", b"PK\x03\x04nonsense", "damaged"), ("wide.csv", wide, "16,000 columns"),
            ("zeros.csv", b"\0\xff\0\x81" * 50, "encoding"), ("no.ics", b"BEGIN:VCALENDAR\nnonsense", "calendar"),
            ("empty.ics", b"BEGIN:VCALENDAR\nEND:VCALENDAR\n", "no to-dos"),
            ("long.csv", b"a," + b"x" * 40_000, "characters"),
        ):  # fmt: skip
            with self.assertRaisesRegex(BadFile, says, msg=name):
                sheets_of(self.file(name, data))
        try:  # an entity is either refused or left as it is, never expanded
            text = str(sheets_of(self.folder / "e.xlsx")[0].rows)
        except BadFile:
            text = ""
        self.assertNotIn("haha", text)
        huge = self.folder / "huge.csv"
        with huge.open("wb") as handle:
            handle.truncate(1024**3)
        with self.assertRaisesRegex(BadFile, "1024 MB"):
            sheets_of(huge)


class Importing(Folder):
    def plan(self) -> Plan:
        return Plan.of([project(), Resource("r", "Mo Okon", "a0", initials="MO")])

    def sheet(self, text: str) -> Sheet:
        return Sheet("x", parse_csv("x.csv", text.encode()))

    MESSY = (
        "Moth room;;;;;\nprinted 3 Nov;;;;;\n;;;;;\nNo.;What;How long;Begin;After;Owner\n"
        "1;Empty;;;;\n1.1;Listed;3 days;2026-10-12;;MO\n1.2;Moved;5;;1.1 2 d later;MO, Tam Birk 50%\n"
        "1.3;;2;;;\n2;Refit;about a week;;1.2;\n3;Shut;1 d;31/2/2026;7.7;\n"
    )

    def test_a_messy_table_is_guessed_and_says_what_it_cannot_read_by_row(self) -> None:
        plan, sheet = self.plan(), self.sheet(self.MESSY)
        mapping = guess(sheet, plan)
        self.assertEqual(mapping.header, 3)
        wanted = (
            ImportedField.NUMBER,
            ImportedField.NAME,
            ImportedField.DURATION,
            ImportedField.START,
            ImportedField.LINKS,
            ImportedField.WHO,
        )
        self.assertEqual(mapping.parts, wanted)
        from hexapod.worktime.dates import parse_said

        found = propose(plan, "p", sheet, mapping, lambda text: parse_said(text, datetime(2026, 9, 1)))
        troubled = {o.row: " ".join(o.troubles) for o in found.outcomes if o.troubles}
        self.assertEqual(sorted(troubled), [8, 9, 10])
        self.assertIn("no name", troubled[8])
        self.assertIn("duration: “about a week”", troubled[9])
        self.assertIn("start: “31/2/2026”", troubled[10])
        self.assertIn("waits for: There is no task “7.7”", troubled[10])
        self.assertEqual(found.resources, ("Tam Birk",))
        assert found.edit is not None
        after = found.edit.applied_to(plan)
        by_name = {t.name: t for t in after.tasks.values()}
        self.assertEqual([number_of(after, by_name[n].id) for n in ("Listed", "Moved", "Refit")], ["1.1", "1.2", "2"])
        (link,) = after.links_into(by_name["Moved"].id)
        self.assertEqual((link.predecessor, link.lag), (by_name["Listed"].id, 2 * DAY))
        self.assertEqual(by_name["Listed"].limits[0].kind, LimitKind.START_NO_EARLIER)
        self.assertEqual(sorted(a.units for a in after.assignments_of(by_name["Moved"].id)), [0.5, 1.0])

    def test_importing_an_updated_file_again_updates_by_path_or_id(self) -> None:
        plan, sheet = self.plan(), self.sheet(self.MESSY)
        mapping = guess(sheet, plan)
        first = propose(plan, "p", sheet, mapping)
        assert first.edit is not None
        once = first.edit.applied_to(plan)
        again = propose(once, "p", sheet, mapping)
        self.assertIsNone(again.edit)
        self.assertEqual(again.count(Action.SAME), 5)
        longer = self.sheet(self.MESSY.replace("1.1;Listed;3 days", "1.1;Listed;4 days") + "4;Party;1 d;;;\n")
        third = propose(once, "p", longer, mapping)
        self.assertEqual((third.count(Action.CHANGE), third.count(Action.ADD)), (1, 1))
        assert third.edit is not None
        self.assertEqual(len(third.edit.applied_to(once).tasks), len(once.tasks) + 1)

    def test_a_start_and_a_finish_give_the_working_time_between(self) -> None:
        sheet = self.sheet("Task,Start,End\nA,2026-09-10,2026-09-15\n")
        found = propose(self.plan(), "p", sheet, guess(sheet, self.plan()))
        assert found.edit is not None
        (task,) = found.edit.applied_to(self.plan()).tasks.values()
        self.assertEqual(task.duration, 4 * DAY)

    def test_it_can_be_stopped(self) -> None:
        sheet = Sheet("x", [["name"], *([f"T{i}"] for i in range(5000))])
        with self.assertRaises(ImportStopped):
            propose(self.plan(), "p", sheet, ColumnMap(0, (ImportedField.NAME,)), watch=lambda read, total: read < 400)

    def test_a_whole_plan_is_merged_by_its_ids(self) -> None:
        rng = random.Random(61)
        plan = random_plan(rng, 20, resources=2, summaries=True)
        found = merge(Plan(), plan, "x")
        assert found.edit is not None
        whole = found.edit.applied_to(Plan())
        self.assertEqual({t.name for t in whole.tasks.values()}, {t.name for t in plan.tasks.values()})
        self.assertIsNone(merge(whole, whole, "x").edit)
        one = sorted(plan.tasks)[0]
        other = edits.rename(whole, one, "Otherwise").applied_to(whole)
        again = merge(whole, other, "x")
        self.assertEqual((again.count(Action.CHANGE), again.count(Action.ADD)), (1, 0))


class RoundTrips(Folder):
    """What a format can carry comes back."""

    def rich(self) -> Plan:
        a, b, c, d = tasks(("a", 3 * DAY), ("b", 240), ("c", 0), ("d", 36 * 60))
        a = replace(a, notes="Ask first\nthen act", tags=("glass", "loan"), stream="Build", priority=3)
        b = replace(b, parent="d", fields=(("Cost", 125050), ("Ready", True)))
        c = replace(c, target=at("2026-10-02T17:00"))
        e = replace(tasks(("e", 36 * 60))[0], elapsed=True, rank="z0")
        d = replace(d, duration=None)
        people = [Resource("r", "Mo Okon", "a0", initials="MO"), Resource("s", "Tam Birk", "a1", initials="TB")]
        own = [Field("f", "Cost", "a0", FieldKind.MONEY), Field("g", "Ready", "a1", FieldKind.YES_NO)]
        links = [Link("a", "b", LinkType.SS, 2 * DAY), Link("a", "c"), Link("b", "e", LinkType.FF, -60)]
        plan = Plan.of([project(), a, b, c, d, e, *people, *own, *links])
        return edits.set_assignments(plan, "a", [*_assigned("a", ("r", 0.5), ("s", 1.0))]).applied_to(plan)

    def test_csv_and_xlsx_carry_all_that_their_columns_say(self) -> None:
        plan = self.rich()
        bare = Plan.of([project(), *plan.resources.values(), *plan.fields.values()])
        for suffix in (".csv", ".xlsx"):
            (sheet,) = sheets_of(self.file(f"x{suffix}", written(plan, suffix, "x")))
            mapping = guess(sheet, plan)
            found = propose(bare, "p", sheet, mapping)
            self.assertEqual([o.troubles for o in found.outcomes if o.troubles], [])
            assert found.edit is not None
            back = found.edit.applied_to(bare)
            for task in plan.tasks.values():
                other = back.tasks[task.id]
                fields = ("name", "parent", "notes", "tags", "stream", "priority", "target", "elapsed")
                for name in fields:
                    self.assertEqual(getattr(other, name), getattr(task, name), (suffix, task.id, name))
                self.assertEqual(dict(other.fields), dict(task.fields))
                self.assertEqual(other.duration, task.duration)
            self.assertEqual(back.links, plan.links)
            self.assertEqual(back.assignments, plan.assignments)

    def test_several_projects_with_links_between_them(self) -> None:
        rng = random.Random(62)
        plan = random_plan(rng, 30, projects=3, summaries=True, types="FS SS", milestones=0.0)
        for home in plan.projects.values():
            plan = edits.save_project(plan, replace(home, calendar="standard")).applied_to(plan)
        source, target = self.folder / "a.json", self.folder / "b.csv"
        save(plan, str(target), "me", "x")
        save(load(str(target)), str(source), "me", "x")
        back = load(str(source))
        self.assertEqual(set(back.links), set(plan.links))
        self.assertEqual({t: back.projects[x.project].name for t, x in back.tasks.items()},
                         {t: plan.projects[x.project].name for t, x in plan.tasks.items()})  # fmt: skip

    def test_icalendar_is_valid_for_the_package_and_comes_back(self) -> None:
        plan = self.rich()
        dates = schedule(plan)
        for events in (False, True):
            data = write_icalendar(plan, dates, all_rows(plan), events=events)
            calendar = icalendar.Calendar.from_ical(data)
            parts = {str(c["uid"]): c for c in calendar.walk("VEVENT" if events else "VTODO")}
            self.assertEqual(set(parts), set(plan.tasks))
            for task_id, part in parts.items():
                self.assertEqual(part.errors, [])
                self.assertIn("DTSTAMP", part)
                moment = part["dtstart"].dt
                self.assertEqual(moment, datetime(1970, 1, 1) + (moment - datetime(1970, 1, 1)))
                self.assertEqual(int((moment - datetime(1970, 1, 1)).total_seconds()) // 60, dates.dates(task_id).start)
            self.assertEqual(parts["b"]["related-to"][1].params["RELTYPE"], "STARTTOSTART")
            self.assertEqual(parts["b"]["related-to"][1].params["GAP"], "PT960M")
            sheet = read_icalendar("x.ics", data)
            found = propose(Plan.of([project()]), "p", sheet, guess(sheet, plan))
            self.assertEqual([o.troubles for o in found.outcomes if o.troubles], [])
            assert found.edit is not None
            back = found.edit.applied_to(Plan.of([project()]))
            self.assertEqual(back.links, plan.links)
            for task in plan.tasks.values():
                other = back.tasks[task.id]
                for name in ("name", "parent", "notes", "tags", "stream", "duration", "elapsed"):
                    self.assertEqual(getattr(other, name), getattr(task, name), (task.id, name))

    def test_a_calendar_from_elsewhere(self) -> None:
        """The to-do example of RFC 5545, section 3.6.2, and a relation as in RFC 9253 (from memory)."""
        data = (
            b"BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//x//y//EN\r\nBEGIN:VTODO\r\n"
            b"UID:20070313T123432Z-456553@example.com\r\nDTSTAMP:20070313T123432Z\r\n"
            b"DUE;VALUE=DATE:20070501\r\nSUMMARY:Submit Quebec Income Tax Return for 2006\r\n"
            b"CLASS:CONFIDENTIAL\r\nCATEGORIES:FAMILY,FINANCE\r\nSTATUS:NEEDS-ACTION\r\nEND:VTODO\r\n"
            b"BEGIN:VEVENT\r\nUID:two\r\nDTSTAMP:20070313T123432Z\r\nDTSTART:20070502T080000\r\nDTEND:20070503T170000\r\n"
            b"SUMMARY:File the copies\r\n"
            b"RELATED-TO;RELTYPE=FINISHTOSTART;GAP=PT8H:20070313T123432Z-456553@example.com\r\n"
            b"END:VEVENT\r\nEND:VCALENDAR\r\n"
        )
        plan = Plan.of([project(start=at("2007-04-01T08:00"))])
        sheet = read_icalendar("x.ics", data)
        found = propose(plan, "p", sheet, guess(sheet, plan))
        assert found.edit is not None
        back = found.edit.applied_to(plan)
        self.assertEqual(back.tasks["two"].duration, 2 * DAY)
        (link,) = back.links.values()
        self.assertEqual(
            (link.predecessor, link.type, link.lag), ("20070313T123432Z-456553@example.com", LinkType.FS, 480)
        )
        self.assertEqual(back.tasks[link.predecessor].tags, ("FAMILY", "FINANCE"))

    def test_text_keeps_levels_and_names(self) -> None:
        rng = random.Random(63)
        plan = random_plan(rng, 25, summaries=True)
        save(plan, str(self.folder / "x.txt"), "me", "x")
        back = load(str(self.folder / "x.txt"))
        shown = [(r.level, plan.tasks[r.task].name) for p in plan.projects for r in rows(plan, p)]
        (home,) = back.projects
        self.assertEqual([(r.level, back.tasks[r.task].name) for r in rows(back, home)], shown)

    def test_what_is_on_screen_is_what_goes_out(self) -> None:
        plan = self.rich()
        shown = rows(plan, "p")[1:3]
        table, levels = table_of(plan, schedule(plan), shown, ["number", "name", "finish", "field.f"])
        self.assertEqual(table[0], ["#", "Task", "Finish", "Cost"])
        self.assertEqual([row[1] for row in table[1:]], [plan.tasks[r.task].name for r in shown])
        self.assertEqual(len(levels), 2)
        self.assertEqual(plan.tasks["a"].kind, TaskKind.TASK)
        self.assertGreater(MONDAY, 0)


def _assigned(task: str, *who: tuple[str, float]):  # type: ignore[no-untyped-def]
    from hexapod.plan.records import Assignment

    return (Assignment(task, resource, units) for resource, units in who)


if __name__ == "__main__":
    unittest.main()
