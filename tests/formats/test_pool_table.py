"""The pool out to a table and in again, from files of all sorts and from the directory."""

from __future__ import annotations

import random
import tempfile
import unittest
from datetime import date
from pathlib import Path

from hexapod.errors import BadText
from hexapod.formats.pool_table import COLUMNS, Outcome, PoolProposal, from_directory, from_sheet, pool_rows
from hexapod.formats.tables import read_table, write_csv, write_xlsx
from hexapod.plan.changes import diff
from hexapod.plan.plan import Plan
from hexapod.plan.records import CalendarException, Resource, ResourceKind, Skill
from hexapod.plan.validity import check
from hexapod.services.directory import DirectoryFailed, StandIn
from hexapod.worktime.clock import day_number
from tests.support import project


def pool(rng: random.Random) -> Plan:
    day = day_number(date(2027, 1, 4))
    roles = [Resource(f"r{i}", f"Role {i}", f"a{i}", ResourceKind.ROLE, initials=f"R{i}") for i in range(3)]
    team = Resource("t", "Team, north", "b", ResourceKind.TEAM, initials="TN", capacity=3.0)
    people = [
        Resource(
            f"p{i}",
            rng.choice(("=cmd()", "Ada", "Bo, the second", "Ça", "-7")) + f" {i}",
            f"c{i:02}",
            rng.choice((ResourceKind.PERSON, ResourceKind.EQUIPMENT, ResourceKind.PLACE, ResourceKind.MATERIAL)),
            rng.choice((0.5, 1.0, 2.0)),
            rng.choice((None, "standard", "always")),
            f"P{i}",
            leave=rng.choice(
                (
                    (),
                    (CalendarException(day, day + rng.randrange(9)),),
                    (CalendarException(day, day), CalendarException(day + 5, day + 6, ((540, 780), (840, 900)))),
                )
            ),
            capacity_from=((day, 0.5),) if rng.random() < 0.3 else (),
            email=rng.choice(("", f"p{i}@alderquay.example")),
            section=rng.choice(("", "Estate")),
            role=rng.choice((None, "r0", "r1")),
            roles=rng.choice(((), ("r2",), ("r0", "r2"))),
            team=rng.choice((None, "t")),
            skills=rng.choice(((), (Skill("glazing", 4), Skill("joinery")))),
            rate=rng.choice((0, 3150)),
            rate_from=((day, 3300),) if rng.random() < 0.3 else (),
        )
        for i in range(12)
    ]
    return Plan.of([project(), *roles, team, *people])


def written_and_read(rows: list, suffix: str):  # type: ignore[no-untyped-def, type-arg]
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / f"people{suffix}"
        path.write_bytes(write_csv(rows) if suffix == ".csv" else write_xlsx("People", rows))
        return read_table(path)[0]


