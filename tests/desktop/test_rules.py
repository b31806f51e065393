"""The engine's rules in the window: limits and settings, links and gaps, conflicts, soundness, repeating, calendars."""

from __future__ import annotations

import unittest
from datetime import date

from msgspec.structs import replace
from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QCheckBox, QComboBox, QLineEdit, QPlainTextEdit, QPushButton, QWidget

from hexapod.plan import edits
from hexapod.plan.records import Calendar, Direction, Gap, LimitKind, TaskKind
from hexapod.worktime.clock import day_number, iso
from tests.desktop.case import Qt, QTest, WindowCase, settle
from tests.support import DAY, at


class Panel(WindowCase):
    def part(self, kind: type, name: str) -> QWidget:
        found = self.wait_for(lambda: [w for w in self.window.findChildren(kind, name) if w.isVisible()])
        return found[-1]  # type: ignore[index]

    def fill(self, name: str, text: str, *, enter: bool = True) -> None:
        line = self.part(QLineEdit, name)
        line.setFocus()
        line.selectAll()
        QTest.keyClicks(line, text)
        if enter:
            QTest.keyClick(line, Qt.Key.Key_Return)
        settle()

    def choose(self, name: str, data: object) -> None:
        box = self.part(QComboBox, name)
        box.setCurrentIndex(box.findData(data))
        box.activated.emit(box.currentIndex())
        settle()

    def click(self, name: str) -> None:
        QTest.mouseClick(self.part(QPushButton, name), Qt.MouseButton.LeftButton)
        settle()

    def inspect(self, name: str, section: str) -> None:
        self.desk.go_to(self.id_of(name))
        self.window.side.show_page("inspector")
        self.window.side.pages["inspector"].show_section(section)

    def task(self, name: str):  # type: ignore[no-untyped-def]
        return self.desk.plan.tasks[self.id_of(name)]


class Settings(Panel):
    def test_kind_lateness_limits_and_target_are_one_edit_each(self) -> None:
        self.inspect("Draw", "settings")
        self.choose("taskKind", TaskKind.MILESTONE)
        self.assertEqual(self.task("Draw").kind, TaskKind.MILESTONE)
        QTest.mouseClick(self.part(QCheckBox, "asLate"), Qt.MouseButton.LeftButton, pos=QPoint(8, 8))
        self.assertTrue(self.task("Draw").as_late_as_possible)
        settle()
        self.choose("limitKind", LimitKind.FINISH_NO_LATER)
        self.fill("limitDate", "2026-09-10")
        (limit,) = self.task("Draw").limits
        self.assertEqual((limit.kind, iso(limit.at), limit.by), (
            LimitKind.FINISH_NO_LATER, "2026-09-10T17:00", self.desk.session.who))  # fmt: skip
        self.fill("taskTarget", "someday")
        self.assertTrue(any("not a date" in text for text in self.texts(self.window.side)))
        self.window.side.pages["inspector"].show_section("dates")
        self.assertTrue(any(f"set by {limit.by}" in text for text in self.texts(self.window.side)))
        self.assertTrue(any("As late as it can" in text for text in self.texts(self.window.side)))

    def test_notes_tags_and_comments_are_kept_with_who_said_them(self) -> None:
        self.inspect("Draw", "talk")
        notes = self.part(QPlainTextEdit, "taskNotes")
        notes.setFocus()
        QTest.keyClicks(notes, "Two layers")
        QTest.keyClick(notes, Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.task("Draw").notes, "Two layers")
        settle()
        self.fill("taskTags", "glass, loan , glass")
        self.assertEqual(self.task("Draw").tags, ("glass", "loan"))
        self.window.side.pages.inspector.show_section("files")
        self.fill("attachPlace", "https://example.org/plan")
        self.assertEqual(self.task("Draw").attachments, ("https://example.org/plan",))
        self.window.side.pages.inspector.show_section("talk")
        QTest.keyClicks(self.part(QPlainTextEdit, "commentText"), "Ask @MO first")
        self.click("commentSay")
        (comment,) = self.desk.plan.comments_about(self.id_of("Draw"))
        self.assertEqual((comment.who, comment.text), (self.desk.session.who, "Ask @MO first"))
        self.assertIn("Ask @MO first", self.texts(self.window.side))


