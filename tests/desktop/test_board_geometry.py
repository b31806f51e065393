"""The board without pixels: a piece's ends are its dates under every zoom; what is under a point is what is drawn."""

from __future__ import annotations

import random
import unittest

from PyQt6.QtCore import QRectF

from hexapod.desktop.chart.timescale import TimeScale
from hexapod.plan import edits
from hexapod.plan.plan import Plan
from hexapod.staffing.board import packed
from tests.desktop.case import QPointF, Qt, QTest, WindowCase
from tests.support import DAY, MONDAY, random_plan


class Packing(unittest.TestCase):
    def test_no_piece_covers_another_and_no_line_is_wasted(self) -> None:
        rng = random.Random(3)
        for _ in range(200):
            spans = []
            for i in range(rng.randrange(1, 25)):
                begin = rng.randrange(100)
                spans.append((begin, begin + rng.randrange(1, 30), f"t{i}"))
            pieces = packed(spans)
            self.assertEqual(sorted((p.begin, p.end, p.task) for p in pieces), sorted(spans))
            at_once = max(sum(b <= moment < e for b, e, _ in spans) for moment in range(130))
            self.assertEqual(max(p.line for p in pieces) + 1, at_once)
            for one in pieces:
                for other in pieces:
                    if one is not other and one.line == other.line:
                        self.assertTrue(one.end <= other.begin or other.end <= one.begin)


class Geometry(WindowCase):
    def setUp(self) -> None:
        super().setUp()
        self.desk.do(edits.to_plan("More", Plan(), random_plan(random.Random(5), 40, resources=12, projects=2)))
        self.window.show_leg("staff")
        self.window.staff.show_view("board")
        self.board = self.window.staff.board
        self.wait_for(lambda: self.board.lanes)

    def scales(self) -> list[TimeScale]:
        rng = random.Random(9)
        return [TimeScale(MONDAY - rng.randrange(40) * 1440, pixels) for pixels in (0.5, 4.4, 20.0, 90.0, 400.0)]

    def test_the_ends_of_a_piece_are_the_dates_of_its_task_under_every_zoom(self) -> None:
        board = self.board
        for scale in self.scales():
            board.show_scale(scale)
            for index, lane in enumerate(board.lanes):
                for piece in lane.pieces:
                    box, dates = board.box_of(index, piece), self.desk.schedule.dates(piece.task)
                    self.assertAlmostEqual(box.left(), board.scale.x(max(dates.start, piece.begin)))
                    if box.width() > 3:
                        self.assertAlmostEqual(box.right(), board.scale.x(min(dates.finish, piece.end)), places=6)

    def test_under_a_point_of_a_piece_is_that_piece_and_between_lanes_nothing(self) -> None:
        board = self.board
        board.show_scale(TimeScale(MONDAY - 2 * 1440, 30.0))
        seen = 0
        for value in (0, 80, 300):
            board.verticalScrollBar().setValue(value)
            for index in board.visible():
                for piece in board.lanes[index].pieces:
                    if piece.begin == piece.end:
                        continue
                    found = board.piece_at(board.box_of(index, piece).center())
                    assert found is not None
                    same_place = found[1].begin <= piece.end and found[1].end >= piece.begin
                    self.assertTrue(found[0] == index and found[1].line == piece.line and same_place)
                    seen += 1
                top = board.top_of(index)
                self.assertEqual(board.lane_at(top + 1), index)
                self.assertEqual(board.lane_at(top + board.tops[index + 1] - board.tops[index] - 1), index)
        self.assertGreater(seen, 10)
        self.assertIsNone(board.lane_at(board.tops[-1] + 10_000))

    def test_lanes_lie_one_below_the_other_and_hold_their_lines(self) -> None:
        board = self.board
        for index, lane in enumerate(board.lanes):
            high = board.tops[index + 1] - board.tops[index]
            for piece in lane.pieces:
                box = board.box_of(index, piece)
                self.assertGreaterEqual(box.top(), board.top_of(index))
                self.assertLessEqual(box.bottom(), board.top_of(index) + high)
        self.assertEqual(board.tops, sorted(board.tops))

    def test_chips_of_a_tray_lie_beside_and_below_each_other(self) -> None:
        tray = self.window.staff.trays.nobody
        self.assertGreater(len(tray.tasks), 5)
        for width in (220, 500, 1100):
            tray.resize(width, 400)
            boxes: list[QRectF] = tray.boxes  # the area around it has the last word on its width
            self.assertEqual(len(boxes), len(tray.tasks))
            for i, one in enumerate(boxes):
                self.assertTrue(one.left() == 0 or one.right() <= tray.width())
                self.assertEqual(tray.task_at(one.center()), tray.tasks[i])
                for other in boxes[i + 1 :]:
                    self.assertFalse(one.intersects(other))
        tray.setFocus()
        QTest.keyClick(tray, Qt.Key.Key_Right)
        first = self.desk.current
        QTest.keyClick(tray, Qt.Key.Key_Right)
        self.assertEqual(tray.tasks.index(self.desk.current or ""), tray.tasks.index(first or "") + 1)
        QTest.keyClick(tray, Qt.Key.Key_Left)
        self.assertEqual(self.desk.current, first)

    def test_a_drag_says_what_it_would_do_and_never_moves_what_is_done(self) -> None:
        board = self.board
        board.show_scale(TimeScale(MONDAY - 2 * 1440, 30.0))
        board.verticalScrollBar().setValue(0)
        lane = next(i for i in board.visible() for p in board.lanes[i].pieces if p.begin < p.end)
        piece = next(p for p in board.lanes[lane].pieces if p.begin < p.end)
        self.desk.do(edits.set_percent(self.desk.plan, [piece.task], 100))
        piece = next(p for p in board.lanes[lane].pieces if p.task == piece.task)
        spot = board.box_of(lane, piece).center()
        before = self.desk.plan
        press = Qt.MouseButton.LeftButton
        QTest.mousePress(board.viewport(), press, pos=spot.toPoint())
        for x in (10, 60, 120):
            QTest.mouseMove(board.viewport(), (spot + QPointF(x, 0)).toPoint())
        QTest.mouseRelease(board.viewport(), press, pos=(spot + QPointF(120, 0)).toPoint())
        self.assertIs(self.desk.plan, before)
        self.assertIn("is done, and stays where it was", self.said())
        self.desk.do(edits.set_percent(self.desk.plan, [piece.task], 30))
        piece = next(p for p in board.lanes[lane].pieces if p.task == piece.task)
        spot = board.box_of(lane, piece).center()
        before = self.desk.plan
        QTest.mousePress(board.viewport(), press, pos=spot.toPoint())
        for x in (10, 60, 120):
            QTest.mouseMove(board.viewport(), (spot + QPointF(x, 0)).toPoint())
        QTest.mouseRelease(board.viewport(), press, pos=(spot + QPointF(120, 0)).toPoint())
        self.assertIs(self.desk.plan, before)
        self.assertIn("has begun", self.said())

    def test_zooming_keeps_what_is_under_the_pointer_and_fits_all(self) -> None:
        board = self.board
        board.show_scale(TimeScale(MONDAY, 20.0))
        moment = board.scale.minute(300)
        board.zoom(1.5, 300)
        self.assertAlmostEqual(board.scale.minute(300), moment, delta=60)
        board.fit()
        begin, end = board.extent()
        self.assertGreaterEqual(board.scale.x(begin), 0)
        self.assertLessEqual(board.scale.x(end), board.viewport().width())
        self.assertGreater(DAY, 0)


if __name__ == "__main__":
    unittest.main()
