"""Where things are on chart, strip, network, map, month and paper: pure functions, tested without a pixel."""

from __future__ import annotations

import random
import unittest
from datetime import date, timedelta
from itertools import pairwise

import networkx
from PyQt6.QtCore import QPointF, QRectF

from hexapod.desktop.chart import geometry as g
from hexapod.desktop.chart.milestone_strip import staggered
from hexapod.desktop.chart.timescale import CLOSEST, WIDEST, TimeScale, marks
from hexapod.desktop.link.back_rows import read_sized_name
from hexapod.desktop.link.boxes import COLUMN, HEIGHT, ROW, WIDTH
from hexapod.desktop.link.graph import graph_of
from hexapod.desktop.link.layers import forward_arcs, lay_out, layers_of
from hexapod.desktop.month.layout import pieces, span_of, weeks_of
from hexapod.desktop.paper.paper import SIZES, Paper, tiles
from hexapod.errors import BadText
from hexapod.plan.outline import outline_order
from hexapod.plan.records import DAY
from hexapod.schedule.schedule import TaskDates
from hexapod.worktime.clock import date_of, day_number
from tests.support import MONDAY, random_plan


def dates(start: int, finish: int) -> TaskDates:
    return TaskDates(start, finish, start, finish, start, finish, 0, 0, False, False, finish - start)


class OnTheChart(unittest.TestCase):
    def test_an_upright_line_is_drawn_where_nothing_is_taken_and_only_there(self) -> None:
        rng = random.Random(12)
        for _ in range(300):
            begin, end = sorted(rng.sample(range(200), 2))
            taken = [tuple(sorted(rng.sample(range(-20, 220), 2))) for _ in range(rng.randrange(6))]
            parts = g.outside(begin, end, taken)
            for tenth in range(10 * begin + 5, 10 * end, 10):
                at = tenth / 10
                is_free = not any(first < at < last for first, last in taken)
                self.assertEqual(is_free, any(top < at < bottom for top, bottom in parts))

    def test_a_bars_ends_are_its_dates_under_every_zoom(self) -> None:
        rng = random.Random(1)
        for _ in range(500):
            scale = TimeScale(MONDAY + rng.randrange(-90_000, 90_000), rng.uniform(WIDEST, CLOSEST))
            start = MONDAY + rng.randrange(200_000)
            finish = start + rng.randrange(1, 90_000)
            bar = g.bar_rect(scale, dates(start, finish), 0)
            self.assertAlmostEqual(bar.left(), scale.x(start), places=6)
            if scale.x(finish) - scale.x(start) > g.LEAST_WIDTH:
                self.assertAlmostEqual(bar.right(), scale.x(finish), places=4)
                self.assertLessEqual(abs(scale.minute(bar.right()) - finish), 1 + DAY / scale.pixels * 1e-3)

    def test_zooming_keeps_the_moment_under_the_pointer(self) -> None:
        rng = random.Random(2)
        for _ in range(300):
            scale, x = TimeScale(MONDAY, rng.uniform(0.1, 400)), rng.uniform(0, 1200)
            zoomed = scale.zoomed(rng.uniform(0.3, 3), x)
            self.assertLessEqual(abs(zoomed.minute(x) - scale.minute(x)), 1 + 1.1 * DAY / zoomed.pixels * 0.5)
            self.assertTrue(WIDEST <= zoomed.pixels <= CLOSEST)

    def test_marks_cover_the_axis_without_a_hole_from_hours_to_decades(self) -> None:
        rng = random.Random(3)
        for _ in range(200):
            pixels = 10 ** rng.uniform(-1.9, 3.2)
            scale = TimeScale(MONDAY + rng.randrange(-900_000, 900_000), pixels)
            for line in marks(scale, 1000):
                self.assertLessEqual(line[0].minute, scale.minute(0))
                self.assertGreaterEqual(line[-1].end, scale.minute(1000) - 1)
                for before, after in pairwise(line):
                    self.assertEqual(before.end, after.minute)
                self.assertLess(len(line), 400, pixels)

    def test_weeks_have_their_iso_numbers(self) -> None:
        scale = TimeScale(day_number(date(2026, 12, 14)) * DAY, 30.0)
        labels = [mark.label for mark in marks(scale, 900)[0]]
        self.assertEqual([label.split("week ")[1] for label in labels[:4]], ["51", "52", "53", "1"])

    def test_no_two_labels_overlap_and_none_lies_on_another_bar(self) -> None:
        rng = random.Random(4)
        for _ in range(500):
            at, bars = 0.0, []
            for _ in range(rng.randrange(1, 12)):
                at += rng.uniform(2, 90)
                bars.append(QRectF(at, 5, rng.uniform(3, 120), 14))
                at = bars[-1].right()
            widths = [rng.uniform(0, 130) for _ in bars]
            hollow = [rng.random() < 0.3 for _ in bars]
            found = g.placed_labels(bars, widths, hollow)
            placed = [(i, box) for i, box in enumerate(found) if box is not None]
            for i, box in placed:
                self.assertFalse(any(box.intersects(bar) for j, bar in enumerate(bars) if j != i))
                self.assertFalse(any(box.intersects(other) for j, other in placed if j != i))
            for i, (bar, width) in enumerate(zip(bars, widths, strict=True)):
                if hollow[i]:
                    self.assertFalse(found[i] is not None and found[i].intersects(bar), "behind what is hollow")
                elif 0 < width <= bar.width() - 2 * g.LABEL_MARGIN:
                    self.assertTrue(bar.contains(found[i]), "inside where there is room")  # type: ignore[arg-type]

    def test_the_grip_of_the_done_part_inverts_what_it_says(self) -> None:
        for width in (60.0, 250.0, 700.0):
            bar = QRectF(100, 5, width, 14)
            for percent in range(0, 101, 5):
                for share, known in ((percent / 100, percent), (0.0, 0.0), (0.7, 40.0), (0.2, 80.0), (1.0, 100.0)):
                    done = g.DonePart(share, known)
                    at = g.progress_grip(bar, done, percent).x()
                    self.assertLessEqual(abs(g.percent_at(bar, at, done) - percent), 0 if known < 100 else 100)
                    self.assertEqual(g.percent_at(bar, g.progress_grip(bar, done).x(), done), round(known / 5) * 5)
            for done in (g.DonePart(0.5, 50.0), g.DonePart(1.0, 100.0), g.DonePart(1.0, 80.0), g.DonePart(0.0, 0.0)):
                self.assertEqual((g.percent_at(bar, 0, done), g.percent_at(bar, 5000, done)), (0, 100), done)

    def test_names_of_milestones_never_lie_on_each_other(self) -> None:
        rng = random.Random(5)
        for _ in range(300):
            centers = sorted(rng.uniform(0, 900) for _ in range(rng.randrange(1, 25)))
            found = [b for b in staggered(centers, [rng.uniform(20, 200) for _ in centers], 900) if b is not None]
            self.assertTrue(found)
            for i, box in enumerate(found):
                self.assertFalse(any(box.intersects(other) for other in found[i + 1 :]))


