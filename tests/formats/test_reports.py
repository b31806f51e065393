"""Reports as files, read again by other programs: python-pptx, openpyxl, python-calamine, lxml."""

from __future__ import annotations

import io
import os
import re
import tempfile
import unittest
from datetime import datetime
from pathlib import Path

import openpyxl
from lxml import etree, html
from msgspec.structs import replace
from pptx import Presentation
from python_calamine import load_workbook

from hexapod.errors import BadFile
from hexapod.formats.reports.charts import chart_svg, nice_above
from hexapod.formats.reports.clean import clean
from hexapod.formats.reports.files import Stopped, write_report
from hexapod.formats.reports.sheets import LARGE
from hexapod.formats.reports.slides import report_slides
from hexapod.formats.reports.web import report_html
from hexapod.plan.plan import Plan
from hexapod.plan.records import Project, Task
from hexapod.reports.catalogue import PARTS, make_report
from hexapod.reports.report import (
    CellKind,
    Chart,
    ChartKind,
    Column,
    Fact,
    Part,
    Report,
    Sentence,
    Series,
    Table,
    cell_text,
    plain_words,
)
from hexapod.worktime.clock import date_of
from tests.reports.test_parts import NOW, basis_of, rich_plan
from tests.support import DAY, MONDAY

WORDS = plain_words()
HOSTILE = (
    "=HYPERLINK(\"http://x.invalid\",\"a\")", "<script>alert(1)</script>", "+1", "-1", "@SUM(A1)", "a\x00b\x0bc\ufffe",
    "\u202eright to left\u202c", "عربي שלום", "L" * 10_000, "${title} $parts", "]]> <!-- -->", "'quoted' & \"both\"",
    "\ud83e\udd8b beetle", "tab\tand\nline",
)  # fmt: skip


def hostile_plan() -> Plan:
    """Names that would do something if anybody let them."""
    plan = rich_plan(4)
    draft = plan.draft()
    names = [name.encode("utf-8", "replace").decode()[:1000] for name in HOSTILE]
    for i, key in enumerate(sorted(plan.tasks)):
        draft.put(replace(plan.tasks[key], name=names[i % len(names)]))
    for i, key in enumerate(sorted(plan.resources)):
        draft.put(replace(plan.resources[key], name=f"{names[i % len(names)][:900]} {i}"))
    for i, key in enumerate(sorted(plan.projects)):
        draft.put(replace(draft.get("projects", key), name=names[i], department=names[i + 1]))
    return draft.finish()[0]


def report_of(plan: Plan, *parts: str, text: str = "") -> Report:
    return make_report(basis_of(plan), parts or tuple(PARTS), "Everything", text=text)


