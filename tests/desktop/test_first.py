"""The first start: what an empty workspace offers, and hints for what is likely next."""

from __future__ import annotations

import tempfile
import threading
import unittest
from pathlib import Path
from types import SimpleNamespace
from unittest.mock import patch

from PyQt6.QtCore import QSettings
from PyQt6.QtWidgets import QApplication, QPushButton

from hexapod.desktop.models import hints
from hexapod.desktop.models.recent import remember
from hexapod.desktop.window import Window
from hexapod.plan import edits
from hexapod.session import Session
from tests.desktop.case import Qt, QTest, WindowCase, put_away, settle

ENTER = Qt.Key.Key_Return


class FirstStart(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.addCleanup(QSettings().remove, "recent")
        self.opened: list[Path] = []
        session = Session.create(self.folder / "Projects.hexapod")
        self.window = Window(session, lambda path, _: self.opened.append(path))
        self.window.show()
        self.addCleanup(put_away, self.window)
        self.window.start()
        settle()
        self.desk = self.window.desk

    def outline(self) -> list[str]:
        return ["  " * r.level + self.desk.plan.tasks[r.task].name for r in self.desk.rows if r.task]

    def test_typing_the_first_line_makes_the_project_and_goes_on_with_the_next(self) -> None:
        self.assertTrue(self.window.shows("first"))
        line = self.window.first.line
        self.assertTrue(line.hasFocus())
        self.window.first.project.setText("Moth room")
        QTest.keyClicks(line, "Order glass 3w")
        QTest.keyClick(line, ENTER)
        settle()
        self.assertTrue(self.window.shows("build"))
        QTest.keyClicks(self.window.grid.typing.editor, "Fit glass 2d after 1")
        QTest.keyClick(self.window.grid.typing.editor, ENTER)
        settle()
        self.assertEqual(["Order glass", "Fit glass"], self.outline())
        self.assertEqual(["Moth room"], [p.name for p in self.desk.plan.projects.values()])
        self.assertEqual(1, len(self.desk.plan.links))
        for _ in range(3):
            self.window.registry.qt("edit.undo").trigger()
        settle()
        self.assertTrue(self.window.shows("first"), "taken back to nothing, it offers the start again")

    def test_it_is_there_again_after_another_leg(self) -> None:
        self.window.show_leg("staff")
        self.window.show_leg("build")
        self.assertTrue(self.window.shows("first"))
        self.assertTrue(self.window.first.line.hasFocus())
        self.window.show_guide()
        self.window.show_guide()
        self.assertTrue(self.window.shows("first"))

    def test_notes_that_are_pasted_into_it_are_shown_first(self) -> None:
        QApplication.clipboard().setText("Hall\n  Paint 2d\n  Lamps 1d after Paint")
        QTest.keyClick(self.window.first.line, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
        settle()
        self.assertTrue(self.window.shows("notes"))
        self.window.notes.take()
        self.assertEqual(["Hall", "  Paint", "  Lamps"], self.outline())

    def test_a_file_is_imported_into_a_project_that_is_made_for_it(self) -> None:
        path = self.folder / "rooms.csv"
        path.write_text("Name,Duration\nPaint,2 d\nLamps,1 d\n")
        self.window.first.import_file(path)
        WindowCase.wait_for(lambda: self.window.importing.proposal)
        self.window.importing.take()
        self.assertEqual(["Paint", "Lamps"], self.outline())

    def test_recent_workspaces_the_museum_and_the_rest_are_a_press_away(self) -> None:
        other = self.folder / "Old roofs.hexapod"
        Session.create(other).close()
        remember(other)
        first = self.window.first
        first.refresh()
        recent = first.findChildren(QPushButton, "startRecent")
        self.assertEqual(["Old roofs"], [b.text() for b in recent])
        recent[0].click()
        self.assertEqual([other], self.opened)
        self.window.find_museum = lambda: self.folder / "museum.hexapod"
        first.findChild(QPushButton, "startMuseum").click()
        WindowCase.wait_for(lambda: len(self.opened) == 2)
        first.findChild(QPushButton, "startTemplate").click()
        self.assertEqual("templates", self.window.side.shown)


class FirstStartOnAMachine(unittest.TestCase):
    """The kernels are compiled by another process; here by one that waits until it is told."""

    def test_typing_goes_on_while_kernels_are_compiled_and_dates_follow(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        done = threading.Event()
        self.addCleanup(done.set)
        child = SimpleNamespace(communicate=done.wait)
        with (
            patch("hexapod.desktop.models.first_dates.are_compiled", return_value=False),
            patch("hexapod.desktop.models.first_dates.start_python", return_value=child) as started,
        ):
            window = Window(Session.create(Path(folder.name) / "Cold.hexapod"), lambda *_: None)
            window.show()
            self.addCleanup(put_away, window)
            window.start()
            WindowCase.wait_for(lambda: started.called)
        desk = window.desk
        window.first.make_project()
        for line in ("Order glass 3w", "Fit glass 2d after 1"):
            window.grid.type_row(line)
        window.registry.qt("edit.undo").trigger()
        window.registry.qt("edit.redo").trigger()
        settle()
        self.assertEqual((2, 1), (len(desk.plan.tasks), len(desk.plan.links)))
        self.assertFalse(desk.is_computed)
        done.set()
        WindowCase.wait_for(lambda: desk.is_computed)
        last = next(t.id for t in desk.plan.tasks.values() if t.name == "Fit glass")
        self.assertTrue(desk.schedule.has(last))


class Hints(WindowCase):
    ROWS = "Paint\nLamps\nSigns"

    def setUp(self) -> None:
        QSettings().remove(hints.SEEN)
        QSettings().remove(hints.WANTED)
        super().setUp()
        self.window.give_hints()
        card = self.window.hint
        assert card is not None
        self.card = card

    def said(self) -> str:
        self.card.hide()
        self.card.look()
        return self.card.says.text() if self.card.isVisible() else ""

    def test_what_is_next_is_said_once_each(self) -> None:
        self.assertIn("What waits for what", self.said())
        self.assertEqual("", self.said(), "once")
        one, two, three = (self.id_of(name) for name in ("Paint", "Lamps", "Signs"))
        self.desk.do(edits.link(self.desk.plan, one, two))
        self.desk.do(edits.link(self.desk.plan, two, three))
        self.assertIn("Who does it", self.said())
        self.assertFalse(self.card.hasFocus())

    def test_enough_of_them_is_enough_until_they_are_wanted_again(self) -> None:
        self.card.findChild(QPushButton, "hintEnough").click()
        self.assertEqual("", self.said())
        self.window.registry.qt("help.hints").trigger()
        self.assertIn("What waits for what", self.said())

    def test_a_card_lies_within_the_window_and_hides_no_other(self) -> None:
        self.window.resize(1024, 640)
        settle()
        self.assertNotEqual("", self.said())
        card = self.card.geometry()
        self.assertTrue(self.card.parentWidget().rect().contains(card))
        self.desk.told.emit("Something was done.", "", True)
        settle()
        self.assertFalse(self.window.notice.geometry().intersects(card))
        foot = self.window.build.foot
        self.assertLess(
            card.bottom(), foot.mapTo(self.card.parentWidget(), foot.rect().topLeft()).y(), "above the load"
        )

    def test_it_goes_with_the_view_that_it_is_about(self) -> None:
        self.assertNotEqual("", self.said())
        self.window.show_guide()
        settle()
        self.assertFalse(self.card.isVisible(), "nor does it look out from under another view")
        self.assertEqual("", self.said())


if __name__ == "__main__":
    unittest.main()
