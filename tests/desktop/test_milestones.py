"""The milestones of all projects in the window: whose, of which month, put away, and as a file for calendars."""

from __future__ import annotations

import tempfile
import unittest
from pathlib import Path

from icalendar import Calendar
from msgspec.structs import replace
from PyQt6.QtWidgets import QLineEdit

from hexapod.control.mine import Reach
from hexapod.desktop.models import background
from hexapod.desktop.models.milestones import AWAY, DEPARTMENT, EVERY, MINE, MilestoneRow
from hexapod.desktop.models.portfolio import month_of
from hexapod.plan import edits
from hexapod.plan.accounts import Baseline, BaselineTask
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import Link, Project, Resource, Task, TaskKind
from hexapod.worktime.clock import day_number, moment_of
from tests.at_rest import wait_for
from tests.desktop.case import Qt, QTest, WindowCase, settle
from tests.support import DAY, MONDAY, at, set_clock


class Milestones(WindowCase):
    ROWS = "Survey"

    def setUp(self) -> None:
        set_clock(self, lambda: at("2026-10-01T09:00"))
        super().setUp()
        self.desk.do(edits.Edit("Take over three projects", self._put))
        self.work = self.desk.milestones
        self.window.show_part("milestones", "telling")
        self.view = self.window.telling["milestones"]
        self.known()
        self.table = self.view.table
        self.table.setFocus()

    def _put(self, draft) -> None:  # type: ignore[no-untyped-def]
        """Of each hall one milestone is reached in September, one overdue, and one comes in some month."""
        draft.put(Resource("nell", "Nell", "z0"))
        for i, rank in enumerate(ranks_between(self.desk.plan.projects["p"].rank, None, 3)):
            p = f"q{i}"
            project = Project(p, f"Hall {i}", MONDAY, rank, department="Estate" if i else "Learning")
            rows = (BaselineTask(f"{p}end", MONDAY, at("2026-09-09T17:00"), 0, 0, 0),)
            if i == 2:
                draft.put(Baseline("kept", "First plan", MONDAY, p, rows))
            draft.put(replace(project, led_by="nell" if i else None, baseline="kept" if i == 2 else None))
            draft.put(Task(f"{p}a", p, "Paint", "a0", duration=(20 + 20 * i) * DAY))
            draft.put(Task(f"{p}done", p, f"Agreed {i}", "b0", duration=0, kind=TaskKind.MILESTONE, percent=100.0,
                           actual_start=MONDAY, actual_finish=MONDAY))  # fmt: skip
            draft.put(Task(f"{p}now", p, f"Looked at {i}", "c0", duration=0, kind=TaskKind.MILESTONE))
            draft.put(Task(f"{p}end", p, f"Opens {i}", "d0", duration=0, kind=TaskKind.MILESTONE))
            draft.put(Link(f"{p}a", f"{p}end"))

    def known(self) -> None:
        wait_for(lambda: self.desk.portfolio._of is self.desk.schedule and self.work.is_known and background.is_idle())
        settle()

    def shown(self) -> list[str]:
        return [row.found.task for row in self.table.rows if isinstance(row, MilestoneRow)]

    def test_they_are_overdue_coming_and_reached(self) -> None:
        by_reach: dict[Reach, set[str]] = {}
        for row in self.work.rows():
            by_reach.setdefault(row.found.reach, set()).add(row.found.task)
        self.assertEqual(by_reach, {
            Reach.OVERDUE: {"q0now", "q1now", "q2now"}, Reach.COMING: {"q0end", "q1end", "q2end"},
            Reach.REACHED: {"q0done", "q1done", "q2done"},
        })  # fmt: skip
        self.assertEqual(self.view.sentence, "3 milestones to come, 3 overdue, 3 reached")

    def test_whose_and_which_are_those_asked_for(self) -> None:
        self.work.narrow(whose=f"{DEPARTMENT}Estate")
        self.assertEqual({t[:2] for t in self.shown()}, {"q1", "q2"})
        self.desk.mine.be("nell")
        self.work.narrow(whose=MINE)
        self.assertEqual({t[:2] for t in self.shown()}, {"q1", "q2"})
        self.work.narrow(whose=EVERY)
        self.view.findChild(QLineEdit, "milestonesFind").setText("hall 0")  # type: ignore[union-attr]
        self.assertEqual({t[:2] for t in self.shown()}, {"q0"})

    def test_a_month_on_the_strip_shows_that_month_alone(self) -> None:
        months = self.work.months()
        self.assertEqual(sum(count for _, count in months), 9)
        for month, count in months:
            self.work.look_at_month(month)
            self.assertEqual(len(self.shown()), count)
            for row in self.work.rows():
                on = moment_of(row.found.at - 1).date().replace(day=1)
                self.assertEqual(day_number(on), month)
        self.work.look_at_month(months[-1][0])
        self.assertEqual(len(self.shown()), 9, "once more, and all are back")
        strip = self.view.strip
        QTest.mouseClick(strip, Qt.MouseButton.LeftButton, pos=strip.box_of(0).center().toPoint())
        self.assertEqual(self.work.month, months[0][0])
        strip.setFocus()
        QTest.keyClick(strip, Qt.Key.Key_Right)
        QTest.keyClick(strip, Qt.Key.Key_Return)
        self.assertEqual(self.work.month, months[1][0])

    def test_what_ends_at_midnight_counts_with_the_day_before(self) -> None:
        self.assertEqual(month_of(at("2026-11-01T00:00")), month_of(at("2026-10-31T12:00")))

    def test_drift_is_that_from_the_baseline(self) -> None:
        """Planned for 9 September; sixty days of work end on Friday 27 November: 57 working days later."""
        drifts = {row.found.task: row.drift for row in self.work.rows()}
        self.assertEqual(drifts["q2end"], 57 * DAY)
        self.assertIsNone(drifts["q1end"])

    def test_what_is_put_away_stays_away_and_comes_back(self) -> None:
        row = next(i for i, r in enumerate(self.table.rows) if isinstance(r, MilestoneRow) and r.found.task == "q0done")
        self.table.go(row)
        QTest.keyClick(self.table, Qt.Key.Key_Delete)
        self.assertNotIn("q0done", self.shown())
        self.assertIn("q0done", self.desk.plan.tasks, "the plan has it still")
        self.work.narrow(whose=AWAY)
        self.assertEqual(self.shown(), ["q0done"])
        self.table.go(1)
        QTest.keyClick(self.table, Qt.Key.Key_Delete)
        self.work.narrow(whose=EVERY)
        self.assertIn("q0done", self.shown())

    def test_enter_leads_to_the_bar(self) -> None:
        self.table.go(1)
        task = self.table.current.found.task  # type: ignore[union-attr]
        QTest.keyClick(self.table, Qt.Key.Key_Return)
        settle()
        self.assertTrue(self.window.shows("build"))
        self.assertEqual(self.desk.current, task)

    def test_the_calendar_file_holds_those_on_show(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        told: list[str] = []
        self.desk.told.connect(lambda words, tone, undo: told.append(words))
        self.work.narrow(whose=f"{DEPARTMENT}Estate")
        path = Path(folder.name) / "out.ics"
        self.view.write_file(path)
        wait_for(lambda: told)
        self.assertEqual(told, ["6 milestones written to out.ics."])
        events = Calendar.from_ical(path.read_bytes()).walk("VEVENT")
        self.assertEqual({str(e["UID"]): e["DTSTART"].dt.replace(tzinfo=None) for e in events},
                         {r.found.task: moment_of(self.desk.schedule.dates(r.found.task).start)
                          for r in self.work.rows()})  # fmt: skip
        self.view.write_file(Path(folder.name) / "gone" / "out.ics")
        wait_for(lambda: len(told) == 2)
        self.assertTrue(told[1].endswith("."), told)

    def test_a_milestone_that_goes_is_not_on_show_any_more(self) -> None:
        self.desk.do(edits.remove_project(self.desk.plan, "q1"))
        settle()
        self.window.grab()
        self.assertFalse([t for t in self.shown() if t.startswith("q1")])


if __name__ == "__main__":
    unittest.main()
