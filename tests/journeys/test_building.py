"""Building a schedule with real keys and a real pointer: notes, a messy table, calendars, recurrence, the past."""

from __future__ import annotations

import unittest
from datetime import date

from hexapod.desktop.models.columns import DURATION, LINKS, NAME, START, WHO
from hexapod.plan import edits
from hexapod.plan.records import Calendar, Resource
from hexapod.worktime.clock import day_number, iso
from tests.journeys.case import Journey, QPointF, screen
from tests.support import DAY

from PyQt6.QtWidgets import QComboBox, QLabel, QLineEdit  # isort: skip

# level, name, duration, waits for, starts, who
NOTES = """
0|Survey||||
1|Old cases measured|3d|||MO
1|Wiring looked at|2d|1.1||
1|Floor tested|1d|1.1 SS 1 d later||TB
1|Report written|2d|1.2, 1.3||MO
1|Report agreed|0|1.4||
0|Design||||
1|Sketches|5d|1.5||MO
1|Drawings|8d|2.1||MO
1|Models|4d|2.1 SS 2 d later||TB
1|Lighting plan|3d|2.2||
1|Design agreed|0|2.2, 2.3, 2.4||
0|Making||||
1|Frames|10d|2.5||TB
1|Glass ordered|1d|2.5||
1|Glass comes|15d|3.2||
1|Frames painted|4d|3.1||TB 50%
1|Glass fitted|3d|3.3, 3.4||TB
1|Locks fitted|1d|3.5||
0|Filling||||
1|Mounts|6d|2.5||MO
1|Labels written|4d|2.5||MO 50%
1|Labels printed|2d|4.2||
1|Objects brought|2d|3.6|2027-01-11|TB
1|Objects placed|3d|4.1, 4.4||MO TB
1|Labels fixed|1d|4.3, 4.5||
0|Opening||||
1|Guests invited|1d||15 dec|
1|Last look|1d|4.6||MO
1|Open|0|5.1, 5.2||
"""


class FromNotes(Journey):
    def test_thirty_tasks_by_keyboard_alone(self) -> None:
        for i, (name, initials) in enumerate((("Mo Okon", "MO"), ("Tam Birk", "TB"))):
            self.desk.do(edits.save_resource(self.plan, Resource(f"r{i}", name, f"a{i}", initials=initials)))
        rows = [line.split("|") for line in NOTES.strip().splitlines()]
        self.assertEqual(len(rows), 30)
        screen.keys("ctrl+End", "Home")
        level = 0
        for row in rows:
            wanted = int(row[0])
            if wanted != level:
                screen.keys(*(["Tab"] if wanted > level else ["shift+Tab"]))
                level = wanted
            screen.type_text(row[1])
            screen.keys("Return")
        screen.keys("Escape")
        self.assertEqual(self.outline(), ["  " * int(r[0]) + r[1] for r in rows])
        for column, at in ((DURATION, 2), (LINKS, 3), (START, 4), (WHO, 5)):
            screen.keys("ctrl+Home")
            self.window.grid.go(0, column)
            for row in rows:
                if row[at]:
                    screen.type_text(row[at])
                screen.keys("Return") if row[at] else screen.keys("Down")
        by_name = {t.name: t for t in self.plan.tasks.values()}
        self.assertEqual(by_name["Drawings"].duration, 8 * DAY)
        self.assertEqual(len(self.plan.links), sum(len(r[3].split(",")) for r in rows if r[3]))
        self.assertEqual(iso(by_name["Objects brought"].limits[0].at), "2027-01-11T00:00")
        self.assertEqual(by_name["Guests invited"].limits[0].by, self.desk.session.who)
        self.assertEqual(len(self.plan.assignments_of(by_name["Objects placed"].id)), 2)
        self.assertTrue(self.dates("Open").longest_path)


MESSY = """Moth room;;;;;
printed 3 Nov;;;;;
No.;What;Span;Begin;After;Owner
1;Empty;;;;
1.1;Listed;3 days;2026-10-12;;MO
1.2;Moved;5d;;1.1;MO, Tam Birk
1.3;;2;;;
2;Refit;about a week;;1.2;
"""


class FromASpreadsheet(Journey):
    def test_a_messy_table_is_mended_in_the_preview_and_taken_back_as_one(self) -> None:
        path = self.path.parent / "moth.csv"
        path.write_text(MESSY, encoding="utf-8")
        self.window.show_import(path)
        view = self.window.importing
        screen.wait_for(lambda: view.proposal is not None)
        before = view.proposal
        view.findChild(QComboBox, "importPart2").setFocus()
        screen.type_text("dur")
        screen.wait_for(lambda: view.proposal is not before)
        troubled = {o.row: " ".join(o.troubles) for o in view.proposal.outcomes if o.troubles}
        self.assertEqual(sorted(troubled), [7, 8])
        self.assertIn("about a week", troubled[8])
        self.press_button("importTake")
        self.assertEqual(self.outline(), ["Empty", "  Listed", "  Moved", "Refit"])
        self.assertEqual(self.plan.tasks[self.id_of("Moved")].duration, 5 * DAY)
        screen.keys("ctrl+z")
        self.assertEqual(self.outline(), [])
        screen.keys("ctrl+shift+z")
        self.assertEqual(len(self.outline()), 4)


