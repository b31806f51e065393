"""Monday morning by keys and mouse: what is in trouble and why, slides for the board; a page for a supplier."""

from __future__ import annotations

import unittest
from pathlib import Path
from unittest.mock import patch

from msgspec.structs import replace
from pptx import Presentation
from PyQt6.QtWidgets import QCheckBox, QComboBox

from hexapod.plan import edits
from hexapod.plan.outside import is_outside
from hexapod.plan.records import Project
from tests.journeys.case import Journey, screen
from tests.support import DAY, MONDAY, at, set_clock


class Monday(Journey):
    ROWS = "Glass ordered\nFrames made\nGlass fitted"

    def setUp(self) -> None:
        set_clock(self, at("2026-09-14T09:00"))
        super().setUp()
        plan = self.plan
        gallery = replace(plan.projects["p"], name="Gallery", target_finish=at("2026-09-08T17:00"))
        self.desk.do(edits.save_project(plan, gallery))
        self.desk.do(edits.set_durations(self.plan, list(self.plan.tasks), 5 * DAY))
        self.desk.do(edits.save_project(self.plan, Project("q", "Roof", MONDAY, "b0")))
        self.desk.do(edits.add_task("q", "Scaffold", duration=2 * DAY))
        screen.settle()

    def test_what_is_in_trouble_why_and_slides_for_the_board(self) -> None:
        screen.keys("ctrl+alt+comma")
        work = self.desk.reports
        screen.wait_for(lambda: work.report is not None)
        screen.settle()
        while "is late" not in (work.asked.sentence.text if work.asked else ""):
            before = work.asked
            screen.keys("Down")
            self.assertNotEqual(work.asked, before, "the end, and nothing was late")
        self.assertIn("“Gallery” is late: its finish lies 3 d after its target.", work.asked.sentence.text)
        path = Path(self.path).parent / "board"
        with patch("hexapod.desktop.telling.reports_view.QFileDialog.getSaveFileName", return_value=(str(path), "")):
            screen.keys("ctrl+alt+period")
            screen.wait_for(path.with_suffix(".pptx").exists)
        text = "\n".join(s.text_frame.text for slide in Presentation(str(path.with_suffix(".pptx"))).slides
                         for s in slide.shapes if s.has_text_frame)  # fmt: skip
        self.assertIn("“Gallery” is late", text)

    def test_a_page_for_a_supplier_holds_only_what_is_marked(self) -> None:
        fitted, frames = self.id_of("Glass fitted"), self.id_of("Frames made")
        self.desk.go_to(fitted)
        self.window.registry.qt("outside.mark").trigger()
        screen.settle()
        self.assertTrue(is_outside(self.plan, fitted))
        screen.keys("ctrl+alt+slash")
        work = self.desk.page
        screen.wait_for(lambda: work.preview is not None)
        view = self.window.telling["page"]
        screen.click(next(b for b in view.findChildren(QCheckBox) if b.objectName() == "pageOutside"))
        screen.wait_for(lambda: work.is_outside and work.content is not None and len(work.content.rows) == 2)
        self.assertEqual([row.name for row in work.content.rows], ["Not named", "Glass fitted"])
        self.assertTrue(view.findChild(QComboBox, "pageScope").isVisible())
        path = Path(self.path).parent / "supplier.html"
        with patch("hexapod.desktop.telling.page_view.QFileDialog.getSaveFileName", return_value=(str(path), "")):
            self.press_button("pageFile")
            screen.wait_for(path.exists)
        page = path.read_text("utf-8")
        self.assertIn("Glass fitted", page)
        for name in ("Gallery", self.plan.tasks[frames].name, "Scaffold", "Roof"):
            self.assertNotIn(name, page)


if __name__ == "__main__":
    unittest.main()
