"""Own work in the window: the morning of one person, errands, milestones put away, and what a form told."""

from __future__ import annotations

import unittest

from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QComboBox, QLabel

from hexapod.control.mine import When, Work
from hexapod.control.round import Answer, What
from hexapod.desktop.frame.walked import Heading
from hexapod.desktop.window import Window
from hexapod.plan import edits
from hexapod.plan.records import LinkType, Resource
from hexapod.session import Session
from tests.desktop.case import Qt, QTest, WindowCase, put_away, settle
from tests.support import DAY, MONDAY, at, set_clock

NOW = at("2026-09-09T10:00")  # a Wednesday


class Mine(WindowCase):
    ROWS = "Survey\nDraw\nFrames\nOpen"

    def setUp(self) -> None:
        set_clock(self, NOW)
        super().setUp()
        desk = self.desk
        for person, name in (("hana", "Hana Brook"), ("ito", "Ito Vale")):
            desk.do(edits.save_resource(desk.plan, Resource(person, name, person, initials=name[0] + "X")))
        desk.do(edits.link(desk.plan, self.id_of("Survey"), self.id_of("Draw"), LinkType.FS))
        desk.do(edits.link(desk.plan, self.id_of("Frames"), self.id_of("Open"), LinkType.FS))
        desk.do(edits.set_durations(desk.plan, [self.id_of("Open")], 0))
        desk.do(edits.assign(desk.plan, [self.id_of("Draw"), self.id_of("Open")], "hana"))
        desk.do(edits.assign(desk.plan, [self.id_of("Survey")], "ito"))
        self.window.show_part("mine")
        self.view = self.window.track["mine"]
        desk.mine.be("hana")
        settle()

    def shown(self) -> list[str]:
        plan = self.desk.plan
        return [f"[{row.words}]" if isinstance(row, Heading) else plan.tasks[row.task].name
                for row in self.view.table.rows]  # type: ignore[attr-defined]  # fmt: skip

    def type_into(self, table: object, text: str) -> None:
        QTest.keyClicks(table, text[:1])  # type: ignore[call-overload]
        editor = table._editor  # type: ignore[attr-defined]
        assert editor is not None
        QTest.keyClicks(editor, text[1:])
        QTest.keyClick(editor, Qt.Key.Key_Return)
        settle()

    def test_what_waits_becomes_ready_once_it_is_done_and_is_told_with_a_note(self) -> None:
        self.assertEqual(self.shown(), ["[Waiting for others · 1]", "Draw"])
        work = self.view.table.rows[1]
        self.assertIsInstance(work, Work)
        self.assertIn("Ito Vale", self.view.table.state(work))
        self.desk.mine.look_at("ito")
        settle()
        self.assertEqual(self.shown(), ["[Late · 1]", "Survey"])
        QTest.keyClick(self.view.table, Qt.Key.Key_Space)
        settle()
        self.assertTrue(self.desk.plan.tasks[self.id_of("Survey")].is_done)
        self.desk.mine.look_at("hana")
        settle()
        self.assertEqual(self.shown()[1], "Draw")
        self.assertIs(self.view.table.rows[1].when, When.NOW)
        self.type_into(self.view.table, "1d: the rail is bent")
        draw = self.desk.plan.tasks[self.id_of("Draw")]
        self.assertEqual((draw.rest, draw.is_begun), (DAY, True))
        (comment,) = self.desk.plan.comments_about(draw.id)
        self.assertEqual((comment.text, comment.who), ("the rail is bent", "Hana Brook"))
        self.assertEqual(self.desk.session.history[-1].who, "Hana Brook", "what I do carries my name")

    def test_who_i_am_is_kept_and_what_is_typed_wrong_stays(self) -> None:
        table = self.view.table
        QTest.keyClicks(table, "x")
        assert table._editor is not None
        QTest.keyClicks(table._editor, "yz")
        before = self.desk.plan
        QTest.keyClick(table._editor, Qt.Key.Key_Return)
        settle()
        self.assertIs(self.desk.plan, before)
        self.assertEqual(table._editor.text(), "xyz")
        path = self.desk.session.workspace.path
        put_away(self.window)
        other = Window(Session.open(path), lambda *_: None)
        self.addCleanup(put_away, other)
        self.assertEqual((other.desk.mine.me, other.desk.session.who), ("hana", "Hana Brook"))

    def test_errands_are_typed_as_a_list_ticked_and_deleted(self) -> None:
        line, errands = self.view.line, self.view.errands
        QTest.keyClicks(line, "call the glazier 2026-09-11")
        QTest.keyClick(line, Qt.Key.Key_Return)
        QTest.keyClicks(line, "pins for drawer 12")
        QTest.keyClick(line, Qt.Key.Key_Return)
        clipboard = QGuiApplication.clipboard()
        assert clipboard is not None
        clipboard.setText("- one\n- two by 2026-09-08\n\n")
        QTest.keyClick(line, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
        settle()
        names = [(e.name, e.due) for _, e in self.desk.mine.errands()]
        day = at("2026-09-08T00:00") // 1440
        self.assertEqual(
            names, [("two", day), ("pins for drawer 12", None), ("one", None), ("call the glazier", day + 3)]
        )
        errands.setFocus()
        QTest.keyClick(errands, Qt.Key.Key_Home)
        QTest.keyClick(errands, Qt.Key.Key_Space)
        settle()
        done = [e.name for e in self.desk.plan.errands.values() if e.done == NOW]
        self.assertEqual(done, ["two"])
        QTest.keyClick(errands, Qt.Key.Key_Home)
        QTest.keyClick(errands, Qt.Key.Key_Delete)
        settle()
        self.assertEqual(len(self.desk.plan.errands), 3)
        self.desk.undo()
        self.assertEqual(len(self.desk.plan.errands), 4)
        self.desk.do(edits.remove_resource(self.desk.plan, "hana"))
        settle()
        self.assertEqual(len(self.desk.plan.errands), 0)
        self.desk.undo()
        settle()
        self.assertEqual(len(self.desk.plan.errands), 4, "nothing that was typed is lost")

    def test_milestones_are_put_away_and_come_back(self) -> None:
        table = self.view.milestones
        self.assertEqual([m.task for m in self.desk.mine.milestones()], [self.id_of("Open")])
        QTest.keyClick(table, Qt.Key.Key_Delete)
        settle()
        self.assertEqual(self.desk.mine.milestones(), [])
        self.assertIn(self.id_of("Open"), self.desk.plan.tasks)
        self.view._away.click()
        settle()
        self.assertEqual(len(self.desk.mine.milestones()), 1)

    def test_nobodys_work_and_narrowing(self) -> None:
        whose = self.window.findChild(QComboBox, "mineWhose")
        assert whose is not None
        self.desk.mine.look_at("")
        settle()
        self.assertIn("Frames", self.shown())
        self.assertNotIn("Draw", self.shown())
        self.desk.mine.narrow(text="frames p")
        settle()
        self.assertEqual(len(self.shown()), 2, "words are found in its name and its project's")
        self.desk.mine.narrow(text="glass")
        settle()
        self.assertEqual(self.shown(), [])
        self.desk.mine.narrow(text="")
        self.desk.mine.narrow_until(MONDAY)
        settle()
        self.assertIn("Frames", self.shown())

    def test_load_is_said_for_two_weeks(self) -> None:
        said = self.window.findChild(QLabel, "mineSays")
        assert said is not None
        self.assertIn("This week 16 h of 40 h, next week 0 h of 40 h", said.text())

    def test_what_a_form_told_is_taken_by_a_press(self) -> None:
        draw = self.id_of("Draw")
        self.desk.round.lay({draw: Answer(What.LEFT, amount=DAY, who="HX", note="half of it")})
        self.view.refresh()
        (chip,) = self.view.table.chips(self.view.table.rows[1])
        self.assertEqual(chip.words, "told: left 1 d · HX")
        ((_, box),) = self.view.table._placed(self.view.table.rows[1], self.view.table.top_of(1))
        QTest.mouseClick(self.view.table.viewport(), Qt.MouseButton.LeftButton, pos=box.center().toPoint())
        settle()
        self.assertEqual(self.desk.plan.tasks[draw].rest, DAY)
        self.assertEqual(self.desk.round.draft_of("p").answers, {})


if __name__ == "__main__":
    unittest.main()
