"""A round in the window: asked, answered by keys and presses, looked ahead, kept, taken as one edit."""

from __future__ import annotations

import unittest
from unittest.mock import patch

from PyQt6.QtWidgets import QComboBox, QLabel, QLineEdit, QPushButton

from hexapod.control.round import AS_PLANNED, Answer, What
from hexapod.desktop.window import Window
from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import LinkType, Project, Resource
from hexapod.session import Session
from tests.desktop.case import Qt, QTest, WindowCase, put_away, settle
from tests.support import DAY, MONDAY, at, set_clock

FRIDAY = at("2026-09-11T17:00")
NOW = at("2026-09-18T12:00")


class Round(WindowCase):
    ROWS = "Survey\nDraw\nBuild\n  Frames\n  Glass\nOpen"

    def setUp(self) -> None:
        set_clock(self, NOW)
        super().setUp()
        plan = self.desk.plan
        for name, after in (("Draw", "Survey"), ("Frames", "Draw"), ("Glass", "Frames"), ("Open", "Glass")):
            self.desk.do(edits.link(self.desk.plan, self.id_of(after), self.id_of(name), LinkType.FS))
        self.desk.do(edits.set_task(plan, self.id_of("Open"), "Want it", target=at("2026-09-18T17:00")))
        self.desk.do(edits.save_resource(self.desk.plan, Resource("mo", "Mo", "a0", initials="MO")))
        self.desk.do(edits.assign(self.desk.plan, [self.id_of("Draw")], "mo"))
        self.desk.do(edits.set_status_date(self.desk.plan, "p", MONDAY))
        self.window.show_leg("track")
        self.table, self.work = self.window.track.table, self.desk.round
        self.set_date("2026-09-11")

    def set_date(self, text: str) -> None:
        line = self.window.findChild(QLineEdit, "roundDate")
        assert line is not None
        line.setText(text)
        line.editingFinished.emit()
        settle()

    def answer(self, text: str) -> None:
        """Type into the question that the keyboard is at."""
        QTest.keyClicks(self.table, text[:1])
        editor = self.table._editor
        assert editor is not None
        QTest.keyClicks(editor, text[1:])
        QTest.keyClick(editor, Qt.Key.Key_Return)
        settle()

    def asked(self) -> list[str]:
        return [self.desk.plan.tasks[q.task].name for q in self.work.asked]

    def figure(self, name: str) -> str:
        found = self.window.findChild(QLabel, f"round.{name}")
        assert found is not None
        return found.text()

    def test_of_a_project_that_is_to_begin_it_asks_from_its_start_and_complains_of_nothing(self) -> None:
        told: list[str] = []
        self.desk.told.connect(lambda text, *_: told.append(text))
        begins = at("2100-01-04T08:00")
        project = Project("later", "Later", begins, ranks_between(self.desk.plan.projects["p"].rank, None, 1)[0])
        self.desk.do(edits.save_project(self.desk.plan, project))
        self.desk.do(edits.add_text("later", "Begin"))
        told.clear()
        self.desk.look_at_project("later")
        settle()
        self.assertEqual((self.work.project, self.work.at, told), ("later", begins, []))

    def test_it_is_walked_and_answered_by_keys_and_taken_as_one_edit(self) -> None:
        self.assertEqual(self.asked(), ["Survey", "Draw", "Frames"])
        QTest.keyClick(self.table, Qt.Key.Key_End)
        self.assertEqual(self.table.question, self.work.asked[-1])
        QTest.keyClick(self.table, Qt.Key.Key_Home)
        self.assertEqual(self.table.question, self.work.asked[0])
        QTest.keyClick(self.table, Qt.Key.Key_Space)
        self.answer("done 2026-09-11")
        self.assertEqual(self.work.answers[self.id_of("Draw")], Answer(What.DONE, at=FRIDAY))
        self.assertEqual(self.work.effect_of(self.id_of("Draw")), 0, "what waits for it began all the same, as planned")
        self.answer("no: the timber is late")
        self.assertEqual(self.work.effect_of(self.id_of("Frames")), DAY)
        self.assertIn("→", self.figure("Finish"))
        self.assertEqual(self.work.open_questions(), [])
        before, edits_before, answers = self.desk.plan, len(self.desk.session.history), dict(self.work.answers)
        after = self.work.outlook
        assert after is not None
        would_be = {n: after.after.dates(self.id_of(n)) for n in ("Frames", "Glass", "Open")}
        self.button("roundTake").click()
        settle()
        self.assertEqual(len(self.desk.session.history), edits_before + 1)
        self.assertEqual({n: self.desk.worked_out.dates(self.id_of(n)) for n in would_be}, would_be)
        self.assertEqual(self.desk.plan.projects["p"].status_date, FRIDAY)
        self.assertTrue(self.desk.plan.tasks[self.id_of("Survey")].is_done)
        self.assertIn("the timber is late", self.desk.plan.comments_about(self.id_of("Frames"))[0].text)
        self.assertEqual(self.work.answers, {})
        self.desk.undo()
        settle()
        self.assertEqual(self.desk.plan.tasks, before.tasks)
        self.assertEqual(self.desk.plan.projects, before.projects)
        self.assertEqual((self.work.at, self.work.answers), (FRIDAY, answers), "to be changed and taken again")
        self.desk.redo()
        settle()
        self.assertEqual(self.work.answers, {})
        self.assertGreater(self.work.at, FRIDAY)

    def test_a_task_that_goes_while_its_answer_is_typed_is_said_to_be_gone(self) -> None:
        QTest.keyClick(self.table, Qt.Key.Key_Home)
        QTest.keyClicks(self.table, "d")
        task, editor = self.table.question.task, self.table._editor
        self.desk.do(edits.remove_tasks(self.desk.plan, [task]))
        for said in ("done 2026-09-11", "+2h", "3d left"):
            editor.setText(said)
            editor.textEdited.emit(said)
            editor.finished.emit(said, "next row")
            settle()
        self.assertNotIn(task, self.work.answers)
        self.assertFalse(self.desk.plan.logs)

    def test_a_status_date_set_elsewhere_leaves_the_answers(self) -> None:
        self.table.go(1)
        self.answer("left 1d")
        answers = dict(self.work.answers)
        self.desk.do(edits.set_status_date(self.desk.plan, "p", FRIDAY))
        settle()
        self.assertEqual(self.work.answers, answers)
        self.assertGreater(self.work.at, FRIDAY)

    def button(self, name: str) -> QPushButton:
        found = self.window.findChild(QPushButton, name)
        assert found is not None, name
        return found

    def test_what_cannot_be_is_said_and_the_text_stays(self) -> None:
        self.table.go(1)
        QTest.keyClicks(self.table, "d")
        editor = self.table._editor
        assert editor is not None
        QTest.keyClicks(editor, "one 2026-10-30")
        QTest.keyClick(editor, Qt.Key.Key_Return)
        settle()
        self.assertIn("still to come", " ".join(self.texts(self.table)))
        self.assertEqual(editor.text(), "done 2026-10-30")
        self.table.verticalScrollBar().setRange(0, 20)
        self.table.verticalScrollBar().setValue(20)
        self.assertEqual(editor.y() - 2, self.table.top_of(1), "it is scrolled with its question")
        QTest.keyClick(editor, Qt.Key.Key_Escape)
        self.assertEqual(self.work.answers, {})
        for text in ("2026-09-01", "never", "2026-09-07T08:00"):
            self.set_date(text)
            self.assertEqual(self.work.at, FRIDAY, text)

    def test_the_rest_as_planned_and_an_answer_taken_back(self) -> None:
        self.button("roundRest").click()
        settle()
        self.assertEqual(set(self.work.answers.values()), {AS_PLANNED})
        self.assertNotIn("→", self.figure("Finish"))
        self.table.go(1)
        QTest.keyClick(self.table, Qt.Key.Key_Delete)
        self.assertEqual([q.task for q in self.work.open_questions()], [self.id_of("Survey")])

    def test_a_press_on_a_chip_answers_or_asks(self) -> None:
        question = self.work.asked[0]
        row = self.table.rows.index(question)
        for chip, box in self.table._placed(question, self.table.top_of(row)):
            if chip.words == "as planned":
                QTest.mouseClick(self.table.viewport(), Qt.MouseButton.LeftButton, pos=box.center().toPoint())
        self.assertEqual(self.work.answers, {question.task: AS_PLANNED})
        (first, box) = self.table._placed(question, self.table.top_of(row))[0]
        self.assertTrue(first.is_on)
        QTest.mouseClick(self.table.viewport(), Qt.MouseButton.LeftButton, pos=box.center().toPoint())
        self.assertEqual(self.work.answers, {})
        chip, box = self.table._placed(question, self.table.top_of(row))[-1]
        QTest.mouseClick(self.table.viewport(), Qt.MouseButton.LeftButton, pos=box.center().toPoint())
        assert self.table._editor is not None
        self.assertEqual(self.table._editor.text(), chip.typed)

    def test_half_a_round_is_still_there_tomorrow(self) -> None:
        self.table.go(1)
        self.answer("left 1d")
        survey, path = self.id_of("Survey"), self.desk.session.workspace.path
        self.window.close()
        settle()
        window = Window(Session.open(path), lambda *_: None)
        self.addCleanup(put_away, window)
        window.show()
        window.start()
        self.wait_for(lambda: window.desk.is_computed)
        window.show_leg("track")
        self.assertEqual(window.desk.round.answers, {survey: Answer(What.LEFT, amount=float(DAY))})
        self.assertEqual(window.desk.round.at, FRIDAY)

    def test_it_asks_a_person_or_a_branch_only(self) -> None:
        box = self.window.findChild(QComboBox, "roundScope")
        assert box is not None
        for words, names in (("Mo", ["Draw"]), ("Build", ["Frames"]), ("Everybody", ["Survey", "Draw", "Frames"])):
            box.setCurrentIndex(box.findText(words))
            box.activated.emit(box.currentIndex())
            settle()
            self.assertEqual(self.asked(), names)
        self.work.set_scope(("person", "mo"))
        self.desk.do(edits.unassign(self.desk.plan, self.id_of("Draw"), "mo"))
        settle()
        self.assertEqual(
            (self.work.scope, box.currentText()), (("all", ""), "Everybody"), "whoever it was limited to is gone"
        )
        self.desk.undo()
        self.work.set_scope(("person", "mo"))
        self.button("roundRest").click()
        self.assertEqual(list(self.work.answers), [self.id_of("Draw")], "of whom it did not ask it says nothing")
        said: list[str] = []
        self.desk.told.connect(lambda words, *_: said.append(words))
        self.button("roundTake").click()
        settle()
        self.assertIn("1 answer. 2 tasks not answered", " ".join(said), "whoever was not asked counts as well")

    def test_it_is_proposed_for_a_day_that_was_worked(self) -> None:
        for today, status, at_first in (
            ("2026-09-20T17:00", None, "2026-09-18T17:00"),  # a Sunday
            ("2026-09-20T17:00", "2026-09-18T17:00", "2026-09-25T17:00"),
            ("2026-09-22T17:00", "2026-09-18T17:00", "2026-09-22T17:00"),
            ("2026-09-30T17:00", "2026-09-18T17:00", "2026-09-25T17:00"),
        ):
            with patch.object(self.desk, "read_date", return_value=at(today)):
                told = None if status is None else at(status)
                self.desk.session.workspace.set_state("round.p", None)
                self.desk.do(edits.set_status_date(self.desk.plan, "p", MONDAY + 60))
                self.desk.do(edits.set_status_date(self.desk.plan, "p", told))
                settle()
            self.assertEqual(self.work.at, at(at_first), (today, status))

    def test_a_project_without_tasks_has_nothing_to_ask_and_no_finish(self) -> None:
        self.desk.do(edits.remove_tasks(self.desk.plan, list(self.desk.plan.tasks)))
        settle()
        self.assertEqual((self.asked(), self.figure("Finish")), ([], "–"))
        self.button("roundTake").click()
        settle()
        self.assertEqual(self.desk.plan.projects["p"].status_date, FRIDAY)

    def test_what_people_told_since_is_filled_in_with_their_initials(self) -> None:
        survey = self.id_of("Survey")
        self.desk.session.who = "Mo"
        self.desk.do(edits.finish(self.desk.plan, [survey], at("2026-09-08T15:00")))
        self.desk.session.who = "Planner"
        self.work.follow()
        settle()
        answer = self.work.answer_of(survey)
        self.assertEqual(answer, Answer(What.DONE, at=at("2026-09-08T15:00"), who="MO"))
        self.assertIn("1 told by people", self.window.findChild(QLabel, "roundCounts").text())
        self.assertNotIn(survey, [q.task for q in self.work.open_questions()])
        self.desk.undo()
        settle()
        self.assertIsNone(self.work.answer_of(survey))

    def test_what_is_looked_at_first_is_a_round_taken_all_the_same(self) -> None:
        self.desk.staging.ask_first(True)
        self.button("roundRest").click()
        settle()
        self.button("roundTake").click()
        settle()
        self.assertEqual(self.desk.plan.projects["p"].status_date, MONDAY, "it waits to be looked at")
        self.assertEqual(len(self.work.answers), 3, "and nothing is forgotten meanwhile")
        self.desk.staging.take()
        settle()
        self.assertEqual(self.desk.plan.projects["p"].status_date, FRIDAY)
        self.assertEqual(self.work.answers, {})
        self.desk.staging.ask_first(False)

    def test_ways_to_win_it_back_go_with_the_round(self) -> None:
        self.window.side.open_now()
        helper = Resource("bo", "Bo", "a1", initials="BO", role="r")
        role = Resource("r", "Drawing", "a2", kind=type(helper.kind)("role"))
        self.desk.do(Edit("People", lambda draft: [draft.put(x) for x in (role, helper)] and None))
        self.desk.do(edits.save_resource(self.desk.plan, Resource("mo", "Mo", "a0", initials="MO", role="r")))
        self.table.go(
            next(i for i, row in enumerate(self.table.rows) if getattr(row, "task", "") == self.id_of("Draw"))
        )
        self.answer("left 4d")
        self.table.go(self.table.at - 1)
        page = self.window.side.pages["round"]
        self.wait_for(lambda: page.ways)
        button = page.findChildren(QPushButton, "way.help")[-1]
        finish = self.work.outlook.after.project_finish["p"]  # type: ignore[union-attr]
        button.click()
        settle()
        assert self.work.outlook is not None
        sooner = self.work.outlook.after.project_finish["p"]
        self.assertLess(sooner, finish)
        self.work.rest_as_planned()
        self.assertTrue(self.work.take())
        self.assertEqual(self.desk.worked_out.project_finish["p"], sooner)
        self.assertEqual(set(self.desk.plan.assigned[self.id_of("Draw")]), {"mo", "bo"})


if __name__ == "__main__":
    unittest.main()
