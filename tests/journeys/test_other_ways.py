"""The same first hour by other ways: all by keyboard, all by mouse, two windows, and after a crash."""

from __future__ import annotations

import signal
import subprocess
import sys
import unittest

from tests.journeys.case import Journey, QPointF, QWidget, screen

from PyQt6.QtWidgets import QApplication, QMenu, QToolButton  # isort: skip

from hexapod.desktop.app import Opener
from hexapod.desktop.chart import geometry
from hexapod.desktop.models.columns import DURATION, NAME
from hexapod.plan import edits
from hexapod.plan.records import Resource
from tests.support import DAY, at


class ByKeyboardAlone(Journey):
    """From nothing to a levelled plan without touching the mouse."""

    def test_type_link_staff_level_and_take_back(self) -> None:
        screen.keys("ctrl+shift+p")
        screen.wait_for(lambda: self.window.side.shown == "resource")
        screen.type_text("Scissor lift")
        screen.keys("Return", "ctrl+End")
        for name in ("Racks", "Frames", "Paint"):
            screen.type_text(name)
            screen.keys("Return")
        screen.keys("Escape", "Up", "Up", "Up", "Right")
        for text in ("3d", "2d", "2w"):
            screen.type_text(text)
            screen.keys("Return")
        lasting = {t.name: t.minutes // DAY for t in self.plan.tasks.values()}
        self.assertEqual(lasting, {"Racks": 3, "Frames": 2, "Paint": 10})
        screen.keys("Up", "Up", "Up", "Right", "Right", "Right")
        for text in ("SL", "sl"):
            screen.type_text(text)
            screen.keys("Return")
        screen.wait_for(lambda: self.window.topbar.vitals.overloads.text_shown == "1")
        screen.keys("F8")
        screen.wait_for(lambda: self.desk.proposal is not None)
        screen.settle()
        screen.keys("ctrl+shift+Return")
        self.assertEqual(self.dates("Racks").early_start, at("2026-09-09T08:00"), "the shorter wait")
        screen.wait_for(lambda: self.window.topbar.vitals.overloads.text_shown == "0")
        screen.keys("ctrl+z")
        self.assertEqual(self.dates("Racks").early_start, at("2026-09-07T08:00"))
        screen.keys("F10", "Return")
        menu = QApplication.activePopupWidget()
        assert isinstance(menu, QMenu)
        screen.keys("Escape", "Escape", "F6")
        self.assertIsNotNone(QApplication.focusWidget())
        self.assertIsNot(QApplication.focusWidget(), self.window.grid, "F6 leads on to the next part")

    def test_the_parts_of_the_window_in_turn_and_back(self) -> None:
        parts = []
        for _ in range(5):  # rows, chart, load, side panel, find box
            parts.append(QApplication.focusWidget())
            screen.keys("F6")
        self.assertIs(QApplication.focusWidget(), self.window.grid)
        self.assertEqual(len(set(map(id, parts))), 5)
        self.assertIs(parts[1], self.window.chart)


class ByMouseAlone(Journey):
    ROWS = "Racks\nFrames\nPaint"

    def test_longer_linked_assigned_levelled_and_taken_back(self) -> None:
        self.desk.do(edits.save_resource(self.plan, Resource("sl", "Scissor lift", "a0", initials="SL")))
        for name in ("Racks", "Frames"):
            self.click_cell(name)
            screen.settle(120)
            button = next(b for b in self.window.findChildren(QWidget, "assignMenu") if b.isVisible())
            screen.choose(button, "SL  Scissor lift")
            screen.wait_for(lambda n=name: (self.id_of(n), "sl") in self.plan.assignments)
        self.assertEqual(set(self.plan.assignments), {(self.id_of(n), "sl") for n in ("Racks", "Frames")})
        view = self.window.chart.viewport()
        screen.move(view, self.bar("Frames").center())
        goal = QPointF(self.bar("Paint").left() + 1, self.bar("Paint").center().y())
        screen.drag(view, geometry.finish_handle(self.bar("Frames")), goal)
        self.assertEqual(len(self.plan.links), 1)
        scale = self.window.chart.scale
        end = QPointF(self.bar("Paint").right(), self.bar("Paint").center().y())
        screen.drag(view, end, QPointF(scale.x(at("2026-09-18T17:00")), end.y()))
        self.assertEqual(self.dates("Paint").early_finish, at("2026-09-18T17:00"))
        self.press_button("button.level.float")
        screen.wait_for(lambda: self.desk.proposal is not None)
        screen.settle(150)
        self.press_button("button.level.accept")
        screen.wait_for(lambda: self.window.topbar.vitals.overloads.text_shown == "0")
        self.press_button("noticeUndo")
        screen.wait_for(lambda: self.window.topbar.vitals.overloads.text_shown == "1")
        self.assertFalse(any(t.hold for t in self.plan.tasks.values()))

    def test_a_project_from_the_menu_of_projects(self) -> None:
        screen.choose(self.window.findChild(QToolButton, "projectButton"), "New project")
        self.assertEqual(self.window.side.shown, "project")

    def test_a_double_click_opens_a_cell_and_a_click_elsewhere_takes_it(self) -> None:
        self.click_cell("Racks", DURATION, times=2)
        screen.type_text("4")
        self.click_cell("Paint", NAME)
        self.assertEqual(self.plan.tasks[self.id_of("Racks")].duration, 4 * DAY)


class SecondWindow(Journey):
    ROWS = "Racks\nFrames"

    def test_it_may_read_or_work_on_a_copy(self) -> None:
        for answer, expected in (("Open to read", True), ("Work on a copy", False)):
            opener = Opener()
            self._answer(answer)
            other = opener.open(self.path)
            assert other is not None
            self.assertEqual(other.desk.session.workspace.read_only, expected)
            self.assertEqual(other.desk.plan, self.plan)
            self.assertEqual(other.desk.session.workspace.path == self.path, expected)
            other.close()

    def _answer(self, text: str) -> None:
        from PyQt6.QtCore import QTimer
        from PyQt6.QtWidgets import QMessageBox

        def press() -> None:
            box = QApplication.activeModalWidget()
            if not isinstance(box, QMessageBox):
                QTimer.singleShot(30, press)
                return
            next(b for b in box.buttons() if b.text().replace("&", "") == text).click()

        QTimer.singleShot(30, press)


class AfterAKill(Journey):
    ROWS = "Racks\nFrames"

    def test_the_next_start_says_what_is_here(self) -> None:
        self.window.close()
        script = (
            "import os, signal, sys; from pathlib import Path; from hexapod.session import Session;"
            "from hexapod.plan import edits; s = Session.open(Path(sys.argv[1])); s.compute();"
            "s.apply(edits.add_text('p', 'Paint')); os.kill(os.getpid(), signal.SIGKILL)"
        )
        done = subprocess.run([sys.executable, "-c", script, str(self.path)], check=False)
        self.assertEqual(done.returncode, -signal.SIGKILL)
        self.open()
        self.assertEqual(self.outline(), ["Racks", "Frames", "Paint"])
        self.assertIn("ended unexpectedly", self.said())
        self.assertIn("Add “Paint”", self.said())


if __name__ == "__main__":
    unittest.main()
