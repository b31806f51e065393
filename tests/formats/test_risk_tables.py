"""The register as a table: what goes out comes in again, and what cannot be read is named by row and column."""

from __future__ import annotations

import tempfile
import unittest
from pathlib import Path

import openpyxl
from msgspec.structs import replace

from hexapod.errors import BadFile
from hexapod.fields.field import Texts
from hexapod.formats.risk_tables import read_risks, risk_rows
from hexapod.formats.tables import write_csv, write_xlsx
from hexapod.plan import edits
from hexapod.plan.plan import Plan
from hexapod.plan.records import Resource
from hexapod.plan.risks import AnswerKind, RiskKind, RiskState
from tests.plan.test_risks import RISK
from tests.support import DAY, project, tasks


class Tables(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        mo = Resource("mo", "Mo", "a0", initials="MO")
        whole = replace(RISK, name="=cmd|' /C calc'!A0", cost=(10050, 20000, 90000), answer_cost=12345)
        action = replace(
            RISK, id="r", name="Ask a second supplier", kind=RiskKind.ACTION, delays_after=(), answered=True
        )
        self.plan = Plan.of([project(), *tasks(("a", 3 * DAY), ("b", DAY), ("c", 2 * DAY)), mo, whole, action])

    def write(self, name: str, rows: list[list[object]]) -> Path:
        path = self.folder / name
        path.write_bytes(write_csv(rows) if name.endswith("csv") else write_xlsx("Risks", rows))
        return path

    def read(self, *rows: list[object], plan: Plan | None = None):  # type: ignore[no-untyped-def]
        return read_risks(Texts(plan or self.plan), self.write("in.xlsx", [list(row) for row in rows]), "p")

    def test_what_goes_out_comes_in_as_it_was(self) -> None:
        rows = risk_rows(self.plan)
        for name in ("out.xlsx", "out.csv"):
            found = read_risks(Texts(self.plan), self.write(name, rows), None)
            if name.endswith("xlsx"):
                self.assertEqual((found.items, found.findings, found.known), ((), (), 2))
            empty = self.plan.draft()
            for key in ("q", "r"):
                empty.remove("risks", key)
            again = read_risks(Texts(empty.finish()[0]), self.folder / name, None)
            if name.endswith("xlsx"):
                made = [replace(r, id=known) for r, known in zip(again.items, "qr", strict=True)]
                self.assertEqual({r.id: r for r in made}, dict(self.plan.risks))

    def test_no_formula_goes_out(self) -> None:
        path = self.write("out.xlsx", risk_rows(self.plan))
        cells = [c for row in openpyxl.load_workbook(path).active.iter_rows() for c in row]
        self.assertEqual({c.data_type for c in cells} - {"s", "n", "d"}, set())
        lines = self.write("out.csv", risk_rows(self.plan)).read_text()
        self.assertNotIn(",=cmd", lines.replace('"', ""))

    def test_only_the_columns_of_the_file_are_changed(self) -> None:
        found = self.read(["What", "Chance", "State"], [self.plan.risks["q"].name, 0.35, "closed"])
        (risk,) = found.items
        self.assertEqual(risk, replace(self.plan.risks["q"], chance=0.35, state=RiskState.CLOSED))
        after = edits.save_risk(self.plan, risk).applied_to(self.plan)
        self.assertEqual(self.read(["What", "Chance", "State"], [risk.name, 0.35, "closed"], plan=after).known, 1)

    def test_other_words_for_columns_and_a_new_entry(self) -> None:
        found = self.read(["Risk", "Type", "Probability", "Response", "Owner", "Delay"],
                          ["Rain", "Risk", "1 in 4", "pass on", "MO", "1: 3-8 d"])  # fmt: skip
        (risk,) = found.items
        self.assertEqual((risk.name, risk.chance, risk.answer, risk.owner), ("Rain", 0.25, AnswerKind.PASS_ON, "mo"))
        self.assertEqual(risk.project, "p")

    def test_what_cannot_be_read_is_named(self) -> None:
        heads = ["What", "Kind", "Chance", "Owner", "Adds", "Costs", "Look again", "Project"]
        found = self.read(
            heads,
            ["Rain", "weather", "", "", "", "", "", ""],
            ["Rain", "", "130 %", "", "", "", "", ""],
            ["Rain", "", "", "Somebody", "", "", "", ""],
            ["Rain", "", "", "", "9: 3 d", "", "", ""],
            ["Rain", "", "", "", "", "much", "", ""],
            ["Rain", "", "", "", "", "", "soon", ""],
            ["Rain", "", "", "", "", "", "", "Cellar"],
            ["", "risk", "", "", "", "", "", ""],
            ["Snow", "", "5 %", "", "", "", "", ""],
        )
        self.assertEqual([r.name for r in found.items], ["Snow"])
        words = ("Row 2, Kind: “weather” is none of risk", "Row 3, Chance: “130 %” is more", "Row 4, Owner: “Some",
                 "Row 5, Adds: “9” is no row", "Row 6, Costs: “much” is no amount", "Row 7, Look again: ",
                 "Row 8, Project: there is none called “Cellar”", "Row 9, What: it needs a name")  # fmt: skip
        self.assertEqual(len(found.findings), len(words))
        for finding, said in zip(found.findings, words, strict=True):
            self.assertIn(said, finding)
        with self.assertRaisesRegex(BadFile, "no row of headings"):
            self.read(["Task", "Length"], ["Rain", 3])


if __name__ == "__main__":
    unittest.main()
