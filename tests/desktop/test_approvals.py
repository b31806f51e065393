"""Approvals in the window: asked for at a row, answered at the side, in the lists of what waits."""

from __future__ import annotations

import unittest

from PyQt6.QtWidgets import QCheckBox, QComboBox, QLineEdit, QPushButton

from hexapod.control.attention import NeedKind
from hexapod.plan import edits
from hexapod.plan.approvals import ApprovalState
from hexapod.plan.records import Resource
from tests.desktop.case import QTest, WindowCase, settle
from tests.support import at, set_clock


class Approvals(WindowCase):
    ROWS = "Draw\nBuild\nOpen"

    def setUp(self) -> None:
        set_clock(self, at("2026-09-10T12:00"))
        super().setUp()
        desk = self.desk
        for who, name in (("ada", "Ada Lane"), ("bo", "Bo Reed")):
            desk.do(
                edits.save_resource(desk.plan, Resource(who, name, f"a{who}", initials=name[:1] + name[4:5].upper()))
            )
        desk.do(edits.link(desk.plan, self.id_of("Draw"), self.id_of("Build")))
        desk.go_to(self.id_of("Draw"))
        self.window.registry.qt("approvals.show").trigger()
        settle()

    def type_into(self, name: str, text: str) -> None:
        field = self.find(QLineEdit, name)
        field.clear()
        QTest.keyClicks(field, text)

    def push(self, name: str) -> None:
        self.find(QPushButton, name).click()
        settle()

    def ask(self) -> None:
        self.type_into("approvalPeople", "ada lane, bo reed")
        self.push("approvalAsk")

    def approval(self):  # type: ignore[no-untyped-def]
        (found,) = self.desk.plan.approvals.values()
        return found

    def needs(self) -> list[str]:
        return [n.task for n in self.desk.attention.needs() if n.kind is NeedKind.ANSWER]

    def test_asked_at_a_row_and_answered_in_turn(self) -> None:
        self.type_into("approvalPeople", "nobody")
        self.push("approvalAsk")
        self.assertIn("“nobody” is nobody", self.side())
        self.ask()
        self.assertEqual(self.outline(), ["Draw", "Draw approved", "Build", "Open"])
        self.assertIn("Waits for an answer", self.side())
        self.assertEqual(self.needs(), [], "the work is not done yet")
        self.push("approvalYes")
        self.assertIn("not done yet", self.side())
        self.desk.do(edits.finish(self.desk.plan, [self.id_of("Draw")], at("2026-09-08T17:00")))
        settle()
        self.assertEqual(self.needs(), [self.id_of("Draw approved")])
        self.assertEqual(self.find(QComboBox, "approvalWho").currentText(), "Ada Lane")
        self.push("approvalYes")
        self.assertEqual(self.find(QComboBox, "approvalWho").currentText(), "Bo Reed")
        self.push("approvalYes")
        self.assertIs(self.approval().state, ApprovalState.GIVEN)
        self.assertTrue(self.desk.plan.tasks[self.approval().task].is_done)
        self.assertEqual(self.needs(), [])
        self.desk.undo()
        self.assertFalse(self.desk.plan.tasks[self.approval().task].is_done)

    def test_no_goes_back_with_a_word_and_stands_among_what_needs_somebody(self) -> None:
        self.find(QCheckBox, "approvalAside").click()
        self.ask()
        self.desk.do(edits.finish(self.desk.plan, [self.id_of("Draw")], at("2026-09-08T17:00")))
        settle()
        self.push("approvalNo")
        self.assertIn("Say why not", self.side())
        self.type_into("approvalWord", "No lift")
        self.push("approvalNo")
        self.assertIn("Sent back", self.side())
        self.assertFalse(self.desk.plan.tasks[self.id_of("Draw")].is_done)
        self.window.show_part("attention")
        settle()
        table = self.window.track["attention"].table
        need = next(n for n in self.desk.attention.needs() if n.kind is NeedKind.ANSWER)
        self.assertEqual(table.reason(need), "Ada Lane said no: No lift")
        self.window.show_part("requests", "telling")
        settle()
        view = self.window.telling["requests"]
        self.assertIn(self.approval(), view.table.rows)
        view.table.go(1)
        settle()
        self.assertIn("Sent back", self.side())
        self.push("approvalAgain")
        self.assertIs(self.approval().state, ApprovalState.OPEN)
        self.push("approvalRemove")
        self.assertFalse(self.desk.plan.approvals)

    def test_a_route_is_kept_and_taken_again(self) -> None:
        self.type_into("approvalPeople", "Bo Reed, Ada Lane")
        self.type_into("approvalRouteName", "Board")
        self.push("approvalKeep")
        (route,) = self.desk.plan.routes.values()
        self.assertEqual(route.people, ("bo", "ada"))
        box = self.find(QComboBox, "approvalRoute")
        box.setCurrentIndex(1)
        box.activated.emit(1)
        settle()
        self.push("approvalAsk")
        self.assertEqual(self.approval().people, ("bo", "ada"))

    def test_those_who_are_asked_find_it_among_their_own(self) -> None:
        self.ask()
        mark = self.approval().task
        self.assertEqual([a.resource for a in self.desk.plan.assignments_of(mark)], ["ada", "bo"])


if __name__ == "__main__":
    unittest.main()
