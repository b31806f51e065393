"""Cells and branches: copy, paste, fill, replace, drag, columns, own fields and formulas."""

from __future__ import annotations

import unittest

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QImage, QPainter
from PyQt6.QtWidgets import QApplication, QCheckBox, QComboBox, QLineEdit, QPushButton

from hexapod.desktop.models.columns import DURATION, FIXED, NAME
from hexapod.desktop.theme.style import font
from hexapod.desktop.theme.text import draw_text
from hexapod.plan import edits
from hexapod.plan.records import FieldKind, Resource
from tests.desktop.case import QPoint, Qt, QTest, WindowCase, settle
from tests.support import DAY

SHIFT, CTRL = Qt.KeyboardModifier.ShiftModifier, Qt.KeyboardModifier.ControlModifier


class Clipboard(WindowCase):
    def copy(self) -> None:
        self.window.registry.qt("edit.copy").trigger()

    def paste(self, text: str | None = None) -> None:
        if text is not None:
            QApplication.clipboard().setText(text)
        self.window.registry.qt("edit.paste").trigger()
        settle()

    def durations(self, *names: str) -> list[int | None]:
        return [self.desk.plan.tasks[self.id_of(n)].duration for n in names]

    def test_a_branch_comes_back_whole_with_links_and_people(self) -> None:
        plan = self.desk.plan
        self.desk.do(edits.save_resource(plan, Resource("r", "Mo Okon", "a0", initials="MO")))
        self.desk.do(edits.link(self.desk.plan, self.id_of("Frames"), self.id_of("Glass"), lag=60))
        self.desk.do(edits.assign(self.desk.plan, [self.id_of("Glass")], "r", 0.5))
        self.go_to("Build")
        self.copy()
        self.assertEqual(QApplication.clipboard().text(), "Build")
        self.go_to("Open")
        self.paste()
        self.assertEqual(self.outline()[-4:], ["Open", "Build", "  Frames", "  Glass"])
        frames, glass = (r.task for r in self.desk.rows[-2:])
        (link,) = self.desk.plan.links_into(glass)
        self.assertEqual((link.predecessor, link.lag), (frames, 60))
        self.assertEqual(self.desk.plan.assignments_of(glass)[0].units, 0.5)
        self.desk.undo()
        self.assertEqual(self.outline()[-1], "Open")

    def test_cells_go_out_and_come_back(self) -> None:
        self.go_to("Survey", NAME)
        self.press(Qt.Key.Key_Right, SHIFT)
        self.press(Qt.Key.Key_Down, SHIFT)
        self.copy()
        self.assertEqual(QApplication.clipboard().text(), "Survey\t2 d\nDraw\t2 d")
        self.go_to("Survey", DURATION)
        self.paste("5\n4 h")
        self.assertEqual(self.durations("Survey", "Draw"), [5 * DAY, 240])
        self.go_to("Frames", DURATION)
        self.press(Qt.Key.Key_Down, SHIFT)
        self.paste("3d")
        self.assertEqual(self.durations("Frames", "Glass", "Open"), [3 * DAY, 3 * DAY, 2 * DAY])
        self.paste("soon")
        self.assertIn("Duration of “Frames”", self.said())

    def test_cells_are_chosen_with_shift_and_the_mouse(self) -> None:
        view = self.grid.viewport()
        first, last = (self.grid.visualRect(self.grid.rows.index(r, c)).center() for r, c in ((0, NAME), (1, DURATION)))
        QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=first)
        QTest.mouseClick(view, Qt.MouseButton.LeftButton, SHIFT, pos=last)
        self.copy()
        self.assertEqual(QApplication.clipboard().text(), "Survey\t2 d\nDraw\t2 d")

    def test_a_table_from_a_spreadsheet_becomes_rows_in_one_edit(self) -> None:
        self.go_to("Open", NAME)
        count = len(self.desk.session.history)
        self.paste("#\tTask\tDuration\tWaits for\n1\tNew wing\t\t\n1.1\tDoors\t3 d\t\n1.2\tLamps\t4 h\t5.1 SS\n")
        self.assertEqual(self.outline()[-3:], ["New wing", "  Doors", "  Lamps"])
        self.assertEqual(self.durations("Doors", "Lamps"), [3 * DAY, 240])
        self.assertEqual(self.desk.plan.links_into(self.id_of("Lamps"))[0].predecessor, self.id_of("Doors"))
        self.assertEqual(len(self.desk.session.history), count + 1)

    def test_text_with_outline_numbers_has_their_levels(self) -> None:
        self.go_to("Open", NAME)
        self.paste("1 Roof\n1.1 Glass\n1.1.1 Panes\n2 Yard")
        self.assertEqual(self.outline()[-4:], ["Roof", "  Glass", "    Panes", "Yard"])

    def test_fill_down_and_replace(self) -> None:
        self.go_to("Frames", DURATION)
        self.type("7", Qt.Key.Key_Return)
        self.go_to("Frames", DURATION)
        self.press(Qt.Key.Key_Down, SHIFT)
        self.press(Qt.Key.Key_Down, SHIFT)
        self.window.registry.qt("edit.fill").trigger()
        self.assertEqual(self.durations("Frames", "Glass", "Open", "Draw"), [7 * DAY] * 3 + [2 * DAY])
        self.window.registry.qt("edit.replace").trigger()
        find, put = (self.window.findChild(QLineEdit, n) for n in ("replaceFind", "replacePut"))
        QTest.keyClicks(find, "ra")
        QTest.keyClicks(put, "-")
        self.assertIn("2 rows found", self.texts(self.window.side))
        QTest.mouseClick(self.window.findChild(QPushButton, "replaceAll"), Qt.MouseButton.LeftButton)
        self.assertIn("D-w", self.outline())
        self.assertIn("  F-mes", self.outline())


