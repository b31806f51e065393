"""The grid under the fingers: typing, levels, gaps, completion, refusals, folding, clipboard."""

from __future__ import annotations

from PyQt6.QtCore import QRect
from PyQt6.QtWidgets import QApplication

from hexapod.desktop.build.cell_painter import fold_mark, name_left
from hexapod.desktop.models.columns import DURATION, LINKS, NAME, WHO
from hexapod.plan import edits
from hexapod.plan.records import Resource
from tests.desktop.case import Qt, QTest, WindowCase, settle
from tests.support import DAY

SHIFT, CTRL = Qt.KeyboardModifier.ShiftModifier, Qt.KeyboardModifier.ControlModifier
ENTER, TAB, BACKTAB, ESC = Qt.Key.Key_Return, Qt.Key.Key_Tab, Qt.Key.Key_Backtab, Qt.Key.Key_Escape


class Rows(WindowCase):
    def test_the_row_to_type_into_keeps_the_level_and_can_change_it(self) -> None:
        self.go_to("Open")
        self.press(ENTER)
        self.type("Guides", TAB)
        self.press(ENTER)
        self.assertEqual(self.outline()[-2:], ["Open", "  Guides"])
        self.type("Trial", ENTER)
        self.assertEqual(self.outline()[-1], "  Trial", "the next row begins on the level of the last")
        self.type("Snags", BACKTAB)
        self.press(ENTER)
        self.press(ESC)
        self.assertEqual(self.outline()[-1], "Snags")
        self.assertIsNone(self.editor())

    def test_nothing_of_the_hint_stands_beside_a_row_that_is_typed_further_in(self) -> None:
        self.go_to("Open")
        row = self.grid.visualRect(self.grid.rows.index(len(self.desk.rows), NAME))
        self.assertGreater(len(self.colours_in(row)), 1, "the last row says what can be typed there")
        self.press(ENTER)
        self.type("L", Qt.Key.Key_Backspace, TAB)
        settle()
        editor = self.editor()
        assert editor is not None
        self.assertGreater(editor.x(), name_left(0))
        row.setRight(editor.x() - 2)
        self.assertEqual(1, len(self.colours_in(row)))
        self.press(ESC)
        self.assertIsNone(self.editor())
        row.setRight(row.left() + 200)
        self.assertGreater(len(self.colours_in(row)), 1)

    def colours_in(self, place: QRect) -> set[int]:
        """The colours of a part of the outline, without its edges."""
        image = self.grid.viewport().grab(place.adjusted(2, 3, -2, -4)).toImage()
        return {image.pixel(x, y) for x in range(image.width()) for y in range(image.height())}

    def test_a_level_is_never_more_than_one_below_the_row_before(self) -> None:
        self.go_to("Open")
        self.press(ENTER)
        self.type("Deep", TAB, TAB, TAB, ENTER)
        self.assertEqual(self.outline()[-1], "  Deep")

    def test_a_row_between_others_and_one_that_is_given_up(self) -> None:
        self.go_to("Glass")
        self.window.registry.qt("row.above").trigger()
        self.assertEqual(self.outline()[4], "  ·", "there is room for it while it is typed")
        self.type("Seals", ENTER)
        self.press(ESC)
        self.assertEqual(self.outline()[3:6], ["  Frames", "  Seals", "  Glass"])
        self.window.registry.qt("row.below").trigger()
        self.press(ESC)
        self.assertEqual(len(self.outline()), 7)
        self.assertNotIn("  ·", self.outline())
        self.assertEqual(self.desk.current, self.id_of("Seals"), "and the keyboard is where it was")

    def test_the_level_of_a_gap_changes_while_it_is_typed(self) -> None:
        self.go_to("Draw")
        self.window.registry.qt("row.below").trigger()
        self.type("Details", TAB)
        editor = self.editor()
        assert editor is not None
        self.assertEqual(editor.text(), "Details", "what was typed stays")
        self.press(ENTER)
        self.press(ESC)
        self.assertEqual(self.outline()[1:3], ["Draw", "  Details"])

    def test_a_name_that_is_left_is_taken_and_an_empty_one_is_refused(self) -> None:
        self.go_to("Draw")
        self.press(Qt.Key.Key_F2)
        self.window.registry.qt("row.edit").trigger()
        editor = self.editor()
        assert editor is not None
        editor.setText("Drawings")
        QTest.mouseClick(
            self.grid.viewport(),
            Qt.MouseButton.LeftButton,
            pos=self.grid.visualRect(self.grid.rows.index(0, NAME)).center(),
        )
        self.assertIn("Drawings", self.outline())
        self.go_to("Drawings")
        self.window.registry.qt("row.edit").trigger()
        editor = self.editor()
        assert editor is not None
        editor.clear()
        self.press(ENTER)
        self.assertIsNotNone(self.editor(), "a row needs a name: the editor stays")
        self.press(ESC)
        self.assertIn("Drawings", self.outline())


