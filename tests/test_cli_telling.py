"""The commands that tell others: reports and the read-only page, as programs."""

from __future__ import annotations

import json
import tempfile
import unittest
from pathlib import Path

from msgspec.structs import replace
from pptx import Presentation
from pypdf import PdfReader

from hexapod.formats.plan_json import write_plan
from hexapod.formats.tables import read_table
from hexapod.plan.plan import Plan
from hexapod.worktime import clock
from hexapod.worktime.clock import date_of
from tests.support import DAY, project, tasks
from tests.test_cli import hexapod

KEPT_IN = "The moth nobody may know of"


def museum() -> Plan:
    """A gallery that is marked for people outside, with one task that is not, and a store that is inside."""
    gallery, store = project(outside=True), project("q")
    dim, kept_in = tasks(("a", 3 * DAY), ("b", 2 * DAY))
    moved = tasks(("c", DAY), project="q")
    named = [(gallery, "Moth corner"), (store, "Store move"), (dim, "Lamps dimmed")]
    return Plan.of(
        [*(replace(r, name=name) for r, name in named), replace(kept_in, name=KEPT_IN, outside=False), *moved]
    )


class Telling(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.file = self.folder / "plan.json"
        self.file.write_bytes(write_plan(museum()))
        self.workspace = self.folder / "plan.hexapod"
        self.run_well("convert", str(self.file), str(self.workspace))

    def run_well(self, *arguments: str) -> str:
        done = hexapod(*arguments)
        self.assertEqual((done.returncode, done.stderr), (0, b""))
        return done.stdout.decode()

    def refused(self, *arguments: str) -> str:
        done = hexapod(*arguments)
        said = done.stderr.decode()
        self.assertEqual((done.returncode, done.stdout, len(said.splitlines())), (2, b"", 1))
        return said

    def test_a_report_is_written_in_each_form_from_a_workspace_and_from_a_file(self) -> None:
        for source in (self.file, self.workspace):
            out = {end: self.folder / f"r.{end}" for end in ("pdf", "pptx", "xlsx", "html")}
            for path in out.values():
                self.run_well("report", str(source), "Portfolio", str(path))
            texts = {
                "pdf": " ".join(page.extract_text() for page in PdfReader(out["pdf"]).pages),
                "pptx": " ".join(
                    cell.text
                    for slide in Presentation(str(out["pptx"])).slides
                    for shape in slide.shapes
                    if shape.has_table
                    for cell in shape.table.iter_cells()
                ),
                "xlsx": " ".join(str(c) for sheet in read_table(out["xlsx"]) for row in sheet.rows for c in row),
                "html": out["html"].read_text(encoding="utf-8"),
            }
            for form, text in texts.items():
                for name in ("Moth corner", "Store move"):
                    self.assertIn(name, text, f"{name} in {form} of {source.name}")
            for path in out.values():
                path.unlink()

    def test_the_reports_are_listed_and_one_project_is_chosen_by_name(self) -> None:
        listed = [r["name"] for r in json.loads(self.run_well("report", str(self.workspace), "--json"))]
        self.assertIn("portfolio", listed)
        out = self.folder / "r.html"
        self.run_well("report", str(self.workspace), "Portfolio", str(out), "--project", "Store move")
        text = out.read_text(encoding="utf-8")
        self.assertIn("Store move", text)
        self.assertNotIn("Moth corner", text)

    def test_days_that_are_past_need_a_history(self) -> None:
        out = self.folder / "r.html"
        today = clock.now() // 1440
        self.run_well("report", str(self.workspace), "week", str(out), "--until", str(date_of(today)))
        self.assertTrue(out.exists())
        past = str(date_of(today - 3))
        self.assertIn("not there yet", self.refused("report", str(self.workspace), "week", str(out), "--until", past))
        self.assertIn("history", self.refused("report", str(self.file), "week", str(out), "--until", past))
        self.refused("report", str(self.workspace), "week", str(out), "--until", "someday")

    def test_a_page_for_people_outside_holds_nothing_that_is_inside(self) -> None:
        inside, outside = self.folder / "in.html", self.folder / "out.html"
        self.run_well("page", str(self.workspace), str(inside))
        self.run_well("page", str(self.workspace), str(outside), "--outside")
        self.assertTrue(all(n in inside.read_text(encoding="utf-8") for n in (KEPT_IN, "Store move", "Lamps dimmed")))
        text = outside.read_text(encoding="utf-8")
        self.assertIn("Lamps dimmed", text)
        self.assertFalse([n for n in (KEPT_IN, "Store move") if n in text])

    def test_what_cannot_be_told_is_one_line_and_leaves_no_file(self) -> None:
        out = str(self.folder / "r.html")
        self.assertIn("No such", self.refused("report", str(self.file), "No such", out))
        self.assertIn("a name that ends in", self.refused("report", str(self.file), "Portfolio"))
        self.refused("report", str(self.file), "Portfolio", str(self.folder / "r.doc"))
        self.refused("report", str(self.file), "Portfolio", out, "--project", "No such")
        self.refused("page", str(self.file), str(self.folder / "r.txt"))
        self.refused("page", str(self.file), str(self.folder / "none" / "r.html"))
        self.assertEqual({p.name for p in self.folder.iterdir()}, {"plan.json", "plan.hexapod"})


if __name__ == "__main__":
    unittest.main()
