"""Telling how far the work is, in the window: by a press, a typed date, a drag, a key and the form of the project."""

from __future__ import annotations

import unittest

from PyQt6.QtWidgets import QLineEdit, QPushButton

from hexapod.desktop.chart import coloring
from hexapod.desktop.chart import geometry as g
from hexapod.plan import edits
from hexapod.plan.records import LimitKind, LinkType, Task
from tests.desktop.case import QPointF, Qt, QTest, WindowCase, settle
from tests.support import DAY, MONDAY, at, set_clock

NOW = at("2026-09-18T12:00")


class Telling(WindowCase):
    def setUp(self) -> None:
        set_clock(self, NOW)
        super().setUp()
        self.window.side.open_now()

    def task(self, name: str) -> Task:
        return self.desk.plan.tasks[self.id_of(name)]

    def select(self, name: str) -> None:
        self.desk.go_to(self.id_of(name))
        settle()

    def button(self, name: str) -> QPushButton:
        found = self.window.findChild(QPushButton, name)
        assert found is not None, name
        return found

    def line(self, name: str) -> QLineEdit:
        found = [x for x in self.window.findChildren(QLineEdit, name) if x.isVisible()]
        return found[-1]

    def enter(self, name: str, text: str) -> None:
        line = self.line(name)
        line.setFocus()
        line.selectAll()
        QTest.keyClicks(line, text)
        QTest.keyClick(line, Qt.Key.Key_Return)
        settle()

    def test_a_press_tells_it_and_takes_it_back(self) -> None:
        self.select("Draw")
        self.button("tellDone").click()
        settle()
        told = self.task("Draw")
        self.assertEqual((told.actual_start, told.actual_finish), (MONDAY, at("2026-09-08T17:00")))
        self.assertIn("Done", self.texts(self.window.side))
        self.button("tellBegun").click()
        settle()
        self.assertEqual((self.task("Draw").actual_start, self.task("Draw").is_begun), (MONDAY, True))
        self.button("tellHalf").click()
        settle()
        self.assertIn("1 d left of 2 d", self.texts(self.window.side))
        self.button("tellNotBegun").click()
        settle()
        self.assertIsNone(self.task("Draw").actual_start)
        self.assertEqual(self.task("Draw").percent, 0)
        for _ in range(4):
            self.desk.session.undo()
        self.assertEqual(self.task("Draw"), self.desk.plan.tasks[self.id_of("Draw")])
        self.assertIsNone(self.task("Draw").actual_start)

    def test_what_would_hold_it_next_is_the_status_date_where_there_is_one(self) -> None:
        self.desk.do(edits.link(self.desk.plan, self.id_of("Survey"), self.id_of("Draw")))
        self.desk.do(edits.set_durations(self.desk.plan, [self.id_of("Survey")], 5 * DAY))
        for status, words in ((None, "The project's start"), (at("2026-09-09T17:00"), "The status date")):
            self.desk.do(edits.set_status_date(self.desk.plan, "p", status))
            self.select("Draw")
            self.wait_for(lambda words=words: words in self.texts(self.window.side))

    def test_what_is_typed_in_the_side_is_understood_or_said_to_be_wrong(self) -> None:
        self.select("Draw")
        self.button("tellBegun").click()
        settle()
        self.enter("toldBegan", "2026-09-09")
        self.assertEqual(self.task("Draw").actual_start, at("2026-09-09T08:00"))
        self.button("tellHalf").click()
        settle()
        self.button("tellBegun").click()
        settle()
        self.assertEqual((self.task("Draw").actual_start, self.task("Draw").percent), (at("2026-09-09T08:00"), 0))
        self.button("tellDone").click()
        settle()
        self.button("tellNotBegun").click()
        settle()
        self.assertIsNone(self.task("Draw").actual_start, "what was done is not begun, not only open again")
        self.desk.undo()
        self.desk.undo()
        settle()
        self.enter("toldLeft", "12 h")
        self.assertEqual((self.task("Draw").remaining, self.task("Draw").percent), (720, 25.0))
        self.enter("toldPercent", "75")
        self.assertEqual((self.task("Draw").rest, self.task("Draw").remaining), (240, None))
        for name, text, words in (
            ("toldBegan", "2026-10-01", "still to come"),
            ("toldEnded", "2026-09-08", "ended before it began"),
            ("toldLeft", "-3 d", ""),
            ("toldPercent", "140", "0 to 100"),
        ):
            before = self.desk.plan
            self.enter(name, text)
            self.assertIs(self.desk.plan, before, text)
            self.assertIn(words, " ".join(self.texts(self.window.side)))
            self.select("Survey")
            self.select("Draw")
        self.enter("toldEnded", "2026-09-11")
        self.assertEqual(self.task("Draw").actual_finish, at("2026-09-11T17:00"))

    def test_the_end_of_the_done_part_is_dragged_and_what_is_done_cannot_be(self) -> None:
        draw = self.id_of("Draw")
        self.chart.go_to_moment(MONDAY)
        settle()
        bar = self.chart.bar_of(draw)
        assert bar is not None
        grip = g.progress_grip(bar, self.chart.done_part(draw)) + QPointF(1, 2)
        self.drag(grip, QPointF(bar.left() + bar.width() * 0.5, grip.y()))
        self.assertEqual((self.task("Draw").percent // 10, self.task("Draw").actual_start), (5, MONDAY))
        self.desk.do(edits.set_percent(self.desk.plan, [draw], 100))
        settle()
        done, before = self.task("Draw"), self.desk.plan
        bar = self.chart.bar_of(draw)
        assert bar is not None
        self.drag(bar.center(), bar.center() + QPointF(200, 0))
        self.assertIs(self.desk.plan, before)
        self.assertEqual(self.task("Draw"), done)

    def drag(self, start: QPointF, end: QPointF) -> None:
        port = self.chart.viewport()
        QTest.mouseMove(port, start.toPoint())
        QTest.mousePress(port, Qt.MouseButton.LeftButton, pos=start.toPoint())
        for k in range(1, 6):
            QTest.mouseMove(port, (start + (end - start) * k / 5).toPoint())
        QTest.mouseRelease(port, Qt.MouseButton.LeftButton, pos=end.toPoint())
        settle()

    def test_the_keys_tell_the_selected_rows(self) -> None:
        self.go_to("Build")
        self.press(Qt.Key.Key_D, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
        self.assertTrue(self.task("Frames").is_done and self.task("Glass").is_done)
        self.assertEqual(len([r for r in self.desk.session.history if "done" in r.words]), 1, "one edit")
        self.press(Qt.Key.Key_N, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
        self.assertIsNone(self.task("Frames").actual_start)
        self.press(Qt.Key.Key_B, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
        self.assertTrue(self.task("Frames").is_begun)

    def test_the_status_date_moves_what_is_not_done_and_says_what_is_late(self) -> None:
        self.desk.do(edits.link(self.desk.plan, self.id_of("Survey"), self.id_of("Draw"), LinkType.FS))
        self.desk.do(edits.set_percent(self.desk.plan, [self.id_of("Open")], 100))
        self.press(Qt.Key.Key_U, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
        line = self.line("projectStatus")
        self.assertIs(self.window.focusWidget(), line)
        QTest.keyClicks(line, "2026-09-01")
        QTest.keyClick(line, Qt.Key.Key_Return)
        settle()
        self.assertIsNone(self.desk.plan.projects["p"].status_date, "before the project starts")
        line = self.line("projectStatus")
        line.setText("2026-09-10")
        QTest.keyClick(line, Qt.Key.Key_Return)
        settle()
        self.assertEqual(self.desk.plan.projects["p"].status_date, at("2026-09-10T17:00"))
        dates = self.desk.worked_out
        self.assertEqual(dates.dates(self.id_of("Survey")).start, at("2026-09-11T08:00"))
        self.assertEqual(dates.dates(self.id_of("Open")).start, MONDAY)
        self.assertEqual(self.window.topbar.vitals.late.text_shown, "4")
        self.select("Survey")
        self.assertIn("Should have begun 4 d ago", self.texts(self.window.side))
        self.select("Draw")
        self.assertIn("Should have begun 2 d ago", self.texts(self.window.side))

    def test_rows_are_coloured_by_how_far_they_are(self) -> None:
        self.desk.looks.set_color_by(coloring.PROGRESS)
        self.desk.do(edits.set_percent(self.desk.plan, [self.id_of("Survey")], 100))
        self.desk.do(edits.set_percent(self.desk.plan, [self.id_of("Draw")], 50))
        colours = {n: coloring.row_color(self.desk, self.id_of(n)).name() for n in ("Survey", "Draw", "Open")}
        self.assertEqual(len(set(colours.values())), 3)

    def test_why_ends_at_what_was_told_and_a_date_cannot_be_typed_over_it(self) -> None:
        survey = self.id_of("Survey")
        self.desk.do(edits.begin(self.desk.plan, [survey], MONDAY + 60))
        self.desk.do(edits.set_limit(self.desk.plan, survey, LimitKind.START_NO_EARLIER, MONDAY + 9 * 1440))
        self.assertEqual(self.desk.worked_out.dates(survey).start, MONDAY + 60)
        self.select("Survey")
        from hexapod.desktop.inspector.why import WhyChain

        chain = self.window.findChild(WhyChain)
        assert chain is not None
        self.assertIn("it began then", chain.steps[0].words)


if __name__ == "__main__":
    unittest.main()
