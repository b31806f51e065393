"""Somebody who presses anything anywhere: nothing fails, the plan stays valid, and all of it can be undone."""

from __future__ import annotations

import itertools
import random
import sys
import traceback
import unittest
from types import TracebackType
from unittest.mock import patch

from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QApplication, QComboBox, QMenu, QPushButton, QWidget

from hexapod.plan import edits
from hexapod.plan.plan import Plan
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import Reservation, Resource, ResourceKind
from hexapod.plan.validity import check_whole
from hexapod.schedule.engine import schedule
from tests.desktop.case import Qt, QTest, WindowCase
from tests.support import random_plan

KEYS = [
    Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Home, Qt.Key.Key_End,
    Qt.Key.Key_PageUp, Qt.Key.Key_PageDown, Qt.Key.Key_Return, Qt.Key.Key_Space, Qt.Key.Key_Escape, Qt.Key.Key_E,
]  # fmt: skip
# What asks for a file, leaves, or takes the window from the test.
NOT_PRESSED = (
    "workspace.", "project.delete", "project.all", "template.", "start.", "help.menu", "help.find", "look.theme",
    "look.text", "row.project", "edit.undo", "edit.redo",
)  # fmt: skip
OPENS_A_FILE = ("poolImport", "poolExport", "reportPdf", "reportTable")
BUTTONS = (
    "staff ",
    "way ",
    "insteadDate",
    "insteadPerson",
    "reservation ",
    "need ",
    "seat ",
    "fill ",
    "find ",
    "formSave",
)


