"""A workspace too large to be read at once: its rows first, then its links and dates; nothing typed is lost."""

from __future__ import annotations

import os
import tempfile
import unittest
from pathlib import Path
from unittest.mock import patch

from PyQt6.QtGui import QImage

from hexapod.desktop.models.columns import USUAL
from hexapod.desktop.theme import allowance
from hexapod.desktop.theme.measures import row_height
from hexapod.desktop.window import Window
from hexapod.plan import edits
from hexapod.plan.changes import diff
from hexapod.plan.plan import Plan
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import Assignment, Link, Record, Resource, Task
from hexapod.session import Session
from hexapod.store.workspace import Workspace
from tests.desktop.case import WindowCase, put_away, settle
from tests.support import project

SIZE = 4300  # tasks, more than are counted at once
COLUMN = {c: i for i, c in enumerate(USUAL)}


def large_plan() -> Plan:
    ranks = ranks_between(None, None, SIZE)
    records: list[Record] = [
        project(),
        *(Task(f"t{i}", "p", f"Task {i}", ranks[i], duration=480) for i in range(SIZE)),
        *(Link(f"t{i}", f"t{i + 7}") for i in range(SIZE - 7)),
        *(Resource(f"r{i}", f"Person {i}", f"a{i}", initials=f"P{i}") for i in range(9)),
        *(Assignment(f"t{i}", f"r{i % 9}") for i in range(SIZE)),
    ]
    return Plan.of(records)


class Large(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        cache = patch.dict(os.environ, {"XDG_CACHE_HOME": f"{folder.name}/cache"})
        cache.start()
        self.addCleanup(cache.stop)
        self.path = Path(folder.name) / "Large.hexapod"
        workspace = Workspace.create(self.path)
        workspace.write(diff(Plan(), large_plan()), "Begin", "me")
        workspace.close()
        session = Session.open(self.path)
        session.compute()
        session.close()

    def open(self) -> Window:
        window = Window(Session.open(self.path), lambda *_: None)
        self.addCleanup(put_away, window)
        window.show()
        settle()
        return window

    wait_for = staticmethod(WindowCase.wait_for)

    def cell(self, window: Window, row: int, column: str) -> str:
        columns = window.desk.columns
        return columns.says(columns.all()[column], window.desk.rows[row])

    def test_rows_and_dates_are_there_before_the_links_are_read_and_then_these_too(self) -> None:
        window = self.open()
        desk = window.desk
        self.assertFalse(desk.plan.is_whole, "nothing of the first picture asks for a link")
        self.assertFalse(desk.is_computed)
        self.assertEqual(len(desk.rows), SIZE)
        self.assertEqual(self.cell(window, 7, "name"), "Task 7")
        self.assertNotEqual(self.cell(window, 7, "start"), "", "as the file remembered them")
        self.assertEqual((self.cell(window, 7, "links"), self.cell(window, 7, "who")), ("", ""))
        self.assertFalse(window.grab().isNull())
        window.start()
        self.wait_for(lambda: desk.plan.is_whole)
        self.wait_for(lambda: desk.is_computed)
        self.assertEqual((self.cell(window, 7, "links"), self.cell(window, 7, "who")), ("1", "P7"))
        self.wait_for(lambda: window.chart.links_on_screen())
        self.assertGreaterEqual(desk.schedule.dates("t7").start, desk.schedule.dates("t0").finish)

    def test_what_a_frame_has_no_time_for_comes_with_the_next_ones_and_is_the_same(self) -> None:
        window = self.open()
        window.start()
        desk = window.desk
        self.wait_for(lambda: desk.load is not None and desk.load.schedule is desk.schedule)
        views = window.grid.viewport(), window.chart.viewport()
        allowances = window.findChildren(allowance.Allowance)
        bar = window.grid.verticalScrollBar()
        window.chart.show_task(f"t{SIZE // 2}")

        def pictures(whole: float, least: float, later: float) -> list[QImage]:
            """What is on screen in the middle of the plan, at first and in the end, with so much time a frame."""
            bar.setValue(0)
            window.grid.painter.forget()
            window.chart.forget_drawn()
            times = {"IN_AN_EVENT": whole, "FOR_THE_LEAST": least, "BETWEEN_EVENTS": later}
            with patch.multiple(allowance, **times):
                for view in views:
                    view.grab()  # a frame in which nothing changes
                self.wait_for(lambda: not any(a.is_due for a in allowances))
                bar.setValue(SIZE // 2 * row_height())
                first = [view.grab().toImage() for view in views]
                self.wait_for(lambda: not any(a.is_due for a in allowances))
                return [*first, *(view.grab().toImage() for view in views)]

        ample, scarce = pictures(60, 60, 60), pictures(-60, 120, -60)
        nameless = pictures(-60, -60, -60)
        for i, name in enumerate(("outline", "chart")):
            self.assertTrue(ample[i] == ample[i + 2] == scarce[i + 2] == nameless[i + 2], name)
            self.assertFalse(scarce[i] == ample[i], f"the first frame of the {name} has less")
        self.assertFalse(scarce[0] == nameless[0], "names come first")

    def test_the_staff_of_it_is_counted_beside_the_interface(self) -> None:
        window = self.open()
        window.start()
        desk = window.desk
        self.wait_for(lambda: desk.load is not None and desk.load.schedule is desk.schedule)
        window.show_leg("staff")
        staff = window.staff
        self.wait_for(lambda: staff.grid.table is not None)
        before = staff.grid.table
        assert before is not None
        self.assertEqual(sum(float(r.load.sum()) for r in before.rows if r.resource), SIZE * 8.0)
        desk.do(edits.set_durations(desk.plan, ["t5"], 960))
        self.wait_for(lambda: staff.grid.table is not before)
        assert staff.grid.table is not None
        self.assertEqual(sum(float(r.load.sum()) for r in staff.grid.table.rows if r.resource), SIZE * 8.0 + 8)
        for view, ready in (
            ("roles", lambda: staff.roles.table is not None),
            ("board", lambda: staff.board.lanes),
            ("reports", lambda: staff.reports.report is not None),
        ):
            staff.show_view(view)
            self.wait_for(ready)
            self.assertFalse(staff.grab().isNull())

    def test_what_is_done_before_the_dates_are_there_is_done_when_they_are(self) -> None:
        window = self.open()
        desk = window.desk
        self.assertFalse(desk.do(edits.rename(desk.plan, "t3", "Named early")), "it waits")
        window.start()
        self.wait_for(lambda: desk.plan.tasks["t3"].name == "Named early")
        put_away(window)
        again = Session.open(self.path)
        self.addCleanup(again.close)
        self.assertEqual(again.plan.tasks["t3"].name, "Named early")

    def test_a_window_that_is_closed_before_anything_was_read_loses_nothing(self) -> None:
        window = self.open()
        window.desk.do(edits.rename(window.desk.plan, "t4", "Typed and left"))
        put_away(window)
        again = Session.open(self.path)
        self.addCleanup(again.close)
        self.assertEqual(again.plan.tasks["t4"].name, "Typed and left")
        self.assertEqual(len(again.plan.links), SIZE - 7)


if __name__ == "__main__":
    unittest.main()