class Dragging(WindowCase):
    def drag(self, name: str, to_row: int, level: int) -> None:
        grid, view = self.grid, self.grid.viewport()
        self.go_to(name, NAME)
        start = grid.visualRect(grid.rows.index(self.desk.position[self.id_of(name)], 0)).center()
        x = grid.columnViewportPosition(NAME) + 22 + level * 14 + 4
        end = QPoint(x, to_row * 27 - grid.verticalOffset())
        QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=start)
        QTest.mouseMove(view, end - QPoint(0, 3))
        event_at = end
        self.grid._drag.move(_moved(event_at))
        QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=end)
        settle()

    def test_rows_go_where_the_line_is_and_on_its_level(self) -> None:
        self.drag("Open", 0, 0)
        self.assertEqual(self.outline(), ["Open", "Survey", "Draw", "Build", "  Frames", "  Glass"])
        self.drag("Open", 6, 1)
        self.assertEqual(self.outline()[-3:], ["  Frames", "  Glass", "  Open"])
        self.drag("Glass", 6, 0)
        self.assertEqual(self.outline()[-3:], ["  Frames", "  Open", "Glass"])
        self.drag("Build", 4, 1)
        self.assertEqual(self.said(), "A row cannot go below itself.")


def _moved(at: QPoint):  # type: ignore[no-untyped-def]
    from PyQt6.QtCore import QEvent, QPointF
    from PyQt6.QtGui import QMouseEvent

    none = Qt.KeyboardModifier.NoModifier
    left = Qt.MouseButton.LeftButton
    return QMouseEvent(QEvent.Type.MouseMove, QPointF(at), QPointF(at), left, left, none)


