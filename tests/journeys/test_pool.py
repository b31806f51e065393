"""The pool with real keys: people in from the directory, a reservation, a kept effort, a split."""

from __future__ import annotations

import unittest

from PyQt6.QtWidgets import QCheckBox, QComboBox, QLineEdit

from hexapod.desktop.models.columns import USUAL
from hexapod.plan.records import Held
from tests.journeys.case import Journey, QPointF, QPushButton, screen
from tests.support import at

WHO = USUAL.index("who")
DAY = 1440


class Pool(Journey):
    DEMO = True

    def field(self, kind: type, name: str):  # type: ignore[no-untyped-def]
        def shown():  # type: ignore[no-untyped-def]
            return [w for w in self.window.side.findChildren(kind, name) if w.isVisible() and not w.property("putAway")]

        screen.wait_for(shown)
        screen.settle()
        return shown()[-1]

    def type_into(self, name: str, text: str, end: str = "Tab") -> None:
        screen.click(self.field(QLineEdit, name))
        screen.keys("ctrl+a")
        screen.type_text(text)
        screen.keys(end)

    def test_two_people_come_from_the_directory_after_a_look_and_go_again(self) -> None:
        before = len(self.plan.resources)
        screen.keys("ctrl+3", "ctrl+alt+p")
        self.type_into("directorySearch", "registrar", "Return")
        for name in ("Mirela Stroud", "Oskar Penhale", "Registrar Ines Tamsin"):
            box = self.field(QCheckBox, f"person {name}")
            screen.click(box, QPointF(12, box.height() / 2))
        self.press_button("directoryAdd")
        screen.wait_for(lambda: any("2 new" in t for t in self.panel_texts()))
        self.assertIn("2 new, 1 changed", self.panel_texts(), "Ines is there already, her email is not")
        self.press_button("poolTake")
        screen.wait_for(lambda: len(self.plan.resources) == before + 2)
        role = next(r.id for r in self.plan.resources.values() if r.name == "Registration")
        new = [r for r in self.plan.resources.values() if r.name in ("Mirela Stroud", "Oskar Penhale")]
        self.assertEqual({r.role for r in new}, {role})
        self.assertEqual(len({r.initials for r in self.plan.resources.values()}), before + 2, "initials are unique")
        screen.keys("ctrl+z")
        self.assertEqual(len(self.plan.resources), before)

    def test_somebody_is_reserved_from_a_month_and_it_is_seen_by_week(self) -> None:
        screen.keys("ctrl+3", "ctrl+shift+r")
        who = self.field(QComboBox, "")
        page = self.window.side.pages.reservations
        page._who.setCurrentIndex(page._who.findData("nh"))
        self.assertIsNotNone(who)
        self.type_into("reservationShare", "50 %")
        self.type_into("reservationFrom", "2027-01-04")
        self.type_into("reservationTo", "2027-01-31", "Return")
        screen.wait_for(lambda: any(r.resource == "nh" for r in self.plan.reservations.values()))
        made = next(r for r in self.plan.reservations.values() if r.resource == "nh")
        self.assertEqual(
            (made.units, made.first_day, made.last_day), (0.5, at("2027-01-04") // DAY, at("2027-01-31") // DAY)
        )
        self.window.staff.tools["load"].measure.setCurrentIndex(4)
        self.window.staff.tools["load"].measure.activated.emit(4)
        grid = self.window.staff.grid
        row = next(r for r in grid.table.rows if r.resource == "nh")
        period = int(grid.table.edges.searchsorted(at("2027-01-12"), side="right")) - 1
        self.assertEqual(grid.cell_text(row, period), "0 of 20")
        self.assertEqual(float(row.reserved.sum()), 80.0, "four weeks at half time")
        across, down = grid.horizontalScrollBar().value(), grid.verticalScrollBar().value()
        screen.click(grid.viewport(), grid.cell_rect(down, across).center())  # the keyboard leaves the form
        screen.keys("ctrl+z")
        self.assertFalse([r for r in self.plan.reservations.values() if r.resource == "nh"])

    def test_a_kept_effort_is_shared_by_who_joins_and_said(self) -> None:
        name = "Amber pieces conserved"
        self.click_cell(name)
        inspector = self.window.side.pages.inspector
        screen.wait_for(lambda: inspector.isVisible())
        inspector.show_section("settings")
        keeps = self.field(QComboBox, "taskKeeps")
        keeps.setCurrentIndex(keeps.findData(Held.EFFORT))
        keeps.activated.emit(keeps.currentIndex())
        self.assertEqual(self.plan.tasks[self.id_of(name)].effort, 7 * 480)
        self.type_in(name, WHO, "RO EQ")
        self.assertEqual(self.plan.tasks[self.id_of(name)].minutes, 7 * 240)
        screen.wait_for(lambda: "keeps its effort of 56 h: it takes 3.5 d, not 7 d" in self.said())
        self.click_cell(name)
        screen.keys("ctrl+alt+s")
        self.type_into("splitFirst", "1 d", "Return")
        rest = self.id_of(f"{name}, the rest")
        self.assertEqual(self.plan.tasks[rest].minutes, 7 * 240 - 480)
        self.assertEqual([a.resource for a in self.plan.assignments_of(rest)], ["ro", "eq"])
        screen.keys("ctrl+z", "ctrl+z", "ctrl+z")
        self.assertEqual(self.plan.tasks[self.id_of(name)].keeps, Held.DURATION)

    def test_an_open_seat_of_a_task_is_filled_while_levelling_and_one_is_left_open(self) -> None:
        screen.keys("ctrl+3", "F8")
        screen.wait_for(lambda: self.desk.levelling.choices)
        screen.settle(200)
        task = self.id_of("Catalogue brought up to date")
        box = next(b for b in self.window.side.findChildren(QCheckBox, f"seat {task}"))
        self.window.side.pages["proposal"].ensureWidgetVisible(box)
        screen.settle()
        screen.click(box)
        screen.wait_for(lambda: task in self.desk.levelling.unfilled)
        self.window.side.pages["proposal"].verticalScrollBar().setValue(0)
        screen.settle()
        self.press_button("button.level.accept")
        screen.wait_for(lambda: any(t.hold for t in self.plan.tasks.values()))
        seat = self.id_of("Interactives programmed")
        self.assertNotIn("rme", {a.resource for a in self.plan.assignments_of(seat)})
        self.assertIn("rre", {a.resource for a in self.plan.assignments_of(task)}, "that one was to stay open")
        screen.keys("ctrl+z")
        self.assertFalse(any(t.hold for t in self.plan.tasks.values()))
        self.assertIn("rme", {a.resource for a in self.plan.assignments_of(seat)})

    def test_what_is_left_over_is_split_so_that_nobody_has_too_much(self) -> None:
        screen.keys("ctrl+3", "F8")
        screen.wait_for(lambda: self.desk.levelling.ways)
        screen.settle(200)
        name = "way 0 split"
        button = next(b for b in self.window.side.findChildren(QPushButton, name) if not b.property("putAway"))
        self.window.side.pages["proposal"].ensureWidgetVisible(button)
        screen.settle()
        screen.click(button)
        screen.wait_for(lambda: any(t.name.endswith(", the rest") for t in self.plan.tasks.values()))
        screen.wait_for(lambda: self.window.topbar.vitals.overloads.text_shown == "0")
        screen.keys("ctrl+z")
        screen.wait_for(lambda: self.window.topbar.vitals.overloads.text_shown == "3")
        self.assertFalse([t for t in self.plan.tasks.values() if t.name.endswith(", the rest")])


if __name__ == "__main__":
    unittest.main()
