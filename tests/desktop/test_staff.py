"""The Staff leg in a window: the load grid by keys and mouse, what is behind a cell, levelling as it is asked for."""

from __future__ import annotations

import unittest
from datetime import date

from msgspec.structs import replace
from PyQt6.QtWidgets import QCheckBox, QComboBox, QLineEdit, QPushButton

from hexapod.desktop.staff.load_grid import Show
from hexapod.desktop.staff.periods import Step, edges_of, long_name, short_name
from hexapod.desktop.theme.pictures import Pictures
from hexapod.errors import BadText
from hexapod.formats.pool_text import rates_text, read_rates, read_skills, read_steps, skills_text, steps_text
from hexapod.plan import edits
from hexapod.plan.records import Assignment, CalendarException, Resource, ResourceKind, Skill
from hexapod.worktime.clock import day_number
from hexapod.worktime.dates import parse_moment
from tests.desktop.case import Qt, QTest, WindowCase, settle
from tests.support import MONDAY


def minute(year: int, month: int, day: int) -> int:
    return day_number(date(year, month, day)) * 1440


class Periods(unittest.TestCase):
    def test_periods_begin_where_the_calendar_has_it_and_cover_what_they_must(self) -> None:
        for step in Step:
            begin, end = minute(2026, 11, 25), minute(2027, 2, 3)
            edges = edges_of(step, begin, end)
            self.assertLessEqual(edges[0], begin)
            self.assertGreater(edges[-1], end)
            self.assertGreater(edges[1], begin)
        weeks, months = (edges_of(s, minute(2026, 12, 30), minute(2027, 1, 5)) for s in (Step.WEEK, Step.MONTH))
        self.assertEqual([int(e) for e in weeks[:2]], [minute(2026, 12, 28), minute(2027, 1, 4)])
        self.assertEqual([int(e) for e in months], [minute(2026, 12, 1), minute(2027, 1, 1), minute(2027, 2, 1)])
        self.assertEqual([short_name(Step.MONTH, int(e)) for e in months[:2]], ["Dec", "Jan 2027"])
        self.assertIn("week of", long_name(Step.WEEK, int(weeks[0])))


