"""Links run round bars and letters, with no bend more than it takes; judged by geometry, not by pixels."""

from __future__ import annotations

import itertools
import random
import unittest
from dataclasses import replace

import numpy as np
from PyQt6.QtCore import QPointF, QRectF

from hexapod.desktop.chart import geometry
from hexapod.desktop.chart.routing import BEND, Ends, Interval, link_path, rounded, way
from hexapod.desktop.link.layers import lay_out
from hexapod.desktop.link.tracks import Hop, Tracks
from hexapod.plan.records import LinkType

ROW, TOP, HEIGHT = 27, 5.0, 14.0


def bar(row: int, left: float, right: float) -> QRectF:
    return QRectF(left, row * ROW + TOP, right - left, HEIGHT)


def gap(row: int) -> float:
    return (row + 1.0) * ROW


class Routing(unittest.TestCase):
    def random_rows(self, rng: random.Random) -> tuple[list[list[Interval]], int, int]:
        rows = []
        for _ in range(rng.randrange(2, 14)):
            left = rng.uniform(0, 500)
            right = left + rng.choice((4, 40, 150, 400))
            rows.append([(left, right), *([(right + 4, right + 40)] if rng.random() < 0.5 else [])])
        i, j = rng.sample(range(len(rows)), 2)
        return rows, i, j

    def test_no_link_crosses_a_bar_or_letters(self) -> None:
        rng = random.Random(3)
        for _ in range(1500):
            rows, i, j = self.random_rows(rng)
            type_ = rng.choice(list(LinkType))
            ends = Ends(bar(i, *rows[i][0]), bar(j, *rows[j][0]), i, j, gap)
            corners = way(type_, ends, rows.__getitem__)
            for a, b in itertools.pairwise(corners):
                self.assertTrue(a.x() == b.x() or a.y() == b.y(), "straight")
                for row, what in enumerate(rows):
                    for left, right in what:
                        self.assertFalse(self.crosses(a, b, bar(row, left, right)), (type_, i, j, rows, corners))

    @staticmethod
    def crosses(a: QPointF, b: QPointF, box: QRectF) -> bool:
        """Whether a straight line goes through the inside of a box; to touch its edge is no crossing."""
        inner = box.adjusted(0.5, 0.5, -0.5, -0.5)
        left, right = sorted((a.x(), b.x()))
        top, bottom = sorted((a.y(), b.y()))
        return left < inner.right() and right > inner.left() and top < inner.bottom() and bottom > inner.top()

    def test_it_is_as_short_as_any_other_way_with_bends_counted(self) -> None:
        """Against trying every choice of places, one for each row."""
        rng, judged = random.Random(4), 0
        for _ in range(400):
            rows, i, j = self.random_rows(rng)
            if not 1 < abs(i - j) < 5:
                continue
            ends = Ends(bar(i, *rows[i][0]), bar(j, *rows[j][0]), i, j, gap)
            corners = way(LinkType.FS, ends, rows.__getitem__)
            if len(corners) == 3:
                continue
            step = 1 if j > i else -1
            between = [rows[k] for k in range(i + step, j, step)]
            start, end = corners[1].x(), corners[-1].x()
            places = {start, end, *(e for row in between for left, right in row for e in (left - 3, right + 3))}
            free = [[p for p in places if all(not left - 3 < p < right + 3 for left, right in row)] for row in between]
            best = min(self.cost((start, *tried, end)) for tried in itertools.product(*free))
            xs = [start, *(p.x() for p in corners[1:]), end]
            self.assertAlmostEqual(self.cost([x for x, _ in itertools.groupby(xs)]), best)
            judged += 1
        self.assertGreater(judged, 40)

    @staticmethod
    def cost(places: list[float] | tuple[float, ...]) -> float:
        return sum(abs(a - b) + BEND for a, b in itertools.pairwise(places) if a != b)

    def test_a_link_ends_at_the_ends_it_ties_and_is_found_where_it_is_painted(self) -> None:
        before, after = bar(0, 100, 160), bar(3, 220, 300)
        for type_, x1, x2 in (
            (LinkType.FS, before.right(), after.left() + 3),
            (LinkType.SS, before.left(), after.left() + 3),
            (LinkType.FF, before.right(), after.right() - 3),
            (LinkType.SF, before.left(), after.right() - 3),
        ):
            path = link_path(type_, Ends(before, after, 0, 3, gap), lambda row: [])
            self.assertAlmostEqual(path.pointAtPercent(0).x(), x1)
            self.assertAlmostEqual(path.currentPosition().x(), x2)
            for k in range(21):
                self.assertTrue(geometry.is_near(path, path.pointAtPercent(k / 20)))
            self.assertFalse(geometry.is_near(path, QPointF(60, 75)))

    def test_links_of_one_task_run_together_until_they_part(self) -> None:
        """All turn before the label, and go down at one place."""
        rows = [[(0, 50), (56, 90)], [(200, 240)], [(120, 150)], [(300, 330)]]
        ways = []
        for k in (1, 2, 3):
            ends = Ends(bar(0, 0, 50), bar(k, *rows[k][0]), 0, k, gap)
            ways.append(way(LinkType.FS, ends, rows.__getitem__))
        self.assertEqual(len({(c[1].x(), c[2].x()) for c in ways}), 1)

    def test_corners_are_rounded_within_their_sides(self) -> None:
        path = rounded([QPointF(0, 0), QPointF(10, 0), QPointF(10, 2), QPointF(40, 2)])
        box = path.boundingRect()
        self.assertEqual((box.left(), box.top(), box.right(), box.bottom()), (0, 0, 40, 2))


class InTheNetwork(unittest.TestCase):
    def test_upright_parts_lie_between_the_boxes_and_none_on_another(self) -> None:
        rng = random.Random(11)
        upright = 0
        for _ in range(60):
            count = rng.randrange(3, 40)
            arcs = [(i, j) for i in range(count) for j in range(i + 1, min(count, i + 9)) if rng.random() < 0.25]
            if not arcs:
                continue
            tracks = Tracks(lay_out(count, arcs, order=range(count)), arcs, (42.0, 66.0))
            by_layer: dict[int, list[tuple[float, Hop]]] = {}
            for arc, (tail, head) in enumerate(arcs):
                hops = tracks.hops(arc)
                layout = tracks._layout
                self.assertEqual(float(layout.y[tail]), hops[0].begin)
                self.assertEqual(float(layout.y[head]), hops[-1].end)
                for hop in hops:
                    if not hop.is_level:
                        by_layer.setdefault(hop.layer, []).append((tracks.x(hop), hop))
            for hops_here in by_layer.values():
                for (x, one), (other_x, other) in itertools.combinations(hops_here, 2):
                    upright += 1
                    self.assertTrue(42 <= x <= 66)
                    if one.begin != other.begin and abs(x - other_x) < 0.1:
                        low, high = sorted((one.begin, one.end))
                        other_low, other_high = sorted((other.begin, other.end))
                        self.assertFalse(low < other_high and other_low < high, (one, other))
        self.assertGreater(upright, 500)

    def test_side_by_side_links_that_go_down_do_not_cross(self) -> None:
        layout = lay_out(4, [(0, 2), (1, 3)], order=range(4))
        moved = replace(layout, y=layout.y * 0 + np.array([0.0, 1.0, 3.0, 4.0]))
        tracks = Tracks(moved, [(0, 2), (1, 3)], (42.0, 66.0))
        (one,), (two,) = tracks.hops(0), tracks.hops(1)
        self.assertGreater(tracks.x(one), tracks.x(two), "the upper one runs farther right")


if __name__ == "__main__":
    unittest.main()
