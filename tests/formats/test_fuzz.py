"""Each reader is fed files that were good once, each writer names that are not: a sentence, or a sound plan.

Dozens of each here, thousands by ``scripts/test --deep``.
"""

from __future__ import annotations

import csv
import io
import json
import os
import random
import tempfile
import unittest
import zipfile
from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from typing import Any

import icalendar
import openpyxl
from msgspec.structs import replace

from hexapod.errors import HexapodError
from hexapod.formats.files import load, save, sheets_of, written
from hexapod.formats.pool_table import from_directory, from_sheet, pool_rows
from hexapod.formats.tables import write_csv, write_xlsx
from hexapod.formats.templates import save_template, templates
from hexapod.plan import edits
from hexapod.plan.plan import Plan
from hexapod.plan.records import Field, FieldKind, Resource, Task
from hexapod.plan.validity import check_whole
from hexapod.schedule.engine import schedule
from hexapod.services.directory import StandIn
from hexapod.session import Session
from tests.budgets import deep_or
from tests.support import DAY, project, random_plan, tasks

ROUNDS = deep_or(60, 3000)
TOKENS = (
    b"99999999999999999999999999", b"1e308", b"-1", b"NaN", b"Infinity", b"\xff\xfe", b"\x00", b"\xc3", b"'", b'"',
    b"<",
    b"&", b"P99999999999999W", b"00010101T000000", b"99991231T235959", b"DURATION:P1D\r\n", b"FREQ=DAILY;INTERVAL=0",
    b"\r\n ", b"[[[[[[[[", b"}}}}", b"\xe2\x80\xae", b"\\ud800", b"=1+1", b";", b",", b"\t", b"&#65;1", b"\xc2\xb2",
    b'r="XFD1048576"',
)  # fmt: skip


def mutated(rng: random.Random, data: bytes) -> bytes:
    """A few bytes flipped, cut, doubled, or put in."""
    found = bytearray(data)
    for _ in range(rng.choice((1, 1, 2, 5, 20))):
        at = rng.randrange(max(1, len(found)))
        way = rng.randrange(5)
        if way == 0 and found:
            found[at % len(found)] ^= 1 << rng.randrange(8)
        elif way == 1:
            del found[at : at + rng.choice((1, 3, 50, 1000))]
        elif way == 2:
            found[at:at] = rng.choice(TOKENS)
        elif way == 3:
            end = at + rng.choice((4, 40, 400))
            found[at:at] = found[at:end] * rng.choice((1, 2, 20))
        else:
            token = rng.choice(TOKENS)
            found[at : at + len(token)] = token
    return bytes(found)