class Tables(unittest.TestCase):
    def brings(self, plan: Plan, text: str) -> PoolProposal:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "people.csv"
            path.write_text(text, encoding="utf-8")
            return from_sheet(plan, read_table(path)[0], "Import people")

    def taken(self, plan: Plan, proposal: PoolProposal) -> Plan:
        assert proposal.edit is not None
        after = proposal.edit.applied_to(plan)
        check(after, diff(plan, after))
        return after

    def test_out_and_in_again_changes_nothing_and_into_nothing_brings_everything(self) -> None:
        rng = random.Random(4)
        for suffix in (".csv", ".xlsx"):
            for _ in range(6):
                plan = pool(rng)
                sheet = written_and_read(pool_rows(plan), suffix)
                same = from_sheet(plan, sheet, "")
                self.assertEqual((same.edit, same.count(Outcome.SAME)), (None, len(plan.resources)))
                fresh = from_sheet(Plan.of([project()]), sheet, "")
                made = self.taken(Plan.of([project()]), fresh)
                self.assertEqual(pool_rows(made), pool_rows(plan))

    def test_a_foreign_table_is_understood_by_its_headings_and_each_mistake_is_named_by_row_and_column(self) -> None:
        text = (
            "Staff list;;;;;\nprinted today;;;;;\n"
            "Employee;Job;FTE;Short;Holiday;Type\n"
            "Ada Bell;Glass;0.5;AB;2027-01-04 to 2027-01-08;\n"
            "Bo Crane;Glass;one;;;\n"
            ";Glass;1;;;\n"
            "Cy Dell;Glass;;AB;;\n"
            "Di Eames;;;;soon;\n"
            "Lift;;2;;;machine\n"
            "Mast;;2;;;equipment\n"
        )
        found = self.brings(Plan.of([project()]), text)
        said = {(r.row, r.outcome, r.trouble.split(":")[0]) for r in found.rows}
        self.assertEqual(
            said,
            {
                (4, Outcome.ADD, ""), (5, Outcome.LEFT_OUT, "Capacity"), (6, Outcome.LEFT_OUT, "Name"),
                (7, Outcome.LEFT_OUT, "Initials"), (8, Outcome.LEFT_OUT, "Leave"), (9, Outcome.LEFT_OUT, "Kind"),
                (10, Outcome.ADD, ""),
            },
        )  # fmt: skip
        self.assertEqual(found.made, ("Glass",))
        after = self.taken(Plan.of([project()]), found)
        ada = next(r for r in after.resources.values() if r.name == "Ada Bell")
        self.assertEqual((ada.capacity, ada.initials, after.resources[ada.role or ""].name), (0.5, "AB", "Glass"))
        self.assertEqual(len(after.resources), 3, "nothing of a row that is left out stays")

    def test_extra_days_have_their_hours_or_the_usual_ones(self) -> None:
        plan = Plan.of([project(), Resource("ada", "Ada", "a0", leave=(CalendarException(20_000, 20_001),))])
        after = self.taken(plan, self.brings(plan, 'Name,Extra days\nAda,"2026-12-05 9-13 and 14-15, 2026-12-12"\n'))
        first = day_number(date(2026, 12, 5))
        self.assertEqual(
            after.resources["ada"].leave,
            (
                CalendarException(20_000, 20_001),
                CalendarException(first, first, ((540, 780), (840, 900))),
                CalendarException(first + 7, first + 7, ((480, 720), (780, 1020))),
            ),
        )
        wrong = self.brings(plan, "Name,Extra days\nAda,2026-12-05 9-99\n")
        self.assertTrue(wrong.rows[0].trouble.startswith("Extra days: "), wrong.rows)

    def test_only_what_a_table_says_is_changed(self) -> None:
        plan = Plan.of([project(), Resource("ada", "Ada", "a0", capacity=0.5, email="a@b.example", initials="AD")])
        after = self.taken(plan, self.brings(plan, "Name,Capacity,Email\nada,2,\n"))
        self.assertEqual((after.resources["ada"].capacity, after.resources["ada"].email), (2.0, "a@b.example"))

    def test_a_table_without_names_is_refused_with_what_is_missing(self) -> None:
        for text in ("", "a,b\n1,2\n", "Initials,Role\nAB,Glass\n"):
            with self.assertRaisesRegex(BadText, "Name"):
                self.brings(Plan(), text)

    def test_headings_are_known_by_their_own_names(self) -> None:
        self.assertEqual(pool_rows(Plan())[0], list(COLUMNS.values()))


class OfTheDirectory(unittest.TestCase):
    def test_all_words_must_be_there_and_who_is_taken_comes_with_the_role(self) -> None:
        directory = StandIn()
        self.assertGreater(len(directory.search("")), 15)
        found = directory.search("registrar SCANS")
        self.assertTrue(found and all("location scans" in p.skills for p in found))
        plan = Plan.of([project(), Resource("rre", "Registration", "a0", ResourceKind.ROLE, initials="RE")])
        proposal = from_directory(plan, found, "Add some")
        assert proposal.edit is not None
        after = proposal.edit.applied_to(plan)
        check(after, diff(plan, after))
        self.assertEqual({r.role for r in after.resources.values()}, {None, "rre"})
        self.assertEqual(len(after.resources), 1 + len(found))
        again = from_directory(after, found, "")
        self.assertEqual((again.edit, again.count(Outcome.SAME)), (None, len(found)))

    def test_a_directory_that_cannot_be_read_says_so(self) -> None:
        for data in (b"", b"[{}]", b'[{"name": "A", "password": "x"}]', b"[" * 100_000):
            with self.assertRaises(DirectoryFailed):
                StandIn(data).search("a")


if __name__ == "__main__":
    unittest.main()
