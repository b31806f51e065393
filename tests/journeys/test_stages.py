"""A card is dragged to done by the mouse, and the chain behind it becomes ready."""

from __future__ import annotations

from itertools import pairwise

from PyQt6.QtCore import QPointF

from hexapod.plan import edits
from hexapod.plan.records import LinkType
from hexapod.schedule.states import State
from tests.journeys.case import Journey, screen
from tests.support import at, set_clock


class ToDone(Journey):
    ROWS = "Script agreed\nFilms shot\nFilms cut"

    def setUp(self) -> None:
        set_clock(self, at("2026-09-11T12:00"))
        super().setUp()
        names = ("Script agreed", "Films shot", "Films cut")
        for before, after in pairwise(names):
            self.desk.do(edits.link(self.plan, self.id_of(before), self.id_of(after), LinkType.FS))
        screen.settle()

    def state(self, name: str) -> State:
        return self.desk.schedule.state_of(self.id_of(name))

    def test_dragged_to_done_the_next_is_ready_and_one_undo_takes_it_back(self) -> None:
        screen.click(self.window.grid.viewport(), self.cell("Script agreed"))
        screen.keys("ctrl+a", "ctrl+alt+k", "ctrl+alt+3")
        self.press_button("stagesBegin")
        screen.settle()
        board = self.window.track["stages"].board
        self.assertEqual(len(board.places), 3)
        self.assertEqual(self.state("Films shot"), State.WAITING)
        box = board.box_of(self.id_of("Script agreed"))
        assert box is not None
        end = QPointF(board.viewport().width() - 60, box.center().y())
        screen.drag(board.viewport(), box.center(), end)
        screen.settle()
        self.assertTrue(self.plan.tasks[self.id_of("Script agreed")].is_done)
        self.assertEqual((self.state("Films shot"), self.state("Films cut")), (State.READY, State.WAITING))
        screen.keys("ctrl+z")
        screen.settle()
        self.assertFalse(self.plan.tasks[self.id_of("Script agreed")].is_begun)
        self.assertEqual(self.state("Films shot"), State.WAITING)
        screen.keys("Return")
        screen.settle()
        self.assertEqual(self.window.leg, "build")