class Monkey(WindowCase):
    def setUp(self) -> None:
        super().setUp()
        self.failures_seen: list[str] = []
        numbers = itertools.count()
        ids = patch("hexapod.plan.edits.edit.secrets.token_hex", lambda _: f"id{next(numbers):08}")
        ids.start()  # so that every run presses the same
        self.addCleanup(ids.stop)
        before = sys.excepthook
        sys.excepthook = self.note
        self.addCleanup(setattr, sys, "excepthook", before)

    def note(self, kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        self.failures_seen.append("".join(traceback.format_exception(kind, error, trace)[-6:]))

    def furnish(self, rng: random.Random) -> None:
        """A plan with people, roles, seats and promises beside the small one."""
        self.desk.look_at_today()
        self.desk.set_asking(False)
        self.desk.guard.turn(False)
        plan = random_plan(rng, 14, summaries=True, resources=4, projects=2)
        self.desk.do(edits.to_plan("More", Plan(), plan))
        last = self.desk.plan.resources_in_order()[-1].rank
        for i, rank in enumerate(ranks_between(last, None, 2)):
            role = Resource(f"role{i}", f"Role {i}", rank, ResourceKind.ROLE, initials=f"X{i}")
            self.desk.do(edits.save_resource(self.desk.plan, role))
        people = [r for r in self.desk.plan.resources.values() if r.kind is not ResourceKind.ROLE]
        for person in people:
            role = rng.choice(("role0", "role1"))
            self.desk.do(edits.save_resource(self.desk.plan, Resource(**{**fields(person), "role": role})))
        leaves = sorted(t for t in self.desk.plan.tasks if not self.desk.plan.is_summary(t))
        self.desk.do(edits.assign(self.desk.plan, rng.sample(leaves, 4), "role0", 0.5))
        self.desk.do(edits.save_reservation(self.desk.plan, Reservation("v", "p0", "role1", 2.0)))
        self.desk.do(edits.save_reservation(self.desk.plan, Reservation("w", "p1", people[0].id, 0.5)))
        self.desk.do(edits.set_durations(self.desk.plan, [rng.choice(leaves)], None))

    def step(self, rng: random.Random) -> str:
        """One thing that somebody might do; what it was."""
        staff = self.window.staff
        views = (staff.grid, staff.roles, staff.board, staff.trays.nobody, staff.trays.undated)
        shown = [v for v in views if v.isVisible()] or [self.window.grid]
        view = rng.choice(shown)
        kind = rng.choice(("key", "key", "click", "drag", "action", "button", "choice", "view", "edit"))
        if kind == "key":
            key = rng.choice(KEYS)
            shift = rng.random() < 0.3
            modifier = Qt.KeyboardModifier.ShiftModifier if shift else Qt.KeyboardModifier.NoModifier
            QTest.keyClick(view, key, modifier)
            return f"{type(view).__name__} {key.name} {modifier.name}"
        if kind in ("click", "drag"):
            return self.pointed(rng, view, kind == "drag")
        if kind == "action":
            chosen = [a for a in self.window.registry if not a.id.startswith(NOT_PRESSED)]
            action = rng.choice(chosen)
            if self.window.registry.qt(action.id).isEnabled():
                action.run(self.window)
            return action.id
        if kind == "button":
            return self.pressed(rng)
        if kind == "choice":
            boxes = [b for b in self.window.findChildren(QComboBox) if b.isVisible() and b.count()]
            if boxes:
                box = rng.choice(boxes)
                box.setCurrentIndex(rng.randrange(box.count()))
                box.activated.emit(box.currentIndex())
                return f"{box.objectName()} {box.currentText()}"
            return "no choice"
        if kind == "view":
            name = rng.choice(("load", "roles", "board", "reports"))
            self.window.show_leg("staff")
            staff.show_view(name)
            return name
        return self.edited(rng)

    def pointed(self, rng: random.Random, view: QWidget, is_drag: bool) -> str:
        port = view.viewport() if hasattr(view, "viewport") else view
        spots = [QPoint(rng.randrange(max(1, port.width())), rng.randrange(max(1, port.height()))) for _ in range(3)]
        button = Qt.MouseButton.LeftButton
        if not is_drag:
            QTest.mouseClick(port, button, pos=spots[0])
            return f"click {type(view).__name__} {spots[0].x()} {spots[0].y()}"
        QTest.mousePress(port, button, pos=spots[0])
        for spot in spots[1:]:
            QTest.mouseMove(port, spot)
        if rng.random() < 0.3:
            QTest.keyClick(self.window, Qt.Key.Key_Escape)
        QTest.mouseRelease(port, button, pos=spots[-1])
        return f"drag {type(view).__name__}"

    def pressed(self, rng: random.Random) -> str:
        buttons = [
            b
            for b in self.window.side.findChildren(QPushButton) + self.window.staff.findChildren(QPushButton)
            if b.isVisible() and b.isEnabled() and not b.property("putAway") and b.objectName() not in OPENS_A_FILE
            and b.menu() is None
        ]  # fmt: skip
        if not buttons:
            return "no button"
        wanted = [b for b in buttons if b.objectName().startswith(BUTTONS)] or buttons
        button = rng.choice(wanted if rng.random() < 0.7 else buttons)
        name = button.objectName() or button.text()
        button.click()
        return f"press {name}"

    def edited(self, rng: random.Random) -> str:
        """Some edit while whatever is on screen is on screen."""
        plan = self.desk.plan
        leaves = sorted(t for t in plan.tasks if not plan.is_summary(t))
        if not leaves:
            return "no rows"
        task, people = rng.choice(leaves), sorted(plan.resources)
        edit = rng.choice((
            lambda: edits.set_durations(plan, [task], rng.choice((None, rng.randrange(1, 4000)))),
            lambda: edits.set_percent(plan, [task], rng.choice((0.0, 40.0, 100.0))),
            lambda: edits.assign(plan, [task], rng.choice(people), 0.5),
            lambda: edits.remove_tasks(plan, [task]) if len(leaves) > 8 else edits.rename(plan, task, "Kept"),
            lambda: edits.hand_over(plan, task, None, rng.choice(people)),
        ))()  # fmt: skip
        self.desk.do(edit)
        return edit.words

    def test_nothing_that_is_pressed_in_staff_fails_and_all_of_it_can_be_undone(self) -> None:
        edited = 0
        for seed in range(2):
            rng = random.Random(70 + seed)
            self.furnish(rng)
            began = len(self.desk.session.history)
            self.window.show_leg("staff")
            done: list[str] = []
            for _ in range(100):
                if rng.random() < 0.3:  # back from an earlier day, and from being asked first
                    self.desk.look_at_today()
                    self.desk.set_asking(False)
                done.append(self.step(rng))
                QApplication.processEvents()
                for menu in self.window.findChildren(QMenu):
                    if menu.isVisible():
                        menu.close()
                self.assertFalse(self.failures_seen, "\n".join([*done[-4:], *self.failures_seen]))
            self.wait_for(lambda: not self.desk.levelling.is_looking or self.desk.levelling.stop())
            if self.desk.past is not None:
                self.desk.look_at_today()
            self.desk.set_asking(False)
            check_whole(self.desk.session.plan)
            fresh = schedule(self.desk.session.plan)
            for task in self.desk.session.plan.tasks:
                self.assertEqual(fresh.dates(task), self.desk.session.schedule.dates(task), done[-6:])
            edited += len(self.desk.session.history) - began
            while self.desk.session.undo_words is not None:
                self.desk.undo()
            self.assertFalse(self.desk.session.plan.tasks)
            self.assertFalse(self.failures_seen, self.failures_seen)
            while self.desk.session.redo_words is not None and self.desk.session.undo_words != "More":
                self.desk.redo()
            self.desk.undo()
        self.assertGreater(edited, 5, "some of it were edits")


def fields(resource: Resource) -> dict[str, object]:
    return {name: getattr(resource, name) for name in resource.__struct_fields__}


if __name__ == "__main__":
    unittest.main()
