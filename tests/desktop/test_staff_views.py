"""The other views of the Staff leg in a window: roles, board, guard, reservations, people in and out, reports."""

from __future__ import annotations

import tempfile
import unittest
from pathlib import Path

from pypdf import PdfReader
from PyQt6.QtWidgets import QCheckBox, QComboBox, QLabel, QLineEdit, QMenu, QPushButton, QWidget

from hexapod.desktop.staff.load_grid import Show
from hexapod.formats.tables import read_table
from hexapod.plan import edits
from hexapod.plan.records import Assignment, Held, Project, Resource, ResourceKind
from tests.desktop.case import QPointF, Qt, QTest, WindowCase, settle
from tests.support import MONDAY


class StaffViews(WindowCase):
    ROWS = "Survey\nDraw\nFrames\nGlass\nOpen"

    def setUp(self) -> None:
        super().setUp()
        for resource in (
            Resource("role", "Glass", "a0", ResourceKind.ROLE, initials="GL"),
            Resource("ada", "Ada", "a1", role="role", initials="AD"),
            Resource("bo", "Bo", "a2", role="role", initials="BO"),
            Resource("cy", "Cy", "a3", roles=("role",), initials="CY"),
        ):
            self.desk.do(edits.save_resource(self.desk.plan, resource))
        self.give("Survey", "ada")
        self.window.show_leg("staff")
        settle()
        self.staff, self.side = self.window.staff, self.window.side

    def give(self, name: str, *people: str) -> None:
        task = self.id_of(name)
        self.desk.do(edits.set_assignments(self.desk.plan, task, [Assignment(task, p) for p in people]))

    def who(self, name: str) -> list[str]:
        return [a.resource for a in self.desk.plan.assignments_of(self.id_of(name))]

    def part(self, kind: type, name: str) -> QWidget:
        """A part of the window by its name, once it is on screen."""

        def shown() -> list[QWidget]:
            found = self.window.findChildren(kind, name)
            return [w for w in found if not w.property("putAway") and w.isVisible()]

        self.wait_for(shown)
        return shown()[-1]

    def press_part(self, name: str) -> None:
        button = self.part(QPushButton, name)
        assert isinstance(button, QPushButton)
        button.click()
        settle()

    def test_a_reservation_is_made_shown_changed_and_released(self) -> None:
        self.window.registry["staff.reserve"].run(self.window)
        settle()
        page = self.side.pages.reservations
        page._who.setCurrentIndex(page._who.findData("ada"))
        page._share.setText("half")
        self.press_part("formSave")
        self.assertIn("“half” is no share", "".join(self.texts(page)))
        page._share.setText("50 %")
        page._first.setText("2026-09-07")
        page._last.setText("2026-09-13")
        self.press_part("formSave")
        (made,) = self.desk.plan.reservations.values()
        self.assertEqual((made.resource, made.units), ("ada", 0.5))
        self.assertIn("50 %, from Mon 7 Sep to Sun 13 Sep", self.texts(page))
        self.staff.grid.set_mode(Show.RESERVED)
        row = next(r for r in self.staff.grid.table.rows if r.resource == "ada")
        self.assertEqual(self.staff.grid.cell_text(row, 0), "16 of 20")
        self.staff.grid.look_at([r.resource for r in self.staff.grid.table.rows].index("ada"), 0)
        self.assertTrue(any("20 h reserved, 16 h assigned: 4 h of it not yet" in t for t in self.texts(self.staff)))
        self.assertFalse(self.staff.grid.grab().isNull())
        self.press_part(f"reservation {made.id}")
        page._share.setText("25 %")
        self.press_part("formSave")
        self.assertEqual(self.desk.plan.reservations[made.id].units, 0.25)
        row = next(r for r in self.staff.grid.table.rows if r.resource == "ada")
        self.assertEqual(self.staff.grid.cell_text(row, 0), "16 of 10")
        self.desk.undo()
        self.desk.undo()
        self.assertFalse(self.desk.plan.reservations)

    def test_the_roles_view_walks_by_keys_and_says_what_is_short(self) -> None:
        for name in ("Draw", "Frames", "Glass"):
            self.give(name, "role")
        self.staff.show_view("roles")
        chart = self.staff.roles
        self.wait_for(lambda: chart.table is not None and chart.table.rows)
        chart.set_step(type(chart.step)("week"))
        self.assertIn("to spare", chart.accessibleDescription())
        for name in ("Survey", "Open"):
            self.give(name, "ada", "role")
        self.wait_for(lambda: (chart.current is not None and chart.current.short(0) > 0) or chart.refresh())
        QTest.keyClick(chart, Qt.Key.Key_Home)
        self.assertIn("short", chart.accessibleDescription())
        said = self.texts(self.staff.gap)
        self.assertTrue(any("Cy can act in the role" in s for s in said), said)
        self.assertFalse(chart.grab().isNull())
        QTest.keyClick(chart, Qt.Key.Key_Right)
        self.assertEqual(chart.period, min(1, len(chart.table.edges) - 2))
        self.press_part("need p") if chart.period == 0 else None

    def test_the_board_shows_lanes_hands_work_over_and_is_read_by_keys(self) -> None:
        self.staff.show_view("board")
        board = self.staff.board
        self.wait_for(lambda: board.lanes)
        self.assertEqual([lane.resource for lane in board.lanes], ["ada", "bo", "cy"])
        self.assertFalse(board.grab().isNull())
        board.look_at("ada", self.id_of("Survey"))
        self.assertIn("Ada: Survey", board.accessibleDescription())
        QTest.keyClick(board, Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier)
        self.assertEqual(self.who("Survey"), ["bo"])
        QTest.keyClick(board, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
        self.assertEqual(len(self.desk.plan.tasks[self.id_of("Survey")].limits), 1)
        lane = board.lanes[1]
        spot = board.box_of(1, lane.pieces[0]).center()
        self.assertEqual(board.piece_at(spot), (1, lane.pieces[0]))
        press = Qt.MouseButton.LeftButton
        QTest.mousePress(board.viewport(), press, pos=spot.toPoint())
        QTest.mouseMove(board.viewport(), (spot + QPointF(2, 30)).toPoint())
        QTest.mouseMove(board.viewport(), (spot + QPointF(2, 34)).toPoint())
        self.assertIsNotNone(board.drag)
        self.assertFalse(board.grab().isNull())
        QTest.keyClick(self.window, Qt.Key.Key_Escape)
        self.assertIsNone(board.drag)
        QTest.mouseRelease(board.viewport(), press, pos=(spot + QPointF(2, 34)).toPoint())
        self.assertEqual(self.who("Survey"), ["bo"], "Esc left it as it was")
        role = self.part(QComboBox, "boardRole")
        assert isinstance(role, QComboBox)
        role.setCurrentIndex(role.findData("role"))
        role.activated.emit(role.currentIndex())
        self.assertEqual([x.resource for x in board.lanes], ["ada", "bo"])
        self.assertIn("Nobody is on it yet: 4", self.texts(self.staff.trays))

    def test_work_that_nobody_put_anywhere_is_in_a_tray_of_its_own(self) -> None:
        self.desk.do(edits.set_durations(self.desk.plan, [self.id_of("Open")], None))
        self.staff.show_view("board")
        self.wait_for(lambda: self.staff.board.lanes)
        self.assertEqual(self.staff.trays.undated.tasks, [self.id_of("Open")])
        self.assertIn("Not scheduled yet: 1", self.texts(self.staff.trays))
        self.assertFalse(self.staff.trays.grab().isNull())

    def test_the_guard_holds_back_what_overloads_and_lets_the_rest_through(self) -> None:
        self.window.registry["staff.guard"].run(self.window)
        settle()
        self.assertIn("Capacity guard is on", self.texts(self.side))
        self.give("Draw", "bo")
        self.assertEqual(self.who("Draw"), ["bo"])
        self.give("Draw", "bo", "ada")
        self.assertEqual(self.who("Draw"), ["bo"], "Ada does the survey then")
        self.wait_for(lambda: self.desk.guard.stopped is not None and not self.desk.guard.stopped.is_looking)
        self.assertTrue(any(s.startswith("Ada would have 16 h too much") for s in self.texts(self.side)))
        self.press_part("insteadDate 0")
        self.assertEqual(sorted(self.who("Draw")), ["ada", "bo"])
        self.assertFalse(self.desk.load.overloads)
        self.give("Frames", "ada")
        self.wait_for(lambda: self.desk.guard.stopped is not None and not self.desk.guard.stopped.is_looking)
        self.press_part("leaveIt")
        self.assertEqual(self.who("Frames"), [])
        self.press_part("turnGuard")
        self.give("Frames", "ada")
        self.assertEqual(self.who("Frames"), ["ada"])
        self.window.registry["staff.guard"].run(self.window)
        settle()
        self.assertTrue(any("overload is there already" in s for s in self.texts(self.side)))

    def test_a_kept_effort_shortens_what_more_people_do_and_says_so(self) -> None:
        task = self.id_of("Survey")
        self.window.show_leg("build")
        self.desk.select((task,), task)
        inspector = self.side.pages.inspector
        self.side.show_page("inspector")
        inspector.show_section("settings")
        settle()
        keeps = self.part(QComboBox, "taskKeeps")
        assert isinstance(keeps, QComboBox)
        keeps.setCurrentIndex(keeps.findData(Held.EFFORT))
        keeps.activated.emit(keeps.currentIndex())
        settle()
        self.assertTrue(any("With more people it is shorter" in s for s in self.texts(inspector)))
        self.give("Survey", "ada", "bo")
        self.assertEqual(self.desk.plan.tasks[task].duration, 480)
        self.wait_for(lambda: "keeps its effort of 16 h: it takes 1 d, not 2 d" in self.said())
        effort = self.part(QLineEdit, "taskEffort")
        assert isinstance(effort, QLineEdit)
        self.assertEqual(effort.text(), "16 h")
        effort.setText("4 d")
        effort.editingFinished.emit()
        self.assertEqual(self.desk.plan.tasks[task].duration, 960)
        self.desk.undo()
        self.desk.undo()
        self.assertEqual(self.desk.plan.tasks[task].duration, 960)

    def test_an_assignment_is_changed_and_its_cells_are_found(self) -> None:
        task = self.id_of("Survey")
        self.window.show_leg("build")
        self.desk.select((task,), task)
        self.press_part("assignment ada")
        form = self.side.pages.assignment
        form._share.setText("a bit")
        self.press_part("formSave")
        self.assertIn("“a bit” is no share", "".join(self.texts(form)))
        form._share.setText("4 h a day")
        form._first.setText("2026-09-08")
        form._curve.setCurrentIndex(1)
        self.press_part("formSave")
        found = self.desk.plan.assignments[(task, "ada")]
        self.assertEqual((found.hours_a_day, found.curve.value), (4.0, "front"))
        self.staff.grid.set_step(type(self.staff.grid.step)("day"))
        self.window.registry["staff.its_load"].run(self.window)
        settle()
        grid = self.staff.grid
        self.assertEqual({r: len(p) for r, p in grid.filled.items()}, {"ada": 1}, "only the second day of two")
        assert grid.current is not None
        self.assertEqual((grid.current.resource, grid.period), ("ada", min(grid.filled["ada"])))
        self.assertFalse(grid.grab().isNull())

    def test_only_the_work_of_chosen_projects_is_counted(self) -> None:
        self.desk.do(edits.save_project(self.desk.plan, Project("q", "Other", MONDAY, "b0")))
        self.desk.do(edits.add_text("q", "Elsewhere"))
        self.give("Elsewhere", "bo")
        grid = self.staff.grid
        load = {r.resource: float(r.load.sum()) for r in grid.table.rows if r.resource}
        self.assertEqual((load["ada"], load["bo"]), (16.0, 8.0))
        self.press_part("someProjects")
        box = self.wait_for(lambda: self.window.findChild(QCheckBox, "project p"))
        assert isinstance(box, QCheckBox)
        box.setChecked(False)
        load = {r.resource: float(r.load.sum()) for r in grid.table.rows if r.resource}
        self.assertEqual((load["ada"], load["bo"]), (0.0, 8.0))
        menu = self.window.findChild(QMenu, "someProjectsMenu")
        assert menu is not None
        menu.close()
        grid.set_all_projects(True)

    def test_people_come_from_a_table_and_the_directory_after_a_look(self) -> None:
        self.window.registry["staff.pool"].run(self.window)
        settle()
        page = self.side.pages["pool"]
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "people.csv"
            page.write(path)
            self.assertEqual(len(read_table(path)[0].rows), 5)
            path.write_text("Name,Role,Capacity\nDi,Glass,0.5\nEd,Glass,lots\n", encoding="utf-8")
            page.read(path)
            self.wait_for(lambda: page.proposal is not None)
            self.wait_for(lambda: "1 new, 1 left out" in self.texts(page))
            self.assertTrue(any(s.startswith("Row 3, Capacity: ") for s in self.texts(page)))
            self.press_part("poolTake")
            self.assertEqual([r.capacity for r in self.desk.plan.resources.values() if r.name == "Di"], [0.5])
            path.write_text("nothing\n", encoding="utf-8")
            page.read(path)
            self.wait_for(lambda: "a column “Name”" in self.said())
        page.search("registrar")
        self.wait_for(lambda: [b for b in page.findChildren(QCheckBox) if b.isVisible()])
        boxes = [b for b in page.findChildren(QCheckBox) if b.isVisible()]
        boxes[0].setChecked(True)
        self.press_part("directoryAdd")
        self.wait_for(lambda: page.proposal is not None)
        self.press_part("poolTake")
        self.assertIn("Registration", {r.name for r in self.desk.plan.resources.values()}, "with the role")

    def test_each_report_is_in_the_window_in_a_pdf_and_in_a_spreadsheet(self) -> None:
        self.give("Draw", "ada")
        self.staff.show_view("reports")
        view = self.staff.reports
        self.wait_for(lambda: view.report is not None)
        self.assertTrue(any(s.startswith("Ada has 16 h too much") for s in self.texts(view)))
        kinds, ranges = self.part(QComboBox, "reportKind"), self.part(QComboBox, "reportRange")
        assert isinstance(kinds, QComboBox) and isinstance(ranges, QComboBox)
        with tempfile.TemporaryDirectory() as folder:
            for kind in range(kinds.count()):
                kinds.setCurrentIndex(kind)
                kinds.activated.emit(kind)
                report = view.report
                assert report is not None
                self.assertEqual(view.table.rowCount(), len(report.rows))
                path = Path(folder) / f"{kind}.pdf"
                view.write(path)
                text = " ".join(" ".join(page.extract_text().split()) for page in PdfReader(path).pages)
                self.assertIn(" ".join(report.gist[0].split()), text)
                self.assertIn(report.headings[-1], text)
                view.write(path.with_suffix(".xlsx"))
                words, *tables = read_table(path.with_suffix(".xlsx"))
                self.assertEqual(words.name, "Report")
                self.assertIn(1 + len(report.rows), [len(sheet.rows) for sheet in tables])
            ranges.activated.emit(1)
            self.assertFalse(list(Path(folder).glob("*.part")))
            view.write(Path(folder) / "none" / "r.pdf")
            self.assertIn("cannot be written", self.said())
        self.assertTrue(self.window.findChild(QLabel, "notice"))


if __name__ == "__main__":
    unittest.main()