class InTheNetwork(unittest.TestCase):
    def random_arcs(self, rng: random.Random, count: int, most: int) -> list[tuple[int, int]]:
        pairs = ((rng.randrange(count), rng.randrange(count)) for _ in range(most))
        return sorted({(a, b) for a, b in pairs if a < b})

    def test_layers_are_the_topological_generations_of_networkx(self) -> None:
        rng = random.Random(6)
        for _ in range(100):
            count = rng.randrange(1, 60)
            arcs = self.random_arcs(rng, count, 2 * count)
            graph = networkx.DiGraph(arcs)
            graph.add_nodes_from(range(count))
            found = layers_of(count, arcs)
            for layer, nodes in enumerate(networkx.topological_generations(graph)):
                self.assertEqual({int(found[n]) for n in nodes}, {layer})

    def test_boxes_never_overlap_and_lanes_lie_below_each_other(self) -> None:
        rng = random.Random(7)
        for _ in range(60):
            count = rng.randrange(2, 50)
            arcs = self.random_arcs(rng, count, 2 * count)
            lanes = [rng.randrange(3) for _ in range(count)]
            made = lay_out(count, arcs, order=range(count), driving=[rng.random() < 0.2 for _ in arcs], lanes=lanes)
            boxes = [QRectF(float(made.layer[i]) * COLUMN, float(made.y[i]) * ROW, WIDTH, HEIGHT) for i in range(count)]
            for i, box in enumerate(boxes):
                self.assertFalse(any(box.intersects(other) for other in boxes[i + 1 :]))
                top, bottom = made.bands[lanes[i]]
                self.assertTrue(top - 1e-6 <= made.y[i] <= bottom)
            tops = [band for band in made.bands if band[1] > band[0]]
            self.assertEqual(tops, sorted(tops))

    def test_the_order_that_is_kept_crosses_no_more_than_the_first(self) -> None:
        rng = random.Random(8)
        better = 0
        for _ in range(30):
            count = 40
            arcs = self.random_arcs(rng, count, 70)
            from hexapod.desktop.link.layers import _Bent

            first = _Bent(count, arcs, layers_of(count, arcs), [], [])
            first.order_first(list(range(count)))
            begun, found = first.crossings(), lay_out(count, arcs, order=range(count)).crossings
            self.assertLessEqual(found, begun)
            better += found < begun
        self.assertGreater(better, 20)

    def test_circles_of_folded_summaries_are_cut(self) -> None:
        rng = random.Random(9)
        for _ in range(200):
            count = rng.randrange(2, 20)
            arcs = sorted({(a, b) for _ in range(40) if (a := rng.randrange(count)) != (b := rng.randrange(count))})
            kept = forward_arcs(count, arcs, [rng.random() for _ in range(count)])
            self.assertTrue(networkx.is_directed_acyclic_graph(networkx.DiGraph(kept)))
            if networkx.is_directed_acyclic_graph(networkx.DiGraph(arcs)):
                self.assertEqual(kept, arcs)

    def test_boxes_and_links_of_every_outline_level(self) -> None:
        rng = random.Random(10)
        for _ in range(60):
            plan = random_plan(rng, 30, summaries=True)
            tasks = list(outline_order(plan))
            whole = graph_of(plan, tasks)
            self.assertEqual(set(whole.tasks), {t for t in tasks if not plan.is_summary(t)})
            self.assertEqual({k for keys in whole.links for k in keys}, set(plan.links))
            top = graph_of(plan, tasks, 1)
            self.assertEqual(set(top.tasks), {t for t in tasks if plan.tasks[t].parent is None})
            for tail, head in top.arcs:
                self.assertNotEqual(tail, head)

    def test_names_typed_with_a_length(self) -> None:
        for text, wanted in (
            ("Strip out 6 d", ("Strip out", 2880)), ("Strip out, 2 w", ("Strip out", 4800)),
            ("Batch 7", ("Batch 7", None)),
            ("Open 24 h", ("Open", 1440)), ("Room 2 painted", ("Room 2 painted", None)), (" Name ", ("Name", None)),
        ):  # fmt: skip
            self.assertEqual(read_sized_name(text), wanted)


