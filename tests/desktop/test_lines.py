"""A line that says it all: typed into a new row with chips beneath it, and pasted as notes with a preview."""

from __future__ import annotations

from PyQt6.QtWidgets import QApplication, QPushButton

from hexapod.desktop.build.new_row import Chips, LineEditor
from hexapod.desktop.models.columns import LINKS
from hexapod.plan import edits
from hexapod.plan.records import Assignment, LimitKind, LinkType, Resource
from tests.desktop.case import Qt, QTest, WindowCase, settle
from tests.support import DAY

ALT = Qt.KeyboardModifier.AltModifier
ENTER, TAB, ESC, DOWN, SPACE = (
    Qt.Key.Key_Return, Qt.Key.Key_Tab, Qt.Key.Key_Escape, Qt.Key.Key_Down, Qt.Key.Key_Space,
)  # fmt: skip


class Lines(WindowCase):
    ROWS = "Survey\n  Measure hall\n  Count pins\nOpening"

    def setUp(self) -> None:
        super().setUp()
        for i, (initials, name) in enumerate({"RO": "Rosa Ortiz", "CT": "Carpenter"}.items()):
            self.desk.do(edits.save_resource(self.desk.plan, Resource(initials, name, f"a{i}", initials=initials)))

    def begin(self, text: str) -> LineEditor:
        """Type a line below the last row, and leave the editor open."""
        self.go_to("Opening")
        self.press(ENTER)
        self.type(text)
        editor = self.editor()
        assert isinstance(editor, LineEditor)
        return editor

    def chips(self) -> Chips:
        return next(c for c in self.grid.findChildren(Chips) if c.isVisible())

    def paste(self, text: str) -> None:
        QApplication.clipboard().setText(text)
        self.window.registry.qt("edit.paste").trigger()
        settle()


class Typed(Lines):
    def test_one_line_makes_a_task_with_all_that_it_says(self) -> None:
        self.begin("Book speakers 5d after 1.1, Count pins SS +1d with RO 50%, two CT by 2026-12-12 from 2026-10-05")
        self.assertEqual(
            ["5 d", "after 1.1 Measure hall, 1.2 Count pins SS 1 d later", "with RO 50%, CT ×2",
             "target Sat 12 Dec 2026", "starts not before Mon 5 Oct 2026"],
            self.chips().words(),
        )  # fmt: skip
        self.press(ENTER)
        self.press(ESC)
        plan, made = self.desk.plan, self.id_of("Book speakers")
        task = plan.tasks[made]
        self.assertEqual((5 * DAY, LimitKind.START_NO_EARLIER), (task.duration, task.limits[0].kind))
        self.assertIsNotNone(task.target)
        self.assertEqual(
            {(self.id_of("Measure hall"), LinkType.FS, 0), (self.id_of("Count pins"), LinkType.SS, DAY)},
            {(k.predecessor, k.type, k.lag) for k in plan.links_into(made)},
        )
        self.assertEqual(
            {Assignment(made, "RO", units=0.5), Assignment(made, "CT", units=2.0)}, set(plan.assignments_of(made))
        )
        self.window.registry.qt("edit.undo").trigger()
        self.assertNotIn("Book speakers", self.outline(), "it is undone as one")
        self.assertFalse(self.desk.plan.links)

    def test_a_key_takes_a_line_another_way_and_leaves_it_a_name(self) -> None:
        editor = self.begin("Fence 20 m with RO")
        self.assertEqual("Fence 20 m", editor.reading()[0])
        QTest.keyClick(editor, DOWN, ALT)
        self.assertEqual(("Fence", 20), (editor.reading()[0], editor.reading()[1].task["duration"]))
        QTest.keyClick(editor, DOWN, ALT)
        self.assertEqual("Fence 20 m with RO", editor.reading()[0])
        QTest.keyClicks(editor, ", 2d")
        self.assertEqual("Fence 20 m with RO, 2d", editor.reading()[0], "what is typed behind stays a name too")
        QTest.keyClick(editor, DOWN, ALT)
        self.assertEqual(2 * DAY, editor.reading()[1].task["duration"])

    def test_a_line_keeps_the_way_it_was_taken_on_another_level(self) -> None:
        self.go_to("Measure hall")
        self.window.registry.qt("row.below").trigger()
        self.type("Fence 20 m")
        QTest.keyClick(self.editor(), DOWN, ALT)
        self.press(TAB)
        self.press(ENTER)
        self.press(ESC)
        self.assertIn("    Fence", self.outline())

    def test_a_chip_that_is_pressed_is_left_in_the_name(self) -> None:
        editor = self.begin("Talk 2d after 1.1 with RO")
        after = next(b for b in self.chips().findChildren(QPushButton) if b.text().startswith("after"))
        after.click()
        settle()
        self.assertEqual("Talk 2d after 1.1", editor.reading()[0])
        self.assertIs(self.editor(), editor, "and the line is still being typed")
        perhaps = next(b for b in self.chips().findChildren(QPushButton) if b.text().startswith("2 d"))
        perhaps.click()
        self.assertEqual("Talk", editor.reading()[0])

    def test_a_line_that_cannot_be_stays_to_be_mended(self) -> None:
        self.begin("Knot after Opening before Opening")
        self.press(ENTER)
        editor = self.editor()
        assert editor is not None
        self.assertEqual("Knot after Opening before Opening", editor.text())
        self.press(ESC)
        self.assertNotIn("Knot", self.outline())

    def test_up_from_an_empty_line_leaves_it(self) -> None:
        self.begin("Signs")
        self.press(ENTER)
        self.press(Qt.Key.Key_Up)
        self.assertIsNone(self.editor())
        self.assertEqual(self.id_of("Signs"), self.desk.current)

    def test_a_cell_that_has_a_name_is_renamed_to_the_letter(self) -> None:
        self.go_to("Opening")
        self.press(Qt.Key.Key_F2)
        editor = self.editor()
        assert editor is not None and not isinstance(editor, LineEditor)
        editor.setText("Opening 5d after 1.1")
        self.press(ENTER)
        self.assertIn("Opening 5d after 1.1", self.outline())

    def test_waits_for_understands_what_people_type_and_shows_it_in_our_words(self) -> None:
        for typed, shown in (
            ("1.2 ss 2d", "1.2 SS 2 d later"), ("1.2 +2d", "1.2 2 d later"), ("1.2 -1d", "1.2 1 d sooner"),
            ("after 1.1 and 1.2", "1.1, 1.2"), ("1.1ff", "1.1 FF"), ("1.2 50%", "1.2 50 % later"),
            ("count pins + 4h", "1.2 4 h later"),
        ):  # fmt: skip
            self.go_to("Opening", LINKS)
            self.type(typed, ENTER)
            column = self.grid.rows.columns[LINKS]
            self.assertEqual(shown, self.desk.columns.typed(column, self.id_of("Opening")), typed)


