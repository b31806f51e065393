"""Out of the screen: PDF pages counted and their text read back, pictures at any scale, and what cannot be said."""

from __future__ import annotations

import tempfile
from pathlib import Path
from unittest.mock import patch

import pypdf
from PyQt6.QtGui import QGuiApplication, QImage
from PyQt6.QtWidgets import QApplication

from hexapod.desktop.paper import output
from hexapod.desktop.paper.paper import Fit, Paper
from hexapod.desktop.printing.drawings import ChartDrawing
from hexapod.desktop.theme.style import DARK, LIGHT, apply_theme, color, is_on_paper
from hexapod.errors import BadFile, BadText
from hexapod.plan import edits
from hexapod.query.views import View
from tests.desktop.case import WindowCase, settle


class OnPaper(WindowCase):
    ROWS = "Survey & measure\nDraw\nBuild\n  Frames for “Beetles”\n  Glass\nOpen"

    def setUp(self) -> None:
        super().setUp()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        leaves = [t for t in self.desk.plan.tasks if not self.desk.plan.is_summary(t)]
        self.desk.do(edits.chain(self.desk.plan, leaves))

    def pdf(self, paper: Paper, what: str = "chart", columns: tuple[str, ...] = ("duration",)) -> list[str]:
        """The text of each page."""
        drawing, path = self.window.drawing(what, columns), self.folder / "out.pdf"
        done, work = [], output.pdf_pages(drawing, paper, path)
        while True:
            try:
                done.append(next(work))
            except StopIteration as end:
                output.finish_pdf(end.value, path)
                break
        pages = pypdf.PdfReader(str(path)).pages
        self.assertEqual(len(done), len(pages))
        self.assertEqual(len(pages), len(drawing.pages(paper)))
        return [page.extract_text() for page in pages]

    def test_every_row_and_its_columns_can_be_read_back(self) -> None:
        (text,) = self.pdf(Paper())
        for words in ("Survey & measure", "Frames for “Beetles”", "Glass", "2 d", "Duration", "September 2026",
                      "Page 1 of 1", "critical", "float", "target date"):  # fmt: skip
            self.assertIn(words, text)
        self.assertNotIn("Waits for", text, "a column that was not chosen")
        bare = self.pdf(Paper(title=False, legend=False))[0]
        self.assertNotIn("target date", bare)

    def test_rows_go_over_pages_with_headings_repeated(self) -> None:
        self.desk.do(edits.add_text("p", "\n".join(f"Row {i}" for i in range(80))))
        pages = self.pdf(Paper("A4", fit=Fit.WIDTH))
        self.assertGreater(len(pages), 2)
        found = [line for page in pages for line in page.splitlines() if line.startswith("Row ")]
        self.assertEqual(found, [f"Row {i}" for i in range(80)], "each row once, in order")
        self.assertTrue(all("Duration" in page and "September 2026" in page for page in pages))
        self.assertTrue(all(f"Page {i + 1} of {len(pages)}" in page for i, page in enumerate(pages)))
        self.assertEqual(len(self.pdf(Paper("A3", fit=Fit.ONE))), 1)

    def test_a_wide_chart_goes_over_pages_beside_each_other(self) -> None:
        self.chart.zoom(8)
        paper = Paper("A4", fit=Fit.PAGES)
        across = max(t.across for t in self.window.drawing("chart", ()).pages(paper)) + 1
        self.assertGreater(across, 1)
        pages = self.pdf(paper, columns=())
        self.assertEqual(sum("Glass" in page for page in pages), len(pages), "the names stand on every page")

    def test_what_is_on_show_is_what_is_printed(self) -> None:
        self.desk.on_show.show_view(View(query="name contains glass"))
        (text,) = self.pdf(Paper())
        self.assertIn("Glass", text)
        self.assertIn("name contains glass", text, "the title block says what was asked")
        self.assertNotIn("Draw", text)

    def test_network_and_month(self) -> None:
        (text,) = self.pdf(Paper(fit=Fit.ONE), "network")
        self.assertIn("Glass", text)
        self.assertIn("latest", text)
        self.window.show_month()
        self.window.month.canvas.show_day(self.desk.schedule.dates(self.id_of("Draw")).start // 1440)
        (text,) = self.pdf(Paper(), "month")
        self.assertIn("September 2026", text)
        self.assertIn("Wednesday", text)

    def test_the_map_of_planning_back(self) -> None:
        self.window.resize(1200, 800)
        opening = self.id_of("Open")
        self.desk.do(edits.set_durations(self.desk.plan, [opening], 0))
        self.desk.select((opening,), opening)
        self.window.show_leg("link")
        self.window.link.show_map(True)
        self.wait_for(lambda: self.window.link.map.canvas.picture.latest)
        (text,) = self.pdf(Paper(), "map")
        self.assertIn("Planned back from its dates", text)
        self.assertIn("Open", text)

    def test_paper_is_white_in_the_dark_too(self) -> None:
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        apply_theme(app, DARK)
        self.addCleanup(apply_theme, app, LIGHT)
        image = output.picture(self.window.drawing("chart", ()))
        self.assertEqual(image.pixelColor(image.width() - 3, image.height() - 3).name().upper(), "#FFFFFF")
        self.assertEqual(color("panel").name().upper(), DARK.panel.upper())
        self.assertFalse(is_on_paper())

    def test_pictures_at_any_scale_and_one_too_large(self) -> None:
        drawing = self.window.drawing("chart", ("duration",))
        once, twice = output.picture(drawing), output.picture(drawing, 2.0)
        self.assertEqual((twice.width(), twice.height()), (round(drawing.size()[0] * 2), round(drawing.size()[1] * 2)))
        self.assertGreater(twice.width(), once.width())
        output.save_png(drawing, self.folder / "a.png", 0.5)
        self.assertFalse(QImage(str(self.folder / "a.png")).isNull())
        output.save_svg(drawing, self.folder / "a.svg", 3.0)
        text = (self.folder / "a.svg").read_text(encoding="utf-8")
        self.assertIn("<text", text)
        self.assertIn("Survey &amp; measure", text)
        output.copy_picture(drawing)
        self.assertFalse(QGuiApplication.clipboard().image().isNull())
        with self.assertRaisesRegex(BadText, "too large"):
            output.picture(drawing, 60.0)
        with self.assertRaisesRegex(BadFile, "cannot be written"):
            output.save_png(drawing, self.folder / "none" / "a.png")

    def test_paper_without_room_is_said(self) -> None:
        drawing = ChartDrawing(self.desk, self.chart, ("start", "links", "who", "finish", "float", "free_float"))
        with self.assertRaisesRegex(BadText, "columns leave no room"):
            drawing.pages(Paper("A5", landscape=False))
        self.desk.do(edits.add_text("p", "\n".join(f"Row {i}" for i in range(400))))
        with self.assertRaisesRegex(BadText, "cannot be read"):
            self.window.drawing("chart", ()).pages(Paper(fit=Fit.ONE))

    def test_stopped_or_broken_nothing_is_left_behind(self) -> None:
        self.desk.do(edits.add_text("p", "\n".join(f"Row {i}" for i in range(200))))
        path = self.folder / "out.pdf"
        path.write_bytes(b"an older one")
        work = output.pdf_pages(self.window.drawing("chart", ()), Paper(), path)
        next(work)
        work.close()
        self.assertEqual([p.name for p in self.folder.iterdir()], ["out.pdf"])
        self.assertEqual(path.read_bytes(), b"an older one")
        with self.assertRaisesRegex(BadFile, "cannot be written"):
            list(output.pdf_pages(self.window.drawing("chart", ()), Paper(), self.folder / "none" / "out.pdf"))

    def test_the_page_of_the_panel(self) -> None:
        self.window.registry.qt("workspace.print").trigger()
        page = self.window.paper
        self.wait_for(lambda: "One page" in self.texts(page))
        page._size.setCurrentText("A5")
        page._landscape.setChecked(False)
        page._columns["links"].setChecked(True)
        page._columns["who"].setChecked(True)
        page._columns["finish"].setChecked(True)
        settle()
        self.assertTrue(any("no room" in t for t in self.texts(page)), self.texts(page))
        page._size.setCurrentText("A3")
        path = self.folder / "panel.pdf"
        with patch("hexapod.desktop.printing.paper_page.QFileDialog.getSaveFileName", return_value=(str(path), "")):
            page.save_pdf()
        self.wait_for(lambda: path.exists())
        self.assertIn("Glass", pypdf.PdfReader(str(path)).pages[0].extract_text())
        self.wait_for(lambda: self.said() == "The PDF is in panel.pdf.")


if __name__ == "__main__":
    import unittest

    unittest.main()
