"""What it took, what it cost, and why it is late: the key journeys by real keys and presses, in the museum."""

from __future__ import annotations

from PyQt6.QtWidgets import QComboBox, QLabel, QLineEdit

from hexapod.demo.museum import build_demo
from hexapod.plan.accounts import SheetState, monday_of
from hexapod.plan.records import DAY
from tests.journeys.case import Journey, screen
from tests.support import at, set_clock

NOW = at("2026-10-12T09:30")


class AtTheMuseum(Journey):
    def setUp(self) -> None:
        set_clock(self, NOW)
        super().setUp()

    def open(self) -> None:
        if not self.path.with_suffix(".built").exists() and self.path.exists():
            self.path.unlink()
            build_demo(self.path)
            self.path.with_suffix(".built").touch()
        super().open()

    def person(self, initials: str) -> str:
        return next(r.id for r in self.plan.resources.values() if r.initials == initials)

    def field(self, name: str) -> QLineEdit:
        found = [w for w in self.window.findChildren(QLineEdit, name) if w.isVisible()]
        self.assertTrue(found, name)
        return found[-1]

    def side(self) -> str:
        found = [w.text() for w in self.window.side.findChildren(QLabel) if w.isVisible()]
        return " ".join(found)

    def test_log_an_hour_as_somebody_else_and_see_the_bar_fill(self) -> None:
        task = self.id_of("Amber pieces conserved")
        self.desk.go_to(task)
        screen.settle()
        before = len(self.plan.logs)
        screen.keys("ctrl+alt+h")
        screen.wait_for(lambda: self.field("logLine").hasFocus())
        who = next(w for w in self.window.findChildren(QComboBox, "logWho") if w.isVisible())
        self.window.side.pages.log.person = self.person("MA")
        who.setCurrentIndex(who.findData(self.person("MA")))
        screen.type_text("2026-10-09 1h first tray")
        screen.settle()
        self.assertIn("1 h on", self.side())
        screen.keys("Return")
        screen.wait_for(lambda: len(self.plan.logs) == before + 1)
        screen.settle()
        (log,) = self.plan.logs_about(task)
        self.assertEqual((log.resource, log.minutes, log.note), (self.person("MA"), 60, "first tray"))
        self.assertIn("1 h logged of 56 h planned", self.side())
        self.assertIsNotNone(self.plan.tasks[task].actual_start, "what is worked on has begun")

    def test_hand_in_send_back_correct_approve(self) -> None:
        week = (self.person("RO"), monday_of(NOW // DAY) - 7)
        screen.keys("ctrl+alt+5")
        screen.wait_for(lambda: self.window.track.part == "hours")
        self.desk.hours.look_at(*week)
        screen.settle()
        self.press_button("sheetHandIn")
        screen.wait_for(lambda: self.plan.sheet_in(week) is not None)
        screen.click(self.field("sheetWord"))
        screen.type_text("Thursday was a half day")
        self.press_button("sheetSendBack")
        screen.wait_for(lambda: self.plan.sheet_in(week).state is SheetState.SENT_BACK)
        table = self.window.track["hours"].week
        row = next(i for i, r in enumerate(table.rows) if hasattr(r, "task"))
        box = table.viewport().rect()
        box.setRect(table._left_of(3) + 4, table.top_of(row) + 4, 50, 20)
        screen.click(table.viewport(), box)
        screen.type_text("4")
        screen.keys("Return")
        screen.wait_for(lambda: table.week.by_day[3] == 240)
        self.press_button("sheetHandIn")
        screen.settle()
        self.press_button("sheetApprove")
        screen.wait_for(lambda: self.plan.sheet_in(week).state is SheetState.APPROVED)
        words = [row.words for row in self.desk.session.history[-4:]]
        self.assertEqual([w.split(" ")[0] for w in words], ["Send", "4", "Hand", "Approve"])

    def test_find_what_burst_october_and_tell_the_board_whether_the_money_will_do(self) -> None:
        screen.keys("ctrl+alt+6")
        screen.wait_for(lambda: self.window.track.part == "money")
        table = self.window.track["money"].table
        october = next(i for i, row in enumerate(table.rows) if row.money.is_over)
        self.assertEqual(table.name_of(table.rows[october]), "October 2026")
        screen.click(table.viewport(), table.viewport().rect().adjusted(0, 0, 0, -table.viewport().height() + 40))
        table.setFocus()
        while table.at < october:
            screen.keys("Down")
        screen.keys("Return")
        screen.wait_for(lambda: "Entries" in self.side())
        self.assertIn("33,010", table.text_of(table.rows[october], "spent"))
        shown = self.window.side.findChildren(QLabel)
        self.assertTrue(any("18,900" in w.text() or "Entries" in w.text() for w in shown if w.isVisible()))
        self.assertIn("will be lacking", self.window.track["money"].sentence)
        screen.keys("ctrl+alt+8")
        screen.wait_for(lambda: self.window.track.part == "value")
        screen.settle()
        self.assertIn("at this pace it takes", self.window.track["value"].sentence)

    def test_find_the_edit_that_made_the_opening_late(self) -> None:
        screen.keys("ctrl+alt+7")
        screen.wait_for(lambda: self.window.track.part == "drift")
        screen.wait_for(lambda: self.desk.drift.replay is not None)
        table = self.window.track["drift"].table
        while table.current.name != "Gallery opens":
            at_before = table.at
            screen.keys("Down")
            screen.wait_for(lambda before=at_before: table.at != before)
        screen.settle()
        parts = self.desk.drift.parts()
        self.assertEqual(sum(p.minutes for p in parts), table.current.drift)
        edits = [p.edit.words for p in parts if p.edit.words.startswith("Set the duration")]
        self.assertEqual(len(edits), 3)
        self.assertIn("Case frames erected", edits[0])
        first = next(p for p in parts if "Case frames" in p.edit.words)
        self.assertEqual((first.minutes, first.edit.who), (2 * 480, "Joiner Corin Vasper"))
