"""What is asked for, by keys and mouse: a request becomes a running project; an approval holds what waits for it."""

from __future__ import annotations

import unittest

from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QLineEdit, QWidget

from hexapod.plan import edits
from hexapod.plan.approvals import ApprovalState
from hexapod.plan.records import Resource
from hexapod.plan.requests import RequestState
from tests.journeys.case import Journey, screen
from tests.support import DAY, at, set_clock

NOW = "2026-09-14T09:00"


class Asked(Journey):
    ROWS = "Cases drawn\nCases built\nSpecimens in"

    def setUp(self) -> None:
        set_clock(self, at(NOW))
        super().setUp()

    def fill(self, name: str, text: str) -> None:
        """Press into a line of the side and type."""

        def shown() -> list[QLineEdit]:
            return [w for w in self.window.side.findChildren(QLineEdit, name) if w.isVisible()]

        screen.wait_for(shown)
        screen.click(shown()[0])
        screen.keys("ctrl+a")
        screen.type_text(text)

    def test_a_request_becomes_a_project_that_runs(self) -> None:
        screen.keys("ctrl+alt+apostrophe")
        self.press_button("requestNew")
        self.fill("request.name", "Lamps for the moth corner")
        self.fill("request.who", "Hale Birkby")
        self.fill("request.wanted_by", "2026-12-01")
        self.fill("request.size", "6d")
        self.press_button("requestSave")
        screen.wait_for(lambda: self.plan.requests)
        (request,) = self.plan.requests.values()
        self.assertEqual((request.name, request.size, request.state), (
            "Lamps for the moth corner", 6 * DAY, RequestState.NEW))  # fmt: skip
        self.fill("requestStart", "2026-10-05")
        self.press_button("requestAccept")
        screen.wait_for(lambda: len(self.plan.projects) == 2)
        (request,) = self.plan.requests.values()
        self.assertIs(request.state, RequestState.ACCEPTED)
        made = self.plan.projects[request.project]
        self.assertEqual((made.name, made.start), (request.name, at("2026-10-05T08:00")))
        screen.click(self.part("requestProject"))
        screen.wait_for(lambda: self.window.shows("build") and self.desk.project == made.id)
        (row,) = [t.name for t in self.plan.tasks.values() if t.project == made.id]
        self.click_cell(row)
        screen.keys("ctrl+z")
        screen.wait_for(lambda: len(self.plan.projects) == 1)
        (request,) = self.plan.requests.values()
        self.assertIs(request.state, RequestState.NEW, "one edit, taken back as one")

    def part(self, name: str) -> QWidget:
        screen.wait_for(lambda: [w for w in self.window.side.findChildren(QWidget, name) if w.isVisible()])
        screen.settle()
        return next(w for w in self.window.side.findChildren(QWidget, name) if w.isVisible())

    def test_an_approval_holds_what_waits_for_the_work_until_all_said_yes(self) -> None:
        for i, (name, initials) in enumerate((("Dara Kestrel", "DK"), ("Joss Ferro", "JF"))):
            self.desk.do(edits.save_resource(self.plan, Resource(f"r{i}", name, f"a{i}", initials=initials)))
        drawn, built = self.id_of("Cases drawn"), self.id_of("Cases built")
        self.desk.do(edits.link(self.plan, drawn, built))
        self.desk.do(edits.set_status_date(self.plan, "p", at("2026-09-21T08:00")))
        self.click_cell("Cases drawn")
        self.window.registry.qt("approvals.show").trigger()
        self.fill("approvalPeople", "dk, jf")
        screen.keys("Return")
        screen.wait_for(lambda: self.plan.approvals)
        (approval,) = self.plan.approvals.values()
        mark = self.desk.schedule.dates(approval.task)
        self.assertGreaterEqual(mark.finish, at("2026-09-21T08:00"), "an open approval lies not before the status date")
        self.assertGreaterEqual(self.dates("Cases built").start, mark.finish)
        self.assertIn((approval.task, built, "FS"), self.plan.links, "what waited for the work waits for the yes")
        self.press_button("approvalYes")
        screen.wait_for(lambda: "“Cases drawn” is not done yet." in self.panel_texts())
        self.desk.do(edits.finish(self.plan, [drawn], at("2026-09-11T17:00")))
        self.press_button("approvalYes")
        screen.wait_for(lambda: "Joss Ferro has not answered" in self.panel_texts())
        self.assertFalse(self.plan.tasks[approval.task].is_done)
        self.fill("approvalWord", "Two cases too wide")
        self.press_button("approvalNo")
        screen.wait_for(lambda: self.plan.approvals[approval.id].state is ApprovalState.SENT_BACK)
        self.assertTrue(any("Two cases too wide" in text for text in self.panel_texts()))
        self.assertFalse(self.plan.tasks[drawn].is_done, "there is work left in it")
        self.desk.do(edits.finish(self.plan, [drawn], at("2026-09-11T17:00")))
        self.press_button("approvalAgain")
        for _ in range(2):
            screen.wait_for(lambda: self.plan.approvals[approval.id].turn)
            self.press_button("approvalYes")
            screen.settle()
        screen.wait_for(lambda: self.plan.approvals[approval.id].state is ApprovalState.GIVEN)
        self.assertTrue(self.plan.tasks[approval.task].is_done)

    def test_a_drawing_is_named_handed_over_agreed_to_and_comes_back(self) -> None:
        self.desk.do(edits.save_resource(self.plan, Resource("r0", "Dara Kestrel", "a0", initials="DK")))
        drawn = self.id_of("Cases drawn")
        self.click_cell("Cases drawn")
        screen.keys("F9")
        screen.click(self.part("inspector.files"))
        self.fill("deliverableAdd", "Case drawings")
        screen.keys("Return")
        screen.wait_for(lambda: self.plan.deliverables)
        (made,) = self.plan.deliverables
        self.fill(f"deliverablePlace {made}", "https://museum.example/cases")
        screen.keys("Return")
        screen.wait_for(lambda: self.plan.deliverables[made].files == ("https://museum.example/cases",))
        screen.click(self.part(f"deliverableGiven {made}"), QPoint(8, 8))
        screen.wait_for(lambda: self.plan.deliverables[made].handed == at(NOW))
        screen.click(self.part(f"deliverableAsk {made}"))
        self.fill("approvalPeople", "dk")
        screen.keys("Return")
        screen.wait_for(lambda: self.plan.approvals)
        (approval,) = self.plan.approvals.values()
        self.assertEqual((approval.work, approval.deliverable), (drawn, made))
        self.fill("approvalWord", "No fixings on them")
        self.press_button("approvalNo")
        screen.wait_for(lambda: self.plan.deliverables[made].handed is None)
        self.window.side.show_page("inspector")
        screen.wait_for(lambda: any("sent it back: No fixings on them" in text for text in self.panel_texts()))
        screen.keys("ctrl+z")
        screen.wait_for(lambda: self.plan.deliverables[made].handed == at(NOW))


if __name__ == "__main__":
    unittest.main()
