"""The board in the window: cards moved by keys and dragged, stages named, and from a card to its bar and back."""

from __future__ import annotations

import unittest
from unittest.mock import patch

from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QLabel, QLineEdit, QPushButton

from hexapod.plan import edits
from hexapod.plan.records import LinkType, Resource
from tests.at_rest import wait_for
from tests.desktop.case import Qt, QTest, WindowCase, settle
from tests.support import at, set_clock

NOW = at("2026-09-09T10:00")


class Stages(WindowCase):
    ROWS = "Films\n  Script\n  Shoot\n  Cut\nSound"

    def setUp(self) -> None:
        set_clock(self, NOW)
        super().setUp()
        desk = self.desk
        desk.do(edits.link(desk.plan, self.id_of("Script"), self.id_of("Shoot"), LinkType.FS))
        desk.do(edits.save_resource(desk.plan, Resource("yun", "Yun", "a0", initials="YD")))
        desk.do(edits.assign(desk.plan, [self.id_of("Cut")], "yun"))
        self.window.show_part("stages")
        self.view = self.window.track["stages"]
        self.board = self.view.board
        begin = self.window.findChild(QPushButton, "stagesBegin")
        assert begin is not None
        self.assertTrue(begin.isVisible())
        begin.click()
        desk.select([self.id_of("Films")], self.id_of("Films"))
        self.window.registry.qt("board.put").trigger()
        settle()

    def in_stages(self) -> list[list[str]]:
        plan = self.desk.plan
        return [
            [plan.tasks[t].name for row in self.board.rows for t in row.cells[c]] for c in range(len(self.board.stages))
        ]

    def test_a_branch_is_put_on_the_board_and_cards_are_moved_by_keys(self) -> None:
        self.assertEqual([len(cell) for cell in self.in_stages()], [3, 0, 0, 0])
        self.board.setFocus()
        self.board.go(self.id_of("Script"))
        QTest.keyClick(self.board, Qt.Key.Key_Right, Qt.KeyboardModifier.ControlModifier)
        settle()
        self.assertEqual(self.desk.plan.tasks[self.id_of("Script")].percent, 10)
        QTest.keyClick(self.board, Qt.Key.Key_4)
        settle()
        self.assertTrue(self.desk.plan.tasks[self.id_of("Script")].is_done)
        self.board.go(self.id_of("Shoot"))
        self.board.go(self.id_of("Cut"), extend=True)
        edits_before = len(self.desk.session.history)
        QTest.keyClick(self.board, Qt.Key.Key_2)
        settle()
        self.assertEqual(self.in_stages(), [[], ["Cut", "Shoot"], [], ["Script"]])
        self.assertEqual(len(self.desk.session.history), edits_before + 1, "many cards are one edit")
        self.desk.undo()
        settle()
        self.assertEqual(self.in_stages(), [["Cut", "Shoot"], [], [], ["Script"]])
        self.desk.do(edits.set_percent(self.desk.plan, [self.id_of("Cut")], 95))
        settle()
        self.assertEqual(self.in_stages(), [["Shoot"], [], ["Cut"], ["Script"]], "told elsewhere, it moves")

    def test_arrow_keys_walk_all_cards_and_a_read_only_board_moves_none(self) -> None:
        self.desk.stages.move([self.id_of("Cut")], self.board.stages[2].id)
        settle()
        self.board.setFocus()
        self.board.go(self.board.places[0].task)
        seen = {self.board.current}
        for key in (Qt.Key.Key_Down, Qt.Key.Key_Right, Qt.Key.Key_Left):
            QTest.keyClick(self.board, key)
            seen.add(self.board.current)
        self.assertEqual(len(seen), 3)
        self.assertIn("Cut", self.desk.plan.tasks[self.id_of("Cut")].name)
        self.assertTrue(self.board.accessibleDescription())
        with patch.object(type(self.desk), "is_read_only", True):
            before = self.desk.plan
            QTest.keyClick(self.board, Qt.Key.Key_4)
            QTest.keyClick(self.board, Qt.Key.Key_Right, Qt.KeyboardModifier.ControlModifier)
            self.assertIs(self.desk.plan, before)

    def drag(self, card: str, to: QPoint, *, escape: bool = False) -> None:
        box = self.board.box_of(self.id_of(card))
        assert box is not None
        start, view = box.center().toPoint(), self.board.viewport()
        QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=start)
        QTest.mouseMove(view, start + QPoint(15, 0))
        QTest.mouseMove(view, to)
        if escape:
            QTest.keyClick(self.window, Qt.Key.Key_Escape)
        QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=to)
        settle()

    def test_a_card_is_dragged_and_escape_leaves_it(self) -> None:
        wide = self.board._column_width()
        there = QPoint(int(wide * 2.5), 200)
        self.drag("Cut", there, escape=True)
        self.assertEqual(self.desk.plan.tasks[self.id_of("Cut")].percent, 0)
        self.drag("Cut", there)
        self.assertEqual(self.desk.plan.tasks[self.id_of("Cut")].percent, 90)

    def test_the_menu_of_a_card_puts_it_elsewhere_and_takes_it_off(self) -> None:
        self.board.go(self.id_of("Cut"))
        menu = self.board.menu_of(self.id_of("Cut"))
        by_name = {action.text(): action for action in menu.actions()}
        self.assertFalse(by_name["To come"].isEnabled(), "it is there")
        by_name["To be checked"].trigger()
        settle()
        self.assertEqual(self.desk.plan.tasks[self.id_of("Cut")].percent, 90)
        by_name["Off the board"].trigger()
        settle()
        self.assertFalse(self.desk.plan.tasks[self.id_of("Cut")].on_board)
        self.assertEqual(self.desk.plan.tasks[self.id_of("Cut")].percent, 90, "it stays as far as it was told")

    def test_from_a_card_to_its_bar_and_back(self) -> None:
        self.board.setFocus()
        self.board.go(self.id_of("Shoot"))
        QTest.keyClick(self.board, Qt.Key.Key_Return)
        settle()
        self.assertEqual((self.window.leg, self.desk.current), ("build", self.id_of("Shoot")))
        self.window.registry.qt("board.card").trigger()
        settle()
        self.assertEqual((self.window.leg, self.window.track.part), ("track", "stages"))
        self.assertEqual(self.board.current, self.id_of("Shoot"))

    def test_stages_are_named_limited_and_deleted_with_their_cards_kept(self) -> None:
        self.window.side.show_page("stages")
        settle()
        second = self.board.stages[1].id

        def line(name: str) -> QLineEdit:
            found = [w for w in self.window.findChildren(QLineEdit, name) if w.isVisible()]
            return found[-1]

        def type_over(name: str, text: str) -> None:
            line(name).selectAll()
            QTest.keyClicks(line(name), text)
            QTest.keyClick(line(name), Qt.Key.Key_Return)
            settle()

        type_over(f"stageMost.{second}", "1")
        said: list[str] = []
        self.desk.told.connect(lambda words, *_: said.append(words))
        self.desk.stages.move([self.id_of("Cut"), self.id_of("Shoot")], second)
        settle()
        self.assertIn("at most 1", said[-1])
        type_over(f"stagePercent.{second}", "lots")
        reason = [w.text() for w in self.window.findChildren(QLabel, "stageReason") if w.isVisible()]
        self.assertIn("from 0 to 100", reason[-1])
        self.assertEqual(self.desk.plan.stages[second].percent, 10)
        type_over("stageAdd", "Waiting for rights")
        self.assertEqual([s.name for s in self.board.stages][-2:], ["Waiting for rights", "Done"])
        self.desk.do(edits.remove_stage(self.desk.plan, second))
        settle()
        self.assertEqual(sum(map(len, self.in_stages())), 3, "its cards stay on the board")
        self.desk.undo()
        settle()
        self.assertEqual(self.in_stages()[1], ["Cut", "Shoot"])

    def test_rows_by_person_and_the_picture_over_time(self) -> None:
        self.desk.stages.show(by="person")
        settle()
        self.assertEqual([row.name for row in self.board.rows], ["Yun", "Nobody"])
        self.view._over_time.click()
        wait_for(lambda: self.view.picture.history is not None)
        self.assertTrue(any("To come: 3 now" in words for words in self.view.picture.words()))


if __name__ == "__main__":
    unittest.main()