class Pool(unittest.TestCase):
    def test_skills_and_amounts_are_read_as_they_are_shown(self) -> None:
        skills = (Skill("glazing", 4), Skill("joinery"))
        self.assertEqual(skills_text(skills), "glazing 4, joinery")
        self.assertEqual(read_skills("glazing 4,  joinery,"), skills)
        day = day_number(date(2027, 1, 4))
        self.assertEqual(steps_text(1.0, ((day, 0.5),)), "1, 0.5 from 2027-01-04")
        read = read_steps("1, 0.5 from 2027-01-04", lambda text: minute(*map(int, text.split("-"))))
        self.assertEqual(read, (1.0, ((day, 0.5),)))

    def test_rates_are_kept_to_the_cent(self) -> None:
        """A float shown with six digits once made 12345.67 an hour 12345.70."""
        day = day_number(date(2027, 1, 4))
        for cents in (0, 1, 3150, 1_234_567, 100_000_000):
            rates = (cents, ((day, cents // 3),))
            self.assertEqual(read_rates(rates_text(*rates), parse_moment), rates)
        for text in ("nan", "inf", "1e999999", "-0.01", "1000000.01"):
            with self.assertRaises(BadText):
                read_rates(text, parse_moment)

    def test_what_cannot_be_meant_is_said(self) -> None:
        for text in ("glazing 7", "glazing 0"):
            with self.assertRaisesRegex(BadText, "1 to 5"):
                read_skills(text)
        for text, says in (("", "to begin with"), ("one", "no amount"), ("1, 2", "needs a day"), ("-1", "from 0")):
            with self.assertRaisesRegex(BadText, says):
                read_steps(text, lambda _: 0)


class Staff(WindowCase):
    ROWS = "Survey\nDraw\nFrames\nGlass\nOpen"

    def setUp(self) -> None:
        super().setUp()
        plan = self.desk.plan
        people = [
            Resource("role", "Glass", "a0", ResourceKind.ROLE),
            Resource("ada", "Ada", "a1", role="role", initials="AD"),
            Resource("bo", "Bo", "a2", role="role", initials="BO"),
            Resource("lift", "Lift", "a3", ResourceKind.EQUIPMENT, initials="LI"),
        ]
        for resource in people:
            self.desk.do(edits.save_resource(plan, resource))
        for name in ("Survey", "Draw", "Frames"):
            task = self.id_of(name)
            self.desk.do(edits.set_assignments(self.desk.plan, task, [Assignment(task, "ada")]))
        self.window.show_leg("staff")
        settle()
        self.load = self.window.staff.grid
        self.load.setFocus()

    def titles(self) -> list[str]:
        assert self.load.table is not None
        return [row.title for row in self.load.table.rows]

    def key(self, key: Qt.Key) -> None:
        QTest.keyClick(self.load, key)
        settle()

    def said_behind(self) -> list[str]:
        return self.texts(self.window.staff.behind)

    def test_it_begins_at_the_first_trouble_and_says_what_is_behind_it(self) -> None:
        self.assertEqual(self.titles(), ["Glass", "Ada", "Bo", "Equipment", "Lift"])
        row = self.load.current
        assert row is not None
        self.assertEqual(row.resource, "ada")
        self.assertTrue(row.is_over(self.load.period))
        said = self.said_behind()
        self.assertIn("48 h planned, 40 h capacity: 8 h too much", said)
        self.assertEqual(len([s for s in said if s in ("Survey", "Draw", "Frames")]), 3)
        self.assertTrue(any("Bo" in s and "same role" in s and "40 h free" in s for s in said))
        self.assertIn("too much", self.load.accessibleDescription())
        self.assertEqual(self.desk.resource, "ada")

    def test_keys_walk_fold_and_go_into_the_tasks(self) -> None:
        self.key(Qt.Key.Key_Down)
        self.assertEqual(self.desk.resource, "bo")
        self.assertTrue(any("free" in s for s in self.said_behind()))
        self.key(Qt.Key.Key_Up)
        self.key(Qt.Key.Key_Up)
        self.key(Qt.Key.Key_Space)
        self.assertEqual(self.titles(), ["Glass", "Equipment", "Lift"])
        self.key(Qt.Key.Key_Space)
        self.key(Qt.Key.Key_Down)
        self.key(Qt.Key.Key_Return)
        first = self.window.staff.behind.first_task
        assert isinstance(first, QPushButton)
        QTest.keyClick(first, Qt.Key.Key_Space)
        self.assertEqual(self.desk.plan.tasks[self.desk.current or ""].name, first.text())
        self.load.setFocus()
        self.key(Qt.Key.Key_E)
        self.assertEqual(self.window.side.shown, "resource")

    def test_a_click_looks_at_a_cell_and_every_scale_and_measure_can_be_shown(self) -> None:
        box = self.load.cell_rect(2, self.load.period)
        QTest.mouseClick(self.load.viewport(), Qt.MouseButton.LeftButton, pos=box.center().toPoint())
        self.assertEqual(self.desk.resource, "bo")
        at = self.load.begin_of_period
        measure = self.window.staff.tools["load"].measure
        said = {}
        for show in (Show.PERCENT, Show.TASKS, Show.ROOM, Show.HOURS):
            measure.activated.emit(measure.findData(show))
            assert self.load.table is not None
            said[show] = self.load.cell_text(self.load.table.rows[1], 0)
        self.assertEqual(list(said.values()), ["120 %", "3", "−8 h", "48 h"])
        for name in ("Day", "Month", "Week", "This project", "All projects"):
            button = next(b for b in self.window.staff.findChildren(QPushButton) if b.text() == name)
            button.click()
            settle()
            self.assertFalse(self.load.grab().isNull())
        self.assertEqual((self.load.step, self.load.mode, self.load.all_projects), (Step.WEEK, Show.HOURS, True))
        self.assertLessEqual(self.load.begin_of_period, at)
        self.assertGreater(self.load.span[1], at - 31 * 1440)

    def test_a_row_that_is_stamped_shows_what_a_row_drawn_anew_does(self) -> None:
        """Whatever is done, nothing that a row shows is missing from what its picture is known by."""
        load, window, task = self.load, self.window, self.id_of("Draw")
        monday = MONDAY // 1440

        def other(who: str, **fields: object) -> None:
            resource = replace(self.desk.plan.resources[who], **fields)
            self.desk.do(edits.save_resource(self.desk.plan, resource))

        for act in (
            lambda: self.desk.do(edits.set_assignments(self.desk.plan, task, [Assignment(task, "bo", 0.5)])),
            lambda: self.desk.do(edits.set_durations(self.desk.plan, [task], 1440)),
            lambda: other("bo", capacity=3.0),
            lambda: other("lift", leave=(CalendarException(monday, monday + 8),)),
            lambda: other("ada", name="Ada the First"),
            lambda: load.look_at(1, 1),
            lambda: self.desk.go_to(task),
            *(lambda mode=mode: load.set_mode(mode) for mode in Show),
            lambda: load.fold("Glass"),
            lambda: load.fold("Glass"),
            lambda: self.registry_run("level.free"),
            lambda: self.wait_for(lambda: load.after is not None),
            lambda: self.desk.show_proposal(None),
            window.toggle_theme,
            window.choose_text_size,
        ):
            act()
            settle()
            stamped = load.viewport().grab().toImage()
            load._pictures = Pictures(100)
            self.assertTrue(stamped == load.viewport().grab().toImage(), "it is what is drawn anew")

    def test_an_edit_is_in_the_grid_at_once(self) -> None:
        task = self.id_of("Draw")
        self.desk.do(edits.set_assignments(self.desk.plan, task, [Assignment(task, "bo")]))
        settle()
        assert self.load.table is not None
        self.assertEqual([float(r.load.sum()) for r in self.load.table.rows], [48.0, 32.0, 16.0, 0.0, 0.0])

    def test_an_open_seat_is_found_somebody_for_half_of_it(self) -> None:
        task = self.id_of("Glass")
        self.desk.do(edits.set_assignments(self.desk.plan, task, [Assignment(task, "role")]))
        settle()
        self.assertEqual(self.titles()[:2], ["Glass", "Open seats: Glass"])
        assert self.load.table is not None
        self.load.look_at(1, int(self.load.table.rows[1].load.argmax()))
        self.assertIn("16 h of tasks that nobody does yet", self.said_behind())
        find = self.window.staff.behind.findChild(QPushButton, f"find {task}")
        assert find is not None
        find.click()
        settle()
        page = self.window.side.pages["seats"]
        names = [w.text() for w in page.findChildren(QPushButton) if w.objectName().startswith("fill ")]
        self.assertEqual(names, ["Bo", "Ada"], "who has time comes first")
        self.assertTrue(any(s.startswith("would be over by") for s in self.texts(page)))
        share = [w for w in page.findChildren(QLineEdit, "seatShare") if not w.property("putAway")][-1]
        share.setText("50 %")
        share.editingFinished.emit()
        settle()
        fill = [w for w in page.findChildren(QPushButton, "fill bo") if not w.property("putAway")][-1]
        fill.click()
        found = {a.resource: a.units for a in self.desk.plan.assignments_of(task)}
        self.assertEqual(found, {"role": 0.5, "bo": 0.5})
        self.desk.undo()
        self.assertEqual([a.resource for a in self.desk.plan.assignments_of(task)], ["role"])

    def test_a_proposal_is_looked_for_stopped_and_taken_in_part(self) -> None:
        levelling, page = self.desk.levelling, self.window.side.pages["proposal"]
        self.desk.propose(within_float=False)
        self.wait_for(lambda: self.desk.proposal is not None and not levelling.is_looking)
        whole = self.desk.proposal
        self.assertEqual((len(whole.overloads_after), len(whole.moves)), (0, 2))
        assert self.load.table is not None
        said = [self.load.cell_text(self.load.table.rows[1], p) for p in range(2)]
        self.assertEqual(said, ["48→40", "0→8"], "the load after beside the load before")
        self.wait_for(lambda: any(s.startswith("No arrangement ends before") for s in self.texts(page)))
        box = next(b for b in page.findChildren(QCheckBox) if b.objectName() == f"take {whole.moves[1].task}")
        box.click()
        settle()
        part = self.desk.proposal
        self.assertEqual([m.task for m in part.moves], [whole.moves[0].task])
        self.assertEqual(len(part.overloads_after), 1)
        self.registry_run("level.accept")
        self.assertEqual({t for t, task in self.desk.plan.tasks.items() if task.hold}, {whole.moves[0].task})
        self.desk.undo()
        self.assertFalse(any(task.hold for task in self.desk.plan.tasks.values()))
        levelling.propose(False, 30.0)
        self.wait_for(lambda: self.desk.proposal is not None)
        levelling.stop()
        self.wait_for(lambda: not levelling.is_looking)
        self.assertEqual(len(self.desk.proposal.overloads_after), 0)

    def test_long_work_is_interrupted_where_that_is_allowed_and_stays_whole_without_its_tick(self) -> None:
        desk, levelling, page = self.desk, self.desk.levelling, self.window.side.pages["proposal"]
        task = {name: self.id_of(name) for name in ("Survey", "Draw", "Frames", "Glass", "Open")}
        days = {"Survey": 10, "Draw": 7, "Frames": 4, "Glass": 3, "Open": 10}
        for name, length in days.items():
            desk.do(edits.set_durations(desk.plan, [task[name]], length * 480))
            work = [Assignment(task[name], "ada")] if name in ("Survey", "Glass") else []
            desk.do(edits.set_assignments(desk.plan, task[name], work))
        desk.do(edits.unlink(desk.plan, list(desk.plan.links)))
        for before, after in (("Survey", "Draw"), ("Frames", "Glass"), ("Glass", "Open")):
            desk.do(edits.link(desk.plan, task[before], task[after]))
        before = desk.plan
        self.window.side.show_page("proposal")
        desk.propose(within_float=False)
        self.wait_for(lambda: desk.proposal is not None and not levelling.is_looking)
        whole = desk.proposal.finish_after
        next(b for b in page.findChildren(QCheckBox, "mayPart") if not b.property("putAway")).click()
        self.wait_for(lambda: desk.proposal.parts and not levelling.is_looking)
        (part,) = desk.proposal.parts
        self.assertEqual((part.task, part.minutes), (task["Survey"], 4 * 480))
        self.assertLess(desk.proposal.finish_after, whole)
        self.wait_for(lambda: any(s.startswith("Interrupted after 4 d") for s in self.texts(page)))
        self.assertEqual(len(self.chart._pictures.of(part.task).ghosts), 2, "where each part would be")
        for is_taken in (False, True):
            take = [b for b in page.findChildren(QCheckBox, f"take {part.rest}") if not b.property("putAway")][-1]
            take.click()
            settle()
            self.assertEqual(bool(desk.proposal.parts), is_taken)
        promised = desk.proposal.finish_after
        self.registry_run("level.accept")
        self.assertIn(part.rest, desk.plan.tasks)
        self.assertEqual(desk.schedule.last_finish, promised)
        desk.undo()
        self.assertEqual(desk.plan, before)

    def test_what_is_left_over_says_what_would_do(self) -> None:
        task = self.id_of("Glass")
        self.desk.do(edits.set_assignments(self.desk.plan, task, [Assignment(task, "lift", 3.0)]))
        self.desk.propose(within_float=False)
        self.wait_for(lambda: self.desk.proposal is not None and not self.desk.levelling.is_looking)
        page = self.window.side.pages["proposal"]
        self.wait_for(lambda: any(s.startswith("2 more from") and "no finish moves" in s for s in self.texts(page)))
        self.wait_for(lambda: any(s.startswith("Only 1 for “Glass”") for s in self.texts(page)))
        take = next(b for b in page.findChildren(QPushButton, "way 0 share") if not b.property("putAway"))
        take.click()
        settle()
        self.assertEqual(self.desk.plan.assignments[(task, "lift")].units, 1.0)
        self.assertTrue(self.desk.load is not None and not self.desk.load.overloads, "with the moves, in one edit")
        self.desk.undo()
        self.assertEqual(self.desk.plan.assignments[(task, "lift")].units, 3.0)

    def test_levelling_only_somebody_and_only_a_time_and_who_fills_the_seats(self) -> None:
        task = self.id_of("Glass")
        self.desk.do(edits.set_assignments(self.desk.plan, task, [Assignment(task, "role")]))
        self.desk.propose(within_float=False)
        page, levelling = self.window.side.pages["proposal"], self.desk.levelling
        self.wait_for(lambda: levelling.choices)
        self.wait_for(lambda: any("does “Glass”" in s for s in self.texts(page)))
        page._open_narrow()
        who = next(b for b in page.findChildren(QComboBox, "levelOnly") if not b.property("putAway"))
        who.setCurrentIndex(who.findData("ada"))
        who.activated.emit(who.currentIndex())
        self.wait_for(lambda: self.desk.proposal.scope.resources == {"ada"} and not levelling.is_looking)
        levelling.only = None
        self.desk.propose(within_float=False)
        self.wait_for(lambda: levelling.choices)
        self.registry_run("level.accept")
        self.assertEqual([a.resource for a in self.desk.plan.assignments_of(task)], ["bo"])
        self.desk.undo()
        self.assertEqual([a.resource for a in self.desk.plan.assignments_of(task)], ["role"])

    def test_a_task_is_split_from_its_menu(self) -> None:
        task = self.id_of("Survey")
        self.desk.select((task,), task)
        self.registry_run("row.split")
        form = self.window.side.pages["split"]
        line = form.findChild(QLineEdit, "splitFirst")
        assert line is not None
        line.setText("3 h")
        save = form.findChild(QPushButton, "formSave")
        assert save is not None
        save.click()
        rest = self.id_of("Survey, the rest")
        self.assertEqual([self.desk.plan.tasks[t].minutes for t in (task, rest)], [180, 780])

    def registry_run(self, action: str) -> None:
        self.window.registry[action].run(self.window)
        settle()

    def test_the_form_keeps_what_belongs_to_a_person(self) -> None:
        self.window.side.show_resource("ada")
        settle()
        form = self.window.side.pages["resource"]
        for name, text in (
            ("resourceCapacity", "1, 0.5 from 2027-01-04"),
            ("resourceSkills", "lead 5"),
            ("resourceRate", "31.5"),
        ):
            fields = [w for w in form.findChildren(QLineEdit, name) if not w.property("putAway")]
            fields[-1].setText(text)
        saves = [b for b in form.findChildren(QPushButton) if b.text() == "Save" and not b.property("putAway")]
        saves[-1].click()
        ada = self.desk.plan.resources["ada"]
        self.assertEqual((ada.capacity, ada.skills, ada.rate, ada.role), (1.0, (Skill("lead", 5),), 3150, "role"))
        self.assertEqual(ada.capacity_from, ((day_number(date(2027, 1, 4)), 0.5),))


if __name__ == "__main__":
    unittest.main()
