"""A journey: a real window on a workspace of its own."""

from __future__ import annotations

import tempfile
import unittest
from pathlib import Path

from tests.journeys import screen

screen.start_screen()

from PyQt6.QtCore import QPointF, QRect, QSettings  # noqa: E402
from PyQt6.QtWidgets import QApplication, QLabel, QPushButton, QWidget  # noqa: E402

from hexapod.demo.museum import build_demo  # noqa: E402
from hexapod.desktop.app import make_application  # noqa: E402
from hexapod.desktop.models.columns import NAME  # noqa: E402
from hexapod.desktop.window import Window  # noqa: E402
from hexapod.plan import edits  # noqa: E402
from hexapod.session import Session  # noqa: E402
from tests.support import project  # noqa: E402

_settings = tempfile.TemporaryDirectory(prefix="hexapod-journeys-", ignore_cleanup_errors=True)
QSettings.setPath(QSettings.Format.NativeFormat, QSettings.Scope.UserScope, _settings.name)
APP = make_application("light")


def before_work_began(path: Path) -> None:
    """Nothing is told of the projects of a workspace: all of it can still be moved."""
    session = Session.open(path)
    plan = session.plan
    steps = [edits.set_status_date(plan, p, None) for p in plan.projects]
    steps.append(edits.take_back(plan, [t for t in plan.tasks if not plan.is_summary(t)]))
    session.apply(edits.together("Before work began", steps))
    session.close()


class Journey(unittest.TestCase):
    """``ROWS`` is pasted into a new project; with ``DEMO`` the museum is opened instead, before its work began."""

    ROWS = ""
    DEMO = False

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "Journey.hexapod"
        if self.DEMO:
            build_demo(self.path)
            before_work_began(self.path)
        else:
            session = Session.create(self.path)
            session.apply(edits.save_project(session.plan, project()))
            if self.ROWS:
                session.apply(edits.add_text("p", self.ROWS))
                leaves = [t for t in session.plan.tasks if not session.plan.is_summary(t)]
                session.apply(edits.set_durations(session.plan, leaves, 480))
            session.close()
        self.open()

    def open(self) -> None:
        self.window = Window(Session.open(self.path), lambda *_: None)
        self.window.resize(1440, 880)
        self.window.move(20, 20)
        self.window.show()
        self.window.start()
        self.addCleanup(self.window.close)
        screen.wait_for(lambda: self.window.isActiveWindow() or screen.focus(self.window))
        screen.wait_for(lambda: self.desk.is_computed)
        screen.settle()

    def reopen(self) -> None:
        self.window.close()
        screen.settle()
        self.open()

    @property
    def desk(self):  # type: ignore[no-untyped-def]
        return self.window.desk

    @property
    def plan(self):  # type: ignore[no-untyped-def]
        return self.window.desk.plan

    def outline(self) -> list[str]:
        return ["  " * r.level + self.plan.tasks[r.task].name for r in self.desk.rows]

    def id_of(self, name: str) -> str:
        return next(t.id for t in self.plan.tasks.values() if t.name == name)

    def dates(self, name: str):  # type: ignore[no-untyped-def]
        return self.desk.schedule.dates(self.id_of(name))

    def cell(self, name: str, column: int = NAME) -> QRect:
        """A cell's box in the grid's viewport; the name "" is the row to type into."""
        row = len(self.desk.rows) if not name else self.desk.position[self.id_of(name)]
        return self.window.grid.visualRect(self.window.grid.rows.index(row, column))

    def click_cell(self, name: str, column: int = NAME, **how: int) -> None:
        screen.click(self.window.grid.viewport(), self.cell(name, column), **how)

    def type_in(self, name: str, column: int, text: str, end: str = "Return") -> None:
        """Go to a cell by the mouse and type over it."""
        self.click_cell(name, column)
        screen.type_text(text)
        screen.keys(end)

    def type_length(self, name: str, text: str) -> None:
        """Into the cell of the duration of a row, by keys."""
        grid = self.window.grid
        self.window.show_leg("build")
        self.desk.go_to(self.id_of(name))
        column = [c.id for c in grid.rows.columns].index("duration")
        grid.setCurrentIndex(grid.rows.index(grid.currentIndex().row(), column))
        grid.setFocus()
        screen.settle()
        screen.type_text(text)
        screen.keys("Return")

    def bar(self, name: str):  # type: ignore[no-untyped-def]
        found = self.window.chart.bar_of(self.id_of(name))
        assert found is not None
        return found

    def press_button(self, name: str) -> None:
        """Wait until a button is on screen and can be pressed, then click it."""

        def shown() -> list[QPushButton]:
            return [b for b in self.window.findChildren(QPushButton, name) if b.isVisible() and b.isEnabled()]

        screen.wait_for(shown)
        screen.settle()
        screen.click(shown()[0])

    def panel_texts(self) -> list[str]:
        return [w.text() for w in self.window.side.findChildren(QLabel) if w.isVisible()]

    def said(self) -> str:
        return self.window.findChild(QWidget, "notice").text()  # type: ignore[union-attr]

    def shot(self, name: str) -> None:
        """For looking at a journey while working on it."""
        QApplication.processEvents()
        self.window.grab().save(f"/tmp/{name}.png")


__all__ = ["Journey", "QPointF", "QPushButton", "QWidget", "screen"]
