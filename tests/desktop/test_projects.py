"""All projects at a glance in the window: counted, narrowed, folded, opened, and changed together."""

from __future__ import annotations

import unittest
from itertools import pairwise

from msgspec.structs import replace
from PyQt6.QtCore import QPoint
from PyQt6.QtGui import QContextMenuEvent
from PyQt6.QtWidgets import QCheckBox, QComboBox, QLineEdit, QPushButton

from hexapod.control.status import ProjectState
from hexapod.control.summary import ProjectRow, summary_of
from hexapod.desktop.frame.walked import Heading
from hexapod.desktop.models.portfolio import Folded, Only
from hexapod.desktop.models.project_lanes import Lane, Tasks
from hexapod.plan import edits
from hexapod.plan.records import DAY as CLOCK_DAY
from hexapod.worktime import clock
from tests.at_rest import wait_for
from tests.desktop.case import APP, Qt, QTest, settle
from tests.desktop.projects_case import ProjectsCase
from tests.support import DAY, MONDAY


class Projects(ProjectsCase):
    def test_the_sentence_counts_what_the_core_counts_and_each_part_shows_its_rows(self) -> None:
        found = summary_of(self.desk.schedule, clock.now())  # type: ignore[arg-type]
        counts = self.work.counts()
        self.assertEqual({s: n for s, n in found.states.items() if n},
                         {o.value: counts[o] for o in counts if counts[o] and o.value in found.states})  # fmt: skip
        self.assertIn(f"{counts[Only.LATE]} late", self.view.sentence)
        for only in (Only.LATE, Only.IN_DOUBT, Only.ON_COURSE):
            self.view.counts.linkActivated.emit(only.value)
            settle()
            self.assertEqual(len(self.shown()), counts[only], only)
            states = {r.status.state.value for r in self.table.rows if isinstance(r, ProjectRow)}
            self.assertEqual(states, {only.value})
            self.assertIn("Show all", self.view.counts.text())
        self.view.counts.linkActivated.emit(Only.ALL.value)
        settle()
        self.assertGreater(len(self.shown()), counts[Only.LATE])

    def test_what_is_on_course_folds_to_a_line_that_opens(self) -> None:
        lines = [row for row in self.table.rows if isinstance(row, Folded)]
        self.assertEqual([line.group for line in lines], ["Estate", "Learning"])
        self.assertRegex(lines[0].words, r"^and \d more on course$")
        calm = int(lines[0].words.split()[1])
        before = len(self.shown())
        self.table.go(self.table.rows.index(lines[0]))
        QTest.keyClick(self.table, Qt.Key.Key_Return)
        settle()
        self.assertEqual(len(self.shown()), before + calm)
        QTest.keyClick(self.table, Qt.Key.Key_Left)
        settle()
        self.assertEqual(len(self.shown()), before, "and folds again")

    def test_groups_orders_and_a_text_are_those_asked_for(self) -> None:
        self.work.narrow(group_by="state")
        headings = [row.words for row in self.table.rows if isinstance(row, Heading)]
        self.assertEqual([words.split(" · ")[0] for words in headings], ["Late", "In doubt", "On course"])
        self.work.narrow(group_by="none", sort_by="name")
        self.work.open_group("All projects")
        self.assertEqual(self.shown(), sorted(self.shown()))
        self.work.narrow(sort_by="finish")
        finishes = [r.finish for r in self.table.rows if isinstance(r, ProjectRow)]
        self.assertEqual(finishes, sorted(finishes))
        self.find(QLineEdit, "portfolioFind").setText("hall 07")
        self.assertEqual(self.shown(), ["Hall 07"])
        self.find(QLineEdit, "portfolioFind").setText("<b>nothing")
        self.assertEqual(self.shown(), [])

    def test_a_question_shows_the_projects_that_have_a_task_of_which_it_is_true(self) -> None:
        self.desk.do(edits.set_durations(self.desk.plan, ["q3a", "q4a"], 9 * DAY))
        self.known()
        field = self.find(QLineEdit, "portfolioFind")
        field.setText("duration > 8 d")
        wait_for(lambda: sorted(self.shown()) == ["Hall 03", "Hall 04"])
        self.desk.do(edits.set_durations(self.desk.plan, ["q4a"], DAY))
        self.known()
        wait_for(lambda: self.shown() == ["Hall 03"])
        field.setText("hall 0")
        self.assertEqual(len(self.shown()), 10, "words are words")
        field.setText("")
        self.assertGreater(len(self.shown()), 3)

    def test_enter_opens_a_project_and_the_leg_is_where_it_was(self) -> None:
        self.table.go(2)
        settle()
        chosen = self.table.current.project  # type: ignore[union-attr]
        self.assertIn(self.desk.plan.projects[chosen].name, self.side())
        self.assertIn(self.table.current.status.because, self.side())  # type: ignore[union-attr]
        QTest.keyClick(self.table, Qt.Key.Key_Return)
        settle()
        self.assertTrue(self.window.shows("build"))
        self.assertEqual(self.desk.project, chosen)
        self.window.registry.qt("look.tell").trigger()
        settle()
        self.assertEqual(self.table.current.project, chosen)  # type: ignore[union-attr]

    def test_the_menu_of_a_row_opens_marks_and_shows_what_a_change_would_do(self) -> None:
        self.table.go(next(i for i, row in enumerate(self.table.rows)
                           if isinstance(row, ProjectRow) and row.project == "q0"))  # fmt: skip
        asked: list[object] = []
        self.table.menu_asked.disconnect()
        self.table.menu_asked.connect(asked.append)
        reason = QContextMenuEvent.Reason.Keyboard
        APP.sendEvent(self.table.viewport(), QContextMenuEvent(reason, QPoint(), QPoint()))
        self.assertEqual(len(asked), 1)

        def choose(words: str) -> None:
            menu = self.view.menu_of(self.work.chosen)
            next(action for action in menu.actions() if action.text().startswith(words)).trigger()
            settle()

        choose("Its tasks")
        self.assertEqual({row.project for row in self.table.rows if isinstance(row, Lane)}, {"q0"})
        choose("Marked")
        self.assertEqual(self.work.marked, ["q0"])
        choose("Put on hold")
        self.assertFalse(self.desk.plan.projects["q0"].on_hold, "only shown so far")
        self.desk.staging.take()
        self.assertTrue(self.desk.plan.projects["q0"].on_hold)

    def test_it_is_said_when_projects_are_late(self) -> None:
        late = self.work.counts()[Only.LATE]
        self.assertTrue(late)
        self.window.registry.qt("projects.thresholds").trigger()
        settle()
        field = self.find(QLineEdit, "thresholdLate")
        field.setText("400 w")
        QTest.keyClick(field, Qt.Key.Key_Return)
        settle()
        self.assertIn("A threshold is 0 to 365", self.side())
        field.setText("2 w")
        QTest.keyClick(field, Qt.Key.Key_Return)
        self.known()
        self.assertEqual((self.work.counts()[Only.LATE], self.desk.plan.thresholds["thresholds"].late_days), (0, 10))
        self.desk.undo()
        self.known()
        self.assertEqual(self.work.counts()[Only.LATE], late)

    def test_links_with_other_projects_are_drawn_and_lead_there(self) -> None:
        self.desk.do(edits.link(self.desk.plan, "q0a", "q9a"))  # one that is late, and one that is folded away
        self.known()
        self.table.go(next(i for i, row in enumerate(self.table.rows)
                           if isinstance(row, ProjectRow) and row.project == "q0"))  # fmt: skip
        settle()
        self.assertIn("Holds up critical work of", self.side())
        button = next(b for b in self.window.side.findChildren(QPushButton) if b.text() == "Hall 09")
        button.click()
        settle()
        self.assertEqual((self.work.chosen, self.table.current.project), ("q9", "q9"))  # type: ignore[union-attr]
        self.assertIn("Waits for", self.side())
        before = self.table.grab().toImage()
        self.desk.do(edits.unlink(self.desk.plan, [("q0a", "q9a", "FS")]))
        self.known()
        self.assertNotIn("Waits for", self.side())
        self.assertNotEqual(self.table.grab().toImage(), before, "the line between them is gone")

    def test_tasks_lie_on_lanes_without_touching_and_are_walked_to_their_bar(self) -> None:
        """Every leaf of an opened project is on one lane, none over another; the keys lead to its bar in Build."""
        plan, dates = self.desk.plan, self.desk.schedule
        self.find(QComboBox, "portfolioTasks").setCurrentIndex(1)
        self.find(QComboBox, "portfolioTasks").activated.emit(1)
        settle()
        found = [row for row in self.table.rows if isinstance(row, Lane)]
        for project in {row.project for row in self.table.rows if isinstance(row, ProjectRow)}:
            mine = [lane.tasks for lane in found if lane.project == project]
            leaves = {t.id for t in plan.tasks.values() if t.project == project and not plan.is_summary(t.id)}
            self.assertEqual(sorted(t for tasks in mine for t in tasks), sorted(leaves))
            for tasks in mine:
                for one, other in pairwise(tasks):
                    self.assertLess(dates.dates(one).finish, dates.dates(other).start)
        self.table.grab()
        self.table.go(next(i for i, row in enumerate(self.table.rows) if isinstance(row, Lane) and "q0a" in row.tasks))
        self.assertIn("Paint · Mon 7 Sep to Fri 11 Sep", self.table.accessibleDescription())
        QTest.keyClick(self.table, Qt.Key.Key_Right)  # there is none behind it
        self.assertEqual(self.work.lanes.task, "q0a")
        QTest.keyClick(self.table, Qt.Key.Key_Return)
        settle()
        self.assertTrue(self.window.shows("build"))
        self.assertEqual(list(self.desk.selected()), ["q0a"])

    def test_open_tasks_alone_and_one_project_alone(self) -> None:
        self.desk.do(edits.finish(self.desk.plan, ["q0a"], MONDAY + 4 * CLOCK_DAY))
        self.known()
        self.work.lanes.show(Tasks.OPEN)
        settle()
        shown = {t for row in self.table.rows if isinstance(row, Lane) for t in row.tasks}
        self.assertTrue({"q0m", "q7a"} <= shown and "q0a" not in shown)
        self.table.go(next(i for i, row in enumerate(self.table.rows)
                           if isinstance(row, ProjectRow) and row.project == "q0"))  # fmt: skip
        QTest.keyClick(self.table, Qt.Key.Key_Left)
        settle()
        projects = {row.project for row in self.table.rows if isinstance(row, Lane)}
        self.assertTrue("q0" not in projects and "q7" in projects, "only its own are away")
        self.work.lanes.show(Tasks.NONE)
        QTest.keyClick(self.table, Qt.Key.Key_Right)
        settle()
        self.assertEqual({row.project for row in self.table.rows if isinstance(row, Lane)}, {"q0"})
        self.table.go(self.table.at + 1)
        QTest.keyClick(self.table, Qt.Key.Key_Left)
        QTest.keyClick(self.table, Qt.Key.Key_Left)
        self.assertEqual(self.table.current.project, "q0")  # type: ignore[union-attr]
        settle()
        self.table.grab()

    def test_several_are_changed_together_after_a_look(self) -> None:
        rows = [i for i, row in enumerate(self.table.rows) if isinstance(row, ProjectRow)][:2]
        names = []
        self.window.resize(1280, 800)
        if not self.window.side.is_folded:
            self.window.side.turn()
        for row in rows:
            self.table.go(row)
            names.append(self.table.current.project)  # type: ignore[union-attr]
            QTest.keyClick(self.table, Qt.Key.Key_Space)
        settle()
        self.assertIn("2 projects together", self.side())
        self.assertFalse(self.window.side.is_folded, "what can be done with them is there to see")
        before = {p: self.desk.schedule.project_finish[p] for p in names}
        field = self.find(QLineEdit, "togetherDelay")
        QTest.keyClicks(field, "2 w")
        QTest.keyClick(field, Qt.Key.Key_Return)
        settle()
        self.assertEqual({p: self.desk.schedule.project_finish[p] for p in names}, before, "only shown so far")
        self.assertIn("Delay 2 projects", self.side())
        self.desk.staging.take()
        settle()
        after = {p: self.desk.schedule.project_finish[p] for p in names}
        self.assertEqual(after, {p: finish + 14 * CLOCK_DAY for p, finish in before.items() if finish})
        self.desk.undo()
        self.window.side.go_home("glance")
        self.window.side.open_now()
        settle()
        self.find(QPushButton, "togetherArchive").click()
        self.desk.staging.take()
        self.known()
        self.assertEqual(self.work.marked, [], "what is archived is not in the list any more")
        self.assertFalse(set(names) & {r.project for r in self.work.rows()})

    def test_a_wrong_length_is_refused_in_a_sentence_and_stays(self) -> None:
        self.table.go(1)
        QTest.keyClick(self.table, Qt.Key.Key_Space)
        settle()
        field = self.find(QLineEdit, "togetherDelay")
        told: list[str] = []
        self.desk.told.connect(lambda words, tone, undo: told.append(words))
        QTest.keyClicks(field, "soon")
        QTest.keyClick(field, Qt.Key.Key_Return)
        self.assertTrue(told and told[-1].endswith("."), told)
        self.work.changed.emit()  # the page is filled anew
        settle()
        self.assertEqual(self.find(QLineEdit, "togetherDelay").text(), "soon")
        self.assertIsNone(self.desk.staging.on_show)

    def test_the_side_is_about_the_row_that_the_keyboard_is_at(self) -> None:
        self.assertEqual(self.table.current.project, self.work.chosen)  # type: ignore[union-attr]
        for only in (Only.LATE, Only.IN_DOUBT, Only.ON_COURSE, Only.ON_COURSE):
            self.work.narrow(only=only)
            settle()
            chosen = self.work.chosen
            self.assertEqual(self.table.current.project, chosen)  # type: ignore[union-attr]
            self.assertIn(self.desk.plan.projects[chosen].name, self.side())

    def test_a_word_of_judgement_stands_beside_the_state(self) -> None:
        self.table.go(1)
        settle()
        project = self.work.chosen
        field = self.find(QLineEdit, "glanceWord")
        QTest.keyClicks(field, "We open in time")
        QTest.keyClick(field, Qt.Key.Key_Return)
        settle()
        self.assertEqual(self.desk.plan.projects[project].word, "We open in time")
        self.assertIn("“We open in time”", self.side())
        self.assertIn("Late", self.side())

    def test_the_vitals_of_all_projects_count_and_lead(self) -> None:
        vitals = self.window.topbar.all_vitals
        self.assertTrue(vitals.isVisible())
        self.assertFalse(self.window.topbar.vitals.isVisible())
        counts = self.work.counts()
        self.assertEqual(vitals.late.text_shown, str(counts[Only.LATE]))
        self.assertEqual(vitals.doubt.text_shown, str(counts[Only.IN_DOUBT]))
        vitals.late.click()
        settle()
        self.assertEqual(len(self.shown()), counts[Only.LATE])
        vitals.waiting.click()
        settle()
        self.assertEqual(self.window.telling.part, "requests")
        vitals.projects.click()
        settle()
        self.assertGreater(len(self.shown()), counts[Only.LATE])
        self.window.show_leg("build")
        self.assertTrue(self.window.topbar.vitals.isVisible())

    def test_an_edit_and_its_undo_reach_the_rows(self) -> None:
        row = self.work.row("q3")
        assert row is not None and row.finish is not None
        self.desk.do(edits.set_durations(self.desk.plan, ["q3a"], 90 * DAY))
        self.known()
        late = self.work.row("q3")
        assert late is not None
        self.assertIs(late.status.state, ProjectState.LATE)
        self.assertEqual(late.finish, self.desk.schedule.project_finish["q3"])
        self.desk.undo()
        self.known()
        self.assertEqual(self.work.row("q3"), row)

    def test_what_is_looked_at_may_go_and_names_may_be_anything(self) -> None:
        plan = self.desk.plan
        wild = replace(plan.projects["q0"], name="<img src=x onerror=1>‮" + "n" * 3000, department="=1+1")
        self.desk.do(edits.save_project(plan, wild))
        self.known()
        self.work.look_at("q0")
        settle()
        self.assertNotIn("<img", self.view.counts.text())
        self.window.grab()
        self.desk.do(edits.remove_project(self.desk.plan, "q0"))
        settle()
        self.window.grab()
        self.assertIsNone(self.work.row("q0"))
        self.assertEqual(self.table.current.project, self.work.chosen)  # type: ignore[union-attr]
        self.work.chosen = "q0"
        self.window.registry.qt("projects.open").trigger()
        self.assertTrue(self.window.shows("telling"), "there is nothing to open")

    def test_time_is_looked_at_closer_and_whole_again(self) -> None:
        whole = self.table.scale()
        for key, wider in ((Qt.Key.Key_Plus, True), (Qt.Key.Key_0, False)):
            QTest.keyClick(self.table, key)
            self.assertEqual(self.table.scale().pixels > whole.pixels, wider)
        QTest.keyClick(self.table, Qt.Key.Key_Plus)
        begin = self.table.scale().origin
        QTest.keyClick(self.table, Qt.Key.Key_Greater)
        self.assertGreater(self.table.scale().origin, begin)

    def test_the_form_of_a_project_says_its_department_and_whether_it_is_on_hold(self) -> None:
        self.table.go(next(i for i, r in enumerate(self.table.rows) if self.table.key_of(r) == "q7"))
        self.assertNotEqual(self.desk.project, "q7", "what is looked at here is meant")
        self.window.registry.qt("project.edit").trigger()
        settle()
        form = self.window.side.pages["project"]
        self.find(QLineEdit, "projectDepartment").setText("Research")
        next(box for box in form.findChildren(QCheckBox) if box.text().startswith("On hold")).setChecked(True)
        form.save()
        found = self.desk.plan.projects["q7"]
        self.assertEqual((found.department, found.on_hold), ("Research", True))


if __name__ == "__main__":
    unittest.main()
