"""Columns as wide as their texts, and rows in two densities."""

from __future__ import annotations

import random
import shutil
import unittest
from itertools import accumulate

from hexapod.desktop.build.fitting import Wish, fitted
from hexapod.desktop.models.columns import LINKS, NAME
from hexapod.desktop.theme.measures import DENSITIES, density
from hexapod.desktop.window import Window
from hexapod.plan import edits
from hexapod.session import Session
from tests.desktop.case import WindowCase, put_away, settle


class Fitted(unittest.TestCase):
    def test_what_there_is_room_for_is_not_cut_and_the_room_ends_with_a_column(self) -> None:
        rng = random.Random(4)
        for _ in range(600):
            wishes = [Wish(rng.randint(20, 90), rng.randint(0, 200)) for _ in range(rng.randint(2, 9))]
            room = rng.randint(100, 1200)
            first = rng.randint(2, 9)
            widths = fitted(wishes, room, 1, first)
            for wish, width in zip(wishes, widths, strict=True):
                self.assertGreaterEqual(width, wish.least)
            if sum(map(max, wishes)) <= room:
                self.assertEqual(room, sum(widths))
                self.assertTrue(all(width >= max(wish) for wish, width in zip(wishes, widths, strict=True)))
            if wishes[0].least + wishes[1].least <= room:
                self.assertIn(room, list(accumulate(widths)))
                held = sum(end <= room for end in accumulate(wish.least for wish in wishes))
                seen = sum(end <= room for end in accumulate(widths))
                self.assertGreaterEqual(seen, min(held, first), "none of the first is pushed out")
                if seen > max(first, 2):
                    self.assertTrue(all(width >= max(wish) for wish, width in zip(wishes[:seen], widths, strict=False)))


class InTheWindow(WindowCase):
    def test_a_column_grows_with_what_is_typed_into_it_and_stays_as_somebody_made_it(self) -> None:
        before = self.grid.columnWidth(LINKS)
        one, two = self.id_of("Survey"), self.id_of("Open")
        self.desk.do(edits.link(self.desk.plan, one, two, lag=2 * 480))
        self.desk.do(edits.link(self.desk.plan, self.id_of("Draw"), two, lag=3 * 480))
        self.wait_for(lambda: self.grid.columnWidth(LINKS) > before)
        self.grid.setColumnWidth(LINKS, 60)  # by hand
        self.window.resize(1300, 800)
        settle()
        self.assertEqual(60, self.grid.columnWidth(LINKS))

    def test_a_number_has_room_beside_the_mark_of_a_conflict(self) -> None:
        glass, measured = self.id_of("Glass"), self.grid.headers._measured
        before = measured()["number"]
        early = self.desk.schedule.dates(glass).start - 1440
        self.desk.do(edits.set_task(self.desk.plan, glass, "Want it", target=early))
        self.wait_for(lambda: self.desk.load is not None and glass in self.desk.load.in_conflict)
        self.assertEqual(10, measured()["number"] - before)

    def test_stored_dates_are_in_sight_before_they_are_computed_anew(self) -> None:
        path, survey = self.desk.session.workspace.path, self.id_of("Survey")
        put_away(self.window)
        other = path.with_name("Opened for the first time.hexapod")
        shutil.copy(path, other)
        window = Window(Session.open(other), lambda *_: None)
        self.addCleanup(put_away, window)
        window.show()
        settle()
        self.assertFalse(window.desk.is_computed)
        bar = window.chart.bar_of(survey)
        assert bar is not None
        self.assertTrue(window.chart.viewport().rect().contains(bar.toAlignedRect()), bar)

    def test_close_rows_show_more_of_the_plan_on_outline_and_chart_alike(self) -> None:
        self.assertEqual("roomy", density())
        bar = self.chart.bar_of(self.id_of("Open"))
        self.window.registry.qt("look.density").trigger()
        settle()
        height = DENSITIES["close"]
        row = self.desk.position[self.id_of("Open")]
        cell = self.grid.visualRect(self.grid.rows.index(row, NAME))
        self.assertEqual((row * height, height), (cell.top(), cell.height()))
        lower = self.chart.bar_of(self.id_of("Open"))
        assert bar is not None and lower is not None
        self.assertTrue(cell.top() < lower.top() and lower.bottom() < cell.bottom(), "a bar lies in its row")
        self.assertEqual(self.id_of("Open"), self.chart.task_at(lower.center()))
        self.window.registry.qt("look.density").trigger()
        settle()
        self.assertEqual(bar, self.chart.bar_of(self.id_of("Open")))


if __name__ == "__main__":
    unittest.main()
