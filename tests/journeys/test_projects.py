"""The museum's year, 243 projects: the one that matters in three presses, and several changed together by keys."""

from __future__ import annotations

import tempfile
import unittest
from pathlib import Path

from PyQt6.QtWidgets import QLineEdit

from hexapod.control.status import ProjectState
from hexapod.control.summary import ProjectRow
from hexapod.demo.museum import build_demo
from hexapod.demo.plans import TOLD_UP_TO
from tests.journeys.case import Journey, screen
from tests.support import at, set_clock


class ManyProjects(Journey):
    def setUp(self) -> None:
        set_clock(self, at(f"{TOLD_UP_TO}T09:00"))
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "Journey.hexapod"
        build_demo(self.path, many=True)
        self.open()

    def look(self):  # type: ignore[no-untyped-def]
        """All projects, on show."""
        screen.keys("ctrl+6")
        screen.wait_for(lambda: self.window.shows("telling"))
        screen.wait_for(lambda: self.desk.portfolio.summary is not None)
        screen.settle()
        return self.window.telling["projects"].table

    def target_fields(self) -> list[QLineEdit]:
        found = self.window.side.findChildren(QLineEdit, "togetherTarget")
        return [field for field in found if field.isVisible() and not field.property("putAway")]

    def test_the_worst_of_243_in_three_presses(self) -> None:
        """The leg, the row below the first, and Enter."""
        table = self.look()
        self.assertEqual(len(self.desk.portfolio.rows()), 243)
        screen.keys("Down", "Return")
        screen.wait_for(lambda: self.window.shows("build"))
        opened = self.desk.portfolio.row(self.desk.project)
        self.assertIs(opened.status.state, ProjectState.LATE)
        self.assertEqual(table.current.project, self.desk.project)
        screen.keys("ctrl+6")
        screen.wait_for(lambda: self.window.shows("telling"))
        self.assertEqual(table.current.project, self.desk.project, "back where one was")

    def test_two_that_are_in_doubt_are_given_more_time_together(self) -> None:
        table = self.look()
        doubtful = next(i for i, row in enumerate(table.rows)
                        if isinstance(row, ProjectRow) and row.status.state is ProjectState.IN_DOUBT)  # fmt: skip
        table.go(doubtful)
        screen.settle()
        screen.keys("space", "Down", "space")
        screen.wait_for(lambda: len(self.desk.portfolio.marked) == 2)
        marked = self.desk.portfolio.marked
        screen.wait_for(self.target_fields)
        screen.settle()
        screen.click(self.target_fields()[-1])
        screen.type_text("2028-06-30")
        screen.keys("Return")
        screen.wait_for(lambda: self.desk.staging.on_show is not None)
        screen.keys("ctrl+alt+Return")
        screen.wait_for(lambda: all(self.plan.projects[p].target_finish > 30_700_000 for p in marked))
        screen.wait_for(lambda: all(
            self.desk.portfolio.row(p).status.state is not ProjectState.IN_DOUBT for p in marked))  # fmt: skip
        screen.keys("ctrl+z")
        screen.wait_for(lambda: all(self.plan.projects[p].target_finish < 30_700_000 for p in marked))


if __name__ == "__main__":
    unittest.main()
