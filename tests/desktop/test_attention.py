"""What needs somebody, in the window: each reason with what can be done at a press; notices, and who wants which."""

from __future__ import annotations

import os
import shutil
import tempfile
import unittest
from unittest.mock import patch

from PyQt6.QtWidgets import QCheckBox, QComboBox, QLineEdit

from hexapod.control.attention import Need, NeedKind
from hexapod.desktop.frame.walked import Heading
from hexapod.plan import edits
from hexapod.plan.notice_kinds import NoticeKind, NoticeWhen
from hexapod.plan.records import LinkType, Resource
from tests.at_rest import settle, wait_for
from tests.desktop.case import Qt, QTest, WindowCase
from tests.support import DAY, at, set_clock

NOW = at("2026-09-09T10:00")


class Attention(WindowCase):
    ROWS = "Survey\nDraw\nFrames\nOpen"

    def setUp(self) -> None:
        set_clock(self, NOW)
        data = tempfile.mkdtemp()
        self.addCleanup(shutil.rmtree, data, True)
        where = patch.dict(os.environ, {"XDG_DATA_HOME": data})
        where.start()
        self.addCleanup(where.stop)
        super().setUp()
        desk = self.desk
        hana = Resource("hana", "Hana Brook", "a0", initials="HB", email="hana@museum.example")
        desk.do(edits.save_resource(desk.plan, hana))
        desk.do(edits.assign(desk.plan, [self.id_of("Survey"), self.id_of("Draw")], "hana"))
        desk.do(edits.link(desk.plan, self.id_of("Survey"), self.id_of("Draw"), LinkType.FS))
        desk.do(edits.set_durations(desk.plan, [self.id_of("Frames")], 9 * DAY))
        desk.do(edits.set_durations(desk.plan, [self.id_of("Open")], 30 * DAY))
        self.window.show_part("attention")
        self.view = self.window.track["attention"]
        self.table = self.view.table
        settle()

    def kinds(self) -> dict[str, NeedKind]:
        plan = self.desk.plan
        return {plan.tasks[n.task].name: n.kind for n in self.table.needs if n.task is not None}

    def go_to(self, name: str) -> Need:
        row = next(i for i, r in enumerate(self.table.rows) if isinstance(r, Need) and r.task == self.id_of(name))
        self.table.go(row)
        need = self.table.rows[row]
        assert isinstance(need, Need)
        return need

    def press(self, name: str, words: str) -> None:
        need = self.go_to(name)
        for chip, box in self.table._placed(need, self.table.top_of(self.table.at)):
            if chip.words == words:
                QTest.mouseClick(self.table.viewport(), Qt.MouseButton.LeftButton, pos=box.center().toPoint())
                settle()
                return
        raise AssertionError(f"{words} is not offered for {name}")

    def test_each_need_is_acted_on_at_a_press_or_by_a_key(self) -> None:
        self.assertEqual(self.kinds(), {"Survey": NeedKind.OVER, "Draw": NeedKind.BLOCKED})
        self.assertIn("waits for Survey (HB)", self.table.reason(self.go_to("Draw")))
        self.press("Survey", "left…")
        editor = self.table._editor
        assert editor is not None
        QTest.keyClicks(editor, "1 d: two drawers are stuck")
        QTest.keyClick(editor, Qt.Key.Key_Return)
        settle()
        survey = self.desk.plan.tasks[self.id_of("Survey")]
        self.assertEqual((survey.rest, len(self.desk.plan.comments)), (DAY, 1))
        self.press("Survey", "done")
        self.assertTrue(self.desk.plan.tasks[survey.id].is_done)
        self.assertNotIn("Survey", self.kinds())
        self.press("Draw", "show")
        self.assertEqual((self.window.leg, self.desk.current), ("build", self.id_of("Draw")))

    def test_it_leads_to_what_holds_a_blocked_task(self) -> None:
        self.press("Draw", "what holds it")
        self.assertEqual((self.window.leg, self.desk.current), ("build", self.id_of("Survey")))

    def test_a_finish_beyond_its_target_leads_to_why(self) -> None:
        from msgspec.structs import replace

        found = replace(self.desk.plan.projects["p"], target_finish=at("2026-09-30T17:00"))
        self.desk.do(edits.save_project(self.desk.plan, found))
        settle()
        need = self.table.needs[0]
        self.assertIn(need.kind, (NeedKind.BEYOND, NeedKind.PASSED))
        self.table.act(need, self.table.chips(need)[0])
        settle()
        self.assertEqual(self.window.leg, "build")

    def test_days_and_project_narrow_it_and_the_vitals_lead_to_it(self) -> None:
        self.desk.attention.narrow(days=20)
        settle()
        self.assertEqual(self.kinds()["Frames"], NeedKind.DUE)
        self.assertTrue(any(isinstance(r, Heading) and r.words == "Due soon · 1" for r in self.table.rows))
        self.window.show_leg("build")
        vitals = self.window.topbar.vitals
        vitals.late.list_menu().aboutToShow.emit()
        last = vitals.late.list_menu().actions()[-1]
        self.assertEqual(last.text(), "All that needs somebody")
        last.trigger()
        settle()
        self.assertEqual(self.window.track.part, "attention")

    def test_notices_are_made_when_they_are_wanted_and_read_at_the_side(self) -> None:
        self.window.side.show_page("notices")
        settle()
        self.assertFalse(self.desk.notices.wanted, "nobody is written to unasked")
        wanted = self.window.findChild(QCheckBox, "noticesWanted")
        assert wanted is not None
        wanted.click()
        wait_for(lambda: len(self.desk.notices.letters()) >= 2)
        wait_for(lambda: not self.desk.notices._is_working)
        subjects = {letter.subject for letter in self.desk.notices.letters()}
        self.assertIn("Overdue: Survey (P)", subjects)
        before = len(self.desk.notices.letters())
        self.desk.notices.make(asked=True)
        wait_for(lambda: not self.desk.notices._is_working)
        self.assertEqual(len(self.desk.notices.letters()), before, "none twice")
        page = self.window.side.pages.notices
        page._read(self.desk.notices.letters()[0].file)
        settle()
        self.assertTrue(any("Hana Brook," in text for text in self.texts()))

    def texts(self) -> list[str]:
        from PyQt6.QtWidgets import QLabel

        return [w.text() for w in self.window.side.findChildren(QLabel)]

    def test_each_person_chooses_what_she_is_told_and_when(self) -> None:
        self.window.side.show_page("notices")
        self.window.side.pages.notices._turn()
        settle()
        box = [b for b in self.window.findChildren(QComboBox, "notices.moved") if b.isVisible()][-1]
        box.setCurrentIndex(box.findData(NoticeWhen.DAILY))
        box.activated.emit(box.currentIndex())
        settle()
        self.assertEqual(self.desk.plan.resources["hana"].notices, ((NoticeKind.MOVED, NoticeWhen.DAILY),))
        self.desk.undo()
        self.assertEqual(self.desk.plan.resources["hana"].notices, ())

    def test_who_else_is_told_and_reminders_are_typed_in_the_side(self) -> None:
        self.window.show_leg("build")
        self.desk.select([self.id_of("Frames")], self.id_of("Frames"))
        self.window.side.open_now()
        self.window.side.pages["inspector"].show_section("settings")
        settle()

        def type_into(name: str, text: str) -> None:
            line = [w for w in self.window.findChildren(QLineEdit, name) if not w.property("putAway")][-1]
            line.setText(text)
            line.editingFinished.emit()
            settle()

        type_into("taskAlsoTold", "hana")
        type_into("taskReminders", "2d, 10 days")
        frames = self.desk.plan.tasks[self.id_of("Frames")]
        self.assertEqual((frames.also_told, frames.reminders), (("hana",), (10, 2)))
        before = self.desk.plan
        type_into("taskAlsoTold", "nobody we know")
        type_into("taskReminders", "soon")
        self.assertIs(self.desk.plan, before, "what nobody can read changes nothing")


if __name__ == "__main__":
    unittest.main()
