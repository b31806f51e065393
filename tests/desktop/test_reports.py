"""Reports and the page in the window: made, asked, chosen, kept, written and sent; and what people outside may see."""

from __future__ import annotations

import email
import io
import tempfile
import unittest
from email import policy
from pathlib import Path
from unittest.mock import patch

import pypdf
from msgspec.structs import replace
from pptx import Presentation
from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QImage, QPainter
from PyQt6.QtWidgets import QCheckBox, QComboBox, QLineEdit, QPlainTextEdit, QPushButton, QToolButton

from hexapod.desktop.models import background
from hexapod.desktop.paper.report_document import ReportDocument
from hexapod.desktop.paper.report_layout import font_of
from hexapod.desktop.paper.report_pages import pdf_of
from hexapod.desktop.telling.reports_view import about_of
from hexapod.formats.reports.clean import clean
from hexapod.plan import edits
from hexapod.plan.kept import KeptReport
from hexapod.plan.outside import is_outside
from hexapod.plan.records import Project, Resource, TaskKind
from hexapod.reports.catalogue import PARTS, make_report
from hexapod.reports.report import Column, Fact, Part, Report, Sentence, Table, cell_text, plain_words
from tests.at_rest import wait_for
from tests.desktop.case import Qt, QTest, WindowCase, settle
from tests.formats.test_reports import hostile_plan
from tests.reports.test_parts import NOW, basis_of, rich_plan
from tests.support import DAY, MONDAY, at, set_clock


class ReportCase(WindowCase):
    ROWS = "Survey\nDraw\nOpen"

    def setUp(self) -> None:
        set_clock(self, at("2026-09-14T09:00"))
        super().setUp()
        desk = self.desk
        nell = Resource("nell", "Nell Harrow", "z0", initials="NH", email="nell@x.example")
        desk.do(edits.save_resource(desk.plan, nell))
        project, target = desk.plan.projects["p"], at("2026-09-07T12:00")
        gallery = replace(project, name="Gallery", target_finish=target, department="Halls")
        desk.do(edits.save_project(desk.plan, gallery))
        desk.do(edits.save_project(desk.plan, Project("q", "Roof", MONDAY, "b0", department="Estate")))
        desk.do(edits.add_task("q", "Glaze", duration=3 * DAY))
        desk.do(edits.set_task(desk.plan, self.id_of("Open"), "Milestone", kind=TaskKind.MILESTONE, duration=0))

    def rest(self) -> None:
        settle()
        wait_for(background.is_idle)
        settle()

    def show(self, part: str):  # type: ignore[no-untyped-def]
        self.window.show_part(part, "telling")
        self.rest()
        return self.window.telling[part]

    def toggle(self, name: str) -> None:
        self.find(QCheckBox, name).click()
        self.rest()