class Columns(WindowCase):
    def titles(self) -> list[str]:
        return [c.title for c in self.desk.columns.shown()]

    def test_the_stroke_of_what_is_done_is_where_its_name_is(self) -> None:
        face = font(9, strike=True)

        def drawn(left: int) -> QImage:
            image = QImage(400, 40, QImage.Format.Format_RGB32)
            image.fill(Qt.GlobalColor.white)
            painter = QPainter(image)
            draw_text(painter, face, "Gallery brief agreed", QRectF(left, 0, 240, 40))
            painter.end()
            return image.copy(left, 0, 240, 40)

        first = drawn(10)
        for left in (10, 60, 120):
            self.assertTrue(drawn(left) == first, left)

    def test_columns_are_chosen_moved_and_remembered(self) -> None:
        self.window.registry.qt("look.columns").trigger()
        settle()
        box = self.wait_for(lambda: self.window.side.findChild(QCheckBox, "column.priority"))
        box.click()  # type: ignore[attr-defined]
        self.assertEqual(self.titles()[-1], "Priority")
        self.grid.horizontalHeader().moveSection(len(self.titles()) - 1, FIXED)
        self.assertEqual(self.titles()[FIXED], "Priority")
        self.grid.setColumnWidth(FIXED, 99)
        remembered = self.desk.memory.recall
        self.assertEqual(remembered("columns", list[str], [])[FIXED], "priority")
        self.assertEqual(remembered("column_widths", dict[str, int], {})["priority"], 99)
        self.go_to("Draw", FIXED)
        self.type("2", Qt.Key.Key_Return)
        self.assertEqual(self.desk.plan.tasks[self.id_of("Draw")].priority, 2)

    def test_the_name_stays_in_view_and_takes_the_mouse_while_others_are_scrolled(self) -> None:
        self.window.resize(900, 600)
        settle()
        frozen = self.grid._frozen
        assert frozen is not None
        self.assertFalse(frozen.isVisible())
        self.grid.horizontalScrollBar().setValue(200)
        settle()
        self.assertTrue(frozen.isVisible())
        row = self.desk.position[self.id_of("Draw")]
        place = frozen.visualRect(self.grid.rows.index(row, NAME)).center()
        QTest.mouseClick(frozen.viewport(), Qt.MouseButton.LeftButton, pos=place)
        self.assertEqual(self.desk.current, self.id_of("Draw"))
        self.assertEqual(self.grid.currentIndex().column(), NAME)

    def new_field(self, name: str, kind: FieldKind, **more: str) -> None:
        self.window.side.show_field(None)
        settle()
        form = self.window.side.pages.field
        box = form.findChild(QComboBox, "fieldKind")
        box.setCurrentIndex(box.findData(kind))
        for object_name, text in {"fieldName": name, **more}.items():
            line = form.findChild(QLineEdit, object_name)
            line.clear()
            QTest.keyClicks(line, text)
        self.gives = [w.text() for w in form.findChildren(type(form._gives), "fieldGives")][-1]
        QTest.mouseClick(form.findChild(QPushButton, "formSave"), Qt.MouseButton.LeftButton)
        settle()

    def test_own_fields_are_typed_and_computed_from(self) -> None:
        self.new_field("Cost", FieldKind.MONEY)
        self.new_field("Lender", FieldKind.CHOICE, fieldChoices="Port Museum, Tide House")
        self.new_field("Dear", FieldKind.COMPUTED, fieldFormula='if cost > money(100) then "dear" else lender')
        self.assertIn("gives a text", self.gives)
        columns = self.titles()
        self.assertEqual(columns[-3:], ["Cost", "Lender", "Dear"])
        self.go_to("Draw", columns.index("Cost"))
        self.type("1,250.50", Qt.Key.Key_Return)
        self.go_to("Survey", columns.index("Lender"))
        self.type("tide", Qt.Key.Key_Return)
        fields = {n: dict(self.desk.plan.tasks[self.id_of(n)].fields) for n in ("Draw", "Survey")}
        self.assertEqual(fields, {"Draw": {"Cost": 125050}, "Survey": {"Lender": "Tide House"}})
        shown = [self.grid.rows.index(self.desk.position[self.id_of(n)], columns.index("Dear")).data()
                 for n in ("Draw", "Survey")]  # fmt: skip
        self.assertEqual(shown, ["dear", "Tide House"])
        self.go_to("Survey", columns.index("Lender"))
        self.type("nobody", Qt.Key.Key_Return)
        self.assertIsNotNone(self.editor(), "what is not among the choices stays to be mended")

    def test_a_formula_that_cannot_be_is_refused_in_words(self) -> None:
        self.new_field("Odd", FieldKind.COMPUTED, fieldFormula="finish + duratoin")
        self.assertIn("Do you mean duration", self.gives)
        self.assertNotIn("Odd", self.titles())


if __name__ == "__main__":
    unittest.main()
