"""Whatever is typed or read about people: understood, or refused with one sentence; nothing is ever run."""

from __future__ import annotations

import csv
import io
import random
import tempfile
import unittest
from pathlib import Path

import openpyxl

from hexapod.errors import BadFile, BadText, HexapodError
from hexapod.formats.pool_table import Outcome, from_directory, from_sheet, pool_rows, propose
from hexapod.formats.pool_text import (
    extra_text,
    leave_text,
    propose_initials,
    rates_text,
    read_extra,
    read_leave,
    read_rates,
    read_roles,
    read_share,
    read_skills,
    read_steps,
    skills_text,
    steps_text,
)
from hexapod.formats.tables import Sheet, read_table, write_csv, write_xlsx
from hexapod.plan.changes import diff
from hexapod.plan.plan import Plan
from hexapod.plan.records import CalendarException, Resource, ResourceKind, Skill
from hexapod.plan.validity import check
from hexapod.services.directory import Person
from hexapod.worktime.dates import parse_moment
from tests.support import project

PIECES = [
    "1", "0.5", "-1", "1e9", "nan", "inf", "∞", "½", "1,5", "%", "50 %", "to", "from", "and", ",", ";", " ",
    "2027-01-04", "2027-13-40", "04/01/2027", "8-12", "25-99", "08:00-12:00", "glazing", "glazing 5", "glazing 6",
    "=1+1", "@x", "\t", "\x00", "'", '"', "…", "x" * 300, "一", "🦋", "\u202e",
]  # fmt: skip


def nonsense(rng: random.Random) -> str:
    return rng.choice(("", " ", ", ")).join(rng.choice(PIECES) for _ in range(rng.randrange(6)))


class Typed(unittest.TestCase):
    """Readers of single fields against texts of all sorts."""

    def setUp(self) -> None:
        self.rng = random.Random(20)
        self.plan = Plan.of([project(), Resource("glass", "Glass", "a0", ResourceKind.ROLE, initials="GL")])
        self.readers = {
            "steps": lambda text: read_steps(text, parse_moment),
            "rates": lambda text: read_rates(text, parse_moment),
            "leave": lambda text: read_leave(text, (), parse_moment),
            "extra": lambda text: read_extra(text, (), parse_moment),
            "share": read_share,
            "skills": read_skills,
            "roles": lambda text: read_roles(self.plan, text),
        }

    def test_nonsense_is_refused_in_one_short_sentence_or_understood(self) -> None:
        for name, read in self.readers.items():
            understood = 0
            for _ in range(1500):
                text = nonsense(self.rng)
                try:
                    read(text)
                    understood += 1
                except BadText as error:
                    self.assertTrue(str(error).strip(), name)
                    self.assertLess(len(str(error)), 2500, name)
            self.assertGreater(understood, 0, name)

    def test_what_is_understood_can_be_shown_and_read_again(self) -> None:
        for _ in range(1500):
            text = nonsense(self.rng)
            for read, show in (
                (lambda t: read_steps(t, parse_moment), lambda found: steps_text(*found)),
                (lambda t: read_rates(t, parse_moment), lambda found: rates_text(*found)),
                (lambda t: read_leave(t, (), parse_moment), leave_text),
                (lambda t: read_extra(t, (), parse_moment), extra_text),
                (read_skills, skills_text),
            ):
                try:
                    found = read(text)
                except BadText:
                    continue
                if found:
                    self.assertEqual(read(show(found)), found, text)

    def test_initials_are_one_word_and_new_whoever_is_there(self) -> None:
        taken: set[str] = set()
        for _ in range(400):
            found = propose_initials(nonsense(self.rng), taken)
            self.assertNotIn(found.casefold(), taken - {""})
            if found:
                self.assertFalse(any(c in ",;%×" or c.isspace() for c in found), found)
                taken.add(found.casefold())

    def test_leave_keeps_extra_days_and_rules_and_the_other_way_round(self) -> None:
        rule = CalendarException(20_000, 20_000, rule="DTSTART:20270104T000000\nRRULE:FREQ=YEARLY")
        extra = CalendarException(20_100, 20_101, ((540, 780),))
        away = CalendarException(20_200, 20_210)
        before = (rule, extra, away)
        self.assertEqual(set(read_leave(leave_text(before), before, parse_moment)), set(before))
        self.assertEqual(set(read_extra(extra_text(before), before, parse_moment)), set(before))
        self.assertEqual(set(read_leave("", before, parse_moment)), {rule, extra})
        self.assertEqual(set(read_extra("", before, parse_moment)), {rule, away})


