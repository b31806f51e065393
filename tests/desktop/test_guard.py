"""The capacity guard at every way into the plan, and what it leaves alone."""

from __future__ import annotations

import unittest
from pathlib import Path

from PyQt6.QtWidgets import QLineEdit, QPushButton

from hexapod.desktop.models.columns import USUAL
from hexapod.desktop.models.memory import Memory
from hexapod.plan import edits
from hexapod.plan.records import Assignment, LimitKind, Resource, ResourceKind
from hexapod.session import Session
from tests.desktop.case import Qt, WindowCase, put_away, settle
from tests.support import DAY

WHO = USUAL.index("who")
DURATION = USUAL.index("duration")


class Guarded(WindowCase):
    ROWS = "Survey\nDraw\nFrames\nGlass"

    def setUp(self) -> None:
        super().setUp()
        for resource in (
            Resource("ada", "Ada", "a1", initials="AD"),
            Resource("bo", "Bo", "a2", initials="BO"),
            Resource("lift", "Lift", "a3", ResourceKind.EQUIPMENT, initials="LI"),
        ):
            self.desk.do(edits.save_resource(self.desk.plan, resource))
        self.give("Survey", "ada")
        self.give("Draw", "bo")
        self.desk.guard.turn(True)

    def give(self, name: str, *people: str) -> bool:
        task = self.id_of(name)
        return self.desk.do(edits.set_assignments(self.desk.plan, task, [Assignment(task, p) for p in people]))

    def who(self, name: str) -> list[str]:
        return [a.resource for a in self.desk.plan.assignments_of(self.id_of(name))]

    def held_back(self) -> bool:
        """Whether something was; then it is left, and the plan is as it was."""
        stopped = self.desk.guard.stopped
        if stopped is None:
            return False
        self.wait_for(lambda: not stopped.is_looking)
        self.desk.guard.forget()
        return True

    def test_typing_somebody_into_a_cell_is_held_back_and_typing_somebody_free_is_not(self) -> None:
        self.go_to("Draw", WHO)
        self.type("AD", Qt.Key.Key_Return)
        self.assertTrue(self.held_back())
        self.assertEqual(self.who("Draw"), ["bo"])
        self.go_to("Frames", WHO)
        self.type("LI", Qt.Key.Key_Return)
        self.assertFalse(self.held_back())
        self.assertEqual(self.who("Frames"), ["lift"])

    def test_a_longer_duration_that_runs_into_other_work_is_held_back(self) -> None:
        glass = self.id_of("Glass")
        later = self.desk.schedule.dates(glass).start + 7 * 1440
        self.desk.do(edits.set_limit(self.desk.plan, glass, LimitKind.START_NO_EARLIER, later))
        self.assertTrue(self.give("Glass", "ada"))
        self.go_to("Survey", DURATION)
        self.type("9d", Qt.Key.Key_Return)
        self.assertTrue(self.held_back())
        self.assertEqual(self.desk.plan.tasks[self.id_of("Survey")].minutes, 2 * DAY)
        self.go_to("Survey", DURATION)
        self.type("4d", Qt.Key.Key_Return)
        self.assertFalse(self.held_back())
        self.assertEqual(self.desk.plan.tasks[self.id_of("Survey")].minutes, 4 * DAY)

    def test_a_link_that_pushes_work_onto_other_work_is_held_back(self) -> None:
        glass, survey = self.id_of("Glass"), self.id_of("Survey")
        start = self.desk.schedule.dates(glass).start
        self.desk.do(edits.set_limit(self.desk.plan, glass, LimitKind.START_NO_EARLIER, start + 2 * 1440))
        self.assertTrue(self.give("Glass", "ada"))
        self.assertFalse(self.desk.do(edits.link(self.desk.plan, self.id_of("Draw"), survey)))
        self.assertTrue(self.held_back())
        self.assertFalse(self.desk.plan.links)

    def test_leave_that_makes_too_much_of_what_is_there_is_held_back_less_capacity_too(self) -> None:
        ada = self.desk.plan.resources["ada"]
        half = Resource("ada", "Ada", ada.rank, initials="AD", capacity=0.5)
        self.assertFalse(self.desk.do(edits.save_resource(self.desk.plan, half)))
        self.assertTrue(self.held_back())
        more = Resource("ada", "Ada", ada.rank, initials="AD", capacity=2.0)
        self.assertTrue(self.desk.do(edits.save_resource(self.desk.plan, more)))

    def test_an_edit_that_is_looked_at_first_is_held_back_when_it_is_taken(self) -> None:
        self.desk.staging.ask_first(True)
        task = self.id_of("Draw")
        self.desk.do(edits.set_assignments(self.desk.plan, task, [Assignment(task, "ada")]))
        self.assertIsNotNone(self.desk.staging.on_show)
        self.desk.staging.take()
        self.assertTrue(self.held_back())
        self.assertEqual(self.who("Draw"), ["bo"])

    def test_undo_and_what_makes_nothing_worse_go_through(self) -> None:
        self.desk.guard.turn(False)
        self.give("Draw", "ada")
        self.assertTrue(self.desk.load is not None and self.desk.load.overloads)
        self.desk.guard.turn(True)
        self.assertTrue(self.desk.do(edits.rename(self.desk.plan, self.id_of("Draw"), "Drawn")))
        self.assertTrue(self.desk.do(edits.set_durations(self.desk.plan, [self.id_of("Survey")], DAY)), "less of it")
        self.desk.undo()
        self.assertFalse(self.held_back())
        self.assertTrue(self.give("Drawn", "bo"), "away from who has too much")
        self.desk.undo()
        self.assertEqual(self.who("Drawn"), ["ada"], "undo goes back whatever the guard says")

    def test_somebody_else_is_taken_instead_in_one_edit(self) -> None:
        role = Resource("role", "Role", "a0", ResourceKind.ROLE, initials="RO")
        self.desk.do(edits.save_resource(self.desk.plan, role))
        for who in ("ada", "bo"):
            found = self.desk.plan.resources[who]
            made = Resource(who, found.name, found.rank, initials=found.initials, role="role")
            self.desk.do(edits.save_resource(self.desk.plan, made))
        self.give("Draw")
        count = len(self.desk.session.history)
        self.give("Frames", "ada")
        stopped = self.desk.guard.stopped
        assert stopped is not None
        self.wait_for(lambda: not stopped.is_looking)
        self.assertEqual([i.resource for i in stopped.people], ["bo"])
        self.wait_for(lambda: self.window.side.shown == "guard")
        press = self.wait_for(
            lambda: [b for b in self.window.side.findChildren(QPushButton, "insteadPerson bo") if b.isVisible()]
        )
        press[-1].click()  # type: ignore[index]
        self.assertEqual((self.who("Frames"), len(self.desk.session.history)), (["bo"], count + 1))
        self.assertFalse(self.desk.load is not None and self.desk.load.overloads)

    def test_whether_it_is_on_is_remembered_for_this_user_and_not_written_into_the_file(self) -> None:
        path = Path(self.desk.session.workspace.path)
        put_away(self.window)
        session = Session.open(path)
        self.addCleanup(session.close)
        self.assertIs(Memory(session).recall("guard", bool, False), True)
        self.assertIs(session.workspace.remembered("guard", bool, False), False)

    def test_the_form_of_an_assignment_says_what_was_not_understood_and_keeps_it(self) -> None:
        self.desk.guard.turn(False)
        self.window.side.show_assignment(self.id_of("Survey"), "ada")
        settle()
        form = self.window.side.pages.assignment
        for name, text in (("assignmentShare", "half"), ("assignmentFrom", "whenever")):
            line = form.findChild(QLineEdit, name)
            assert line is not None
            line.setText(text)
            save = form.findChild(QPushButton, "formSave")
            assert save is not None
            save.click()
            self.assertTrue(any(text in said for said in self.texts(form)), text)
            self.assertEqual(line.text(), text)
            line.setText("50 %" if name == "assignmentShare" else "")


if __name__ == "__main__":
    unittest.main()
