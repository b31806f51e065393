"""The map of planning back, by mouse and keys, and that nothing runs over its letters."""

from __future__ import annotations

import unittest
from unittest.mock import Mock

from PyQt6.QtCore import QLineF
from PyQt6.QtWidgets import QLineEdit, QPushButton

from hexapod.desktop.theme.text import width_of
from hexapod.plan import edits
from hexapod.plan.records import LimitKind
from tests.desktop.case import QPoint, Qt, QTest, settle
from tests.desktop.reading_case import Reading
from tests.support import DAY, at


class OnTheMap(Reading):
    def setUp(self) -> None:
        super().setUp()
        self.desk.do(edits.set_task(self.desk.plan, self.id_of("Open"), "Want it", target=at("2027-03-12T17:00")))
        self.desk.select((self.id_of("Open"),), self.id_of("Open"))
        self.window.show_leg("link")
        self.window.link.show_map(True)
        self.map = self.window.link.map
        self.canvas = self.map.canvas
        self.wait_for(lambda: self.id_of("Survey") in self.canvas.picture.latest)
        self.canvas.fit()

    def test_it_says_when_work_must_begin(self) -> None:
        latest = self.canvas.picture.latest
        self.assertEqual(latest[self.id_of("Frames")].finish, at("2027-03-12T17:00"))
        self.assertEqual(self.canvas.picture.begins, at("2027-03-05T08:00"))
        self.map.date.setText("2026-09-09")
        self.map.date.setModified(True)
        self.map.date.editingFinished.emit()
        self.assertEqual(self.desk.plan.tasks[self.id_of("Open")].target, at("2026-09-09T17:00"))
        self.assertIn("before today", self.map._answer.text())

    def test_no_date_runs_over_a_bar_or_letters(self) -> None:
        canvas, target = self.canvas, at("2027-03-12T17:00")
        self.desk.do(edits.rename(self.desk.plan, self.id_of("Glass"), "Glass that goes in last of all"))
        settle()
        canvas.fit()
        strokes: list[QLineF] = []
        painter = Mock(drawLine=lambda a, b: strokes.append(QLineF(a, b)))
        canvas._paint_upright(painter, canvas.scale.x(target), canvas._blocked())
        self.assertGreater(len(strokes), 1, "it is interrupted")
        for task in canvas.picture.latest:
            said, face, box = canvas._name_of(task, canvas.bar(task))
            box.setWidth(min(box.width(), width_of(face, said)))
            for stroke in strokes:
                is_beside = stroke.x1() < box.left() or stroke.x1() > box.right()
                self.assertTrue(is_beside or stroke.y2() < box.top() or stroke.y1() > box.bottom(), said)

    def test_work_is_pulled_out_named_and_sized(self) -> None:
        survey = self.canvas.bar(self.id_of("Survey"))
        QTest.mouseMove(self.canvas, survey.center().toPoint())
        pull = self.canvas.pull_point(self.id_of("Survey"))
        by = -round(7 * self.canvas.scale.pixels)
        self.drag(self.canvas, pull, QPoint(by, 60))
        editor = self.canvas.findChild(QLineEdit, "backName")
        QTest.keyClicks(editor, "Permits asked for 8 d")
        QTest.keyClick(editor, Qt.Key.Key_Return)
        made = self.id_of("Permits asked for")
        self.assertEqual(self.desk.plan.tasks[made].minutes, 8 * DAY)
        self.assertIn((made, self.id_of("Survey"), "FS"), self.desk.plan.links)
        self.assertEqual(self.canvas.picture.latest[made].finish, at("2027-03-04T17:00"))
        QTest.keyClick(self.canvas, Qt.Key.Key_Return)
        self.assertEqual(len(self.desk.plan.links_into(made)), 1, "Enter pulls out more before it")

    def test_past_its_date_it_asks_whether_the_date_moves(self) -> None:
        frames = self.id_of("Frames")
        later = QPoint(round(7 * self.canvas.scale.pixels), 0)
        self.drag(self.canvas, self.canvas.bar(frames).center(), later)
        self.assertTrue(self.map.question.isVisible())
        before = self.desk.plan
        self.map.question.findChild(QPushButton, "moveDate").click()
        self.assertEqual(self.desk.plan.tasks[self.id_of("Open")].target, at("2027-03-19T17:00"))
        self.desk.undo()
        self.assertEqual(self.desk.plan, before)
        self.drag(self.canvas, self.canvas.bar(frames).center(), later)
        self.map.question.findChild(QPushButton, "keepDate").click()
        self.assertIs(self.desk.plan.tasks[frames].limits[0].kind, LimitKind.START_NO_EARLIER)
        self.assertLess(self.desk.schedule.dates(frames).total_float, 0)

    def test_earlier_is_a_date_by_which_it_is_done(self) -> None:
        draw = self.id_of("Draw")
        self.drag(self.canvas, self.canvas.bar(draw).center(), QPoint(-round(14 * self.canvas.scale.pixels), 0))
        limit = self.desk.plan.tasks[draw].limits[0]
        self.assertIs(limit.kind, LimitKind.FINISH_NO_LATER)
        self.assertEqual(self.canvas.picture.latest[draw].finish, limit.at)


if __name__ == "__main__":
    unittest.main()