class Tables(unittest.TestCase):
    def setUp(self) -> None:
        self.rng = random.Random(21)
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def test_rows_of_nonsense_are_taken_or_left_out_and_what_is_taken_is_valid(self) -> None:
        names = ["name", "initials", "kind", "role", "roles", "team", "section", "capacity", "skills", "calendar",
                 "leave", "extra", "rate", "email"]  # fmt: skip
        taken = left = 0
        for _ in range(60):
            plan = Plan.of([project(), Resource("ada", "Ada", "a0", initials="AD")])
            rows = [
                (i, {n: nonsense(self.rng)[:200] if self.rng.random() < 0.4 else "" for n in names} | {"name": f"N{i}"})
                for i in range(self.rng.randrange(1, 8))
            ]
            found = propose(plan, rows, "Take")
            left += found.count(Outcome.LEFT_OUT)
            taken += found.count(Outcome.ADD)
            for row in found.rows:
                self.assertEqual(bool(row.trouble), row.outcome is Outcome.LEFT_OUT)
            if found.edit is not None:
                after = found.edit.applied_to(plan)
                try:
                    check(after, diff(plan, after))
                except HexapodError as error:
                    self.assertTrue(str(error))  # the door says what a reader let through
        self.assertGreater(taken, 10)
        self.assertGreater(left, 20)

    def test_nothing_that_goes_out_can_be_run_by_a_spreadsheet(self) -> None:
        names = ["=cmd|' /C calc'!A0", "+1+1", "-2+3", "@SUM(A1)", "\t=1", "'=1", "plain"]
        people = [Resource(f"r{i}", name, f"a{i}", skills=(Skill(name),)) for i, name in enumerate(names)]
        rows = pool_rows(Plan.of([project(), *people]))
        text = write_csv(rows).decode("utf-8-sig")
        for line in csv.reader(io.StringIO(text)):
            for cell in line:
                self.assertFalse(cell.startswith(("=", "+", "-", "@", "\t")), cell)
        path = self.folder / "people.xlsx"
        path.write_bytes(write_xlsx("People", rows))
        sheet = openpyxl.load_workbook(path).active
        assert sheet is not None
        for line in sheet.iter_rows():
            for cell in line:
                self.assertNotEqual(cell.data_type, "f", cell.value)
        back = [row[0] for row in read_table(path)[0].rows[1:]]
        self.assertEqual([str(b).strip() for b in back], [n.strip() for n in names])

    def test_headings_far_down_or_twice_and_rows_too_short_or_too_long(self) -> None:
        sheet = Sheet(
            "s", [["x"]] * 12 + [["Name", "Name", "FTE"], ["Ada"], ["Bo", "Other", 0.5, "more", "still more"], []]
        )
        found = from_sheet(Plan.of([project()]), sheet, "")
        self.assertEqual([(r.row, r.name) for r in found.rows], [(14, "Ada"), (15, "Bo")])
        assert found.edit is not None
        made = found.edit.applied_to(Plan.of([project()]))
        self.assertEqual({r.name: r.capacity for r in made.resources.values()}, {"Ada": 1.0, "Bo": 0.5})
        with self.assertRaises(BadText):
            from_sheet(Plan(), Sheet("s", [["x"]] * 40 + [["Name"], ["Ada"]]), "")

    def test_many_rows_are_read_in_one_go(self) -> None:
        rows = [["Name", "Role", "Capacity"], *([f"Person {i}", f"Role {i % 12}", 1] for i in range(3000))]
        found = from_sheet(Plan.of([project()]), Sheet("s", rows), "Many")  # type: ignore[arg-type]
        self.assertEqual((found.count(Outcome.ADD), len(found.made)), (3000, 12))
        assert found.edit is not None
        after = found.edit.applied_to(Plan.of([project()]))
        check(after, diff(Plan.of([project()]), after))
        self.assertEqual(len({r.initials for r in after.resources.values()}), 3012)

    def test_files_that_are_none(self) -> None:
        for name, data in (
            ("a.xlsx", b"PK\x03\x04 broken"),
            ("b.xlsx", b""),
            ("c.csv", b"\x00\x01\x02" * 50),
            ("d.xlsx", b"Name\nAda"),
        ):
            path = self.folder / name
            path.write_bytes(data)
            with self.assertRaises((BadFile, BadText), msg=name):
                from_sheet(Plan(), read_table(path)[0], "")

    def test_entries_of_a_directory_are_no_more_trusted_than_rows(self) -> None:
        people = [
            Person("", email="nobody@alderquay.example"),
            Person("Eve", skills="glazing 9"),
            Person("Ida", role="Glass", section="=1+1", skills="a; b 2"),
        ]
        found = from_directory(Plan.of([project()]), people, "Add")
        self.assertEqual([r.outcome for r in found.rows], [Outcome.LEFT_OUT, Outcome.LEFT_OUT, Outcome.ADD])
        assert found.edit is not None
        made = found.edit.applied_to(Plan.of([project()]))
        ida = next(r for r in made.resources.values() if r.name == "Ida")
        self.assertEqual(ida.skills, (Skill("a"), Skill("b", 2)))
        self.assertEqual({r.name for r in made.resources.values()}, {"Ida", "Glass"})


if __name__ == "__main__":
    unittest.main()
