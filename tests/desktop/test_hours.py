"""Hours in the window: a week typed as a table is, sheets, a team at a glance, the line at the side, and the clock."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QComboBox, QLabel, QLineEdit, QPushButton

from hexapod.control.weeks import SheetSign
from hexapod.control.worked import RunningClock
from hexapod.desktop.window import Window
from hexapod.plan import edits
from hexapod.plan.accounts import Log, SheetState, monday_of
from hexapod.plan.records import DAY as CLOCK_DAY
from hexapod.plan.records import Resource
from hexapod.session import Session
from tests.at_rest import wait_for
from tests.desktop.case import Qt, QTest, WindowCase, put_away, settle
from tests.support import at, set_clock

NOW = at("2026-09-09T10:00")  # a Wednesday
MONDAY = monday_of(NOW // CLOCK_DAY)


class Hours(WindowCase):
    ROWS = "Cases\n  Draw\n  Frames\nOpen"

    def setUp(self) -> None:
        self.now = NOW
        set_clock(self, lambda: self.now)
        super().setUp()
        desk = self.desk
        for person, name in (("hana", "Hana Brook"), ("ito", "Ito Vale")):
            desk.do(edits.save_resource(desk.plan, Resource(person, name, person, initials=name[0] + "X", rate=4000)))
        desk.do(edits.assign(desk.plan, [self.id_of("Draw"), self.id_of("Frames")], "hana"))
        desk.mine.be("hana")
        self.window.show_part("hours")
        self.view = self.window.track["hours"]
        self.table = self.view.week
        settle()

    def fill(self, text: str, key: Qt.Key = Qt.Key.Key_Return) -> None:
        QTest.keyClicks(self.table, text[:1])
        editor = self.table._editor
        assert editor is not None
        QTest.keyClicks(editor, text[1:])
        QTest.keyClick(editor, key)
        settle()

    def go(self, name: str, day: int) -> None:
        row = next(i for i, r in enumerate(self.table.rows) if getattr(r, "task", None) == self.id_of(name))
        self.table.setFocus()
        self.table.go(row)
        self.table.go_to_day(day)

    def logs(self) -> list[tuple[str, int, int, str]]:
        plan = self.desk.plan
        found = sorted(plan.logs.values(), key=lambda x: (x.day, x.task, x.minutes))
        return [(plan.tasks[x.task].name, x.day - MONDAY, x.minutes, x.note) for x in found]

    def button(self, name: str) -> QPushButton:
        found = self.window.findChild(QPushButton, name)
        assert found is not None
        return found

    def test_a_week_is_typed_by_keys_and_every_figure_follows(self) -> None:
        self.go("Draw", 0)
        self.fill("7:30 labels cut")
        self.go("Draw", 1)
        self.fill("2h 60%")
        self.assertEqual(self.logs(), [("Draw", 0, 450, "labels cut"), ("Draw", 1, 120, "")])
        task = self.desk.plan.tasks[self.id_of("Draw")]
        self.assertEqual((task.percent, task.actual_start), (60.0, at("2026-09-07T08:00")))
        self.go("Draw", 0)
        self.fill("8")
        self.assertEqual(self.logs()[0], ("Draw", 0, 480, "labels cut"), "the note stays")
        week = self.table.week
        assert week is not None
        self.assertEqual((week.by_day[:2], week.total), ((480, 120), 600))
        self.go("Draw", 1)
        QTest.keyClick(self.table, Qt.Key.Key_Delete)
        settle()
        self.assertEqual(len(self.desk.plan.logs), 1)
        self.desk.undo()
        settle()
        self.assertEqual(len(self.desk.plan.logs), 2)
        self.assertIn("10 h", self.window.findChild(QLabel, "hoursTitle").text())  # type: ignore[union-attr]

    def test_what_cannot_be_is_said_and_what_was_typed_stays(self) -> None:
        for day, text, word in ((3, "2h", "still to come"), (0, "30", "more than a day"), (0, "pins", "no hours")):
            self.go("Draw", day)
            self.fill(text)
            editor = self.table._editor
            assert editor is not None, text
            self.assertIn(word, " ".join(self.texts(self.window)))
            self.assertEqual(editor.text(), text)
            self.table.close_editor()
        self.assertEqual(self.logs(), [])
        self.view.work.add_row(self.id_of("Open"))
        settle()
        self.go("Open", 0)
        self.fill("1h")
        self.assertEqual(self.logs(), [("Open", 0, 60, "")])
        self.assertIn("is not on “Open”", self.said())

    def test_hand_in_send_back_correct_approve(self) -> None:
        self.go("Draw", 0)
        self.fill("8")
        self.button("sheetHandIn").click()
        settle()
        self.go("Draw", 1)
        self.fill("3")
        self.assertEqual(len(self.desk.plan.logs), 1)
        self.assertIn("handed in", " ".join(self.texts(self.window)))
        self.table.close_editor()
        self.button("sheetSendBack").click()
        settle()
        self.assertIn("needs a word", self.said())
        word = self.window.findChild(QLineEdit, "sheetWord")
        assert word is not None
        word.setText("Monday was a holiday")
        self.button("sheetSendBack").click()
        settle()
        self.assertIn("Monday was a holiday", self.window.findChild(QLabel, "sheetState").text())  # type: ignore[union-attr]
        self.go("Draw", 0)
        self.fill("6")
        self.button("sheetHandIn").click()
        settle()
        self.view._go("team", None, None)
        settle()
        team = self.view.team
        team.setFocus()
        self.assertIs(team.cell.sign, SheetSign.HANDED_IN)
        QTest.keyClick(team, Qt.Key.Key_Space)
        settle()
        sheet = self.desk.plan.sheet_in(("hana", MONDAY))
        assert sheet is not None
        self.assertEqual((sheet.state, sheet.by), (SheetState.APPROVED, "Hana Brook"))
        QTest.keyClick(team, Qt.Key.Key_Return)
        settle()
        self.assertEqual((self.view.work.way, self.view.work.person), ("week", "hana"))
        self.button("sheetCorrect").click()
        self.go("Draw", 0)
        self.fill("4")
        self.assertEqual(self.logs(), [("Draw", 0, -120, ""), ("Draw", 0, 360, "")], "a correction is its own row")

    def test_the_line_at_the_side_logs_as_somebody_else_and_the_bar_fills(self) -> None:
        self.desk.select((self.id_of("Draw"),), self.id_of("Draw"))
        self.window.registry.qt("hours.log").trigger()
        settle()
        who = self.window.findChild(QComboBox, "logWho")
        assert who is not None
        who.setCurrentIndex(who.findData("ito"))
        who.activated.emit(who.currentIndex())
        line = self.window.findChild(QLineEdit, "logLine")
        assert line is not None
        line.setText("2026-09-08 3h pins cleaned")
        settle()
        self.assertIn("3 h on", self.window.findChild(QLabel, "logSays").text())  # type: ignore[union-attr]
        QTest.keyClick(line, Qt.Key.Key_Return)
        settle()
        (log,) = self.desk.plan.logs.values()
        self.assertEqual((log.resource, log.day, log.minutes), ("ito", NOW // CLOCK_DAY - 1, 180))
        said = " ".join(self.texts(self.window.side))
        self.assertIn("3 h logged of 16 h planned, △ 3 h over at the end", said)
        self.assertIn("pins cleaned", said)
        line = self.window.findChildren(QLineEdit, "logLine")[-1]
        line.setFocus()
        QTest.keyClick(line, Qt.Key.Key_Escape)
        settle()
        self.assertNotEqual(self.window.side.shown, "log")
        self.assertTrue(self.view.isAncestorOf(self.window.focusWidget()), "the keys go on where they were")

    def test_a_clock_runs_over_closing_and_one_that_was_forgotten_is_asked_about(self) -> None:
        work = self.desk.hours
        work.start_clock(self.id_of("Draw"))
        settle()
        self.assertTrue(self.window.rail.clock.isVisible())
        path = self.desk.session.workspace.path
        put_away(self.window)
        self.now += 42
        session = Session.open(path)
        session.compute()
        window = Window(session, lambda *_: None)
        self.addCleanup(put_away, window)
        window.show()
        window.desk.computed.emit()
        wait_for(lambda: window.rail.clock.isVisible())
        self.assertEqual(window.rail.clock.text(), "0:42")
        task = next(t.id for t in window.desk.plan.tasks.values() if t.name == "Frames")
        window.desk.hours.start_clock(task)  # a second one stops the first
        settle()
        self.assertEqual([(x.minutes, x.day) for x in window.desk.plan.logs.values()], [(42, NOW // CLOCK_DAY)])
        self.now += 3 * CLOCK_DAY
        window.desk.select((task,), task)
        window.registry.qt("hours.clock").trigger()
        settle()
        asked = window.findChild(QLineEdit, "clockAsked")
        assert asked is not None
        asked.setText("many")
        QTest.keyClick(asked, Qt.Key.Key_Return)
        self.assertEqual(window.desk.hours.running, RunningClock(task, NOW + 42), "nothing is lost by what is unread")
        asked.setText("3h")
        QTest.keyClick(asked, Qt.Key.Key_Return)
        settle()
        self.assertEqual(sorted(x.minutes for x in window.desk.plan.logs.values()), [42, 180])
        self.assertIsNone(window.desk.hours.running)

    def test_a_plus_in_own_work_logs_and_sums_lead_to_the_week(self) -> None:
        self.window.show_part("mine")
        settle()
        table = self.window.track["mine"].table
        table.setFocus()
        QTest.keyClicks(table, "+")
        editor = table._editor
        assert editor is not None
        QTest.keyClicks(editor, "45m drawn")
        QTest.keyClick(editor, Qt.Key.Key_Return)
        settle()
        self.assertEqual([x[2:] for x in self.logs()], [(45, "drawn")])
        self.window.show_part("hours")
        self.view._go("spent", None, None)
        self.desk.hours.add_up(by="person")
        settle()
        sums = self.view.sums
        self.assertEqual([(r.key, r.hours.logged) for r in sums.rows], [("hana", 45)])
        sums.edit("")
        settle()
        self.assertEqual((self.desk.hours.way, self.desk.hours.person), ("week", "hana"))

    def test_in_and_out_with_a_look_before(self) -> None:
        self.desk.do(edits.save_logs(self.desk.plan, [Log("x", self.id_of("Draw"), "hana", MONDAY, 60)]))
        page = self.window.side.pages["log_files"]
        self.window.registry.qt("hours.files").trigger()
        settle()
        path = Path(self.desk.session.workspace.path).with_name("Hours.csv")
        page.write(path)
        wait_for(path.exists)
        wait_for(lambda: "1 log written" in self.said())
        text = path.read_text(encoding="utf-8-sig") + "2026-09-08,HX,,,Frames,2,more\n2026-09-08,NN,,,Frames,2,\n"
        path.write_text(text, encoding="utf-8")
        page.read(path)
        wait_for(lambda: page.proposed is not None)
        settle()
        said = " ".join(self.texts(page))
        self.assertIn("1 log to take", said)
        self.assertIn("1 is there already", said)
        self.assertIn("Person", said)
        self.assertEqual(len(self.desk.plan.logs), 1, "nothing is taken before it is seen")
        self.button("logsTake").click()
        settle()
        self.assertEqual(len(self.desk.plan.logs), 2)
        self.desk.undo()
        self.assertEqual(len(self.desk.plan.logs), 1)


class Reading(WindowCase):
    def test_a_workspace_that_is_only_read_logs_nothing(self) -> None:
        path = self.desk.session.workspace.path
        put_away(self.window)
        session = Session.open(path, read_only=True)
        session.compute()
        window = Window(session, lambda *_: None)
        self.addCleanup(put_away, window)
        window.show()
        window.desk.computed.emit()
        for part in ("hours", "money", "drift", "value"):
            window.show_part(part)
            settle()
        window.registry.qt("hours.log").trigger()
        settle()
        self.assertFalse(any(b.isEnabled() for b in window.findChildren(QPushButton, "clockStart") if b.isVisible()))