class Reports(ReportCase):
    def setUp(self) -> None:
        super().setUp()
        self.view = self.show("reports")
        self.work = self.desk.reports
        self.preview = self.view.preview

    def test_the_monday_report_is_there_and_follows_the_plan(self) -> None:
        text = self.preview.document.text
        self.assertIn("Monday report", text)
        self.assertIn("“Gallery” is late", text)
        self.desk.do(edits.rename(self.desk.plan, self.id_of("Survey"), "Look round"))
        self.desk.do(edits.save_project(self.desk.plan, replace(self.desk.plan.projects["p"], name="Long hall")))
        self.rest()
        self.assertIn("“Long hall” is late", self.preview.document.text)

    def test_another_report_of_one_project_and_of_a_department(self) -> None:
        self.work.choose("milestones")
        self.rest()
        self.assertIn("Open", self.preview.document.text)
        box = self.find(QComboBox, "reportScope")
        box.setCurrentIndex(box.findText("Roof"))
        box.activated.emit(box.currentIndex())
        self.rest()
        self.assertNotIn("Open", self.preview.document.text)
        self.assertIn("Roof ·", self.preview.document.text)
        self.work.choose_scope("department:Halls")
        self.rest()
        self.assertIn("Gallery ·", self.preview.document.text)

    def test_what_is_pressed_says_where_it_comes_from_and_leads_there(self) -> None:
        self.work.choose("portfolio")
        self.rest()
        self.preview.setFocus()
        for _ in range(2):
            QTest.keyClick(self.preview, Qt.Key.Key_Down)
        asked = self.work.asked
        self.assertEqual((asked.row, asked.column), (0, 0))
        for _ in range(4):
            QTest.keyClick(self.preview, Qt.Key.Key_Right)
        settle()
        self.assertIn("Where this comes from", self.side())
        self.assertIn("Gallery · ", self.side())
        page, asked = self.preview.chosen
        place = self.preview.document.place_of(page, asked)
        at_screen = self.preview.page_place(page).topLeft() + place.center() * self.preview.zoom
        self.preview.choose(None)
        QTest.mouseClick(self.preview.viewport(), Qt.MouseButton.LeftButton, pos=at_screen.toPoint())
        self.assertEqual(self.work.asked, asked)
        QTest.keyClick(self.preview, Qt.Key.Key_Return)
        settle()
        self.assertEqual(self.desk.project, "p")
        self.assertTrue(self.window.build.isVisible())

    def test_parts_are_chosen_and_put_in_order_with_words_of_ones_own(self) -> None:
        self.toggle("reportPart.stages")
        self.assertEqual(self.work.report.parts[-1].id, "stages")
        self.find(QToolButton, "reportPartUp.stages").click()
        self.rest()
        self.assertEqual(self.work.report.parts[-2].id, "stages")
        self.toggle("reportPart.week")
        self.assertNotIn("week", [p.id for p in self.work.report.parts])
        self.find(QLineEdit, "reportHeading").setText("For the board")
        self.find(QLineEdit, "reportHeading").editingFinished.emit()
        self.rest()
        self.find(QPlainTextEdit, "reportText").setPlainText("Please decide.\n\nThank you.")
        self.find(QPushButton, "reportTake").click()
        self.rest()
        text = self.preview.document.text
        self.assertTrue(text.startswith("For the board"))
        self.assertIn("Please decide.", text)

    def test_a_report_is_kept_found_again_and_forgotten_and_undo_brings_it_back(self) -> None:
        self.work.want(replace_wish(self.work.wish, heading="Board", parts=("risks",), department="Estate"))
        self.rest()
        self.find(QLineEdit, "reportName").setText("Board of June")
        self.find(QPushButton, "reportKeep").click()
        self.rest()
        (kept,) = self.desk.plan.reports.values()
        self.assertEqual(
            (kept.name, kept.parts, kept.heading, kept.department), ("Board of June", ("risks",), "Board", "Estate")
        )
        self.assertEqual(self.find(QComboBox, "reportKind").currentText(), "Board of June")
        self.work.choose("week")
        self.work.choose(f"kept:{kept.id}")
        self.assertEqual(self.work.wish.heading, "Board")
        self.rest()
        self.find(QPushButton, "reportForget").click()
        self.assertFalse(self.desk.plan.reports)
        self.desk.undo()
        self.rest()
        self.assertIn("Board of June", [name for _, name in self.work.choices()])

    def test_as_panels_its_parts_stand_beside_one_another_and_follow_the_plan(self) -> None:
        self.toggle("reportPanels")
        panels = self.preview.document
        self.assertEqual(panels.pages, len(self.work.report.parts))
        for i, one in enumerate(panels.places):
            self.assertLessEqual(one.right(), self.preview.viewport().width())
            for other in panels.places[i + 1 :]:
                self.assertFalse(one.intersects(other))
        self.desk.do(edits.save_project(self.desk.plan, replace(self.desk.plan.projects["p"], name="Long hall")))
        self.rest()
        self.assertIn("“Long hall” is late", self.preview.document.text)
        self.preview.setFocus()
        QTest.keyClick(self.preview, Qt.Key.Key_Down)
        settle()
        self.assertIn("Where this comes from", self.side())
        self.window.resize(900, 700)
        self.rest()
        self.assertLessEqual(max(p.right() for p in self.preview.document.places), self.preview.viewport().width())
        self.toggle("reportPanels")
        self.assertIsInstance(self.preview.document, ReportDocument)

    def type_days(self, first: str, last: str) -> None:
        self.find(QLineEdit, "reportFrom").setText(first)
        self.find(QLineEdit, "reportUntil").setText(last)
        self.find(QLineEdit, "reportUntil").returnPressed.emit()
        self.rest()

    def test_it_is_of_any_days(self) -> None:
        """Days that are past are told of the plan as it was; what cannot be told of is said and changes nothing."""
        days, begin = self.find(QComboBox, "reportDays"), self.find(QLineEdit, "reportFrom")
        usual = self.work.wish
        self.assertEqual((begin.text(), days.currentText()), ("2026-09-08", "the last 7 days"))
        for first, last, said in (
            ("2026-09-10", "2026-09-09", "comes before the first"), ("2026-10-01", "2026-10-02", "still to come"),
            ("someday", "2026-09-09", "someday"),
        ):  # fmt: skip
            self.type_days(first, last)
            self.assertIn(said, self.side())
            self.assertEqual(self.work.wish, usual)
        self.type_days("2026-09-01", "2026-12-31")
        self.assertEqual((self.work.wish.days, self.work.wish.until), (14, None), "up to today, not further")
        self.type_days("2026-09-12", "2026-09-13")
        self.assertEqual(
            (self.work.wish.days, self.work.span), (2, (at("2026-09-12T00:00") // 1440, at("2026-09-13T00:00") // 1440))
        )
        self.assertEqual(days.currentText(), "typed days")
        self.assertIn("not there yet", self.work.trouble, "the plan of this test was made today")
        days.activated.emit(0)
        self.rest()
        self.assertEqual((self.work.wish.days, self.work.wish.until), (7, None))

    def test_the_same_of_the_days_before_stands_beside_it(self) -> None:
        self.toggle("reportBeside")
        self.assertTrue(self.view.earlier.isVisible())
        self.assertIn("not there yet", self.work.earlier_trouble)
        self.assertIn("not there yet", self.view.earlier.says)
        self.toggle("reportBeside")
        self.assertFalse(self.view.earlier.isVisible())

    def test_it_is_written_by_its_ending_to_where_it_went_last(self) -> None:
        folder = Path(tempfile.mkdtemp(dir=self.desk.session.workspace.path.parent))
        for ending in (".pdf", ".pptx", ".xlsx", ".html"):
            path = folder / f"r{ending}"
            with patch(
                "hexapod.desktop.telling.reports_view.QFileDialog.getSaveFileName", return_value=(str(path), "")
            ):
                self.find(QPushButton, f"report{ending}").click()
            self.assertGreater(path.stat().st_size, 800, ending)
            self.assertIn(path.name, self.said())
        self.assertEqual(self.work.folder, folder)
        self.assertEqual(self.work.file_name(".pptx"), "Monday report 2026-09-14.pptx")
        Presentation(str(folder / "r.pptx"))
        (folder / "r.pdf").unlink()
        self.view.write(folder / "gone" / "r.pdf")
        self.assertIn("gone", self.said())

    def test_it_goes_to_the_outbox_with_its_pages(self) -> None:
        with tempfile.TemporaryDirectory() as home, patch("platformdirs.user_data_dir", return_value=home):
            self.find(QLineEdit, "reportTo").setText("nobody")
            self.find(QPushButton, "reportSend").click()
            self.assertIn("“nobody” is nobody", self.said())
            self.find(QLineEdit, "reportTo").setText("nh, board@museum.example")
            self.find(QPushButton, "reportSend").click()
            (letter,) = Path(home).rglob("*.eml")
            message = email.message_from_bytes(letter.read_bytes(), policy=policy.default)
        self.assertEqual(message["Subject"], "Monday report")
        self.assertEqual(
            str(message["To"]), 'Nell Harrow <nell@x.example>, "board@museum.example" <board@museum.example>'
        )
        (file,) = message.iter_attachments()
        text = pypdf.PdfReader(io.BytesIO(file.get_content())).pages[0].extract_text()
        self.assertIn("Monday report", text)

    def test_for_people_outside_only_what_is_marked(self) -> None:
        self.desk.do(edits.mark_projects(self.desk.plan, ["q"], True))
        self.toggle("reportOutside")
        self.assertIn("Roof", self.preview.document.text)
        self.assertNotIn("Gallery", self.preview.document.text)


def replace_wish(wish, **fields):  # type: ignore[no-untyped-def]
    from dataclasses import replace as changed

    return changed(wish, **fields)


class ThePage(ReportCase):
    def setUp(self) -> None:
        super().setUp()
        self.view = self.show("page")
        self.work = self.desk.page

    def test_what_goes_is_shown_first_and_then_written(self) -> None:
        self.assertIn("Survey", self.view.preview.document.text)
        self.toggle("pageOutside")
        self.assertNotIn("Survey", self.view.preview.document.text)
        self.toggle("pageProject.q")
        self.assertTrue(self.desk.plan.projects["q"].outside)
        text = self.view.preview.document.text
        self.assertIn("Glaze", text)
        self.assertNotIn("Gallery", text)
        self.assertIn("1 of 4 rows", self.side())
        path = self.desk.session.workspace.path.parent / "page.html"
        with patch("hexapod.desktop.telling.page_view.QFileDialog.getSaveFileName", return_value=(str(path)[:-5], "")):
            self.find(QPushButton, "pageFile").click()
        page = path.read_text("utf-8")
        self.assertIn("Glaze", page)
        self.assertNotIn("Survey", page)
        self.assertNotIn("Gallery", page)

    def test_calendar_files_follow_the_plan_into_a_folder(self) -> None:
        folder = self.desk.session.workspace.path.parent / "calendars"
        self.find(QLineEdit, "calendarFolder").setText(str(folder))
        self.find(QLineEdit, "calendarFolder").editingFinished.emit()
        self.toggle("calendar.projects")
        wait_for((folder / "Roof.ics").exists)
        self.assertIn(b"SUMMARY:Glaze", (folder / "Roof.ics").read_bytes())
        self.desk.do(edits.rename(self.desk.plan, self.id_of("Glaze"), "Glass in"))
        wait_for(lambda: b"SUMMARY:Glass in" in (folder / "Roof.ics").read_bytes())
        folder.rename(folder.with_name("elsewhere"))
        folder.write_text("in the way")
        self.desk.do(edits.rename(self.desk.plan, self.id_of("Glass in"), "Glass out"))
        wait_for(lambda: self.desk.calendar_folder.trouble)
        self.rest()
        self.assertIn(self.desk.calendar_folder.trouble, self.side())

    def test_it_goes_to_the_outbox_under_its_title(self) -> None:
        title = self.find(QLineEdit, "pageTitle")
        title.setText("For the glazier")
        title.editingFinished.emit()
        self.rest()
        with tempfile.TemporaryDirectory() as home, patch("platformdirs.user_data_dir", return_value=home):
            self.find(QLineEdit, "pageTo").setText("glass@supplier.example")
            self.find(QPushButton, "pageSend").click()
            (letter,) = Path(home).rglob("*.eml")
            message = email.message_from_bytes(letter.read_bytes(), policy=policy.default)
        (file,) = message.iter_attachments()
        self.assertEqual(file.get_filename(), "For the glazier.html")
        self.assertIn("<h1>For the glazier</h1>", file.get_content())

    def test_rows_are_marked_from_the_menu_and_in_their_column(self) -> None:
        self.window.show_leg("build")
        survey, draw = self.id_of("Survey"), self.id_of("Draw")
        self.desk.select((survey, draw), survey)
        self.window.registry.qt("outside.mark").trigger()
        self.assertTrue(is_outside(self.desk.plan, survey) and is_outside(self.desk.plan, draw))
        self.window.registry.qt("outside.unmark").trigger()
        self.assertIs(self.desk.plan.tasks[draw].outside, False)
        self.window.registry.qt("outside.follow").trigger()
        self.assertIsNone(self.desk.plan.tasks[draw].outside)
        field = self.desk.columns.all()["outside"]
        from hexapod.fields.field import Texts

        self.desk.do(field.edit(Texts(self.desk.plan), [survey], "yes"))
        self.assertTrue(is_outside(self.desk.plan, survey))
        with self.assertRaisesRegex(Exception, "yes, no, or nothing"):
            field.edit(Texts(self.desk.plan), [survey], "perhaps")


class OnPaper(unittest.TestCase):
    """Every letter of a report has its place, on a page, and nothing lies over anything else."""

    def laid_out(self, report: Report) -> ReportDocument:
        document = ReportDocument(report, plain_words())
        self.assertTrue(document.go_on())
        return document

    def check(self, document: ReportDocument) -> None:
        room = QRectF(0, 0, document.body.width() + 0.5, document.body.height() + 0.5)
        for page in range(document.pages):
            boxes = document.boxes(page)
            for box in boxes:
                self.assertTrue(room.contains(box.place) or box.is_line, (page, box))
            texts = sorted((b for b in boxes if b.text), key=lambda b: (b.place.top(), b.place.left()))
            for i, one in enumerate(texts):
                for other in texts[i + 1 : i + 16]:
                    self.assertFalse(one.place.adjusted(0.5, 0.5, -0.5, -0.5).intersects(
                        other.place.adjusted(0.5, 0.5, -0.5, -0.5)), (one, other))  # fmt: skip

    def test_boxes_lie_beside_one_another_and_hold_all_of_it(self) -> None:
        for plan in (rich_plan(1), hostile_plan()):
            report = make_report(basis_of(plan), tuple(PARTS), "Everything", text="One\ntwo")
            document = self.laid_out(report)
            self.check(document)
            text = document.text
            for part in report.parts:
                for sentence in part.sentences:
                    self.assertIn(clean(sentence.text), text)
                for row in () if part.table is None else part.table.rows:
                    self.assertIn(clean(cell_text(row[0], part.table.columns[0].kind, plain_words()), 220), text)

    def test_headings_stand_on_every_page_of_a_table(self) -> None:
        table = Table((Column("Who"), Column("What")), tuple((f"Row {i}", "x") for i in range(200)))
        document = self.laid_out(Report("R", "", (Part("p", "Rows", table=table),), made=NOW))
        self.assertGreater(document.pages, 3)
        for page in range(document.pages):
            self.assertEqual(sum(b.text == "Who" for b in document.boxes(page)), 1)
        self.assertEqual(sum(b.text.startswith("Row ") for p in range(document.pages) for b in document.boxes(p)), 200)

    def test_a_long_report_is_laid_out_bit_by_bit(self) -> None:
        table = Table((Column("Who"),), tuple((f"Row {i}",) for i in range(5000)))
        document = ReportDocument(Report("R", "", (Part("p", "Rows", table=table),), made=NOW), plain_words())
        self.assertFalse(document.go_on(0.0))
        first = document.pages
        steps = 1
        while not document.go_on(0.0):
            steps += 1
        self.assertGreater(steps, 1000)
        self.assertGreater(document.pages, first)

    def test_the_pdf_has_the_same_pages_and_letters(self) -> None:
        report = make_report(basis_of(rich_plan(2)), ("week", "portfolio", "milestones"), "Monday report")
        document = self.laid_out(report)
        pages = pypdf.PdfReader(io.BytesIO(pdf_of(report, plain_words()))).pages
        self.assertEqual(len(pages), document.pages)
        text = " ".join(" ".join(page.extract_text() for page in pages).split())
        for part in report.parts:
            for row in () if part.table is None else part.table.rows[:5]:
                self.assertIn(str(row[0]), text)
        self.assertIn(f"Page 1 of {document.pages}", text)

    def test_what_is_pointed_at_is_what_is_painted_there(self) -> None:
        sentence = Sentence("Only this.", Fact("x", ("a",)))
        document = self.laid_out(Report("R", "", (Part("p", "P", (sentence,)),), made=NOW))
        ((page, asked),) = document.every_asked()
        place = document.place_of(page, asked)
        self.assertEqual(document.asked_at(page, place.center()), asked)
        self.assertIsNone(document.asked_at(page, place.bottomLeft() + QPointF(0, 40)))
        self.assertEqual(about_of(asked), ("a",))
        image = QImage(document.size.toSize(), QImage.Format.Format_RGB32)
        image.fill(0xFFFFFF)
        painter = QPainter(image)
        document.paint(painter, page)
        painter.end()
        inked = [image.pixelColor(x, y).lightness() < 128 for x in range(int(place.left()), int(place.left()) + 60)
                 for y in range(int(place.top()), int(place.bottom()))]  # fmt: skip
        self.assertTrue(any(inked))

    def test_a_face_keeps_its_size_whatever_others_are_asked_for(self) -> None:
        from hexapod.desktop.paper.report_layout import CELL, TITLE

        title = font_of(TITLE)
        font_of(CELL)
        self.assertEqual((title.pixelSize(), font_of(CELL).pixelSize()), (TITLE.size, CELL.size))


class KeptInTheFile(WindowCase):
    def test_marks_and_reports_are_there_when_it_is_opened_again(self) -> None:
        from hexapod.formats.plan_json import read_plan, write_plan

        desk = self.desk
        desk.do(edits.keep_report(desk.plan, KeptReport("", "Board", "", ("week", "risks"), projects=("p",), days=14)))
        desk.do(edits.mark_tasks(desk.plan, [self.id_of("Survey")], False))
        desk.do(edits.mark_projects(desk.plan, ["p"], True))
        again = read_plan(write_plan(desk.plan))
        self.assertEqual(again.reports, desk.plan.reports)
        self.assertIs(again.tasks[self.id_of("Survey")].outside, False)
        self.assertTrue(again.projects["p"].outside)
        stored = desk.session.workspace.read_plan()
        self.assertEqual(stored.reports, desk.plan.reports)
        self.assertIs(stored.tasks[self.id_of("Survey")].outside, False)
        self.assertIsNone(stored.tasks[self.id_of("Draw")].outside)
        with self.assertRaisesRegex(Exception, "name"):
            edits.keep_report(desk.plan, KeptReport("", " ", "")).applied_to(desk.plan)
            desk.session.apply(edits.keep_report(desk.plan, KeptReport("", " ", "")))


if __name__ == "__main__":
    unittest.main()