class Cells(WindowCase):
    def test_nonsense_stays_with_its_reason_until_it_is_mended(self) -> None:
        self.go_to("Survey", DURATION)
        self.type("3 fortnights", ENTER)
        editor = self.editor()
        assert editor is not None
        self.assertEqual(editor.text(), "3 fortnights")
        self.assertTrue(any("fortnights" in t for t in self.texts(self.grid)))
        editor.setText("3")
        self.press(ENTER)
        self.assertIsNone(self.editor())
        self.assertEqual(self.desk.plan.tasks[self.id_of("Survey")].duration, 3 * DAY)
        self.assertEqual(self.desk.current, self.id_of("Draw"), "Enter goes to the next row")
        self.assertEqual(self.grid.currentIndex().column(), DURATION)
        self.assertIn("Set the duration", self.said())

    def test_tab_goes_from_cell_to_cell_and_from_the_name_to_levels(self) -> None:
        self.go_to("Survey", DURATION)
        self.type("4h", TAB)
        self.assertEqual(self.grid.currentIndex().column(), DURATION + 1)
        self.press(BACKTAB)
        self.assertEqual(self.grid.currentIndex().column(), DURATION)
        self.press(BACKTAB)
        self.assertEqual(self.grid.currentIndex().column(), NAME)
        self.go_to("Draw")
        self.press(TAB)
        self.assertEqual(self.outline()[1], "  Draw")
        self.press(BACKTAB)
        self.assertEqual(self.outline()[1], "Draw")

    def test_names_are_completed_behind_the_last_comma(self) -> None:
        self.go_to("Open", LINKS)
        self.type("1, fra")
        editor = self.editor()
        assert editor is not None
        popup = editor._completer.popup()
        self.assertTrue(popup.isVisible())
        QTest.keyClick(popup, Qt.Key.Key_Down)
        QTest.keyClick(popup, ENTER)
        self.assertEqual(editor.text(), "1, Frames")
        QTest.keyClick(editor, ENTER)
        into = {self.desk.plan.tasks[x.predecessor].name for x in self.desk.plan.links_into(self.id_of("Open"))}
        self.assertEqual(into, {"Survey", "Frames"})

    def test_a_loop_typed_in_a_cell_lists_its_tasks(self) -> None:
        self.go_to("Draw", LINKS)
        self.type("1", ENTER)
        self.go_to("Survey", LINKS)
        self.type("2", ENTER)
        self.assertTrue(any("“Survey” → “Draw” → “Survey”" in t for t in self.texts(self.grid)))
        self.press(ESC)
        self.assertEqual(len(self.desk.plan.links), 1)

    def test_people_by_initials_for_several_rows_at_once(self) -> None:
        self.desk.do(edits.save_resource(self.desk.plan, Resource("m", "Mo Okon", "a0", initials="MO")))
        chosen = [self.id_of("Survey"), self.id_of("Draw")]
        self.desk.select(chosen, chosen[0])
        self.grid.selectionModel().setCurrentIndex(
            self.grid.rows.index(0, WHO), self.grid.selectionModel().SelectionFlag.NoUpdate
        )
        self.type("mo 50%", ENTER)
        units = {a.task: a.units for a in self.desk.plan.assignments.values()}
        self.assertEqual(units, dict.fromkeys(chosen, 0.5))


class DroppingRows(WindowCase):
    def test_a_row_dropped_on_a_row_becomes_its_part(self) -> None:
        grid = self.grid
        number = grid.visualRect(grid.rows.index(self.desk.position[self.id_of("Survey")], 0)).center()
        onto = grid.visualRect(grid.rows.index(self.desk.position[self.id_of("Build")], 0)).center()
        QTest.mousePress(grid.viewport(), Qt.MouseButton.LeftButton, pos=number)
        for part in (0.4, 0.8, 1.0):
            QTest.mouseMove(grid.viewport(), number + (onto - number) * part)
            settle()
        QTest.mouseRelease(grid.viewport(), Qt.MouseButton.LeftButton, pos=onto)
        self.assertEqual(self.outline(), ["Draw", "Build", "  Frames", "  Glass", "  Survey", "Open"])


class Folding(WindowCase):
    def test_by_keys_and_by_the_mark(self) -> None:
        self.go_to("Build")
        self.press(Qt.Key.Key_Left)
        self.assertEqual(len(self.outline()), 4)
        self.press(Qt.Key.Key_Right)
        self.assertEqual(len(self.outline()), 6)
        cell = self.grid.visualRect(self.grid.rows.index(2, NAME))
        mark = fold_mark(cell, 0).center().toPoint()
        QTest.mouseClick(self.grid.viewport(), Qt.MouseButton.LeftButton, pos=mark)
        self.assertEqual(len(self.outline()), 4)
        self.assertEqual(self.grid.rows.index(2, DURATION).data(), "2 d", "a folded summary shows its span")


class Clipboard(WindowCase):
    def test_rows_go_out_and_come_back_with_their_levels(self) -> None:
        chosen = [self.id_of(n) for n in ("Build", "Frames", "Glass")]
        self.desk.select(chosen, chosen[0])
        self.press(Qt.Key.Key_C, CTRL)
        self.assertEqual(QApplication.clipboard().text(), "Build\n    Frames\n    Glass")
        self.go_to("Open")
        self.press(Qt.Key.Key_V, CTRL)
        self.assertEqual(self.outline()[-4:], ["Open", "Build", "  Frames", "  Glass"])

    def test_an_empty_clipboard_is_said(self) -> None:
        QApplication.clipboard().setText("  \n ")
        self.press(Qt.Key.Key_V, CTRL)
        self.assertIn("no text", self.said())

    def test_extending_the_selection_and_deleting_it(self) -> None:
        self.go_to("Survey")
        self.press(Qt.Key.Key_Down, SHIFT)
        self.window.registry.qt("row.delete").trigger()
        self.assertEqual(self.outline(), ["Build", "  Frames", "  Glass", "Open"])
        self.assertIn("2 rows deleted", self.said())