def made(rows: int) -> Report:
    table = Table(
        (Column("Name"), Column("Hours", CellKind.HOURS, "Counted."), Column("On", CellKind.FINISH),
         Column("Paid", CellKind.MONEY)),
        tuple((f"Row {i}", i / 10, (MONDAY // 1440 + 1 + i % 300) * 1440, i * 7) for i in range(rows)),
    )  # fmt: skip
    return Report("Large", "Many rows", (Part("x", "Rows", table=table),), made=NOW)


class Files(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def written(self, report: Report, ending: str) -> Path:
        path = self.folder / f"report{ending}"
        write_report(report, WORDS, path)
        self.assertEqual([p.name for p in self.folder.iterdir() if p.suffix == ".part"], [])
        return path

    # Slides

    def test_slides_have_titles_tables_and_charts_with_the_numbers_of_the_report(self) -> None:
        report = report_of(rich_plan(2), text="Please read\nthis first")
        deck = Presentation(str(self.written(report, ".pptx")))
        titles = [slide.shapes.title.text for slide in deck.slides]
        self.assertEqual(titles[0], "Everything")
        self.assertTrue(all(titles))
        text = "\n".join(s.text_frame.text for slide in deck.slides for s in slide.shapes if s.has_text_frame)
        self.assertIn("Please read", text)
        for part in report.parts:
            for sentence in part.sentences:
                self.assertIn(clean(sentence.text), text, part.id)
        charts = {s.name: s.chart for slide in deck.slides for s in slide.shapes if s.has_chart}
        for chart in (p.chart for p in report.parts if p.chart is not None):
            shown = charts[clean(chart.title)]
            self.assertEqual(list(shown.plots[0].categories), [clean(c) for c in chart.categories])
            for series, kept in zip(chart.series, shown.plots[0].series, strict=True):
                self.assertEqual(list(kept.values), [None if v is None else float(v) for v in series.values])
        tables = [s.table for slide in deck.slides for s in slide.shapes if s.has_table]
        milestones = next(p.table for p in report.parts if p.id == "milestones")
        assert milestones is not None
        shown_rows = [[c.text for c in row.cells] for t in tables if t.cell(0, 0).text == "Milestone" for row in t.rows]
        for row in milestones.rows[:10]:
            self.assertIn(cell_text(row[2], CellKind.FINISH, WORDS), [cells[2] for cells in shown_rows])
        notes = " ".join(s.notes_slide.notes_text_frame.text for s in deck.slides if s.has_notes_slide)
        self.assertIn("Derived from its finish", notes)

    def test_a_slide_holds_no_more_than_is_read(self) -> None:
        said = tuple(Sentence(f"{'Words ' * 30}{i}.", Fact("x")) for i in range(40))
        deck = Presentation(io.BytesIO(report_slides(Report("R", "", (Part("p", "Long", said),), made=NOW), WORDS)))
        for slide in list(deck.slides)[1:]:
            lines = sum(1 + len(p.text) // 98 for s in slide.shapes if s != slide.shapes.title and s.has_text_frame
                        for p in s.text_frame.paragraphs)  # fmt: skip
            self.assertLessEqual(lines, 18)
        self.assertEqual(sum("Words" in p.text for sl in deck.slides for s in sl.shapes if s.has_text_frame
                             for p in s.text_frame.paragraphs), 40)  # fmt: skip

    # Spreadsheets

    def test_sheets_hold_typed_cells_headings_in_view_and_charts(self) -> None:
        report = report_of(rich_plan(2))
        path = self.written(report, ".xlsx")
        book = openpyxl.load_workbook(path)
        names = {sheet.title: sheet for sheet in book.worksheets}
        for part in (p for p in report.parts if p.table is not None):
            sheet = names[clean(part.title)[:28].strip()]
            self.assertEqual(sheet.freeze_panes, "B2")
            if part.table.rows:
                self.assertEqual(len(sheet.tables), 1, part.id)
            self.assertEqual(len(sheet._charts), part.chart is not None)
            for r, row in enumerate(part.table.shown_rows(), 2):
                for c, (value, column) in enumerate(zip(row, part.table.columns, strict=True), 1):
                    cell = sheet.cell(r, c)
                    self.assertNotEqual(cell.data_type, "f")
                    self.check_cell(cell.value, value, column.kind)

    def check_cell(self, shown: object, value: object, kind: CellKind) -> None:
        if value is None or value == "":
            self.assertIsNone(shown)
        elif kind is CellKind.TEXT:
            self.assertEqual(shown, clean(str(value), 32_767))
        elif kind in (CellKind.START, CellKind.FINISH):
            assert isinstance(shown, datetime)
            self.assertEqual(f"{shown:%a} {shown.day} {shown:%b} {shown.year}", cell_text(value, kind, WORDS))  # type: ignore[arg-type]
        else:
            assert isinstance(shown, int | float) and isinstance(value, int | float)
            self.assertAlmostEqual(shown, value / 100 if kind is CellKind.MONEY else value)

    def test_another_reader_finds_the_same_rows(self) -> None:
        report = made(50)
        found = load_workbook(str(self.written(report, ".xlsx"))).get_sheet_by_name("Rows").to_python()
        self.assertEqual([row[:2] for row in found[1:]], [[f"Row {i}", i / 10] for i in range(50)])
        days = [date_of(MONDAY // 1440 + i) for i in range(50)]
        self.assertEqual([row[2] for row in found[1:]], days, "what ends at midnight ends on the day before")

    def test_a_large_table_is_written_row_by_row_can_be_stopped_and_is_whole(self) -> None:
        report, path = made(LARGE + 500), self.folder / "large.xlsx"
        looks: list[tuple[int, int]] = []
        write_report(report, WORDS, path, lambda done, of: looks.append((done, of)) is None)
        self.assertEqual(looks[-1], (LARGE + 500, LARGE + 500))
        self.assertGreater(len(looks), 5)
        rows = load_workbook(str(path)).get_sheet_by_name("Rows").to_python()
        self.assertEqual((len(rows), rows[-1][0]), (LARGE + 501, f"Row {LARGE + 499}"))
        before = path.read_bytes()
        with self.assertRaises(Stopped):
            write_report(report, WORDS, path, lambda done, of: done < 5000)
        self.assertEqual(path.read_bytes(), before)
        self.assertEqual(os.listdir(self.folder), ["large.xlsx"])

    # Pages

    def test_a_page_is_sound_escaped_and_asks_for_nothing(self) -> None:
        report = report_of(hostile_plan(), text="<b>bold</b>")
        data = report_html(report, WORDS)
        self.check_page(data)
        page = html.document_fromstring(data.decode())
        cells = {cell.text_content() for cell in page.iter("td")}
        for part in report.parts:
            for row in () if part.table is None else part.table.shown_rows():
                for value, column in zip(row, part.table.columns, strict=True):
                    self.assertIn(clean(cell_text(value, column.kind, WORDS)), cells)
        self.assertIn("<b>bold</b>", page.text_content())

    def check_page(self, data: bytes) -> None:
        page = html.document_fromstring(data.decode())
        self.assertEqual(
            [e.tag for e in page.iter() if e.tag in ("script", "iframe", "object", "link", "img", "form")], []
        )
        policy = page.xpath("//meta[@http-equiv='Content-Security-Policy']/@content")[0]
        self.assertIn("default-src 'none'", policy)
        for element in page.iter():
            for name, value in element.attrib.items():
                self.assertFalse(name.startswith("on"), name)
                self.assertNotIn(name, ("href", "src", "srcset", "action"), value)
        outside = re.findall(rb"https?://[^\s'\"<>]+", data)
        self.assertEqual(
            {u for u in outside if not u.startswith((b"http://www.w3.org/2000/svg", b"http://x.invalid"))}, set()
        )

    # Bad input

    def test_hostile_names_go_into_every_file_and_come_out_as_text(self) -> None:
        report = report_of(hostile_plan(), text=HOSTILE[0])
        book = openpyxl.load_workbook(self.written(report, ".xlsx"))
        for sheet in book.worksheets:
            for row in sheet.iter_rows():
                for cell in row:
                    self.assertNotEqual(cell.data_type, "f", cell.value)
                    self.assertIsNone(cell.hyperlink)
        texts = {str(c.value) for s in book.worksheets for row in s.iter_rows() for c in row}
        self.assertIn("@SUM(A1)", texts)
        Presentation(str(self.written(report, ".pptx")))
        for bad in ("\x00", "\x0b", "\u202e", "\ufffe"):
            self.assertNotIn(bad, clean(bad + "x"))
        self.assertEqual(len(clean("L" * 10_000)), 600)
        self.assertEqual(clean("عربي שלום"), "عربي שלום")

    def test_an_empty_project_makes_every_file(self) -> None:
        for plan in (Plan(), Plan.of([Project("p", "Empty", MONDAY, "a0")])):
            for ending in (".pptx", ".xlsx", ".html"):
                self.assertGreater(self.written(report_of(plan), ending).stat().st_size, 500)

    def test_what_cannot_be_written_is_a_sentence_and_leaves_what_was_there(self) -> None:
        report = report_of(rich_plan(1), "week")
        for ending in (".pptx", ".xlsx", ".html"):
            with self.assertRaises(BadFile):
                write_report(report, WORDS, self.folder / "gone" / f"r{ending}")
            there = self.folder / f"there{ending}"
            there.mkdir()
            with self.assertRaises(BadFile):
                write_report(report, WORDS, there)
            self.assertTrue(there.is_dir())
        with self.assertRaisesRegex(BadFile, "pptx"):
            write_report(report, WORDS, self.folder / "r.doc")
        self.assertEqual([p for p in os.listdir(self.folder) if "part" in p], [])

    def test_a_full_disk_is_a_sentence(self) -> None:
        full = Path("/dev/full")
        if not full.exists():
            self.skipTest("no such device here")
        report = made(LARGE + 10)
        from hexapod.formats.reports.sheets import write_sheets

        with self.assertRaises(OSError):
            for _ in write_sheets(report, full):
                pass

    # Charts

    def test_bars_are_as_high_as_their_values(self) -> None:
        chart = Chart("A & B", ChartKind.STACKED, ("x", "y"), (Series("<one>", (1, None)), Series("two", (3, 2))), "h")
        root = etree.fromstring(chart_svg(chart).encode())
        bars = [e for e in root.iter("{http://www.w3.org/2000/svg}rect") if float(e.get("width")) > 12]
        self.assertEqual([round(float(b.get("height")) / float(bars[0].get("height"))) for b in bars], [1, 3, 2])
        bottom = float(bars[0].get("y")) + float(bars[0].get("height"))
        self.assertAlmostEqual(
            float(bars[1].get("y")) + float(bars[1].get("height")), float(bars[0].get("y")), delta=0.2
        )
        self.assertAlmostEqual(float(bars[2].get("y")) + float(bars[2].get("height")), bottom, delta=0.2)
        self.assertEqual(root[0].text, "A & B")
        for most, top in ((0, 1), (1, 1), (1.1, 2), (7, 10), (230, 250), (251, 500), (99_999, 100_000)):
            self.assertEqual(nice_above(most), top)

    def test_a_chart_without_values_is_still_a_picture(self) -> None:
        for kind in ChartKind:
            etree.fromstring(chart_svg(Chart("", kind, (), (), "")).encode())
            etree.fromstring(chart_svg(Chart("", kind, ("a",), (Series("s", (0,)),), "")).encode())

    def test_the_same_plan_makes_the_same_page(self) -> None:
        plan = Plan.of([Project("p", "Move", MONDAY, "a0"), Task("a", "p", "Pack", "a0", duration=DAY)])
        self.assertEqual(report_html(report_of(plan), WORDS), report_html(report_of(plan), WORDS))


if __name__ == "__main__":
    unittest.main()
