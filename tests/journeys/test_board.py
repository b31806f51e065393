"""Work handed over on the board, with the guard on and off; a role that is short; a seat on a project filled."""

from __future__ import annotations

import unittest

from PyQt6.QtCore import QPointF
from PyQt6.QtWidgets import QLabel, QLineEdit

from hexapod.plan import edits
from hexapod.plan.records import LimitKind
from tests.journeys.case import Journey, QPushButton, screen
from tests.support import at

DAY = 1440


class OnTheBoard(Journey):
    DEMO = True

    def show_board(self):  # type: ignore[no-untyped-def]
        screen.keys("ctrl+3")
        self.press_button("staff board")
        board = self.window.staff.board
        screen.wait_for(lambda: board.lanes)
        screen.settle()
        return board

    def piece(self, board, resource: str, name: str) -> QPointF:  # type: ignore[no-untyped-def]
        """The left part of a piece on the board, scrolled to."""
        lane = next(i for i, lane in enumerate(board.lanes) if lane.resource == resource)
        board.verticalScrollBar().setValue(max(0, board.tops[lane] - 60))
        screen.settle()
        piece = next(p for p in board.lanes[lane].pieces if p.task == self.id_of(name))
        box = board.box_of(lane, piece)
        return QPointF(box.left() + 6, box.center().y())

    def lane(self, board, resource: str) -> float:  # type: ignore[no-untyped-def]
        lane = next(i for i, lane in enumerate(board.lanes) if lane.resource == resource)
        return board.top_of(lane) + 12

    def people(self, name: str) -> list[str]:
        return [a.resource for a in self.plan.assignments_of(self.id_of(name))]

    def test_work_is_dragged_to_somebody_else_and_along_to_another_date_and_what_is_done_stays(self) -> None:
        board = self.show_board()
        start = self.piece(board, "ma", "Pest traps set and read")
        before = self.dates("Pest traps set and read")
        screen.drag(board.viewport(), start, QPointF(start.x() + 1, self.lane(board, "eq")))
        self.assertEqual(self.people("Pest traps set and read"), ["eq"])
        self.assertEqual(self.plan.assignments[(self.id_of("Pest traps set and read"), "eq")].units, 0.5)
        self.assertEqual(self.dates("Pest traps set and read"), before, "only who does it is another")
        start = self.piece(board, "eq", "Pest traps set and read")
        ghosts: list[object] = []
        screen.drag(
            board.viewport(), start, start + QPointF(7 * board.scale.pixels, 0),
            before_release=lambda: ghosts.append(self.desk.ghost),
        )  # fmt: skip
        self.assertIsNotNone(ghosts[0], "where it would be is shown while it is dragged")
        moved = self.dates("Pest traps set and read")
        self.assertEqual(moved.start, before.start + 7 * DAY)
        limit = self.plan.tasks[self.id_of("Pest traps set and read")].limits[0]
        self.assertEqual((limit.kind, limit.at), (LimitKind.START_NO_EARLIER, moved.start))
        screen.keys("ctrl+z", "ctrl+z")
        self.assertEqual(self.people("Pest traps set and read"), ["ma"])
        self.desk.do(edits.set_percent(self.plan, [self.id_of("Specimen condition survey")], 100))
        screen.settle()
        done = self.piece(board, "ro", "Specimen condition survey")
        screen.drag(board.viewport(), done, QPointF(done.x(), self.lane(board, "eq")))
        self.assertEqual(self.people("Specimen condition survey"), ["ro"])
        self.assertIn("is done, and stays where it was", self.said())

    def test_work_from_the_tray_is_somebodys_with_a_date_or_without_one(self) -> None:
        board = self.show_board()
        tray = self.window.staff.trays.nobody
        name = "Specimens photographed"
        board.verticalScrollBar().setValue(0)
        screen.settle()

        def chip() -> QPointF:
            return tray.boxes[tray.tasks.index(self.id_of(name))].center()

        def onto(spot: QPointF) -> None:
            there = tray.mapFromGlobal(board.viewport().mapToGlobal(spot))
            screen.drag(tray, chip(), QPointF(there))

        before = self.dates(name)
        onto(QPointF(-60, self.lane(board, "af")))
        self.assertEqual(self.people(name), ["af"])
        self.assertEqual((self.dates(name), self.plan.tasks[self.id_of(name)].limits), (before, ()))
        self.assertNotIn(self.id_of(name), tray.tasks)
        screen.keys("ctrl+z")
        screen.wait_for(lambda: self.id_of(name) in tray.tasks)
        monday = at("2026-11-09T08:00")
        onto(QPointF(board.scale.x(monday + 60), self.lane(board, "af")))
        self.assertEqual((self.people(name), self.dates(name).start), (["af"], monday))

    def test_with_the_guard_on_a_drag_that_overloads_is_held_back_and_other_ways_are_there(self) -> None:
        board = self.show_board()
        screen.keys("ctrl+alt+g")
        screen.wait_for(lambda: any("3 overloads are there already" in t for t in self.panel_texts()))
        start = self.piece(board, "ma", "Pest traps set and read")
        screen.drag(board.viewport(), start, QPointF(start.x() + 1, self.lane(board, "ro")))
        screen.wait_for(lambda: any("would have 48 h too much" in t for t in self.panel_texts()))
        self.assertEqual(self.people("Pest traps set and read"), ["ma"], "nothing is done yet")
        self.press_button("insteadDate 0")
        screen.wait_for(lambda: self.people("Pest traps set and read") == ["ro"])
        self.assertEqual(self.window.topbar.vitals.overloads.text_shown, "3", "nobody has more too much than before")
        self.assertEqual(self.dates("Pest traps set and read").start, at("2026-10-16T08:00"))
        screen.keys("ctrl+z")
        start = self.piece(board, "ma", "Pest traps set and read")
        screen.drag(board.viewport(), start, QPointF(start.x() + 1, self.lane(board, "ro")))
        self.press_button("insteadPerson op")
        screen.wait_for(lambda: self.people("Pest traps set and read") == ["op"])
        screen.keys("ctrl+z", "ctrl+alt+g")
        start = self.piece(board, "ma", "Pest traps set and read")
        screen.drag(board.viewport(), start, QPointF(start.x() + 1, self.lane(board, "ro")))
        self.assertEqual(self.people("Pest traps set and read"), ["ro"], "off, it holds nothing back")

    def test_keys_hand_work_over_and_move_it(self) -> None:
        board = self.show_board()
        board.look_at("ma", self.id_of("Pest traps set and read"))
        board.setFocus()
        screen.keys("shift+Down")
        self.assertEqual(self.people("Pest traps set and read"), ["eq"])
        before = self.dates("Pest traps set and read").start
        screen.keys("shift+Right")
        self.assertEqual(self.dates("Pest traps set and read").start, before + DAY)