class TheWeek(Journey):
    ROWS = "Frames\nGlass\nPaint"

    def test_the_week_is_changed_and_what_moves_is_read_first(self) -> None:
        self.desk.do(edits.save_calendar(self.plan, Calendar("own", "Workshop", base="standard")))
        home = self.plan.projects["p"]
        from msgspec.structs import replace

        self.desk.do(edits.save_project(self.plan, replace(home, calendar="own")))
        self.desk.do(edits.chain(self.plan, [self.id_of(n) for n in ("Frames", "Glass", "Paint")]))
        screen.keys("ctrl+shift+k")
        view = self.window.calendars
        screen.wait_for(view.isVisible)
        view.show_calendar("own")
        view.show_year(2026)
        tuesday = view.findChild(QLineEdit, "calendarDay1")
        screen.click(tuesday)
        screen.type_text("-")
        screen.keys("Tab")
        says = view.findChild(QLabel, "calendarMoves")
        screen.wait_for(lambda: "2 tasks would move" in says.text())
        first, last = (view.year.cell(date(2026, 9, d)).center() for d in (9, 10))
        screen.drag(view.year, QPointF(first), QPointF(last))
        self.press_button("dayOff")
        screen.wait_for(lambda: "+3 d" in says.text() or "would move" in says.text())
        self.assertEqual(self.plan.calendars["own"].exceptions, ())
        self.press_button("calendarApply")
        screen.wait_for(lambda: self.plan.calendars["own"].exceptions != ())
        (exception,) = self.plan.calendars["own"].exceptions
        days = [exception.first_day - day_number(date(2026, 9, 9)), exception.last_day - exception.first_day]
        self.assertEqual(days, [0, 1])
        self.assertEqual(iso(self.dates("Glass").start), "2026-09-11T08:00")
        self.assertEqual(iso(self.dates("Paint").start), "2026-09-14T08:00")


class Recurring(Journey):
    ROWS = "Set up\nTraps read"

    def test_an_inspection_recurs_and_is_changed_from_the_fourth_on(self) -> None:
        self.click_cell("Traps read", NAME)
        screen.keys("ctrl+r")
        screen.wait_for(lambda: self.window.side.shown == "repeat")
        self._fill("repeatBegin", "2026-09-09")
        screen.click(self.window.side.findChild(QLineEdit, "repeatEnd"))
        self.window.side.findChild(QComboBox, "repeatUntil").setCurrentText("a number of times")
        self._fill("repeatEnd", "6")
        for day in ("MO", "WE"):
            self.press_button(f"repeat.{day}")
        self.press_button("formSave")
        self.assertEqual(len(self.outline()), 8)
        self.click_cell("Traps read 4", NAME)
        screen.keys("ctrl+r")
        screen.wait_for(lambda: self.window.side.shown == "repeat")
        self._fill("repeatBegin", "2026-10-02")
        for day in ("WE", "FR"):
            self.press_button(f"repeat.{day}")
        self._fill("repeatEnd", "3")
        self.press_button("formSave")
        starts = [iso(self.dates(f"Traps read {i}").start)[5:10] for i in range(1, 7)]
        self.assertEqual(starts, ["09-09", "09-16", "09-23", "10-02", "10-09", "10-16"])

    def _fill(self, name: str, text: str) -> None:
        screen.wait_for(lambda: self.window.side.findChild(QLineEdit, name))
        screen.click(self.window.side.findChild(QLineEdit, name))
        screen.keys("ctrl+a")
        screen.type_text(text)


class BackFromADate(Journey):
    ROWS = "Frames\nGlass\nOpening"

    def test_when_work_must_begin_for_a_fixed_opening(self) -> None:
        self.click_cell("Frames")
        screen.keys("shift+Down", "shift+Down", "ctrl+l")
        self.click_cell("Opening")
        screen.keys("ctrl+b")
        screen.wait_for(lambda: self.window.side.shown == "planning_back")
        screen.click(self.window.side.findChild(QLineEdit, "backDate"))
        screen.keys("ctrl+a")
        screen.type_text("2026-12-18")
        screen.keys("Return")
        shown = lambda: self.window.side.findChild(QLabel, "backStart")  # noqa: E731
        screen.wait_for(lambda: shown() is not None and shown().text() == "Wed 16 Dec 2026")
        self.press_button("formSave")
        self.assertEqual(iso(self.dates("Frames").start), "2026-12-16T08:00")
        self.assertEqual(iso(self.dates("Opening").finish), "2026-12-18T17:00")


class ThePast(Journey):
    ROWS = "Frames\n  Wood\n  Glue\nGlass"

    def test_a_deleted_branch_is_fetched_from_an_earlier_plan(self) -> None:
        self.desk.do(edits.link(self.plan, self.id_of("Glue"), self.id_of("Glass")))
        number = self.desk.session.history[-1].number
        self.click_cell("Frames")
        screen.keys("Delete")
        self.assertEqual(self.outline(), ["Glass"])
        self.type_in("Glass", NAME, "Glass and lead")
        screen.keys("Escape", "ctrl+h")
        self.press_button(f"history.{number}")
        screen.wait_for(lambda: self.desk.past is not None)
        self.assertEqual(self.outline(), ["Frames", "  Wood", "  Glue", "Glass"])
        screen.keys("Delete")
        self.assertEqual(len(self.outline()), 4, "the past cannot be changed")

        def back() -> list[object]:
            found = self.window.side.findChildren(type(self.window.side.first_field()))
            return [b for b in found if b.isVisible() and b.text().startswith("Bring back “Frames”")]

        screen.wait_for(back)
        screen.click(back()[0])
        screen.wait_for(lambda: self.desk.past is None)
        self.assertEqual(self.outline(), ["Frames", "  Wood", "  Glue", "Glass and lead"])
        self.assertEqual(len(self.plan.links), 1)


if __name__ == "__main__":
    unittest.main()
