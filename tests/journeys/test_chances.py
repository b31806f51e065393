"""How sure is it, and what may happen: by real keys and presses."""

from __future__ import annotations

from msgspec.structs import replace
from PyQt6.QtWidgets import QCheckBox, QLineEdit

from hexapod.plan import edits
from tests.journeys.case import Journey, screen
from tests.support import DAY, at, set_clock


class HowSure(Journey):
    ROWS = "Cases\n  Draw\n  Frames\n  Glass\nOpen"

    def setUp(self) -> None:
        set_clock(self, at("2026-09-07T09:00"))
        super().setUp()
        for name, days in (("Draw", 5), ("Frames", 10), ("Glass", 4), ("Open", 0)):
            self.desk.do(edits.set_durations(self.plan, [self.id_of(name)], days * DAY))
        for one, other in (("Draw", "Frames"), ("Frames", "Glass"), ("Glass", "Open")):
            self.desk.do(edits.link(self.plan, self.id_of(one), self.id_of(other)))
        screen.settle()

    def field(self, name: str) -> QLineEdit:
        found = [w for w in self.window.findChildren(QLineEdit, name) if w.isVisible()]
        self.assertTrue(found, name)
        return found[-1]

    def rounds(self) -> int:
        """Until the rounds that go by themselves are done: the date that 8 in 10 hold."""
        chances = self.desk.chances
        screen.wait_for(lambda: chances.outlook is not None and chances.outlook.found.rounds == 10_000)
        screen.settle()
        return int(chances.of_project("p").quantile(0.8))

    def test_a_target_is_promised_that_holds_eight_times_in_ten(self) -> None:
        for name, text in (("Draw", "4-9 d"), ("Frames", "8 10 20 d"), ("Glass", "3-8 d")):
            self.type_length(name, text)
            screen.wait_for(lambda name=name: self.plan.tasks[self.id_of(name)].estimate)
        sure = self.rounds()
        finish = self.desk.schedule.project_finish["p"]
        self.assertLess(finish, sure, "the plan alone would promise too much")
        screen.keys("ctrl+alt+9")
        screen.wait_for(lambda: self.window.shows("trying"))
        view = self.window.trying["range"]
        self.desk.do(edits.save_project(self.plan, replace(self.plan.projects["p"], target_finish=finish)))
        self.rounds()
        self.assertRegex(view.sentence, r"Only [1-4] times? in 10")
        self.desk.do(edits.save_project(self.plan, replace(self.plan.projects["p"], target_finish=sure)))
        self.rounds()
        self.assertIn("8 times in 10", view.sentence)
        self.assertFalse(self.desk.chances.doubts())
        self.assertIn("8 in 10 by", self.window.topbar.vitals.sure.accessibleName())

    def test_a_risk_is_answered_and_the_date_that_it_buys_is_seen(self) -> None:
        self.type_length("Frames", "9-12 d")
        self.rounds()
        screen.keys("ctrl+alt+i")
        screen.wait_for(lambda: self.field("riskName").hasFocus())
        screen.type_text("Glass is broken")
        for name, text in (("riskChance", "1 in 2"), ("riskDelays", "1.3: 4-8 d"), ("riskChanceAfter", "5 %")):
            screen.click(self.field(name))
            screen.type_text(text)
        screen.keys("Return")
        screen.wait_for(lambda: self.plan.risks)
        before = self.rounds()
        risks = self.desk.risks
        screen.wait_for(lambda: risks.worth() is not None)
        screen.settle()
        view = self.window.trying["risks"]
        self.assertIn("“Glass is broken” moves 8 in 10 most", view.sentence)
        self.assertRegex(view.worth.text(), r"its answer buys \d")
        bought = next(iter(risks.worth().values()))
        view.table.setFocus()
        screen.keys("F2")
        screen.wait_for(lambda: self.field("riskName").hasFocus())
        taken = next(w for w in self.window.findChildren(QCheckBox, "riskAnswered") if w.isVisible())
        taken.setFocus()
        screen.keys("space")
        self.assertTrue(taken.isChecked())
        screen.click(self.field("riskName"))
        screen.keys("Return")
        screen.wait_for(lambda: next(iter(self.plan.risks.values())).answered)
        after = self.rounds()
        self.assertLess(after, before, "8 in 10 is sooner now")
        outlook = self.desk.chances.outlook
        self.assertAlmostEqual(bought.added - bought.added_after, outlook.work_between("p", after, before), delta=DAY)
        screen.keys("ctrl+z")
        self.assertEqual(self.rounds(), before)