class Pasted(Lines):
    NOTES = """Hall
      - Order glass 3w after measure hall
      - Fence 20 m
      - Paint 4d after order glass with two CT
      - Cables 2d after Paint with ZZ"""

    def cell(self, row: int, column: int) -> str:
        lines = self.window.notes.lines
        return str(lines.data(lines.index(row, column), Qt.ItemDataRole.DisplayRole)).strip()

    def test_notes_are_shown_before_they_become_a_linked_and_staffed_plan(self) -> None:
        self.go_to("Opening")
        self.paste(self.NOTES)
        view = self.window.notes
        self.assertTrue(self.window.shows("notes"))
        self.assertEqual(4, len(self.outline()), "nothing is changed yet")
        self.assertEqual(("Paint", "4 d", "Order glass", "CT ×2"), tuple(self.cell(3, c) for c in range(4)))
        self.assertIn("20 min", self.cell(2, 5))
        self.assertIn("Nobody has the initials ZZ", self.cell(4, 5))
        view.say_who("ZZ", "RO")
        self.assertEqual(("Cables", "RO"), (self.cell(4, 0), self.cell(4, 3)))
        view.table.selectRow(2)
        QTest.keyClick(view.table, SPACE)
        self.assertEqual(("Fence", "20 min"), (self.cell(2, 0), self.cell(2, 1)))
        QTest.keyClick(view.table, ENTER)
        self.assertTrue(self.window.shows("build"))
        self.assertEqual(["Hall", "  Order glass", "  Fence", "  Paint", "  Cables"], self.outline()[4:])
        plan = self.desk.plan
        names = {t.id: t.name for t in plan.tasks.values()}
        self.assertEqual(
            {("Measure hall", "Order glass"), ("Order glass", "Paint"), ("Paint", "Cables")},
            {(names[link.predecessor], names[link.successor]) for link in plan.links.values()},
        )
        self.assertEqual(2, len(plan.assignments))
        self.window.registry.qt("edit.undo").trigger()
        self.assertEqual(4, len(self.outline()))

    def test_ways_that_were_chosen_stay_when_somebody_is_said_and_loops_are_seen_again(self) -> None:
        self.paste("Paint 2d with ZZ after fence\nFence 20 m after Paint")
        view = self.window.notes
        view.table.selectRow(1)
        QTest.keyClick(view.table, SPACE)
        self.assertEqual(("Fence", "20 min"), (self.cell(1, 0), self.cell(1, 1)))
        view.table.selectRow(0)
        QTest.keyClick(view.table, SPACE)
        self.assertIn("loop", self.cell(1, 5), "its last link is left out, and it says so")
        view.say_who("ZZ", "RO")
        self.assertEqual(("Fence", "20 min"), (self.cell(1, 0), self.cell(1, 1)))
        view.take()
        self.assertEqual(1, len(self.desk.plan.links))

    def test_who_is_not_known_may_be_said_to_be_new(self) -> None:
        before = len(self.desk.plan.resources)
        self.paste("Paint 2d with ZZ\nLamps 1d with QQ, ZZ\nSigns 1d with KK")
        view = self.window.notes
        self.assertEqual(["ZZ", "QQ", "KK"], view.lines.notes.unknown())
        view.say_who("KK", "a new role")
        view.say_new(["ZZ", "QQ"])
        self.assertEqual(before, len(self.desk.plan.resources), "nobody comes before the rows do")
        view.take()
        found = {r.initials: str(r.kind) for r in self.desk.plan.resources.values()}
        self.assertEqual(("person", "person", "role"), (found["ZZ"], found["QQ"], found["KK"]))
        self.assertEqual(4, len(self.desk.plan.assignments))
        self.window.registry.qt("edit.undo").trigger()
        self.assertEqual(before, len(self.desk.plan.resources), "and go with them")

    def test_a_project_that_goes_in_the_meantime_keeps_the_lines_until_it_is_back(self) -> None:
        self.paste("Paint 2d with ZZ\nLamps 1d after paint")
        view = self.window.notes
        self.desk.do(edits.remove_project(self.desk.plan, self.desk.project))
        view.say_who("ZZ", "a new role")
        self.assertIn("is gone", view.says.text())
        self.assertFalse(view.take_button.isEnabled())
        self.window.registry.qt("edit.undo").trigger()
        view.say_who("ZZ", "RO")
        self.desk.do(edits.remove_resource(self.desk.plan, "RO"))
        view.say_who("QQ", "")
        self.assertEqual(["ZZ"], view.lines.notes.unknown(), "nobody is meant by who is gone")
        view.take()
        self.assertIn("Paint with ZZ", self.outline())

    def test_all_lines_at_once_are_taken_for_all_that_they_may_say(self) -> None:
        self.paste("Paint 2d\nLamps 1d after paint\nFence 20 m")
        view = self.window.notes
        self.assertEqual("Lamps 1d after paint", self.cell(1, 0))
        view.table.selectAll()
        QTest.keyClick(view.table, SPACE)
        self.assertEqual([("Paint", "2 d"), ("Lamps", "1 d"), ("Fence", "20 min")],
                         [(self.cell(r, 0), self.cell(r, 1)) for r in range(3)])  # fmt: skip

    def test_mere_names_are_pasted_at_once_and_a_table_as_before(self) -> None:
        self.paste("Meeting with the board\n  Order glass")
        self.assertTrue(self.window.shows("build"))
        self.assertIn("Meeting with the board", self.outline())

    def test_all_lines_can_be_left_names_and_esc_leaves_everything(self) -> None:
        self.paste(self.NOTES)
        QTest.keyClick(self.window.notes.table, ESC)
        self.assertEqual((4, True), (len(self.outline()), self.window.shows("build")))
        self.paste(self.NOTES)
        self.window.notes.take_names()
        self.window.notes.take()
        self.assertIn("  Paint 4d after order glass with two CT", self.outline())
        self.assertFalse(self.desk.plan.links)

    def test_a_million_lines_are_refused_by_their_number(self) -> None:
        self.paste("Order glass 2d\n" * 1_000_000)
        self.assertIn("1,000,000 lines", self.said())
        self.assertEqual(4, len(self.outline()))

    def test_many_lines_are_read_beside_the_interface(self) -> None:
        self.paste("\n".join(f"Row {i} 2d after Row {i - 1}" for i in range(600)))
        view = self.window.notes
        self.wait_for(lambda: view.lines.notes)
        view.take()
        self.assertEqual(599, len(self.desk.plan.links))


if __name__ == "__main__":
    import unittest

    unittest.main()
