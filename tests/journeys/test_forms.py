"""Somebody without the program fills in a form in a browser; it becomes an answer in the round, and is taken."""

from __future__ import annotations

import unittest
from pathlib import Path

from hexapod.control.round import What
from hexapod.plan import edits
from hexapod.plan.records import Resource
from tests.at_rest import wait_for
from tests.journeys.browser import DRIVER, Browser
from tests.journeys.case import Journey, screen
from tests.support import DAY, at, set_clock


@unittest.skipUnless(DRIVER, "needs chromium-driver")
class ByForm(Journey):
    ROWS = "Drawers cleaned\nGlass fitted\nCases closed"

    def setUp(self) -> None:
        set_clock(self, at("2026-09-11T12:00"))
        super().setUp()
        self.desk.do(edits.save_resource(self.plan, Resource("hana", "Hana Brook", "a0", initials="HB")))
        self.desk.do(edits.set_durations(self.plan, list(self.plan.tasks), 3 * DAY))
        self.desk.do(edits.assign(self.plan, list(self.plan.tasks), "hana"))
        self.desk.do(edits.set_status_date(self.plan, "p", at("2026-09-07T08:00")))
        self.folder = Path(self.path).parent / "forms"
        self.folder.mkdir()
        screen.settle()

    def test_a_page_filled_in_elsewhere_becomes_answers_and_is_taken(self) -> None:
        screen.keys("ctrl+4", "ctrl+alt+f")
        work = self.desk.forms
        work.set_folder(str(self.folder))
        screen.settle()
        self.press_button("formsWrite")
        page = self.folder / "form Hana Brook.html"
        wait_for(page.exists)
        wait_for(lambda: bool(list(self.folder.glob("*.xlsx"))))
        browser = Browser(self.folder)
        try:
            browser.open(page)
            drawers, glass = (
                f'section[data-task="{self.id_of(name)}"]' for name in ("Drawers cleaned", "Glass fitted")
            )
            browser.type_into(f"{glass} input[name=left]", "some")
            browser.press("#save")
            self.assertIn("Glass fitted", browser.text_of("#says"))
            self.assertEqual(list(self.folder.glob("*.json")), [], "what cannot be read is not saved")
            for _ in "some":
                browser.type_into(f"{glass} input[name=left]", "\ue003")
            browser.type_into(f"{glass} input[name=left]", "1 d")
            browser.type_into(f"{drawers} input[name=done]", "09092026")
            browser.type_into(f"{drawers} input[name=note]", "two pins <b>lost</b>")
            browser.press("#save")
            browser.saved("told*.json")
            self.assertEqual([c for c in browser.complaints() if "favicon" not in c], [])
        finally:
            browser.close()
        wait_for(lambda: any(back.laid for back in work.back))
        self.assertEqual(self.plan.tasks[self.id_of("Drawers cleaned")].actual_finish, None, "nothing is merged unseen")
        told = self.desk.round.answers[self.id_of("Drawers cleaned")]
        self.assertEqual((told.what, told.at, told.who), (What.DONE, at("2026-09-09T17:00"), "HB"))
        screen.keys("ctrl+alt+t")
        screen.settle()
        self.assertEqual(self.plan.tasks[self.id_of("Drawers cleaned")].actual_finish, at("2026-09-09T17:00"))
        self.assertEqual(self.plan.tasks[self.id_of("Glass fitted")].rest, DAY)
        self.assertEqual([c.text for c in self.plan.comments.values()], ["two pins <b>lost</b>"])
        work.look()
        wait_for(lambda: not work._folder._reading.is_under_way)
        self.assertEqual(self.desk.round.answers, {}, "answers are not laid twice")
