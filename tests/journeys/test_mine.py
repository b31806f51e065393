"""The morning of one person, by real keys and the mouse: what is ready, an errand, a tick, so much left with a note."""

from __future__ import annotations

from PyQt6.QtCore import QPoint

from hexapod.control.mine import When
from hexapod.plan import edits
from hexapod.plan.records import LinkType, Resource
from tests.journeys.case import Journey, screen
from tests.support import at, set_clock

NOW = at("2026-09-08T09:00")


class Morning(Journey):
    ROWS = "Drawers cleaned\nGlass fitted\nCases closed"

    def setUp(self) -> None:
        set_clock(self, NOW)
        super().setUp()
        desk = self.desk
        desk.do(edits.save_resource(self.plan, Resource("hana", "Hana Brook", "a0", initials="HB")))
        desk.do(edits.link(self.plan, self.id_of("Drawers cleaned"), self.id_of("Glass fitted"), LinkType.FS))
        desk.do(edits.link(self.plan, self.id_of("Glass fitted"), self.id_of("Cases closed"), LinkType.FS))
        desk.do(edits.assign(self.plan, list(self.plan.tasks), "hana"))
        screen.settle()

    def when(self, name: str) -> When | None:
        return next((w.when for w in self.desk.mine.work() if w.task == self.id_of(name)), None)

    def test_the_list_is_worked_through(self) -> None:
        screen.keys("ctrl+alt+2")
        self.desk.mine.be("hana")
        screen.settle()
        view = self.window.track["mine"]
        self.assertEqual([self.when(n) for n in ("Drawers cleaned", "Glass fitted")], [When.LATE, When.TODAY])
        self.assertIn("waits for Drawers cleaned", view.table.state(view.table.rows[3]))
        screen.click(view.line)
        screen.type_text("call the glazier tomorrow")
        screen.keys("Return")
        screen.settle()
        (errand,) = self.plan.errands.values()
        self.assertEqual((errand.name, errand.resource), ("call the glazier", "hana"))
        top = view.table.top_of(1)
        screen.click(view.table.viewport(), QPoint(24, top + 14))  # the ring before its name
        screen.settle()
        self.assertTrue(self.plan.tasks[self.id_of("Drawers cleaned")].is_done)
        self.assertEqual((self.when("Drawers cleaned"), self.when("Glass fitted")), (None, When.TODAY))
        screen.keys("Home")
        screen.type_text("4h: one pane is chipped")
        screen.keys("Return")
        screen.settle()
        glass = self.plan.tasks[self.id_of("Glass fitted")]
        self.assertEqual(
            (glass.rest, [c.text for c in self.plan.comments_about(glass.id)]), (240, ["one pane is chipped"])
        )
        screen.keys("ctrl+z")
        screen.settle()
        self.assertFalse(self.plan.tasks[glass.id].is_begun, "one undo takes back all of an answer")
        self.assertFalse(self.plan.comments)