class Links(Panel):
    def setUp(self) -> None:
        super().setUp()
        self.desk.do(edits.link(self.desk.plan, self.id_of("Survey"), self.id_of("Draw")))

    def test_a_link_that_only_warns_is_a_conflict_with_ways_out(self) -> None:
        (key,) = self.desk.plan.links
        self.desk.link_asked.emit(key)
        self.fill("linkLag", "50 % later", enter=False)
        self.choose("linkGap", Gap.WARN)
        self.click("formSave")
        (link,) = self.desk.plan.links.values()
        self.assertEqual((link.lag_percent, link.gap), (50, Gap.WARN))
        self.desk.do(edits.set_durations(self.desk.plan, [self.id_of("Survey")], 9 * DAY))
        self.wait_for(lambda: self.window.topbar.vitals.conflicts.text_shown == "1")
        self.inspect("Draw", "dates")
        self.wait_for(lambda: any("Overlaps “Survey”" in text for text in self.texts(self.window.side)))
        way = self.wait_for(lambda: [b for b in self.window.side.findChildren(QPushButton)
                                     if b.text() == "Move it behind what it waits for"])  # fmt: skip
        QTest.mouseClick(way[0], Qt.MouseButton.LeftButton)  # type: ignore[index]
        self.wait_for(lambda: self.window.topbar.vitals.conflicts.text_shown == "0")

    def test_a_cell_says_every_kind_of_lag_and_reads_it_back(self) -> None:
        for text in (
            "1 SS 2 d later",
            "1 50 % later",
            "1 24 h elapsed later",
            "1 FF 3 h by the project's calendar sooner",
        ):
            self.go_to("Draw", 4)
            self.grid.edit_current()
            self.editor().selectAll()
            self.type(text, Qt.Key.Key_Return)
            shown = self.grid.rows.index(self.desk.position[self.id_of("Draw")], 4).data()
            self.assertEqual(shown.replace("1 d elapsed", "24 h elapsed"), text)


class Dates(Panel):
    def test_what_is_understood_is_shown_before_it_is_taken(self) -> None:
        self.go_to("Open", 3)
        self.type("2026-10-1")
        self.type("5")
        shown = self.editor().parent().findChild(QWidget, "cellReason")
        self.assertIn("not before Thu 15 Oct 2026", shown.text())
        self.press(Qt.Key.Key_Return)
        self.assertEqual(iso(self.task("Open").limits[0].at), "2026-10-15T00:00")
        self.go_to("Open", 3)
        self.grid.edit_current()
        self.editor().clear()
        self.press(Qt.Key.Key_Return)
        self.assertEqual(self.task("Open").limits, ())


class Pages(Panel):
    def test_a_project_is_scheduled_back_from_its_finish(self) -> None:
        self.window.side.show_project("p")
        self.choose("projectDirection", Direction.BACKWARD)
        self.fill("projectFinish", "2026-12-18", enter=False)
        self.click("formSave")
        self.assertEqual(iso(self.desk.schedule.dates(self.id_of("Open")).finish), "2026-12-18T17:00")

    def test_soundness_leads_to_its_rows(self) -> None:
        self.window.registry.qt("look.soundness").trigger()
        self.click("finding.unassigned")
        self.assertIn("   Survey", self.texts(self.window.side))
        self.assertGreater(len(self.desk.selection), 1)

    def test_planning_back_says_when_work_must_begin_and_does_it(self) -> None:
        self.desk.do(edits.link(self.desk.plan, self.id_of("Survey"), self.id_of("Open")))
        self.desk.go_to(self.id_of("Open"))
        self.window.registry.qt("row.back").trigger()
        self.fill("backDate", "2026-10-16")
        self.assertEqual(self.part(QWidget, "backStart").text(), "Tue 13 Oct 2026")
        self.click("formSave")
        self.assertEqual(iso(self.desk.schedule.dates(self.id_of("Survey")).start), "2026-10-13T08:00")

    def test_a_recurring_inspection_changed_from_the_fourth_on(self) -> None:
        self.desk.go_to(self.id_of("Draw"))
        self.window.registry.qt("row.repeat").trigger()
        self.fill("repeatBegin", "2026-09-09", enter=False)
        for name, on in (("repeat.MO", False), ("repeat.WE", True)):
            button = self.part(QPushButton, name)
            if button.isChecked() != on:
                QTest.mouseClick(button, Qt.MouseButton.LeftButton)
        self.part(QComboBox, "repeatUntil").setCurrentText("a number of times")
        self.fill("repeatEnd", "6", enter=False)
        self.click("formSave")
        children = self.desk.plan.children_of("p", self.id_of("Draw"))
        self.assertEqual(self.days(children), ["09-09", "09-16", "09-23", "09-30", "10-07", "10-14"])
        self.desk.go_to(children[3])
        self.window.registry.qt("row.repeat").trigger()
        self.fill("repeatBegin", "2026-10-02", enter=False)
        for name, on in (("repeat.WE", False), ("repeat.FR", True)):
            button = self.part(QPushButton, name)
            if button.isChecked() != on:
                QTest.mouseClick(button, Qt.MouseButton.LeftButton)
        self.fill("repeatEnd", "3", enter=False)
        self.click("formSave")
        self.assertEqual(self.days(children), ["09-09", "09-16", "09-23", "10-02", "10-09", "10-16"])
        self.assertNotEqual(self.desk.plan.tasks[children[3]].parent, self.desk.plan.tasks[children[0]].parent)
        self.desk.undo()
        self.assertEqual(self.days(children)[3:], ["09-30", "10-07", "10-14"])

    def test_how_long_and_whether_at_all_for_one_for_later_ones_and_for_all(self) -> None:
        rule = "DTSTART:20260909T080000\nRRULE:FREQ=WEEKLY;COUNT=5"
        draw = self.id_of("Draw")
        self.desk.do(edits.repeat(self.desk.plan, draw, rule, 0))
        children = self.desk.plan.children_of("p", draw)

        def lasting() -> list[int | None]:
            return [self.desk.plan.tasks[c].duration for c in self.desk.plan.children_of("p", draw)]

        for scope, hours, expected in (
            (edits.Scope.THIS, "1h", [960, 960, 60, 960, 960]),
            (edits.Scope.LATER, "2h", [960, 960, 120, 120, 120]),
            (edits.Scope.ALL, "3h", [180] * 5),
        ):
            self.desk.go_to(children[2])
            self.window.side.show_repeat(children[2])
            self.choose("occurrenceScope", scope)
            self.fill("occurrenceLasts", hours, enter=False)
            self.click("occurrenceSet")
            self.assertEqual(lasting(), expected)
        self.window.side.show_repeat(children[1])
        self.choose("occurrenceScope", edits.Scope.THIS)
        self.click("occurrenceRemove")
        self.assertEqual(len(lasting()), 4)
        self.assertIn("EXDATE:20260916T080000", self.desk.plan.tasks[draw].repeats)
        self.window.side.show_repeat(children[3])
        self.choose("occurrenceScope", edits.Scope.LATER)
        self.click("occurrenceRemove")
        self.assertEqual(self.days(self.desk.plan.children_of("p", draw)), ["09-09", "09-23"])

    def test_open_ended_work_follows_the_finish_of_its_project(self) -> None:
        draw = self.id_of("Draw")
        rule = "DTSTART:20260909T080000\nRRULE:FREQ=WEEKLY"
        self.desk.do(edits.repeat(self.desk.plan, draw, rule, at("2026-09-10T08:00")))
        self.assertEqual(len(self.desk.plan.children_of("p", draw)), 1)
        self.desk.do(edits.set_durations(self.desk.plan, [self.id_of("Open")], 20 * DAY))
        self.assertEqual(self.days(self.desk.plan.children_of("p", draw)), ["09-09", "09-16", "09-23", "09-30"])
        self.desk.do(edits.set_durations(self.desk.plan, [self.id_of("Open")], 9 * DAY))
        self.assertEqual(self.days(self.desk.plan.children_of("p", draw)), ["09-09", "09-16"])

    def days(self, tasks: tuple[str, ...]) -> list[str]:
        return [iso(self.desk.schedule.dates(t).start)[5:10] for t in tasks]


