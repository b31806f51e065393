"""Overbooking found, explained and resolved in a real window, with the museum's staff."""

from __future__ import annotations

import unittest

from PyQt6.QtWidgets import QCheckBox, QLineEdit

from hexapod.desktop.models.columns import USUAL
from tests.journeys.case import Journey, QPushButton, screen
from tests.support import at

WHO = USUAL.index("who")


class Staffing(Journey):
    DEMO = True

    def cell_at(self, title: str, moment: str) -> None:
        """Click the cell of somebody in the week of a day."""
        grid = self.window.staff.grid
        row = next(i for i, r in enumerate(grid.table.rows) if r.title == title)
        period = int(grid.table.edges.searchsorted(at(moment), side="right")) - 1
        grid.verticalScrollBar().setValue(max(0, row - 4))
        screen.settle()
        screen.click(grid.viewport(), grid.cell_rect(row, period).center())
        screen.settle()

    def behind(self) -> list[str]:
        from PyQt6.QtWidgets import QLabel

        parts = [w for kind in (QLabel, QPushButton) for w in self.window.staff.behind.findChildren(kind)]
        return [w.text() for w in parts if w.isVisible()]

    def overloads(self) -> str:
        return self.window.topbar.vitals.overloads.text_shown

    def test_why_a_team_has_too_much_and_two_ways_out(self) -> None:
        screen.keys("ctrl+3")
        screen.wait_for(lambda: self.window.staff.grid.table is not None)
        self.cell_at("Case technicians", "2026-10-19")
        said = self.behind()
        self.assertTrue(any(s.startswith("144 h planned, 120 h capacity: 24 h too much") for s in said), said)
        for task in ("Case frames erected", "Screens and sound wired"):
            self.assertIn(task, said)
        self.assertTrue(any("Ansel Fennimore" in s and "40 h free" in s for s in said))
        self.assertEqual(self.overloads(), "3")
        # One way: somebody of the same role does a part of it.
        button = next(
            b for b in self.window.staff.behind.findChildren(QPushButton) if b.text() == "Screens and sound wired"
        )
        screen.click(button)
        screen.keys("ctrl+1")
        self.type_in("Screens and sound wired", WHO, "AF PL")
        screen.keys("ctrl+3")
        screen.wait_for(lambda: self.overloads() == "2")
        self.cell_at("Case technicians", "2026-10-19")
        self.assertTrue(any(s.startswith("120 h planned, 120 h capacity") for s in self.behind()), self.behind())
        # The other: it waits.
        screen.keys("ctrl+z")
        screen.wait_for(lambda: self.overloads() == "3")
        screen.keys("F8")
        screen.wait_for(lambda: self.desk.proposal is not None)
        self.press_button("button.level.accept")
        screen.wait_for(lambda: self.overloads() == "1")
        self.cell_at("Case technicians", "2026-10-19")
        self.assertTrue(any(s.startswith("120 h planned, 120 h capacity") for s in self.behind()), self.behind())

    def test_an_open_seat_is_filled_for_half_of_it(self) -> None:
        screen.keys("ctrl+3", "ctrl+shift+g")
        task = self.id_of("Interactives programmed")
        screen.wait_for(lambda: self.window.side.findChild(QPushButton, f"seat {task}"))
        screen.settle()
        screen.click(next(b for b in self.window.side.findChildren(QPushButton, f"seat {task}") if b.isVisible()))
        screen.wait_for(lambda: any(w.isVisible() for w in self.window.side.findChildren(QLineEdit, "seatShare")))
        texts = self.panel_texts()
        self.assertTrue(any("would be over by 120 h" in t for t in texts), "who is busy then is told apart")
        share = next(w for w in self.window.side.findChildren(QLineEdit, "seatShare") if w.isVisible())
        screen.click(share)
        screen.keys("ctrl+a")
        screen.type_text("50 %")
        screen.keys("Return")
        screen.settle(200)
        self.press_button("fill lc")
        units = {a.resource: a.units for a in self.plan.assignments_of(task)}
        self.assertEqual(units, {"rme": 0.5, "lc": 0.5})
        screen.keys("ctrl+z")
        self.assertEqual([a.resource for a in self.plan.assignments_of(task)], ["rme"])

    def test_three_projects_levelled_at_once_all_moves_but_one_and_back(self) -> None:
        before = {t: self.desk.schedule.dates(t) for t in self.plan.tasks}
        screen.keys("ctrl+3", "shift+F8")
        screen.wait_for(lambda: self.desk.proposal is not None and not self.desk.levelling.is_looking)
        screen.settle(200)
        whole = self.desk.proposal
        self.assertEqual(len(whole.overloads_after), 0)
        first = whole.moves[0].task
        box = next(b for b in self.window.side.findChildren(QCheckBox, f"take {first}") if b.isVisible())
        screen.click(box)
        screen.wait_for(lambda: first in self.desk.levelling.left_out)
        self.assertGreater(len(self.desk.proposal.overloads_after), 0)
        screen.settle(200)
        self.press_button("button.level.accept")
        screen.wait_for(lambda: any(t.hold for t in self.plan.tasks.values()))
        self.assertEqual(self.plan.tasks[first].hold, 0)
        screen.keys("ctrl+z")
        self.assertEqual({t: self.desk.schedule.dates(t) for t in self.plan.tasks}, before)


if __name__ == "__main__":
    unittest.main()
