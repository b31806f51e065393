"""What a task hands over, in the window: named, attached, handed over, agreed to, and asked for where it is owed."""

from __future__ import annotations

import unittest
from pathlib import Path

from PyQt6.QtWidgets import QCheckBox, QComboBox, QLineEdit, QPushButton, QWidget

from hexapod.control.attention import NeedKind
from hexapod.desktop.models import background
from hexapod.desktop.track.attention_table import HANDED
from hexapod.formats.attached import folder_of
from hexapod.plan import edits
from hexapod.plan.deliverables import Deliverable
from hexapod.plan.records import Resource
from tests.at_rest import wait_for
from tests.desktop.case import Qt, QTest, WindowCase, settle
from tests.support import at, set_clock


class Deliverables(WindowCase):
    ROWS = "Draw\nBuild"

    def setUp(self) -> None:
        set_clock(self, at("2026-09-10T12:00"))
        super().setUp()
        desk = self.desk
        desk.do(edits.save_resource(desk.plan, Resource("ada", "Ada Lane", "a", initials="AL")))
        self.draw = self.id_of("Draw")
        desk.go_to(self.draw)
        self.page = self.window.side.pages.inspector
        self.window.side.show_page("inspector")
        self.page.show_section("files")
        self.rest()

    def rest(self) -> None:
        settle()
        wait_for(background.is_idle)
        settle()

    def type_in(self, name: str, text: str) -> None:
        field = self.find(QLineEdit, name)
        field.setFocus()
        field.selectAll()
        QTest.keyClicks(field, text)
        QTest.keyClick(field, Qt.Key.Key_Return)
        self.rest()

    def add(self, name: str = "Drawings") -> Deliverable:
        self.type_in("deliverableAdd", name)
        return self.desk.plan.deliverables_of(self.draw)[-1]

    def there(self, made: Deliverable) -> Deliverable:
        return self.desk.plan.deliverables[made.id]

    def press(self, name: str, kind: type[QWidget] = QPushButton) -> None:  # type: ignore[override]
        self.find(kind, name).click()  # type: ignore[attr-defined]
        self.rest()

    def test_named_said_what_makes_it_good_attached_and_handed_over(self) -> None:
        made = self.add()
        self.assertIn("To come, by", self.side())
        self.type_in(f"deliverable {made.id}", "Case drawings")
        self.type_in(f"deliverableAsked {made.id}", "At 1:10")
        self.type_in(f"deliverablePlace {made.id}", "https://museum.example/a")
        self.press(f"deliverableGiven {made.id}", QCheckBox)
        found = self.there(made)
        self.assertEqual((found.name, found.asked, found.files), (
            "Case drawings", "At 1:10", ("https://museum.example/a",)))  # fmt: skip
        self.assertEqual((found.handed, found.by), (at("2026-09-10T12:00"), self.desk.session.who))
        self.assertIn(f"by {self.desk.session.who}", self.side())
        self.press(f"deliverableGiven {made.id}", QCheckBox)
        self.assertIsNone(self.there(made).handed)
        self.type_in(f"deliverable {made.id}", " ")
        self.assertEqual(self.there(made).name, "Case drawings", "it keeps a name")

    def test_files_are_looked_for_and_taken_along(self) -> None:
        made = self.add()
        away = Path(self.desk.session.workspace.path).parent.parent / "drawing.txt"
        away.write_text("lines")
        self.addCleanup(away.unlink)
        self.type_in(f"deliverablePlace {made.id}", str(away))
        self.type_in("attachPlace", "/nowhere/at/all.pdf")
        said = [b.accessibleName() for b in self.page.findChildren(QPushButton) if b.isVisible()]
        self.assertIn("all.pdf · not there", said)
        self.press("attachAlong")
        (place,) = self.there(made).files
        copied = folder_of(self.desk.session.workspace.path) / "drawing.txt"
        self.assertEqual(self.desk.session.workspace.path.parent / place, copied)
        self.assertEqual(copied.read_text(), "lines")

    def test_people_are_asked_to_agree_to_it_and_a_no_sends_it_back(self) -> None:
        made = self.add()
        self.press(f"deliverableAsk {made.id}")
        self.assertEqual(self.find(QComboBox, "approvalOf").currentText(), "What it hands over: Drawings")
        QTest.keyClicks(self.find(QLineEdit, "approvalPeople"), "AL")
        self.press("approvalAsk")
        (approval,) = self.desk.plan.approvals.values()
        self.assertEqual((approval.work, approval.deliverable), (self.draw, made.id))
        self.press("approvalYes")
        self.assertIn("“Drawings” was not handed over yet", self.side())
        self.desk.do(edits.deliver(self.desk.plan, made.id, "Ada Lane", at("2026-09-10T12:00")))
        self.rest()
        self.assertEqual([n.task for n in self.desk.attention.needs() if n.kind is NeedKind.ANSWER], [approval.task])
        QTest.keyClicks(self.find(QLineEdit, "approvalWord"), "No fixings")
        self.press("approvalNo")
        self.window.side.show_page("inspector")
        self.rest()
        self.assertIn("Ada Lane sent it back: No fixings", self.side())
        self.window.registry.qt("approvals.show").trigger()
        self.rest()
        self.press("approvalMore")
        self.assertIn("Approval of “Draw”", self.side())
        self.find(QPushButton, "approvalAsk")

    def test_what_is_done_and_not_handed_over_is_on_the_list_of_what_needs_somebody(self) -> None:
        made = self.add()
        self.desk.do(edits.finish(self.desk.plan, [self.draw], at("2026-09-08T17:00")))
        self.rest()
        self.assertIn("and it was not handed over", self.side())
        self.window.show_part("attention", "track")
        self.rest()
        table = self.window.track["attention"].table
        (need,) = [n for n in table.needs if n.kind is NeedKind.OWED]
        self.assertEqual((table.name(need), table.reason(need)), ("Drawings", "“Draw” ended Tue 8 Sep"))
        table.go(table.rows.index(need))
        self.assertEqual(table.chips(need)[0].words, HANDED)
        QTest.keyClick(table, Qt.Key.Key_Space)
        self.rest()
        self.assertEqual(self.there(made).handed, at("2026-09-10T12:00"))
        self.assertFalse([n for n in table.needs if n.kind is NeedKind.OWED])
        self.desk.undo()
        self.rest()
        self.assertIsNone(self.there(made).handed)

    def test_a_plan_that_is_only_read_offers_nothing_to_change(self) -> None:
        made = self.add()
        self.desk.session.workspace.read_only = True
        self.addCleanup(setattr, self.desk.session.workspace, "read_only", False)
        self.page.refresh_now()
        self.rest()
        for kind, name in ((QLineEdit, f"deliverable {made.id}"), (QCheckBox, f"deliverableGiven {made.id}"),
                           (QLineEdit, "deliverableAdd"), (QPushButton, f"deliverableAsk {made.id}")):  # fmt: skip
            self.assertFalse(self.find(kind, name).isEnabled(), name)


if __name__ == "__main__":
    unittest.main()