class Calendars(Panel):
    def setUp(self) -> None:
        super().setUp()
        self.desk.do(edits.save_calendar(self.desk.plan, Calendar("own", "Own", base="standard")))
        self.desk.do(edits.save_project(self.desk.plan, replace(self.desk.plan.projects["p"], calendar="own")))
        self.window.registry.qt("look.calendars").trigger()
        self.view = self.window.calendars
        self.view.show_calendar("own")
        self.view.show_year(2026)

    def test_days_dragged_over_say_what_moves_before_it_is_applied(self) -> None:
        year = self.view.year
        first, last = (year.cell(date(2026, 9, d)).center().toPoint() for d in (8, 9))
        QTest.mousePress(year, Qt.MouseButton.LeftButton, pos=first)
        QTest.mouseMove(year, last)
        QTest.mouseRelease(year, Qt.MouseButton.LeftButton, pos=last)
        year.choose(date(2026, 9, 8), date(2026, 9, 9))
        self.fill("dayName", "Stocktaking", enter=False)
        self.click("dayOff")
        says = self.part(QWidget, "calendarMoves")
        self.wait_for(lambda: "5 tasks would move" in says.text())
        self.assertEqual(self.desk.plan.calendars["own"].exceptions, ())
        before = self.desk.schedule.dates(self.id_of("Survey")).finish
        self.click("calendarApply")
        (exception,) = self.desk.plan.calendars["own"].exceptions
        self.assertEqual((exception.first_day, exception.name), (day_number(date(2026, 9, 8)), "Stocktaking"))
        self.assertEqual(self.desk.schedule.dates(self.id_of("Survey")).finish - before, 2 * 1440)
        self.desk.undo()
        self.assertEqual(self.desk.schedule.dates(self.id_of("Survey")).finish, before)

    def test_the_week_as_it_is_typed(self) -> None:
        self.fill("calendarDay0", "10-14")
        self.fill("calendarDay5", "8-12")
        self.click("calendarApply")
        self.assertEqual(self.desk.plan.calendars["own"].week[0], ((600, 840),))
        self.assertEqual(iso(self.desk.schedule.dates(self.id_of("Survey")).start), "2026-09-07T10:00")
        self.fill("calendarDay1", "later")
        self.assertTrue(any("no time of work" in text for text in self.texts(self.view)))
        self.assertEqual(at("2026-09-07T10:00"), self.desk.schedule.dates(self.id_of("Survey")).start)


if __name__ == "__main__":
    unittest.main()