def mutated_package(rng: random.Random, data: bytes) -> bytes:
    """A spreadsheet with one of its parts mutated, so that it can still be unpacked."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as source, zipfile.ZipFile(out, "w") as target:
        chosen = rng.choice(source.namelist())
        for name in source.namelist():
            part = source.read(name)
            target.writestr(name, mutated(rng, part) if name == chosen else part)
    return out.getvalue()


ODD: tuple[Any, ...] = (
    None, True, -1, 0, 10**18, 10**30, 1e308, "", "x" * 1500, "standard", "2026-09-07", "9999-12-31", "²", [], {},
    ["a"],
)  # fmt: skip


def mutated_document(rng: random.Random, data: bytes) -> bytes:
    """A document with one value that is another, or gone, or twice."""
    whole = json.loads(data)
    for _ in range(rng.choice((1, 1, 2, 4))):
        at = whole
        while True:
            keys = list(at) if isinstance(at, dict) else list(range(len(at)))
            if not keys:
                break
            key = rng.choice(keys)
            if isinstance(at[key], dict | list) and at[key] and rng.random() < 0.9:
                at = at[key]
                continue
            if isinstance(at, list) and rng.random() < 0.5:
                at.append(at[key])
            elif rng.random() < 0.3:
                del at[key]
            else:
                at[key] = rng.choice(ODD)
            break
    return json.dumps(whole).encode()


class Readers(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        rng = random.Random(4)
        self.plan = random_plan(rng, 15, calendars=1, summaries=True, resources=3, projects=2, rich=True)
        draft = self.plan.draft()
        draft.put(Field("f", "Cost", "a0", FieldKind.MONEY))
        leaf = next(t for t in self.plan.tasks.values() if not self.plan.is_summary(t.id))
        draft.put(
            replace(leaf, tags=("a", "b"), notes="x\ny", fields=(("Cost", 5),), stream="s", attachments=("f.pdf",))
        )
        self.plan = draft.finish()[0]

    def fuzz(self, suffix: str, mutate: Callable[[random.Random, bytes], bytes] = mutated) -> None:
        path, rng, read = self.folder / f"good{suffix}", random.Random(suffix), 0
        save(self.plan, str(path), "me", "x")
        good = path.read_bytes()
        for i in range(ROUNDS):
            path = self.folder / f"bad{suffix}"
            path.write_bytes(mutate(rng, good))
            try:
                found = load(str(path))
                check_whole(found)
                read += 1
                save(found, str(self.folder / f"w{i}.hexapod"), "me", "x")
            except HexapodError as error:
                self.assertTrue(str(error).strip())
                self.assertFalse((self.folder / f"w{i}.hexapod").exists())
                continue
            session = Session.open(self.folder / f"w{i}.hexapod")
            self.assertEqual(set(session.plan.tasks), set(found.tasks))
            session.compute()
            session.close()
        self.assertGreater(read, 0)

    def test_plan_json(self) -> None:
        self.fuzz(".json", lambda rng, data: (mutated_document if rng.random() < 0.8 else mutated)(rng, data))

    def test_csv(self) -> None:
        self.fuzz(".csv")

    def test_text(self) -> None:
        self.fuzz(".txt")

    def test_icalendar(self) -> None:
        self.fuzz(".ics")

    def test_spreadsheets(self) -> None:
        self.fuzz(".xlsx", lambda rng, data: (mutated_package if rng.random() < 0.8 else mutated)(rng, data))

    def test_a_pool_and_a_directory(self) -> None:
        rng, left_out = random.Random(9), 0
        head = b"Name,Initials,Kind,Role,Capacity,Skills,Calendar,Leave,Rate,Email\n"
        good = (
            head
            + b"Mo Okon,MO,person,Joiner,1,glass 4,Standard week,2026-10-01 to 2026-10-05,30,mo@alder.example\n" * 3
        )
        for _ in range(ROUNDS):
            path = self.folder / "pool.csv"
            path.write_bytes(mutated(rng, good))
            try:
                found = from_sheet(self.plan, sheets_of(path)[0], "People")
                left_out += sum(bool(row.trouble) for row in found.rows)
                if found.edit is not None:
                    check_whole(found.edit.applied_to(self.plan))
            except HexapodError:
                continue
        self.assertGreater(left_out, 5)
        people = '[{"name": "Mo Okon", "skills": "glass"}, {"name": "Zoë Läng", "role": "Joiner"}]'.encode()
        for data in (people.decode().encode("latin-1"), *(mutated(rng, people) for _ in range(ROUNDS))):
            try:
                check_whole(getattr(from_directory(self.plan, StandIn(data).search(""), "x").edit, "applied_to",
                                    lambda plan: plan)(self.plan))  # fmt: skip
            except HexapodError:
                continue


class Named(unittest.TestCase):
    """The examples that were found by hand."""

    def refused(self, name: str, data: bytes, says: str) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / name
            path.write_bytes(data)
            with self.assertRaisesRegex(HexapodError, says):
                load(str(path))

    def sheet(self, *cells: tuple[str, object]) -> bytes:
        book = openpyxl.Workbook()
        for place, value in cells:
            book.active[place] = value
        out = io.BytesIO()
        book.save(out)
        return out.getvalue()

    def test_spreadsheets_that_would_be_huge(self) -> None:
        self.refused("far.xlsx", self.sheet(("A1", "Name"), ("XFD20000", 1)), "20,000 rows|cells")
        self.refused("low.xlsx", self.sheet(("A1", "Name"), ("A1048576", 1)), "1,048,576 rows")
        escaped = self.sheet(("A1", "Name"), ("B20000", 1))
        out = io.BytesIO()
        with zipfile.ZipFile(io.BytesIO(escaped)) as source, zipfile.ZipFile(out, "w") as target:
            for entry in source.namelist():
                target.writestr(entry, source.read(entry).replace(b'r="B20000"', b'r="&#88;FD20000"'))
        self.refused("escaped.xlsx", out.getvalue(), "damaged")
        ods = io.BytesIO()
        with zipfile.ZipFile(ods, "w") as target:
            target.writestr("content.xml", "<x/>")
        self.refused("other.xlsx", ods.getvalue(), "no spreadsheet of the kind")

    def test_an_unknown_version_of_the_package(self) -> None:
        data = bytearray(self.sheet(("A1", "Name"), ("A2", "x")))
        at = data.index(b"PK\x01\x02")
        data[at + 6] = 200  # the version that is needed to unpack
        self.refused("version.xlsx", bytes(data), "damaged|no spreadsheet")

    def test_texts_of_a_million_lines(self) -> None:
        self.refused("long.txt", b"x\n" * 1_000_000, "1,000,000 lines; 200,000 are the most")
        self.refused("long.csv", b"x\n" * 300_000, "200,001 rows")
        self.refused("wide.csv", b"," * 5_000_000, "characters|cells|columns")

    def test_numbers_beyond_all_bounds(self) -> None:
        head = '{"format": "hexapod-plan", "version": 1, "projects": [{"id": "p", "start": "2026-09-07"}], '
        calendar = '"calendars": [{"id": "c", "base": "standard", "hours_a_day": 1e308}]}'
        self.refused("a.json", (head + calendar).encode(), "hours")
        for value in ("1" * 30, "1" * 5000, "-" + "9" * 19, "1e400"):
            text = head + f'"tasks": [{{"id": "t", "project": "p", "fields": {{"x": {value}}}}}]}}'
            self.refused("b.json", text.encode(), "field|number|integer|JSON|Expected")
        for priority in ("²", "9" * 5000, "1e3", "-1"):
            self.refused("c.csv", f"Name,Priority\nx,{priority}\n".encode(), "priority")
        book = self.sheet(("A1", "Name"), ("B1", "Level"), ("A2", "x"), ("B2", float("inf")))
        with tempfile.TemporaryDirectory() as folder:
            (Path(folder) / "d.xlsx").write_bytes(book)
            self.assertEqual(len(load(str(Path(folder) / "d.xlsx")).tasks), 1)

    def todo(self, *lines: str) -> bytes:
        return "\r\n".join(
            ["BEGIN:VCALENDAR", "BEGIN:VTODO", "UID:1", "SUMMARY:x", *lines, "END:VTODO", "END:VCALENDAR", ""]
        ).encode()

    def test_to_dos_that_are_odd(self) -> None:
        for lines, says in (
            (("DTSTART:00010101T000000Z",), "outside 1970|year|date|lies"), (("DUE:99991231T235959",), "outside|date"),
            (("DTSTART:20260901", "DURATION:P99999999D"), "century|date|number|understood"),
            ((f"RELATED-TO;RELTYPE=FINISHTOSTART;GAP=PT{'9' * 5000}M:2",), "2|task|no"),
            (("RELATED-TO;RELTYPE=FINISHTOSTART:1",), "itself"),
            (("nonsense",), "line 5"),
        ):  # fmt: skip
            with self.subTest(lines=str(lines)[:80]):
                self.refused("b.ics", self.todo(*lines), says)
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "c.ics"
            path.write_bytes(self.todo("DTSTART:20260907T080000", "DURATION:P1D", "DURATION:P2D", "CATEGORIES:a,b"))
            self.assertEqual(next(iter(load(str(path)).tasks.values())).tags, ("a", "b"))

    def test_what_cannot_be_a_plan_becomes_no_workspace(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            for name, data in (
                ("long.csv", b"Name\n" + b"x" * 1500), ("own.csv", b"#,Name,Waits for\n1,a,1.1\n1.1,b,\n"),
                ("loop.csv", b"#,Name,Waits for\n1,a,2\n2,b,1\n"),
                ("self.ics", self.todo("RELATED-TO;RELTYPE=FINISHTOSTART:1")),
            ):  # fmt: skip
                source, target = Path(folder) / name, Path(folder) / f"{name}.hexapod"
                source.write_bytes(data)
                with self.assertRaises(HexapodError, msg=name):
                    save(load(str(source)), str(target), "me", "x")
                self.assertFalse(target.exists())

    def test_file_names_that_are_no_text(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            source = Path(folder) / os.fsdecode(b"caf\xe9.csv")
            source.write_bytes(b"Name\nx\n")
            target = Path(folder) / os.fsdecode(b"caf\xe9.hexapod")
            save(load(str(source)), str(target), "me", "x")
            session = Session.open(target)
            self.assertEqual(len(session.plan.tasks), 1)
            session.close()
            with self.assertRaises(HexapodError) as caught:
                load(str(target.with_suffix(".nothing")))
            str(caught.exception).encode()


class Writers(unittest.TestCase):
    NASTY = (
        "a;=1+1;b",
        "=cmd|x",
        "x\r\nATTACH:evil",
        "<b>x</b>",
        "\u202egnp",
        "a\tb",
        "'",
        '"',
        "\x0b",
        "𝕏",
        "x" * 40_000,
    )

    def plan(self) -> Plan:
        fields = [Field("n", "N", "a0", FieldKind.NUMBER), Field("d", "D", "a1", FieldKind.DATE),
                  Field("m", "M", "a2", FieldKind.MONEY), Field("y", "Y", "a3", FieldKind.YES_NO),
                  Field("c", "C", "a4", FieldKind.COMPUTED, (), "priority * 999999999999 * 999999999999"),
                  Field("w", "W", "a5", FieldKind.COMPUTED, (), "start + 700000 w"),
                  Field("x", "X", "a6", FieldKind.COMPUTED, (), "this is (")]  # fmt: skip
        made: list[Task] = []
        for i, task in enumerate(tasks(*((f"t{i}", DAY) for i in range(len(self.NASTY))))):
            text = self.NASTY[i]
            values = (("N", text[:90]), ("D", "no date"), ("M", 1.5), ("Y", "maybe"))
            made.append(
                replace(task, name=text[:900], notes=text, stream=text[:90], attachments=(text[:90],), fields=values)
            )
        return Plan.of([project(), Resource("r", "R;=1+1", "a0", initials="R"), *fields, *made])

    def test_every_format_takes_any_name_and_any_value(self) -> None:
        plan = self.plan()
        for suffix in (".csv", ".xlsx", ".ics", ".txt"):
            self.assertTrue(written(plan, suffix, "x[]:*?/\\'\n", schedule(plan)))
        pool = pool_rows(plan)
        self.assertTrue(write_csv(pool) and write_xlsx("People", pool))

    def test_csv_has_no_cell_that_another_delimiter_would_make_a_formula(self) -> None:
        data = written(self.plan(), ".csv", "x").decode("utf-8-sig")
        for delimiter in ",;\t":
            for row in csv.reader(io.StringIO(data, newline=""), delimiter=delimiter):
                for cell in row:
                    self.assertNotIn(cell[:1], tuple("=+@"), cell)

    def test_csv_is_read_back_as_it_was_written(self) -> None:
        rows = [["Name", "Notes"], *([text[:900], text[:900]] for text in self.NASTY if text != "\x0b")]
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "x.csv"
            path.write_bytes(write_csv(rows))
            self.assertEqual(sheets_of(path)[0].rows, rows)

    def test_icalendar_has_no_property_that_nobody_meant(self) -> None:
        found = icalendar.Calendar.from_ical(written(self.plan(), ".ics", "x"))
        for part in found.walk("VTODO"):
            attached = part.get("attach")
            self.assertNotIsInstance(attached, list, "one attachment each, as in the plan")

    def test_what_is_written_as_icalendar_is_read_as_the_library_reads_it(self) -> None:
        plan = random_plan(random.Random(6), 25, summaries=True)
        data = written(plan, ".ics", "x")
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "x.ics"
            path.write_bytes(data)
            (sheet,) = sheets_of(path)
        head, *rows = sheet.rows
        theirs = {str(p["uid"]): p for p in icalendar.Calendar.from_ical(data).walk("VTODO")}
        self.assertEqual({row[0] for row in rows}, set(theirs))
        for row in rows:
            part = theirs[str(row[0])]
            self.assertEqual(row[head.index("name")], str(part["summary"]))
            if isinstance(row[head.index("start")], datetime):
                self.assertEqual(row[head.index("start")], part["dtstart"].dt)

    def test_two_templates_whose_names_differ_by_a_sign_are_two(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            own, plan = Path(folder) / "own", Plan.of([project(), *tasks(("a", DAY))])
            fragment = edits.fragment_of_project(plan, "p")
            files = {save_template(fragment, name, own) for name in ("a/b", "ab", "a:b", "a/b", "???")}
            self.assertEqual(len(files), 4)
            self.assertEqual({t.name for t in templates(own) if not t.is_shipped}, {"a/b", "ab", "a:b", "???"})


if __name__ == "__main__":
    unittest.main()