class Roles(Journey):
    DEMO = True

    def behind(self) -> list[str]:
        parts = [w for kind in (QLabel, QPushButton) for w in self.window.staff.gap.findChildren(kind)]
        return [w.text() for w in parts if w.isVisible()]

    def test_a_role_needs_twice_the_people_it_has_and_three_projects_need_them(self) -> None:
        screen.keys("ctrl+3")
        self.press_button("staff roles")
        chart = self.window.staff.roles
        screen.wait_for(lambda: chart.table is not None and chart.table.rows)
        screen.settle()
        row = next(i for i, r in enumerate(chart.table.rows) if r.title == "Registration")
        period = int(chart.table.edges.searchsorted(at("2027-03-10"), side="right")) - 1
        chart.look_at(row, period)
        screen.click(chart.viewport(), chart.cell_rect(row, period).center())
        said = self.behind()
        self.assertIn("1056 h wanted, 528 h there: 528 h short", said)
        for name in ("Collection Store Move", "Six-Legs Gallery", "Glasshouse Roof"):
            self.assertIn(name, said)
        self.assertTrue(any("Edda Quillon can act in the role" in s for s in said), said)
        self.assertTrue(any(s.startswith("3 more at full time from Mon 1 Mar") for s in said), said)
        store = next(p.id for p in self.plan.projects.values() if p.name == "Collection Store Move")
        self.press_button(f"need {store}")
        screen.settle()
        said = self.behind()
        self.assertIn("nobody yet", said)
        self.assertIn("Registrar Ines Tamsin", said)

    def test_a_seat_on_a_project_is_filled_at_half_time_from_a_later_day(self) -> None:
        seat = next(r.id for r in self.plan.reservations.values() if r.resource == "rre" and r.units == 1.0)
        screen.keys("ctrl+3", "ctrl+shift+g")
        self.press_button(f"seat {seat}")
        screen.wait_for(lambda: any(w.isVisible() for w in self.window.side.findChildren(QLineEdit, "seatFrom")))
        for name, text in (("seatShare", "50 %"), ("seatFrom", "2027-03-15")):
            screen.settle(200)
            screen.click(next(w for w in self.window.side.findChildren(QLineEdit, name) if w.isVisible()))
            screen.keys("ctrl+a")
            screen.type_text(text)
            screen.keys("Return")
        screen.settle(200)
        self.assertFalse(any("would be over" in t for t in self.panel_texts()[:6]))
        self.press_button("fill eq")
        roof = next(p.id for p in self.plan.projects.values() if p.name == "Glasshouse Roof")
        found = sorted(
            (r.resource, r.units, (r.first_day or 0) * DAY)
            for r in self.plan.reservations_of(roof)
            if r.resource != "jf"
        )
        self.assertEqual(
            found, [("eq", 0.5, at("2027-03-15")), ("rre", 0.5, at("2027-03-01")), ("rre", 0.5, at("2027-03-01"))]
        )
        screen.keys("ctrl+z")
        self.assertEqual(self.plan.reservations[seat].units, 1.0)


if __name__ == "__main__":
    unittest.main()