class InTheMonth(unittest.TestCase):
    def test_weeks_cover_the_month_from_the_first_day_of_the_week(self) -> None:
        for year in (2024, 2026, 2027):
            for month in range(1, 13):
                for first in (0, 6):
                    weeks = weeks_of(year, month, first)
                    self.assertTrue(all(date_of(w).weekday() == first for w in weeks))
                    begin = date(year, month, 1)
                    end = (begin + timedelta(days=32)).replace(day=1) - timedelta(days=1)
                    self.assertTrue(weeks[0] <= day_number(begin) < weeks[0] + 7)
                    self.assertTrue(weeks[-1] <= day_number(end) < weeks[-1] + 7)

    def test_pieces_cover_each_span_once_and_never_overlap(self) -> None:
        rng = random.Random(11)
        weeks = weeks_of(2026, 10)
        for _ in range(200):
            spans = []
            for i in range(rng.randrange(1, 20)):
                start = (weeks[0] - 5 + rng.randrange(45)) * DAY + 480
                spans.append(span_of(f"t{i}", start, start + rng.choice((0, 540, 4000, 20_000))))
            found = pieces(spans, weeks)
            for span in spans:
                days = [weeks[p.week] + c for p in found if p.task == span.task for c in range(p.begin, p.end + 1)]
                wanted = [d for d in range(span.first, span.last + 1) if weeks[0] <= d < weeks[-1] + 7]
                self.assertEqual(sorted(days), wanted)
            cells = [(p.week, c, p.line) for p in found for c in range(p.begin, p.end + 1)]
            self.assertEqual(len(cells), len(set(cells)))

    def test_work_that_ends_at_midnight_ends_the_day_before(self) -> None:
        self.assertEqual((span_of("a", 0, DAY).first, span_of("a", 0, DAY).last), (0, 0))
        self.assertEqual(span_of("a", DAY, DAY).last, 1)


class OnPaper(unittest.TestCase):
    def test_pages_cover_the_drawing_without_overlap(self) -> None:
        rng = random.Random(12)
        for _ in range(100):
            wide, high, w, h = (rng.uniform(50, 4000) for _ in range(4))
            found = tiles(wide, high, w, h)
            across, down = max(t.across for t in found) + 1, max(t.down for t in found) + 1
            self.assertEqual({(t.across, t.down) for t in found}, {(i, j) for i in range(across) for j in range(down)})
            self.assertGreaterEqual(max(t.part.right() for t in found), wide - 1e-3)
            self.assertGreaterEqual(max(t.part.bottom() for t in found), high - 1e-3)
            point = QPointF(rng.uniform(0, wide), rng.uniform(0, high))
            self.assertTrue(any(t.part.adjusted(-1e-6, -1e-6, 1e-6, 1e-6).contains(point) for t in found))

    def test_too_many_pages_and_too_small_paper_are_said(self) -> None:
        with self.assertRaisesRegex(BadText, "pages"):
            tiles(1e6, 1e6, 100, 100)
        for size in SIZES:
            for landscape in (True, False):
                paper = Paper(size, landscape)
                if size == "A5" and landscape:
                    continue
                self.assertGreater(paper.body().width(), 260)
        with self.assertRaisesRegex(BadText, "Choose larger paper"):
            from unittest.mock import patch

            from hexapod.desktop.paper import paper as module

            with patch.object(module, "MARGIN_MM", 60.0):
                Paper("A5").body()


class InsideALabel(unittest.TestCase):
    def test_the_end_of_the_done_part_runs_through_no_label(self) -> None:
        rng = random.Random(8)
        kinds = set()
        for _ in range(800):
            label = rng.uniform(5, 120)
            width = label + 12 + rng.choice((0, 5, 40, 200))
            done = width * rng.choice((0, 0.05, 0.2, 0.5, 0.8, 1))
            left, on = g.inside_label(width, label, done)
            kinds.add(on)
            self.assertTrue(left > 0 and left + label <= width, (width, label, done))
            if on is not g.On.PATCH and 0 < done < width:
                self.assertFalse(left < done < left + label, (width, label, done))
        self.assertEqual(set(g.On), kinds)


if __name__ == "__main__":
    unittest.main()
